"""Triangles of a posed solid, for rays and level sections where closed formulas do not reach."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from ..shapes import Box, Cloth, Rod
from .body import Body
from .local import UNIT_CIRCLE

_CUBOID_FACES = (
    (0, 1, 2),
    (0, 2, 3),
    (4, 6, 5),
    (4, 7, 6),
    (0, 5, 1),
    (0, 4, 5),
    (1, 6, 2),
    (1, 5, 6),
    (2, 7, 3),
    (2, 6, 7),
    (3, 4, 0),
    (3, 7, 4),
)


@lru_cache(maxsize=2048)
def triangles(body: Body) -> np.ndarray:
    """(t, 3, 3) corners in mm. Open solids have no lid. Spheres are given by 8 rings of 16."""
    if len(body.spheres):
        return np.concatenate([_ball(sphere) for sphere in body.spheres])
    if isinstance(body.shape, Box | Cloth | Rod):
        return body.parts[0][np.array(_CUBOID_FACES)]
    if body.local.outline is not None:
        return _prism(body)
    return _stacked_rings([_ring(circle) for circle in body.circles], lid=body.opening is None)


@lru_cache(maxsize=8192)
def level_outline(body: Body, z_mm: float) -> np.ndarray | None:
    """(n, 2) the convex outline of the solid cut by the level plane at ``z_mm``, corners in order; None when it does not reach there."""
    if body.is_upright_prism:
        return np.array(body.footprint_hull.exterior.coords)[:-1] if body.z_min <= z_mm <= body.z_max else None
    if len(body.spheres) == 1:
        x, y, z, radius = body.spheres[0]
        reach = radius**2 - (z_mm - z) ** 2
        return np.array([x, y]) + np.sqrt(reach) * UNIT_CIRCLE if reach > 0 else None
    points: list[np.ndarray] = []
    for x, y, z, radius in body.spheres:
        reach = radius**2 - (z_mm - z) ** 2
        if reach > 0:
            points.append(np.array([x, y]) + np.sqrt(reach) * UNIT_CIRCLE)
    if len(body.spheres) == 0:
        corners = triangles(body)
        for i, j in ((0, 1), (1, 2), (2, 0)):
            a, b = corners[:, i], corners[:, j]
            crossing = (a[:, 2] <= z_mm) != (b[:, 2] <= z_mm)
            if crossing.any():
                a, b = a[crossing], b[crossing]
                share = (z_mm - a[:, 2]) / (b[:, 2] - a[:, 2])
                points.append((a + share[:, None] * (b - a))[:, :2])
    if not points:
        return None
    hull = shapely.convex_hull(shapely.multipoints(np.concatenate(points)))
    return np.array(hull.exterior.coords)[:-1] if hull.geom_type == "Polygon" else None


@dataclass(frozen=True, eq=False, slots=True)
class Facing:
    """Triangles as rays from one place meet them: what of Moller and Trumbore's products does not depend on the ray, (t, 3) each and (t,)."""

    normals: np.ndarray
    for_u: np.ndarray
    for_v: np.ndarray
    height: np.ndarray


def facing(body_triangles: np.ndarray, origin: np.ndarray) -> Facing:
    a = body_triangles[:, 0]
    edge1, edge2, s = body_triangles[:, 1] - a, body_triangles[:, 2] - a, origin - a
    q = np.cross(s, edge1)
    return Facing(np.cross(edge2, edge1), np.cross(edge2, s), q, (edge2 * q).sum(1))


def depths_along(met: Facing, directions: np.ndarray) -> np.ndarray:
    """(n,) first hit of each ray from the place that ``met`` was worked for; inf when it misses.

    Moller & Trumbore, "Fast, minimum storage ray/triangle intersection", J. Graphics Tools 2(1), 1997. With d the direction, e1 and e2 the
    edges and s the origin less the first corner: det = d . (e2 x e1), u det = d . (e2 x s), v det = d . (s x e1), t det = e2 . (s x e1).
    """
    determinant = directions @ met.normals.T
    flat = np.abs(determinant) < 1e-12
    inverse = 1 / np.where(flat, 1.0, determinant)
    u = (directions @ met.for_u.T) * inverse
    v = (directions @ met.for_v.T) * inverse
    t = met.height * inverse
    hit = ~flat & (u >= -1e-9) & (v >= -1e-9) & (u + v <= 1 + 1e-9) & (t > 0)
    return np.where(hit, t, np.inf).min(axis=1)


def _ring(circle: np.ndarray) -> np.ndarray:
    return circle[0] + UNIT_CIRCLE[::4] @ circle[1:]


def _stacked_rings(rings: list[np.ndarray], *, lid: bool) -> np.ndarray:
    found = [_fan(rings[0])] + ([_fan(rings[-1])] if lid else [])
    for low, high in zip(rings, rings[1:], strict=False):
        low_next, high_next = np.roll(low, -1, axis=0), np.roll(high, -1, axis=0)
        found += [np.stack([low, low_next, high_next], axis=1), np.stack([low, high_next, high], axis=1)]
    return np.concatenate(found)


def _fan(ring: np.ndarray) -> np.ndarray:
    centre = np.broadcast_to(ring.mean(axis=0), ring.shape)
    return np.stack([centre, ring, np.roll(ring, -1, axis=0)], axis=1)


def _ball(sphere: np.ndarray) -> np.ndarray:
    heights = np.linspace(-np.pi / 2, np.pi / 2, 9)
    ring = UNIT_CIRCLE[::6]
    rings = [sphere[:3] + sphere[3] * np.column_stack([ring * np.cos(h), np.full(len(ring), np.sin(h))]) for h in heights]
    return _stacked_rings(rings, lid=True)


def _prism(body: Body) -> np.ndarray:
    points = body.local.outline
    assert points is not None
    flat = shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(points)))
    cap = np.array([np.array(t.exterior.coords)[:3] for t in flat])
    found = []
    for z in (0.0, body.local.height):
        found.append(body.placed_point(np.concatenate([cap, np.full((*cap.shape[:2], 1), z)], axis=2)))
    n = len(points)
    low, high = body.parts[0][:n], body.parts[0][n:]
    low_next, high_next = np.roll(low, -1, axis=0), np.roll(high, -1, axis=0)
    found += [np.stack([low, low_next, high_next], axis=1), np.stack([low, high_next, high], axis=1)]
    return np.concatenate(found)
