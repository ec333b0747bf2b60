"""The four sides of a sheet as they are seen in the photograph, place by place, and the straight lines along them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..tolerances import ROUNDING, SAME_NUMBER
from .edge_points import LEAST_POINTS, steepest_step
from .sheet_edges import along_edges


@dataclass(frozen=True, eq=False)
class SheetSide:
    """One of the four edges that are looked for: its ends (2,) pixels, the unit way inward, and at shares of its length (n,) how far
    within it light rises most, pixels, and which are plain."""

    start: np.ndarray
    end: np.ndarray
    inward: np.ndarray
    shares: np.ndarray
    offset: np.ndarray
    plain: np.ndarray


def sides_of(grey: np.ndarray, corners: np.ndarray, reach: float) -> list[SheetSide]:
    shares = np.linspace(0.03, 0.97, 90)
    places = zip(corners, np.roll(corners, -1, axis=0), *along_edges(corners, shares), strict=True)
    return [SheetSide(a, b, way, shares, *steepest_step(grey, bases, way, reach)) for a, b, bases, (way,) in places]


def straight_line(edge: SheetSide, part: tuple[float, float] = (0.0, 1.0)) -> tuple[np.ndarray, float] | None:
    """The line (3,), homogeneous, through the steepest step across an edge, as far as that lies between two shares of its length, and its
    bend in pixels; None where it is not plain."""
    plain = edge.plain & (edge.shares >= part[0]) & (edge.shares <= part[1])
    if plain.sum() < LEAST_POINTS:
        return None
    line, bend = _line(edge.shares[plain], edge.offset[plain])
    start, end = edge.start + edge.inward * line[1], edge.end + edge.inward * (line[0] + line[1])
    return np.cross([*start, 1.0], [*end, 1.0]), bend


def meeting(corners: np.ndarray, lines: Sequence[tuple[np.ndarray, float] | None], reach: float) -> tuple[np.ndarray, float] | None:
    """Corners where the lines of the four edges meet, and the most that one of those bends, pixels; None where they lead elsewhere."""
    told = [line for line in lines if line is not None]
    if len(told) < len(lines):
        return None
    found = []
    for (previous, _), (line, _) in zip(told[-1:] + told[:-1], told, strict=True):
        x, y, w = np.cross(previous, line)
        if abs(w) < SAME_NUMBER:
            return None
        found.append([x / w, y / w])
    moved = np.array(found)
    return (moved, max(bend for _, bend in told)) if np.abs(moved - corners).max() < 3 * reach else None


def _line(share: np.ndarray, offset: np.ndarray) -> tuple[np.ndarray, float]:
    """Straight line through offsets, what does not follow the rest left out; and the spread of those that do."""
    kept = np.ones(len(share), dtype=bool)
    for _ in range(7):
        at, of = share[kept], offset[kept]
        aside = at - at.mean()
        slope = float(aside @ of / max(float(aside @ aside), ROUNDING))
        line = np.array([slope, of.mean() - slope * at.mean()])
        off = offset - line[0] * share - line[1]
        following, kept = kept, np.abs(off) <= max(0.4, 2.0 * float(np.median(np.abs(off[kept]))))
        if np.array_equal(following, kept):
            break  # it would be the same again
    return line, float(np.sqrt(np.mean(off[following] ** 2)))
