"""A spoon, a knife, a stick."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ...colour.mix import darker, lighter
from ...shapes.rod import Rod
from ..pieces import Paint, Piece
from ..strokes import flat, placed, stroke, tone
from .box import bar, grain
from .drawing import Ask, Drawing


def rod(ask: Ask) -> list[Piece]:
    """The bar, and a spoon's bowl, a knife's edge, or a stick's shine along its upper face."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    shape = body.shape
    assert isinstance(shape, Rod)
    half, wide, z = shape.length / 2, shape.width / 2, shape.height
    main = tones[0]
    pieces = bar(ask)
    if prop.texture == "handled":  # the handle's own colour over the first two fifths
        grip = np.array([[-half, -wide], [-half * 0.15, -wide], [-half * 0.15, wide], [-half, wide]])
        pieces.append(
            Piece("ring", Paint(tone(tones, 1, darker(main, 0.5)), 1.0, "sheen"), points=placed(body, flat(grip, z)), one_sided=True)
        )
    line = np.array([[-half * 0.94, wide * 0.35], [half * 0.94, wide * 0.35]])
    shine = stroke(body, flat(line, z), lighter(main, 0.75), max(0.5, wide * 0.16), 0.7 if prop.finish == "metal" else 0.3)
    if prop.finish != "metal":
        shine = replace(shine, paint=replace(shine.paint, own="none"))
    return [*pieces, shine, *grain(ask)]


DRAWING = Drawing((Rod,), rod)
