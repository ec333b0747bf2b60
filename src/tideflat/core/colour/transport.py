"""How far two sets of colours are apart: the least work that turns one into the other.

Rubner, Tomasi & Guibas, "The Earth Mover's Distance as a metric for image retrieval", International Journal of Computer Vision 40(2), 2000,
with CIEDE2000 as the ground distance: a share of one set's colour moved to one of the other's costs share times difference. Identical sets
are 0 apart, and a single colour is as far from a set as its shares are on the mean.
"""

from __future__ import annotations

import numpy as np


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
    from scipy.optimize import linprog  # asked seldom, and takes a while to load

    n, m = costs.shape
    leaves = np.kron(np.eye(n), np.ones(m))
    reaches = np.kron(np.ones(n), np.eye(m))
    found = linprog(costs.ravel(), A_eq=np.vstack([leaves, reaches[:-1]]), b_eq=np.concatenate([first, second[:-1]]), method="highs")
    return float(found.fun)


def _of_two_and_two(costs: np.ndarray, first: np.ndarray, second: np.ndarray) -> float:
    """One number is free, what goes from the first to the first; the cost is linear in it, so it is least at an end."""
    low, high = max(0.0, float(first[0] - second[1])), min(float(first[0]), float(second[0]))
    return min(
        float(t * costs[0, 0] + (first[0] - t) * costs[0, 1] + (second[0] - t) * costs[1, 0] + (second[1] - first[0] + t) * costs[1, 1])
        for t in (low, high)
    )
