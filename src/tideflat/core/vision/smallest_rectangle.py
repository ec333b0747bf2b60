"""The smallest rectangle round an outline; of those nearly as small, the one that the outline lies straight in."""

from __future__ import annotations

import cv2
import numpy as np
import shapely
from shapely.affinity import affine_transform
from shapely.geometry.base import BaseGeometry

from ..tolerances import ROUNDING

#: Rectangles are nearly as small that cover no more than so much more: the three along a triangle's sides cover the same.
_NEARLY = 0.03
#: One of other sides than the smallest, by this share, is taken where the outline's two halves match better, by this share of its area.
_OTHER_SIDES, _BETTER = 0.01, 0.05
#: Halves are compared to within this, mm: it is nothing beside their area, and an outline of a photograph has a thousand corners.
_SIMPLY_MM = 0.1


def smallest_rectangle(points: np.ndarray) -> tuple[tuple[float, float], tuple[float, float], float]:
    """((longer, shorter) side, centre, angle in degrees of the longer side from +x) of the smallest rectangle around an outline (n, 2), n
    at least 3. Where others are nearly as small, of the one whose middle line parts the outline in two halves that match: a slice of cake
    is as long as from its tip to the middle of its back, not as one of its sides."""
    smallest, outline = _least(points), _simply(points)
    others = [one for one in _straight(points) if _is_another(one, smallest)] if outline.area > ROUNDING else []
    if others:
        matching = min(others, key=lambda one: _unlike_halves(outline, one))
        unlike = _unlike_halves(outline, matching)
        # what is only nearer to its middle line is no better: that lies in a rectangle which is not nearly as small
        if unlike < _unlike_halves(outline, smallest) - _BETTER and unlike <= _unlike_halves(outline, _along_its_middle(points)) + _BETTER:
            smallest = matching
    cx, cy, a, b, turn = (float(number) for number in smallest)
    angle = float(np.degrees(turn))
    if b > a:
        a, b, angle = b, a, angle + 90
    return (a, b), (cx, cy), (angle + 90) % 180 - 90


def others_as_small(points: np.ndarray, off_mm: float) -> tuple[tuple[float, float], list[tuple[float, float]]]:
    """(longer, shorter) side of ``smallest_rectangle``, and of those round an outline that is off by so much that might as well have been
    it: as small, its halves matching no worse; or that along its middle, where the outline's least error tells whether that is taken."""
    (longer, shorter), _, _ = smallest_rectangle(points)
    outline = _simply(points)
    if outline.area <= ROUNDING:
        return (longer, shorter), []
    around = off_mm * (longer + shorter)
    every, least, along = _straight(points), _least(points), _along_its_middle(points)
    own = min((*every, least), key=lambda one: abs(max(one[2:4]) - longer) + abs(min(one[2:4]) - shorter))
    most = _unlike_halves(outline, own) + _BETTER
    asked = [one for one in every if one[2] * one[3] <= longer * shorter + around and abs(max(one[2:4]) - longer) > _OTHER_SIDES * longer]
    found = [one for one in asked if _unlike_halves(outline, one) <= most]
    is_near = abs(along[2] * along[3] - (1 + _NEARLY) * least[2] * least[3]) <= around / 2
    if is_near and _unlike_halves(outline, along) < _unlike_halves(outline, least) - _BETTER:
        found += [along, least]
    return (longer, shorter), [(float(max(one[2:4])), float(min(one[2:4]))) for one in found]


def _least(points: np.ndarray) -> np.ndarray:
    """(x, y, a, b, turn) of the smallest rectangle, of those nearly as small whichever."""
    (cx, cy), (a, b), angle = cv2.minAreaRect(points.astype(np.float32))
    return np.array([cx, cy, a, b, np.radians(angle)])


def _simply(points: np.ndarray) -> BaseGeometry:
    return shapely.simplify(shapely.make_valid(shapely.Polygon(points)), _SIMPLY_MM)


def least_sides(points: np.ndarray) -> tuple[float, float]:
    """(longer, shorter) side of the smallest rectangle, of those nearly as small whichever."""
    _, (a, b), _ = cv2.minAreaRect(points.astype(np.float32))
    return max(a, b), min(a, b)


def _is_another(one: np.ndarray, smallest: np.ndarray) -> bool:
    longer, least = max(one[2:4]), max(smallest[2:4])
    return bool(one[2] * one[3] <= (1 + _NEARLY) * smallest[2] * smallest[3] and abs(longer - least) > _OTHER_SIDES * least)


def _straight(points: np.ndarray) -> list[np.ndarray]:
    """(x, y, a, b, turn) of the rectangle along each side of the hull, of which one is the smallest (Freeman and Shapira 1975, from
    memory); and of that along the outline's principal axes, of which one is its middle line if it has one."""
    hull = shapely.get_coordinates(shapely.convex_hull(shapely.MultiPoint(points)))
    along = np.diff(hull, axis=0)
    ways = np.arctan2(along[:, 1], along[:, 0])
    return _turned(hull, np.unique(np.round(np.append(ways, _principal(points)) % (np.pi / 2), 3)))


def _along_its_middle(points: np.ndarray) -> np.ndarray:
    """The same along the outline's principal axes alone."""
    return _turned(points, np.array([_principal(points)]))[0]


def _turned(places: np.ndarray, turns: np.ndarray) -> list[np.ndarray]:
    """(x, y, a, b, turn) of the rectangle round places (n, 2) along each turn, radians."""
    c, s = np.cos(turns)[:, None], np.sin(turns)[:, None]
    placed = np.array([c * places[:, 0] + s * places[:, 1], c * places[:, 1] - s * places[:, 0]])  # (2, turns, n)
    low, high = placed.min(axis=2), placed.max(axis=2)
    (along_x, along_y), (wide, deep) = (low + high) / 2, high - low
    return list(np.column_stack([c[:, 0] * along_x - s[:, 0] * along_y, s[:, 0] * along_x + c[:, 0] * along_y, wide, deep, turns]))


def _principal(ring: np.ndarray) -> float:
    """The turn of the principal axes of what an outline encloses, radians: its second moments by Green's theorem."""
    x, y = (ring - ring.mean(axis=0)).T
    x1, y1 = np.roll(x, -1), np.roll(y, -1)
    twice = x * y1 - x1 * y
    area = twice.sum() / 2
    if abs(area) < ROUNDING:
        return 0.0
    cx, cy = ((x + x1) @ twice / (6 * area), (y + y1) @ twice / (6 * area))
    xx = (x * x + x * x1 + x1 * x1) @ twice / 12 - area * cx * cx
    yy = (y * y + y * y1 + y1 * y1) @ twice / 12 - area * cy * cy
    xy = (x * y1 + 2 * x * y + 2 * x1 * y1 + x1 * y) @ twice / 24 - area * cx * cy
    return float(np.arctan2(2 * xy, xx - yy) / 2)


def _unlike_halves(outline: BaseGeometry, one: np.ndarray) -> float:
    """Share of an outline's area by which it differs from itself mirrored in one of a rectangle's two middle lines, the better of them."""
    x, y, turn = one[0], one[1], one[4]
    shares = []
    for axis in (turn, turn + np.pi / 2):
        c, s = np.cos(2 * axis), np.sin(2 * axis)
        mirrored = affine_transform(outline, [c, s, s, -c, x - c * x - s * y, y - s * x + c * y])
        shares.append(outline.symmetric_difference(mirrored).area / outline.area)
    return float(min(shares))
