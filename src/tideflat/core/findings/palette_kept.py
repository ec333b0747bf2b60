"""Whether the picture keeps to its palette, and how many colours it has."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from ..colour.delta_e_2000 import difference
from ..colour.words import colour_words
from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import ACCENT_MET, COLOURS, COLOURS_MUTED, COLOURS_POPS, OFF_PALETTE, STEALS_FROM
from ..model import Prop
from ..palette.seen import SeenColour, seen_colours
from ..palette.wanted import BELONGS, met, nearest
from .finding import Finding
from .kind import Kind, Rule


def _in_the_palette(picture: Picture, finding: Finding) -> Callable[[Prop], bool] | None:
    palette = picture.scene.palette
    if palette is None:
        return None
    return lambda p: nearest(palette, max(p.colours, key=lambda c: c.share).hex)[1] <= BELONGS


OFF = Kind(
    code="palette.off", rank=240, severity="taste", unit="CIEDE2000",
    measure="CIEDE2000 of a thing's main colour to the nearest colour of the palette", limit=OFF_PALETTE, leaning="palette",
    gives="such a thing in the palette's colours, or the palette itself, would have to give", makers=("stand-in",), fits=_in_the_palette,
    retouch_minutes=6,
)  # fmt: skip
MANY = Kind(
    code="palette.many", rank=250, severity="taste", unit="colours", measure="families of colour seen", limit=COLOURS,
    limit_note=f"{COLOURS_MUTED.value:g} for muted, {COLOURS_POPS.value:g} for pops", leaning="palette",
    gives="take away what carries the least of the story",
)  # fmt: skip
ACCENT_MISSING = Kind(
    code="palette.accent_missing", rank=260, severity="taste", unit="% of the share wanted",
    measure="% of the share wanted that is seen", limit=ACCENT_MET, leaning="palette",
    gives="bring in something of the accent's colour", makers=("echo twice",),
)  # fmt: skip
ACCENT_LONELY = Kind(
    code="palette.accent_lonely", rank=270, severity="taste", unit="things", measure="things that carry the accent",
    limit=Fact(2, "things", "practice: an echo or two"), leaning="palette",
    gives="bring in a second thing of the accent's colour, a small one will do", makers=("echo",),
)  # fmt: skip


#: Colours nearer than this are one family in talk; and a family under this share of the frame is not counted.
_FAMILY, _COUNTED = OFF_PALETTE.value, 0.004


def find(picture: Picture) -> Iterator[Finding]:
    seen = seen_colours(picture)
    yield from _off(picture)
    yield from _accents(picture, seen)
    yield from _many(picture, seen)


def _off(picture: Picture) -> Iterator[Finding]:
    palette = picture.scene.palette
    if palette is None or not palette.colours:
        return
    for i, thing in picture.things.items():
        if thing.frame_area_share * 100 < STEALS_FROM.value or picture.props[i].finish == "glass":
            continue
        main = max(picture.props[i].colours, key=lambda c: c.share).hex
        own, distance = nearest(palette, main)
        if distance > OFF_PALETTE.value:
            yield OFF.found(
                (i,),
                round(distance, 1),
                OFF_PALETTE.value,
                f"{label(picture, i)} is {colour_words(main)}, {distance:.0f} from the nearest colour of the palette ({own.hex})",
                sides=(colour_words(main), own.hex),
            )


def _accents(picture: Picture, seen: tuple[SeenColour, ...]) -> Iterator[Finding]:
    palette = picture.scene.palette
    if palette is None:
        return
    for found in met(palette, seen)[0]:
        if found.wanted.part != "accent" or found.wanted.share <= 0:
            continue
        carriers = tuple(o for o in found.owners if o in picture.props)
        measure = found.share / found.wanted.share * 100
        if measure < ACCENT_MET.value:
            yield ACCENT_MISSING.found(
                (),
                round(measure, 1),
                ACCENT_MET.value,
                f"the accent {found.wanted.hex} is seen on {found.share * 100:.1f} % of the frame; {found.wanted.share * 100:g} % is wanted",
                sides=(found.wanted.hex,),
            )
        elif len(carriers) == 1 and len(found.owners) == 1 and picture.scene.brief.leaning("palette") <= 0:
            if picture.bodies[carriers[0]].placement.role == "hero":
                continue  # the subject as its own accent is a plan, not an accident
            yield ACCENT_LONELY.found(
                carriers,
                1,
                2,
                f"only {label(picture, carriers[0])} carries the accent {found.wanted.hex}; an echo or two elsewhere settles it",
                sides=(found.wanted.hex,),
            )


def _many(picture: Picture, seen: tuple[SeenColour, ...]) -> Iterator[Finding]:
    leaning = picture.scene.brief.leaning("palette")
    limit = (COLOURS_POPS if leaning > 0 else COLOURS_MUTED if leaning < 0 else COLOURS).value
    count = families(seen)
    if count > limit:
        yield MANY.found((), count, limit, f"{count} families of colour are seen; past {limit:g} none of them leads")


def families(seen: tuple[SeenColour, ...]) -> int:
    """How many plainly different colours are seen: the largest first, each that differs from all before it counts."""
    totals: dict[str, float] = {}
    for colour in seen:
        totals[colour.hex] = totals.get(colour.hex, 0.0) + colour.share
    kept: list[str] = []
    for h in sorted((h for h, share in totals.items() if share > _COUNTED), key=lambda h: -totals[h]):
        if all(difference(h, k) > _FAMILY for k in kept):
            kept.append(h)
    return len(kept)


RULES = (Rule(find, (OFF, MANY, ACCENT_MISSING, ACCENT_LONELY), cost=2),)
