"""How round things look where flat facets stand for them: the way the true wall of a turned body faces."""

from __future__ import annotations

import numpy as np

from ..solids.body import Body
from ..tolerances import SAME_NUMBER

#: A facet that looks along the axis more than this (cosine off the wall's own) is an end, which is flat.
_END = 0.12


def smoothed(body: Body, places: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """(n, 3) unit normals at places (n, 3) of the body's outside, where facets have normals (n, 3), unit; of what is not turned, or open,
    the same. The wall between two rings is a part of a cone, oval or round."""
    circles = body.circles
    if len(circles) < 2 or len(body.spheres) or body.local.opening is not None:
        return normals
    first, second = (np.linalg.norm(circles[:, k], axis=1) for k in (1, 2))
    widest = int(np.argmax(first + second))
    if first[widest] <= 0 or second[widest] <= 0:
        return normals
    along, across = circles[widest, 1] / first[widest], circles[widest, 2] / second[widest]
    axis = np.cross(along, across)
    flat = second[widest] / first[widest]
    heights = (circles[:, 0] - circles[0, 0]) @ axis
    if heights[-1] < 0:
        axis, heights = -axis, -heights
    at = places - circles[0, 0]
    x, y, z = at @ along, (at @ across) / flat, at @ axis
    k = np.clip(np.searchsorted(heights, z, side="right") - 1, 0, len(circles) - 2)
    rise = np.maximum(heights[k + 1] - heights[k], SAME_NUMBER)
    grows = (first[k + 1] - first[k]) / rise
    size = np.maximum(np.hypot(x, y), SAME_NUMBER)
    wall = np.outer(x / size, along) + np.outer(y / size / flat, across) - np.outer(grows, axis)
    wall = wall / np.linalg.norm(wall, axis=1, keepdims=True)
    is_wall = np.abs(np.abs(normals @ axis) - np.abs(wall @ axis)) < _END
    wall = np.where((wall * normals).sum(axis=1, keepdims=True) < 0, -wall, wall)
    return np.where(is_wall[:, None], wall, normals)  # type: ignore[no-any-return]
