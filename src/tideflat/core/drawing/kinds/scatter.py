"""Strewn pieces: crumbs, petals, leaves."""

from __future__ import annotations

import numpy as np

from ...colour.mix import darker, mixed
from ...shapes.scatter import Scatter
from ..pieces import DRAWN_CHORDS, Paint, Piece
from ..strokes import random_of
from .drawing import Ask, Drawing

#: How round a piece is at the least, how much smaller than the ball it is judged as, and how far a leaf is tipped, degrees [practice].
_ROUND, _SMALLER, _TIPPED = 0.62, 0.25, 40.0
#: Corners of a crumb's outline, level by level.
_CORNERS = 7


def strewn(ask: Ask) -> list[Piece]:
    """Each piece with its shadow, in a tint, a size and a shape of its own, within the ball that it is judged as."""
    body, prop, tones, chords = ask.body, ask.prop, ask.tones, ask.detail.chords
    random = random_of(prop)
    steps = 0 if chords == DRAWN_CHORDS else 4  # drawn coarsely, pieces share a few tints instead of one each
    opacity = 0.82 if prop.material == "glass" else 1.0
    pieces = []
    for x, y, z, r in body.spheres:
        colour = tones[int(random.integers(len(tones)))]
        toward, share = "#ffffff" if random.random() > 0.5 else "#000000", float(random.random())
        colour = mixed(colour, toward, (round(share * steps) / steps if steps else share) * 0.14)
        turn, size = random.random() * 2 * np.pi, r * (1 - _SMALLER * random.random())
        slim = 0.42 if prop.texture == "leafy" else _ROUND + (1 - _ROUND) * random.random()
        axes = np.array([[np.cos(turn), np.sin(turn), 0], [-np.sin(turn), np.cos(turn), 0]])
        ground = body.placement.z + 0.1
        shadow = np.array([[x + r * 0.3, y - r * 0.3, ground], axes[0] * size, axes[1] * size * slim])
        pieces.append(Piece("ring", Paint("#000000", 0.22, own="none"), circles=(shadow,), chords=chords))
        here = np.array([x, y, z])
        if prop.texture == "leafy":
            pieces += _leaf(np.array([x, y, z - r]), axes, size, np.radians(_TIPPED) * (2 * random.random() - 1), colour)
        elif steps or random.random() < 0.4:  # as round as a peppercorn
            rings = tuple(
                np.array([here + [0, 0, h * size], axes[0] * size * w, axes[1] * size * slim * w])
                for h, w in ((-0.6, 0.7), (0, 1.0), (0.6, 0.7))
            )
            pieces.append(Piece("hull", Paint(colour, opacity, "ball"), circles=rings, chords=chords))
        else:
            pieces.append(Piece("hull", Paint(colour, opacity, "ball"), points=here + _crumb(random, axes, size, slim)))
    return pieces


def _crumb(random: np.random.Generator, axes: np.ndarray, size: float, slim: float) -> np.ndarray:
    """(n, 3) corners of a lump, no two alike: three uneven levels."""
    levels = []
    for height, wide in ((-0.6, 0.6), (0.0, 1.0), (0.55, 0.62)):
        t = (np.arange(_CORNERS) + 0.7 * random.random(_CORNERS)) * 2 * np.pi / _CORNERS
        out = wide * (0.8 + 0.2 * random.random(_CORNERS))
        flat_ = np.column_stack([np.cos(t) * out, np.sin(t) * out * slim]) @ axes
        levels.append(flat_ * size + [0, 0, height * size])
    return np.concatenate(levels)


def _leaf(here: np.ndarray, axes: np.ndarray, size: float, tip: float, colour: str) -> list[Piece]:
    """Two halves, creased along the middle and tipped, one in the light; its lowest end on what is under it, at ``here``."""
    t = np.linspace(-1, 1, 7)
    crease = np.column_stack([t, 0 * t, 0.12 * (1 - t**2)])
    pieces = []
    for side, tint in ((1, colour), (-1, darker(colour, 0.22))):
        edge = np.column_stack([t, side * (1 - t**2) * 0.42, 0.3 * (1 - t**2)])
        half = np.concatenate([crease, edge[-2:0:-1]]) * size
        tipped = np.column_stack([half[:, 0] * np.cos(tip), half[:, 1], half[:, 2] + half[:, 0] * np.sin(tip)])
        places = tipped[:, :2] @ axes[:, :2]
        paint = Paint(tint, own=colour, line=darker(tint, 0.25), line_width=0.25)
        pieces.append(Piece("ring", paint, points=here + np.column_stack([places, tipped[:, 2] + size * abs(np.sin(tip))])))
    return pieces


DRAWING = Drawing((Scatter,), strewn)
