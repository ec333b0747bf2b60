"""Any shape, as its bare solid: for kinds that have no drawing of their own."""

from __future__ import annotations

import numpy as np

from ..pieces import Paint, Piece
from ..strokes import wall_shade
from .drawing import Ask, Drawing


def plain(ask: Ask) -> list[Piece]:
    """The hull of each part and ball, in the main colour."""
    body, paint = ask.body, Paint(ask.tones[0], 1.0, wall_shade(ask.prop))
    pieces = [
        Piece("hull", paint, circles=tuple(body.circles[body.local.circle_part == k]), points=part) for k, part in enumerate(body.parts)
    ]
    return pieces + [Piece("hull", Paint(ask.tones[0], 1.0, "ball"), circles=ball_circles(*s)) for s in body.spheres]


def ball_circles(x: float, y: float, z: float, r: float) -> tuple[np.ndarray, ...]:
    """Rings from pole to pole, 12 degrees apart: their hull is round to half a per cent from anywhere."""
    return tuple(
        np.array([[x, y, z + r * np.sin(t)], [r * np.cos(t), 0, 0], [0, r * np.cos(t), 0]]) for t in np.radians(np.arange(-84, 85, 12))
    )


PLAIN = Drawing((), plain)
