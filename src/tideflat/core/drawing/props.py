"""Each prop as the pieces it is drawn from: its own drawing, the pictures it wears, and its shadow."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..model import Prop
from ..plane.hull import hull_of
from ..shapes.solid import UNIT_CIRCLE
from ..solids.body import Body
from .detail import FINE, Detail
from .kinds import drawing_of
from .kinds.drawing import Ask
from .pieces import Paint, Piece
from .skins import skin_of, top_pieces

#: Direction the light of the drawings comes from on the table: back left. Drawing only; the light station will have its own.
FROM_LIGHT = np.array([0.62, -0.55])
#: How a cast shadow is shaded: it fades along the way that the light goes, in each view its own.
CAST = "cast"
#: Length of the drawn shadow for one mm of height.
SHADOW_LENGTH = 0.62


Eye = tuple[float, float, float]


def eye_for(body: Body, lens: np.ndarray) -> Eye:
    """Where the lens is, mm to a tenth, as far as it decides how the thing is painted: for most its height alone, which the order of their
    walls goes by; all of it for what hides parts of itself behind what it lies on."""
    x, y, z = (round(float(v), 1) for v in lens)
    return (x, y, z) if body.shape.is_folded else (0.0, 0.0, z)


def prop_pieces(body: Body, prop: Prop, eye: Eye, detail: Detail = FINE) -> tuple[Piece, ...]:
    """The pieces of one thing, in the order they are painted, for a lens at ``eye`` (eye_for)."""
    ask = Ask(body, prop, eye, detail)
    return _skinned(ask) if prop.skins else tuple(drawing_of(body.shape).pieces(ask))


def _skinned(ask: Ask) -> tuple[Piece, ...]:
    """The same with photographs on its faces; what is only drawn there gives way to them."""
    body, prop, drawing = ask.body, ask.prop, drawing_of(ask.body.shape)
    front = skin_of(prop, "front")
    has_top = skin_of(prop, "top", "tile") is not None
    keeps = (*drawing.keeps, *(("labelled", "lidded") if front is not None and not drawing.keeps else ()))
    plain = "smooth" if has_top and prop.texture not in keeps else prop.texture
    pieces = drawing.pieces(replace(ask, prop=replace(prop, texture=plain)))
    near_wall = [p for p in pieces if p.kind == "wall"]
    level = [p for p in pieces if p.one_sided and p.paint.fill is not None]
    face = level[0 if drawing.lit_first else -1] if level else None
    over = drawing.front(body, front.picture, ask.detail.cells) if front is not None else []
    over += top_pieces(body, prop, drawing.top(body.shape), face, ask.detail.cells) if has_top else []
    return tuple([p for p in pieces if p.kind != "wall"] + over + near_wall)


def shadow_pieces(body: Body) -> tuple[Piece, ...]:
    """The soft shadow on what the thing stands on, fading away from it as the key throws it, and the dark line of contact."""
    ground = body.z_min + 0.05
    if body.shape.is_strewn:
        return ()
    height = body.z_max - body.z_min
    foot = _foot_outline(body)
    low = np.column_stack([foot, np.full(len(foot), ground)])
    pieces = []
    if height > 1.5:
        shifted = low + np.array([*(FROM_LIGHT * height * SHADOW_LENGTH), 0.0])
        pieces.append(Piece("hull", Paint("#000000", shade=CAST), points=np.concatenate([low, shifted])))
    grown = low.copy()
    centre = low[:, :2].mean(axis=0)
    offset = grown[:, :2] - centre
    length = np.linalg.norm(offset, axis=1, keepdims=True)
    grown[:, :2] = centre + offset * (1 + 2.2 / np.maximum(length, 1.0)) + FROM_LIGHT * min(2.0, height * 0.2)
    pieces.append(Piece("hull", Paint("#000000", 0.2, own="none"), points=grown))
    return tuple(pieces)


def _foot_outline(body: Body) -> np.ndarray:
    hull = body.footprint_hull
    if body.shape.is_folded:  # what stands up of it is over what it lies on
        hull = hull_of(body.parts[-1][:, :2])
    if body.local.opening is not None and body.placement.lean == 0:  # a dish shades from its foot, not its rim
        circle = body.circles[0]
        return (circle[0] + UNIT_CIRCLE[::3] @ circle[1:])[:, :2]
    return np.array(hull.exterior.coords)[:-1][:: max(1, len(hull.exterior.coords) // 40)]
