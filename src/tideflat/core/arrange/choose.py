"""A few that differ, out of many: how unlike two arrangements are, and which to show."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

import numpy as np

from ..tolerances import SAME_NUMBER
from .energy import Judge
from .problem import Problem
from .search import Found

#: Two arrangements differ when their things, best matched within roles, lie this share of the frame's diagonal apart in the mean.
DISTINCT = 0.08
#: What a scheme that is not shown yet is worth, half of it once so many are; and what one loses each time that it is shown.
_FRESH, _KINDS_LEAST, _STALE = 0.8, 4, 0.25
#: By this share nearer to its own scheme than to any other it reads clearly; and what that is worth beside the rest [practice].
_CLEARLY, _CLEAR = 0.15, 0.4


def middles_of(judge: Judge, found: Sequence[Found]) -> np.ndarray:
    """(n, units, 2) where each unit is seen in each, heights of the frame."""
    places = np.array([f.places for f in found])
    return np.stack([judge.looks(u, *places[:, u].T).middle for u in range(places.shape[1])], axis=1)


def unlike(problem: Problem, first: np.ndarray, second: np.ndarray) -> float:
    """Share of the frame's diagonal by which things lie apart in the mean, matched within roles as well as can be; a mirror image counts as
    the same. 0 where nothing moves."""
    mobile = list(problem.mobile)
    if not mobile:
        return 0.0
    aspect = problem.view.aspect
    mirrored = second * [-1.0, 1.0] + [aspect, 0.0]
    return min(_apart(problem, mobile, first, second), _apart(problem, mobile, first, mirrored)) / float(np.hypot(aspect, 1.0))


def _apart(problem: Problem, mobile: list[int], first: np.ndarray, second: np.ndarray) -> float:
    from scipy.optimize import linear_sum_assignment  # takes a while to load, and is seldom needed

    total = 0.0
    for role in {problem.units[u].role for u in mobile}:
        own = [u for u in mobile if problem.units[u].role == role]
        far = np.hypot(*(first[own][:, None] - second[own][None]).transpose(2, 0, 1))
        total += float(far[linear_sum_assignment(far)].sum())
    return total / len(mobile)


def in_turn(
    problem: Problem, middles: Sequence[np.ndarray], energies: Sequence[float], kinds: Sequence[str], clear: Sequence[float]
) -> Iterator[int]:
    """Which to look at, one after the other: the best first, then always what is both good and far from all that were named, schemes not
    yet named before others, what reads clearly as its scheme before what does not. Whoever refuses one asks for the next."""
    left = sorted(range(len(energies)), key=lambda k: energies[k])
    if not left:
        return
    best = min(energies)
    scale = max(SAME_NUMBER, float(np.median(energies)) - best)
    apart = np.ones(len(energies))
    shown: Counter[str] = Counter()
    while left:

        def worth(k: int) -> float:
            fresh = -_STALE * shown[kinds[k]] if shown[kinds[k]] else _FRESH if len(shown) < _KINDS_LEAST else _FRESH / 2
            reads = _CLEAR * min(max(clear[k] / _CLEARLY, -1.0), 1.0)
            far = (-10.0 if apart[k] < DISTINCT else 0.0) + 2 * min(float(apart[k]), 0.3)
            return far + fresh + reads - 0.5 * (energies[k] - best) / scale

        chosen = max(left, key=worth)
        left.remove(chosen)
        yield chosen
        shown[kinds[chosen]] += 1
        for k in left:
            apart[k] = min(apart[k], unlike(problem, middles[chosen], middles[k]))
