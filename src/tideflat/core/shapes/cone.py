"""A round thing that tapers, either way; it may end in a point."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .fields import length
from .mesh import Mesh, revolved_mesh
from .shape import Shape, Top
from .solid import Profile, Solid, revolved


@dataclass(frozen=True, slots=True)
class Cone(Shape):
    kind: ClassVar[str] = "cone"
    form: ClassVar[str] = "turned"
    base_diameter: float = length()
    top_diameter: float = length(or_nothing=True)
    height: float = length()

    @property
    def profile(self) -> Profile:
        return (0.0, self.base_diameter / 2), (self.height, self.top_diameter / 2)

    def sides(self) -> tuple[float, float, float]:
        widest = max(self.base_diameter, self.top_diameter)
        return widest, widest, self.height

    def solid(self) -> Solid:
        return revolved(self.profile)

    def mesh(self) -> Mesh:
        return revolved_mesh(self.profile)

    def top(self) -> Top:
        half = self.top_diameter / 2
        return Top(-half, -half, half, half, self.height)
