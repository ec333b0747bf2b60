"""Plain solids fitted to the edges that a photograph shows: where the outline of the top and the silhouette should be seen, a step is
looked for, and the solid is moved until they meet. Many are fitted at once, round by round; most are given up in the first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .edge_support import COARSE_MM, FINE_MM, EdgePicture, asked_of_each
from .pose import Pose
from .solid_curves import KINDS, MOST_NUMBERS, WITHIN_MM, standing
from .solid_edges import SEEN, SolidSeen, deep_for, rated, rated_clear

#: Steps are looked for so far from where they should be, mm, one round after the other.
_WINDOWS_MM = (4.0, 2.5, 1.6, 1.2, 1.2)
#: So many times fewer of a curve's places are looked at in each round.
_EVERY = (4, 3, 3, 2, 1)
#: So many rounds look in coarse steps.
_COARSELY = 2
#: A solid of which less than this is seen in a round is given up, by what is looked for of it. Of the 617 well seen in 120 photographs none
#: had less of its silhouette than (0.45, 0.48, 0.51, 0.51, 0.53), nor of its top than 0.7: one of whose top less is seen than of all of it
#: is found by its silhouette. Of what is clear far less is enough.
_LEAST = {
    "silhouette": (0.36, 0.42, 0.46, 0.5, 0.5),
    "top": (0.52, 0.6, 0.62, 0.62, 0.64),
    "circles": (0.18, 0.24, 0.27, 0.3, 0.3),
}
#: Given up is one that ran or grew so far, mm; and, from this round on, one so near to another.
_RAN_MM, _GREW_MM, _SAME_MM, _SAME_FROM = 25.0, 40.0, 0.4, 2
#: After each round no more than so many are gone on with, those most seen, for on checks and stripes every start finds edges; and the few
#: most seen of those that reach over one place, for a faint thing may lie beside them.
_MOST, _MOST_AT_ONE_PLACE = (64, 28, 28, 28, 28), 2
#: A step further off than this counts little, mm, and than this share of the window.
_SCALE_MM, _OF_WINDOW = 0.6, 0.35
#: Rounds of weighing; and how far numbers that no edge tells are held where they were.
_WEIGHED, _HELD = 4, 0.5
#: No side is shorter than this, mm.
_SHORTEST_MM = 5.0


@dataclass(frozen=True, eq=False)
class Start:
    """A solid to begin with. by: what of it is looked for: its ``silhouette`` and what is seen of its top's outline; its ``top``'s outline
    alone, which no shadow on the table touches; or the ``circles`` of foot and rim, as of what is clear."""

    kind: str
    values: np.ndarray
    by: Literal["silhouette", "top", "circles"] = "silhouette"


@dataclass(frozen=True, eq=False, slots=True)
class _Curves:
    """What is looked at of many solids. owner (n,): whose each place is; rings: (first, after the last) of each closed curve, and whose."""

    places: np.ndarray
    outward: np.ndarray
    moves: np.ndarray
    owner: np.ndarray
    rings: list[tuple[int, int, int]]
    unseen: np.ndarray


def fits_to_edges(
    picture: EdgePicture, starts: Sequence[Start], pose: Pose, height_mm: float, known: Sequence[SolidSeen] = ()
) -> list[SolidSeen | None]:
    """For each start the solid of its kind whose edges are seen nearest to it; None where too little of it is seen, where it runs away, and
    where another, or one of those known, came to the same. All of them clear, or none."""
    first = np.zeros((len(starts), MOST_NUMBERS))
    for n, start in enumerate(starts):
        first[n, : len(start.values)] = start.values
    kinds = np.array([start.kind for start in starts])
    now = first.copy()
    left = np.flatnonzero(_are_possible(kinds, now, pose))
    deep = _deep_of_each(starts, now, left, pose, height_mm)
    is_clear = bool(starts) and starts[0].by == "circles"
    least = np.array([_LEAST[start.by] for start in starts]).reshape(-1, len(_WINDOWS_MM))
    for round_, window in enumerate(_WINDOWS_MM):
        if not len(left):
            break
        curves = _curves(starts, now, left, pose, height_mm, _EVERY[round_])
        looked = asked_of_each(
            picture,
            [(curves.places[a:b], curves.outward[a:b]) for a, b, _ in curves.rings],
            window,
            [deep[owner] for _, _, owner in curves.rings],
            COARSE_MM if round_ < _COARSELY else FINE_MM,
        )
        plain, offset = (np.concatenate([getattr(a, name) for a in looked]) for name in ("plain", "offset"))
        count = len(starts)
        places = np.bincount(curves.owner, minlength=count) + curves.unseen
        share = np.bincount(curves.owner, weights=plain, minlength=count) / np.maximum(places, 1)
        seen = np.bincount(curves.owner, weights=plain > SEEN, minlength=count)
        now = now + _steps(curves, offset, np.where(plain > SEEN, plain, 0.0), window, count)
        left = left[(share >= least[:, round_])[left] & (seen >= [2 * KINDS[k] for k in kinds])[left]]
        far = np.abs(now - first)
        left = left[(_are_possible(kinds, now, pose) & (far[:, :2].max(axis=1) <= _RAN_MM) & (far[:, 2:4].max(axis=1) <= _GREW_MM))[left]]
        if round_ >= _SAME_FROM - 1:
            left = _distinct(starts, now, left, known)
        left = left[_are_most_seen(now[left], share[left], _MOST[round_])]
    settled = [(starts[n].kind, now[n, : KINDS[starts[n].kind]]) for n in left.tolist()]
    found = (rated_clear if is_clear else rated)(picture, settled, pose, height_mm)
    by_number = dict(zip(left.tolist(), found, strict=True))
    return [by_number.get(n) for n in range(len(starts))]


def _are_possible(kinds: np.ndarray, values: np.ndarray, pose: Pose) -> np.ndarray:
    two = np.isin(kinds, ("rectangle", "oval", "taper"))
    is_large = (values[:, 2] > _SHORTEST_MM) & (~two | (values[:, 3] > _SHORTEST_MM))
    return np.asarray(np.isfinite(values).all(axis=1) & is_large & ((kinds != "ball") | (values[:, 2] < 0.8 * pose.eye[2])))


def _groups(starts: Sequence[Start], left: np.ndarray) -> list[tuple[str, str, np.ndarray]]:
    """(kind, by what, which) of those that are left."""
    keys = [(starts[n].kind, starts[n].by) for n in left]
    return [(*one, np.array([n for n, key in zip(left, keys, strict=True) if key == one])) for one in sorted(set(keys))]


def _deep_of_each(starts: Sequence[Start], values: np.ndarray, left: np.ndarray, pose: Pose, height_mm: float) -> np.ndarray:
    """(s,): over how many mm a step is taken, by what is seen of the sides at first."""
    side = np.full(len(starts), np.inf)
    for kind, _, chosen in _groups(starts, left):
        many = standing(kind, values[chosen, : KINDS[kind]], pose, height_mm, _EVERY[0])
        if many.is_flat:
            continue
        side[chosen] = many.sides(many.depth())
    return deep_for(side)


def _curves(starts: Sequence[Start], values: np.ndarray, left: np.ndarray, pose: Pose, height_mm: float, every: int) -> _Curves:
    parts: list[tuple[np.ndarray, ...]] = []
    unseen = np.zeros(len(starts))
    for kind, by, chosen in _groups(starts, left):
        many = standing(kind, values[chosen, : KINDS[kind]], pose, height_mm, every)
        owner = chosen[many.solid]
        if by != "silhouette" and not many.is_flat:
            parts.append((many.top, many.outward, many.top_moves, owner))
            if by == "circles":
                parts.append((many.base, many.outward, many.base_moves, owner))
            continue
        places, moves = many.silhouette
        parts.append((places, many.outward, moves, owner))
        if not many.is_flat:
            unseen[chosen] = many.straight_places()
            within = many.depth() > WITHIN_MM
            parts.append((many.top[within], many.outward[within], many.top_moves[within], owner[within]))
    rings: list[tuple[int, int, int]] = []
    begin = 0
    for *_, owner in parts:
        if not len(owner):
            continue
        ends = np.flatnonzero(np.diff(owner, append=-1)) + 1
        for a, b in zip(np.concatenate([[0], ends[:-1]]), ends, strict=True):
            rings.append((begin + int(a), begin + int(b), int(owner[a])))
        begin += len(owner)
    places, outward, moves, of_whom = (np.concatenate([part[k] for part in parts]) for k in range(4))
    return _Curves(places, outward, moves, of_whom, rings, unseen)


def _steps(curves: _Curves, offset: np.ndarray, weight: np.ndarray, window: float, count: int) -> np.ndarray:
    """(s, 5): what the numbers of each have to change by, what lies far off counting little."""
    begin = [first for first, _, _ in curves.rings]  # what is of one ring lies together: its sums are one call for all
    whose = np.array([owner for _, _, owner in curves.rings])
    size: np.ndarray = np.ones((count, MOST_NUMBERS))
    np.maximum.at(size, whose, np.maximum.reduceat(np.abs(curves.moves), begin, axis=0))
    rows = curves.moves / size[curves.owner]
    i, j = np.triu_indices(MOST_NUMBERS)
    by_number = np.ascontiguousarray(rows.T)
    products = np.concatenate([by_number[i] * by_number[j], by_number * offset])
    scale = max(_SCALE_MM, _OF_WINDOW * window)
    step: np.ndarray = np.zeros((count, MOST_NUMBERS))
    for _ in range(_WEIGHED):
        off = offset - np.einsum("ij,ij->i", rows, step[curves.owner])
        of_rings = np.add.reduceat(products * (weight / (1 + (off / scale) ** 2)), begin, axis=1)
        sums = np.array([np.bincount(whose, weights=one, minlength=count) for one in of_rings])
        squares = np.zeros((count, MOST_NUMBERS, MOST_NUMBERS))
        squares[:, i, j] = squares[:, j, i] = sums[: len(i)].T
        # a little held back: what no edge tells stays as it was
        step = np.linalg.solve(squares + _HELD * np.eye(MOST_NUMBERS), sums[len(i) :].T[..., None])[..., 0]
    return np.asarray(step / size)


def _are_most_seen(values: np.ndarray, share: np.ndarray, most: int) -> np.ndarray:
    """(s,): whether each is among the ``most`` most seen, or among the few most seen of those that reach over its middle."""
    order = np.argsort(-share, kind="stable")
    rank = np.empty(len(order), int)
    rank[order] = np.arange(len(order))
    apart = np.linalg.norm(values[:, None, :2] - values[None, :, :2], axis=2)
    reach_over = apart < np.maximum(values[:, 2], values[:, 3]) / 2
    return np.asarray((rank < most) | ((reach_over & (rank[None] < rank[:, None])).sum(axis=1) < _MOST_AT_ONE_PLACE))


def _distinct(starts: Sequence[Start], values: np.ndarray, left: np.ndarray, known: Sequence[SolidSeen]) -> np.ndarray:
    kept: list[int] = []
    taken: dict[str, list[np.ndarray]] = {}
    for one in known:
        taken.setdefault(one.kind, []).append(one.values)
    for n in left:
        kind = starts[n].kind
        own = values[n, : KINDS[kind]]
        others = taken.setdefault(kind, [])
        if others and np.abs(np.array(others) - own).max(axis=1).min() < _SAME_MM:
            continue
        others.append(own)
        kept.append(int(n))
    return np.array(kept, dtype=int)
