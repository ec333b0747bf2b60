"""A lens as it is: what is marked on it, what was measured of it, how it bends and may be moved.

Each field says here how it is read, between which bounds, and what it is when left out; the reader, the JSON Schema and the stores follow.
What a lens does at a distance is worked out in core/camera/lens.py.
"""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import Any

from ..bounds import LEAST_PART, LEAST_SIZE_MM, MOST_PLACE_MM

#: Numbers of OpenCV's distortion: k1, k2, p1, p2, k3.
DISTORTION_TERMS = 5


@dataclass(frozen=True, slots=True)
class Number:
    """How a field of a lens is read: a number from ``low`` to ``high``; with ``count``, a list of so many (none at all may be given too
    where ``or_none``); without, null where ``or_none``."""

    low: float
    high: float
    or_none: bool = False
    count: int = 0


_KEY = "number"


def _number(low: float, high: float, default: Any = dataclasses.MISSING, *, count: int = 0, or_none: bool = False) -> Any:
    return dataclasses.field(default=default, metadata={_KEY: Number(low, high, or_none or default is None, count)})


@dataclass(frozen=True, slots=True)
class MeasuredField:
    """What the frame's long side covers at ``sensor_distance``, from the sensor plane."""

    sensor_distance: float
    width: float


@dataclass(frozen=True, slots=True)
class Converter:
    """A teleconverter behind the lens: it makes the picture ``factor`` times larger, and moves the sensor ``length`` mm back."""

    factor: float
    length: float = 0.0


@dataclass(frozen=True, slots=True)
class Lens:
    """Lengths mm. min_focus: nearest subject from the sensor plane; max_magnification: there. extension: tubes behind it. pupil_ratio: exit
    over entrance pupil. measured: replaces the focal length. image_circle: what it covers, across; None = any sensor.
    distortion: (k1, k2, p1, p2, k3) as OpenCV defines them, or (). tilt: degrees by which the front of the lens leans, tilt_toward: which
    way as one stands behind the camera, 0 right, 90 up. shift: of the lens before the sensor, to the right and up likewise. converter:
    behind it; all that is told of the lens is then told of both together, as the camera shows it.
    """

    focal_length: float = _number(0.5, 3000)
    max_aperture: float = _number(0.5, 256, 1.8)
    min_aperture: float = _number(0.5, 256, 16.0)
    min_focus: float | None = _number(LEAST_SIZE_MM, MOST_PLACE_MM, None)
    max_magnification: float | None = _number(LEAST_PART, 20, None)
    extension: float = _number(0, 1000, 0.0)
    pupil_ratio: float = _number(0.05, 20, 1.0)
    measured: MeasuredField | None = None
    image_circle: float | None = _number(1, 1000, None)
    distortion: tuple[float, ...] = _number(-100, 100, (), count=DISTORTION_TERMS, or_none=True)
    tilt: float = _number(0, 45, 0.0)
    tilt_toward: float = _number(-360, 360, 0.0)
    shift: tuple[float, float] = _number(-100, 100, (0.0, 0.0), count=2)
    converter: Converter | None = None


def numbers_of_a_lens() -> dict[str, Number]:
    """How each field but ``measured`` and ``converter`` is read, by name, in the order in which they are written."""
    return {f.name: f.metadata[_KEY] for f in dataclasses.fields(Lens) if _KEY in f.metadata}


def default_of_a_lens(name: str) -> Any:
    """What the field is when it is left out; MISSING when it must be given."""
    return next(f for f in dataclasses.fields(Lens) if f.name == name).default
