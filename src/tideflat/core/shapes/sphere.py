"""A ball: most fruit."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from .fields import length
from .mesh import Mesh, balls_mesh
from .shape import Shape
from .solid import Solid, balls


@dataclass(frozen=True, slots=True)
class Sphere(Shape):
    kind: ClassVar[str] = "sphere"
    form: ClassVar[str] = "ball"
    diameter: float = length()

    def _as_ball(self) -> np.ndarray:
        return np.array([[0.0, 0.0, self.diameter / 2, self.diameter / 2]])

    def sides(self) -> tuple[float, float, float]:
        return self.diameter, self.diameter, self.diameter

    def solid(self) -> Solid:
        return balls(self._as_ball(), self.diameter)

    def mesh(self) -> Mesh:
        return balls_mesh(self._as_ball())

    def top(self) -> None:
        return None
