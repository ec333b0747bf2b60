"""An outline of its own: a prism over a simple polygon, its points about the placement's x and y."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from .fields import corners, length
from .mesh import Mesh, prism_mesh
from .shape import Shape, Top
from .solid import Solid, prism


@dataclass(frozen=True, slots=True)
class Outline(Shape):
    kind: ClassVar[str] = "outline"
    form: ClassVar[str] = "free"
    is_prism: ClassVar[bool] = True
    points: tuple[tuple[float, float], ...] = corners()
    height: float = length()

    def sides(self) -> tuple[float, float, float]:
        wide, deep = (max(p[k] for p in self.points) - min(p[k] for p in self.points) for k in (0, 1))
        return wide, deep, self.height

    def solid(self) -> Solid:
        return prism(np.array(self.points, dtype=float), self.height)

    def mesh(self) -> Mesh:
        return prism_mesh(np.array(self.points, dtype=float), self.height)

    def top(self) -> Top:
        low, high = np.min(self.points, axis=0), np.max(self.points, axis=0)
        return Top(float(low[0]), float(low[1]), float(high[0]), float(high[1]), self.height)

    @property
    def corner_count(self) -> int:
        return len(self.points)
