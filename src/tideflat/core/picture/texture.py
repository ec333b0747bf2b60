"""Drawn surface feel: grain, weave, slices, scales, leaves, labels' lids. All in the thing's own axes, then placed."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely

from ..colour.mix import darker, lighter, luminance
from ..model import Prop
from ..shapes import Cloth, Rod
from ..solids.body import Body
from .pieces import Paint, Piece

CircleAt = Callable[..., np.ndarray]


def _placed(body: Body, points: np.ndarray) -> np.ndarray:
    return points @ body.turned.T + body.base


def _flat(points: np.ndarray, z: float) -> np.ndarray:
    return np.column_stack([points, np.full(len(points), z)])


def _tone(tones: tuple[str, ...], index: int, otherwise: str) -> str:
    return tones[index] if len(tones) > index else otherwise


def _stroke(body: Body, points: np.ndarray, colour: str, width: float, opacity: float, *, closed: bool = False) -> Piece:
    paint = Paint(None, line=colour, line_width=width, line_opacity=opacity)
    return Piece("ring" if closed else "line", paint, points=_placed(body, points))


def lid(
    body: Body, prop: Prop, tones: tuple[str, ...], colour: str, height: float, radii: tuple[float, float], circle_at: CircleAt
) -> list[Piece]:
    """The upper end of a round thing: a lid, an open mouth, a cut face."""
    a, b = radii
    if a < 0.5:
        return []
    ring = circle_at(body, height, a, b)
    if prop.texture == "segmented":
        return _cut_face(body, tones, height, a, b, circle_at)
    if prop.texture == "seeded":
        return _seeded_face(body, prop, tones, height, a, b, circle_at)
    if prop.finish == "glass" and prop.texture != "labelled":
        pieces = [
            Piece("ring", Paint(lighter(colour, 0.5), 0.22, "flat", line="#ffffff", line_width=0.9, line_opacity=0.75), circles=(ring,))
        ]
        if prop.texture == "smooth":
            foot = circle_at(body, 2.0, a * 0.8, b * 0.8)
            pieces.insert(0, Piece("ring", Paint("#ffffff", 0.12, line="#ffffff", line_width=0.5, line_opacity=0.35), circles=(foot,)))
        return pieces
    if prop.texture == "open":  # a tin or pot without its lid
        inner = circle_at(body, height - 0.5, a * 0.93, b * 0.93)
        fill = circle_at(body, height * 0.86, a * 0.93, b * 0.93)
        return [
            Piece("ring", Paint(lighter(colour, 0.3), 1.0, "sheen"), circles=(ring,), one_sided=True),
            Piece("ring", Paint(darker(colour, 0.65)), circles=(inner,), one_sided=True),
            Piece("ring", Paint(_tone(tones, 1, darker(colour, 0.6))), circles=(fill,), one_sided=True, views=frozenset({"table"})),
        ]
    shade = "metal" if prop.finish == "metal" else "sheen"
    pieces = [
        Piece(
            "ring",
            Paint(lighter(colour, 0.14), 1.0, shade, line=lighter(colour, 0.45), line_width=0.6, line_opacity=0.7),
            circles=(ring,),
            one_sided=True,
        )
    ]
    if prop.texture in ("labelled", "lidded", "turned"):
        inner = circle_at(body, height + 0.05, a * 0.84, b * 0.84)
        pieces.append(
            Piece(
                "ring",
                Paint(lighter(colour, 0.05), 1.0, shade, line=darker(colour, 0.3), line_width=0.5, line_opacity=0.5),
                circles=(inner,),
                one_sided=True,
            )
        )
    return pieces


def _cut_face(body: Body, tones: tuple[str, ...], height: float, a: float, b: float, circle_at: CircleAt) -> list[Piece]:
    """A citrus slice: rind, pith, flesh, and the walls between the segments."""
    rind, flesh = tones[0], _tone(tones, 1, lighter(tones[0], 0.3))
    pieces = [
        Piece("ring", Paint(rind), circles=(circle_at(body, height, a, b),), one_sided=True),
        Piece("ring", Paint(lighter(flesh, 0.75)), circles=(circle_at(body, height, a * 0.93, b * 0.93),), one_sided=True),
        Piece("ring", Paint(flesh, 1.0, "sheen"), circles=(circle_at(body, height, a * 0.84, b * 0.84),), one_sided=True),
    ]
    for k in range(9):
        t = 2 * np.pi * k / 9 + 0.2
        spoke = np.array([[0.0, 0.0, height], [a * 0.84 * np.cos(t), b * 0.84 * np.sin(t), height]])
        pieces.append(_stroke(body, spoke, lighter(flesh, 0.7), max(0.7, a * 0.035), 0.95))
    pieces.append(Piece("ring", Paint(lighter(flesh, 0.7)), circles=(circle_at(body, height, a * 0.09, b * 0.09),), one_sided=True))
    return pieces


def _seeded_face(body: Body, prop: Prop, tones: tuple[str, ...], height: float, a: float, b: float, circle_at: CircleAt) -> list[Piece]:
    """A cut fig: skin, pale flesh, red heart, seeds."""
    skin, flesh, heart = tones[0], _tone(tones, 1, "#e8cfc0"), _tone(tones, 2, "#a8364a")
    pieces = [
        Piece("ring", Paint(skin), circles=(circle_at(body, height, a, b),), one_sided=True),
        Piece("ring", Paint(flesh), circles=(circle_at(body, height, a * 0.93, b * 0.93),), one_sided=True),
        Piece("ring", Paint(heart, 1.0, "sheen"), circles=(circle_at(body, height, a * 0.7, b * 0.7),), one_sided=True),
        Piece("ring", Paint(darker(heart, 0.25)), circles=(circle_at(body, height, a * 0.26, b * 0.26),), one_sided=True),
    ]
    for k in range(22):
        t, r = k * 2.39996, a * (0.3 + 0.36 * ((k * 0.618) % 1))  # the golden angle spreads them evenly
        start = np.array([r * np.cos(t), r * np.sin(t) * b / a, height])
        end = np.array([(r + a * 0.06) * np.cos(t), (r + a * 0.06) * np.sin(t) * b / a, height])
        pieces.append(_stroke(body, np.array([start, end]), lighter(flesh, 0.5), max(0.5, a * 0.03), 0.85))
    return pieces


def ribs(body: Body, profile: list[tuple[float, float, float]], colour: str) -> list[Piece]:
    """Upright ribs round a wall, seen through the lens only; those at the back are under the lid or hidden by shade."""
    top, a, b = profile[-1]
    return [
        _stroke(
            body,
            np.array([[profile[0][1] * np.cos(t), profile[0][2] * np.sin(t), top * 0.04], [a * np.cos(t), b * np.sin(t), top * 0.96]]),
            darker(colour, 0.3),
            0.5,
            0.3,
        )
        for t in np.radians(np.arange(190, 351, 14))
    ]


def speckles(body: Body, prop: Prop, radius: float, z: float, colour: str, random: np.random.Generator, circle_at: CircleAt) -> list[Piece]:
    """Iron spots in a glaze."""
    pieces = []
    for _ in range(14):
        r, t = radius * 0.92 * np.sqrt(random.random()), random.random() * 2 * np.pi
        size = radius * (0.008 + 0.014 * random.random())
        circle = circle_at(body, z + 0.05, size)
        circle[0] += np.array([r * np.cos(t), r * np.sin(t), 0])
        pieces.append(Piece("ring", Paint(colour, 0.55), circles=(circle,), one_sided=True))
    return pieces


def grain(body: Body, top: np.ndarray, colour: str, random: np.random.Generator) -> list[Piece]:
    """Wood grain along the length of a board's top."""
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
        pieces.append(_stroke(body, _flat(path, z), darker(colour, 0.35), 0.5 + 0.7 * random.random(), 0.28))
    return pieces


def rod(body: Body, prop: Prop, tones: tuple[str, ...]) -> list[Piece]:
    """A spoon's bowl, a knife's edge, or a stick's shine: along a rod's upper face."""
    shape = body.shape
    assert isinstance(shape, Rod)
    half, wide, z = shape.length / 2, shape.width / 2, shape.height
    main = tones[0]
    pieces: list[Piece] = []
    if prop.texture == "handled":  # the handle's own colour over the first two fifths
        grip = np.array([[-half, -wide], [-half * 0.15, -wide], [-half * 0.15, wide], [-half, wide]])
        pieces.append(
            Piece("ring", Paint(_tone(tones, 1, darker(main, 0.5)), 1.0, "sheen"), points=_placed(body, _flat(grip, z)), one_sided=True)
        )
    line = np.array([[-half * 0.94, wide * 0.35], [half * 0.94, wide * 0.35]])
    pieces.append(_stroke(body, _flat(line, z), lighter(main, 0.75), max(0.5, wide * 0.16), 0.7 if prop.finish == "metal" else 0.3))
    return pieces


def weave(body: Body, prop: Prop, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """Cloth: stripes in the second colour, a hem, and soft folds that run out from one corner."""
    shape = body.shape
    assert isinstance(shape, Cloth)
    w, d, z = shape.width / 2, shape.depth / 2, shape.thickness
    main, second = tones[0], _tone(tones, 1, darker(tones[0], 0.22))
    pieces: list[Piece] = []
    if prop.texture == "striped":
        for k in (-0.86, -0.78, 0.78, 0.86):
            band = np.array([[w * k - w * 0.022, -d], [w * k + w * 0.022, -d], [w * k + w * 0.022, d], [w * k - w * 0.022, d]])
            pieces.append(Piece("ring", Paint(second, 0.85), points=_placed(body, _flat(band, z)), one_sided=True))
    if prop.texture == "checked":
        for k in np.linspace(-0.85, 0.85, 7):
            for band in (
                np.array([[w * k - w * 0.05, -d], [w * k + w * 0.05, -d], [w * k + w * 0.05, d], [w * k - w * 0.05, d]]),
                np.array([[-w, d * k - d * 0.05], [w, d * k - d * 0.05], [w, d * k + d * 0.05], [-w, d * k + d * 0.05]]),
            ):
                pieces.append(Piece("ring", Paint(second, 0.4), points=_placed(body, _flat(band, z)), one_sided=True))
    for k in range(4):  # each fold: a lit side and a shaded side, tapering
        start = np.array([-w, -d + 2 * d * (0.15 + 0.22 * k + 0.08 * random.random())])
        end = np.array([w, np.clip(start[1] + d * (random.random() - 0.35) * 0.8, -d, d)])
        side = np.array([0.0, d * (0.05 + 0.05 * random.random())])
        shaded = np.stack([start, end, np.clip(end + side * 0.3, [-w, -d], [w, d]), np.clip(start + side, [-w, -d], [w, d])])
        lit = np.stack([start, np.clip(start - side * 0.8, [-w, -d], [w, d]), np.clip(end - side * 0.2, [-w, -d], [w, d]), end])
        pieces.append(Piece("ring", Paint("#000000", 0.09), points=_placed(body, _flat(shaded, z))))
        pieces.append(Piece("ring", Paint("#ffffff", 0.13), points=_placed(body, _flat(lit, z))))
    hem = np.array([[-w, -d], [w, -d], [w, d], [-w, d]]) * (1 - 5 / max(w, d))
    pieces.append(_stroke(body, _flat(hem, z), darker(main, 0.4), 0.5, 0.4, closed=True))
    return pieces


def ball(body: Body, prop: Prop, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """A fruit's stalk end and pores."""
    x, y, z, r = body.spheres[0]
    if prop.texture not in ("pored", "crusty"):
        return []
    colour = _tone(tones, 1, darker(tones[0], 0.4))
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


def fish(body: Body, points: np.ndarray, z: float, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """A smoked fish lying on its side, head to +x: pale belly, side line, gill, eye, rows of scales, the tail's rays."""
    x0, x1 = points[:, 0].min(), points[:, 0].max()
    length = x1 - x0
    half = (points[:, 1].max() - points[:, 1].min()) / 2
    main, belly = tones[0], _tone(tones, 1, lighter(tones[0], 0.4))
    middle = np.linspace(x0 + length * 0.24, x0 + length * 0.8, 9)
    bow = np.sin(np.linspace(0.15, np.pi - 0.3, 9)) * half
    under = np.concatenate([np.column_stack([middle, -bow * 0.82]), np.column_stack([middle[::-1], -bow[::-1] * 0.15])])
    back = np.concatenate([np.column_stack([middle, bow * 0.85]), np.column_stack([middle[::-1], bow[::-1] * 0.35])])
    pieces = [
        Piece("ring", Paint(belly, 0.8), points=_placed(body, _flat(under, z)), one_sided=True),
        Piece("ring", Paint(darker(main, 0.45), 0.55), points=_placed(body, _flat(back[::-1], z))),
    ]
    for row in range(3):
        for k in range(8):
            c = np.array([x0 + length * (0.28 + 0.06 * k + 0.03 * (row % 2)), half * (0.34 - 0.3 * row)])
            t = np.linspace(-1.1, 1.1, 5)
            arc = c + np.column_stack([-np.cos(t), np.sin(t)]) * half * 0.16
            pieces.append(_stroke(body, _flat(arc, z), darker(main, 0.5), 0.5, 0.4))
    side = np.column_stack([np.linspace(x0 + length * 0.14, x0 + length * 0.78, 7), np.full(7, half * 0.08)])
    pieces.append(_stroke(body, _flat(side, z), lighter(belly, 0.3), 0.9, 0.75))
    t = np.linspace(-1.0, 1.0, 7)
    gill = np.column_stack([x0 + length * 0.79 + np.cos(t * 1.2) * half * 0.22, t * half * 0.68])
    pieces.append(_stroke(body, _flat(gill, z), darker(main, 0.65), 1.1, 0.8))
    eye = np.column_stack([np.cos(np.linspace(0, 2 * np.pi, 13)[:-1]), np.sin(np.linspace(0, 2 * np.pi, 13)[:-1])])
    centre = np.array([x0 + length * 0.89, half * 0.16])
    pieces.append(Piece("ring", Paint(lighter(belly, 0.4)), points=_placed(body, _flat(centre + eye * half * 0.13, z)), one_sided=True))
    pieces.append(Piece("ring", Paint("#1c1a18"), points=_placed(body, _flat(centre + eye * half * 0.08, z)), one_sided=True))
    for spread in (-0.6, -0.2, 0.2, 0.6):
        ray = np.array([[x0 + length * 0.12, spread * half * 0.3], [x0 + length * 0.02, spread * half * 0.95]])
        pieces.append(_stroke(body, _flat(ray, z), darker(main, 0.5), 0.6, 0.55))
    return pieces


def leaf(body: Body, points: np.ndarray, z: float, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """The midrib and its side veins, along x."""
    x0, x1 = points[:, 0].min(), points[:, 0].max()
    half = (points[:, 1].max() - points[:, 1].min()) / 2
    vein = lighter(tones[0], 0.3) if luminance(tones[0]) < 0.25 else darker(tones[0], 0.3)
    pieces = [_stroke(body, _flat(np.array([[x0 * 0.96, 0.0], [x1 * 0.92, 0.0]]), z), vein, 0.9, 0.8)]
    for k in np.linspace(0.25, 0.75, 4):
        x = x0 + (x1 - x0) * k
        for s in (-1, 1):
            pieces.append(_stroke(body, _flat(np.array([[x, 0.0], [x + half * 0.5, s * half * 0.6]]), z), vein, 0.5, 0.55))
    return pieces


def crust(body: Body, points: np.ndarray, z: float, tones: tuple[str, ...], random: np.random.Generator) -> list[Piece]:
    """A slice of bread: the crumb inside its crust, with its holes."""
    crumb = _tone(tones, 1, lighter(tones[0], 0.55))
    centre = points.mean(axis=0)
    rind = 0.06 * float(np.ptp(points, axis=0).min())
    inner = np.array(shapely.Polygon(points).buffer(-rind, join_style="mitre").exterior.coords)[:-1]
    if not shapely.Polygon(inner).exterior.is_ccw:
        inner = inner[::-1]
    pieces = [Piece("ring", Paint(crumb, 1.0, "sheen"), points=_placed(body, _flat(inner, z)), one_sided=True)]
    crumbed = shapely.Polygon(inner).buffer(-2.5)
    reach = np.abs(points - centre).max(axis=0) * 0.62
    for _ in range(16):
        spot = centre + (random.random(2) * 2 - 1) * reach
        if not shapely.contains_xy(crumbed, *spot):
            continue
        size = (0.6 + 1.8 * random.random(), 0.5 + 1.0 * random.random())
        t = np.linspace(0, 2 * np.pi, 8)[:-1]
        hole = spot + np.column_stack([np.cos(t) * size[0], np.sin(t) * size[1]])
        pieces.append(Piece("ring", Paint(darker(crumb, 0.3), 0.5), points=_placed(body, _flat(hole, z)), one_sided=True))
    return pieces
