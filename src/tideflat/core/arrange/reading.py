"""Which scheme an arrangement reads as: the one whose line, and whose place for the hero, its things lie nearest to.

Both ways count: how far things lie from the line, and how far parts of the line are from any thing (the mean distances of two sets of
points both ways, Barrow et al., "Parametric correspondence and chamfer matching", IJCAI 1977, from memory); for places, each thing to a
place of its own.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..composition.schemes import Curve
from .problem import Problem

#: What an empty part of the line, and a hero off its place, weigh beside things off the line [practice].
_EMPTY, _HERO = 0.6, 0.35


def distances(problem: Problem, middles: np.ndarray, curves: Sequence[Curve]) -> np.ndarray:
    """(curves,) how far an arrangement is from each scheme, heights of the frame. middles: (units, 2) where each unit is seen."""
    scale = np.array([problem.view.aspect, 1.0])
    along = middles[[k for k, u in enumerate(problem.units) if (u.is_shaping or u.is_hero) and not (u.is_laid or u.is_strewn)]]
    round_it = middles[[k for k, u in enumerate(problem.units) if u.is_shaping and not u.is_hero and not (u.is_laid or u.is_strewn)]]
    heroes = middles[list(problem.heroes)]
    found = []
    for curve in curves:
        far = _apart(round_it if curve.kind == "centre" else along, curve.points * scale, is_places=curve.is_places)
        if len(heroes):
            far += _HERO * float(np.hypot(*(heroes - np.array(curve.hero) * scale).T).mean())
        found.append(far)
    return np.array(found)


def _apart(things: np.ndarray, points: np.ndarray, *, is_places: bool) -> float:
    if len(things) == 0:
        return 0.0
    gaps = np.hypot(*(things[:, None] - points[None]).transpose(2, 0, 1))
    if is_places:
        from scipy.optimize import linear_sum_assignment  # takes a while to load, and is seldom needed

        return (1 + _EMPTY) * float(gaps[linear_sum_assignment(gaps)].mean())
    return float(gaps.min(axis=1).mean() + _EMPTY * gaps.min(axis=0).mean())


def reads_as(problem: Problem, middles: np.ndarray, curves: Sequence[Curve]) -> Curve:
    """The scheme that is nearest."""
    return curves[int(distances(problem, middles, curves).argmin())]


def clarity(far: np.ndarray, kinds: Sequence[str], own: str) -> float:
    """By what share of its own distance the nearest scheme of another kind is further than the nearest of its own; below 0 where it reads
    as another. 1 where there is no other."""
    is_own = np.array([k == own for k in kinds])
    if is_own.all() or not is_own.any():
        return 1.0 if is_own.any() else -1.0
    near = float(far[is_own].min())
    return float((far[~is_own].min() - near) / near) if near > 0 else 1.0
