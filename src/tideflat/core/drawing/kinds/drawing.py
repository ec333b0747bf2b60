"""How one or more kinds of shape are drawn: what the registry holds of each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ...model import Prop
from ...shapes.shape import Shape, Top
from ...solids.body import Body
from ..detail import Detail
from ..pieces import Piece


@dataclass(frozen=True, slots=True)
class Ask:
    """What is to be drawn: the posed thing, its prop, where the lens is (mm; x and y are 0 for what is painted alike from every side), and
    how finely."""

    body: Body
    prop: Prop
    eye: tuple[float, float, float]
    detail: Detail

    @property
    def tones(self) -> tuple[str, ...]:
        return tuple(c.hex for c in self.prop.colours)


@dataclass(frozen=True, slots=True)
class Drawing:
    """shapes: the kinds it draws. pieces: what they are painted from, in order. top: the level face that a picture lies on. front: pieces
    of the picture on the upright face toward the prop's own front (-y). keeps: textures that are still drawn under a picture on the top;
    lit_first: the light over that picture keeps to the first level piece, not to the last.
    """

    shapes: tuple[type[Shape], ...]
    pieces: Callable[[Ask], list[Piece]]
    top: Callable[[Shape], Top | None] = lambda shape: shape.top()
    front: Callable[[Body, str, int], list[Piece]] = lambda body, picture, most_cells: []
    keeps: tuple[str, ...] = ()
    lit_first: bool = False
