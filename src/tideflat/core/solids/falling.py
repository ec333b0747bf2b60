"""Cloths that lie on something: where they reach beyond it they fall."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np
import shapely

from ..remember import remembered
from ..shapes.cloth import Cloth
from ..tolerances import SUPPORT_MM
from .body import Body, pose, solid_of
from .folded import FoldedCloth, Points

#: An edge with more corners is taken as the outline of so many straight lines round it; the cloth keeps so far off what it falls along, mm.
_CORNERS, _CLEAR_MM = 24, 0.1
#: Places in the cloth's own axes are so many digits of a mm: what moves along together keeps the same cloth.
_DIGITS = 3


def laid_out(bodies: Mapping[str, Body]) -> dict[str, Body]:
    """The same bodies, by placement id, each cloth that lies on another of them fallen over its edge."""
    return {i: _fallen(body, bodies) if body.shape.is_laid and body.placement.on in bodies else body for i, body in bodies.items()}


def _fallen(cloth: Body, bodies: Mapping[str, Body]) -> Body:
    below = bodies[cloth.placement.on or ""]
    seen = {cloth.id}
    while below.shape.is_laid and below.placement.on in bodies and below.id not in seen:
        seen.add(below.id)
        below = bodies[below.placement.on or ""]  # a cloth on a cloth falls where the lower one does
    is_level = below.placement.lean == cloth.placement.lean == 0 and below.shape.top() is not None and not below.shape.is_laid
    drop = cloth.placement.z - (0.0 if below.placement.on is None else below.z_min)
    if not is_level or abs(cloth.placement.z - below.z_max) > SUPPORT_MM or drop <= SUPPORT_MM:
        return cloth
    return _folded(cloth, below, drop)


@remembered(2)
def _folded(cloth: Body, below: Body, drop: float) -> Body:
    shape, placement = cloth.shape, cloth.placement
    assert isinstance(shape, Cloth)
    own = (np.column_stack([_round(below), np.zeros(len(_round(below)))]) - cloth.base) @ cloth.turned
    edge = shapely.Polygon(own[:, :2])
    sheet = shapely.box(-shape.width / 2, -shape.depth / 2, shape.width / 2, shape.depth / 2)
    if shapely.covers(edge, sheet) or not shapely.intersects(edge, sheet):
        return cloth
    points: Points = tuple((round(float(x), _DIGITS), round(float(y), _DIGITS)) for x, y in own[:, :2])
    folded = FoldedCloth(shape.width, shape.depth, shape.thickness, points, round(drop, _DIGITS))
    lowest = min(float(part[:, 2].min()) for part in solid_of(folded).parts)
    return replace(pose(replace(placement, z=round(placement.z + lowest, _DIGITS)), folded), placement=placement)


def _round(body: Body) -> np.ndarray:
    """(n, 2) counter-clockwise: straight lines round the footprint, just off it."""
    hull = shapely.convex_hull(shapely.simplify(body.footprint_hull, _CLEAR_MM))
    ring = np.array(shapely.geometry.polygon.orient(hull).exterior.coords)[:-1]
    if len(ring) <= _CORNERS:
        along = np.roll(ring, -1, axis=0) - ring
        angles = np.arctan2(-along[:, 0], along[:, 1])
    else:
        angles = np.linspace(-np.pi, np.pi, _CORNERS, endpoint=False)
    ways = np.column_stack([np.cos(angles), np.sin(angles)])
    offsets = (np.array(body.footprint_hull.exterior.coords) @ ways.T).max(axis=0) + _CLEAR_MM
    after, beyond = np.roll(ways, -1, axis=0), np.roll(offsets, -1)
    cross = ways[:, 0] * after[:, 1] - ways[:, 1] * after[:, 0]
    return np.column_stack([(offsets * after[:, 1] - beyond * ways[:, 1]) / cross, (beyond * ways[:, 0] - offsets * after[:, 0]) / cross])
