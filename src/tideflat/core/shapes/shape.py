"""What every shape answers. All sizes are mm, of the thing at rest, standing on its base, centred on its placement's x and y."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from .mesh import Mesh
from .solid import Solid


@dataclass(frozen=True, slots=True)
class Top:
    """The level face that a thing carries on: its bounds in the shape's own axes and its height, mm."""

    left: float
    front: float
    right: float
    back: float
    height: float


@dataclass(frozen=True, slots=True)
class Shape:
    """A kind of shape is a frozen dataclass of its fields, in a module of its own; the registry finds it.

    kind: its name in the scene document. form: how its outline reads, ``ball`` (round from everywhere), ``turned`` (round from above),
    ``free``, or ``straight``. is_soft: it gives way, or finds its place, and collides with nothing. is_laid: it lies under whatever stands
    in it. is_strewn: many small pieces. is_prism: every level section of it, standing upright, is its footprint. is_folded: its parts lie
    and hang at angles to each other, each convex by itself.
    """

    kind: ClassVar[str]
    form: ClassVar[str] = "straight"
    is_soft: ClassVar[bool] = False
    is_laid: ClassVar[bool] = False
    is_strewn: ClassVar[bool] = False
    is_prism: ClassVar[bool] = False
    is_folded: ClassVar[bool] = False

    def sides(self) -> tuple[float, float, float]:
        """Its extent along x, along y, and upward."""
        raise NotImplementedError

    def solid(self) -> Solid:
        """Its geometry for outlines and bounds."""
        raise NotImplementedError

    def mesh(self) -> Mesh:
        """Its surface as triangles, for rays, sections and light."""
        raise NotImplementedError

    def fault(self) -> tuple[str, str] | None:
        """(field, the rule that it breaks) where sizes do not go together; None when they do."""
        return None

    def top(self) -> Top | None:
        """The level face on its top; None when it has none. By default all of its extent, at its height."""
        wide, deep, high = self.sides()
        return Top(-wide / 2, -deep / 2, wide / 2, deep / 2, high)

    @property
    def floor_mm(self) -> float | None:
        """How high above its foot what lies in it lies; None when nothing lies in it."""
        return None

    @property
    def corner_count(self) -> int:
        """Corners of an outline of its own, which cost drawing and judging; 0 for all others."""
        return 0

    @property
    def piece_count(self) -> int:
        """Pieces that are strewn; 0 for what is one thing."""
        return 0

    @property
    def piece_share(self) -> float:
        """How much of its ground one piece takes: 1 for what is one thing."""
        return 1.0


def extent_mm(shape: Shape) -> tuple[float, float, float]:
    """The box a shape stands in at rest: longer side, shorter side, height."""
    wide, deep, high = shape.sides()
    return max(wide, deep), min(wide, deep), high
