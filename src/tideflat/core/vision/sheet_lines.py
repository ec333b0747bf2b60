"""Sheets by their straight edges: long lines that are brighter on one side, four of which go round a quadrilateral.

Line segments: R. Grompone von Gioi et al., "LSD: a fast line segment detector with a false detection control", PAMI 32(4), 2010, as
OpenCV has it. What is done with them is our own.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

import cv2
import numpy as np

from ..tolerances import ROUNDING

#: Segments shorter than this share of the picture's long side are none; ends nearer than this, pixels, to a line belong to it.
_SHORTEST, _NEAR_PX = 0.012, 2.5
#: Lines whose ways differ by less (cosine) may be one.
_ONE_WAY = 0.99
#: A line's bright side is looked at so deep, pixels; a spread of its log light of this is uneven.
_DEEP_PX, _UNEVEN = (5.0, 14.0), 0.25
#: So many of the best supported lines are tried.
_MOST_LINES = 22
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


def quadrilaterals_of_lines(light: np.ndarray) -> Iterator[np.ndarray]:
    """(4, 2) corners of quadrilaterals that are brighter inside along most of their edges. light: (h, w) uint8."""
    yield from quadrilaterals(_lines(light), light.shape)


def quadrilaterals(
    lines: list[SheetLine], shape: tuple[int, int], least: float = _LEAST_SEEN, least_all: float = _LEAST_ALL_SEEN
) -> Iterator[np.ndarray]:
    """(4, 2) corners of quadrilaterals that four of the lines go round, their bright sides inside. shape: (h, w) of the picture;
    least, least_all: the shares along which each, and all together, are seen."""
    if len(lines) < 4:
        return
    h, w = shape
    order = sorted(range(len(lines)), key=lambda k: np.arctan2(lines[k].way[1], lines[k].way[0]))
    angles = [float(np.degrees(np.arctan2(*lines[k].way[::-1]))) for k in order]
    for chosen in combinations(range(len(order)), 4):
        turns = [(angles[b] - angles[a]) % 360 for a, b in zip(chosen, chosen[1:] + chosen[:1], strict=True)]
        if min(turns) < _LEAST_TURN or max(turns) > _MOST_TURN:
            continue
        four = [lines[order[k]] for k in chosen]
        corners = _meet(four)
        if corners is None or corners.min() < -CUT_OFF * w or (corners.max(axis=0) > [w + CUT_OFF * w, h + CUT_OFF * w]).any():
            continue
        seen = [line.seen_between(a, b) for line, a, b in zip(four, corners, np.roll(corners, -1, axis=0), strict=True)]
        if min(seen) >= least and float(np.mean(seen)) >= least_all and _inside_is_left(four, corners):
            yield corners


def _lines(light: np.ndarray) -> list[SheetLine]:
    found = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD).detect(light)[0]
    if found is None:
        return []
    segments = found.reshape(-1, 2, 2).astype(float)
    lengths = np.linalg.norm(segments[:, 1] - segments[:, 0], axis=1)
    long = lengths > _SHORTEST * max(light.shape)
    segments, lengths = segments[long], lengths[long]
    lines: list[SheetLine] = []
    for (a, b), length in sorted(zip(segments, lengths, strict=True), key=lambda s: -s[1]):
        way = (b - a) / length
        if not _is_brighter_left(light, (a + b) / 2, way):
            a, b, way = b, a, -way
        for line in lines:
            if SheetLine(a, way, [(0.0, float(length))]).is_like(line):
                line.spans.append((float((a - line.start) @ line.way), float((b - line.start) @ line.way)))
                break
        else:
            lines.append(SheetLine(a, way, [(0.0, float(length))]))
    return sorted(lines, key=lambda line: -line.support * _evenness(light, line))[:_MOST_LINES]


def _evenness(light: np.ndarray, line: SheetLine) -> float:
    """1 where its bright side is as bright all along, gaps and all, as paper is; near 0 where it comes and goes, as tiles and checks do."""
    h, w = light.shape
    along = np.linspace(min(s for s, _ in line.spans), max(e for _, e in line.spans), 60)
    values = []
    for deep in _DEEP_PX:
        at = np.rint(line.start + along[:, None] * line.way + deep * _left(line.way)).astype(int)
        at = np.clip(at, 0, [w - 1, h - 1])
        values.append(np.log(light[at[:, 1], at[:, 0]].astype(float) + 1))
    spread = float(np.percentile(values, 85) - np.percentile(values, 15))
    return float(np.exp(-((spread / _UNEVEN) ** 2)))


def _left(way: np.ndarray) -> np.ndarray:
    """To the left of a way, as it is seen in a picture whose y runs down."""
    return np.array([way[1], -way[0]])


def _is_brighter_left(light: np.ndarray, middle: np.ndarray, way: np.ndarray) -> bool:
    h, w = light.shape
    sides = []
    for sign in (1, -1):
        x, y = np.rint(middle + sign * 3 * _left(way)).astype(int)
        sides.append(float(light[min(max(y, 0), h - 1), min(max(x, 0), w - 1)]))
    return sides[0] > sides[1]


def _meet(four: list[SheetLine]) -> np.ndarray | None:
    """(4, 2): where each line meets the one before it."""
    corners = []
    for first, second in zip([four[-1], *four[:-1]], four, strict=True):
        cross = first.way[0] * second.way[1] - first.way[1] * second.way[0]
        if abs(cross) < ROUNDING:
            return None
        d = second.start - first.start
        corners.append(first.start + first.way * (d[0] * second.way[1] - d[1] * second.way[0]) / cross)
    return np.array(corners)


def _inside_is_left(four: list[SheetLine], corners: np.ndarray) -> bool:
    middle = corners.mean(axis=0)
    return all(float((middle - line.start) @ _left(line.way)) > 0 for line in four)
