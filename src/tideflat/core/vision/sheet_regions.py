"""Sheets by what of them is free of edges: on white checks paper is the one place as wide that none runs through.

Where a check is as bright as the paper its border is hardly seen; a disc wider than a check, rolled about within the region that edges
leave free, does not get out there. What it touches is edge of the sheet, or of what lies on it; the sheet's own have it all on one side.
"""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np

from ..tolerances import ROUNDING
from .sheet_lines import SheetLine, quadrilaterals

#: Edges as faint as this (Canny's levels) bound a region; it is looked at with a blur of so many pixels.
_EDGES, _BLUR_PX = (10.0, 26.0), 1.3
#: The disc against the largest that finds room in the picture, largest first; one smaller than this, pixels, is none.
_DISCS, _LEAST_DISC_PX = (0.6, 0.4, 0.25), 6.0
#: So many regions are looked into; a smaller share of the picture is none.
_REGIONS, _LEAST_SHARE = 2, 0.012
#: A place of an edge so near, pixels, is touched.
_TOUCHED_PX = 2
#: A line is looked for in steps of this turn, degrees; its places lie so near it, pixels; it touches so much of a region's width.
_TURN_DEG, _ON_PX, _LEAST_TOUCHED = 0.5, 2.0, 0.08
#: Lines so near to one that was looked at, pixels and degrees, are that.
_NEAR_RHO_PX, _NEAR_DEG = 2.5, 0.8
#: So much of a region, of which every so manieth pixel is asked, may lie beyond a line, further than this, pixels.
_BEYOND, _SPARSE, _BEYOND_PX = 0.03, 5, 3.0
#: An edge is touched along so much of its length at least, and the four together along so much.
_LEAST_SEEN, _LEAST_ALL_SEEN = 0.07, 0.25
#: Gaps as short as this, pixels, are none; so many lines are tried with each disc, of so many turns and places.
_GAP_PX, _MOST_LINES, _MOST_LOOKED = 6.0, 8, 150


def quadrilaterals_of_regions(light: np.ndarray) -> Iterator[np.ndarray]:
    """(4, 2) corners of quadrilaterals that go round what no edge runs through. light: (h, w) uint8."""
    edges = (cv2.Canny(cv2.GaussianBlur(light, (0, 0), _BLUR_PX), *_EDGES) > 0).astype(np.uint8)
    room = cv2.distanceTransform(1 - edges, cv2.DIST_L2, 3)
    largest = float(room.max())
    if largest * _DISCS[-1] < _LEAST_DISC_PX:
        return
    labels = [_rolled(room, share * largest) for share in _DISCS]
    for number, area in _largest(labels[0]):
        if area < _LEAST_SHARE * light.size:
            break
        within = int(np.where(labels[0] == number, room, 0).argmax())
        lines: list[SheetLine] = []
        for label in labels:
            region = (label == label.flat[within]).astype(np.uint8)
            touched = cv2.bitwise_and(cv2.dilate(region, np.ones((2 * _TOUCHED_PX + 1,) * 2, np.uint8)), edges)
            lines += _lines(touched, region, lines)
        yield from quadrilaterals(lines, light.shape, _LEAST_SEEN, _LEAST_ALL_SEEN)


def _rolled(room: np.ndarray, disc: float) -> np.ndarray:
    """(h, w): numbers, from 1, of the regions that a disc of that radius covers where it finds room."""
    covered = cv2.distanceTransform((room < disc).astype(np.uint8), cv2.DIST_L2, 3) <= disc
    return np.asarray(cv2.connectedComponents(covered.astype(np.uint8), connectivity=4)[1])


def _largest(labels: np.ndarray) -> list[tuple[int, int]]:
    """(number, pixels) of the largest regions."""
    areas = np.bincount(labels.ravel())
    areas[0] = 0
    return [(int(k), int(areas[k])) for k in np.argsort(-areas)[:_REGIONS]]


def _lines(touched: np.ndarray, region: np.ndarray, known: list[SheetLine]) -> list[SheetLine]:
    """The lines that run along a region, it to their bright side, those that touch the most of it first; none that is known."""
    within = _SPARSE * _places(np.ascontiguousarray(region[::_SPARSE, ::_SPARSE]))
    least = max(12, int(_LEAST_TOUCHED * np.sqrt(float(region.sum()))))
    found = cv2.HoughLines(touched, 1, np.radians(_TURN_DEG), least)
    if found is None:
        return []
    places = _places(touched)
    lines: list[SheetLine] = []
    looked: list[tuple[float, float]] = []
    for rho, theta in found[:_MOST_LOOKED, 0].tolist():
        if any(abs(rho - r) < _NEAR_RHO_PX and abs(theta - t) < np.radians(_NEAR_DEG) for r, t in looked):
            continue  # it would come to the same line
        looked.append((rho, theta))
        line = _line(places, within, np.array([np.cos(theta), np.sin(theta)]), rho)
        if line is not None and line.support >= least and not any(line.is_like(other) for other in (*known, *lines)):
            lines.append(line)
            if len(lines) == _MOST_LINES:
                break
    return lines


def _places(mask: np.ndarray) -> np.ndarray:
    """(2, n): x and y of the pixels of a mask."""
    found = cv2.findNonZero(mask)
    return np.zeros((2, 0)) if found is None else found.reshape(-1, 2).T.astype(float, order="C")


def _line(places: np.ndarray, within: np.ndarray, normal: np.ndarray, rho: float) -> SheetLine | None:
    """The line near that one through what is touched; None where the region lies to both sides of it."""
    for _ in range(2):
        on = np.abs(normal @ places - rho) < _ON_PX
        x, y = places[0, on], places[1, on]
        if len(x) < 2:
            return None
        middle = np.array([x.mean(), y.mean()])
        x, y = x - middle[0], y - middle[1]
        turn = 0.5 * np.arctan2(2 * (x @ y), x @ x - y @ y)  # of the way that they lie along
        normal = np.array([-np.sin(turn), np.cos(turn)])
        rho = float(middle @ normal)
    aside = normal @ within - rho
    if aside.mean() < 0:
        normal, rho, aside = -normal, -rho, -aside
    if (aside < -_BEYOND_PX).mean() > _BEYOND:
        return None
    way = np.array([-normal[1], normal[0]])  # what is bright lies to its left (y runs down)
    along = np.sort(way @ places[:, np.abs(normal @ places - rho) < _ON_PX])
    if len(along) < 2:
        return None
    ends = np.flatnonzero(np.diff(along) > _GAP_PX)
    spans = zip(along[np.concatenate([[0], ends + 1])], along[np.concatenate([ends, [-1]])], strict=True)
    return SheetLine(
        normal * rho, way, [(float(a), float(b)) for a, b in spans if b - a > ROUNDING] or [(float(along[0]), float(along[0]))]
    )
