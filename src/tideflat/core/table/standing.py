"""Whether a thing stands as it is placed: what it meets, whether its weight is over that, and what it leans against.

Statics of a rigid body on hard ground: it stands when the upright line through its centre of mass passes inside the hull of where it is
borne (any text on mechanics). The centre of mass is that of an even solid. A thing that leans a little on its own foot, its weight still
over it, rocks back and is not said to fall: what keeps it so is a wedge that nobody draws.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
import shapely

from ..camera.hiding import lies_in
from ..model import Backdrop, Surface
from ..plane.hull import hull_of
from ..remember import remembered
from ..solids.body import Body
from ..solids.heights import meeting, meeting_table
from ..solids.pieces import level_outlines
from ..tolerances import CONTACT_MM, SUPPORT_MM, TIP_MM

#: A thing over another by this share of its footprint is carried by it, even if its middle is not over it [practice].
CARRIED_SHARE = 0.2
#: Heights at which it is asked whether a leaning thing lies against another.
_LEVELS = 12


def over_table(body: Body, surface: Surface) -> bool:
    """Whether its middle is over the table's top."""
    x, y = body.centroid[:2]
    return bool(0 <= x <= surface.width and 0 <= y <= surface.depth)


def fall_mm(body: Body, others: Iterable[Body], surface: Surface) -> float:
    """How far the thing would fall until something bears it: another thing, the floor of the dish it is in, the table, or the floor
    beside it."""
    ground = 0.0 if over_table(body, surface) else -surface.height_above_floor
    fall = body.z_min - ground
    if fall <= SUPPORT_MM:
        return max(0.0, fall)
    for other in others:
        if other is body or other.z_min > body.z_min + SUPPORT_MM:
            continue
        if other.shape.is_strewn:
            drop: float | None = body.z_min - other.z_max if other.z_max <= body.z_min + SUPPORT_MM else None
        else:
            met = meeting(body, other)
            drop = None if met is None else met.drop
        if drop is not None and drop < fall and (carries(other, body) or lies_in(body, other)):
            fall = drop
    return max(0.0, fall)


def carries(lower: Body, upper: Body) -> bool:
    """The middle of the upper thing is over the lower one, or a fifth of its footprint is."""
    if shapely.contains_xy(lower.footprint, *upper.centroid[:2]):
        return True
    return bool(shapely.intersection(lower.footprint, upper.footprint).area > CARRIED_SHARE * upper.footprint.area)


def overhang_mm(body: Body, others: tuple[Body, ...], surface: Surface, backdrop: Backdrop | None) -> float:
    """How far (mm, on the table) the thing's weight is outside what bears it: 0 when it stands, or lies against something."""
    if body.is_soft or body.shape.is_strewn or len(body.spheres):
        return 0.0
    if body.placement.lean == 0 and body.z_min <= SUPPORT_MM:
        return 0.0  # upright on the table it stands on its own base, whose middle is under its weight
    borne = [_foot(body)] if body.z_min <= SUPPORT_MM or body.placement.lean else []
    near = [o for o in others if o is not body and _near(body, o)]
    for other in near:
        if lies_in(body, other):
            return 0.0
        met = meeting(body, other)
        if met is not None and met.drop <= SUPPORT_MM:
            borne.append(met.places)
    if not borne:
        return 0.0  # it hangs in the air: said elsewhere
    hull = hull_of(np.concatenate(borne))
    outside = float(shapely.distance(hull, shapely.Point(*body.centroid[:2])))
    if outside <= TIP_MM or any(leans_on(body, o) for o in near) or _leans_on_backdrop(body, backdrop):
        return 0.0
    return outside


def _near(body: Body, other: Body) -> bool:
    a, b = body.footprint_bounds, other.footprint_bounds
    reach = SUPPORT_MM
    beside = a[0] > b[2] + reach or b[0] > a[2] + reach or a[1] > b[3] + reach or b[1] > a[3] + reach
    return not beside and not other.is_soft and other.z_min <= body.z_max and body.z_min <= other.z_max + SUPPORT_MM


@remembered(1)
def _foot(body: Body) -> np.ndarray:
    """(n, 2) where the thing stands on level ground: what of it is lowest, and its whole base while it stands on an edge of that."""
    touching = meeting_table(body).places
    points = np.concatenate(body.parts)
    own = (points - body.base) @ body.turned
    base = points[np.abs(own[:, 2]) <= CONTACT_MM]
    if len(base) and body.placement.lean and base[:, 2].min() <= body.z_min + CONTACT_MM:
        return np.concatenate([touching, base[:, :2]])
    low = points[points[:, 2] <= body.z_min + SUPPORT_MM][:, :2]
    return np.concatenate([touching, low])


@remembered(1)
def leans_on(body: Body, other: Body) -> bool:
    """Whether the two touch, or all but touch, at some height above the thing's lowest quarter: it lies against the other."""
    low, high = max(body.z_min + (body.z_max - body.z_min) / 4, other.z_min), min(body.z_max, other.z_max)
    if other.is_soft or other.shape.is_strewn or high < low:
        return False
    for z in np.linspace(low, high, _LEVELS):
        mine, theirs = level_outlines(body, float(z)), level_outlines(other, float(z))
        if mine and theirs:
            gap = min(shapely.distance(shapely.Polygon(a), shapely.Polygon(b)) for a in mine for b in theirs if min(len(a), len(b)) > 2)
            if gap <= SUPPORT_MM:
                return True
    return False


def _leans_on_backdrop(body: Body, backdrop: Backdrop | None) -> bool:
    if backdrop is None:
        return False
    points = np.concatenate(body.parts)
    reach = points[points[:, 2] > body.z_min + (body.z_max - body.z_min) / 4]
    return bool(len(reach) and abs(float(reach[:, 1].max()) - backdrop.y) <= SUPPORT_MM)
