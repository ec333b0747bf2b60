"""The camera and its body."""

from __future__ import annotations

from dataclasses import dataclass

from .lens import Lens


@dataclass(frozen=True, slots=True)
class Sensor:
    """Long side is ``width``: the sensor as it lies in the body, before it is turned upright."""

    width: float
    height: float
    pixels_wide: int
    pixels_high: int


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
