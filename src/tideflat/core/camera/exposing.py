"""How long a picture may be exposed: against a hand that holds the camera, and against what moves before it.

A thing that moves square to the axis by v mm/s, shown m times its size, smears v m t on the sensor. What falls from a height has fallen to
``sqrt(2 g h)`` (free fall; I. Newton). The rule of one over the focal length for a hand is common practice: 0.03 mm on the sensor in that
time is a turn of 0.03 radians a second, which at the table is over a longer principal distance. Lengths mm, times s.
"""

from __future__ import annotations

import math

import numpy as np

from ..facts.practice import HAND_TURNS
from .view import View

#: Standard acceleration of free fall, mm/s^2 (CGPM 1901, 9.80665 m/s^2).
FREE_FALL = 9806.65


def speed_of_fall(height_mm: float) -> float:
    """Speed (mm/s) of what has fallen from rest by ``height_mm``: ``sqrt(2 g h)``.

    >>> round(speed_of_fall(200))
    1981
    """
    return math.sqrt(2 * FREE_FALL * max(0.0, height_mm))


def crossing_mm_s(view: View, at: np.ndarray, speed: float, toward: np.ndarray) -> float:
    """Speed on the sensor (mm/s) of the picture of a point ``at`` (3,) that moves at ``speed`` along ``toward`` (3,)."""
    way = np.asarray(toward, dtype=float)
    velocity = speed * way / float(np.linalg.norm(way))
    from_pupil = np.asarray(at, dtype=float) - view.position
    depth = float(from_pupil @ view.forward)
    nearer = float(velocity @ view.forward)
    rates = [
        (float(velocity @ axis) * depth - float(from_pupil @ axis) * nearer) / depth**2 * view.principal_distance
        for axis in (view.right, view.up)
    ]
    return math.hypot(*rates)


def longest_handheld_s(principal_distance_mm: float, confusion_mm: float) -> float:
    """The longest time in which a hand's turning blurs by no more than the circle of confusion.

    >>> round(1 / longest_handheld_s(50, 0.03))
    50
    """
    return confusion_mm / (HAND_TURNS.value * principal_distance_mm)
