"""The smallest rectangle round an outline; of those nearly as small, the one that the outline lies straight in."""

from __future__ import annotations

import cv2
import numpy as np
import shapely
from shapely.affinity import affine_transform

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
    (cx, cy), (a, b), angle = cv2.minAreaRect(points.astype(np.float32))
    smallest = np.array([cx, cy, a, b, np.radians(angle)])
    outline = shapely.simplify(shapely.make_valid(shapely.Polygon(points)), _SIMPLY_MM)
    others = [one for one in _straight(points) if _is_another(one, smallest)] if outline.area > ROUNDING else []
    if others:
        matching = min(others, key=lambda one: _unlike_halves(outline, one))
        if _unlike_halves(outline, matching) < _unlike_halves(outline, smallest) - _BETTER:
            smallest = matching
    cx, cy, a, b, turn = (float(number) for number in smallest)
    angle = float(np.degrees(turn))
    if b > a:
        a, b, angle = b, a, angle + 90
    return (a, b), (cx, cy), (angle + 90) % 180 - 90


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
    turns = np.unique(np.round(np.append(ways, _principal(points)) % (np.pi / 2), 3))
    c, s = np.cos(turns)[:, None], np.sin(turns)[:, None]
    placed = np.array([c * hull[:, 0] + s * hull[:, 1], c * hull[:, 1] - s * hull[:, 0]])  # (2, turns, corners)
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


def _unlike_halves(outline: shapely.Polygon, one: np.ndarray) -> float:
    """Share of an outline's area by which it differs from itself mirrored in one of a rectangle's two middle lines, the better of them."""
    x, y, turn = one[0], one[1], one[4]
    shares = []
    for axis in (turn, turn + np.pi / 2):
        c, s = np.cos(2 * axis), np.sin(2 * axis)
        mirrored = affine_transform(outline, [c, s, s, -c, x - c * x - s * y, y - s * x + c * y])
        shares.append(outline.symmetric_difference(mirrored).area / outline.area)
    return float(min(shares))
