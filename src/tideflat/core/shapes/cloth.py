"""A cloth lying flat: it gives way to what stands in it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .fields import length
from .mesh import Mesh, cuboid_mesh
from .shape import Shape
from .solid import Solid, cuboid


@dataclass(frozen=True, slots=True)
class Cloth(Shape):
    kind: ClassVar[str] = "cloth"
    is_soft: ClassVar[bool] = True
    is_laid: ClassVar[bool] = True
    is_prism: ClassVar[bool] = True
    width: float = length()
    depth: float = length()
    thickness: float = length()

    def sides(self) -> tuple[float, float, float]:
        return self.width, self.depth, self.thickness

    def solid(self) -> Solid:
        return cuboid(*self.sides())

    def mesh(self) -> Mesh:
        return cuboid_mesh(*self.sides())
