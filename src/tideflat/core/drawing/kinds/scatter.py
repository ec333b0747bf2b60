"""Strewn pieces: crumbs, petals, leaves."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ...colour.mix import darker, mixed
from ...model import Prop
from ...shapes.scatter import Scatter
from ...solids.body import Body
from ..pieces import DRAWN_CHORDS, Paint, Piece
from ..strokes import random_of
from .drawing import Ask, Drawing

#: How round a piece is at the least, how much smaller than the ball it is judged as, and how far a leaf is tipped, degrees [practice].
_ROUND, _SMALLER, _TIPPED = 0.62, 0.25, 40.0
#: Corners of a crumb's outline, level by level.
_CORNERS = 7


@dataclass(frozen=True, eq=False, slots=True)
class _Strewn:
    """One piece: the ball that it is judged as, its tone's number and its tint, axes (2, 3) along and across, its size and how slim it is."""

    ball: np.ndarray
    tone: int
    colour: str
    axes: np.ndarray
    size: float
    slim: float


def _each(body: Body, prop: Prop, steps: int, random: np.random.Generator) -> Iterator[_Strewn]:
    """Every piece by the prop's own hand, which goes on with ``random`` after each. steps: of tints, 0 for one each."""
    tones = tuple(c.hex for c in prop.colours)
    for ball in body.spheres:
        tone = int(random.integers(len(tones)))
        toward, share = "#ffffff" if random.random() > 0.5 else "#000000", float(random.random())
        colour = mixed(tones[tone], toward, (round(share * steps) / steps if steps else share) * 0.14)
        turn, size = random.random() * 2 * np.pi, float(ball[3]) * (1 - _SMALLER * random.random())
        slim = 0.42 if prop.texture == "leafy" else _ROUND + (1 - _ROUND) * random.random()
        axes = np.array([[np.cos(turn), np.sin(turn), 0], [-np.sin(turn), np.cos(turn), 0]])
        yield _Strewn(ball, tone, colour, axes, size, slim)


def leaves_of(body: Body, prop: Prop) -> list[tuple[int, np.ndarray]]:
    """(number of the tone, (n, 3) outline of half a leaf), two of each leaf, as they are drawn: for who shows leaves otherwise."""
    random = random_of(prop)
    found = []
    for s in _each(body, prop, 0, random):
        tip = np.radians(_TIPPED) * (2 * random.random() - 1)
        found += [(s.tone, half) for half in _halves(s.ball[:3] - [0, 0, s.ball[3]], s.axes, s.size, tip)]
    return found


def strewn(ask: Ask) -> list[Piece]:
    """Each piece with its shadow, in a tint, a size and a shape of its own, within the ball that it is judged as."""
    body, prop, chords = ask.body, ask.prop, ask.detail.chords
    random = random_of(prop)
    steps = 0 if chords == DRAWN_CHORDS else 4  # drawn coarsely, pieces share a few tints instead of one each
    opacity = 0.82 if prop.material == "glass" else 1.0
    pieces = []
    for s in _each(body, prop, steps, random):
        (x, y, z, r), axes, size, slim, colour = s.ball, s.axes, s.size, s.slim, s.colour
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
    """Two halves, one in the light."""
    tints = colour, darker(colour, 0.22)
    return [
        Piece("ring", Paint(tint, own=colour, line=darker(tint, 0.25), line_width=0.25), points=half)
        for tint, half in zip(tints, _halves(here, axes, size, tip), strict=True)
    ]


def _halves(here: np.ndarray, axes: np.ndarray, size: float, tip: float) -> list[np.ndarray]:
    """(n, 3) outlines of a leaf's halves, creased along the middle and tipped; its lowest end on what is under it, at ``here``."""
    t = np.linspace(-1, 1, 7)
    crease = np.column_stack([t, 0 * t, 0.12 * (1 - t**2)])
    found = []
    for side in (1, -1):
        edge = np.column_stack([t, side * (1 - t**2) * 0.42, 0.3 * (1 - t**2)])
        half = np.concatenate([crease, edge[-2:0:-1]]) * size
        tipped = np.column_stack([half[:, 0] * np.cos(tip), half[:, 1], half[:, 2] + half[:, 0] * np.sin(tip)])
        places = tipped[:, :2] @ axes[:, :2]
        found.append(here + np.column_stack([places, tipped[:, 2] + size * abs(np.sin(tip))]))
    return found


DRAWING = Drawing((Scatter,), strewn)
