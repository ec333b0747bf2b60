"""A shape as points, circles and spheres in its own axes: base on z = 0, centred on x = y = 0.

A solid is a union of convex parts. Round parts keep their circles beside the sampled points, so that bounds can be exact.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from shapely.geometry import Polygon

from ..tolerances import CIRCLE_CHORDS

_ANGLES = np.linspace(0.0, 2 * np.pi, CIRCLE_CHORDS, endpoint=False)
UNIT_CIRCLE = np.stack([np.cos(_ANGLES), np.sin(_ANGLES)], axis=1)

#: (height, radius) from the base up, mm.
Profile = tuple[tuple[float, float], ...]


@dataclass(frozen=True, eq=False, slots=True)
class Solid:
    """A shape in its own axes, mm.

    parts: point sets (n, 3), the solid being the union of their convex hulls (of spheres where ``spheres`` is not empty,
    and of the prism over ``outline`` where that is given). circles: (k, 3, 3), centre and two half-axes.
    circle_part: (k,), the part each circle belongs to. spheres: (s, 4), centre and radius. opening: index of the circle
    through which one looks into the solid, None when it is closed. is_piece: it is one convex piece of a shape.
    """

    parts: tuple[np.ndarray, ...]
    circles: np.ndarray
    circle_part: np.ndarray
    spheres: np.ndarray
    outline: np.ndarray | None
    height: float
    centroid: np.ndarray
    opening: int | None = None
    is_piece: bool = False


def revolved(profile: Profile, *, is_open: bool = False) -> Solid:
    """A solid of revolution over its profile; open at the top when one looks into it."""
    circles = np.array([[[0, 0, z], [r, 0, 0], [0, r, 0]] for z, r in profile], dtype=float)
    rings = [ring_of(circle) for circle in circles]
    parts = tuple(np.concatenate([rings[i], rings[i + 1]]) for i in range(len(rings) - 1))
    # A ring between two parts bounds both; its exact bounds need to be known to one of them only, as the parts are joined.
    circle_part = np.array([min(i, len(parts) - 1) for i in range(len(profile))])
    centroid = np.array([0.0, 0.0, _revolved_centroid(profile)])
    return Solid(parts, circles, circle_part, NO_SPHERES, None, profile[-1][0], centroid, len(profile) - 1 if is_open else None)


def _revolved_centroid(profile: Profile) -> float:
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


def elliptic(half_width: float, half_depth: float, height: float) -> Solid:
    """An upright cylinder over an ellipse."""
    circles = np.array([[[0, 0, z], [half_width, 0, 0], [0, half_depth, 0]] for z in (0.0, height)])
    points = np.concatenate([ring_of(circle) for circle in circles])
    return Solid((points,), circles, np.zeros(2, dtype=int), NO_SPHERES, None, height, np.array([0, 0, height / 2]))


def cuboid(width: float, depth: float, height: float) -> Solid:
    """A box: corners counter-clockwise from the front left, below and then above."""
    corners = np.array([[sx * width / 2, sy * depth / 2, z] for z in (0.0, height) for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
    return Solid((corners,), NO_CIRCLES, NO_INDEX, NO_SPHERES, None, height, np.array([0, 0, height / 2]))


def balls(spheres: np.ndarray, height: float) -> Solid:
    """One or more spheres (s, 4), centre and radius."""
    return Solid((), NO_CIRCLES, NO_INDEX, spheres, None, height, np.array([0.0, 0.0, height / 2]))


def prism(points: np.ndarray, height: float) -> Solid:
    """An upright prism over a simple polygon (n, 2), whichever its winding."""
    points = counter_clockwise(points)
    centre = Polygon(points).centroid
    low = np.column_stack([points, np.zeros(len(points))])
    high = np.column_stack([points, np.full(len(points), height)])
    centroid = np.array([centre.x, centre.y, height / 2])
    return Solid((np.concatenate([low, high]),), NO_CIRCLES, NO_INDEX, NO_SPHERES, points, height, centroid)


def counter_clockwise(points: np.ndarray) -> np.ndarray:
    """The same polygon (n, 2), seen from above, counter-clockwise."""
    return points if Polygon(points).exterior.is_ccw else points[::-1]


def ring_of(circle: np.ndarray) -> np.ndarray:
    """(n, 3) points of a circle (3, 3), centre and half-axes."""
    return circle[0] + UNIT_CIRCLE @ circle[1:]


NO_CIRCLES = np.empty((0, 3, 3))
NO_INDEX = np.empty(0, dtype=int)
NO_SPHERES = np.empty((0, 4))
