"""A tile of a surface or a cloth out of a photograph, that repeats without a seam."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..colour.clusters import colours_with_shares
from ..colour.transfer import encoded_array
from ..errors import FieldError
from ..formats.photograph import Photograph
from ..tolerances import LEAST_FIELD
from .ground import linear
from .rectified import flatten, reach_mm
from .sheet import SHEETS, find_sheet

#: The tile's grid, and the least of the surface that must be seen beside the sheet.
_PER_MM, _LEAST_MM = 2.0, 60.0
#: Share of a side over which the tile's opposite ends are faded into each other.
_FADE = 0.14
_CLEAR_MM = 8.0


@dataclass(frozen=True, eq=False)
class Tile:
    """rgb (h, w, 3) uint8 of width_mm by depth_mm, evenly lit; opposite edges meet. colours: (hex, share)."""

    rgb: np.ndarray
    width_mm: float
    depth_mm: float
    colours: tuple[tuple[str, float], ...]


def tile_beside_sheet(photograph: Photograph, sheet: str = "a4") -> Tile:
    """The largest part of the surface beside the sheet that lies on it. Raises FieldError where no sheet or too little surface is seen."""
    if sheet not in SHEETS:
        raise FieldError("sheet", "must be a4 or letter", sheet)
    found = find_sheet(photograph.rgb, sheet, photograph.focal_35mm)
    if found is None:
        raise FieldError("sheet", "must show all four edges of a bright sheet lying on the surface", show_got=False)
    h, w = photograph.rgb.shape[:2]
    flat = flatten(photograph.rgb, found.pose.plane_to_pixel, reach_mm(found.pose, (w, h), found.size_mm, 450.0), _PER_MM)
    free = flat.known.copy()
    half_w, half_d = found.size_mm[0] / 2 + _CLEAR_MM, found.size_mm[1] / 2 + _CLEAR_MM
    low, high = flat.pixels(np.array([[-half_w, half_d], [half_w, -half_d]])).astype(int)
    free[max(0, low[1]) : max(0, high[1]), max(0, low[0]) : max(0, high[0])] = False
    top, left, height, width = _largest_rectangle(free[::4, ::4])
    part = flat.rgb[top * 4 : (top + height) * 4, left * 4 : (left + width) * 4]
    if min(part.shape[:2]) < _LEAST_MM * _PER_MM:
        raise FieldError("surface", f"must show {_LEAST_MM:.0f} mm or more of it beside the sheet", show_got=False)
    return tile_of(part, part.shape[1] / _PER_MM)


def tile_of(rgb: np.ndarray, width_mm: float) -> Tile:
    """A tile from a picture (h, w, 3) that shows ``width_mm`` of the surface, squarely from above."""
    even = _evenly_lit(rgb)
    rows, columns = round(even.shape[0] * _FADE), round(even.shape[1] * _FADE)
    tiled = _faded(_faded(even, columns, 1), rows, 0)
    encoded = np.clip(np.rint(_encoded(tiled) * 255), 0, 255).astype(np.uint8)
    share = encoded.shape[1] / rgb.shape[1]
    width = width_mm * share
    pixels = encoded[::3, ::3].reshape(-1, 3)
    return Tile(encoded, width, width * encoded.shape[0] / encoded.shape[1], tuple(colours_with_shares(pixels, most=3, least_share=0.08)))


def _evenly_lit(rgb: np.ndarray) -> np.ndarray:
    """Linear light without the slow change across the picture; the mean stays."""
    light = linear(rgb).astype(np.float32)
    small = cv2.resize(light, (24, 24), interpolation=cv2.INTER_AREA)
    slow = cv2.resize(cv2.GaussianBlur(small, (0, 0), 5), (light.shape[1], light.shape[0]), interpolation=cv2.INTER_CUBIC)
    return np.asarray(light / np.maximum(slow, LEAST_FIELD) * light.mean(axis=(0, 1)))


def _faded(light: np.ndarray, overlap: int, axis: int) -> np.ndarray:
    """Shorter by ``overlap`` along ``axis``: what lies past its end is faded in over its beginning."""
    light = np.moveaxis(light, axis, 0)
    length = len(light) - overlap
    share = np.linspace(0, 1, overlap + 2)[1:-1].reshape(-1, *[1] * (light.ndim - 1))
    kept = light[:length].copy()
    kept[:overlap] = light[:overlap] * share + light[length:] * (1 - share)
    return np.moveaxis(kept, 0, axis)


def _encoded(light: np.ndarray) -> np.ndarray:
    return encoded_array(light)


def _largest_rectangle(free: np.ndarray) -> tuple[int, int, int, int]:
    """(top, left, height, width) of the largest rectangle of true cells: the largest under each row's skyline."""
    best, found = 0, (0, 0, 0, 0)
    skyline = np.zeros(free.shape[1] + 1, dtype=int)
    for row, line in enumerate(free):
        skyline[:-1] = np.where(line, skyline[:-1] + 1, 0)
        stack: list[int] = []
        for column, height in enumerate(skyline):
            while stack and skyline[stack[-1]] >= height:
                tall = int(skyline[stack.pop()])
                left = stack[-1] + 1 if stack else 0
                if tall * (column - left) > best:
                    best, found = tall * (column - left), (row - tall + 1, left, tall, column - left)
            stack.append(column)
    return found
