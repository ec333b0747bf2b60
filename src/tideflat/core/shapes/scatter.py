"""Crumbs, petals, leaves of tea: ``pieces`` round pieces strewn over width x depth, placed by ``seed``."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from .fields import length, whole
from .mesh import Mesh, balls_mesh
from .shape import Shape
from .solid import Solid, balls


@dataclass(frozen=True, slots=True)
class Scatter(Shape):
    kind: ClassVar[str] = "scatter"
    is_soft: ClassVar[bool] = True
    is_strewn: ClassVar[bool] = True
    width: float = length()
    depth: float = length()
    piece_diameter: float = length()
    pieces: int = whole(1, 400, in_a_table=20, counted="pieces")
    seed: int = whole(0, 2**32 - 1, in_a_table=0, default=0)

    def fault(self) -> tuple[str, str] | None:
        return ("piece_diameter", "must be at most width and depth") if self.piece_diameter > min(self.width, self.depth) else None

    def sides(self) -> tuple[float, float, float]:
        return self.width, self.depth, self.piece_diameter

    def solid(self) -> Solid:
        return balls(self.scattered(), self.piece_diameter)

    def mesh(self) -> Mesh:
        return balls_mesh(self.scattered())

    def top(self) -> None:
        return None

    @property
    def piece_count(self) -> int:
        return self.pieces

    @property
    def piece_share(self) -> float:
        return self.piece_diameter**2 / (self.width * self.depth)

    def scattered(self) -> np.ndarray:
        """(pieces, 4): centre and radius of each piece, wholly inside width x depth, the same for the same seed.

        Best-candidate sampling (Mitchell, "Spectrally optimal sampling", SIGGRAPH 1991): of some random places for the next
        piece the one furthest from its neighbours, so that pieces spread as strewn things do and seldom lie in each other.
        """
        random = np.random.Generator(np.random.PCG64(self.seed))
        radius = self.piece_diameter / 2
        half = np.array([max(self.width / 2 - radius, 0.0), max(self.depth / 2 - radius, 0.0)])
        places = np.empty((self.pieces, 2))
        for i in range(self.pieces):
            candidates = (random.random((8, 2)) * 2 - 1) * half
            if i:
                gaps = np.linalg.norm(candidates[:, None] - places[None, :i], axis=2).min(axis=1)
                places[i] = candidates[int(np.argmax(gaps))]
            else:
                places[i] = candidates[0]
        return np.column_stack([places, np.full(self.pieces, radius), np.full(self.pieces, radius)])
