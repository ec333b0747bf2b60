"""Several things put in order at once: on one line, gaps shared out, squared, mirrored; as the lens sees them, or on the table.

A plane of order is either the frame (heights of the frame, x to the right, y down) or the table (mm). Things are brought into it by their
silhouettes, ordered there, and taken back to the table at the height of their own feet.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..camera.view import View
from ..errors import FieldError
from ..solids.body import Body
from ..tolerances import UPRIGHT

#: Where order is made: in the frame, as the lens sees, or on the table.
THROUGH: tuple[str, ...] = ("frame", "table")
#: A row within so many degrees of level or of upright is meant to be that [practice].
_MEANT_DEG = 15.0
#: What is shared out grows and shrinks as it moves nearer and further: so often it is shared out anew.
_ROUNDS = 4
#: A camera that looks down more steeply, degrees, has things face the foot of its picture, not its lens.
_STEEP_DEG = 80.0

Place = tuple[float, float]


@dataclass(frozen=True)
class Plane:
    """Where order is made. ``view``: the lens that it is seen through; None for the table itself."""

    view: View | None

    def seen(self, points: np.ndarray) -> np.ndarray:
        """(n, 3) mm to (n, 2) in the plane. Raises FieldError for what is not in front of the lens."""
        if self.view is None:
            return np.asarray(points, dtype=float)[:, :2]
        places = self.view.project(np.asarray(points, dtype=float))
        if not self.view.is_in_front(places[:, 2]):
            raise FieldError("placements", "must all be in front of the lens; order them on the table instead", show_got=False)
        return np.column_stack([places[:, 0] * self.view.aspect, places[:, 1]])

    def on_table(self, place: np.ndarray, z_mm: float) -> Place:
        """Back to (x, y), mm, at a height. Raises FieldError where the lens never sees that plane."""
        if self.view is None:
            return float(place[0]), float(place[1])
        met = self.view.on_plane(float(place[0]) / self.view.aspect, float(place[1]), z_mm)
        if met is None:
            raise FieldError("placements", "must have room in the frame for that; order them on the table instead", show_got=False)
        return met

    def level_deg(self, x: float, y: float, z: float) -> float:
        """Direction on the table, degrees from +x, that is level and to the right in the plane, at a place."""
        if self.view is None:
            return 0.0
        here, along, away = self.seen(np.array([[x, y, z], [x + 1, y, z], [x, y + 1, z]]))
        dx, dy = along - here, away - here
        way = np.array([dy[1], -dx[1]])  # of all (a, b), the one whose a dx + b dy has no height
        if way[0] * dx[0] + way[1] * dy[0] < 0:
            way = -way
        return float(np.degrees(np.arctan2(way[1], way[0])))


def _foot(body: Body) -> np.ndarray:
    p = body.placement
    return np.array([[p.x, p.y, p.z]])


def _places(plane: Plane, bodies: Sequence[Body]) -> np.ndarray:
    return np.concatenate([plane.seen(_foot(b)) for b in bodies])


def direction_of(places: np.ndarray) -> np.ndarray:
    """(2,) unit vector along which places lie: of their greatest spread; level or upright where it nearly is.

    >>> direction_of(np.array([[0.0, 0.0], [10.0, 0.4], [20.0, 0.0]])).tolist()
    [1.0, 0.0]
    """
    spread = places - places.mean(axis=0)
    way = np.linalg.svd(spread, full_matrices=False)[2][0] if len(places) > 1 and np.abs(spread).max() > 0 else np.array([1.0, 0.0])
    if abs(way[0]) >= np.cos(np.radians(_MEANT_DEG)):
        return np.array([1.0, 0.0])
    if abs(way[1]) >= np.cos(np.radians(_MEANT_DEG)):
        return np.array([0.0, 1.0])
    return way if way[0] > 0 else -way


def on_one_line(plane: Plane, bodies: Sequence[Body]) -> dict[str, Place]:
    """Their feet on the straight line that lies nearest to them all."""
    _at_least(bodies, 2)
    places = _places(plane, bodies)
    middle, way = places.mean(axis=0), direction_of(places)
    goals = middle + ((places - middle) @ way)[:, None] * way
    return {b.id: plane.on_table(goal, b.placement.z) for b, goal in zip(bodies, goals, strict=True)}


def shared_out(plane: Plane, bodies: Sequence[Body], *, middles: bool) -> dict[str, Place]:
    """The first and the last stay; the others are moved along the row until the gaps between outlines, or the steps between middles, are
    alike. What overlaps keeps overlapping by one and the same measure."""
    _at_least(bodies, 3)
    places = _places(plane, bodies)
    way = direction_of(places)
    order = np.argsort(places @ way, kind="stable")
    row = [bodies[k] for k in order]
    feet = places[order]
    corners = [np.concatenate(b.parts) if len(b.parts) else _round_corners(b) for b in row]
    shift = np.zeros((len(row), 3))
    for _ in range(_ROUNDS):
        spans = np.array([_span(plane.seen(c + s), way) for c, s in zip(corners, shift, strict=True)])
        goals = _even_middles(spans) if middles else _even_gaps(spans)
        by = goals - spans.mean(axis=1)
        feet = feet + by[:, None] * way
        for k in range(1, len(row) - 1):
            x, y = plane.on_table(feet[k], row[k].placement.z)
            shift[k] = [x - row[k].placement.x, y - row[k].placement.y, 0.0]
    return {b.id: (b.placement.x + float(s[0]), b.placement.y + float(s[1])) for b, s in zip(row, shift, strict=True)}


def _round_corners(body: Body) -> np.ndarray:
    """Places round balls, near enough to say how far they reach."""
    ways = np.array([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]], dtype=float)
    balls = body.spheres
    return (balls[:, None, :3] + balls[:, None, 3:] * ways).reshape(-1, 3)  # type: ignore[no-any-return]


def _span(places: np.ndarray, way: np.ndarray) -> Place:
    along = places @ way
    return float(along.min()), float(along.max())


def _even_gaps(spans: np.ndarray) -> np.ndarray:
    widths = spans[:, 1] - spans[:, 0]
    gap = (spans[-1, 0] - spans[0, 1] - widths[1:-1].sum()) / (len(spans) - 1)
    starts = spans[0, 0] + np.concatenate([[0.0], np.cumsum(widths[:-1] + gap)])
    return starts + widths / 2  # type: ignore[no-any-return]


def _even_middles(spans: np.ndarray) -> np.ndarray:
    middles = spans.mean(axis=1)
    return np.linspace(middles[0], middles[-1], len(spans))


def mirrored(plane: Plane, bodies: Sequence[Body]) -> tuple[dict[str, Place], dict[str, float]]:
    """Left for right about their middle: (places, turns). What has a front keeps it toward the lens; what is long points the other way."""
    _at_least(bodies, 2)
    places = _places(plane, bodies)
    middle = (places[:, 0].min() + places[:, 0].max()) / 2
    where, turns = {}, {}
    for body, place in zip(bodies, places, strict=True):
        p = body.placement
        where[p.id] = plane.on_table(np.array([2 * middle - place[0], place[1]]), p.z)
        level = plane.level_deg(p.x, p.y, p.z)
        turns[p.id] = 2 * level - p.turn + (180.0 if is_long(body) else 0.0)
    return where, turns


def is_long(body: Body) -> bool:
    """Whether it points: a rod, or what is three times as long as wide, flat on the table."""
    wide, deep, _ = body.shape.sides()
    return body.shape.kind == "rod" or wide >= 3 * deep


def squared(plane: Plane, body: Body) -> float:
    """The turn nearest to its own at which its sides are level and upright."""
    p = body.placement
    level = plane.level_deg(p.x, p.y, p.z)
    return level + 90.0 * round((p.turn - level) / 90.0)


def facing(view: View, body: Body) -> float:
    """The turn at which its front looks at the lens; straight from above, at the foot of the picture."""
    p = body.placement
    down = float(np.degrees(np.arcsin(np.clip(-view.forward[2], -1.0, 1.0))))
    to_lens = view.position[:2] - [p.x, p.y]
    if down >= _STEEP_DEG or float(np.hypot(*to_lens)) < UPRIGHT:
        return Plane(view).level_deg(p.x, p.y, p.z)
    return float(np.degrees(np.arctan2(to_lens[1], to_lens[0]))) + 90.0


def toward(body: Body, x: float, y: float) -> float:
    """The turn at which it points at a place on the table: with its front; where it is long, with the end that needs the lesser turn."""
    p = body.placement
    way = float(np.degrees(np.arctan2(y - p.y, x - p.x)))
    if not is_long(body):
        return way + 90.0
    return way if abs((way - p.turn + 180) % 360 - 180) <= 90 else way + 180.0


def middle_of(bodies: Sequence[Body]) -> Place:
    """The mean of where they stand, mm: what several are turned about."""
    return float(np.mean([b.placement.x for b in bodies])), float(np.mean([b.placement.y for b in bodies]))


def _at_least(bodies: Sequence[Body], count: int) -> None:
    if len(bodies) < count:
        raise FieldError("placements", f"must be {'two' if count == 2 else 'three'} things or more", len(bodies))
