"""Circles that a region's outline runs along: of a round thing half of which is told from the ground, its edge is an arc."""

from __future__ import annotations

import numpy as np
import shapely

from ..tolerances import ROUNDING
from .along_ring import counter_clockwise, places_along

#: An outline is asked at so many places; three of them, so many apart, lie on a circle.
_PLACES, _APART = 96, (7, 12, 20)
#: Diameters, mm; a place so near to a circle, mm, is on it, which is followed along so much of it; so many are given, so far apart, mm.
_DIAMETERS, _NEAR_MM, _FOLLOWED, _MOST, _SAME_MM = (22.0, 330.0), 1.2, 0.3, 2, 3.0


def circles_along(region: shapely.Polygon) -> list[np.ndarray]:
    """(x, y, diameter), mm, those first that the most of its outline runs along."""
    places = places_along(counter_clockwise(region), np.linspace(0, 1, _PLACES, endpoint=False))
    first, middle, last = (np.concatenate([np.roll(places, -k * by, axis=0) for by in _APART]) for k in range(3))
    found = _through(first, middle, last)
    found = found[(found[:, 2] > _DIAMETERS[0]) & (found[:, 2] < _DIAMETERS[1])]
    far = np.sqrt((places[:, 0] - found[:, :1]) ** 2 + (places[:, 1] - found[:, 1:2]) ** 2)
    on = (np.abs(far - found[:, 2:] / 2) < _NEAR_MM).mean(axis=1)
    followed = on * region.exterior.length / (np.pi * found[:, 2])
    kept: list[np.ndarray] = []
    for n in np.argsort(-followed, kind="stable"):
        if followed[n] < _FOLLOWED or len(kept) == _MOST:
            break
        if all(np.abs(found[n] - other).max() > _SAME_MM for other in kept):
            kept.append(found[n])
    return kept


def _through(first: np.ndarray, middle: np.ndarray, last: np.ndarray) -> np.ndarray:
    """(n, 3) circles through three places (n, 2) each that turn to the left, as round a thing; of others none."""
    a, b = middle - first, last - first
    twice = 2 * (a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])
    turns = twice > ROUNDING
    a, b, twice, first = a[turns], b[turns], twice[turns], first[turns]
    of_a, of_b = (a * a).sum(axis=1), (b * b).sum(axis=1)
    to = np.column_stack([b[:, 1] * of_a - a[:, 1] * of_b, a[:, 0] * of_b - b[:, 0] * of_a]) / twice[:, None]
    return np.column_stack([first + to, 2 * np.linalg.norm(to, axis=1)])
