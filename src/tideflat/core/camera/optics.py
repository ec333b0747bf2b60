"""Close-range optics of one lens, taken as one principal point with its pupil (conventions: docs/glossary.md, "Lens").

Sources: S. F. Ray, *Applied Photographic Optics*; R. Kingslake, *Optics in Photography*. All lengths mm; u is the axial
distance from the lens to the plane of focus. Valid for u > f; raises OpticsError otherwise.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import OpticsError
from ..facts.optics import AIRY_FACTOR, CONFUSION_DIVISOR, WAVELENGTH
from ..model import Lens, Sensor


@dataclass(frozen=True, slots=True)
class DepthOfField:
    """Axial distances from the lens in mm; ``far`` and ``total`` are None when sharpness reaches to infinity."""

    near: float
    far: float | None
    total: float | None
    circle_of_confusion: float
    effective_aperture: float
    airy_diameter: float


def focal_length_mm(lens: Lens, sensor: Sensor) -> float:
    """The focal length that works: the marked one, or that of the measured field, ``f' = D m / (1 + m)^2``."""
    if lens.measured is None:
        return lens.focal_length
    m = max(sensor.width, sensor.height) / lens.measured.width
    return lens.measured.sensor_distance * m / (1 + m) ** 2


def magnification(f_mm: float, u_mm: float) -> float:
    """Image size over object size, ``m = f / (u - f)``.

    >>> magnification(50, 100)
    1.0
    """
    if u_mm <= f_mm:
        raise OpticsError("distance", f"must be more than the focal length of {f_mm:g} mm", u_mm)
    return f_mm / (u_mm - f_mm)


def principal_distance_mm(f_mm: float, u_mm: float) -> float:
    """From the lens to the sensor, ``c = f (1 + m)``."""
    return f_mm * (1 + magnification(f_mm, u_mm))


def object_distance_mm(f_mm: float, sensor_distance_mm: float) -> float:
    """u from D, the distance of sensor plane to subject: ``u = D/2 + sqrt(D^2/4 - f D)``; needs D >= 4 f."""
    rest = sensor_distance_mm**2 / 4 - f_mm * sensor_distance_mm
    if rest < 0:
        raise OpticsError(
            "min_focus",
            f"must be at least four focal lengths ({4 * f_mm:g} mm) from the sensor, or max_magnification be given (internal focusing)",
            sensor_distance_mm,
        )
    return sensor_distance_mm / 2 + math.sqrt(rest)


def closest_magnification(lens: Lens, sensor: Sensor) -> float | None:
    """Magnification at the lens's own closest focus, without extension; None when the lens does not say."""
    if lens.max_magnification is not None:
        return lens.max_magnification
    if lens.min_focus is None:
        return None
    f = focal_length_mm(lens, sensor)
    return magnification(f, object_distance_mm(f, lens.min_focus))


def focus_reach_mm(lens: Lens, sensor: Sensor) -> tuple[float, float | None]:
    """(nearest, furthest) plane of focus the lens can reach, as u; furthest None = infinity, nearest just over f when unknown.

    The image distance goes from ``f + extension`` to ``f + extension + f m_closest``; u follows by ``u = f v / (v - f)``.
    """
    f = focal_length_mm(lens, sensor)
    closest = closest_magnification(lens, sensor)
    furthest = None if lens.extension == 0 else f * (f + lens.extension) / lens.extension
    if closest is None:
        return f, furthest
    image = f + lens.extension + f * closest
    return f * image / (image - f), furthest


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
