"""Square-cornered things: faces with their labels, wood grain."""

from __future__ import annotations

import numpy as np

from ...colour.mix import darker, lighter
from ...shapes.box import Box
from ...solids.body import Body
from ..pieces import Paint, Piece
from ..skins import BOTH_VIEWS, cells
from ..strokes import face, flat, random_of, stroke, tone
from .drawing import Ask, Drawing


def box(ask: Ask) -> list[Piece]:
    """A box, with grain on its top where it is of wood."""
    return bar(ask) + grain(ask)


def bar(ask: Ask) -> list[Piece]:
    """The sides from dark to light, their labels, and the top."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    c = body.local.parts[0]
    main = tones[0]
    own = None if prop.finish == "metal" else main
    sides = ((0, 1, 5, 4, 0.3), (1, 2, 6, 5, 0.42), (2, 3, 7, 6, 0.16), (3, 0, 4, 7, 0.12))
    pieces = [Piece("hull", Paint(darker(main, 0.4), own=own), points=body.parts[0])]
    for a, b, d, e, dark in sides:
        corners = c[[a, b, d, e]]
        pieces.append(face(body, corners, Paint(darker(main, dark), 1.0, "metal" if prop.finish == "metal" else "flat", own=own)))
        if prop.texture == "labelled":
            label, lid = tone(tones, 1, lighter(main, 0.6)), tone(tones, 2, main)
            pieces.append(face(body, _inset(corners, (0.12, 0.88), (0.2, 0.66)), Paint(darker(label, dark * 0.8), own=label)))
            pieces.append(face(body, _inset(corners, (0, 1), (0.86, 1)), Paint(darker(lid, dark), own=lid)))
    shade = {"metal": "metal", "gloss": "sheen", "satin": "sheen"}.get(prop.finish, "sheen")
    top = Paint(lighter(main, 0.07), 1.0, shade, line=lighter(main, 0.35), line_width=0.5, line_opacity=0.55, own=own)
    pieces.append(face(body, c[4:], top))
    return pieces


def _inset(corners: np.ndarray, along: tuple[float, float], up: tuple[float, float]) -> np.ndarray:
    """Part of a four-cornered face, as shares of its width and height."""
    low, high = corners[1] - corners[0], corners[3] - corners[0]
    return np.array(
        [corners[0] + low * a + high * b for a, b in ((along[0], up[0]), (along[1], up[0]), (along[1], up[1]), (along[0], up[1]))]
    )


def grain(ask: Ask) -> list[Piece]:
    """Wood grain along the length of a board's top."""
    if ask.prop.texture != "grained":
        return []
    body, top, colour, random = ask.body, ask.body.local.parts[0][4:], ask.tones[0], random_of(ask.prop)
    (x0, y0, z), (x1, y1, _) = top[0], top[2]
    along = x1 - x0 >= y1 - y0
    pieces = []
    across = (y0, y1) if along else (x0, x1)
    length = (x0, x1) if along else (y0, y1)
    for k in range(9):
        at = across[0] + (across[1] - across[0]) * (k + 0.3 + 0.5 * random.random()) / 9.3
        t = np.linspace(length[0] + 2, length[1] - 2, 9)
        sway = at + (across[1] - across[0]) * 0.012 * np.sin(t / (length[1] - length[0]) * (5 + 3 * random.random()) + 6 * random.random())
        sway = np.clip(sway, across[0] + 1, across[1] - 1)
        path = np.column_stack([t, sway]) if along else np.column_stack([sway, t])
        pieces.append(stroke(body, flat(path, z), darker(colour, 0.35), 0.5 + 0.7 * random.random(), 0.28))
    return pieces


def _front(body: Body, picture: str, most_cells: int) -> list[Piece]:
    """The picture on the face toward -y."""
    shape = body.shape
    assert isinstance(shape, Box)
    w, d, h = shape.width / 2, shape.depth / 2, shape.height
    corners = body.placed_point(np.array([[-w, -d, h], [-w, -d, 0], [w, -d, 0], [w, -d, h]]))
    return cells(picture, corners, (0.0, 0.0, 1.0, 1.0), (2 * w, h), BOTH_VIEWS, most_cells)


DRAWING = Drawing((Box,), box, front=_front)
