"""Acts on the palette: from references, from the subject, from a file, or colour by colour."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tideflat.core.colour.spaces import is_hex
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.facts.practice import PALETTE_SHARES
from tideflat.core.formats.palettes import MOST_COLOURS, read_palette
from tideflat.core.model import PARTS, Palette, PaletteColour, Scene
from tideflat.core.palette.sources import in_common, palette_from_shares, palette_from_subject
from tideflat.web.ui.fields import Fields

from .history import Edit

Shares = Sequence[tuple[str, float]]


def from_subject(scene: Scene, fields: Fields) -> Edit:
    """A palette in which the hero is the accent."""
    picture = Picture(scene, scene.setup(fields.text("setup", 120)))
    heroes = picture.hero_ids()
    if not heroes:
        raise FieldError("hero", "must be on the table first; give one thing the role of hero", show_got=False)
    prop = picture.props[heroes[0]]
    made = palette_from_subject(prop.colours, scene.brief.leaning("palette"))
    return Edit(replace(scene, palette=made), f"palette from the {prop.name}")


def from_references(scene: Scene, references: Sequence[Shares]) -> Edit:
    """A palette of what the reference pictures have in common, by share."""
    if not references:
        raise FieldError("references", "must be sent in first, in the brief", show_got=False)
    return Edit(replace(scene, palette=palette_from_shares(in_common(references))), "palette from the references")


def from_file(scene: Scene, fields: Fields) -> Edit:
    """The palette in the text of a .gpl, JSON or CSS file."""
    return Edit(replace(scene, palette=read_palette(fields.text("text", 60_000))), "palette brought in")


def colour(scene: Scene, fields: Fields) -> Edit:
    """Change the colour numbered ``at``, or add one: its hex, its part, the share wanted in per cent."""
    now = list(scene.palette.colours) if scene.palette else []
    at = fields.whole("at") if fields.has("at") else len(now)
    if not 0 <= at <= len(now) or at >= MOST_COLOURS:
        raise FieldError("colour", f"must be one of at most {MOST_COLOURS}", at)
    old = now[at] if at < len(now) else None
    part = fields.choice("part", PARTS) if fields.has("part") else old.part if old else _next_part(now)
    if fields.has("share"):
        share = fields.number("share") / 100
    elif old is not None and part == old.part:
        share = old.share
    else:
        share = PALETTE_SHARES[part] / (1 + sum(c.part == part for c in now if c is not old))
    if not 0 <= share <= 1:
        raise FieldError("share", "must be from 0 to 100 %", share * 100)
    hex_ = fields.text("hex", 20).lower() if fields.has("hex") else old.hex if old else "#8b8f8c"
    if not is_hex(hex_):
        raise FieldError("colour", "must be written as #c4621a", hex_)
    made = PaletteColour(hex_, part, round(share, 4))
    now[at : at + 1] = [made]
    return Edit(replace(scene, palette=Palette(tuple(now))), f"palette: {part} {hex_}")


def _next_part(now: list[PaletteColour]) -> str:
    taken = {c.part for c in now}
    return next((part for part in PARTS if part not in taken), PARTS[-1])


def drop(scene: Scene, fields: Fields) -> Edit:
    """One colour out of the palette; the last one takes the palette with it."""
    now = list(scene.palette.colours) if scene.palette else []
    at = fields.whole("at")
    if not 0 <= at < len(now):
        raise FieldError("colour", "must be one of the palette's", at)
    gone = now.pop(at)
    return Edit(replace(scene, palette=Palette(tuple(now)) if now else None), f"palette without {gone.hex}")
