"""An open dish, from a plate to a deep bowl: diameter of the rim, base_diameter, height, a straight taper."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .fields import length
from .mesh import Mesh, revolved_mesh
from .shape import Shape
from .solid import Profile, Solid, revolved

#: The floor of a dish lies so far above its foot: mm, and share of its height, whichever is less [practice].
_FLOOR_MM, _FLOOR_SHARE = 6.0, 0.2


@dataclass(frozen=True, slots=True)
class Bowl(Shape):
    kind: ClassVar[str] = "bowl"
    form: ClassVar[str] = "turned"
    diameter: float = length()
    base_diameter: float = length()
    height: float = length()

    @property
    def profile(self) -> Profile:
        return (0.0, self.base_diameter / 2), (self.height, self.diameter / 2)

    def sides(self) -> tuple[float, float, float]:
        widest = max(self.diameter, self.base_diameter)
        return widest, widest, self.height

    def solid(self) -> Solid:
        return revolved(self.profile, is_open=True)

    def mesh(self) -> Mesh:
        return revolved_mesh(self.profile, is_open=True)

    @property
    def floor_mm(self) -> float:
        return min(_FLOOR_MM, self.height * _FLOOR_SHARE)
