"""Corners of an outline that a coarse mask and smoothing have cut off: where two straight sides would meet further out, and what lies
between is the thing by its colours, it goes on to there."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import ROUNDING
from .along_ring import counter_clockwise, places_along
from .rectified import Flat
from .sharpened import largest_of
from .smooth_light import root_of_light

#: An outline is asked every so many mm. What is near a corner is left out, mm; of each side so much beyond tells its line, mm, as straight
#: as this, mm.
_EVERY_MM, _NEAR_MM, _SIDE_MM, _STRAIGHT_MM = 0.5, 3.0, 6.0, 0.3
#: The turn from one side to the next, degrees; how far out of the outline they meet, mm.
_TURN, _OUT_MM = (40.0, 155.0), (0.35, 6.0)
#: No further about a corner than this, mm, its outline is asked; one of more corners has none of its own.
_CLIPPED_MM, _MOST_CORNERS = 14.0, 24
#: Colours are told by what lies so far inside, and so far outside, of both lines, mm, no further from the corner than this, mm; by so many
#: places of either, of which those at so many nearest count; fewer tell nothing.
_WITHIN_MM, _BESIDE_MM, _ABOUT_MM, _PLACES, _NEAREST, _FEWEST = 0.8, (0.8, 3.0), 9.0, 150, 5, 12
#: Where colours are asked an outline need be no nearer than this, mm.
_SIMPLY_MM = 0.1
#: It goes on as far as in every stretch so long, mm, so much is the thing's.
_STRETCH_MM, _MOSTLY = 0.5, 0.5
#: Of one that turns by more, degrees, a piece so narrow, mm to both sides, is asked, as far as this past where its sides' lines meet, mm.
_ACUTE, _NEEDLE_MM, _FURTHER_MM = 95.0, 0.5, 3.0


def pointed(outline: shapely.Polygon, flat: Flat) -> shapely.Polygon:
    """The outline with its corners as far out as the thing is seen to go. flat: the picture that it was told in."""
    corners = list(_corners(outline, _NEAR_MM))
    if len(corners) > _MOST_CORNERS:
        return outline  # its corners are the mask's
    return _with(outline, [_as_far_as_seen(corner, outline, flat) for corner in corners])


def pointed_as(smooth: shapely.Polygon, rough: shapely.Polygon, rounded_mm: float) -> shapely.Polygon:
    """What was smoothed, rounded by so much, with its corners as far out as they were in the ``rough``."""
    rough = rough if rough.is_valid else largest_of(rough.buffer(0))
    return _with(smooth, [largest_of(corner.region.intersection(rough)) for corner in _corners(smooth, max(_NEAR_MM, 2 * rounded_mm))])


@dataclass(frozen=True, eq=False, slots=True)
class _Corner:
    """region: between an outline's two sides and where they meet, ``tip``; foot (2,): the outline's place nearest to that; turn: from one
    side to the next, degrees."""

    region: shapely.Polygon
    tip: np.ndarray
    foot: np.ndarray
    turn: float


def _with(outline: shapely.Polygon, more: Sequence[shapely.Polygon]) -> shapely.Polygon:
    if all(piece.is_empty for piece in more):
        return outline
    return shapely.Polygon(largest_of(shapely.union_all([outline, *(piece.buffer(0.05) for piece in more)])).exterior)


def _corners(outline: shapely.Polygon, near_mm: float) -> Iterator[_Corner]:
    """Where two straight sides of an outline would meet out of it. near_mm: so near to a corner its sides are not asked."""
    count = int(outline.exterior.length / _EVERY_MM)
    near, side = round(near_mm / _EVERY_MM), round(_SIDE_MM / _EVERY_MM)
    if count < 4 * (near + side):
        return
    places = places_along(counter_clockwise(outline), np.linspace(0, 1, count, endpoint=False))
    here = np.arange(count)
    every = lines_of(places[(here[:, None] + np.arange(side)) % count])
    before, before_way, before_off = (of_each[(here - near - side) % count] for of_each in every)
    after, after_way, after_off = (of_each[(here + near + 1) % count] for of_each in every)
    cross = before_way[:, 0] * after_way[:, 1] - before_way[:, 1] * after_way[:, 0]
    turn = np.degrees(np.arctan2(cross, (before_way * after_way).sum(axis=1)))
    apart = after - before
    along = (apart[:, 0] * after_way[:, 1] - apart[:, 1] * after_way[:, 0]) / np.where(np.abs(cross) < ROUNDING, 1.0, cross)
    tips = before + along[:, None] * before_way
    out = np.linalg.norm(tips - places, axis=1)
    is_corner = (np.maximum(before_off, after_off) < _STRAIGHT_MM) & (turn > _TURN[0]) & (turn < _TURN[1])
    # the corner's own place is that which lies nearest to where its sides meet
    far = np.pad(np.where(is_corner, out, np.inf), near + side, mode="wrap")
    nearest = np.lib.stride_tricks.sliding_window_view(far, 2 * (near + side) + 1).min(axis=1)
    for n in np.flatnonzero(is_corner & (out <= nearest) & (out > _OUT_MM[0]) & (out < _OUT_MM[1])):
        ends = places[(n - near) % count], places[(n + near) % count]
        lines = (before[n], before_way[n], ends[0]), (after[n], after_way[n], ends[1])
        first, last = (middle + way * float((end - middle) @ way) for middle, way, end in lines)
        yield _Corner(shapely.Polygon([first, tips[n], last]), tips[n], places[n], float(turn[n]))


def lines_of(stretches: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(middles (n, 2), ways (n, 2) along them, how far their places lie off, root mean square) of stretches (n, k, 2)."""
    middle = stretches.mean(axis=1)
    x, y = (stretches - middle[:, None]).transpose(2, 0, 1)
    turn = 0.5 * np.arctan2(2 * (x * y).sum(axis=1), (x * x - y * y).sum(axis=1))
    way = np.column_stack([np.cos(turn), np.sin(turn)])
    way *= np.sign(((stretches[:, -1] - stretches[:, 0]) * way).sum(axis=1, keepdims=True))
    off = np.sqrt(np.mean((x * -way[:, 1:] + y * way[:, :1]) ** 2, axis=1))
    return middle, way, off


def _as_far_as_seen(corner: _Corner, outline: BaseGeometry, flat: Flat) -> shapely.Polygon:
    """Of a corner what lies out of the outline, toward its tip as far as it is the thing's."""
    tip, foot = corner.tip, corner.foot
    outline = outline.intersection(shapely.box(*(tip - _CLIPPED_MM), *(tip + _CLIPPED_MM)))
    more = largest_of(corner.region.difference(outline))
    about, smooth = shapely.Point(tip).buffer(_ABOUT_MM), shapely.simplify(outline, _SIMPLY_MM)
    held = smooth.union(corner.region.buffer(0.05))
    colours = [
        _colours(flat, region)
        for region in (
            smooth.buffer(-_WITHIN_MM).intersection(about),
            held.buffer(_BESIDE_MM[1]).difference(held.buffer(_BESIDE_MM[0])).intersection(about),
        )
    ]
    if min(len(c) for c in colours) < _FEWEST:
        return shapely.Polygon()
    way, length = (tip - foot) / np.linalg.norm(tip - foot), float(np.linalg.norm(tip - foot))
    aside = np.array([-way[1], way[0]])
    reach = min(_reach(more, foot, way, length, flat, colours), length)
    on, out, back = foot + reach * way, 2 * _ABOUT_MM * aside, foot - 2 * _ABOUT_MM * way
    kept = more.intersection(shapely.Polygon([back + out, on + out, on - out, back - out])) if reach else shapely.Polygon()
    if corner.turn < _ACUTE:
        return largest_of(kept)
    # sides that bend toward each other lead further out than the lines along them, and the piece between is narrower
    narrow = _NEEDLE_MM * aside
    needle = shapely.Polygon([on - narrow, *(tip + _FURTHER_MM * way + by for by in (-narrow, narrow)), on + narrow])
    further = _reach(needle, on, way, length - reach + _FURTHER_MM, flat, colours)
    return largest_of(kept.union(shapely.Polygon([on - narrow - way, on + further * way, on + narrow - way])) if further else kept)


def _reach(region: shapely.Polygon, begin: np.ndarray, way: np.ndarray, most: float, flat: Flat, colours: Sequence[np.ndarray]) -> float:
    """How far along ``way`` from ``begin``, stretch by stretch, most of a region is the thing's, mm. colours: the thing's, and the ground's."""
    where, asked = flat.within(region)
    rows, columns = np.nonzero(asked)
    if not len(rows):
        return 0.0
    thing, ground = (_far(_seen(flat, (rows + where[0].start, columns + where[1].start)), c) for c in colours)
    at = (flat.mm(np.column_stack([columns + where[1].start, rows + where[0].start]) + 0.5) - begin) @ way
    reach = 0.0
    for end in np.arange(_STRETCH_MM, most + _STRETCH_MM, _STRETCH_MM):
        stretch = (at >= end - _STRETCH_MM) & (at < end)
        if stretch.any() and float((thing < ground)[stretch].mean()) < _MOSTLY:
            break
        reach = end
    return reach


def _seen(flat: Flat, at: tuple[np.ndarray, np.ndarray]) -> np.ndarray:
    """(n, 3): between plain light and its logarithm, as for outlines."""
    return root_of_light(flat.rgb[at][None])[0]


def _colours(flat: Flat, region: BaseGeometry) -> np.ndarray:
    where, inside = flat.within(region)
    rows, columns = np.nonzero(inside & flat.known[where])
    every = max(1, len(rows) // _PLACES)
    return _seen(flat, (rows[::every] + where[0].start, columns[::every] + where[1].start)) if len(rows) else np.zeros((0, 3))


def _far(own: np.ndarray, others: np.ndarray) -> np.ndarray:
    """(n,): how far each of (n, 3) lies from those of (m, 3) that are like it."""
    far = np.zeros((len(own), len(others)), own.dtype)
    for k in range(own.shape[1]):  # sums along a last axis of three are slow
        far += np.square(own[:, k, None] - others[None, :, k])
    return np.sqrt(np.partition(far, _NEAREST, axis=1)[:, _NEAREST])
