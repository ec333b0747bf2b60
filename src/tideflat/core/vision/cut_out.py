"""The cut-out of a measured thing: its pixels within its outline, evenly lit, with paper as white."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from ..colour.transfer import encoded_array
from .rectified import flatten, reach_mm
from .sheet import FoundSheet
from .smooth_light import PAPER_LIGHT, light_at, linear, paper_light, smooth_light

#: No finer than this (pixels a mm), and about so many pixels along its longer side.
_FINEST_PER_MM, _LONG_PX = 4.0, 420
#: Of its pixels every so manieth, both ways, is asked for its light.
_LIGHT_EVERY_PX = 4
#: The table is looked at so far beside the sheet, mm, in so many pixels a mm, without so much about the sheet; fewer places than this tell
#: nothing; its light is no further from the sheet's than this, log.
_BESIDE_MM, _COARSE_PER_MM, _RIM_MM, _LEAST_PLACES, _MOST = 330.0, 0.5, 4.0, 2000, 0.7


#: From table mm (n, 2) to the linear light (n, 3) that white paper has there.
PaperLight = Callable[[np.ndarray], np.ndarray]


def paper_over(rgb: np.ndarray, found: FoundSheet) -> PaperLight:
    """What white paper would look like all over the table: over the sheet as the sheet looks, beside it as the table's own light goes on from
    there. One for all things beside it."""
    half = np.array(found.size_mm) / 2
    flat = flatten(rgb, found.pose.plane_to_pixel, (-half[0], -half[1], half[0], half[1]), 1.0)
    light = paper_light(flat)
    h, w = light.shape[:2]
    box = reach_mm(found.pose, (rgb.shape[1], rgb.shape[0]), found.size_mm, _BESIDE_MM)
    table = flatten(rgb, found.pose.plane_to_pixel, box, _COARSE_PER_MM)
    x, y = (table.mm(np.column_stack([np.arange(max(table.known.shape)) + 0.5] * 2))[:n, k] for k, n in enumerate(table.known.shape[::-1]))
    beside = ((np.abs(x) > half[0] + _RIM_MM)[None] | (np.abs(y) > half[1] + _RIM_MM)[:, None]) & table.known
    own = smooth_light(table, beside) if beside.sum() > _LEAST_PLACES else np.zeros((6, 3), np.float32)

    def at(mm: np.ndarray) -> np.ndarray:
        pixels = np.clip(np.rint(flat.pixels(mm) - 0.5).astype(int), 0, [w - 1, h - 1])
        seen = light[pixels[:, 1], pixels[:, 0]]
        beside = np.flatnonzero((np.abs(mm) > half).any(axis=1))
        there, nearest = mm[beside], np.clip(mm[beside], -half, half)
        further = light_at(own, there[:, 0], there[:, 1]) - light_at(own, nearest[:, 0], nearest[:, 1])
        seen[beside] *= np.exp(np.clip(further, -_MOST, _MOST))
        return np.asarray(seen)

    return at


def cut_out(
    rgb: np.ndarray, to_pixels: np.ndarray, paper: PaperLight, points: np.ndarray, centre: tuple[float, float], angle: float
) -> tuple[np.ndarray, np.ndarray]:
    """The cut-out (h, w, 4), evenly lit and with paper as white, over the box of ``points``; and the thing's pixels (n, 3).
    to_pixels (3, 3): from mm at its rim."""
    low, high = points.min(axis=0), points.max(axis=0)
    per_mm = float(min(_FINEST_PER_MM, _LONG_PX / max(high - low)))
    t = np.radians(angle)
    turn = np.array([[np.cos(t), -np.sin(t), centre[0]], [np.sin(t), np.cos(t), centre[1]], [0, 0, 1]])
    flat = flatten(rgb, to_pixels @ turn, (float(low[0]), float(low[1]), float(high[0]), float(high[1])), per_mm)
    h, w = flat.rgb.shape[:2]
    # light changes slowly: it is asked at fewer places than there are pixels
    coarse = max(1, h // _LIGHT_EVERY_PX), max(1, w // _LIGHT_EVERY_PX)
    x, y = ((np.arange(n) + 0.5) * (of / n) for n, of in zip(coarse[::-1], (w, h), strict=True))
    grid = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    white = paper(flat.mm(grid) @ turn[:2, :2].T + turn[:2, 2]).reshape(*coarse, 3)
    light = linear(flat.rgb) / cv2.resize(white, (w, h), interpolation=cv2.INTER_LINEAR) * PAPER_LIGHT
    encoded = encoded_array(light)
    even = np.clip(np.rint(encoded * 255), 0, 255).astype(np.uint8)
    alpha = np.zeros((h * 4, w * 4), np.uint8)
    cv2.fillPoly(alpha, [np.rint(flat.pixels(points) * 4).astype(np.int32)], 255)
    alpha = cv2.resize(alpha, (w, h), interpolation=cv2.INTER_AREA)
    inner = cv2.erode(alpha, np.ones((3, 3), np.uint8), iterations=max(1, int(1.2 * per_mm)), borderValue=0) > 250
    chosen = even[inner] if inner.sum() > 30 else even[alpha > 128]
    return np.dstack([even, alpha]), chosen
