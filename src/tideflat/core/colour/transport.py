"""How far two sets of colours are apart: the least work that turns one into the other.

Rubner, Tomasi & Guibas, "The Earth Mover's Distance as a metric for image retrieval", International Journal of Computer Vision 40(2), 2000,
with CIEDE2000 as the ground distance: a share of one set's colour moved to one of the other's costs share times difference. Identical sets
are 0 apart, and a single colour is as far from a set as its shares are on the mean.
"""

from __future__ import annotations

import math

import numpy as np

from ..tolerances import SAME_NUMBER


def transport_distance(costs: np.ndarray, first: np.ndarray, second: np.ndarray) -> float:
    """The least of ``sum(flow * costs)`` over flows (n, m) that leave each of ``first`` (n,) and reach each of ``second`` (m,).

    costs: (n, m), not negative. first, second: shares that add to the same.

    >>> transport_distance(np.array([[0.0, 30.0], [30.0, 0.0]]), np.array([0.75, 0.25]), np.array([0.25, 0.75]))
    15.0
    """
    if len(first) == 1 or len(second) == 1:
        return float((costs * np.outer(first, second)).sum() / first.sum())
    if len(first) == len(second) == 2:
        return _of_two_and_two(costs, first, second)
    return _of_several(costs.tolist(), first.tolist(), second.tolist())


def _of_several(costs: list[list[float]], leaves: list[float], reaches: list[float]) -> float:
    """By successive shortest paths (R. K. Ahuja, T. L. Magnanti & J. B. Orlin, "Network Flows", 1993, 9.7): each carries what it can along
    the way that is cheapest now, which may take back what went before. Of a handful of colours, where a solver takes longer to load."""
    flow = [[0.0] * len(reaches) for _ in leaves]
    while max(leaves) > SAME_NUMBER and max(reaches) > SAME_NUMBER:
        target, steps = _cheapest_way(costs, leaves, reaches, flow)
        source = steps[0][0]
        taken_back = [flow[i][j] for i, j, way in steps if way < 0]
        carried = min(leaves[source], reaches[target], *taken_back)
        for i, j, way in steps:
            flow[i][j] += way * carried
        leaves[source] -= carried
        reaches[target] -= carried
    return sum(f * c for row, own in zip(flow, costs, strict=True) for f, c in zip(row, own, strict=True))


def _cheapest_way(
    costs: list[list[float]], leaves: list[float], reaches: list[float], flow: list[list[float]]
) -> tuple[int, list[tuple[int, int, int]]]:
    """(where it ends, its steps (i, j, +1 on or -1 back)) from any that has something left to any that wants something."""
    to_first: list[tuple[float, list[tuple[int, int, int]]]] = [(0.0 if left > SAME_NUMBER else math.inf, []) for left in leaves]
    to_second: list[tuple[float, list[tuple[int, int, int]]]] = [(math.inf, []) for _ in reaches]
    is_shorter = True
    while is_shorter:
        is_shorter = False
        for i, row in enumerate(costs):
            for j, cost in enumerate(row):
                if to_first[i][0] + cost < to_second[j][0] - SAME_NUMBER:
                    to_second[j] = to_first[i][0] + cost, [*to_first[i][1], (i, j, 1)]
                    is_shorter = True
                if flow[i][j] > SAME_NUMBER and to_second[j][0] - cost < to_first[i][0] - SAME_NUMBER:
                    to_first[i] = to_second[j][0] - cost, [*to_second[j][1], (i, j, -1)]
                    is_shorter = True
    target = min((j for j, want in enumerate(reaches) if want > SAME_NUMBER), key=lambda j: to_second[j][0])
    return target, to_second[target][1]


def _of_two_and_two(costs: np.ndarray, first: np.ndarray, second: np.ndarray) -> float:
    """One number is free, what goes from the first to the first; the cost is linear in it, so it is least at an end."""
    low, high = max(0.0, float(first[0] - second[1])), min(float(first[0]), float(second[0]))
    return min(
        float(t * costs[0, 0] + (first[0] - t) * costs[0, 1] + (second[0] - t) * costs[1, 0] + (second[1] - first[0] + t) * costs[1, 1])
        for t in (low, high)
    )
