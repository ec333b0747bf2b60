"""An oval thing with straight sides, an elliptic cylinder: width along x, depth along y."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .fields import length
from .mesh import Mesh, revolved_mesh
from .shape import Shape
from .solid import Solid, elliptic


@dataclass(frozen=True, slots=True)
class Ellipse(Shape):
    kind: ClassVar[str] = "ellipse"
    form: ClassVar[str] = "turned"
    is_prism: ClassVar[bool] = True
    width: float = length()
    depth: float = length()
    height: float = length()

    def sides(self) -> tuple[float, float, float]:
        return self.width, self.depth, self.height

    def solid(self) -> Solid:
        return elliptic(self.width / 2, self.depth / 2, self.height)

    def mesh(self) -> Mesh:
        return revolved_mesh(((0.0, self.width / 2), (self.height, self.width / 2)), depth_share=self.depth / self.width)
