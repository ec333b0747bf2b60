"""What comes through between points and places of a light, ray by ray: known again after a move where the ray does not go by what moved."""

from __future__ import annotations

import numpy as np

from .boxes import crossing
from .casters import Casters
from .rays import passing

_NONE: frozenset[int] = frozenset()


class Through:
    """Of one light and some points. shares: (points, places) of what came through, NaN where it was not asked."""

    def __init__(
        self, casters: Casters, but: frozenset[int] = _NONE, was: np.ndarray | None = None, moved: np.ndarray | None = None
    ) -> None:
        """but: owners that are not there. was: ``shares`` as they were before what these boxes (k, 2, 3) hold was moved."""
        self._casters, self._but, self._was, self._moved = casters, but, was, moved
        self.shares = np.empty((0, 0))

    def hold(self, points: int, places: int) -> None:
        """So many are asked about."""
        self.shares = np.full((points, places), np.nan)

    def ask(self, point: np.ndarray, place: np.ndarray, starts: np.ndarray, ways: np.ndarray, far: np.ndarray) -> np.ndarray:
        """(n,) the share that comes from ``far`` (n,) mm along unit ways (n, 3) to starts (n, 3). point, place: (n,) which of both each is."""
        found, anew = np.empty(len(point)), np.ones(len(point), dtype=bool)
        if self._was is not None and self._moved is not None:
            found = self._was[point, place]
            anew = np.isnan(found)
            known = np.nonzero(~anew)[0]
            anew[known] = crossing(self._moved, starts[known], ways[known], ways[known], far[known])
        found[anew] = passing(self._casters, starts[anew], ways[anew], far[anew], but=self._but)
        self.shares[point, place] = found
        return found
