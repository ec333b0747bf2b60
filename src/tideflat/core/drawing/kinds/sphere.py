"""A ball: a fruit with its stalk and pores."""

from __future__ import annotations

import numpy as np

from ...colour.mix import darker
from ...model import Prop
from ...shapes.sphere import Sphere
from ...solids.body import Body
from ..pieces import Paint, Piece
from ..strokes import tone
from .drawing import Ask, Drawing
from .plain import ball_circles


def ball(ask: Ask) -> list[Piece]:
    """The ball, and its skin."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    pieces = [Piece("hull", Paint(tones[0], 1.0, "ball"), circles=ball_circles(*body.spheres[0]))]
    return pieces + _pores(body, prop, tones)


def _pores(body: Body, prop: Prop, tones: tuple[str, ...]) -> list[Piece]:
    """A fruit's stalk end and pores."""
    x, y, z, r = body.spheres[0]
    if prop.texture not in ("pored", "crusty"):
        return []
    colour = tone(tones, 1, darker(tones[0], 0.4))
    pieces = []
    for k in range(10):
        t, p = 2.39996 * k, 0.15 + 0.09 * k
        normal = np.array([np.sin(p) * np.cos(t), np.sin(p) * np.sin(t), np.cos(p)])
        first = np.cross(normal, [0.0, 0.0, 1.0]) if p > 0.01 else np.array([1.0, 0, 0])
        first /= np.linalg.norm(first) or 1.0
        second = np.cross(normal, first)
        size = r * (0.1 if k == 0 else 0.022)
        pieces.append(
            Piece(
                "ring",
                Paint(colour, 0.8 if k == 0 else 0.35),
                circles=(np.stack([np.array([x, y, z]) + normal * r * 0.995, first * size, second * size]),),
                one_sided=True,
            )
        )
    return pieces


DRAWING = Drawing((Sphere,), ball)
