"""A square-cornered thing: width along x, depth along y."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .fields import length
from .mesh import Mesh, cuboid_mesh
from .shape import Shape
from .solid import Solid, cuboid


@dataclass(frozen=True, slots=True)
class Box(Shape):
    kind: ClassVar[str] = "box"
    is_prism: ClassVar[bool] = True
    width: float = length()
    depth: float = length()
    height: float = length()

    def sides(self) -> tuple[float, float, float]:
        return self.width, self.depth, self.height

    def solid(self) -> Solid:
        return cuboid(*self.sides())

    def mesh(self) -> Mesh:
        return cuboid_mesh(*self.sides())
