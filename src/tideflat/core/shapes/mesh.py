"""The surface of a shape as triangles in its own axes, with normals and places in a picture: for rays, level sections and light.

Corners run counter-clockwise seen from outside, but where a surface is seen from both sides. Places in a picture (u, v) run from 0 to 1, v
upward: once round a wall from -x over the front, and over the bounds of a level face as seen from above.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from .solid import UNIT_CIRCLE, Profile, counter_clockwise

#: Of the circle's points, those that a wall's ring keeps, and a ball's ring, which has so many rings from pole to pole.
_WALL_STEP, _BALL_STEP, _BALL_RINGS = 4, 6, 9


@dataclass(frozen=True, eq=False, slots=True)
class Mesh:
    """points, normals (n, 3), mm and unit length; uv (n, 2); faces (t, 3), indices of points. Points on an edge are there once for each side."""

    points: np.ndarray
    normals: np.ndarray
    uv: np.ndarray
    faces: np.ndarray

    @property
    def corners(self) -> np.ndarray:
        """(t, 3, 3) the corners of each triangle."""
        return self.points[self.faces]


def joined(meshes: list[Mesh]) -> Mesh:
    """Several as one."""
    starts = np.cumsum([0, *(len(m.points) for m in meshes[:-1])])
    return Mesh(
        np.concatenate([m.points for m in meshes]),
        np.concatenate([m.normals for m in meshes]),
        np.concatenate([m.uv for m in meshes]),
        np.concatenate([m.faces + start for m, start in zip(meshes, starts, strict=True)]),
    )


def revolved_mesh(profile: Profile, *, is_open: bool = False, depth_share: float = 1.0) -> Mesh:
    """Walls over a profile (height, half-width), a bottom, and a lid unless open. depth_share: half-depth over half-width."""
    axes = np.array([1.0, depth_share])
    parts = [_disc(UNIT_CIRCLE[::_WALL_STEP] * axes * profile[0][1], profile[0][0], up=False)]
    if not is_open:
        parts.append(_disc(UNIT_CIRCLE[::_WALL_STEP] * axes * profile[-1][1], profile[-1][0], up=True))
    height = profile[-1][0] - profile[0][0]
    for (low, lower), (high, upper) in zip(profile, profile[1:], strict=False):
        part = (low - profile[0][0]) / height, (high - profile[0][0]) / height
        parts.append(_wall((low, lower), (high, upper), axes, part))
    return joined(parts)


def _wall(low: tuple[float, float], high: tuple[float, float], axes: np.ndarray, part: tuple[float, float]) -> Mesh:
    """A ring of two triangles a side between two heights; the seam's points are there twice, with u 0 and 1."""
    circle = np.concatenate([UNIT_CIRCLE[::_WALL_STEP], UNIT_CIRCLE[:1]])
    n = len(circle)
    points = np.concatenate([np.column_stack([circle * axes * r, np.full(n, z)]) for z, r in (low, high)])
    # Square to the ellipse, and leaning up where the wall narrows: (dz, -dr) of the profile.
    outward = circle / axes
    outward /= np.linalg.norm(outward, axis=1, keepdims=True)
    rise, widening = high[0] - low[0], (high[1] - low[1])
    normals = np.column_stack([outward * rise, np.full(n, -widening)])
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    u = ((np.arange(n) / (n - 1)) + 0.5) % 1.0  # from -x; the circle begins at +x
    uv = np.concatenate([np.column_stack([u, np.full(n, v)]) for v in part])
    k = np.arange(n - 1)
    faces = np.concatenate([np.stack([k, k + 1, n + k + 1], axis=1), np.stack([k, n + k + 1, n + k], axis=1)])
    return Mesh(points, np.concatenate([normals, normals]), uv, faces)


def _disc(ring: np.ndarray, z: float, *, up: bool) -> Mesh:
    """A fan of triangles from the middle."""
    flat = np.concatenate([ring.mean(axis=0)[None], ring])
    k = np.arange(len(ring))
    faces = np.stack([np.zeros(len(ring), dtype=int), k + 1, (k + 1) % len(ring) + 1], axis=1)
    return _level(flat, z, faces, up=up)


def _level(flat: np.ndarray, z: float, faces: np.ndarray, *, up: bool) -> Mesh:
    low, high = flat.min(axis=0), flat.max(axis=0)
    normal = np.array([0.0, 0.0, 1.0 if up else -1.0])
    uv = (flat - low) / np.maximum(high - low, np.finfo(float).tiny)
    return Mesh(np.column_stack([flat, np.full(len(flat), z)]), np.tile(normal, (len(flat), 1)), uv, faces if up else faces[:, ::-1])


def cuboid_mesh(width: float, depth: float, height: float) -> Mesh:
    """Six faces of two triangles."""
    w, d = width / 2, depth / 2
    return prism_mesh(np.array([[-w, -d], [w, -d], [w, d], [-w, d]]), height)


def prism_mesh(points: np.ndarray, height: float) -> Mesh:
    """A prism over a simple polygon (n, 2): both ends cut in triangles, and a flat face a side."""
    points = counter_clockwise(points)
    ends = [_polygon(points, z, up=up) for z, up in ((0.0, False), (height, True))]
    following = np.roll(points, -1, axis=0)
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(following - points, axis=1))])
    sides = [
        _side(a, b, height, (u0, u1)) for a, b, u0, u1 in zip(points, following, along / along[-1], along[1:] / along[-1], strict=False)
    ]
    return joined([*ends, *sides])


def _polygon(points: np.ndarray, z: float, *, up: bool) -> Mesh:
    cut = shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(points)))
    corners = np.array([np.array(shapely.geometry.polygon.orient(t).exterior.coords)[:3] for t in cut])
    return _level(corners.reshape(-1, 2), z, np.arange(len(corners) * 3).reshape(-1, 3), up=up)


def _side(start: np.ndarray, end: np.ndarray, height: float, u: tuple[float, float]) -> Mesh:
    points = np.array([[*start, 0.0], [*end, 0.0], [*end, height], [*start, height]])
    along = (end - start) / np.linalg.norm(end - start)
    normals = np.tile([along[1], -along[0], 0.0], (4, 1))
    uv = np.array([[u[0], 0.0], [u[1], 0.0], [u[1], 1.0], [u[0], 1.0]])
    return Mesh(points, normals, uv, np.array([[0, 1, 2], [0, 2, 3]]))


def balls_mesh(spheres: np.ndarray) -> Mesh:
    """Spheres (s, 4), centre and radius, each of 8 rings of 16."""
    heights = np.linspace(-np.pi / 2, np.pi / 2, _BALL_RINGS)
    ring = np.concatenate([UNIT_CIRCLE[::_BALL_STEP], UNIT_CIRCLE[:1]])
    n = len(ring)
    normals = np.concatenate([np.column_stack([ring * np.cos(h), np.full(n, np.sin(h))]) for h in heights])
    around = ((np.arange(n) / (n - 1)) + 0.5) % 1.0
    uv = np.concatenate([np.column_stack([around, np.full(n, k / (_BALL_RINGS - 1))]) for k in range(_BALL_RINGS)])
    k = (np.arange(_BALL_RINGS - 1)[:, None] * n + np.arange(n - 1)).ravel()
    faces = np.concatenate([np.stack([k, k + 1, n + k + 1], axis=1), np.stack([k, n + k + 1, n + k], axis=1)])
    return joined([Mesh(s[:3] + s[3] * normals, normals, uv, faces) for s in spheres])
