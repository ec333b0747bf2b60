"""Glasses and other clear round things of known height: what stands behind is seen through them, and of themselves two circles, foot and
rim, each whole and each faint. Looked for all over the sheet, where nothing else is found.
"""

from __future__ import annotations

import cv2
import numpy as np

from ..tolerances import ROUNDING
from .edge_support import EdgePicture
from .rectified import Flat, flatten
from .sheet import FoundSheet
from .solid_edges import SolidSeen
from .solid_fits import Start, fits_to_edges

#: The map of edges: pixels a mm; blur, pixels; steps of less than so many times the usual one are none, of more than so many are plain.
_PER_MM, _BLUR_PX, _NONE, _PLAIN = 1.0, 1.0, 2.0, 6.0
#: The sheet's own edges are no glass's, so near to them, mm.
_OF_SHEET_MM = 3.0
#: Middles are tried so far beyond the sheet and in such steps, mm; diameters from and to, mm, each so much larger; of so many places.
_BESIDE_MM, _STEP_MM, _SIZES_MM, _LARGER, _PLACES = 110.0, 4.0, (28.0, 140.0), 1.08, 24
#: Ways an edge may run; a rim is so many times as wide as the foot at the least, and at the most.
_WAYS, _TAPERS = 8, (0.95, 1.6)
#: So many of the plainest are fitted, apart from each other by so much, mm; foot and rim are each seen along so much of them at the least,
#: and along so much together.
_MOST, _APART_MM, _LEAST_SEEN, _LEAST_BOTH = 24, 7.0, 0.3, 0.4
#: A taper of less than this, mm, is none.
_STRAIGHT_MM = 1.5


def clear_solid(
    rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], picture: EdgePicture, height_mm: float
) -> SolidSeen | None:
    """The clear round thing of that height on or about the sheet whose circles are seen plainest; None where none is."""
    if height_mm <= 0:
        return None
    flat = flatten(rgb, found.pose.plane_to_pixel, box, _PER_MM)
    starts = _plainest(_edges(flat, found.size_mm), flat, found, height_mm)
    fitted = fits_to_edges(picture, [Start("taper", v, "circles") for v in starts], found.pose, height_mm)
    fitted += fits_to_edges(picture, [Start("disc", v[:3], "circles") for v in starts], found.pose, height_mm)
    seen = [s for s in fitted if s is not None and min(s.top_seen, s.outer_seen) >= _LEAST_SEEN and s.seen >= _LEAST_BOTH]
    best = max(seen, key=lambda s: s.seen, default=None)
    if best is not None and best.kind == "taper" and abs(best.values[2] - best.values[3]) < _STRAIGHT_MM:
        alike = [s for s in seen if s.kind == "disc" and np.abs(s.values[:2] - best.values[:2]).max() < _STRAIGHT_MM]
        best = max(alike, key=lambda s: s.seen, default=best)
    return best


def _edges(flat: Flat, sheet_mm: tuple[float, float]) -> np.ndarray:
    """(ways, h, w): how plain an edge lies across each of the ways, 0 to 1."""
    levels = cv2.GaussianBlur(flat.rgb, (0, 0), _BLUR_PX).astype(np.float32)
    slopes = np.stack([cv2.Sobel(levels, cv2.CV_32F, 1, 0), -cv2.Sobel(levels, cv2.CV_32F, 0, 1)])
    strongest = np.abs(slopes).sum(axis=0).argmax(axis=2)[None, ..., None]
    across, up = np.take_along_axis(slopes, strongest, axis=3)[..., 0]
    size = np.hypot(across, up)
    usual = float(np.median(size[flat.known])) if flat.known.any() else 0.0
    plain = np.clip((size / max(usual, ROUNDING) - _NONE) / (_PLAIN - _NONE), 0.0, 1.0)
    h, w = size.shape
    x, y = flat.left + (np.arange(w) + 0.5) / flat.per_mm, flat.far - (np.arange(h) + 0.5) / flat.per_mm
    past = np.maximum((np.abs(x) - sheet_mm[0] / 2)[None], (np.abs(y) - sheet_mm[1] / 2)[:, None])
    plain[np.abs(past) < _OF_SHEET_MM] = 0
    across, up = (s * plain / np.maximum(size, ROUNDING) for s in (across, up))
    turns = np.arange(_WAYS) * np.pi / _WAYS
    return np.stack([cv2.dilate(np.abs(across * np.cos(t) + up * np.sin(t)), np.ones((3, 3), np.uint8)) for t in turns])


def _plainest(edges: np.ndarray, flat: Flat, found: FoundSheet, height_mm: float) -> list[np.ndarray]:
    """(x, y, rim, foot), mm, of which both circles are plainest, apart from each other."""
    xs, ys = (np.arange(-side / 2 - _BESIDE_MM, side / 2 + _BESIDE_MM + _STEP_MM / 2, _STEP_MM) for side in found.size_mm)
    middles = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    count = int(np.log(_SIZES_MM[1] / _SIZES_MM[0]) / np.log(_LARGER)) + 1
    sizes = _SIZES_MM[0] * _LARGER ** np.arange(count)
    k, eye = found.pose.enlargement_at(height_mm), np.array(found.pose.eye[:2])
    feet = [_round_of(edges, flat, middles, size) for size in sizes]
    rims = [_round_of(edges, flat, eye + k * (middles - eye), k * size) for size in sizes]
    found_so: list[tuple[float, np.ndarray]] = []
    for foot, on_foot in zip(sizes, feet, strict=True):
        for rim, on_rim in zip(sizes, rims, strict=True):
            if _TAPERS[0] * foot <= rim <= _TAPERS[1] * foot:
                both = on_foot + on_rim
                for n in np.argpartition(-both, 3)[:3]:
                    found_so.append((float(both[n]), np.array([*middles[n], rim, foot])))
    kept: list[np.ndarray] = []
    for _, one in sorted(found_so, key=lambda f: -f[0]):
        if all(np.abs(one - other).max() > _APART_MM for other in kept):
            kept.append(one)
            if len(kept) == _MOST:
                break
    return kept


def _round_of(edges: np.ndarray, flat: Flat, middles: np.ndarray, size: float) -> np.ndarray:
    """(n,): how much of a circle of that size about each of the middles is edge."""
    total = np.zeros(len(middles), np.float32)
    _, h, w = edges.shape
    at = flat.pixels(middles)
    for turn in np.arange(_PLACES) * 2 * np.pi / _PLACES:
        x = (at[:, 0] + np.cos(turn) * size / 2 * flat.per_mm).astype(int)
        y = (at[:, 1] - np.sin(turn) * size / 2 * flat.per_mm).astype(int)
        inside = (x >= 0) & (y >= 0) & (x < w) & (y < h)
        total[inside] += edges[round(turn / np.pi * _WAYS) % _WAYS].ravel()[y[inside] * w + x[inside]]
    return total / _PLACES
