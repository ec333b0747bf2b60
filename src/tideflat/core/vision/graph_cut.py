"""Which pixels are a thing's, by a graph cut: what is probable is told by the colours of both, and by where edges run.

Source: C. Rother, V. Kolmogorov, A. Blake, "GrabCut: interactive foreground extraction using iterated graph cuts", ACM TOG 23(3), 2004, as
OpenCV has it. What it is asked, and what becomes of its answer, is our own.
"""

from __future__ import annotations

import cv2
import numpy as np
import shapely

from .rectified import Flat

#: The longer side of what is looked at, pixels; rounds of the cut.
SIDE_PX, _ROUNDS = 420, 3
#: After the first round only so near to its cut is asked, pixels. A picture whose longer side is more than this is cut at half its size
#: first; but for things narrower (twice the area by the border) than this share of it, whose shadow is not told from them so.
_NEAR_PX, _LARGE_PX, _THIN = 8, 300, 0.12
#: What is narrower than this, mm, hangs on a thing as the line of shadow along the sheet's edge does.
_NARROW_MM = 2.0
#: What is so much smaller or larger than the outline is not the same thing.
_LEAST, _MOST = 0.3, 3.0


def cut(picture: np.ndarray, state: np.ndarray) -> np.ndarray:
    """(h, w) uint8, 1 for the thing. picture: (h, w, 3) uint8; state: (h, w) uint8 as OpenCV counts: 0 ground, 1 thing, 2 and 3 probably."""
    return _cut(picture, state)[0]


def _cut(picture: np.ndarray, state: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The same, and the colours (OpenCV's (1, 65)) of ground and thing that it was cut by. The first round takes nearly all of the time, so
    those after it ask only near to its cut; one that loses the thing, or takes in the table, is not heard."""
    found, ground, thing = state.copy(), np.zeros((1, 65)), np.zeros((1, 65))
    cut = (state % 2).astype(np.uint8)
    begun = float(cut.sum())
    cv2.setRNGSeed(1)
    for way in (cv2.GC_INIT_WITH_MASK, *(_ROUNDS - 1) * (cv2.GC_EVAL,)):
        if not _has_both(found):
            break
        colours = ground.copy(), thing.copy()
        cv2.grabCut(picture, found, (0, 0, 1, 1), ground, thing, 1, way)
        after = (found % 2).astype(np.uint8)
        if way == cv2.GC_EVAL and not _is_same_thing(after, begun):
            return cut, *colours
        cut, found = after, _asked_near(after, state)
    return cut, ground, thing


def _is_same_thing(cut: np.ndarray, begun: float) -> bool:
    return _LEAST < float(cut.sum()) / max(begun, 1.0) < _MOST


def _asked_near(cut: np.ndarray, state: np.ndarray) -> np.ndarray:
    """OpenCV's state where only what lies near to a cut is asked."""
    around = np.ones((2 * _NEAR_PX + 1,) * 2, np.uint8)
    is_near = cv2.dilate(cut, around) != cv2.erode(cut, around)
    return np.where(state < cv2.GC_PR_BGD, state, cut + np.where(is_near, cv2.GC_PR_BGD, 0)).astype(np.uint8)


def _coarsely_first(picture: np.ndarray, state: np.ndarray) -> np.ndarray:
    """``cut`` of a large picture: at half its size, and by the colours found there once more along that cut. A flow through four times as
    many pixels takes far more than four times as long where colours hardly tell."""
    size = state.shape[1] // 2, state.shape[0] // 2
    small = cv2.resize(state, size, interpolation=cv2.INTER_NEAREST)
    small[[0, -1], :] = small[:, [0, -1]] = cv2.GC_BGD
    coarse, ground, thing = _cut(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), small)
    if not _is_same_thing(coarse, float((small % 2 == 1).sum())):
        return cut(picture, state)  # it lost the thing, or took in the table
    found = _asked_near(cv2.resize(coarse, state.shape[::-1], interpolation=cv2.INTER_NEAREST), state)
    if _has_both(found):
        cv2.grabCut(picture, found, (0, 0, 1, 1), ground, thing, 1, cv2.GC_EVAL)
    return (found % 2).astype(np.uint8)


def _has_both(state: np.ndarray) -> bool:
    return bool((state % 2 == 1).any() and (state % 2 == 0).any())


def cut_again(outline: shapely.Polygon, flat: Flat) -> shapely.Polygon | None:
    """What hangs together with most of the outline, by its colours and by where edges run; None where nothing does that
    is the same thing."""
    scale = min(1.0, SIDE_PX / max(flat.rgb.shape))
    small = cv2.resize(flat.rgb, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    size = small.shape[1], small.shape[0]
    within, known = (cv2.resize(m.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) for m in (flat.inside(outline), flat.known))
    state = np.where(within > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    state[known == 0] = cv2.GC_BGD
    state[[0, -1], :] = state[:, [0, -1]] = cv2.GC_BGD
    is_thin = 2 * outline.area / outline.length * flat.per_mm * scale < _THIN * max(size)
    way = cut if is_thin or max(size) <= _LARGE_PX else _coarsely_first
    found = way(cv2.cvtColor(small, cv2.COLOR_RGB2LAB), state)
    wide = max(3, int(_NARROW_MM * flat.per_mm * scale) | 1)
    found = cv2.morphologyEx(found, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (wide, wide)))
    count, labels = cv2.connectedComponents(found)
    if count < 2:
        return None
    sizes = np.bincount(labels[within > 0], minlength=count)
    own = (labels == 1 + int(sizes[1:].argmax())).astype(np.uint8)
    rings, _ = cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(rings, key=cv2.contourArea)
    if len(ring) < 8:
        return None
    # a contour runs through the middles of the border's pixels: half a pixel inside the edge
    polygon = shapely.Polygon(flat.mm((ring[:, 0] + 0.5) / scale)).buffer(0.5 / flat.per_mm / scale, join_style="mitre").buffer(0)
    whole = shapely.Polygon(max(getattr(polygon, "geoms", [polygon]), key=lambda g: g.area).exterior)
    return whole if _LEAST * outline.area < whole.area < _MOST * outline.area else None
