"""How far two convex outlines are apart, or how deep they are in each other."""

from __future__ import annotations

import numpy as np


def penetration_mm(first: np.ndarray, second: np.ndarray) -> float:
    """Shortest move (mm) that parts two convex polygons; 0 when they do not overlap.

    first, second: (n, 2), corners in order. By the separating axis theorem the shortest move is square to an edge.
    """
    return shortest_parting(first, second)[0]


def shortest_parting(first: np.ndarray, second: np.ndarray) -> tuple[float, tuple[float, float]]:
    """(mm, unit direction) of the shortest move of ``second`` that parts it from ``first``; (0, (1, 0)) when apart."""
    edges = np.concatenate([first[1:] - first[:-1], first[:1] - first[-1:], second[1:] - second[:-1], second[:1] - second[-1:]])
    lengths = np.hypot(edges[:, 0], edges[:, 1])
    edges = edges[lengths > 0] / lengths[lengths > 0, None]
    normals = np.stack([edges[:, 1], -edges[:, 0]], axis=1)
    along_first, along_second = first @ normals.T, second @ normals.T
    # Square to an edge there are two ways to go: along its normal, and against it.
    reach = np.concatenate([along_first.max(axis=0) - along_second.min(axis=0), along_second.max(axis=0) - along_first.min(axis=0)])
    normals = np.concatenate([normals, -normals])
    best = int(np.argmin(reach))
    if reach[best] <= 0:
        return 0.0, (1.0, 0.0)
    return float(reach[best]), (float(normals[best, 0]), float(normals[best, 1]))


def near_pairs(boxes: np.ndarray, reach: float) -> list[tuple[int, int]]:
    """Pairs (i, j), i < j, of boxes (n, 4: x0, y0, x1, y1) that lie within ``reach`` of each other along both axes."""
    if len(boxes) < 2:
        return []
    low, high = boxes[:, :2], boxes[:, 2:]
    apart = np.maximum(low[:, None] - high[None], low[None] - high[:, None]).max(axis=2)
    first, second = np.nonzero(np.triu(apart <= reach, k=1))
    return list(zip(first.tolist(), second.tolist(), strict=True))
