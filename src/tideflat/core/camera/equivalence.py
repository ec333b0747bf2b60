"""Focal lengths "as on full frame": phones and small cameras name the lens that would see as much on 36 x 24 mm.

Source: ISO 1007 for the frame of 36 x 24 mm; the ratio of the diagonals is common practice (the ratio of the widths differs from it by up
to 4 % for a 4:3 sensor, and makers use both). Lengths mm.
"""

from __future__ import annotations

import math

#: Diagonal of 36 x 24 mm.
FULL_DIAGONAL_MM = math.hypot(36, 24)


def equivalent_mm(focal_mm: float, sensor_width_mm: float, sensor_height_mm: float) -> float:
    """The focal length that sees as much on 36 x 24 mm.

    >>> round(equivalent_mm(50, 18, 12), 6)
    100.0
    """
    return focal_mm * FULL_DIAGONAL_MM / math.hypot(sensor_width_mm, sensor_height_mm)


def focal_from_equivalent_mm(equivalent: float, sensor_width_mm: float, sensor_height_mm: float) -> float:
    """The focal length of a lens that is named by its equivalent.

    >>> round(focal_from_equivalent_mm(100, 18, 12), 6)
    50.0
    """
    return equivalent * math.hypot(sensor_width_mm, sensor_height_mm) / FULL_DIAGONAL_MM
