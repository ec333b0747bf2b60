"""Sharpness at close range (conventions: docs/glossary.md, "Lens").

Sources: S. F. Ray, *Applied Photographic Optics*; R. Kingslake, *Optics in Photography*. All lengths mm; every
distance is told from the lens's principal point, and worked from its entrance pupil where that is elsewhere.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import OpticsError
from ..facts.optics import AIRY_FACTOR, CONFUSION_DIVISOR, WAVELENGTH
from ..model import Sensor
from ..tolerances import ROUNDING
from .lens import Focused


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


def depth_of_field(lens: Focused, marked_aperture: float, confusion_mm: float) -> DepthOfField:
    """Exact near and far limits with the marked aperture, worked from the entrance pupil and told from the principal point: the plane of
    focus over ``1 +- N c / (f m)``; where P is 1, ``u f^2 / (f^2 +- N c (u - f))``."""
    spread = confusion_mm / (lens.aperture_mm(marked_aperture) * lens.magnification)
    near = lens.pupil_distance / (1 + spread) - lens.pupil_behind
    far = lens.pupil_distance / (1 - spread) - lens.pupil_behind if spread < 1 else None
    total = None if far is None else far - near
    effective = effective_aperture(marked_aperture, lens.magnification, lens.pupil_ratio)
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


def airy_of(lens: Focused, marked_aperture: float) -> float:
    """Diameter (mm) of the Airy disc on the sensor at an f-stop."""
    return airy_diameter_mm(effective_aperture(marked_aperture, lens.magnification, lens.pupil_ratio))


def sharpness(lens: Focused, marked_aperture: float, confusion_mm: float) -> Sharpness:
    """Near and far limits at which the combined blur is just the circle of confusion: those of defocus alone for the circle that
    diffraction leaves, ``sqrt(c^2 - a^2)``. Nothing is sharp where the Airy disc alone is as large."""
    airy = airy_of(lens, marked_aperture)
    if airy >= confusion_mm:
        return Sharpness(None, None, confusion_mm, airy)
    zone = depth_of_field(lens, marked_aperture, math.sqrt(confusion_mm**2 - airy**2))
    return Sharpness(zone.near, zone.far, confusion_mm, airy)


def best_aperture(lens: Focused, near_mm: float, far_mm: float) -> float:
    """The marked aperture at which the worse of two distances is sharpest: where its defocus ``K / N`` has come down to the Airy disc ``A
    N``, ``N = sqrt(K / A)``. 0 when both lie in the plane of focus: the wider, the sharper."""
    defocus_at_one = max(blur_mm(lens, 1.0, near_mm), blur_mm(lens, 1.0, far_mm))
    return math.sqrt(defocus_at_one / airy_of(lens, 1.0))


def last_aperture(lens: Focused, confusion_mm: float) -> float:
    """The marked aperture from which on nothing is sharp: its Airy disc is the circle of confusion."""
    return confusion_mm / airy_of(lens, 1.0)


def balanced_mm(lens: Focused, near_mm: float, far_mm: float) -> float:
    """Where to focus so that two distances are equally soft: the harmonic mean of both, from the entrance pupil. ``lens``: as it is focused
    about there; all distances from the principal point. Raises OpticsError where one of them is not before the pupil."""
    near, far = near_mm + lens.pupil_behind, far_mm + lens.pupil_behind
    if not 0 < min(near, far) < math.inf:
        raise OpticsError("distance", "must be in front of the lens", min(near, far))
    return 2 / (1 / near + 1 / far) - lens.pupil_behind


def frames_of_a_stack(depth_mm: float, slice_mm: float, overlap: float) -> int:
    """How many frames, each sharp over ``slice_mm``, cover a depth when neighbours share ``overlap`` of a slice:
    ``ceil((depth - o L) / (L (1 - o)))``, at least 1.

    >>> frames_of_a_stack(40, 10, 0.25), frames_of_a_stack(8, 10, 0.25)
    (5, 1)
    """
    return max(1, math.ceil((depth_mm - overlap * slice_mm) / (slice_mm * (1 - overlap)) - ROUNDING))


def blur_mm(lens: Focused, marked_aperture: float, depth_mm: float) -> float:
    """Diameter on the sensor of the blur of a point ``depth_mm`` before the principal point: ``(f/N) m |z - u| / z``, z and u from the
    entrance pupil."""
    z = depth_mm + lens.pupil_behind
    off = 1.0 if math.isinf(z) else abs(z - lens.pupil_distance) / abs(z)
    return lens.aperture_mm(marked_aperture) * lens.magnification * off


def aperture_for_depth(lens: Focused, near_mm: float, far_mm: float, confusion_mm: float) -> float | None:
    """The widest marked aperture at which both distances are sharp: defocus ``K / N`` and Airy disc ``A N`` together within the circle.
    None where none does: ``c^4 < 4 (K A)^2``."""
    defocus = max(blur_mm(lens, 1.0, near_mm), blur_mm(lens, 1.0, far_mm))
    airy = airy_of(lens, 1.0)
    under_root = confusion_mm**4 - 4 * (defocus * airy) ** 2
    if under_root < 0:
        return None
    return defocus * math.sqrt(2 / (confusion_mm**2 + math.sqrt(under_root)))  # the smaller root, K sqrt(2 / (c^2 + sqrt(...)))
