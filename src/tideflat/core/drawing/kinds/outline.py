"""An outline of its own: a fish, a leaf, a slice of bread."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely

from ...colour.mix import darker, lighter, luminance
from ...shapes.outline import Outline
from ...solids.body import Body
from ..detail import drawn_corners
from ..pieces import Paint, Piece
from ..strokes import flat, placed, random_of, stroke, tone
from .drawing import Ask, Drawing


def outlined(ask: Ask) -> list[Piece]:
    """Its sides, its top, and the motif that its texture names."""
    body, prop, tones = ask.body, ask.prop, ask.tones
    points = body.local.outline
    assert points is not None
    main, height = tones[0], body.local.height
    kept = drawn_corners(points, ask.detail.corners)
    low, high = body.parts[0][: len(points)][kept], body.parts[0][len(points) :][kept]
    points, n = points[kept], len(kept)
    pieces = []
    for i in range(n):
        j = (i + 1) % n
        pieces.append(
            Piece(
                "ring",
                Paint(darker(main, 0.38), own=None if prop.finish == "metal" else main),
                points=np.stack([low[i], low[j], high[j], high[i]]),
                one_sided=True,
                views=frozenset({"frame"}),
            )
        )
    pieces.append(
        Piece("ring", Paint(main, 1.0, "sheen", line=darker(main, 0.35), line_width=0.6, line_opacity=0.5), points=high, one_sided=True)
    )
    if prop.texture in _MOTIFS:
        pieces += _MOTIFS[prop.texture](body, points, height, tones, random_of(prop))
    return pieces


def _fish(body: Body, points: np.ndarray, z: float, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """A smoked fish lying on its side, head to +x: pale belly, side line, gill, eye, rows of scales, the tail's rays."""
    x0, x1 = points[:, 0].min(), points[:, 0].max()
    length = x1 - x0
    half = (points[:, 1].max() - points[:, 1].min()) / 2
    main, belly = tones[0], tone(tones, 1, lighter(tones[0], 0.4))
    middle = np.linspace(x0 + length * 0.24, x0 + length * 0.8, 9)
    bow = np.sin(np.linspace(0.15, np.pi - 0.3, 9)) * half
    under = np.concatenate([np.column_stack([middle, -bow * 0.82]), np.column_stack([middle[::-1], -bow[::-1] * 0.15])])
    back = np.concatenate([np.column_stack([middle, bow * 0.85]), np.column_stack([middle[::-1], bow[::-1] * 0.35])])
    pieces = [
        Piece("ring", Paint(belly, 0.8), points=placed(body, flat(under, z)), one_sided=True),
        Piece("ring", Paint(darker(main, 0.45), 0.55), points=placed(body, flat(back[::-1], z))),
    ]
    for row in range(3):
        for k in range(8):
            c = np.array([x0 + length * (0.28 + 0.06 * k + 0.03 * (row % 2)), half * (0.34 - 0.3 * row)])
            t = np.linspace(-1.1, 1.1, 5)
            arc = c + np.column_stack([-np.cos(t), np.sin(t)]) * half * 0.16
            pieces.append(stroke(body, flat(arc, z), darker(main, 0.5), 0.5, 0.4))
    side = np.column_stack([np.linspace(x0 + length * 0.14, x0 + length * 0.78, 7), np.full(7, half * 0.08)])
    pieces.append(stroke(body, flat(side, z), lighter(belly, 0.3), 0.9, 0.75))
    t = np.linspace(-1.0, 1.0, 7)
    gill = np.column_stack([x0 + length * 0.79 + np.cos(t * 1.2) * half * 0.22, t * half * 0.68])
    pieces.append(stroke(body, flat(gill, z), darker(main, 0.65), 1.1, 0.8))
    eye = np.column_stack([np.cos(np.linspace(0, 2 * np.pi, 13)[:-1]), np.sin(np.linspace(0, 2 * np.pi, 13)[:-1])])
    centre = np.array([x0 + length * 0.89, half * 0.16])
    pieces.append(Piece("ring", Paint(lighter(belly, 0.4)), points=placed(body, flat(centre + eye * half * 0.13, z)), one_sided=True))
    pieces.append(Piece("ring", Paint("#1c1a18"), points=placed(body, flat(centre + eye * half * 0.08, z)), one_sided=True))
    for spread in (-0.6, -0.2, 0.2, 0.6):
        ray = np.array([[x0 + length * 0.12, spread * half * 0.3], [x0 + length * 0.02, spread * half * 0.95]])
        pieces.append(stroke(body, flat(ray, z), darker(main, 0.5), 0.6, 0.55))
    return pieces


def _leaf(body: Body, points: np.ndarray, z: float, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """The midrib and its side veins, along x."""
    x0, x1 = points[:, 0].min(), points[:, 0].max()
    half = (points[:, 1].max() - points[:, 1].min()) / 2
    vein = lighter(tones[0], 0.3) if luminance(tones[0]) < 0.25 else darker(tones[0], 0.3)
    pieces = [stroke(body, flat(np.array([[x0 * 0.96, 0.0], [x1 * 0.92, 0.0]]), z), vein, 0.9, 0.8)]
    for k in np.linspace(0.25, 0.75, 4):
        x = x0 + (x1 - x0) * k
        for s in (-1, 1):
            pieces.append(stroke(body, flat(np.array([[x, 0.0], [x + half * 0.5, s * half * 0.6]]), z), vein, 0.5, 0.55))
    return pieces


def _crust(body: Body, points: np.ndarray, z: float, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """A slice of bread: the crumb inside its crust, with its holes."""
    crumb = tone(tones, 1, lighter(tones[0], 0.55))
    centre = points.mean(axis=0)
    rind = 0.06 * float(np.ptp(points, axis=0).min())
    inner = np.array(shapely.Polygon(points).buffer(-rind, join_style="mitre").exterior.coords)[:-1]
    if not shapely.Polygon(inner).exterior.is_ccw:
        inner = inner[::-1]
    pieces = [Piece("ring", Paint(crumb, 1.0, "sheen"), points=placed(body, flat(inner, z)), one_sided=True)]
    crumbed = shapely.Polygon(inner).buffer(-2.5)
    reach = np.abs(points - centre).max(axis=0) * 0.62
    for _ in range(16):
        spot = centre + (random.random(2) * 2 - 1) * reach
        if not shapely.contains_xy(crumbed, *spot):
            continue
        size = (0.6 + 1.8 * random.random(), 0.5 + 1.0 * random.random())
        t = np.linspace(0, 2 * np.pi, 8)[:-1]
        hole = spot + np.column_stack([np.cos(t) * size[0], np.sin(t) * size[1]])
        pieces.append(Piece("ring", Paint(darker(crumb, 0.3), 0.5), points=placed(body, flat(hole, z)), one_sided=True))
    return pieces


_MOTIFS: dict[str, Callable[..., list[Piece]]] = {"scaled": _fish, "leafy": _leaf, "crusty": _crust}
DRAWING = Drawing((Outline,), outlined)
