"""What things stand on and before: surface, backdrop, room."""

from __future__ import annotations

from dataclasses import dataclass

from .colour import Colour
from .things import Skin


@dataclass(frozen=True, slots=True)
class Lines:
    """A grain, joint or weave on the surface: direction in degrees from +x, pitch in mm."""

    direction: float
    pitch: float


@dataclass(frozen=True, slots=True)
class Surface:
    name: str
    width: float
    depth: float
    height_above_floor: float
    colours: tuple[Colour, ...]
    finish: str
    lines: Lines | None
    skin: Skin | None = None


@dataclass(frozen=True, slots=True)
class Backdrop:
    kind: str
    y: float
    x: float
    width: float
    height: float
    colour: str


@dataclass(frozen=True, slots=True)
class Room:
    """ceiling_height: mm above the floor. walls, ceiling: colours, that of the ceiling None where it is that of the walls. north: compass
    bearing of +y, degrees. x, y: the middle of its floor, mm; width, depth: along x and y; None where they are not known."""

    ceiling_height: float | None
    walls: str
    north: float | None = None
    x: float | None = None
    y: float | None = None
    width: float | None = None
    depth: float | None = None
    ceiling: str | None = None
