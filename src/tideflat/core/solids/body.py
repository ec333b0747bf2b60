"""A prop posed on the table: turned, leaned, and lifted until its lowest point is at its z."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import ClassVar

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..model import Placement
from ..plane.hull import hull_of
from ..remember import remembered
from ..shapes.mesh import Mesh
from ..shapes.shape import Shape
from ..shapes.solid import Solid


def rotation(turn_deg: float, lean_deg: float, lean_toward_deg: float) -> np.ndarray:
    """(3, 3): the turn about the upright axis, then the lean from upright toward a direction on the table."""
    t, a, d = np.radians([turn_deg, lean_deg, lean_toward_deg])
    turn = np.array([[np.cos(t), -np.sin(t), 0], [np.sin(t), np.cos(t), 0], [0, 0, 1]])
    if lean_deg == 0:
        return turn
    x, y = -np.sin(d), np.cos(d)  # the horizontal axis of the lean: up x direction
    cross = np.array([[0, 0, y], [0, 0, -x], [-y, x, 0]])
    lean = np.eye(3) + np.sin(a) * cross + (1 - np.cos(a)) * cross @ cross  # Rodrigues
    return lean @ turn


@dataclass(frozen=True, eq=False)
class Body:
    """A posed solid in table axes, mm. ``parts``, ``circles``, ``spheres`` as in Solid, but in place."""

    is_remembered: ClassVar[bool] = True
    placement: Placement
    shape: Shape
    local: Solid
    turned: np.ndarray
    base: np.ndarray
    parts: tuple[np.ndarray, ...]
    circles: np.ndarray
    spheres: np.ndarray
    centroid: np.ndarray
    z_min: float
    z_max: float

    @property
    def id(self) -> str:
        return self.placement.id

    @property
    def is_soft(self) -> bool:
        """Whether it gives way, or finds its place: it collides with nothing."""
        return self.shape.is_soft

    @property
    def is_upright_prism(self) -> bool:
        """Whether every level section is the footprint."""
        return self.placement.lean == 0 and self.shape.is_prism

    @cached_property
    def footprint(self) -> BaseGeometry:
        """The outline on the table, seen from straight above (shapely polygon or multipolygon, mm)."""
        if len(self.spheres):
            discs = shapely.buffer(shapely.points(self.spheres[:, :2]), self.spheres[:, 3], quad_segs=24)
            return discs[0] if len(discs) == 1 else shapely.union_all(discs)
        if self.local.outline is not None:
            return prism_outline(self.parts[0][:, :2])
        hulls = [hull_of(part[:, :2]) for part in self.parts]
        return hulls[0] if len(hulls) == 1 else shapely.union_all(hulls)

    @cached_property
    def footprint_bounds(self) -> tuple[float, float, float, float]:
        """x0, y0, x1, y1 of the footprint, mm."""
        x0, y0, x1, y1 = self.footprint.bounds
        return float(x0), float(y0), float(x1), float(y1)

    @cached_property
    def footprint_hull(self) -> BaseGeometry:
        return shapely.convex_hull(self.footprint)

    @cached_property
    def piece_bodies(self) -> tuple[Body, ...]:
        """Strewn pieces, each a body of its own; any other thing is its own only piece."""
        if len(self.spheres) < 2:
            return (self,)
        return tuple(
            replace(self, spheres=s[None], centroid=s[:3], z_min=float(s[2] - s[3]), z_max=float(s[2] + s[3])) for s in self.spheres
        )

    @property
    def opening(self) -> np.ndarray | None:
        """(3, 3) centre and half-axes of the rim one looks into; None when closed."""
        return None if self.local.opening is None else self.circles[self.local.opening]

    def placed_point(self, local_point: np.ndarray) -> np.ndarray:
        """Points (..., 3) in the solid's own axes, where they are on the table."""
        return local_point @ self.turned.T + self.base


def prism_outline(points: np.ndarray) -> BaseGeometry:
    """Outline of a prism from its lower and upper corners (2 n, 2), seen in any projection: the union of its faces."""
    n = len(points) // 2
    low, high = points[:n], points[n:]
    following = np.roll(np.arange(n), -1)
    sides = shapely.polygons(np.stack([low, low[following], high[following], high], axis=1))
    faces = np.concatenate([[shapely.Polygon(low), shapely.Polygon(high)], shapely.convex_hull(sides)])
    faces = faces[shapely.area(faces) > 0]
    return shapely.union_all(shapely.make_valid(faces)) if len(faces) else hull_of(points)


@remembered(3)  # the same props are asked for again and again
def solid_of(shape: Shape) -> Solid:
    """The geometry of ``shape`` in its own axes."""
    return shape.solid()


@remembered(4)
def mesh_of(shape: Shape) -> Mesh:
    """The surface of ``shape`` in its own axes."""
    return shape.mesh()


@remembered(5)
def pose(placement: Placement, shape: Shape) -> Body:
    """The solid of ``shape`` where ``placement`` says."""
    local = solid_of(shape)
    turned = rotation(placement.turn, placement.lean, placement.lean_toward)
    lowest = _lowest(local, turned)
    base = np.array([placement.x, placement.y, placement.z - lowest])
    parts = tuple(part @ turned.T + base for part in local.parts)
    circles = local.circles @ turned.T
    circles[:, 0] += base
    spheres = local.spheres.copy()
    spheres[:, :3] = spheres[:, :3] @ turned.T + base
    tops = [part[:, 2].max() for part in parts] + list(circles[:, 0, 2] + np.hypot(circles[:, 1, 2], circles[:, 2, 2]))
    tops += list(spheres[:, 2] + spheres[:, 3])
    return Body(
        placement,
        shape,
        local,
        turned,
        base,
        parts,
        circles,
        spheres,
        local.centroid @ turned.T + base,
        placement.z,
        float(max(tops)),
    )


def _lowest(local: Solid, turned: np.ndarray) -> float:
    """Height of the lowest point of the turned solid above its base's centre (0 or less for most)."""
    down = turned[2]
    lows = [float((part @ down).min()) for part in local.parts]
    axes = local.circles @ down
    lows += [float(c - np.hypot(a, b)) for c, a, b in axes]
    lows += [float(s[:3] @ down - s[3]) for s in local.spheres]
    return min(lows)
