"""Where a row goes on: along a line or an arc, round a place, or strewn; even in the frame or on the table.

Each function gives the places after the first, as (x, y, turned by degrees), for things like ``body``.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import FieldError
from ..solids.body import Body
from ..tolerances import WAY_TRIED
from .together import Place, Plane

FORMS: tuple[str, ...] = ("line", "arc", "circle", "strewn")
#: A piece of a strewn area is looked for so often before it is said to be too narrow.
_TRIES = 400

Spot = tuple[float, float, float]


@dataclass(frozen=True)
class Row:
    """count: of all, the first included. step: from the first to the second, mm on the table. angle: degrees as the plane shows it, 0 to
    the right, 90 up or away."""

    count: int
    step: float
    angle: float = 0.0


def _heading(plane: Plane, body: Body, row: Row) -> tuple[np.ndarray, np.ndarray, float]:
    """(where the first is, the unit way on, the length of one step), all in the plane."""
    p = body.placement
    start = plane.seen(np.array([[p.x, p.y, p.z]]))[0]
    a = np.radians(row.angle)
    way = np.array([np.cos(a), np.sin(a) if plane.view is None else -np.sin(a)])
    near = np.array(plane.on_table(start + WAY_TRIED * way, p.z)) - [p.x, p.y]
    return start, way, row.step * WAY_TRIED / float(np.hypot(*near))


def in_line(plane: Plane, body: Body, row: Row) -> list[Spot]:
    start, way, step = _heading(plane, body, row)
    return [(*plane.on_table(start + k * step * way, body.placement.z), 0.0) for k in range(1, row.count)]


def _gone_round(plane: Plane, arm: np.ndarray, angle: float) -> np.ndarray:
    """An arm turned counter-clockwise as the plane shows it; the frame's own y runs downward."""
    c, s = np.cos(angle), np.sin(angle) * (1.0 if plane.view is None else -1.0)
    return np.array([c * arm[0] - s * arm[1], s * arm[0] + c * arm[1]])


def in_arc(plane: Plane, body: Body, row: Row, radius: float) -> list[Spot]:
    """``radius``, mm: bending to the left of the way on; below 0 to the right."""
    start, way, step = _heading(plane, body, row)
    middle = start + radius * step / row.step * _gone_round(plane, way, np.pi / 2)
    spots = []
    for k in range(1, row.count):
        angle = k * row.step / radius
        place = middle + _gone_round(plane, start - middle, angle)
        spots.append((*plane.on_table(place, body.placement.z), float(np.degrees(angle))))
    return spots


def in_circle(plane: Plane, body: Body, count: int, around: Place) -> list[Spot]:
    """Evenly all the way round ``around``, at the first one's own distance from it. Raises FieldError where there is none."""
    p = body.placement
    start, middle = plane.seen(np.array([[p.x, p.y, p.z], [*around, p.z]]))
    arm = start - middle
    if float(np.hypot(*arm)) < WAY_TRIED:
        raise FieldError("around", "must be another place than where the thing is", show_got=False)
    angles = (2 * np.pi * k / count for k in range(1, count))
    return [(*plane.on_table(middle + _gone_round(plane, arm, a), p.z), float(np.degrees(a))) for a in angles]


def strewn(body: Body, count: int, apart: float, wide: float, deep: float, seed: int) -> list[Spot]:
    """By chance within ``wide`` by ``deep`` mm about the first, none nearer than ``apart`` to another, middle to middle. Raises FieldError
    where there is no room for so many."""
    p = body.placement
    rng = np.random.default_rng(seed)
    found = [(p.x, p.y, 0.0)]
    for _ in range(count - 1):
        for _ in range(_TRIES):
            x, y = p.x + (rng.random() - 0.5) * wide, p.y + (rng.random() - 0.5) * deep
            if all(np.hypot(x - a, y - b) >= apart for a, b, _ in found):
                found.append((float(x), float(y), float(rng.uniform(-180, 180))))
                break
        else:
            raise FieldError("count", f"must be at most {len(found)} so far apart in an area of that size", count)
    return found[1:]
