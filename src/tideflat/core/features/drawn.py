"""Which place of a thing a stroke over the picture means: the rays of the stroke, brought onto the thing's own surface."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera.crops import Rect
from ..errors import FieldError
from ..evaluate import Picture
from ..patches import axes_of
from ..solids.body import Body, mesh_of
from ..tolerances import NEAR_DEPTH_MM, PARALLEL, ROUNDING, SAME_NUMBER

#: A facing that is this near level, upright or along an axis (cosine) is meant to be so: the walls of a mesh are flat between its rings.
_SQUARE = 0.9995
#: Digits (mm, and of the facing) that are kept: a stroke by hand is not surer.
_DIGITS_MM, _DIGITS_FACING = 1, 4
#: The least that is drawn, mm.
_LEAST_MM = 0.5


@dataclass(frozen=True, slots=True)
class DrawnPlace:
    """A place on a thing in its own axes at rest, as a feature has it: middle and size in mm, the way it faces as a unit vector."""

    at: tuple[float, float, float]
    facing: tuple[float, float, float]
    width: float
    height: float


def drawn_place(picture: Picture, placement_id: str, stroke: Rect) -> DrawnPlace:
    """The place that a rectangle over the frame (left, top, right, bottom in its fractions) covers on a thing.

    The middle is where the ray through the rectangle's middle first meets the thing; width and height are those of the rectangle laid onto
    the plane that touches the thing there, its area kept where it is not square to the place's own axes. No larger than the thing.
    Raises FieldError on ``box`` where that ray misses the thing, or the thing is not in front of the lens.
    """
    if placement_id not in picture.silhouettes:
        raise FieldError("box", "must be drawn over the thing, which is not in front of the lens here", show_got=False)
    body, view = picture.bodies[placement_id], picture.view
    left, top, right, bottom = stroke
    middle = (left + right) / 2, (top + bottom) / 2
    places = np.array([middle, (left, middle[1]), (right, middle[1]), (middle[0], top), (middle[0], bottom)])
    origin = (view.position - body.base) @ body.turned
    rays = view.rays(places) @ body.turned
    hit = _first_hit(body, origin, rays[0])
    if hit is None:
        raise FieldError("box", "must have its middle on the thing", show_got=False)
    at, facing = hit
    across, up, normal = axes_of(facing)
    steep = rays[1:] @ normal
    steep = np.where(np.abs(steep) < PARALLEL, -PARALLEL, steep)
    met = origin + rays[1:] * (((at - origin) @ normal) / steep)[:, None] - at
    spans = np.ptp(met @ across), np.ptp(met @ up)
    area = float(np.linalg.norm(np.cross(met[1] - met[0], met[3] - met[2])))
    kept = np.sqrt(area / max(float(spans[0] * spans[1]), SAME_NUMBER))
    largest = float(np.linalg.norm(body.shape.sides()))
    width, height = (round(min(max(float(s) * kept, _LEAST_MM), largest), _DIGITS_MM) for s in spans)
    x, y, z = (round(float(v), _DIGITS_MM) + 0.0 for v in at)
    dx, dy, dz = (round(float(v), _DIGITS_FACING) + 0.0 for v in normal)
    return DrawnPlace((x, y, z), (dx, dy, dz), width, height)


def _first_hit(body: Body, origin: np.ndarray, ray: np.ndarray) -> tuple[np.ndarray, np.ndarray] | None:
    """(point, normal towards the origin), both (3,) in the thing's own axes, where a ray first meets its surface (Moeller and Trumbore, 1997);
    None where it misses."""
    mesh = mesh_of(body.shape)
    corners = mesh.corners
    edge, other = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    sideways = np.cross(ray, other)
    size = (edge * sideways).sum(axis=1)
    size = np.where(np.abs(size) < SAME_NUMBER, np.inf, size)
    from_corner = origin - corners[:, 0]
    a = (from_corner * sideways).sum(axis=1) / size
    over = np.cross(from_corner, edge)
    b = (over @ ray) / size
    depths = (over * other).sum(axis=1) / size
    met = (a >= -ROUNDING) & (b >= -ROUNDING) & (a + b <= 1 + ROUNDING) & (depths > NEAR_DEPTH_MM)
    if not met.any():
        return None
    k = int(np.argmin(np.where(met, depths, np.inf)))
    normal = np.array([1 - a[k] - b[k], a[k], b[k]]) @ mesh.normals[mesh.faces[k]]
    normal = normal / max(float(np.linalg.norm(normal)), SAME_NUMBER)
    return origin + ray * depths[k], _squared(normal if normal @ ray < 0 else -normal)


def _squared(normal: np.ndarray) -> np.ndarray:
    """The same, along an axis where it is as good as along it."""
    largest = int(np.argmax(np.abs(normal)))
    if abs(normal[largest]) < _SQUARE:
        return normal
    return np.asarray(np.sign(normal[largest]) * np.eye(3)[largest])
