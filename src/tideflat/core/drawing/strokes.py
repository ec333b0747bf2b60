"""What every drawn thing is made with: its tones, places in its own axes brought to the table, level circles, strokes."""

from __future__ import annotations

import zlib

import numpy as np

from ..model import Prop
from ..solids.body import Body
from .pieces import Paint, Piece


def random_of(prop: Prop) -> np.random.Generator:
    """The same hand for the same prop, wherever it stands."""
    return np.random.Generator(np.random.PCG64(zlib.crc32(prop.id.encode())))


def tone(tones: tuple[str, ...], index: int, otherwise: str) -> str:
    return tones[index] if len(tones) > index else otherwise


def wall_shade(prop: Prop) -> str:
    return {"glass": "glass", "metal": "metal", "gloss": "gloss"}.get(prop.finish, "round")


def circle_at(body: Body, height: float, radius_x: float, radius_y: float | None = None) -> np.ndarray:
    """A level circle of the thing at rest, where it is now."""
    local = np.array([[0, 0, height], [radius_x, 0, 0], [0, radius_y if radius_y is not None else radius_x, 0]])
    placed = local @ body.turned.T
    placed[0] += body.base
    return placed


def placed(body: Body, points: np.ndarray) -> np.ndarray:
    """Points (n, 3) of the thing's own axes, where they are now."""
    return points @ body.turned.T + body.base


def flat(points: np.ndarray, z: float) -> np.ndarray:
    """Points (n, 2) at one height."""
    return np.column_stack([points, np.full(len(points), z)])


def stroke(body: Body, points: np.ndarray, colour: str, width: float, opacity: float, *, closed: bool = False) -> Piece:
    """A drawn line through points of the thing's own axes, ``width`` mm wide."""
    paint = Paint(None, line=colour, line_width=width, line_opacity=opacity)
    return Piece("ring" if closed else "line", paint, points=placed(body, points))


def face(body: Body, corners: np.ndarray, paint: Paint) -> Piece:
    """A flat face of the thing, drawn where its front is seen."""
    return Piece("ring", paint, points=placed(body, corners), one_sided=True)
