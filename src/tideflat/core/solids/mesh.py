"""Triangles of a posed solid, for rays and level sections where closed formulas do not reach."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..plane.hull import hull_of
from ..remember import remembered
from ..shapes.mesh import balls_mesh
from ..shapes.solid import UNIT_CIRCLE
from ..tolerances import ROUNDING, SAME_NUMBER
from .body import Body, mesh_of


@remembered(4)
def triangles(body: Body) -> np.ndarray:
    """(t, 3, 3) corners in mm. Open solids have no lid. One piece of what is strewn has its own alone."""
    return balls_mesh(body.spheres).corners if body.shape.is_strewn else body.placed_point(mesh_of(body.shape).corners)


def surface_of(body: Body) -> np.ndarray:
    """(t, 3, 3) triangles of the whole body, or of the one convex piece of it that this is."""
    return _hull_triangles(body) if body.local.is_piece else triangles(body)


@remembered(3)
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
        corners = surface_of(body)
        for i, j in ((0, 1), (1, 2), (2, 0)):
            a, b = corners[:, i], corners[:, j]
            crossing = (a[:, 2] <= z_mm) != (b[:, 2] <= z_mm)
            if crossing.any():
                a, b = a[crossing], b[crossing]
                share = (z_mm - a[:, 2]) / (b[:, 2] - a[:, 2])
                points.append((a + share[:, None] * (b - a))[:, :2])
    if not points:
        return None
    hull = hull_of(np.concatenate(points))
    return np.array(hull.exterior.coords)[:-1] if hull.geom_type == "Polygon" else None


def _hull_triangles(body: Body) -> np.ndarray:
    """(t, 3, 3) triangles between every corner of a convex piece and its lower and upper outlines: their sections' hull is its section."""
    low, high = np.split(body.parts[0], 2)
    n = len(low)
    k, following = np.arange(n), np.roll(np.arange(n), -1)
    sides = [np.stack([low[k], low[following], high[following]], axis=1), np.stack([low[k], high[following], high[k]], axis=1)]
    ends = [np.stack([np.repeat(p[:1], n - 2, axis=0), p[1:-1], p[2:]], axis=1) for p in (low, high)]
    return np.concatenate([*sides, *ends])


@dataclass(frozen=True, eq=False, slots=True)
class Facing:
    """Triangles as rays from one place meet them: what of Moller and Trumbore's products does not depend on the ray, (t, 3) each and
    (t,)."""

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
    flat = np.abs(determinant) < SAME_NUMBER
    inverse = 1 / np.where(flat, 1.0, determinant)
    u = (directions @ met.for_u.T) * inverse
    v = (directions @ met.for_v.T) * inverse
    t = met.height * inverse
    hit = ~flat & (u >= -ROUNDING) & (v >= -ROUNDING) & (u + v <= 1 + ROUNDING) & (t > 0)
    return np.where(hit, t, np.inf).min(axis=1)
