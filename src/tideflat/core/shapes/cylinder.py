"""A round thing with straight sides: a jar, a tin, a glass, a coaster."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .fields import length
from .mesh import Mesh, revolved_mesh
from .shape import Shape
from .solid import Profile, Solid, revolved


@dataclass(frozen=True, slots=True)
class Cylinder(Shape):
    kind: ClassVar[str] = "cylinder"
    form: ClassVar[str] = "turned"
    is_prism: ClassVar[bool] = True
    diameter: float = length()
    height: float = length()

    @property
    def profile(self) -> Profile:
        return (0.0, self.diameter / 2), (self.height, self.diameter / 2)

    def sides(self) -> tuple[float, float, float]:
        return self.diameter, self.diameter, self.height

    def solid(self) -> Solid:
        return revolved(self.profile)

    def mesh(self) -> Mesh:
        return revolved_mesh(self.profile)
