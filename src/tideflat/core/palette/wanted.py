"""The palette wanted against what is seen: shares of each colour, and what belongs to none."""

from __future__ import annotations

from dataclasses import dataclass

from ..colour.delta_e_2000 import difference
from ..facts.practice import OFF_PALETTE
from ..model import Palette, PaletteColour
from .seen import SeenColour

#: A colour nearer than this (CIEDE2000) to one of the palette's counts as it [practice].
BELONGS = OFF_PALETTE.value


@dataclass(frozen=True, slots=True)
class Met:
    """One colour of the palette: how much of the picture is it, and who carries it."""

    wanted: PaletteColour
    share: float
    owners: tuple[str, ...]


def nearest(palette: Palette, colour: str) -> tuple[PaletteColour, float]:
    """The palette's colour nearest to ``#rrggbb``, and how far it is (CIEDE2000)."""
    return min(((c, difference(c.hex, colour)) for c in palette.colours), key=lambda pair: pair[1])


def met(palette: Palette, seen: tuple[SeenColour, ...]) -> tuple[tuple[Met, ...], float]:
    """Each colour of the palette as it is met, in the palette's order, and the share of the picture that belongs to none."""
    shares = dict.fromkeys(palette.colours, 0.0)
    owners: dict[PaletteColour, list[str]] = {c: [] for c in palette.colours}
    rest = 0.0
    for colour in seen:
        own, distance = nearest(palette, colour.hex)
        if distance > BELONGS:
            rest += colour.share
            continue
        shares[own] += colour.share
        if colour.owner not in owners[own] and colour.share > 0.0005:
            owners[own].append(colour.owner)
    return tuple(Met(c, shares[c], tuple(owners[c])) for c in palette.colours), rest
