"""What a lens does at a distance: its focal length there, how near and far it focuses, where its picture lies on the sensor.

Sources: S. F. Ray, *Applied Photographic Optics*; R. Kingslake, *Optics in Photography*; for focusing inside the lens the linear model of
the scene document, an estimate between two true ends: the marked length at infinity and that of the closest focus. All lengths mm; u is
the axial distance from the lens's principal point to the plane of focus. Where its pupil ratio P is not 1 the entrance pupil, through which
everything is seen, lies ``f (1/P - 1)`` behind that point. A tilted lens is one thin lens whose axis leans from the sensor's normal: what
it holds sharp is a plane through a line beside the lens (the hinge rule; H. M. Merklinger, *Focusing the View Camera*). Raises OpticsError
for what no lens does.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..errors import OpticsError
from ..model import Camera, Converter, Lens, Sensor
from ..tolerances import SETTING
from .converter import alone, working_extension

#: The focal length at the closest focus lies between these shares of the marked one (scene document).
_LEAST_SHORTENED, _MOST_LENGTHENED = 0.4, 1.15
#: A zoom set within this share of where its bending was measured bends so.
SAME_LENGTH = 0.03
#: No lens is asked for a setting past this magnification.
_MOST_SETTING = 64.0


@dataclass(frozen=True, slots=True)
class Focused:
    """The lens as it is focused: everything that asks how long it is then, asks this. Lengths mm, along the sensor's normal.

    distance: u, from the principal point. principal_distance: from the entrance pupil to the sensor, as the projection has it, ``c = f (1 +
    m / P)``. lean: cosine of the tilt.
    """

    focal_length: float
    distance: float
    magnification: float
    pupil_ratio: float = 1.0
    lean: float = 1.0
    converter: Converter | None = None

    @property
    def principal_distance(self) -> float:
        return self.focal_length * (1 + self.magnification / self.pupil_ratio) / self.lean

    @property
    def sensor_distance(self) -> float:
        """From the principal point to the sensor: ``f (1 + m)``; behind a converter less, since f and m are then of both together.

        The pupil stays where it was without the converter, and so does the lens; the sensor moves back by the converter's length L alone.
        With f and m those of both together, the lens alone is f/k at m/k: ``L - 2 f (1 - 1/k) - f m (1 - 1/k^2)`` is added.
        """
        thin = self.focal_length * (1 + self.magnification) / self.lean
        if self.converter is None:
            return thin
        k, f, m = self.converter.factor, self.focal_length, self.magnification
        return thin + self.converter.length - (2 * f * (1 - 1 / k) + f * m * (1 - 1 / k**2)) / self.lean

    @property
    def pupil_behind(self) -> float:
        """How far the entrance pupil lies behind the principal point; negative before it: ``f (1/P - 1)``."""
        return self.focal_length * (1 / self.pupil_ratio - 1) / self.lean

    @property
    def pupil_distance(self) -> float:
        """From the entrance pupil to the plane of focus: ``f (1/m + 1/P)``."""
        return self.distance + self.pupil_behind

    def aperture_mm(self, marked: float) -> float:
        """Diameter of the entrance pupil at an f-stop, ``f / N``."""
        return self.focal_length / marked


def thin(f_mm: float, u_mm: float, pupil_ratio: float = 1.0) -> Focused:
    """A lens of a fixed length, focused at u. Raises OpticsError.

    >>> thin(100, 200).principal_distance, thin(100, 200, 2.0).principal_distance
    (200.0, 150.0)
    """
    return Focused(f_mm, u_mm, magnification(f_mm, u_mm), pupil_ratio)


@dataclass(frozen=True, slots=True)
class Travel:
    """How the lens focuses: ``f(m) = at_infinity - shortening m``; ``closest``: its own largest magnification, None when it is not known."""

    at_infinity: float
    shortening: float
    closest: float | None

    def length(self, m: float) -> float:
        """The focal length at the lens's own setting ``m``."""
        return self.at_infinity - self.shortening * m


def travel_of(lens: Lens, sensor: Sensor) -> Travel:
    """How ``lens`` focuses on ``sensor``. Raises OpticsError where its closest focus and magnification cannot go together.

    A measured field fixes the focal length: ``f' = D m / (1 + m)^2``. A largest magnification M at the closest focus D makes the length run
    linearly from the marked f to ``f' = D M / (1 + M)^2``; M alone, or D alone, is a lens that moves as a whole.
    """
    if lens.converter is not None:
        return _behind(lens.converter, travel_of(alone(lens, lens.converter), sensor))
    most, near = lens.max_magnification, lens.min_focus
    if lens.measured is not None:
        m = max(sensor.width, sensor.height) / lens.measured.width
        f = lens.measured.sensor_distance * m / (1 + m) ** 2
        return Travel(f, 0.0, _closest_of_a_whole(f, most, near))
    f = lens.focal_length
    if most is None or near is None:
        return Travel(f, 0.0, _closest_of_a_whole(f, most, near))
    shortened = near * most / (1 + most) ** 2
    if not _LEAST_SHORTENED * f <= shortened <= _MOST_LENGTHENED * f:
        raise OpticsError(
            "min_focus",
            f"must go with max_magnification {most:g} and focal_length {f:g}: together they make a focal length of {shortened:.4g} mm at the "
            f"closest focus, which must lie from {_LEAST_SHORTENED * f:.4g} to {_MOST_LENGTHENED * f:.4g}",
            near,
        )
    return Travel(f, (f - shortened) / most, most)


def _behind(converter: Converter, travel: Travel) -> Travel:
    """How a lens focuses with a converter behind it: f and m are both k times what they are without."""
    k = converter.factor
    return Travel(travel.at_infinity * k, travel.shortening, None if travel.closest is None else travel.closest * k)


def _closest_of_a_whole(f: float, most: float | None, near: float | None) -> float | None:
    if most is not None or near is None:
        return most
    return magnification(f, object_distance_mm(f, near))


def focused(lens: Lens, sensor: Sensor, distance_mm: float) -> Focused:
    """The lens focused at u = ``distance_mm``: ``m = 2 f / (q + sqrt(q^2 + 4 k f))``, ``q = u - f + k``. Behind extension the lens's own
    setting s is found first: ``m = s + e / f(s)``. Tilted by t it is focused along its own axis at ``u cos t``, and the sensor lies ``f
    (1 + m) / cos t`` behind it. Raises OpticsError.
    """
    travel = travel_of(lens, sensor)
    lean = math.cos(math.radians(lens.tilt))
    along = distance_mm * lean
    extension = working_extension(lens)
    if travel.shortening == 0:
        f, m = travel.at_infinity, magnification(travel.at_infinity, along)
    elif extension == 0:
        m = _inner_magnification(travel, along)
        f = travel.length(m)
    else:
        setting = _setting_behind(travel, extension, along)
        f = travel.length(setting)
        m = setting + extension / f
    return Focused(f, distance_mm, m, lens.pupil_ratio, lean, lens.converter)


def _inner_magnification(travel: Travel, u_mm: float) -> float:
    """m of ``u = f(m) (1 + m) / m``, the root that is f / (u - f) where the length does not change."""
    f, k = travel.at_infinity, travel.shortening
    q = u_mm - f + k
    under_root = q * q + 4 * k * f
    below = q + math.sqrt(under_root) if under_root >= 0 and u_mm > 0 else 0.0
    if below <= 0:
        raise OpticsError("distance", "must be as far as this lens can focus at all", u_mm)
    return 2 * f / below


def _setting_behind(travel: Travel, extension_mm: float, u_mm: float) -> float:
    """The lens's own setting s at which ``u = f(s) (1 + 1 / m)``, ``m = s + e / f(s)``; under 0 or over its closest where it does not
    reach.

    u falls while s grows, from endless where ``s f(s) + e`` is nought; halved between, as it is a root of the third order.
    """
    f, k = travel.at_infinity, travel.shortening

    def distance(setting: float) -> float:
        length = travel.length(setting)
        return length + length * length / (setting * length + extension_mm)

    # s f(s) + e = 0 is where the image lies at the focal length itself: k s^2 - f s - e = 0, the root under nought.
    low = -2 * extension_mm / (f + math.sqrt(max(0.0, f * f + 4 * k * extension_mm)))
    high, end = 1.0, f / k if k > 0 else _MOST_SETTING
    if u_mm <= 0:
        raise OpticsError("distance", "must be in front of the lens", u_mm)
    while distance(min(high, end)) > u_mm:
        if high >= end:
            raise OpticsError("distance", "must be as far as this lens can focus at all", u_mm)
        low, high = high, 2 * high
    high = min(high, end)
    while high - low > SETTING * max(1.0, high):
        middle = (low + high) / 2
        low, high = (middle, high) if distance(middle) > u_mm else (low, middle)
    return (low + high) / 2


def magnification(f_mm: float, u_mm: float) -> float:
    """Image size over object size of a lens of a fixed length, ``m = f / (u - f)``. Raises OpticsError.

    >>> magnification(50, 100)
    1.0
    """
    if u_mm <= f_mm:
        raise OpticsError("distance", f"must be more than the focal length of {f_mm:.4g} mm", u_mm)
    return f_mm / (u_mm - f_mm)


def distance_for(lens: Lens, sensor: Sensor, m: float) -> float:
    """u at which the frame shows things ``m`` times as large on the sensor, without extension: ``f(m) (1 + 1 / m)``."""
    return travel_of(lens, sensor).length(m) * (1 + 1 / m)


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


def at_zoom(lens: Lens, length_mm: float, longest_mm: float, measured_at_mm: float | None = None) -> Lens:
    """A zoom set to ``length_mm``; ``lens`` holds what is written of its long end.

    Its closest focus D holds at every length; its largest magnification is the share of that at the long end, or what moving as a whole
    reaches at D where that can be and is less. What was measured at ``measured_at_mm`` (None: the long end) scales with the length:
    ``f'_z = f' z / z0``, written as the same width at a distance that much nearer or further.
    """
    most, near = lens.max_magnification, lens.min_focus
    if most is not None:
        most = most * length_mm / longest_mm
        if near is not None and near >= 4 * length_mm:
            most = min(most, magnification(length_mm, object_distance_mm(length_mm, near)))
    measured = lens.measured
    if measured is not None:
        measured = replace(measured, sensor_distance=measured.sensor_distance * length_mm / (measured_at_mm or longest_mm))
    # How lines bend is another thing at every length: what was measured of it holds where it was measured.
    is_there = measured is None or abs(length_mm / (measured_at_mm or longest_mm) - 1) <= SAME_LENGTH
    bends = lens.distortion if is_there else ()
    return replace(lens, focal_length=length_mm, max_magnification=most, measured=measured, distortion=bends)


def focus_reach_mm(lens: Lens, sensor: Sensor) -> tuple[float, float | None]:
    """(nearest, furthest) plane of focus the lens can reach, as u; furthest None = infinity, nearest just over f when unknown.

    Its own setting s goes from 0 to its closest; with ``v = f(s) (1 + s) + extension``, ``m = v / f(s) - 1`` and ``u = f(s) (1 + 1 / m)``.
    """
    travel = travel_of(lens, sensor)
    f, extension = travel.at_infinity, working_extension(lens)
    furthest = None if extension == 0 else f * (f + extension) / extension
    if travel.closest is None:
        return f, furthest
    length = travel.length(travel.closest)
    m = travel.closest + extension / length
    return length * (1 + 1 / m), furthest


def centre_in_frame(lens: Lens, frame_width_mm: float, frame_height_mm: float) -> tuple[float, float]:
    """Where the lens's axis meets the sensor, in fractions of the frame: a lens shifted right and up has its axis right and up on the
    sensor as the picture is seen turned over, so left and down in the picture, which then shows more of what is right and above."""
    right, up = lens.shift
    return 0.5 - right / frame_width_mm, 0.5 + up / frame_height_mm


def circle_needed_mm(camera: Camera) -> float:
    """How wide (mm) the lens must cover: the sensor's diagonal, with twice what the lens is shifted on each side."""
    right, up = camera.lens.shift
    return math.hypot(camera.frame_width_mm + 2 * abs(right), camera.frame_height_mm + 2 * abs(up))
