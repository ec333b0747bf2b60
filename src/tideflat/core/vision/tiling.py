"""A tile of a surface or a cloth out of a photograph, that repeats without a seam."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..colour.clusters import colours_with_shares
from ..colour.transfer import encoded_array
from ..errors import FieldError
from ..formats.photograph import Photograph
from ..tolerances import ROUNDING
from .ground import Ground, tell_apart
from .measure import ILL_SKEW, sheet_in
from .quilting import filled, repeating
from .rectified import Flat, flatten, reach_mm
from .sheet import FoundSheet
from .smooth_light import PAPER_LIGHT, light_at, linear, smooth_light

#: The tile's grid, the coarse one that things are told on, pixels a mm; and the least of the surface that must be seen beside the sheet.
_PER_MM, _COARSE_PER_MM, _LEAST_MM = 2.0, 1.0, 60.0
#: So far beside the sheet the surface is looked at, mm.
_BESIDE_MM = 450.0
#: So far round the sheet, a thing, and from the picture's border, mm, nothing is taken for the surface.
_CLEAR_MM, _BORDER_MM = 6.0, 4.0
#: What has less than this share of the ground's light over so many mm, and touches a thing or the sheet, is in its shadow.
_SHADED, _SHADED_MM = 0.84, 5.0
#: Over so many mm it is so many times as bright (sRGB level) as it is mostly where it mirrors a lamp; where more than this share does, that
#: is how it looks.
_MIRRORED_MM, _MIRRORED, _MOST_MIRRORED = 15.0, 1.2, 0.5
#: Light is told for squares of so many pixels.
_LIGHT_EVERY = 8
#: A tile's part that was filled is no more than this share of it.
_MOST_FILLED = 0.6
#: Steps in light, of all ways, that go this much one of two ways at right angles: the surface has a grain, or lines, and it is turned to
#: them; and this much one way: they run along its width.
_HAS_WAYS, _HAS_GRAIN = 0.12, 0.25


@dataclass(frozen=True, eq=False)
class Tile:
    """rgb (h, w, 3) uint8 of width_mm by depth_mm, evenly lit, with paper as white; opposite edges meet. colours: (hex, share)."""

    rgb: np.ndarray
    width_mm: float
    depth_mm: float
    colours: tuple[tuple[str, float], ...]


def tile_beside_sheet(photograph: Photograph, sheet: str = "a4") -> Tile:
    """The surface that the sheet lies on, as much of it as is seen: turned to its grain, without the light's fall-off and colour, and with the
    places of the sheet and of what else lies there filled. Raises FieldError where no sheet or too little surface is seen."""
    found = sheet_in(photograph, sheet)
    if found.pose.skew > ILL_SKEW:
        raise FieldError("sheet", "must be of the size that was chosen, and flat: its corners do not fit it", show_got=False)
    h, w = photograph.rgb.shape[:2]
    box = reach_mm(found.pose, (w, h), found.size_mm, _BESIDE_MM)
    coarse = flatten(photograph.rgb, found.pose.plane_to_pixel, box, _COARSE_PER_MM)
    free = _free_of_things(coarse, tell_apart(coarse, found.size_mm), found.size_mm)
    if free.sum() < (_LEAST_MM * _COARSE_PER_MM) ** 2:
        raise _too_little()
    turn = _turn_of_grain(coarse, free)
    flat, is_free = _turned(photograph.rgb, found, coarse, free, turn)
    even = _encoded(linear(flat.rgb) / _light_over(photograph.rgb, found, coarse, free, flat, turn))
    is_free &= ~_mirrored(even, is_free)
    within = cv2.erode(np.pad(flat.known, 1).astype(np.uint8), np.ones((_odd(2 * _BORDER_MM * _PER_MM),) * 2, np.uint8))[1:-1, 1:-1] > 0
    part = _with_places_filled(even, within, is_free & within)
    if part is None:
        part = _largest_part(even, is_free & within)
    if part is None:
        raise _too_little()
    return _tile(part, part.shape[1] / _PER_MM)


def _too_little() -> FieldError:
    return FieldError("surface", f"must show {_LEAST_MM:.0f} mm or more of it beside the sheet", show_got=False)


def tile_of(rgb: np.ndarray, width_mm: float) -> Tile:
    """A tile from a picture (h, w, 3) that shows ``width_mm`` of the surface, squarely from above."""
    flat = Flat(rgb, np.ones(rgb.shape[:2], bool), 0.0, 0.0, rgb.shape[1] / width_mm)
    light = _over(flat, 0.0, smooth_light(flat, flat.known))
    return _tile(_encoded(linear(rgb) * (light.mean(axis=(0, 1)) / light)), width_mm)


def _tile(even: np.ndarray, width_mm: float) -> Tile:
    tiled = repeating(even)
    encoded = np.clip(np.rint(tiled * 255), 0, 255).astype(np.uint8)
    width = width_mm * encoded.shape[1] / even.shape[1]
    pixels = encoded[::3, ::3].reshape(-1, 3)
    return Tile(encoded, width, width * encoded.shape[0] / encoded.shape[1], tuple(colours_with_shares(pixels, most=3, least_share=0.08)))


def _encoded(light: np.ndarray) -> np.ndarray:
    return np.asarray(encoded_array(np.clip(light, 0.0, 1.0)), dtype=np.float32)


def _odd(pixels: float) -> int:
    return int(pixels) | 1


def _free_of_things(flat: Flat, ground: Ground, sheet_mm: tuple[float, float]) -> np.ndarray:
    """(h, w): what shows the bare surface: no sheet, no thing, no shadow of theirs."""
    per_mm = flat.per_mm
    taken = ground.mask.copy()
    low, high = np.rint(flat.pixels(np.array([[-sheet_mm[0] / 2, sheet_mm[1] / 2], [sheet_mm[0] / 2, -sheet_mm[1] / 2]]))).astype(int)
    taken[max(0, low[1]) : max(0, high[1]), max(0, low[0]) : max(0, high[0])] = True
    about = cv2.dilate(taken.astype(np.uint8), np.ones((_odd(2 * _CLEAR_MM * per_mm),) * 2, np.uint8))
    shaded = (cv2.blur(ground.left, (_odd(_SHADED_MM * per_mm),) * 2) < _SHADED).astype(np.uint8)
    either = np.maximum(shaded, about)
    _, labels = cv2.connectedComponents(either)
    touching = np.unique(labels[about > 0])
    return flat.known & ~(np.isin(labels, touching) & (either > 0))


def _mirrored(even: np.ndarray, free: np.ndarray) -> np.ndarray:
    """(h, w): where an evenly lit surface is far brighter than it is mostly: it mirrors a lamp or a window there."""
    if not free.any():
        return free
    side = _odd(_MIRRORED_MM * _PER_MM)
    known = free.astype(np.float32)
    mean = cv2.blur(even.mean(axis=2) * known, (side, side)) / np.maximum(cv2.blur(known, (side, side)), ROUNDING)
    bright = (mean > _MIRRORED * float(np.median(mean[free]))).astype(np.uint8)
    wide = cv2.dilate(bright, np.ones((side, side), np.uint8)) > 0
    return wide if (wide & free).sum() < _MOST_MIRRORED * free.sum() else np.zeros_like(free)


def _turn_of_grain(flat: Flat, free: np.ndarray) -> float:
    """Radians from +x to the way that the surface's grain or lines run; 0 where it has none."""
    light = cv2.GaussianBlur(cv2.cvtColor(flat.rgb, cv2.COLOR_RGB2GRAY).astype(np.float32), (0, 0), 1.0)
    dx, dy = cv2.Sobel(light, cv2.CV_32F, 1, 0), -cv2.Sobel(light, cv2.CV_32F, 0, 1)
    inner = cv2.erode(free.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    step = (dx + 1j * dy)[inner]
    strength = np.abs(step) ** 2
    if not strength.sum() > 0:
        return 0.0
    four = (strength * np.exp(4j * np.angle(step))).sum() / strength.sum()
    if abs(four) < _HAS_WAYS:
        return 0.0
    turn = float(np.angle(four) / 4)  # of one of two ways at right angles, within 45 degrees of +x
    two = (strength * np.exp(2j * (np.angle(step) - turn))).sum() / strength.sum()
    if two.real <= _HAS_GRAIN:
        return turn
    # steps along that way are lines across it: a grain is laid along the width
    return turn + np.pi / 2 if turn <= 0 else turn - np.pi / 2


def _turned(rgb: np.ndarray, found: FoundSheet, coarse: Flat, free: np.ndarray, turn: float) -> tuple[Flat, np.ndarray]:
    """The surface on the tile's grid, turned so that what runs along ``turn`` runs along +x; and what of it is free."""
    c, s = np.cos(turn), np.sin(turn)
    back = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])  # from turned mm to the sheet's
    h, w = coarse.known.shape
    corners = coarse.mm(np.array([[0, 0], [w, 0], [w, h], [0, h]], dtype=float)) @ back[:2, :2]
    box = (*corners.min(axis=0).tolist(), *corners.max(axis=0).tolist())
    flat = flatten(rgb, found.pose.plane_to_pixel @ back, box, _PER_MM)
    x, y = _sheet_mm(flat, turn)
    at = [((x - coarse.left) * coarse.per_mm - 0.5).astype(np.float32), ((coarse.far - y) * coarse.per_mm - 0.5).astype(np.float32)]
    is_free = cv2.remap(free.astype(np.uint8), at[0], at[1], cv2.INTER_NEAREST, borderMode=cv2.BORDER_CONSTANT, borderValue=0) > 0
    return flat, is_free


def _sheet_mm(flat: Flat, turn: float, every: int = 1) -> tuple[np.ndarray, np.ndarray]:
    """(x, y), each (h, w): where a turned picture's pixels lie from the sheet's middle, or squares of ``every`` of them."""
    h, w = -(-flat.known.shape[0] // every), -(-flat.known.shape[1] // every)
    x = flat.left + (np.arange(w) + 0.5)[None] * every / flat.per_mm
    y = flat.far - (np.arange(h) + 0.5)[:, None] * every / flat.per_mm
    c, s = np.cos(turn), np.sin(turn)
    return c * x - s * y, s * x + c * y


def _over(flat: Flat, turn: float, fit: np.ndarray) -> np.ndarray:
    """(h, w, 3) linear light of ``smooth_light`` over a turned picture."""
    coarse = np.exp(light_at(fit, *_sheet_mm(flat, turn, _LIGHT_EVERY))).astype(np.float32)
    h, w = flat.known.shape
    whole = cv2.resize(coarse, (coarse.shape[1] * _LIGHT_EVERY, coarse.shape[0] * _LIGHT_EVERY), interpolation=cv2.INTER_LINEAR)
    return np.asarray(whole[:h, :w])


def _light_over(rgb: np.ndarray, found: FoundSheet, coarse: Flat, free: np.ndarray, flat: Flat, turn: float) -> np.ndarray:
    """(h, w, 3) the light that a white surface would have: it falls off as the surface's own does, and over the sheet it is the sheet's."""
    wide, deep = np.array(found.size_mm) / 2
    sheet = flatten(rgb, found.pose.plane_to_pixel, (-wide, -deep, wide, deep), _COARSE_PER_MM)
    paper, own = smooth_light(sheet, sheet.known, is_paper=True), smooth_light(coarse, free)
    x, y = np.meshgrid(np.linspace(-0.5, 0.5, 9) * wide, np.linspace(-0.5, 0.5, 9) * deep)
    level = np.median((light_at(paper, x, y) - light_at(own, x, y)).reshape(-1, 3), axis=0)
    return np.asarray(_over(flat, turn, own) * (np.exp(level) / PAPER_LIGHT).astype(np.float32))


def _with_places_filled(even: np.ndarray, within: np.ndarray, free: np.ndarray) -> np.ndarray | None:
    """The largest rectangle of what is seen, what lies there filled from beside it; None where too little of it is the bare surface."""
    place = _place(within)
    if place is None or float((~free[place]).mean()) > _MOST_FILLED:
        return None
    gap: np.ndarray = np.zeros(free.shape, bool)
    gap[place] = ~free[place]
    whole = filled(even, gap, free)
    return None if whole is None else whole[place]


def _largest_part(even: np.ndarray, free: np.ndarray) -> np.ndarray | None:
    """The largest rectangle of the bare surface; None where that is too small."""
    place = _place(free)
    return None if place is None else even[place]


def _place(region: np.ndarray) -> tuple[slice, slice] | None:
    """Where its largest rectangle lies; None where that is smaller than a tile may be."""
    top, left, height, width = (4 * n for n in _largest_rectangle(region[::4, ::4]))
    return None if min(height, width) - 3 < _LEAST_MM * _PER_MM else np.s_[top : top + height - 3, left : left + width - 3]


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
