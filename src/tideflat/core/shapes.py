"""The shapes a prop can have, exactly as the scene document names them.

All sizes are mm, of the thing at rest, standing on its base, centred on its placement's x and y.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar


@dataclass(frozen=True, slots=True)
class Cylinder:
    kind: ClassVar[str] = "cylinder"
    diameter: float
    height: float


@dataclass(frozen=True, slots=True)
class Box:
    """width along x, depth along y."""

    kind: ClassVar[str] = "box"
    width: float
    depth: float
    height: float


@dataclass(frozen=True, slots=True)
class Bowl:
    """diameter of the rim, base_diameter, height: a straight taper, open at the top."""

    kind: ClassVar[str] = "bowl"
    diameter: float
    base_diameter: float
    height: float


@dataclass(frozen=True, slots=True)
class Bottle:
    """A cylinder up to height - neck_height, then a cone for half of neck_height, then the neck."""

    kind: ClassVar[str] = "bottle"
    diameter: float
    height: float
    neck_diameter: float
    neck_height: float


@dataclass(frozen=True, slots=True)
class Cone:
    kind: ClassVar[str] = "cone"
    base_diameter: float
    top_diameter: float
    height: float


@dataclass(frozen=True, slots=True)
class Sphere:
    kind: ClassVar[str] = "sphere"
    diameter: float


@dataclass(frozen=True, slots=True)
class Ellipse:
    """An elliptic cylinder: width along x, depth along y."""

    kind: ClassVar[str] = "ellipse"
    width: float
    depth: float
    height: float


@dataclass(frozen=True, slots=True)
class Rod:
    """length along x."""

    kind: ClassVar[str] = "rod"
    length: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class Outline:
    """A prism over a simple polygon, its points about the placement's x and y."""

    kind: ClassVar[str] = "outline"
    points: tuple[tuple[float, float], ...]
    height: float


@dataclass(frozen=True, slots=True)
class Cloth:
    kind: ClassVar[str] = "cloth"
    width: float
    depth: float
    thickness: float


@dataclass(frozen=True, slots=True)
class Scatter:
    """``pieces`` round pieces strewn over width x depth, placed by ``seed``."""

    kind: ClassVar[str] = "scatter"
    width: float
    depth: float
    piece_diameter: float
    pieces: int
    seed: int


Shape = Cylinder | Box | Bowl | Bottle | Cone | Sphere | Ellipse | Rod | Outline | Cloth | Scatter

SHAPES: dict[str, type] = {cls.kind: cls for cls in (Cylinder, Box, Bowl, Bottle, Cone, Sphere, Ellipse, Rod, Outline, Cloth, Scatter)}


def extent_mm(shape: Shape) -> tuple[float, float, float]:
    """The box a shape stands in at rest: longer side, shorter side, height.

    >>> extent_mm(Box(20, 50, 10))
    (50, 20, 10)
    """
    match shape:
        case Cylinder() | Bottle():
            wide = deep = shape.diameter
        case Bowl():
            wide = deep = max(shape.diameter, shape.base_diameter)
        case Cone():
            wide = deep = max(shape.base_diameter, shape.top_diameter)
        case Sphere():
            wide = deep = shape.diameter
        case Rod():
            wide, deep = shape.length, shape.width
        case Outline():
            wide, deep = (max(p[k] for p in shape.points) - min(p[k] for p in shape.points) for k in (0, 1))
        case _:
            wide, deep = shape.width, shape.depth
    if isinstance(shape, Sphere):
        high = shape.diameter
    elif isinstance(shape, Cloth):
        high = shape.thickness
    elif isinstance(shape, Scatter):
        high = shape.piece_diameter
    else:
        high = shape.height
    return max(wide, deep), min(wide, deep), high
