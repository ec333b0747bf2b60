"""An outline after a stroke of the finger that says "this too" or "not this": what is like the stroked place, and hangs together with it, follows.

Of what a graph cut says (graph_cut.py) only what touches a stroke changes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import shapely

from ..errors import FieldError
from .graph_cut import SIDE_PX, cut

#: So much is looked at round outline and strokes, as a share of their size; a stroke's width, pixels.
_ROUND, _WIDE_PX = 0.25, 7
#: Half of what is too thin to be a thing's own, and least piece of change, pixels.
_THIN_PX, _LEAST_PX = 2, 12


@dataclass(frozen=True, eq=False)
class Stroke:
    """points (k, 2): pixels of the photograph; takes: whether what lies there belongs to the thing."""

    points: np.ndarray
    takes: bool


def outline_after(rgb: np.ndarray, ring: np.ndarray, strokes: Sequence[Stroke]) -> np.ndarray:
    """(n, 2) pixels: the outline ``ring`` (m, 2) with what the strokes add and take. Raises FieldError (``strokes``) when nothing is left."""
    every = np.concatenate([ring, *(s.points for s in strokes)])
    low, high = every.min(axis=0), every.max(axis=0)
    room = _ROUND * float((high - low).max()) + 8
    x0, y0 = np.maximum(np.floor(low - room), 0).astype(int)
    x1, y1 = np.minimum(np.ceil(high + room), [rgb.shape[1], rgb.shape[0]]).astype(int)
    if x1 - x0 < 8 or y1 - y0 < 8:
        raise FieldError("strokes", "must lie in the picture, near the thing", show_got=False)
    scale = min(1.0, SIDE_PX / max(x1 - x0, y1 - y0))
    size = max(8, round((x1 - x0) * scale)), max(8, round((y1 - y0) * scale))
    picture = cv2.resize(np.ascontiguousarray(rgb[y0:y1, x0:x1]), size, interpolation=cv2.INTER_AREA)
    by = np.array(size) / [x1 - x0, y1 - y0]

    def drawn(points: np.ndarray) -> np.ndarray:
        return np.asarray(np.rint((points - [x0, y0]) * by).astype(np.int32))

    before = cv2.fillPoly(np.zeros(size[::-1], np.uint8), [drawn(ring)], 1)
    state = np.where(before > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    state[[0, -1], :] = state[:, [0, -1]] = cv2.GC_BGD
    touched = np.zeros(size[::-1], np.uint8)
    for stroke in strokes:
        line = [drawn(stroke.points)]
        cv2.polylines(state, line, False, cv2.GC_FGD if stroke.takes else cv2.GC_BGD, _WIDE_PX)
        cv2.polylines(touched, line, False, 1, _WIDE_PX)
    after = _cut(picture, state, before, touched, strokes)
    rings, _ = cv2.findContours(after, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    largest = max(rings, key=cv2.contourArea, default=None)
    if largest is None or len(largest) < 4 or cv2.contourArea(largest) < _LEAST_PX:
        raise FieldError("strokes", "must leave something of the thing; stroke less of it, or say what belongs to it", show_got=False)
    # a contour runs through the middles of the border's pixels: half a pixel inside the edge
    edge = shapely.Polygon(largest[:, 0] + 0.5).buffer(0.5, join_style="mitre")
    whole = max(getattr(edge, "geoms", [edge]), key=lambda g: g.area)
    return np.asarray(np.array(whole.exterior.coords)[:-1] / by + [x0, y0])


def _cut(picture: np.ndarray, state: np.ndarray, before: np.ndarray, touched: np.ndarray, strokes: Sequence[Stroke]) -> np.ndarray:
    """(h, w) uint8: what belongs to the thing afterwards."""
    found = cut(picture, state)
    after = before.copy()
    for takes in (True, False):
        if not any(s.takes == takes for s in strokes):
            continue
        change = ((found == int(takes)) & (before != int(takes))).astype(np.uint8)
        change[state == (cv2.GC_FGD if takes else cv2.GC_BGD)] = 1
        if not takes:
            change[before == 0] = 0
        count, labels = cv2.connectedComponents(change)
        ours = [k for k in range(1, count) if (touched[labels == k] > 0).any()]
        after[np.isin(labels, ours)] = int(takes)
    thin = np.ones((2 * _THIN_PX + 1,) * 2, np.uint8)
    opened = cv2.morphologyEx(after, cv2.MORPH_OPEN, thin)
    return opened if opened.any() else after
