"""Sharpness at close range, of one lens taken as one principal point with its pupil (conventions: docs/glossary.md, "Lens").

Sources: S. F. Ray, *Applied Photographic Optics*; R. Kingslake, *Optics in Photography*. All lengths mm; u is the axial
distance from the lens to the plane of focus. Valid for u > f; raises OpticsError otherwise.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..facts.optics import AIRY_FACTOR, CONFUSION_DIVISOR, WAVELENGTH
from ..model import Sensor
from ..tolerances import ROUNDING
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


@dataclass(frozen=True, slots=True)
class Sharpness:
    """What is sharp with defocus and diffraction together: axial distances, mm. is_any: whether anything is; near is then a number, and far
    None is infinity. airy_diameter, circle_of_confusion: mm on the sensor."""

    near: float | None
    far: float | None
    circle_of_confusion: float
    airy_diameter: float

    @property
    def is_any(self) -> bool:
        return self.near is not None

    def missed(self, near_mm: float, far_mm: float) -> tuple[float, float]:
        """How much (mm) of what lies between two distances is before what is sharp, and behind it; all of it before, where nothing is."""
        if self.near is None:
            return far_mm - near_mm, 0.0
        return max(0.0, self.near - near_mm), 0.0 if self.far is None else max(0.0, far_mm - self.far)


def combined_blur_mm(defocus_mm: float, airy_mm: float) -> float:
    """Blur of defocus and diffraction together: the root of the sum of squares (common practice for blurs of different origin; scene
    document)."""
    return math.hypot(defocus_mm, airy_mm)


def sharpness(f_mm: float, marked_aperture: float, u_mm: float, confusion_mm: float, pupil_ratio: float = 1.0) -> Sharpness:
    """Near and far limits at which the combined blur is just the circle of confusion: those of defocus alone for the circle that
    diffraction leaves, ``sqrt(c^2 - a^2)``. Nothing is sharp where the Airy disc alone is as large."""
    airy = airy_diameter_mm(effective_aperture(marked_aperture, magnification(f_mm, u_mm), pupil_ratio))
    if airy >= confusion_mm:
        return Sharpness(None, None, confusion_mm, airy)
    left = math.sqrt(confusion_mm**2 - airy**2)
    zone = depth_of_field(f_mm, marked_aperture, u_mm, left, pupil_ratio)
    return Sharpness(zone.near, zone.far, confusion_mm, airy)


def best_aperture(f_mm: float, u_mm: float, near_mm: float, far_mm: float, pupil_ratio: float = 1.0) -> float:
    """The marked aperture at which the worse of two distances is sharpest: where its defocus ``K / N`` has come down to the Airy disc ``A
    N``, ``N = sqrt(K / A)``. 0 when both lie in the plane of focus: the wider, the sharper."""
    m = magnification(f_mm, u_mm)
    defocus_at_one = max(blur_mm(f_mm, 1.0, u_mm, near_mm), blur_mm(f_mm, 1.0, u_mm, far_mm))
    return math.sqrt(defocus_at_one / airy_diameter_mm(effective_aperture(1.0, m, pupil_ratio)))


def last_aperture(f_mm: float, u_mm: float, confusion_mm: float, pupil_ratio: float = 1.0) -> float:
    """The marked aperture from which on nothing is sharp: its Airy disc is the circle of confusion."""
    return confusion_mm / airy_diameter_mm(effective_aperture(1.0, magnification(f_mm, u_mm), pupil_ratio))


def frames_of_a_stack(depth_mm: float, slice_mm: float, overlap: float) -> int:
    """How many frames, each sharp over ``slice_mm``, cover a depth when neighbours share ``overlap`` of a slice:
    ``ceil((depth - o L) / (L (1 - o)))``, at least 1.

    >>> frames_of_a_stack(40, 10, 0.25), frames_of_a_stack(8, 10, 0.25)
    (5, 1)
    """
    return max(1, math.ceil((depth_mm - overlap * slice_mm) / (slice_mm * (1 - overlap)) - ROUNDING))


def blur_mm(f_mm: float, marked_aperture: float, u_mm: float, depth_mm: float) -> float:
    """Diameter on the sensor of the blur of a point ``depth_mm`` before the lens, in focus at ``u_mm``: ``(f/N) m |z - u| / z``."""
    return f_mm / marked_aperture * magnification(f_mm, u_mm) * abs(depth_mm - u_mm) / depth_mm


def aperture_for_depth(
    f_mm: float, u_mm: float, near_mm: float, far_mm: float, confusion_mm: float, pupil_ratio: float = 1.0
) -> float | None:
    """The widest marked aperture at which both distances are sharp, focused at u: defocus ``K / N`` and Airy disc ``A N`` together within
    the circle. None where none does: ``c^4 < 4 (K A)^2``."""
    defocus = max(blur_mm(f_mm, 1.0, u_mm, near_mm), blur_mm(f_mm, 1.0, u_mm, far_mm))
    airy = airy_diameter_mm(effective_aperture(1.0, magnification(f_mm, u_mm), pupil_ratio))
    under_root = confusion_mm**4 - 4 * (defocus * airy) ** 2
    if under_root < 0:
        return None
    return defocus * math.sqrt(2 / (confusion_mm**2 + math.sqrt(under_root)))  # the smaller root, K sqrt(2 / (c^2 + sqrt(...)))
