"""Heights of posed solids over a place on the table: how low one reaches there, how high another does, and how far the one would fall on
it.

A body is asked along upright lines: balls by their formula, all else by its triangles (the upright case of Moller and Trumbore, in
barycentric coordinates). The inside of a dish is its wall, and its floor, which lies a little above its foot.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from ..remember import remembered
from ..shapes.solid import UNIT_CIRCLE
from ..tolerances import CONTACT_MM, ROUNDING, SAME_NUMBER, SUPPORT_MM
from .body import Body
from .mesh import surface_of

#: Places asked along each side of what two footprints share.
_STEPS = 17
#: The edge of what they share is asked so far inside it, mm, where the sides of a round thing are straight.
_OFF_EDGE_MM = 0.15


def heights_at(corners: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n, t) height of each triangle (t, 3, 3) over each place (n, 2); nan where it is not over it. Upright triangles are over nothing."""
    a, b, c = (corners[:, k] for k in range(3))
    det = (b[:, 1] - c[:, 1]) * (a[:, 0] - c[:, 0]) + (c[:, 0] - b[:, 0]) * (a[:, 1] - c[:, 1])
    flat = np.abs(det) > SAME_NUMBER
    safe = np.where(flat, det, 1.0)
    dx, dy = places[:, :1] - c[:, 0], places[:, 1:] - c[:, 1]
    u = ((b[:, 1] - c[:, 1]) * dx + (c[:, 0] - b[:, 0]) * dy) / safe
    v = ((c[:, 1] - a[:, 1]) * dx + (a[:, 0] - c[:, 0]) * dy) / safe
    over = flat & (u >= -ROUNDING) & (v >= -ROUNDING) & (u + v <= 1 + ROUNDING)
    return np.where(over, u * a[:, 2] + v * b[:, 2] + (1 - u - v) * c[:, 2], np.nan)


def _ball_heights(body: Body, places: np.ndarray, sign: float) -> np.ndarray:
    """(n, s) the upper (+1) or lower (-1) height of each ball over each place."""
    x, y, z, radius = (body.spheres[:, k] for k in range(4))
    left = radius**2 - (places[:, :1] - x) ** 2 - (places[:, 1:] - y) ** 2
    return np.where(left >= 0, z + sign * np.sqrt(np.maximum(left, 0.0)), np.nan)


def underside(body: Body, places: np.ndarray) -> np.ndarray:
    """(n,) the lowest height of the body over each place (n, 2); nan beside it."""
    found = _ball_heights(body, places, -1.0) if len(body.spheres) else heights_at(surface_of(body), places)
    return _least(found)


def topside(body: Body, places: np.ndarray, below: np.ndarray) -> np.ndarray:
    """(n,) the highest height of the body over each place that is not above ``below`` there, by more than what gives; nan where none is."""
    if len(body.spheres):
        found = _ball_heights(body, places, 1.0)
    elif body.local.opening is not None and body.placement.lean == 0 and body.shape.floor_mm is not None:
        found = _inside_of_a_dish(body, places)[:, None]
    else:
        found = heights_at(_inner_surface(body), places)
    return -_least(-np.where(found <= below[:, None] + SUPPORT_MM, found, np.nan))


def _least(heights: np.ndarray) -> np.ndarray:
    with_none = np.where(np.isnan(heights), np.inf, heights).min(axis=1, initial=np.inf)
    return np.where(np.isfinite(with_none), with_none, np.nan)


def _inside_of_a_dish(body: Body, places: np.ndarray) -> np.ndarray:
    """(n,) the height of wall or floor of a dish that stands upright; nan outside its rim."""
    opening, floor = body.local.opening, body.shape.floor_mm
    assert opening is not None and floor is not None
    low, high = (float(np.linalg.norm(c[1])) for c in (body.local.circles[0], body.local.circles[opening]))
    out = np.hypot(places[:, 0] - body.base[0], places[:, 1] - body.base[1])
    wall = body.local.height * (out - low) / (high - low) if high > low else np.zeros(len(places))
    return np.where(out <= high, body.base[2] + np.maximum(wall, floor), np.nan)


def _inner_surface(body: Body) -> np.ndarray:
    """The triangles of a body; of a dish its wall from the floor to the rim, in as many sides as a circle has, and the floor."""
    floor = body.shape.floor_mm
    if floor is None or body.local.opening is None:
        return surface_of(body)
    low, high = (float(np.linalg.norm(c[1])) for c in (body.local.circles[0], body.local.circles[body.local.opening]))
    radius = low + (high - low) * floor / body.local.height
    lower, upper = (
        np.column_stack([UNIT_CIRCLE * r, np.full(len(UNIT_CIRCLE), z)]) for r, z in ((radius, floor), (high, body.local.height))
    )
    after, above = np.roll(lower, -1, axis=0), np.roll(upper, -1, axis=0)
    middle = np.broadcast_to([0.0, 0.0, floor], lower.shape)
    faces = [(middle, lower, after), (lower, after, above), (lower, above, upper)]
    return body.placed_point(np.concatenate([np.stack(face, axis=1) for face in faces]))


@dataclass(frozen=True, slots=True)
class Meeting:
    """How the upper of two bodies would come down on the lower: ``drop`` mm until they touch (negative: so deep in it), ``first`` (x, y)
    where they then do, and ``places`` (n, 2) where they do to what gives."""

    drop: float
    first: tuple[float, float]
    places: np.ndarray


@remembered(1)
def meeting(upper: Body, lower: Body) -> Meeting | None:
    """None where the upper is not over the lower."""
    return coming_down(upper, lower)


def coming_down(upper: Body, lower: Body) -> Meeting | None:
    """The same, for a body that is tried once."""
    shared = shapely.intersection(upper.footprint, lower.footprint)
    if shared.is_empty or shared.area <= CONTACT_MM**2:
        return None
    places = _places_in(shared, upper, lower)
    low = underside(upper, places)
    high = topside(lower, places, low)
    gap = low - high
    known = np.isfinite(gap)
    if not known.any():
        return None
    first = int(np.argmin(np.where(known, gap, np.inf)))
    drop = float(gap[first])
    return Meeting(drop, (float(places[first, 0]), float(places[first, 1])), places[known & (gap <= drop + SUPPORT_MM)])


def meeting_table(upper: Body, height_mm: float = 0.0) -> Meeting:
    """The same with a level table at ``height_mm`` that goes on for ever."""
    places = _places_in(upper.footprint, upper, upper)
    low = underside(upper, places)
    known = np.isfinite(low)
    first = places[int(np.argmin(np.where(known, low, np.inf)))]
    return Meeting(upper.z_min - height_mm, (float(first[0]), float(first[1])), places[known & (low <= upper.z_min + SUPPORT_MM)])


def _places_in(region: shapely.Geometry, upper: Body, lower: Body) -> np.ndarray:
    """A grid over the region, a little off its edge, and the corners of both bodies that lie in it."""
    x0, y0, x1, y1 = region.bounds
    steps = (np.arange(_STEPS) + 0.5) / _STEPS
    grid = np.stack(np.meshgrid(x0 + steps * (x1 - x0), y0 + steps * (y1 - y0), indexing="ij"), axis=-1).reshape(-1, 2)
    edge = shapely.get_coordinates(shapely.segmentize(shapely.buffer(region, -_OFF_EDGE_MM), max(x1 - x0, y1 - y0) / _STEPS))
    corners = [body.spheres[:, :2] if len(body.spheres) else np.concatenate(body.parts)[:, :2] for body in (upper, lower)]
    places = np.concatenate([grid, edge, *corners])
    shapely.prepare(region)
    return places[shapely.intersects_xy(region, places[:, 0], places[:, 1])]
