"""A long, thin thing, length along x: cutlery, a stick."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from . import fields
from .mesh import Mesh, cuboid_mesh
from .shape import Shape
from .solid import Solid, cuboid


@dataclass(frozen=True, slots=True)
class Rod(Shape):
    kind: ClassVar[str] = "rod"
    is_prism: ClassVar[bool] = True
    length: float = fields.length()
    width: float = fields.length()
    height: float = fields.length()

    def sides(self) -> tuple[float, float, float]:
        return self.length, self.width, self.height

    def solid(self) -> Solid:
        return cuboid(*self.sides())

    def mesh(self) -> Mesh:
        return cuboid_mesh(*self.sides())
