"""How strange to its ground most of a thing is: against paper and against the table by themselves, for a pale thing is far stranger to a
dark table than to paper, and what of it lies on the paper would pass for its shadow.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

#: Most of a thing is told by this percentile of it; it is plainly none of the ground where that is stranger than this (log).
_USUAL, PLAINLY = 60, 0.35


def usual_on_each(off: np.ndarray, own: np.ndarray, zones: Iterable[np.ndarray]) -> np.ndarray:
    """(h, w): how strange most of a thing is to the ground that lies there (log). off (h, w): how strange each place is to its ground,
    infinite where nothing is known; own (h, w) bool: the thing; zones: where each ground lies. As strange as all of it is, but on a
    ground to which what lies on it is plainly strange, and less so."""
    known = own & np.isfinite(off)
    of_all = _usual(off[known])
    found = np.full(off.shape, of_all, np.float32)
    for zone in zones:
        there = _usual(off[known & zone])
        if PLAINLY < there < of_all:
            found[zone] = there
    return found


def _usual(off: np.ndarray) -> float:
    return float(np.percentile(off, _USUAL)) if off.size else 0.0
