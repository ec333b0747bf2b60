"""What goes on past a solid: the sides of a rectangle past its corners, as those of a cloth past the last of its stripes, and the rectangle
that they go on to; a leaf's ends past those of an oval."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from .edge_support import EdgePicture, asked, asked_of_each
from .solid_edges import SolidSeen

#: Past a corner an edge is looked for from and to so far, mm, at so many places; so much of it, and it runs on.
_PAST_MM, _PLACES, _PAST_SEEN = (2.0, 9.0), 8, 0.7
#: It is a step over so many mm, so near to the line, mm.
_DEEP_MM, _NEAR_MM, _WINDOW_MM = 1.0, 0.5, 0.9
#: It is looked for at so many mm from the corner, as long as no more than so many are missing; a step as plain as this is seen.
_AHEAD_MM, _GAP_MM, _SEEN = np.arange(2.0, 90.0), 3.0, 0.5
#: An edge seems to go on so far past its end, mm: neighbours are averaged along it.
_ENDS_MM = (0.0, 5.0)
#: A thing goes on by so much at the least, mm, and so many times its height: less may be its shadow.
_LARGER_MM, _HEIGHTS = 10.0, 2.0
#: Just within a side, mm, the darker of most places (percentiles) have more than this share of the levels of the lighter; ways out as
#: square as this (cosine) are of one side.
_WITHIN_MM, _MOST_OF, _EVEN, _SQUARE = 1.5, (10, 90), 0.75, 0.9
#: Sides of two rectangles that lie so near to each other, mm, are one.
_SAME_SIDE_MM = 1.2
#: The ends of an oval are its last places along its longer axis, this share of half of that from the middle; its edge is looked for so far
#: off there, mm. A leaf's lies so much further out at each end at the least, mm, and by the mean of both.
_AT_END, _PAST_END_MM, _POINTED_MM = 0.93, 2.5, (0.15, 0.38)


def runs_on(one: SolidSeen, picture: EdgePicture) -> bool:
    """Whether two sides of a rectangle go on past the corners at the same end, and past the side of it that is seen there."""
    whole = np.concatenate([curve.places for curve in (one.curves.top, one.curves.silhouette) if curve is not None])
    runs = [float(plain.mean()) for plain in _plain_past(one, range(4), np.linspace(*_PAST_MM, _PLACES), picture, whole)]
    return any(min(both) > _PAST_SEEN for both in zip(runs[::2], runs[1::2], strict=True))


def continued(one: SolidSeen, picture: EdgePicture, height_mm: float) -> Iterator[np.ndarray]:
    """Numbers of the rectangles that end where its sides do, at each end where both go on past the corner."""
    every = [_followed(plain) for plain in _plain_past(one, range(4), _AHEAD_MM, picture)]
    for n, reached in enumerate(zip(every[::2], every[1::2], strict=True)):
        if min(reached) <= _GAP_MM:
            continue
        for far in sorted({r for r in reached if r >= max(_LARGER_MM, _HEIGHTS * height_mm)}):  # one side may have gaps
            values = one.values.copy()
            values[2 + n % 2] += far
            values[:2] += far / 2 * _way(one, n)
            yield values


def goes_on_to(one: SolidSeen, larger: SolidSeen, picture: EdgePicture) -> bool:
    """Whether a larger rectangle is a smaller one and more at one end, and ends where a side of that does: three of their sides are one."""
    more = [b - a for a, b in zip(_sides(one, one.values[4]), _sides(larger, one.values[4]), strict=True)]
    n = int(np.argmax(more))
    if larger.kind != "rectangle" or more[n] < _LARGER_MM / 2 or sorted(np.abs(more))[2] >= _SAME_SIDE_MM:
        return False
    reached = [_followed(plain) for plain in _plain_past(one, [n], _AHEAD_MM, picture)]
    return any(_ENDS_MM[0] <= far - more[n] <= _ENDS_MM[1] for far in reached) and _is_even_within(larger, n, picture)


def _is_even_within(one: SolidSeen, n: int, picture: EdgePicture) -> bool:
    """Whether it is of one lightness all along the side at that end, just within: beyond its end lie checks."""
    curve = one.curves.top or one.curves.silhouette
    side = curve.only(curve.outward @ _way(one, n) > _SQUARE)
    within = picture.flat.value_at(picture.levels, side.places - _WITHIN_MM * side.outward)
    low, high = np.percentile(within.mean(axis=1), _MOST_OF)
    return bool(low > _EVEN * high)


def _sides(one: SolidSeen, turn: float) -> list[float]:
    """How far its four sides lie along their own ways out, for a rectangle of nearly that turn."""
    places = (one.curves.top or one.curves.silhouette).places
    ways = [np.array([np.cos(turn + n * np.pi / 2), np.sin(turn + n * np.pi / 2)]) for n in range(4)]
    return [float((places @ way).max()) for way in ways]


def _way(one: SolidSeen, n: int) -> np.ndarray:
    turn = one.values[4] + n * np.pi / 2
    return np.array([np.cos(turn), np.sin(turn)])


def _plain_past(
    one: SolidSeen, ends: Iterable[int], ahead: np.ndarray, picture: EdgePicture, whole: np.ndarray | None = None
) -> list[np.ndarray]:
    """How plain an edge is along both sides at each of those ends, so far ``ahead`` past the corner, mm: end by end, of both sides. whole
    (n, 2): what must be passed first, such as what a box shows of its side, whose own edges go on from the corners of its top."""
    places = (one.curves.top or one.curves.silhouette).places
    lines = []
    for n in ends:
        way, out = _way(one, n), _way(one, n + 1)
        end, aside = ((places if whole is None else whole) @ way).max() + ahead, places @ out
        for sign, side in ((1, aside.max()), (-1, aside.min())):
            lines.append((end[:, None] * way + side * out, np.tile(sign * out, (len(end), 1))))
    looked = asked_of_each(picture, lines, _WINDOW_MM, [_DEEP_MM] * len(lines))
    return [one.plain_within(_NEAR_MM) for one in looked]


def _followed(plain: np.ndarray) -> float:
    """How far an edge goes on from the corner, mm, of places a mm from each other."""
    seen = np.flatnonzero(plain > _SEEN)
    seen = seen[seen < len(plain) - 4]  # a curve is taken for a ring: the last places see the first
    if not len(seen) or seen[0] > _GAP_MM:
        return 0.0
    gaps = np.flatnonzero(np.diff(seen) > _GAP_MM + 1)
    return float(_AHEAD_MM[0] + seen[gaps[0] if len(gaps) else -1])


def has_pointed_ends(one: SolidSeen, picture: EdgePicture) -> bool:
    """Whether at both ends of an oval the edge lies further out than its own: a leaf's ends are pointed."""
    if one.kind != "oval":
        return False
    curve = one.curves.top or one.curves.silhouette
    turn = one.values[4] + (0.0 if one.values[2] >= one.values[3] else np.pi / 2)
    along = (curve.places - curve.places.mean(axis=0)) @ np.array([np.cos(turn), np.sin(turn)])
    offset = asked(picture, curve.places, curve.outward, _PAST_END_MM).offset
    further = [float(np.median(offset[sign * along > _AT_END * (sign * along).max()])) for sign in (1, -1)]
    return min(further) >= _POINTED_MM[0] and sum(further) / 2 >= _POINTED_MM[1]
