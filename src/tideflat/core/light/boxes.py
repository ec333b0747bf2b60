"""Whether something that goes its way may meet a box: the slabs of T. Kay and J. Kajiya, SIGGRAPH 1986, with a span of ways along each axis."""

from __future__ import annotations

import numpy as np


def crossing(boxes: np.ndarray, starts: np.ndarray, least: np.ndarray, most: np.ndarray, far: np.ndarray | float) -> np.ndarray:
    """(n,) whether something that goes from starts (n, 3) along any way between ``least`` and ``most`` (n, 3) each, no further than
    ``far`` times as long, may meet one of boxes (k, 2, 3)."""
    far = np.broadcast_to(np.asarray(far, dtype=float), len(starts))
    if not len(boxes):
        return np.zeros(len(starts), dtype=bool)
    found = _meets((boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)), starts, least, most, far)
    if len(boxes) > 1:  # what does not meet all of them together meets none
        asked = np.nonzero(found)[0]
        starts, least, most, far = starts[asked], least[asked], most[asked], far[asked]
        found[asked] = np.any([_meets((low, high), starts, least, most, far) for low, high in boxes], axis=0)
    return found


def _meets(box: tuple[np.ndarray, np.ndarray], starts: np.ndarray, least: np.ndarray, most: np.ndarray, far: np.ndarray) -> np.ndarray:
    (low, high), enters, leaves = box, np.zeros(len(starts)), far.copy()
    for axis in range(3):
        # At t, it has come to between start + t least and start + t most.
        _hold(enters, leaves, most[:, axis], low[axis] - starts[:, axis])
        _hold(enters, leaves, -least[:, axis], starts[:, axis] - high[axis])
    return enters <= leaves


def _hold(enters: np.ndarray, leaves: np.ndarray, goes: np.ndarray, asked: np.ndarray) -> None:
    """Only those t are left from enters to leaves for which t goes >= asked."""
    with np.errstate(divide="ignore", invalid="ignore"):
        at = asked / goes
    np.maximum(enters, np.where(goes > 0, at, -np.inf), out=enters)
    np.minimum(leaves, np.where(goes < 0, at, np.inf), out=leaves)
    leaves[(goes == 0) & (asked > 0)] = -np.inf
