"""Plain upright solids as they are seen on the sheet's plane: the outline of the top, the silhouette, and how both move with their sizes.

What stands ``height`` high is thrown on the plane from the lens: its foot as it is, its top scaled by ``k`` about the foot of the lens.
Foot and top have the same ways outward, place by place: of each two that which lies further out is on the silhouette.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..tolerances import ROUNDING
from .pose import Pose
from .solid_places import EVERY_MM, boxes, cones, rounds

#: Slope of a ball's silhouette: over such a length, mm.
_STEP_MM = 1 / 64
#: A place of the top's outline so far inside of the silhouette, mm, lies within it.
WITHIN_MM = 0.8
#: How much of a side is seen is told by the places at this percentile.
_SIDE = 0.25
#: Where foot and top change over, a straight line of so many places and more runs between them.
_LINE = 6

#: How many numbers each kind has: middle x and y; then diameter; or width, depth and turn (radians); or top and base diameter.
KINDS = {"disc": 3, "rectangle": 5, "oval": 5, "taper": 4, "ball": 3}
MOST_NUMBERS = 5


@dataclass(frozen=True, eq=False, slots=True)
class Curve:
    """places (n, 2) mm, counter-clockwise; outward (n, 2), unit."""

    places: np.ndarray
    outward: np.ndarray

    def only(self, chosen: np.ndarray) -> Curve:
        return Curve(self.places[chosen], self.outward[chosen])


@dataclass(frozen=True, eq=False, slots=True)
class Seen:
    """silhouette; top: its outline whole, None where that is the silhouette; is_within (n,): the places of it that lie inside the
    silhouette; foot (m, 2): what it covers from above; side_mm: how much of most of its sides is seen, infinite where none is."""

    silhouette: Curve
    top: Curve | None
    is_within: np.ndarray
    foot: np.ndarray
    side_mm: float


@dataclass(frozen=True, eq=False, slots=True)
class Standing:
    """Solids, one after the other. counts (s,): places of each; solid (n,): whose each is; base, top (n, 2): of the foot, and of the top as
    it is seen; outward (n, 2); moves, base_moves (n, 5); is_flat: both are one; past (n,): how far a side goes on past its last place, of
    what is between two; apart_mm (s,): between places on straight lines."""

    counts: np.ndarray
    solid: np.ndarray
    base: np.ndarray
    top: np.ndarray
    outward: np.ndarray
    base_moves: np.ndarray
    top_moves: np.ndarray
    is_flat: bool
    past: np.ndarray
    apart_mm: np.ndarray

    @property
    def is_top(self) -> np.ndarray:
        """(n,): where the top lies further out than the foot."""
        return np.asarray(((self.top - self.base) * self.outward).sum(axis=1) > 0)

    @property
    def silhouette(self) -> tuple[np.ndarray, np.ndarray]:
        """(places, moves) of the silhouettes, but for straight lines between foot and top."""
        is_top = self.is_top[:, None]
        return np.where(is_top, self.top, self.base), np.where(is_top, self.top_moves, self.base_moves)

    def lines(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """(the place after which foot and top change over, where the straight line between them begins (m, 2), where it ends)."""
        following = np.arange(len(self.solid)) + 1
        following[np.cumsum(self.counts) - 1] = np.cumsum(self.counts) - self.counts
        before = np.empty_like(following)
        before[following] = np.arange(len(following))
        is_top = self.is_top
        at = np.flatnonzero(is_top != is_top[following])
        ends = []
        for here, beyond in ((at, before), (following[at], following)):
            outline = [np.where(is_top[here, None], self.top[there], self.base[there]) for there in (here, beyond[here])]
            # so much further on: a rectangle's corner, a round one's very place
            ends.append(outline[0] + self.past[here, None] * (outline[0] - outline[1]))
        return at, ends[0], ends[1]

    def depth(self) -> np.ndarray:
        """(n,): how far each place of the tops' outlines lies inside of the silhouette, mm."""
        deep = ((self.base - self.top) * self.outward).sum(axis=1)
        at, begin, end = self.lines()
        line = end - begin
        out = np.column_stack([line[:, 1], -line[:, 0]]) / np.maximum(np.linalg.norm(line, axis=1, keepdims=True), ROUNDING)
        for own in _each_kth(self.solid[at], len(self.counts)):
            is_one = own >= 0
            far = (begin[own] * out[own]).sum(axis=1)
            inside = far[self.solid] - (self.top * out[own][self.solid]).sum(axis=1)
            deep = np.where(is_one[self.solid], np.minimum(deep, inside), deep)
        return np.asarray(deep)

    def sides(self, depth: np.ndarray) -> np.ndarray:
        """(s,): how much of most of the sides of each is seen, mm; infinite where none is. depth (n,): of its places."""
        side = np.full(len(self.counts), np.inf)
        within = depth > WITHIN_MM
        owners, order = self.solid[within], np.lexsort((depth[within], self.solid[within]))
        number = np.bincount(owners, minlength=len(self.counts))
        first, some = np.cumsum(number) - number, number > 0
        side[some] = depth[within][order][(first + _SIDE * (number - 1)).astype(int)[some]]
        return side

    def straight(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """``lines``, and how many places each has (m,), where it is long enough to have any."""
        at, begin, end = self.lines()
        length, apart_mm = np.linalg.norm(end - begin, axis=1), self.apart_mm[self.solid[at]]
        return at, begin, end, np.where(length >= _LINE * apart_mm, (length / apart_mm).astype(int), 0)

    def straight_places(self) -> np.ndarray:
        """(s,): how many places the straight lines of each one's silhouette have."""
        at, _, _, number = self.straight()
        return np.bincount(self.solid[at], weights=number, minlength=len(self.counts)).astype(int)


def _each_kth(owners: np.ndarray, count: int) -> list[np.ndarray]:
    """Of what belongs to owners, in order: (count,) indexes of everyone's first, then of everyone's second, and so on; -1 for none."""
    if not len(owners):
        return []
    first = np.searchsorted(owners, np.arange(count))
    number = np.bincount(owners, minlength=count)
    return [np.where(number > k, np.minimum(first + k, len(owners) - 1), -1) for k in range(int(number.max()))]


def standing(kind: str, values: np.ndarray, pose: Pose, height_mm: float, every: int = 1) -> Standing:
    """Solids of one kind, values (s, its numbers). every: so many times fewer places than they have at their finest."""
    eye = np.array(pose.eye[:2], dtype=float)
    k = pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    if kind == "ball":
        return _balls(values, pose, every)
    if kind == "rectangle":
        counts, own, out, past, apart_mm = boxes(values, every)
    else:
        sizes = values[:, 2:4] if kind in ("oval", "taper") else values[:, [2, 2]]
        counts, own, out = rounds(sizes if kind == "oval" else np.ones_like(sizes), every)
        past, apart_mm = np.full(counts.sum(), 0.5), np.full(len(values), EVERY_MM * every)
    solid = np.repeat(np.arange(len(values)), counts)
    if kind in ("rectangle", "oval"):
        c, s = np.cos(values[solid, 4]), np.sin(values[solid, 4])
        own, out = (np.column_stack([c * a[:, 0] - s * a[:, 1], s * a[:, 0] + c * a[:, 1]]) for a in (own, out))
        base, top = own, own
    elif kind == "taper":
        base, top = own * values[solid, 3, None], own * values[solid, 2, None]
    else:
        base = top = own * values[solid, 2, None]
    moves = [_moves(kind, values[solid], lever, out, is_top) for lever, is_top in ((base, False), (top, True))]
    middle = values[solid, :2]
    is_flat = k == 1.0 and kind != "taper"
    return Standing(counts, solid, middle + base, eye + k * (middle + top - eye), out, moves[0], k * moves[1], is_flat, past, apart_mm)


def _moves(kind: str, values: np.ndarray, lever: np.ndarray, outward: np.ndarray, is_top: bool) -> np.ndarray:
    moves = np.zeros((len(lever), MOST_NUMBERS))
    moves[:, :2] = outward
    if kind == "disc":
        moves[:, 2] = 0.5
    elif kind == "taper":
        moves[:, 2 if is_top else 3] = 0.5
    else:
        c, s = np.cos(values[:, 4]), np.sin(values[:, 4])
        along, deep = outward[:, 0] * c + outward[:, 1] * s, outward[:, 1] * c - outward[:, 0] * s
        if kind == "rectangle":
            moves[:, 2], moves[:, 3] = 0.5 * (np.abs(along) > 0.5), 0.5 * (np.abs(deep) > 0.5)
        else:
            reach = np.maximum(np.hypot(along * values[:, 2], deep * values[:, 3]), ROUNDING)
            moves[:, 2], moves[:, 3] = 0.5 * along**2 * values[:, 2] / reach, 0.5 * deep**2 * values[:, 3] / reach
        moves[:, 4] = outward[:, 1] * lever[:, 0] - outward[:, 0] * lever[:, 1]
    return moves


def _balls(values: np.ndarray, pose: Pose, every: int) -> Standing:
    here = cones(values, pose, every)
    along = np.roll(here, -1, axis=1) - np.roll(here, 1, axis=1)
    along /= np.maximum(np.linalg.norm(along, axis=2, keepdims=True), ROUNDING)
    out = np.stack([along[..., 1], -along[..., 0]], axis=-1)
    moves = np.zeros((*here.shape[:2], MOST_NUMBERS))
    for number, step in enumerate(_STEP_MM * np.eye(3)):
        moves[..., number] = ((cones(values + step, pose, every) - here) * out).sum(axis=2) / _STEP_MM
    counts = np.full(len(values), here.shape[1])
    places, outward, moves = here.reshape(-1, 2), out.reshape(-1, 2), moves.reshape(-1, MOST_NUMBERS)
    solid, past = np.repeat(np.arange(len(values)), counts), np.full(len(places), 0.5)
    return Standing(counts, solid, places, places, outward, moves, moves, True, past, np.full(len(values), EVERY_MM * every))


def seen_of(kind: str, values: np.ndarray, pose: Pose, height_mm: float) -> Seen:
    """How one solid of that kind and those numbers looks on the plane, at its finest."""
    return seen_of_each(kind, np.asarray(values, dtype=float)[None], pose, height_mm)[0]


def seen_of_each(kind: str, values: np.ndarray, pose: Pose, height_mm: float) -> list[Seen]:
    """``seen_of`` of many of one kind, values (s, its numbers)."""
    many = standing(kind, values, pose, height_mm)
    own = [slice(end - count, end) for count, end in zip(many.counts.tolist(), np.cumsum(many.counts).tolist(), strict=True)]
    if many.is_flat:
        feet = [rounds(v[None, [2, 2]], 1)[1] + v[:2] for v in values] if kind == "ball" else [many.base[n] for n in own]
        lies = np.zeros(0, bool)
        return [Seen(Curve(many.base[n], many.outward[n]), None, lies, foot, np.inf) for n, foot in zip(own, feet, strict=True)]
    foot, depth = many.base, many.depth()
    if kind == "taper":  # what hangs over covers more than its base does
        middle, larger = values[many.solid, :2], np.maximum(values[:, 2] / values[:, 3], 1.0)[many.solid, None]
        foot = middle + (many.base - middle) * larger
    return [
        Seen(curve, Curve(many.top[n], many.outward[n]), depth[n] > WITHIN_MM, foot[n], side)
        for n, curve, side in zip(own, _silhouettes(many), many.sides(depth).tolist(), strict=True)
    ]


def _silhouettes(many: Standing) -> list[Curve]:
    """With straight lines where foot and top change over, a place every so many mm."""
    at, begin, end, number = many.straight()
    which = np.repeat(np.arange(len(at)), number)
    along = np.arange(len(which)) - np.repeat(np.cumsum(number) - number, number)
    line = (end - begin)[which]
    places = begin[which] + ((along + 0.5) / number[which])[:, None] * line
    outward = np.column_stack([line[:, 1], -line[:, 0]]) / np.linalg.norm(line, axis=1, keepdims=True)
    # a line follows the place that it begins at
    order = np.argsort(np.concatenate([np.arange(len(many.solid)), at[which]]), kind="stable")
    every = [np.concatenate(both)[order] for both in ((many.silhouette[0], places), (many.outward, outward))]
    ends = np.cumsum(many.counts + many.straight_places())[:-1]
    return [Curve(*one) for one in zip(*(np.split(of_all, ends) for of_all in every), strict=True)]


def outside(hull: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n,) how far places (n, 2) lie outside a convex outline (m, 2), counter-clockwise, mm; inside less than 0."""
    along = np.roll(hull, -1, axis=0) - hull
    length = np.maximum(np.linalg.norm(along, axis=1), ROUNDING)
    out = np.column_stack([along[:, 1], -along[:, 0]]) / length[:, None]
    turns = np.einsum("ij,ij->i", out, np.roll(out, 1, axis=0)) < 1 - ROUNDING  # of a straight side one stretch is enough
    hull, out = (hull[turns], out[turns]) if turns.any() else (hull, out)
    return np.asarray((out @ places.T - np.einsum("ij,ij->i", hull, out)[:, None]).max(axis=0))
