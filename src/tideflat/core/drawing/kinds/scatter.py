"""Strewn pieces: crumbs, petals, leaves."""

from __future__ import annotations

import numpy as np

from ...colour.mix import darker, mixed
from ...shapes.scatter import Scatter
from ..pieces import DRAWN_CHORDS, Paint, Piece
from ..strokes import random_of
from .drawing import Ask, Drawing


def strewn(ask: Ask) -> list[Piece]:
    """Each piece with its shadow, in a tint of its own."""
    body, prop, tones, chords = ask.body, ask.prop, ask.tones, ask.detail.chords
    random = random_of(prop)
    steps = 0 if chords == DRAWN_CHORDS else 4  # drawn coarsely, pieces share a few tints instead of one each
    pieces = []
    for x, y, z, r in body.spheres:
        colour = tones[int(random.integers(len(tones)))]
        toward, share = "#ffffff" if random.random() > 0.5 else "#000000", float(random.random())
        colour = mixed(colour, toward, (round(share * steps) / steps if steps else share) * 0.14)
        turn = random.random() * np.pi
        long, short = r, r * (0.8 if prop.texture != "leafy" else 0.42)
        axes = np.array([[np.cos(turn), np.sin(turn), 0], [-np.sin(turn), np.cos(turn), 0]])
        ground = body.placement.z + 0.1
        shadow = np.array([[x + r * 0.3, y - r * 0.3, ground], axes[0] * long, axes[1] * short])
        pieces.append(Piece("ring", Paint("#000000", 0.22), circles=(shadow,), chords=chords))
        if prop.texture == "leafy":
            t = np.linspace(-1, 1, 7)
            edge = np.concatenate([np.column_stack([t, (1 - t**2) * 0.5]), np.column_stack([t[-2:0:-1], -(1 - t[-2:0:-1] ** 2) * 0.5])])
            leaf = np.column_stack([edge @ (axes[:, :2] * r) + [x, y], np.full(len(edge), body.placement.z + r * 0.4)])
            pieces.append(Piece("ring", Paint(colour, 1.0, "flat", line=darker(colour, 0.3), line_width=0.3), points=leaf))
        else:
            rings = tuple(
                np.array([[x, y, h], axes[0] * long * w, axes[1] * short * w])
                for h, w in ((z - r * 0.6, 0.7), (z, 1.0), (z + r * 0.6, 0.7))
            )
            pieces.append(Piece("hull", Paint(colour, 1.0, "ball"), circles=rings, chords=chords))
    return pieces


DRAWING = Drawing((Scatter,), strewn)
