"""Photographs on drawn things, as SVG patterns: each cell of a skin is one path filled with the picture, laid by an affine map."""

from __future__ import annotations

import base64
from collections.abc import Callable, Iterable

from django.urls import reverse

from tideflat.core.drawing.pieces import Paths, SkinCell

from .sheets import Sheet, path_data

#: Where a skin's picture is found, by its key.
Address = Callable[[str], str]
#: Size of a picture in its pattern's own units.
_UNITS = 64


def picture_address(key: str) -> str:
    return reverse("stored_picture", args=[key])


def inline_address(pixels: dict[str, bytes]) -> Address:
    """Pictures inside the drawing itself, for a drawing that may load nothing."""
    return lambda key: "data:image/webp;base64," + base64.b64encode(pixels[key]).decode() if key in pixels else ""


def picture_definitions(prefix: str, keys: Iterable[str], address: Address) -> str:
    """Each picture once, for all the patterns that show parts of it."""
    return "".join(
        f'<image id="{prefix}i{key}" width="{_UNITS}" height="{_UNITS}" preserveAspectRatio="none" href="{address(key)}"/>'
        for key in dict.fromkeys(keys)
    )


class Worn:
    """Paths filled with cells of skins, and the patterns that they need, gathered while they are written."""

    def __init__(self, sheet: Sheet) -> None:
        self._sheet = sheet
        self._patterns: list[str] = []
        self._pictures: dict[str, None] = {}

    def path(self, name: str, cell: SkinCell, paths: Paths | None) -> str:
        """The cell's path; ``name`` is its pattern's id. Empty while the cell is turned away."""
        self._pictures[cell.picture] = None
        matrix, d = "", ""
        if paths is not None:
            rows = cell.affine(self._sheet.put(paths[0]))
            (a, b), (c, e), (x, y) = rows
            matrix = f' patternTransform="matrix({a / _UNITS:.5g} {b / _UNITS:.5g} {c / _UNITS:.5g} {e / _UNITS:.5g} {x:.2f} {y:.2f})"'
            d = path_data(paths[0], self._sheet)
        self._patterns.append(
            f'<pattern id="{name}" width="{_UNITS}" height="{_UNITS}" patternUnits="userSpaceOnUse"{matrix}>'
            f'<use href="#{self._sheet.prefix}i{cell.picture}"/></pattern>'
        )
        return f'<path d="{d}" fill="url(#{name})" pointer-events="none"/>'

    @property
    def defs(self) -> str:
        return f"<defs>{''.join(self._patterns)}</defs>" if self._patterns else ""

    @property
    def pictures(self) -> tuple[str, ...]:
        return tuple(self._pictures)
