"""Sharpness at close range, of one lens taken as one principal point with its pupil (conventions: docs/glossary.md, "Lens").

Sources: S. F. Ray, *Applied Photographic Optics*; R. Kingslake, *Optics in Photography*. All lengths mm; u is the axial
distance from the lens to the plane of focus. Valid for u > f; raises OpticsError otherwise.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..facts.optics import AIRY_FACTOR, CONFUSION_DIVISOR, WAVELENGTH
from ..model import Sensor
from .lens import magnification


@dataclass(frozen=True, slots=True)
class DepthOfField:
    """Axial distances from the lens in mm; ``far`` and ``total`` are None when sharpness reaches to infinity."""

    near: float
    far: float | None
    total: float | None
    circle_of_confusion: float
    effective_aperture: float
    airy_diameter: float


def circle_of_confusion_mm(sensor: Sensor, given_mm: float | None) -> float:
    """The given one, or the sensor's diagonal / 1442."""
    return given_mm if given_mm is not None else math.hypot(sensor.width, sensor.height) / CONFUSION_DIVISOR.value


def effective_aperture(marked: float, m: float, pupil_ratio: float) -> float:
    """``N (1 + m / P)``, P = exit pupil / entrance pupil."""
    return marked * (1 + m / pupil_ratio)


def airy_diameter_mm(effective: float) -> float:
    """Diameter of the Airy disc at 550 nm: 2.44 lambda N."""
    return AIRY_FACTOR.value * WAVELENGTH.value * effective


def depth_of_field(f_mm: float, marked_aperture: float, u_mm: float, confusion_mm: float, pupil_ratio: float = 1.0) -> DepthOfField:
    """Exact near and far limits with the marked aperture: ``u f^2 / (f^2 +- N c (u - f))``."""
    m = magnification(f_mm, u_mm)
    spread = marked_aperture * confusion_mm * (u_mm - f_mm)
    near = u_mm * f_mm**2 / (f_mm**2 + spread)
    far = u_mm * f_mm**2 / (f_mm**2 - spread) if f_mm**2 > spread else None
    total = None if far is None else far - near
    effective = effective_aperture(marked_aperture, m, pupil_ratio)
    return DepthOfField(near, far, total, confusion_mm, effective, airy_diameter_mm(effective))


def blur_mm(f_mm: float, marked_aperture: float, u_mm: float, depth_mm: float) -> float:
    """Diameter on the sensor of the blur of a point ``depth_mm`` before the lens, in focus at ``u_mm``: ``(f/N) m |z - u| / z``."""
    return f_mm / marked_aperture * magnification(f_mm, u_mm) * abs(depth_mm - u_mm) / depth_mm


def aperture_for_depth(f_mm: float, u_mm: float, near_mm: float, far_mm: float, confusion_mm: float) -> float:
    """The marked aperture at which both distances are just sharp while the lens is focused at u."""
    per_aperture = confusion_mm * (u_mm - f_mm) / f_mm**2
    need_near = (u_mm / near_mm - 1) / per_aperture
    need_far = (1 - u_mm / far_mm) / per_aperture
    return max(need_near, need_far, 0.0)
