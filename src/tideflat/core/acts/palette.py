"""Acts on the palette: all of it, from the subject, or colour by colour."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import FieldError
from ..evaluate import Picture
from ..facts.practice import PALETTE_SHARES
from ..formats.palettes import MOST_COLOURS
from ..formats.scene_reader import palette_of
from ..formats.scene_writer import palette_value
from ..model import PARTS, Palette, PaletteColour, Scene
from ..palette.sources import palette_from_subject
from .act import Act, Done
from .arguments import COLOUR, FRACTION, NAME, arg, maybe, one_of, valued, whole
from .set_ups import SetupAct

PALETTE = valued(palette_of, palette_value, {"$ref": "#/$defs/palette"})
_NEW_COLOUR = "#8b8f8c"


@dataclass(frozen=True, kw_only=True)
class UsePalette(Act):
    """Another palette, or none (null). ``source``: where it is from, for the history."""

    act = "palette"
    palette: Palette | None = arg(maybe(PALETTE))
    source: str = arg(NAME, "elsewhere")

    def done(self, scene: Scene) -> Done:
        source = None if self.palette is None else self.source
        return Done(replace(scene, palette=self.palette), self.act, (("source", source),))


@dataclass(frozen=True, kw_only=True)
class PaletteFromSubject(SetupAct):
    """A palette in which the set-up's hero is the accent."""

    act = "palette_from_subject"

    def done(self, scene: Scene) -> Done:
        picture = Picture(scene, scene.setup(self.setup))
        heroes = picture.hero_ids()
        if not heroes:
            raise FieldError("hero", "must be on the table first; give one thing the role of hero", show_got=False)
        prop = picture.props[heroes[0]]
        made = palette_from_subject(prop.colours, scene.brief.leaning("palette"))
        return Done(replace(scene, palette=made), self.act, (("name", prop.name),))


@dataclass(frozen=True, kw_only=True)
class SetPaletteColour(Act):
    """The colour numbered ``at`` changed, as far as given; without ``at`` one is added."""

    act = "palette_colour"
    at: int | None = arg(whole(0, MOST_COLOURS), None)
    hex: str | None = arg(COLOUR, None)
    part: str | None = arg(one_of(PARTS), None)
    share: float | None = arg(FRACTION, None)

    def done(self, scene: Scene) -> Done:
        now = list(scene.palette.colours) if scene.palette else []
        at = len(now) if self.at is None else self.at
        if at > len(now) or at >= MOST_COLOURS:
            raise FieldError("at", f"must be one of at most {MOST_COLOURS}", at)
        old = now[at] if at < len(now) else None
        part = self.part or (old.part if old else _next_part(now))
        if self.share is not None:
            share = self.share
        elif old is not None and part == old.part:
            share = old.share
        else:
            share = PALETTE_SHARES[part] / (1 + sum(c.part == part for c in now if c is not old))
        hex_ = self.hex or (old.hex if old else _NEW_COLOUR)
        now[at : at + 1] = [PaletteColour(hex_, part, round(share, 4))]
        return Done(replace(scene, palette=Palette(tuple(now))), self.act, (("part", part), ("hex", hex_)))


def _next_part(now: list[PaletteColour]) -> str:
    taken = {c.part for c in now}
    return next((part for part in PARTS if part not in taken), PARTS[-1])


@dataclass(frozen=True, kw_only=True)
class RemovePaletteColour(Act):
    """One colour out of the palette; the last one takes the palette with it."""

    act = "remove_palette_colour"
    at: int = arg(whole(0, MOST_COLOURS))

    def done(self, scene: Scene) -> Done:
        now = list(scene.palette.colours) if scene.palette else []
        if self.at >= len(now):
            raise FieldError("at", "must be one of the palette's colours", self.at)
        gone = now.pop(self.at)
        return Done(replace(scene, palette=Palette(tuple(now)) if now else None), self.act, (("hex", gone.hex),))
