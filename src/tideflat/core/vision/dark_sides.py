"""The sides of a thing that the lens sees and that were not told from its shadow: stretch by stretch along its near edge.

Where a side is lit, the near edge of what was told from the ground is the thing's foot, and the edge of its top runs within, as far away
as the height says. Where a side is as dark as its shadow, the near edge is the top's, and the side lies beyond it.
"""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LEAST_LIGHT, ROUNDING
from .along_ring import counter_clockwise, places_along
from .edge_support import EdgePicture, asked
from .rectified import Flat
from .smooth_light import lightness

#: The edge is asked every so many mm; a side that is seen narrower than this, mm, alters nothing.
_EVERY_MM, _LEAST_MM = 1.0, 0.7
#: What lies beyond is a dark side where it has less than this share of the thing's light, and of the ground's.
_DARK, _LEFT = 0.5, 0.5
#: An edge within that is so plain, and so near to where it should be, mm, is the top's.
_PLAIN, _NEAR_MM = 0.5, 0.9
#: A stretch is told by so much of it to both sides, mm; of it so much must be dark, and no more of it have an edge within.
_AROUND_MM, _MOSTLY, _NO_EDGE = 6.0, 0.6, 0.5
#: Where a top's edge that lies well within turns out of it, it is the top's for so much further, mm, if its foot lies no further from it
#: than this, mm: deeper sides have ends that are seen.
_END_MM, _NOT_DEEP_MM = 2.0, 7.0


def with_dark_sides(seen: shapely.Polygon, picture: EdgePicture, left: np.ndarray, coarse: Flat, eye: np.ndarray, k: float) -> BaseGeometry:
    """What is seen of a thing, with those of its sides that are dark. left (h, w): share of the ground's light, over ``coarse``; eye (2,):
    the foot of the lens; k: how much larger the top is seen than the foot."""
    places, outward = ring_of(seen)
    to_foot, aside = _to_foot(places, outward, eye, k)
    near = aside > _LEAST_MM
    if not near.any():
        return seen
    is_dark = near & _is_dark(seen, places, to_foot, picture.flat, left, coarse)
    beyond = near & (_around(is_dark, near) > _MOSTLY) & ~_is_a_foot(places, outward, aside, picture, eye, k)
    return _with_strips(seen, places, to_foot, beyond)


def with_sides_below(seen: shapely.Polygon, face: shapely.Polygon, picture: EdgePicture, eye: np.ndarray, k: float) -> BaseGeometry:
    """What is seen of a thing, with the sides that go down from the edge of its lit face wherever that edge lies well within it and is the
    top's: there the foot is where the height puts it, although some of the side was told to be shadow."""
    places, outward = ring_of(face)
    to_foot, aside = _to_foot(places, outward, eye, k)
    within = (aside > _LEAST_MM) & (shapely.distance(shapely.points(places), seen.exterior) > _LEAST_MM)
    if not within.any():
        return seen
    chosen = within & ~_is_a_foot(places, outward, aside, picture, eye, k)
    by_it = _is_by(chosen, _END_MM) & (np.linalg.norm(to_foot, axis=1) <= _NOT_DEEP_MM)
    return _with_strips(seen, places, to_foot, chosen | by_it)


def _to_foot(places: np.ndarray, outward: np.ndarray, eye: np.ndarray, k: float) -> tuple[np.ndarray, np.ndarray]:
    """((n, 2) from where a top's edge is seen to where its foot is, mm; (n,) how far that lies outside: on sides that the lens sees)."""
    to_foot = (places - eye) * (1 / k - 1)
    return to_foot, (to_foot * outward).sum(axis=1)


def _is_a_foot(places: np.ndarray, outward: np.ndarray, aside: np.ndarray, picture: EdgePicture, eye: np.ndarray, k: float) -> np.ndarray:
    """(n,): whether places along an edge are a lit side's foot: the edge of the top above it runs within, as far away as the height says."""
    near = aside > _LEAST_MM
    within = asked(picture, eye + k * (places - eye), outward, _NEAR_MM, min(0.8, 0.4 * float(np.median(aside[near]))))
    return np.asarray(_around(near & (within.plain > _PLAIN) & (np.abs(within.offset) < _NEAR_MM), near) >= _NO_EDGE)


def _with_strips(seen: shapely.Polygon, places: np.ndarray, to_foot: np.ndarray, chosen: np.ndarray) -> BaseGeometry:
    """With what lies between an edge and its foot, wherever two places of it beside each other are chosen."""
    strips = []
    for a in np.flatnonzero(chosen & np.roll(chosen, -1)):
        b = (a + 1) % len(places)
        strip = shapely.Polygon([places[a], places[b], places[b] + to_foot[b], places[a] + to_foot[a]])
        strips.append(strip if strip.is_valid else strip.convex_hull)
    return seen if not strips else shapely.union_all([seen, *strips]).buffer(0.05).buffer(-0.05)


def ring_of(outline: shapely.Polygon) -> tuple[np.ndarray, np.ndarray]:
    """((n, 2) places along it, mm, counter-clockwise; (n, 2) outward, unit)."""
    count = max(24, int(outline.exterior.length / _EVERY_MM))
    places = places_along(counter_clockwise(outline), np.linspace(0, 1, count, endpoint=False))
    along = np.roll(places, -2, axis=0) - np.roll(places, 2, axis=0)
    along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), ROUNDING)
    return places, np.column_stack([along[:, 1], -along[:, 0]])


def _is_dark(seen: shapely.Polygon, places: np.ndarray, to_foot: np.ndarray, flat: Flat, left: np.ndarray, coarse: Flat) -> np.ndarray:
    """(n,) whether it is much darker than the thing, and than the ground would be there, from the edge to where the foot would be."""
    light = lightness(flat.rgb)
    own = float(np.median(light[flat.inside(seen)])) if flat.inside(seen).any() else LEAST_LIGHT
    dark = np.ones(len(places), bool)
    for share in (0.4, 0.75):
        there = places + share * to_foot
        dark &= flat.value_at(light, there) < _DARK * own
        dark &= coarse.value_at(left, there) < _LEFT
    return dark


def _is_by(chosen: np.ndarray, reach_mm: float) -> np.ndarray:
    """(n,) whether a place is chosen, or one so near along the ring."""
    reach = int(reach_mm / _EVERY_MM)
    return np.any([np.roll(chosen, step) for step in range(-reach, reach + 1)], axis=0)


def _around(chosen: np.ndarray, near: np.ndarray) -> np.ndarray:
    """(n,) share of the near places about each that are chosen."""
    reach = int(_AROUND_MM / _EVERY_MM)
    counts, total = np.zeros(len(chosen)), np.zeros(len(chosen))
    for step in range(-reach, reach + 1):
        counts += np.roll(chosen & near, step)
        total += np.roll(near, step)
    return counts / np.maximum(total, 1)
