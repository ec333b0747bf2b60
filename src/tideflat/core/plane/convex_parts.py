"""An outline cut into convex parts, and how deep two outlines are in each other when they are not convex.

Cutting: triangles joined again across every edge that leaves a convex corner at both ends; S. Hertel & K. Mehlhorn, "Fast triangulation of
simple polygons", FCT 1983 (at most four times as many parts as need be). Depth: two outlines overlap while the way from the one to the
other lies inside the union of the Minkowski sums of their parts, the second's mirrored; the nearest point of its boundary is the shortest
way out (S. Cameron & R. K. Culley, "Determining the minimum translational distance between two convex polyhedra", ICRA 1986, for each pair).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LESS_NOTCHED, OUTLINE_MM, SAME_NUMBER
from .hull import hull_of
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
    """Neighbours made one wherever the two together are convex: always the first two that can be, by their place in the list."""
    rings = {k: [tuple(p) for p in part] for k, part in enumerate(parts)}
    owners = {edge: k for k, ring in rings.items() for edge in _edges(ring)}
    refused: set[tuple[int, int]] = set()
    while (pair := _first_to_join(rings, owners, refused)) is not None:
        k, m, joined = pair
        gone = rings.pop(m)
        owners |= {edge: k for edge in _edges(gone)}
        rings[k] = joined
        refused = {pair for pair in refused if k not in pair}
    return [np.array(ring) for ring in rings.values()]


_Point = tuple[float, ...]
_Ring = list[_Point]


def _edges(ring: _Ring) -> list[tuple[_Point, _Point]]:
    return [(a, ring[k + 1 - len(ring)]) for k, a in enumerate(ring)]


def _first_to_join(
    rings: dict[int, _Ring], owners: dict[tuple[_Point, _Point], int], refused: set[tuple[int, int]]
) -> tuple[int, int, _Ring] | None:
    """(place of the one, of the other, the ring round both); what cannot be joined goes to ``refused``."""
    for k, ring in rings.items():
        for m in sorted({owners.get((b, a), k) for a, b in _edges(ring)}):
            if m <= k or (k, m) in refused:
                continue
            joined = _one_of_two(ring, rings[m])
            if joined is not None:
                return k, m, joined
            refused.add((k, m))
    return None


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
    ours, theirs = [_round(a) for a in first], [_round(-b) for b in second]
    taken = shapely.union_all([_sum(a, b) for a in ours for b in theirs])  # every way that brings the second onto the first
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


@dataclass(frozen=True, slots=True)
class _Round:
    """A convex polygon as its lowest corner (the leftmost of several), and its edges (n, 2) counter-clockwise with the ways they point."""

    lowest: np.ndarray
    edges: np.ndarray
    ways: np.ndarray


def _round(ring: np.ndarray) -> _Round:
    x, y = ring[:, 0], ring[:, 1]
    following = np.concatenate([ring[1:], ring[:1]])
    edges = following - ring
    if (x * following[:, 1] - following[:, 0] * y).sum() < 0:
        edges = -edges
    return _Round(ring[np.lexsort((x, y))[0]], edges, np.arctan2(edges[:, 1], edges[:, 0]) % (2 * np.pi))


def _sum(first: _Round, second: _Round) -> BaseGeometry:
    """All sums of a point of the one and a point of the other: their edges, one after the other by the ways they point."""
    edges = np.concatenate([first.edges, second.edges])
    order = np.argsort(np.concatenate([first.ways, second.ways]), kind="stable")
    return hull_of(first.lowest + second.lowest + np.cumsum(edges[order], axis=0))
