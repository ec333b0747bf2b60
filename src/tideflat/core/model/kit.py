"""The kit a picture is taken with: bodies, lenses, and what holds the camera."""

from __future__ import annotations

from dataclasses import dataclass

from .camera import Sensor
from .lens import Converter, Lens


@dataclass(frozen=True, slots=True)
class Body:
    """A body, or a phone's module, as its sensor."""

    name: str
    sensor: Sensor
    is_phone: bool = False


@dataclass(frozen=True, slots=True)
class KitLens:
    """A lens by its name. Of a zoom ``lens`` holds what is written of its long end, but its focal length and widest aperture are those of
    the short one; longest: the long end, mm; None for a lens of one length. widest_long: its widest aperture there. measured_at: the
    length a coverage was measured at; None is the long end. fixed_on: the only body it is on."""

    name: str
    lens: Lens
    longest: float | None = None
    widest_long: float | None = None
    measured_at: float | None = None
    fixed_on: str | None = None


@dataclass(frozen=True, slots=True)
class Support:
    """What holds the camera: how low and how high it brings the lens over the floor, mm, whether it can look straight down, and how far to
    the side of its column or legs it brings it (reach; None where that is not told)."""

    name: str
    kind: str
    lowest: float
    highest: float
    inverts: bool = False
    reach: float | None = None


@dataclass(frozen=True, slots=True)
class KitConverter:
    """A teleconverter by its name; it goes on lenses from ``shortest`` mm on."""

    name: str
    converter: Converter
    shortest: float = 0.0


@dataclass(frozen=True, slots=True)
class Kit:
    bodies: tuple[Body, ...] = ()
    lenses: tuple[KitLens, ...] = ()
    supports: tuple[Support, ...] = ()
    converters: tuple[KitConverter, ...] = ()
