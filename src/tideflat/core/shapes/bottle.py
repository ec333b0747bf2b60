"""A bottle: a cylinder up to height - neck_height, then a cone for half of neck_height, then the neck."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .fields import length
from .mesh import Mesh, revolved_mesh
from .shape import Shape, Top
from .solid import Profile, Solid, revolved


@dataclass(frozen=True, slots=True)
class Bottle(Shape):
    kind: ClassVar[str] = "bottle"
    form: ClassVar[str] = "turned"
    diameter: float = length()
    height: float = length()
    neck_diameter: float = length()
    neck_height: float = length()

    @property
    def profile(self) -> Profile:
        shoulder, neck = self.height - self.neck_height, self.neck_diameter / 2
        return (0.0, self.diameter / 2), (shoulder, self.diameter / 2), (shoulder + self.neck_height / 2, neck), (self.height, neck)

    def fault(self) -> tuple[str, str] | None:
        if self.neck_height >= self.height:
            return "neck_height", f"must be less than the height of {self.height:g}"
        if self.neck_diameter > self.diameter:
            return "neck_diameter", f"must be at most the diameter of {self.diameter:g}"
        return None

    def sides(self) -> tuple[float, float, float]:
        return self.diameter, self.diameter, self.height

    def solid(self) -> Solid:
        return revolved(self.profile)

    def mesh(self) -> Mesh:
        return revolved_mesh(self.profile)

    def top(self) -> Top:
        half = self.neck_diameter / 2
        return Top(-half, -half, half, half, self.height)
