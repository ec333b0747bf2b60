"""Where a thing comes to rest: on the table, on another thing, in a dish, or across two of them.

The rule for whatever is let go over something: it comes down until it touches; where its weight is over what it touches then, it lies so.
Otherwise it tips that way, about what bears it, until something else bears it too: the table, or another thing. A spoon let go over a
plate's rim lies across rim and table. Nothing comes to rest on what is strewn, and nothing rests whose weight is over neither.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..camera.hiding import lies_in
from ..model import Placement, Scene
from ..plane.hull import hull_of
from ..shapes.shape import Shape
from ..solids.body import Body, pose
from ..solids.heights import Meeting, coming_down, meeting_table
from ..tolerances import CONTACT_MM, TIP_MM
from .carrying import wrapped
from .standing import carries

#: No thing is tipped further than this, degrees, to come to rest; and the tip is found to so much.
_MOST_TIP_DEG, _TIP_FOUND_DEG = 50.0, 0.02
#: A thing is flat up to this height over its longer side, and lies tipped by no more than this; a carrier is broad up to this height over
#: its
#: shorter side, and carries what is over it by half; any other what is over it by all of its foot but an edge [practice].
_FLAT, _MOST_LEAN_DEG, _BROAD, _HALF, _WHOLE = 0.35, 25.0, 0.5, 0.45, 0.9
#: A board that a cloth is laid over is no higher than this share of its shorter side [practice].
_LOW = 0.2
#: Steps in which the first angle is looked for at which something else bears a thing too.
_TIP_STEPS = 20


def resting_height(scene: Scene, placement: Placement, below: Placement) -> float:
    """Height (mm) of the foot of ``placement`` when it lies on ``below``: on its top, or on the floor of a dish that it fits into."""
    dish = pose(below, scene.prop(below.prop).shape)
    floor = dish.shape.floor_mm
    if floor is not None:
        inside = pose(replace(placement, z=below.z + floor), scene.prop(placement.prop).shape)
        if lies_in(inside, dish):
            return round(below.z + floor, 1)
    return round(dish.z_max, 1)


@dataclass(frozen=True, slots=True)
class Resting:
    """on: the thing that bears it first, None for the table. z, lean, lean_toward: as a placement has them. share: how much of its
    footprint is over what bears it, 0..1. also: what else bears it, where it had to tip; None for the table."""

    on: str | None
    z: float
    lean: float
    lean_toward: float
    share: float
    also: str | None = None


def come_to_rest(placement: Placement, shape: Shape, others: Mapping[str, Body]) -> Resting | None:
    """How the thing lies when it is let go where it is, over ``others`` (by id; not itself, nor what it carries) and the table, which
    goes on beneath it all. None where it would slide or fall whichever way it tips."""
    down = _come_down(placement, shape, others)
    if down is None or down.rest is not None:
        return None if down is None else down.rest
    if len(down.start.spheres):
        return None  # it rolls
    near = shapely.get_coordinates(shapely.shortest_line(down.hull, shapely.Point(*down.start.centroid[:2])))
    toward = wrapped(float(np.degrees(np.arctan2(*(near[1] - near[0])[::-1]))))
    return _tipped(replace(placement, lean=0.0), shape, down.bearers, down.first, down.start.placement.z, toward)


def at_rest(placement: Placement, shape: Shape, others: Mapping[str, Body]) -> Resting | None:
    """The same, level where it comes down; None where it would tip, slide or roll from there."""
    down = _come_down(placement, shape, others)
    return None if down is None else down.rest


@dataclass(frozen=True, eq=False)
class _Down:
    """start: the thing high over all. first: what it meets first, hull: where it touches then. rest: how it lies, if its weight is borne."""

    start: Body
    bearers: dict[str, Body]
    first: str
    hull: BaseGeometry
    rest: Resting | None


def _come_down(placement: Placement, shape: Shape, others: Mapping[str, Body]) -> _Down | None:
    """None where what it meets first bears nothing."""
    bearers = {i: b for i, b in others.items() if not b.shape.is_strewn}
    high = max([b.z_max for b in bearers.values()], default=0.0) + 1.0
    start = pose(replace(placement, lean=0.0, z=high), shape)
    met = _meetings(start, bearers)
    first = min(met, key=lambda i: met[i].drop)
    drop = met[first].drop
    if first and not _can_bear(bearers[first].shape):
        return None
    hull = hull_of(np.concatenate([m.places for m in met.values() if m.drop <= drop + CONTACT_MM]))
    is_borne = shapely.distance(hull, shapely.Point(*start.centroid[:2])) <= TIP_MM
    lies = Resting(first or None, round(high - drop, 1), 0.0, placement.lean_toward, _share(start, bearers.get(first)))
    return _Down(start, bearers, first, hull, lies if is_borne else None)


def _can_bear(shape: Shape) -> bool:
    """A ball bears nothing; what has a level top, or a floor, may."""
    return shape.top() is not None or shape.floor_mm is not None


def _meetings(body: Body, bearers: Mapping[str, Body]) -> dict[str, Meeting]:
    """What the body would come down on, by id, the table under the empty one."""
    found = {i: m for i, b in bearers.items() if (m := coming_down(body, b)) is not None and len(m.places)}
    return {**found, "": meeting_table(body)}


def _tipped(flat: Placement, shape: Shape, bearers: Mapping[str, Body], first: str, high: float, toward: float) -> Resting | None:
    """Tipped toward its weight, about what bears it, until it is borne ahead of its weight too: by the table, another thing, or the same."""
    way = np.array([np.cos(np.radians(toward)), np.sin(np.radians(toward))])

    def borne(angle: float) -> tuple[Body, str, Meeting, float]:
        """(the body so tipped, what it meets first, how, and how far ahead of its weight that is)."""
        body = pose(replace(flat, z=high, lean=angle, lean_toward=toward), shape)
        met = _meetings(body, bearers)
        lowest = min(met, key=lambda i: met[i].drop)
        return body, lowest, met[lowest], float((np.array(met[lowest].first) - body.centroid[:2]) @ way)

    low, top = 0.0, None
    for angle in np.linspace(0.0, _MOST_TIP_DEG, _TIP_STEPS + 1)[1:]:
        if borne(float(angle))[3] > 0:
            top = float(angle)
            break
        low = float(angle)
    if top is None:
        return None
    while top - low > _TIP_FOUND_DEG:
        middle = (low + top) / 2
        low, top = (low, middle) if borne(middle)[3] > 0 else (middle, top)
    body, behind, met, _ = borne(low)
    ahead = borne(top)
    hull = hull_of(np.concatenate([met.places, ahead[2].places]))
    if low == 0.0 or shapely.distance(hull, shapely.Point(*body.centroid[:2])) > TIP_MM:
        return None
    z = round(max(0.0, high - met.drop), 1)
    return Resting(behind or None, z, round(low, 2), toward, _share(body, bearers.get(first)), ahead[1] or None)


def may_lie_on(upper: Body, lower: Body, rest: Resting) -> bool:
    """Whether anybody would lay the one on the other so [practice]: what is flat lies on anything level or tips over a rim; what stands
    upright stands on what is broad and low, or under the whole of its foot."""
    if lower.shape.is_strewn or upper.shape.is_laid or upper.shape.is_strewn:
        return False
    wide, deep, high = upper.shape.sides()
    is_flat = high <= _FLAT * max(wide, deep)
    wide, deep, high = lower.shape.sides()
    is_broad = lower.shape.floor_mm is not None or lower.shape.is_laid or high <= _BROAD * min(wide, deep)
    if len(upper.spheres):
        return lower.shape.floor_mm is not None or is_broad  # it would roll off anything smaller
    if rest.lean:
        return is_flat and is_broad and rest.lean <= _MOST_LEAN_DEG
    return rest.share >= (_HALF if is_broad else _WHOLE)


def laid_over(cloth: Body, others: Mapping[str, Body], risers: Collection[str]) -> str | None:
    """What a cloth that is let go comes to lie over: the highest riser that has its middle under it, or low board that carries it
    [practice]. All else stands in the cloth, and so does a board that stands on it whole. None: the table."""
    found = [i for i, b in others.items() if _is_for_cloths(b) and _lies_over(cloth, b, is_riser=i in risers)]
    return max(found, key=lambda i: others[i].z_max, default=None)


def _is_for_cloths(body: Body) -> bool:
    shape = body.shape
    is_closed = shape.top() is not None and shape.floor_mm is None
    return is_closed and not shape.is_laid and not shape.is_strewn and body.placement.lean == 0


def _lies_over(cloth: Body, below: Body, *, is_riser: bool) -> bool:
    if below.placement.on == cloth.id:
        return False
    if is_riser:
        return bool(shapely.contains_xy(cloth.footprint, *below.centroid[:2]) or carries(below, cloth))
    wide, deep, high = below.shape.sides()
    shared = shapely.intersection(cloth.footprint, below.footprint).area
    stands_on_it = shared > _WHOLE * below.footprint.area and cloth.placement.on != below.id
    return high <= _LOW * min(wide, deep) and not stands_on_it and carries(below, cloth)


def _share(upper: Body, lower: Body | None) -> float:
    if lower is None or upper.footprint.area <= 0:
        return 1.0
    return float(min(1.0, shapely.intersection(upper.footprint, lower.footprint).area / upper.footprint.area))
