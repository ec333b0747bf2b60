"""What the sides of a thing that was measured may be off by."""

from __future__ import annotations

import numpy as np
from shapely.geometry.base import BaseGeometry

from .pose import TELLING_TILT_DEG
from .sheet import FoundSheet
from .smallest_rectangle import others_as_small
from .solid_edges import SolidSeen

#: Taken from nearly straight above the distance is known as well as the focal length that the camera noted, in whole millimetres: to this
#: share.
_DISTANCE_SHARE = 0.02
#: An outline is off by this share of what its ends are, all round.
_ALL_ABOUT = 1 / 3


def error_mm(found: FoundSheet, footprint: BaseGeometry, shape: SolidSeen | None, height_mm: float) -> float:
    """Nine in ten sides are off by less, of the photographs that measuring is held to: a plain solid shares its error out over its outline,
    any other has that of its ends, and a little of its size. What the distance is off by tells the more the nearer its top comes."""
    pixel = found.mm_per_pixel
    x0, y0, x1, y1 = footprint.bounds
    nearer = _DISTANCE_SHARE * (found.pose.enlargement_at(height_mm) - 1) * max(x1 - x0, y1 - y0) if is_by_the_note(found) else 0.0
    if shape is not None:
        return 0.3 + 0.6 * pixel + shape.off_mm + nearer
    return 0.6 + 1.2 * pixel + 0.005 * max(x1 - x0, y1 - y0) + nearer


def is_by_the_note(found: FoundSheet) -> bool:
    """Whether the distance rests on what the camera noted alone."""
    return found.pose.focal_from == "camera" and found.pose.tilt_deg < TELLING_TILT_DEG


def another_way_round(ring: np.ndarray, error_mm: float) -> tuple[float, float] | None:
    """(longer, shorter) side of the rectangle round an outline (n, 2), whose ends are off by so much, that may as well be the smallest and
    has the most other sides; None where there is but the one: of a pear they hang on the outline's least error."""
    (longer, shorter), others = others_as_small(ring, _ALL_ABOUT * error_mm)
    return max(others, key=lambda sides: max(abs(sides[0] - longer), abs(sides[1] - shorter)), default=None)
