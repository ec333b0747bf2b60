"""Whether the picture keeps to its palette, and how many colours it has."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..colour.delta_e_2000 import delta_e_2000
from ..colour.spaces import lab_of
from ..colour.words import colour_words
from ..evaluate import Picture
from ..facts.practice import ACCENT_MET, COLOURS, COLOURS_MUTED, COLOURS_POPS, OFF_PALETTE, STEALS_FROM
from ..palette.seen import SeenColour, seen_colours
from ..palette.wanted import met, nearest
from .finding import Finding
from .relations import label

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
            yield Finding(
                "palette.off",
                "taste",
                (i,),
                round(distance, 1),
                OFF_PALETTE.value,
                "CIEDE2000",
                f"{label(picture, i)} is {colour_words(main)}, {distance:.0f} from the nearest colour of the palette ({own.hex})",
                leaning="palette",
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
            yield Finding(
                "palette.accent_missing",
                "taste",
                (),
                round(measure, 1),
                ACCENT_MET.value,
                "% of the share wanted",
                f"the accent {found.wanted.hex} is seen on {found.share * 100:.1f} % of the frame; {found.wanted.share * 100:g} % is wanted",
                leaning="palette",
                sides=(found.wanted.hex,),
            )
        elif len(carriers) == 1 and len(found.owners) == 1 and picture.scene.brief.leaning("palette") <= 0:
            if picture.bodies[carriers[0]].placement.role == "hero":
                continue  # the subject as its own accent is a plan, not an accident
            yield Finding(
                "palette.accent_lonely",
                "taste",
                carriers,
                1,
                2,
                "things",
                f"only {label(picture, carriers[0])} carries the accent {found.wanted.hex}; an echo or two elsewhere settles it",
                leaning="palette",
                sides=(found.wanted.hex,),
            )


def _many(picture: Picture, seen: tuple[SeenColour, ...]) -> Iterator[Finding]:
    leaning = picture.scene.brief.leaning("palette")
    limit = (COLOURS_POPS if leaning > 0 else COLOURS_MUTED if leaning < 0 else COLOURS).value
    count = families(seen)
    if count > limit:
        yield Finding(
            "palette.many",
            "taste",
            (),
            count,
            limit,
            "colours",
            f"{count} families of colour are seen; past {limit:g} none of them leads",
            leaning="palette",
        )


def families(seen: tuple[SeenColour, ...]) -> int:
    """How many plainly different colours are seen: the largest first, each that differs from all before it counts."""
    totals: dict[str, float] = {}
    for colour in seen:
        totals[colour.hex] = totals.get(colour.hex, 0.0) + colour.share
    kept: list[tuple[float, float, float]] = []
    for h in sorted((h for h, share in totals.items() if share > _COUNTED), key=lambda h: -totals[h]):
        if not kept or float(delta_e_2000(np.array(lab_of(h)), np.array(kept)).min()) > _FAMILY:
            kept.append(lab_of(h))
    return len(kept)
