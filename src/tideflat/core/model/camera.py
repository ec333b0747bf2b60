"""The camera and its body."""

from __future__ import annotations

from dataclasses import dataclass

from .lens import Lens


@dataclass(frozen=True, slots=True)
class Readout:
    """The part of a sensor, about its middle, that is read for moving pictures, mm, and the pixels it comes out with."""

    width: float
    height: float
    pixels_wide: int
    pixels_high: int


@dataclass(frozen=True, slots=True)
class Sensor:
    """Long side is ``width``: the sensor as it lies in the body, before it is turned upright. moving: what of it moving pictures have; None
    where it is not told, and then all of it."""

    width: float
    height: float
    pixels_wide: int
    pixels_high: int
    moving: Readout | None = None


@dataclass(frozen=True, slots=True)
class Camera:
    sensor: Sensor
    orientation: str
    lens: Lens
    aperture: float
    aim: tuple[float, float, float]
    distance: float
    elevation: float
    azimuth: float = 0.0
    roll: float = 0.0
    focus: tuple[float, float, float] | None = None
    circle_of_confusion: float | None = None

    @property
    def frame_width_mm(self) -> float:
        """Width of the sensor as it is turned now."""
        return self.sensor.width if self.orientation == "landscape" else self.sensor.height

    @property
    def frame_height_mm(self) -> float:
        """Height of the sensor as it is turned now."""
        return self.sensor.height if self.orientation == "landscape" else self.sensor.width

    @property
    def frame_pixels(self) -> tuple[int, int]:
        """Pixels across and down, as the sensor is turned now."""
        size = (self.sensor.pixels_wide, self.sensor.pixels_high)
        return size if self.orientation == "landscape" else (size[1], size[0])

    @property
    def moving_part(self) -> tuple[float, float]:
        """What moving pictures have of the frame's width and height, as it is turned now."""
        part = self.sensor.moving
        share = (1.0, 1.0) if part is None else (part.width / self.sensor.width, part.height / self.sensor.height)
        return share if self.orientation == "landscape" else (share[1], share[0])

    @property
    def moving_pixels(self) -> tuple[int, int]:
        """Pixels of a moving picture across and down, as the sensor is turned now."""
        part = self.sensor.moving
        if part is None:
            return self.frame_pixels
        size = (part.pixels_wide, part.pixels_high)
        return size if self.orientation == "landscape" else (size[1], size[0])
