"""Sheets by their straight edges: long lines that are brighter on one side, four of which go round a quadrilateral.

Line segments: R. Grompone von Gioi et al., "LSD: a fast line segment detector with a false detection control", PAMI 32(4), 2010, as
OpenCV has it. What is done with them is our own.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import chain, combinations

import cv2
import numpy as np

from ..tolerances import ROUNDING

#: Segments shorter than this share of the picture's long side are none; ends nearer than this, pixels, to a line belong to it.
_SHORTEST, _NEAR_PX = 0.012, 2.5
#: Lines whose ways differ by less (cosine) may be one.
_ONE_WAY = 0.99
#: Segments are looked for in a picture so much smaller.
_LSD_SCALE = 0.6
#: A line's bright side is looked at so deep, pixels; a spread of its log light of this is uneven.
_DEEP_PX, _UNEVEN = (5.0, 14.0), 0.25
#: So many of the best supported lines are tried.
_MOST_LINES = 22
#: So many quadrilaterals, the most seen first, are given.
_MOST_TRIED = 60
#: An edge is seen along so much of its length at least, and the four together along so much.
_LEAST_SEEN, _LEAST_ALL_SEEN = 0.22, 0.45
#: A corner may lie so far outside of the picture, of its width, where its edges are seen.
CUT_OFF = 0.1
#: The turn from one edge to the next, degrees.
_LEAST_TURN, _MOST_TURN = 40.0, 140.0


@dataclass(eq=False)
class SheetLine:
    """start (2,), way (2,) unit, the bright side to the left of it (in a picture, y down); spans: (from, to) along the way."""

    start: np.ndarray
    way: np.ndarray
    spans: list[tuple[float, float]]

    @property
    def support(self) -> float:
        return sum(b - a for a, b in self.spans)

    def is_like(self, other: SheetLine) -> bool:
        """Whether both are one line."""
        out = np.array([-other.way[1], other.way[0]])
        ends = [self.start + self.way * at for at in (self.spans[0][0], self.spans[-1][1])]
        return bool(self.way @ other.way > _ONE_WAY) and max(abs(float((end - other.start) @ out)) for end in ends) < _NEAR_PX

    def seen_between(self, a: np.ndarray, b: np.ndarray) -> float:
        """Share of the stretch from a to b along which it is seen."""
        low, high = sorted((float((a - self.start) @ self.way), float((b - self.start) @ self.way)))
        inside = [(max(low, s), min(high, e)) for s, e in self.spans]
        covered, end = 0.0, low
        for s, e in sorted(span for span in inside if span[1] > span[0]):
            covered += max(0.0, e - max(s, end))
            end = max(end, e)
        return covered / max(high - low, ROUNDING)


def quadrilaterals_of_lines(light: np.ndarray, *, is_shaded: bool = False) -> Iterator[np.ndarray]:
    """(4, 2) corners of quadrilaterals that are brighter inside along most of their edges. light: (h, w) uint8. is_shaded: shadows and
    things may lie across an edge."""
    yield from quadrilaterals(_lines(light, is_shaded=is_shaded), light.shape)


def quadrilaterals(
    lines: list[SheetLine], shape: tuple[int, ...], least: float = _LEAST_SEEN, least_all: float = _LEAST_ALL_SEEN
) -> Iterator[np.ndarray]:
    """(4, 2) corners of quadrilaterals that four of the lines go round, their bright sides inside, the most seen first. shape: (h, w) of
    the picture; least, least_all: the shares along which each, and all together, are seen."""
    if len(lines) < 4:
        return
    h, w = shape
    ways = np.array([line.way for line in lines])
    order = np.argsort(np.arctan2(ways[:, 1], ways[:, 0]))
    ways, starts = ways[order], np.array([lines[k].start for k in order])
    angles = np.degrees(np.arctan2(ways[:, 1], ways[:, 0]))
    chosen = np.fromiter(chain.from_iterable(combinations(range(len(order)), 4)), dtype=int).reshape(-1, 4)
    turns = (angles[np.roll(chosen, -1, axis=1)] - angles[chosen]) % 360
    chosen = chosen[(turns.min(axis=1) >= _LEAST_TURN) & (turns.max(axis=1) <= _MOST_TURN)]
    corners = _meet(starts[chosen], ways[chosen])
    is_near = (corners.min(axis=(1, 2)) >= -CUT_OFF * w) & (corners.max(axis=1) <= [w + CUT_OFF * w, h + CUT_OFF * w]).all(axis=1)
    inward = corners.mean(axis=1, keepdims=True) - starts[chosen]
    is_inside = ((inward * _left(ways[chosen])).sum(axis=2) > 0).all(axis=1)
    found: list[tuple[float, np.ndarray]] = []
    for n in np.flatnonzero(is_near & is_inside):
        four = [lines[order[k]] for k in chosen[n]]
        seen = [line.seen_between(a, b) for line, a, b in zip(four, corners[n], np.roll(corners[n], -1, axis=0), strict=True)]
        if min(seen) >= least and float(np.mean(seen)) >= least_all:
            found.append((-float(np.mean(seen)), corners[n]))
    yield from (four for _, four in sorted(found, key=lambda one: one[0])[:_MOST_TRIED])


def _lines(light: np.ndarray, *, is_shaded: bool) -> list[SheetLine]:
    found = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD, _LSD_SCALE).detect(light)[0]
    if found is None:
        return []
    segments = found.reshape(-1, 2, 2).astype(float)
    lengths = np.linalg.norm(segments[:, 1] - segments[:, 0], axis=1)
    long = lengths > _SHORTEST * max(light.shape)
    segments, lengths = segments[long], lengths[long]
    if not len(segments):
        return []
    order = np.argsort(-lengths, kind="stable")
    begin, end, lengths = segments[order, 0], segments[order, 1], lengths[order]
    ways = (end - begin) / lengths[:, None]
    turned = ~_are_brighter_left(light, (begin + end) / 2, ways)
    begin[turned], end[turned], ways[turned] = end[turned], begin[turned], -ways[turned]
    lines = _joined(begin, end, ways)
    evenness = _evenness(light, lines, is_shaded=is_shaded)
    best = sorted(range(len(lines)), key=lambda n: -lines[n].support * evenness[n])
    return [lines[n] for n in best[:_MOST_LINES]]


def _joined(begin: np.ndarray, end: np.ndarray, ways: np.ndarray) -> list[SheetLine]:
    """Segments (n, 2), the longest first, that lie along a longer one are that line's."""
    lines: list[SheetLine] = []
    left = np.arange(len(ways))
    while len(left):
        first, start, way = left[0], begin[left[0]], ways[left[0]]
        from_, to = begin[left] - start, end[left] - start
        off = np.maximum(np.abs(from_[:, 1] * way[0] - from_[:, 0] * way[1]), np.abs(to[:, 1] * way[0] - to[:, 0] * way[1]))
        is_of_it = (ways[left] @ way > _ONE_WAY) & (off < _NEAR_PX)
        is_of_it[0] = True
        spans = np.column_stack([from_[is_of_it] @ way, to[is_of_it] @ way]).tolist()
        lines.append(SheetLine(begin[first], way, [(a, b) for a, b in spans]))
        left = left[~is_of_it]
    return lines


def _evenness(light: np.ndarray, lines: list[SheetLine], *, is_shaded: bool) -> np.ndarray:
    """(n,): 1 where a line's bright side is as bright all along, gaps and all, as paper is; near 0 where it comes and goes, as tiles and
    checks do. is_shaded: along the longest of its spans."""
    h, w = light.shape
    starts, ways = np.array([line.start for line in lines]), np.array([line.way for line in lines])
    if is_shaded:
        ends = np.array([max(line.spans, key=lambda span: span[1] - span[0]) for line in lines])
    else:
        ends = np.array([(min(s for s, _ in line.spans), max(e for _, e in line.spans)) for line in lines])
    along = ends[:, :1] + (ends[:, 1:] - ends[:, :1]) * np.linspace(0, 1, 60)
    values = []
    for deep in _DEEP_PX:
        at = np.rint(starts[:, None] + along[..., None] * ways[:, None] + deep * _left(ways)[:, None]).astype(int)
        at = np.clip(at, 0, [w - 1, h - 1])
        values.append(np.log(light[at[..., 1], at[..., 0]].astype(float) + 1))
    low, high = np.percentile(np.concatenate(values, axis=1), (15, 85), axis=1)
    return np.asarray(np.exp(-(((high - low) / _UNEVEN) ** 2)))


def _left(way: np.ndarray) -> np.ndarray:
    """To the left of ways (..., 2), as they are seen in a picture whose y runs down."""
    return np.stack([way[..., 1], -way[..., 0]], axis=-1)


def _are_brighter_left(light: np.ndarray, middles: np.ndarray, ways: np.ndarray) -> np.ndarray:
    h, w = light.shape
    sides = []
    for sign in (1, -1):
        at = np.clip(np.rint(middles + sign * 3 * _left(ways)).astype(int), 0, [w - 1, h - 1])
        sides.append(light[at[:, 1], at[:, 0]])
    return np.asarray(sides[0] > sides[1])


def _meet(starts: np.ndarray, ways: np.ndarray) -> np.ndarray:
    """(n, 4, 2): where each of four lines meets the one before it; not a number where it does not."""
    first_start, first_way = np.roll(starts, 1, axis=1), np.roll(ways, 1, axis=1)
    cross = first_way[..., 0] * ways[..., 1] - first_way[..., 1] * ways[..., 0]
    cross = np.where(np.abs(cross) < ROUNDING, np.nan, cross)
    d = starts - first_start
    along = (d[..., 0] * ways[..., 1] - d[..., 1] * ways[..., 0]) / cross
    return np.asarray(first_start + first_way * along[..., None])
