"""What a lens does at a distance: its focal length there, how near and far it focuses, where its picture lies on the sensor.

Sources: S. F. Ray, *Applied Photographic Optics*; R. Kingslake, *Optics in Photography*. All lengths mm; u is the axial distance from the
lens, taken as one principal point with its pupil, to the plane of focus. Valid for u > f; raises OpticsError otherwise.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import OpticsError
from ..model import Lens, Sensor


@dataclass(frozen=True, slots=True)
class Focused:
    """A lens focused at ``distance``: everything that asks how long it is then, asks this."""

    focal_length: float
    distance: float
    magnification: float
    principal_distance: float


def focal_length_mm(lens: Lens, sensor: Sensor) -> float:
    """The focal length that works: the marked one, or that of the measured field, ``f' = D m / (1 + m)^2``."""
    if lens.measured is None:
        return lens.focal_length
    m = max(sensor.width, sensor.height) / lens.measured.width
    return lens.measured.sensor_distance * m / (1 + m) ** 2


def focused(lens: Lens, sensor: Sensor, distance_mm: float) -> Focused:
    """The lens focused at u = ``distance_mm``: ``m = f / (u - f)``, principal distance ``f (1 + m)``."""
    f = focal_length_mm(lens, sensor)
    m = magnification(f, distance_mm)
    return Focused(f, distance_mm, m, f * (1 + m))


def magnification(f_mm: float, u_mm: float) -> float:
    """Image size over object size, ``m = f / (u - f)``. Raises OpticsError.

    >>> magnification(50, 100)
    1.0
    """
    if u_mm <= f_mm:
        raise OpticsError("distance", f"must be more than the focal length of {f_mm:g} mm", u_mm)
    return f_mm / (u_mm - f_mm)


def object_distance_mm(f_mm: float, sensor_distance_mm: float) -> float:
    """u from D, the distance of sensor plane to subject: ``u = D/2 + sqrt(D^2/4 - f D)``; needs D >= 4 f, else raises OpticsError."""
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


def centre_in_frame(lens: Lens, frame_width_mm: float, frame_height_mm: float) -> tuple[float, float]:
    """Where the lens's axis meets the sensor, in fractions of the frame: a lens shifted right and up has its axis right and up on the
    sensor as the picture is seen turned over, so left and down in the picture, which then shows more of what is right and above."""
    right, up = lens.shift
    return 0.5 - right / frame_width_mm, 0.5 + up / frame_height_mm
