"""Clip a convex polygon by half-planes (Sutherland & Hodgman, "Reentrant polygon clipping", CACM 17(1), 1974)."""

from __future__ import annotations

import numpy as np


def clip_half_plane(points: np.ndarray, weights: np.ndarray, offset: float) -> np.ndarray:
    """The part of the polygon where ``points @ weights + offset >= 0``.

    points: (n, k), any dimension k, a closed polygon without its first point repeated. Returns (m, k); m may be 0.
    """
    if len(points) == 0:
        return points
    side = points @ weights + offset
    if (side >= 0).all():
        return points
    kept: list[np.ndarray] = []
    for i in range(len(points)):
        j = (i + 1) % len(points)
        if side[i] >= 0:
            kept.append(points[i])
        if (side[i] >= 0) != (side[j] >= 0):
            share = side[i] / (side[i] - side[j])
            kept.append(points[i] + share * (points[j] - points[i]))
    return np.array(kept) if kept else points[:0]


def clip_line(start: np.ndarray, end: np.ndarray, weights: np.ndarray, offset: float) -> tuple[np.ndarray, np.ndarray] | None:
    """The part of the straight line from start to end where ``p @ weights + offset >= 0``; None when there is none."""
    first, last = float(start @ weights + offset), float(end @ weights + offset)
    if first < 0 and last < 0:
        return None
    if first < 0 or last < 0:
        crossing = start + first / (first - last) * (end - start)
        return (crossing, end) if first < 0 else (start, crossing)
    return start, end
