"""Optical and mechanical facts."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Fact:
    value: float
    unit: str
    source: str


#: First dark ring of the Airy pattern: diameter = 2.44 lambda N (3.8317 x 2 / pi, first zero of the Bessel function J1).
AIRY_FACTOR = Fact(2.44, "1", "any optics text; Ray, Applied Photographic Optics")
WAVELENGTH = Fact(0.000550, "mm", "550 nm, middle of the visible band; scene document")
#: Circle of confusion as a share of the sensor's diagonal when none is given.
CONFUSION_DIVISOR = Fact(1442, "1", "scene document; 43.27 mm / 1442 = 0.030 mm, the usual value for 36 x 24")
#: The body behind the lens, for clearances.
BACK_PLATE_WIDTH = Fact(140, "mm", "scene document")
BACK_PLATE_HEIGHT = Fact(100, "mm", "scene document")
BACK_PLATE_BEHIND_SENSOR = Fact(35, "mm", "scene document")
#: Marked stops in thirds, as engraved on lenses.
THIRD_STOPS: tuple[float, ...] = (
    1.0,
    1.1,
    1.2,
    1.4,
    1.6,
    1.8,
    2.0,
    2.2,
    2.5,
    2.8,
    3.2,
    3.5,
    4.0,
    4.5,
    5.0,
    5.6,
    6.3,
    7.1,
    8.0,
    9.0,
    10.0,
    11.0,
    13.0,
    14.0,
    16.0,
    18.0,
    20.0,
    22.0,
    25.0,
    29.0,
    32.0,
)  # ISO 517 series, thirds rounded as engraved; from memory
