"""Colours, and the palette a picture is to be made of."""

from __future__ import annotations

from dataclasses import dataclass

#: Parts of a palette, the largest first.
PARTS: tuple[str, ...] = ("base", "second", "accent")


@dataclass(frozen=True, slots=True)
class Colour:
    """An sRGB colour ``#rrggbb`` and the share of the thing it covers."""

    hex: str
    share: float


@dataclass(frozen=True, slots=True)
class PaletteColour:
    """A colour the picture is to be made of, the part it plays, and the share of the picture wanted of it (0..1)."""

    hex: str
    part: str
    share: float


@dataclass(frozen=True, slots=True)
class Palette:
    colours: tuple[PaletteColour, ...]

    def of_part(self, part: str) -> tuple[PaletteColour, ...]:
        return tuple(c for c in self.colours if c.part == part)
