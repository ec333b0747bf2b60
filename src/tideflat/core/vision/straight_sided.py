"""An upright thing with straight sides, whatever its outline, fitted to the edges that are seen of its top and of its foot at once: each
side moves by its own edges, and where two sides lead to is their corner.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from ..tolerances import ROUNDING
from .along_ring import counter_clockwise, lies_within, places_along
from .edge_support import EdgePicture
from .pointed import lines_of
from .pose import Pose
from .prism_edges import EVERY_MM, PrismLook, SideSeen, look_at, ring_of, seen_share, sides_seen
from .sharpened import largest_of
from .solid_edges import SEEN

#: An outline is taken for straight between places that lie no further off it, mm.
_ROUGHLY_MM = 1.3
#: A side is no shorter than this, mm, and there are so many at the most; short is one under so many mm.
_SHORTEST_MM, _MOST_SIDES, _SHORT_MM = 7.0, 24, 16.0
#: Two that turn by less, degrees, are one; and by less than the second, where one is short. A short one that turns the same way at both its
#: ends cuts a corner off, if that lies so near, mm.
_LEAST_TURN, _NEAR_CORNER_MM = (12.0, 25.0), 5.0
#: Nor are long ones one, however little they turn, that meet so far off the line from end to end, mm: a knife's back.
_BEND_MM = 1.5
#: A corner lies no further than this from the outline that it was found in, mm.
_OUT_MM = 9.0
#: Of each side what lies so near to its corners is not asked, mm.
_NEAR_MM = 1.2
#: At first each side is tried so far in and out, mm, in such steps; or as far as its two edges are apart and a little, to the most, mm.
#: What is seen within so much of it counts; nearer is better by so much a mm.
_REACH_MM, _STEP_MM, _OFF_MM, _MOST_MM = 3.6, 0.6, 1.3, 7.2
_SHIFT_MM, _NEARER = 0.5, 0.03
#: One of which no more than this is seen so is tried turned too, by these slopes, and taken so where that much more is seen.
_HARDLY, _TILTS, _PLAINER = 0.55, (-0.15, -0.1, -0.05, 0.05, 0.1, 0.15), 0.2
#: Steps are looked for so far off, mm, one round after the other; what lies further off than this counts little, mm.
_WINDOWS_MM, _SCALE_MM = (1.2, 1.2, 1.0), 0.5
#: How far a side is held where it was; rounds of weighing.
_HELD, _WEIGHED = 0.5, 4
#: So much of its edges is seen, and so much more than of the outline that it was begun with; and so much of each side, by that of its two
#: edges that is seen best: a bent side taken for a straight one is seen here and there.
_PLAINLY, _MORE, _EACH_PLAINLY = 0.75, 0.01, 0.75
#: But for one of so many, which a shadow may hide; it lies where it was begun, but for this, mm.
_ONE_OF, _STAYS_MM = 8, 2.0
#: Of each side so much is seen, of both its edges: the thing goes on nowhere, and nothing hangs on it but its shadow.
_WHOLE = 0.9
#: A corner of which less is seen, so far along both its sides, mm, is a round one.
_CORNER_SEEN, _CORNER_MM = 0.5, 4.0


@dataclass(frozen=True, eq=False, slots=True)
class _Line:
    """Through middle (2,) along way (2,), unit; count: of the places that tell it."""

    middle: np.ndarray
    way: np.ndarray
    count: int


@dataclass(frozen=True, eq=False, slots=True)
class StraightSided:
    """foot: what it stands on, mm; is_whole: each of its sides is seen all along, so that there is no more of it."""

    foot: shapely.Polygon
    is_whole: bool


def straight_sided(foot: shapely.Polygon, picture: EdgePicture, pose: Pose, height_mm: float) -> StraightSided | None:
    """What stands on about that outline, as a thing with straight sides; None where that is not plainly seen, or not more plainly than the
    outline as it is."""
    corners = _corners_of(foot)
    if corners is None:
        return None
    look = look_at(picture, pose, height_mm)
    moved = _put(corners, look)
    for window in _WINDOWS_MM:
        moved = None if moved is None else _moved(moved, look, window)
    if moved is None or not shapely.Polygon(moved).is_valid:
        return None
    every = sides_seen(shapely.Polygon(moved), _sides(moved), look, _WINDOWS_MM[-1])
    hardly = [side for side, one in enumerate(every) if one.plainest < _EACH_PLAINLY]
    if len(hardly) > len(every) // _ONE_OF:
        return None
    if led_away := [side for side in hardly if _is_elsewhere(moved, side, foot)]:
        moved = _put_back(moved, corners, led_away)
        if moved is None or not shapely.Polygon(moved).is_valid:
            return None
        every = sides_seen(shapely.Polygon(moved), _sides(moved), look, _WINDOWS_MM[-1])
    polygon = shapely.Polygon(moved)
    if not lies_within(polygon, foot, _OUT_MM):
        return None
    ring = sides_seen(foot, [ring_of(foot)], look, _WINDOWS_MM[-1])
    if seen_share(every) < max(_PLAINLY, seen_share(ring) + _MORE):
        return None
    return StraightSided(_but_round_corners(polygon, foot, every), min(one.seen for one in every) >= _WHOLE)


def _is_elsewhere(corners: np.ndarray, side: int, foot: shapely.Polygon) -> bool:
    """Whether the middle of a side does not lie where the outline was begun."""
    middle = (corners[side] + corners[(side + 1) % len(corners)]) / 2
    return float(shapely.Point(middle).distance(foot.exterior)) > _STAYS_MM


def _put_back(corners: np.ndarray, begun: np.ndarray, sides: Sequence[int]) -> np.ndarray | None:
    """The corners, some sides lying as they were begun."""
    ends = [(begun if n in sides else corners)[[n, (n + 1) % len(corners)]] for n in range(len(corners))]
    ways = [(last - first) / max(float(np.linalg.norm(last - first)), ROUNDING) for first, last in ends]
    return _corners_where([_Line(pair.mean(axis=0), way, len(pair)) for pair, way in zip(ends, ways, strict=True)], begun)


def _but_round_corners(polygon: shapely.Polygon, foot: shapely.Polygon, sides: Sequence[SideSeen]) -> shapely.Polygon:
    """Without the corners that are not seen from either side: they stay as they were. sides: each from its corner to the next."""
    ends = round(_CORNER_MM / EVERY_MM)
    tips = shapely.get_coordinates(polygon.exterior)[:-1]
    for n, tip in enumerate(tips):
        if max(sides[n - 1].there[-ends:].max(axis=1).mean(), sides[n].there[:ends].max(axis=1).mean()) < _CORNER_SEEN:
            polygon = largest_of(polygon.difference(shapely.Point(tip).buffer(2 * _CORNER_MM).difference(foot)))
    return polygon


def _corners_of(outline: shapely.Polygon) -> np.ndarray | None:
    """(n, 2), counter-clockwise: where the straight sides of an outline lead to. What is short between two of them is a corner cut off."""
    ring = counter_clockwise(outline)
    count = int(outline.exterior.length / EVERY_MM)
    if count < 12:
        return None
    places = places_along(ring, np.linspace(0, 1, count, endpoint=False))
    start = int(np.argmax(np.linalg.norm(places - places.mean(axis=0), axis=1)))
    places = np.roll(places, -start, axis=0)
    bent = shapely.get_coordinates(shapely.simplify(shapely.LineString(np.vstack([places, places[:1]])), _ROUGHLY_MM))
    at = [int(np.argmin(np.linalg.norm(places - corner, axis=1))) for corner in bent[:-1]] + [count]
    lines = []
    for a, b in zip(at[:-1], at[1:], strict=True):
        if (b - a) * EVERY_MM < _SHORTEST_MM:
            continue
        inner = places[np.arange(a, b + 1) % count]
        cut = min(round(2.0 / EVERY_MM), len(inner) // 4)
        (middle,), (way,), _ = lines_of(inner[cut : len(inner) - cut][None])
        lines.append(_Line(middle, way, len(inner)))
    lines = _but_bends(lines)
    if not 3 <= len(lines) <= _MOST_SIDES:
        return None
    corners = np.array([_meet(lines[n - 1], lines[n]) for n in range(len(lines))])
    far = shapely.distance(shapely.points(corners), outline.exterior)
    return corners if np.isfinite(corners).all() and float(far.max()) <= _OUT_MM else None


def _but_bends(lines: list[_Line]) -> list[_Line]:
    """Of two that follow each other and hardly turn, the longer; and without what cuts a corner off, if that is near."""
    kept = list(lines)
    n = 0
    while len(kept) > 3 and n < len(kept):
        before, one, after = kept[n - 1], kept[n], kept[(n + 1) % len(kept)]
        first, last = _turn(before.way, one.way), _turn(one.way, after.way)
        is_short = [line.count * EVERY_MM < _SHORT_MM for line in (before, one)]
        is_one = abs(first) < _LEAST_TURN[0] and _bend_mm(before, one, first) < _BEND_MM
        if is_one or (any(is_short) and abs(first) < _LEAST_TURN[1]):
            del kept[n if one.count <= before.count else n - 1]
            n = 0
        elif is_short[1] and first * last > 0 and float(np.linalg.norm(_meet(before, after) - one.middle)) < _NEAR_CORNER_MM:
            del kept[n]
            n = 0
        else:
            n += 1
    return kept


def _bend_mm(one: _Line, other: _Line, turn: float) -> float:
    """How far off the line from end to end of both they meet, mm."""
    return float(EVERY_MM * one.count * other.count / (one.count + other.count) * abs(np.sin(np.radians(turn))))


def _turn(way: np.ndarray, other: np.ndarray) -> float:
    return float(np.degrees(np.arctan2(way[0] * other[1] - way[1] * other[0], way @ other)))


def _meet(one: _Line, other: _Line) -> np.ndarray:
    cross = one.way[0] * other.way[1] - one.way[1] * other.way[0]
    if abs(cross) < ROUNDING:
        return np.full(2, np.inf)
    apart = other.middle - one.middle
    return np.asarray(one.middle + one.way * (apart[0] * other.way[1] - apart[1] * other.way[0]) / cross)


def _sides(corners: np.ndarray) -> list[tuple[np.ndarray, np.ndarray]]:
    """(places, outward) of each, from one corner to the next."""
    sides = []
    for begin, end in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        length = float(np.linalg.norm(end - begin))
        way = (end - begin) / max(length, ROUNDING)
        near = min(_NEAR_MM, length / 4)
        along = np.linspace(near, length - near, max(4, int((length - 2 * near) / EVERY_MM)))
        sides.append((begin + along[:, None] * way, np.tile([way[1], -way[0]], (len(along), 1))))
    return sides


def _put(corners: np.ndarray, look: PrismLook) -> np.ndarray | None:
    """Each side where most of its edges are seen, of what is near: one that faces the lens has two, and might be begun at either."""
    sides = _sides(corners)
    score, shift = _shifted(sides, corners, look)
    for n in np.flatnonzero(score < _HARDLY):  # what little of it was straight may have led elsewhere
        places, out = sides[n]
        middle, way = places.mean(axis=0), np.array([-out[0, 1], out[0, 0]])
        along = (places - middle) @ way
        tried = [(middle + along[:, None] * (way + tilt * out[0]), np.tile(out[0] - tilt * way, (len(along), 1))) for tilt in _TILTS]
        scores, shifts = _shifted([(at, ways / np.linalg.norm(ways[0])) for at, ways in tried], corners, look)
        best = int(scores.argmax())
        if scores[best] > score[n] + _PLAINER:
            sides[n], shift[n] = tried[best], shifts[best]
    lines = [_line(places + by * out, out[0] / np.linalg.norm(out[0])) for (places, out), by in zip(sides, shift, strict=True)]
    return _corners_where(lines, corners)


def _shifted(sides: list[tuple[np.ndarray, np.ndarray]], corners: np.ndarray, look: PrismLook) -> tuple[np.ndarray, np.ndarray]:
    """(how much is seen of each side where that is most, how far out that is, mm)."""
    apart = [float(np.abs(((look.k - 1) * (places - look.eye) * outward).sum(axis=1)).mean()) for places, outward in sides]
    reach = np.clip(np.array(apart) + _OFF_MM, _REACH_MM, _MOST_MM)
    steps = int(np.ceil(reach.max() / _STEP_MM - ROUNDING))
    shifts = _STEP_MM * np.arange(-steps, steps + 1)
    every = sides_seen(shapely.Polygon(corners), sides, look, _SHIFT_MM, shifts.tolist(), reach.tolist())
    score = np.array([one.plain_share for one in every]).reshape(len(shifts), len(sides)) - _NEARER * np.abs(shifts)[:, None]
    score[np.abs(shifts)[:, None] > reach + ROUNDING] = -1.0
    return score.max(axis=0), shifts[score.argmax(axis=0)]


def _moved(corners: np.ndarray, look: PrismLook, window_mm: float) -> np.ndarray | None:
    lines = []
    sides = _sides(corners)
    for (places, outward), looked in zip(sides, sides_seen(shapely.Polygon(corners), sides, look, window_mm), strict=True):
        way, middle = np.array([-outward[0, 1], outward[0, 0]]), places.mean(axis=0)
        along = (places - middle) @ way
        reach = max(float(np.abs(along).max()), ROUNDING)
        shift, tilt = _line_of(along / reach, looked.offset, np.where(looked.plain > SEEN, looked.plain, 0.0))
        out = outward[0] - way * tilt / reach
        lines.append(_line(places + shift * outward, out / np.linalg.norm(out)))
    return _corners_where(lines, corners)


def _line(places: np.ndarray, out: np.ndarray) -> _Line:
    return _Line(places.mean(axis=0), np.array([-out[1], out[0]]), len(places))


def _corners_where(lines: list[_Line], near: np.ndarray) -> np.ndarray | None:
    """(n, 2) where each line meets the next; None where that is far from the outline that they had. Lines that hardly turn meet further
    along it for a little aside."""
    moved = np.array([_meet(lines[n - 1], lines[n]) for n in range(len(lines))])
    if not np.isfinite(moved).all():
        return None
    return moved if float(shapely.distance(shapely.points(moved), shapely.LinearRing(near)).max()) <= _OUT_MM else None


def _line_of(along: np.ndarray, offset: np.ndarray, plain: np.ndarray) -> tuple[float, float]:
    """(mm outward at its middle, and more at its end) of the line through the steps. along (n,): -1 to 1; offset, plain (n, 2)."""
    rows = np.column_stack([np.ones(len(along)), along])
    numbers: np.ndarray = np.zeros(2)
    for _ in range(_WEIGHED):
        off = offset - (rows @ numbers)[:, None]
        weight = plain / (1 + (off / _SCALE_MM) ** 2)
        squares = rows.T @ (rows * weight.sum(axis=1)[:, None]) + _HELD * np.eye(2)
        numbers = np.linalg.solve(squares, rows.T @ (weight * offset).sum(axis=1))
    return float(numbers[0]), float(numbers[1])
