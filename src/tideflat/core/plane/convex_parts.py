"""An outline cut into convex parts, and how deep two outlines are in each other when they are not convex.

Cutting: triangles joined again across every edge that leaves a convex corner at both ends; S. Hertel & K. Mehlhorn, "Fast triangulation of
simple polygons", FCT 1983 (at most four times as many parts as need be). Depth: two outlines overlap while the way from the one to the
other lies inside the union of the Minkowski sums of their parts, the second's mirrored; the nearest point of its boundary is the shortest
way out (S. Cameron & R. K. Culley, "Determining the minimum translational distance between two convex polyhedra", ICRA 1986, for each pair).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LESS_NOTCHED, OUTLINE_MM, SAME_NUMBER
from .separation import shortest_parting


def is_convex(outline: BaseGeometry) -> bool:
    """Whether its hull has hardly more area than it."""
    hull = shapely.convex_hull(outline).area
    return bool(hull - outline.area <= LESS_NOTCHED * hull)


def convex_parts(outline: BaseGeometry, smoothed: float = OUTLINE_MM) -> tuple[np.ndarray, ...]:
    """(n, 2) each, counter-clockwise: convex polygons that together are the outline (of one polygon or several), ``smoothed`` by that
    much."""
    polygons = [p for p in shapely.get_parts(shapely.simplify(outline, smoothed)) if p.geom_type == "Polygon" and p.area > 0]
    found: list[np.ndarray] = []
    for polygon in polygons:
        if is_convex(polygon):
            found.append(_corners(shapely.convex_hull(polygon)))
            continue
        triangles = [_corners(t) for t in shapely.get_parts(shapely.constrained_delaunay_triangles(polygon))]
        found += _joined(triangles)
    return tuple(found)


def _corners(polygon: BaseGeometry) -> np.ndarray:
    return np.array(shapely.geometry.polygon.orient(polygon).exterior.coords)[:-1]


def _joined(parts: list[np.ndarray]) -> list[np.ndarray]:
    """Neighbours made one wherever the two together are convex."""
    rings = [[tuple(p) for p in part] for part in parts]
    k = 0
    while k < len(rings):
        partner = next((m for m in range(k + 1, len(rings)) if _one_of_two(rings[k], rings[m]) is not None), None)
        if partner is None:
            k += 1
            continue
        rings[k] = _one_of_two(rings[k], rings.pop(partner)) or rings[k]
        k = 0
    return [np.array(ring) for ring in rings]


_Ring = list[tuple[float, ...]]


def _one_of_two(first: _Ring, second: _Ring) -> _Ring | None:
    """The ring round both when they share an edge and are convex together."""
    following = {a: k for k, a in enumerate(second)}
    for i, a in enumerate(first):
        b = first[(i + 1) % len(first)]
        k = following.get(b)
        if k is None or second[(k + 1) % len(second)] != a:
            continue
        # Round the first from b to a, then round the second from what follows a to what comes before b.
        start = (i + 1) % len(first)
        ring = [*first[start:], *first[:start], *(second[(k + 2 + n) % len(second)] for n in range(len(second) - 2))]
        return ring if _turns_left(np.array(ring)) else None
    return None


def _turns_left(ring: np.ndarray) -> bool:
    edges = np.roll(ring, -1, axis=0) - ring
    after = np.roll(edges, -1, axis=0)
    cross = edges[:, 0] * after[:, 1] - edges[:, 1] * after[:, 0]
    return bool((cross >= -SAME_NUMBER).all())


def parting(first: Sequence[np.ndarray], second: Sequence[np.ndarray]) -> tuple[float, tuple[float, float]]:
    """(mm, unit direction) of the shortest move of ``second`` that parts it from ``first``, each given by its convex parts; (0, (1, 0))
    when apart."""
    if len(first) == len(second) == 1:
        return shortest_parting(first[0], second[0])
    sums = [_mirrored_sum(a, b) for a in first for b in second]
    taken = shapely.union_all(sums)
    origin = shapely.Point(0.0, 0.0)
    own = next((p for p in shapely.get_parts(taken) if shapely.intersects(p, origin)), None)
    if own is None:
        return 0.0, (1.0, 0.0)
    edge = shapely.boundary(own)
    nearest = shapely.get_coordinates(shapely.shortest_line(origin, edge))[1]
    depth = float(np.hypot(*nearest))
    if depth <= SAME_NUMBER:
        return 0.0, (1.0, 0.0)
    return depth, (float(nearest[0] / depth), float(nearest[1] / depth))


def _mirrored_sum(first: np.ndarray, second: np.ndarray) -> BaseGeometry:
    """Every way that brings the second onto the first."""
    points = (first[:, None] - second[None]).reshape(-1, 2)
    return shapely.convex_hull(shapely.multipoints(points))
