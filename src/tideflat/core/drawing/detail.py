"""How finely things are drawn: a full table shares a fixed amount of drawing out among what stands on it.

Only drawing is shared out. Outlines, shares and judgements are computed from everything that the document holds.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ..model import Prop
from .pieces import DRAWN_CHORDS

#: Corners of drawn outlines, strewn pieces, and cells of skins that one view shows in full; past these each thing gets its part.
CORNERS, FINE_PIECES, COARSE_PIECES, CELLS = 2400, 240, 800, 1500
#: No outline is drawn with fewer corners, no face in fewer or more cells along a side.
LEAST_CORNERS, LEAST_SIDE, MOST_SIDE = 24, 2, 14


@dataclass(frozen=True, slots=True)
class Detail:
    """corners: most of one drawn outline. chords: of a strewn piece's circle. cells: most along a side of a face that wears a skin."""

    corners: int = CORNERS
    chords: int = DRAWN_CHORDS
    cells: int = MOST_SIDE


FINE = Detail()


def detail_for(props: Iterable[Prop]) -> Detail:
    """What each of these things may take of the drawing, by their counts alone."""
    outlines = pieces = corners = faces = 0
    for prop in props:
        outlines, corners = outlines + (prop.shape.corner_count > 0), corners + prop.shape.corner_count
        pieces += prop.shape.piece_count
        faces += len(prop.skins)
    return Detail(
        CORNERS if corners <= CORNERS else max(LEAST_CORNERS, CORNERS // outlines),
        DRAWN_CHORDS if pieces <= FINE_PIECES else 16 if pieces <= COARSE_PIECES else 8,
        MOST_SIDE if faces == 0 else min(MOST_SIDE, max(LEAST_SIDE, int((CELLS / faces) ** 0.5))),
    )


def drawn_corners(points: np.ndarray, most: int) -> np.ndarray:
    """Indices of at most ``most`` corners of (n, 2), in order: those that the outline changes most without.

    Each corner weighs as much as the triangle with its two neighbours, after Visvalingam & Whyatt, "Line generalisation by repeated
    elimination of points", Cartographic Journal 30(1), 1993, in one pass.
    """
    n = len(points)
    if n <= most:
        return np.arange(n)
    before, after = np.roll(points, 1, axis=0) - points, np.roll(points, -1, axis=0) - points
    weight = np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0])
    spread = np.linspace(0, n, max(8, most // 3), endpoint=False).astype(int)  # some all round, so that a long curve is not cut off
    weight[spread] = np.inf
    return np.sort(np.argsort(-weight, kind="stable")[:most])
