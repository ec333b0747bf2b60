"""How one unit looks in many arrangements at once, known by its reach in WAYS directions; and gaps between such."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera.crops import Rect
from ..tolerances import SAME_NUMBER
from .problem import WAYS

OPPOSITE = (np.arange(WAYS) + WAYS // 2) % WAYS
RIGHT, DOWN, LEFT, UP = 0, WAYS // 4, WAYS // 2, 3 * WAYS // 4
#: An area in the frame that is none, squared heights of it.
LEAST_AREA = SAME_NUMBER


def between(values: np.ndarray, low: float, high: float | np.ndarray) -> np.ndarray:
    """np.clip, which costs several times as much on arrays as small as these."""
    return np.minimum(np.maximum(values, low), high)


def inside(reach: np.ndarray, box: tuple[float, float, float, float]) -> np.ndarray:
    """(n,) share of the boxes round outlines that lies in a box."""
    left, right, top, bottom = -reach[:, LEFT], reach[:, RIGHT], -reach[:, UP], reach[:, DOWN]
    wide = np.maximum(np.minimum(right, box[2]) - np.maximum(left, box[0]), 0.0)
    high = np.maximum(np.minimum(bottom, box[3]) - np.maximum(top, box[1]), 0.0)
    return wide * high / np.maximum((right - left) * (bottom - top), LEAST_AREA)


def gaps(own: np.ndarray, others: np.ndarray) -> np.ndarray:
    """(n, units) the gap from each of n outlines (n, WAYS) to all others (n, units, WAYS); below 0 where they overlap. The widest of what
    parts them in any direction, so never more than there is."""
    return -((others + own[:, None, OPPOSITE]).min(axis=2))


def in_words(reach: np.ndarray, copies: tuple[Rect, ...], aspect: float) -> np.ndarray:
    """(n,) how much an outline lies in the boxes kept for words."""
    found = np.zeros(len(reach))
    left, right, top, bottom = -reach[:, LEFT], reach[:, RIGHT], -reach[:, UP], reach[:, DOWN]
    for a, b, c, d in copies:
        a, c = a * aspect, c * aspect
        wide = np.minimum(right, c) - np.maximum(left, a)
        high = np.minimum(bottom, d) - np.maximum(top, b)
        taken = np.maximum(0.0, wide) * np.maximum(0.0, high)
        found += (taken > 0) * 0.3 + taken / max((c - a) * (d - b), LEAST_AREA) * 12
    return found


def over(reach: np.ndarray, box: Rect, aspect: float, margin: float) -> np.ndarray:
    """(n,) how far an outline reaches past a box less a margin."""
    a, b, c, d = box[0] * aspect + margin, box[1] + margin, box[2] * aspect - margin, box[3] - margin
    past = [a + reach[:, LEFT], reach[:, RIGHT] - c, b + reach[:, UP], reach[:, DOWN] - d]
    return sum(np.maximum(0.0, o) for o in past) / 0.05  # type: ignore[return-value]


@dataclass(frozen=True, eq=False, slots=True)
class Looks:
    """Of one unit in n arrangements, all in place: reach on the table (n, WAYS) mm; reach in the frame (n, WAYS); middle of what counts of
    it (n, 2); depth (n,); weak, wrong (n,): what its own place costs, whatever stands about it."""

    table: np.ndarray
    frame: np.ndarray
    middle: np.ndarray
    depth: np.ndarray
    weak: np.ndarray
    wrong: np.ndarray

    @property
    def all(self) -> tuple[np.ndarray, ...]:
        return self.table, self.frame, self.middle, self.depth, self.weak, self.wrong

    def copied(self) -> Looks:
        return Looks(*(a.copy() for a in self.all))

    def beside(self, other: Looks) -> Looks:
        """These arrangements and the others, one after the other."""
        return Looks(*(np.concatenate(pair) for pair in zip(self.all, other.all, strict=True)))
