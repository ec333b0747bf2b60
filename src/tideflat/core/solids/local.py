"""Every shape as points, circles and spheres in its own axes: base on z = 0, centred on x = y = 0.

A solid is a union of convex parts. Round parts keep their circles beside the sampled points, so that bounds can be exact.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from shapely.geometry import Polygon

from ..shapes import Bottle, Bowl, Box, Cloth, Cone, Cylinder, Ellipse, Outline, Rod, Scatter, Shape, Sphere
from ..tolerances import CIRCLE_CHORDS

_ANGLES = np.linspace(0.0, 2 * np.pi, CIRCLE_CHORDS, endpoint=False)
UNIT_CIRCLE = np.stack([np.cos(_ANGLES), np.sin(_ANGLES)], axis=1)


@dataclass(frozen=True, eq=False, slots=True)
class LocalSolid:
    """A shape in its own axes, mm.

    parts: point sets (n, 3), the solid being the union of their convex hulls (of spheres where ``spheres`` is not empty,
    and of the prism over ``outline`` where that is given). circles: (k, 3, 3), centre and two half-axes.
    circle_part: (k,), the part each circle belongs to. spheres: (s, 4), centre and radius. opening: index of the circle
    through which one looks into the solid, None when it is closed.
    """

    parts: tuple[np.ndarray, ...]
    circles: np.ndarray
    circle_part: np.ndarray
    spheres: np.ndarray
    outline: np.ndarray | None
    height: float
    centroid: np.ndarray
    opening: int | None = None


@lru_cache(maxsize=4096)
def local_solid(shape: Shape) -> LocalSolid:
    """The geometry of ``shape``; kept, as the same props are asked for again and again."""
    match shape:
        case Cylinder(diameter, height):
            return _revolved(((0.0, diameter / 2), (height, diameter / 2)))
        case Cone(base, top, height):
            return _revolved(((0.0, base / 2), (height, top / 2)))
        case Bowl(rim, base, height):
            return _revolved(((0.0, base / 2), (height, rim / 2)), is_open=True)
        case Bottle():
            return _revolved(bottle_profile(shape))
        case Ellipse(width, depth, height):
            return _elliptic(width / 2, depth / 2, height)
        case Box(width, depth, height) | Cloth(width, depth, height):
            return _cuboid(width, depth, height)
        case Rod(length, width, height):
            return _cuboid(length, width, height)
        case Sphere(diameter):
            return _spheres(np.array([[0.0, 0.0, diameter / 2, diameter / 2]]), diameter)
        case Scatter():
            return _spheres(scattered_pieces(shape), shape.piece_diameter)
        case Outline(points, height):
            return _prism(np.array(points, dtype=float), height)
    raise AssertionError(f"no geometry for {shape!r}")


def bottle_profile(shape: Bottle) -> tuple[tuple[float, float], ...]:
    """(height, radius) from the base up."""
    shoulder, neck = shape.height - shape.neck_height, shape.neck_diameter / 2
    return (
        (0.0, shape.diameter / 2),
        (shoulder, shape.diameter / 2),
        (shoulder + shape.neck_height / 2, neck),
        (shape.height, neck),
    )


def scattered_pieces(shape: Scatter) -> np.ndarray:
    """(pieces, 4): centre and radius of each piece, wholly inside width x depth, the same for the same seed.

    Best-candidate sampling (Mitchell, "Spectrally optimal sampling", SIGGRAPH 1991): of some random places for the next
    piece the one furthest from its neighbours, so that pieces spread as strewn things do and seldom lie in each other.
    """
    random = np.random.Generator(np.random.PCG64(shape.seed))
    radius = shape.piece_diameter / 2
    half = np.array([max(shape.width / 2 - radius, 0.0), max(shape.depth / 2 - radius, 0.0)])
    places = np.empty((shape.pieces, 2))
    for i in range(shape.pieces):
        candidates = (random.random((8, 2)) * 2 - 1) * half
        if i:
            gaps = np.linalg.norm(candidates[:, None] - places[None, :i], axis=2).min(axis=1)
            places[i] = candidates[int(np.argmax(gaps))]
        else:
            places[i] = candidates[0]
    return np.column_stack([places, np.full(shape.pieces, radius), np.full(shape.pieces, radius)])


def _revolved(profile: tuple[tuple[float, float], ...], *, is_open: bool = False) -> LocalSolid:
    circles = np.array([[[0, 0, z], [r, 0, 0], [0, r, 0]] for z, r in profile], dtype=float)
    rings = [_ring(circle) for circle in circles]
    parts = tuple(np.concatenate([rings[i], rings[i + 1]]) for i in range(len(rings) - 1))
    # A ring between two parts bounds both; its exact bounds need to be known to one of them only, as the parts are joined.
    circle_part = np.array([min(i, len(parts) - 1) for i in range(len(profile))])
    centroid = np.array([0.0, 0.0, _revolved_centroid(profile)])
    return LocalSolid(parts, circles, circle_part, _NO_SPHERES, None, profile[-1][0], centroid, len(profile) - 1 if is_open else None)


def _revolved_centroid(profile: tuple[tuple[float, float], ...]) -> float:
    """Height of the centre of mass of stacked frusta (any table of solids: V = pi h (R^2 + R r + r^2) / 3)."""
    volume = moment = 0.0
    for (low, lower), (high, upper) in zip(profile, profile[1:], strict=False):
        thick, area = high - low, lower**2 + lower * upper + upper**2
        if area <= 0:
            continue
        part = thick * area
        volume += part
        moment += part * (low + thick / 4 * (lower**2 + 2 * lower * upper + 3 * upper**2) / area)
    return moment / volume


def _elliptic(half_width: float, half_depth: float, height: float) -> LocalSolid:
    circles = np.array([[[0, 0, z], [half_width, 0, 0], [0, half_depth, 0]] for z in (0.0, height)])
    points = np.concatenate([_ring(circle) for circle in circles])
    return LocalSolid((points,), circles, np.zeros(2, dtype=int), _NO_SPHERES, None, height, np.array([0, 0, height / 2]))


def _cuboid(width: float, depth: float, height: float) -> LocalSolid:
    corners = np.array([[sx * width / 2, sy * depth / 2, z] for z in (0.0, height) for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
    return LocalSolid((corners,), _NO_CIRCLES, _NO_INDEX, _NO_SPHERES, None, height, np.array([0, 0, height / 2]))


def _spheres(spheres: np.ndarray, height: float) -> LocalSolid:
    centroid = np.array([0.0, 0.0, height / 2])
    return LocalSolid((), _NO_CIRCLES, _NO_INDEX, spheres, None, height, centroid)


def _prism(points: np.ndarray, height: float) -> LocalSolid:
    ring = Polygon(points)
    if not ring.exterior.is_ccw:
        points = points[::-1]
    low = np.column_stack([points, np.zeros(len(points))])
    high = np.column_stack([points, np.full(len(points), height)])
    centre = ring.centroid
    return LocalSolid(
        (np.concatenate([low, high]),),
        _NO_CIRCLES,
        _NO_INDEX,
        _NO_SPHERES,
        points,
        height,
        np.array([centre.x, centre.y, height / 2]),
    )


def _ring(circle: np.ndarray) -> np.ndarray:
    return circle[0] + UNIT_CIRCLE @ circle[1:]


_NO_CIRCLES = np.empty((0, 3, 3))
_NO_INDEX = np.empty(0, dtype=int)
_NO_SPHERES = np.empty((0, 4))
