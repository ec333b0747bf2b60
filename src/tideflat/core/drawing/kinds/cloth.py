"""A cloth: its weave, hem and folds."""

from __future__ import annotations

import numpy as np

from ...colour.mix import darker
from ...model import Prop
from ...shapes.cloth import Cloth
from ...solids.body import Body
from ..pieces import Paint, Piece
from ..strokes import face, flat, placed, random_of, stroke, tone
from .drawing import Ask, Drawing


def cloth(ask: Ask) -> list[Piece]:
    """The sheet and what is woven into it."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    c = body.local.parts[0]
    main = tones[0]
    pieces = [
        Piece("hull", Paint(darker(main, 0.3)), points=body.parts[0]),
        face(body, c[4:], Paint(main, 1.0, "sheen", line=darker(main, 0.25), line_width=0.6, line_opacity=0.6)),
    ]
    return pieces + _weave(body, prop, tones, random_of(prop))


def _weave(body: Body, prop: Prop, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """Cloth: stripes in the second colour, a hem, and soft folds that run out from one corner."""
    shape = body.shape
    assert isinstance(shape, Cloth)
    w, d, z = shape.width / 2, shape.depth / 2, shape.thickness
    main, second = tones[0], tone(tones, 1, darker(tones[0], 0.22))
    pieces: list[Piece] = []
    if prop.texture == "striped":
        for k in (-0.86, -0.78, 0.78, 0.86):
            band = np.array([[w * k - w * 0.022, -d], [w * k + w * 0.022, -d], [w * k + w * 0.022, d], [w * k - w * 0.022, d]])
            pieces.append(Piece("ring", Paint(second, 0.85), points=placed(body, flat(band, z)), one_sided=True))
    if prop.texture == "checked":
        for k in np.linspace(-0.85, 0.85, 7):
            for band in (
                np.array([[w * k - w * 0.05, -d], [w * k + w * 0.05, -d], [w * k + w * 0.05, d], [w * k - w * 0.05, d]]),
                np.array([[-w, d * k - d * 0.05], [w, d * k - d * 0.05], [w, d * k + d * 0.05], [-w, d * k + d * 0.05]]),
            ):
                pieces.append(Piece("ring", Paint(second, 0.4), points=placed(body, flat(band, z)), one_sided=True))
    for k in range(4):  # each fold: a lit side and a shaded side, tapering
        start = np.array([-w, -d + 2 * d * (0.15 + 0.22 * k + 0.08 * random.random())])
        end = np.array([w, np.clip(start[1] + d * (random.random() - 0.35) * 0.8, -d, d)])
        side = np.array([0.0, d * (0.05 + 0.05 * random.random())])
        shaded = np.stack([start, end, np.clip(end + side * 0.3, [-w, -d], [w, d]), np.clip(start + side, [-w, -d], [w, d])])
        lit = np.stack([start, np.clip(start - side * 0.8, [-w, -d], [w, d]), np.clip(end - side * 0.2, [-w, -d], [w, d]), end])
        pieces.append(Piece("ring", Paint("#000000", 0.09), points=placed(body, flat(shaded, z))))
        pieces.append(Piece("ring", Paint("#ffffff", 0.13), points=placed(body, flat(lit, z))))
    hem = np.array([[-w, -d], [w, -d], [w, d], [-w, d]]) * (1 - 5 / max(w, d))
    pieces.append(stroke(body, flat(hem, z), darker(main, 0.4), 0.5, 0.4, closed=True))
    return pieces


DRAWING = Drawing((Cloth,), cloth)
