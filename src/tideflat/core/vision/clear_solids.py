"""Glasses and other clear round things of known height: what stands behind is seen through them, and of themselves two circles, foot and
rim, each whole and each faint. Looked for all over the sheet, where nothing else is found.
"""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import shapely

from ..tolerances import ROUNDING
from .edge_support import EdgePicture, asked
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
#: Its sides are asked so far from both circles, mm, at so many places at the least; so near to where they should be, mm, so much is seen.
_FROM_CIRCLES_MM, _LEAST_PLACES, _WINDOW_MM, _NEAR_MM, _SIDES_SEEN = 2.5, 12, 0.9, 0.6, 0.45


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
        straight = Start("disc", np.array([*best.values[:2], best.values[2:4].mean()]), "circles")
        alike = [s for s in fitted + fits_to_edges(picture, [straight], found.pose, height_mm) if s is not None and s.kind == "disc"]
        alike = [s for s in alike if np.abs(s.values[:2] - best.values[:2]).max() < _STRAIGHT_MM]
        # it is as plain as the taper that it is: of both it is one thing's edges that are seen
        best = replace(max(alike, key=lambda s: s.seen), seen=best.seen) if alike else best
    return best


def is_straight_from_rim_to_foot(clear: SolidSeen, picture: EdgePicture) -> bool:
    """Whether the two lines that join its circles are seen: what bulges between them, or stands on a stem, has its sides elsewhere."""
    side = clear.curves.silhouette
    ends = [shapely.Polygon(clear.curves.foot), *([] if clear.curves.top is None else [shapely.Polygon(clear.curves.top.places)])]
    places = shapely.points(side.places)
    side = side.only(np.min([shapely.distance(end, places) for end in ends], axis=0) > _FROM_CIRCLES_MM)
    if len(side.places) < _LEAST_PLACES:
        return False
    return float(asked(picture, side.places, side.outward, _WINDOW_MM).plain_within(_NEAR_MM).mean()) >= _SIDES_SEEN


def _edges(flat: Flat, sheet_mm: tuple[float, float]) -> np.ndarray:
    """(ways, h, w) uint8: how plain an edge lies across each of the ways, 255 for plain."""
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
    ways = (cv2.convertScaleAbs(across * np.cos(t) + up * np.sin(t), alpha=255) for t in turns)
    return np.stack([cv2.dilate(way, np.ones((3, 3), np.uint8)) for way in ways])


def _plainest(edges: np.ndarray, flat: Flat, found: FoundSheet, height_mm: float) -> list[np.ndarray]:
    """(x, y, rim, foot), mm, of which both circles are plainest, apart from each other."""
    half = np.array(found.size_mm) / 2 + _BESIDE_MM
    xs, ys = np.arange(-half[0], half[0] + _STEP_MM / 2, _STEP_MM), np.arange(half[1], -half[1] - _STEP_MM / 2, -_STEP_MM)
    middles = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    count = int(np.log(_SIZES_MM[1] / _SIZES_MM[0]) / np.log(_LARGER)) + 1
    sizes = _SIZES_MM[0] * _LARGER ** np.arange(count)
    eye = (float(found.pose.eye[0]), float(found.pose.eye[1]))
    on_foot, on_rim = (
        [_round_of(there, len(ys), len(xs), size).ravel() for size in sizes]
        for there in (_about(edges, flat, xs[0], ys[0], middles, k, eye) for k in (1.0, found.pose.enlargement_at(height_mm)))
    )
    found_so: list[tuple[float, np.ndarray]] = []
    for foot, of_foot in zip(sizes, on_foot, strict=True):
        for rim, of_rim in zip(sizes, on_rim, strict=True):
            if _TAPERS[0] * foot <= rim <= _TAPERS[1] * foot:
                both = of_foot + of_rim
                for n in np.argpartition(-both, 3)[:3]:
                    found_so.append((float(both[n]), np.array([*middles[n], rim, foot])))
    kept: list[np.ndarray] = []
    for _, one in sorted(found_so, key=lambda f: -f[0]):
        if all(np.abs(one - other).max() > _APART_MM for other in kept):
            kept.append(one)
            if len(kept) == _MOST:
                break
    return kept


def _about(
    edges: np.ndarray, flat: Flat, left: float, far: float, middles: np.ndarray, k: float, eye: tuple[float, float]
) -> np.ndarray:
    """The edges seen about the middles on the level plane that is seen ``k`` times as large about the foot of the lens, a pixel a mm, the
    first middle, ``left`` and ``far``, in the middle of a pixel as far from the border as a circle reaches. (step, step, ways, h, w):
    places that are a step of the middles apart lie beside each other."""
    room = int(_SIZES_MM[1] / 2) + 2
    step = int(_STEP_MM)
    w, h = (np.ceil(np.ptp(middles, axis=0)).astype(int) + 2 * room + step) // step * step
    # from a pixel, by its number, to mm, to what is seen k times as large, to a pixel of the picture
    to_mm = np.array([[1, 0, left - room], [0, -1, far + room], [0, 0, 1.0]])
    seen = np.array([[k, 0, eye[0] * (1 - k)], [0, k, eye[1] * (1 - k)], [0, 0, 1]])
    to_pixel = np.array([[flat.per_mm, 0, -flat.left * flat.per_mm - 0.5], [0, -flat.per_mm, flat.far * flat.per_mm - 0.5], [0, 0, 1]])
    back = (to_pixel @ seen @ to_mm)[:2]
    flags = cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP
    every = np.stack([cv2.warpAffine(way, back, (int(w), int(h)), flags=flags) for way in edges])
    return np.ascontiguousarray(every.reshape(len(edges), h // step, step, w // step, step).transpose(2, 4, 0, 1, 3))


def _round_of(edges: np.ndarray, rows: int, columns: int, size: float) -> np.ndarray:
    """(rows, columns): how much of a circle of that size, mm, about each of the middles is edge. edges: of ``_about``."""
    total = np.zeros((rows, columns), np.uint16)
    room, step = int(_SIZES_MM[1] / 2) + 2, int(_STEP_MM)
    for turn in np.arange(_PLACES) * 2 * np.pi / _PLACES:
        x, y = divmod(room + round(np.cos(turn) * size / 2), step), divmod(room - round(np.sin(turn) * size / 2), step)
        total += edges[y[1], x[1], round(turn / np.pi * _WAYS) % _WAYS, y[0] : y[0] + rows, x[0] : x[0] + columns]
    return total.astype(np.float32) / (255 * _PLACES)
