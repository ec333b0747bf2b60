"""How the lens bends what it sees, told by the sheet's four edges, which are straight: and so how large a thing is that lies beside it.

A phone's or a wide lens moves what lies toward the picture's corners in or out. Within the sheet its corners take that up, beside it
nothing does: of a lens that bends by a twenty-fifth a thing there comes out up to three hundredths too large or too small.

What is seen so far from the middle, r in half diagonals, is put where a lens would see it that keeps lines straight: ``1 + bend r^2`` times
as far out (the first term of D. C. Brown, "Decentering distortion of lenses", Photogrammetric Engineering 32(3), 1966, on the way back).
That leaves a straight line along each edge, wherever it lies: nine numbers, two of each line and the bend, by linear least squares. No
focal length and no tilt has a part in it, nor has what was cut off the picture, but for its middle.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..tolerances import BENT_BACK
from .edge_points import LEAST_POINTS
from .pose import Pose
from .rectified import at_height, through
from .sheet_sides import SheetSide, meeting

#: Of lenses that people photograph with two in three bend by less, the way to the picture's corner being 1 (from memory, no source).
_USUAL_BEND = 0.02
#: Places along an edge are told to so many pixels at the best, and are worth no more than so many that have nothing to do with each other.
_EXACT_PX, _WORTH = 0.15, 200.0
#: What lies further off than this, pixels, or than so many times what half of its edge does, is no part of it; lines are drawn so often.
_ASTRAY_PX, _ASTRAY, _ROUNDS = 0.4, 2.0, 12
#: Edges that are not told along so much of their length, or waver by more than this, pixels or share of the half diagonal, tell nothing.
_LEAST_SPAN, _WAVERS_PX, _WAVERS = 0.5, 0.25, 0.0002
#: No lens that draws a sheet's edges as edges bends by more, and past it what is further out would be seen further in.
_MOST_BEND = 0.15
#: Corners are moved by no more than this share of the half diagonal.
_MOST_MOVED = 0.05
#: Steps of the way back: each leaves a small share of what was left.
_STEPS = 30


@dataclass(frozen=True, eq=False)
class Bend:
    """by: how much further out than it is seen, as a share of its way, a lens without bend would put what is in the picture's corner; inward
    negative. middle (2,) and half_px, half of the picture's diagonal: pixels."""

    by: float
    middle: np.ndarray
    half_px: float

    def straightened(self, pixels: np.ndarray) -> np.ndarray:
        """(n, 2) where a lens without bend would put what is seen at ``pixels`` (n, 2)."""
        out = pixels - self.middle
        return np.asarray(pixels + out * (self.by * (out**2).sum(axis=-1, keepdims=True) / self.half_px**2))

    def bent(self, straight: np.ndarray) -> np.ndarray:
        """The way back, step by step."""
        found = np.asarray(straight, dtype=float)
        for _ in range(_STEPS):
            off = straight - self.straightened(found)
            found = found + off
            if float(np.abs(off).max(initial=0.0)) < BENT_BACK * self.half_px:
                break
        return found


@dataclass(frozen=True, eq=False)
class SheetLens:
    """bend, and the sheet's pose as a lens without it would see the sheet."""

    bend: Bend
    pose: Pose

    def on_table(self, pixels: np.ndarray, height_mm: float) -> np.ndarray:
        """(n, 2) mm from the sheet's middle, of what is seen at ``pixels`` (n, 2) so high above it."""
        return through(np.linalg.inv(at_height(self.pose, height_mm)), self.bend.straightened(pixels))

    def in_picture(self, mm: np.ndarray, height_mm: float) -> np.ndarray:
        """The way back: (n, 2) pixels."""
        return self.bend.bent(through(at_height(self.pose, height_mm), mm))


def bend_along(sides: Sequence[SheetSide], corners: np.ndarray, picture: tuple[int, int]) -> tuple[Bend, np.ndarray] | None:
    """The bend, and where a lens without it would put the sheet's corners (4, 2); None where the edges do not tell it.

    sides: as they are seen, places counted from the middle of the first pixel; corners (4, 2), so too; picture (w, h) pixels.
    """
    middle, half = np.array(picture) / 2 - 0.5, float(np.hypot(*picture)) / 2
    told = _lines_and_bend(sides, middle, half)
    if told is None:
        return None
    lines, by = told
    ends = [
        np.cross([*(side.start + side.inward * at), 1.0], [*(side.end + side.inward * (at + slope)), 1.0])
        for side, (at, slope) in zip(sides, lines, strict=True)
    ]
    met = meeting(corners, [(line, 0.0) for line in ends], _MOST_MOVED * half)
    return None if met is None else (Bend(by, middle + 0.5, half), met[0] + 0.5)


def _lines_and_bend(sides: Sequence[SheetSide], middle: np.ndarray, half_px: float) -> tuple[np.ndarray, float] | None:
    """((4, 2): of each side's straight line, how far within its start it begins and how much further it ends, pixels; the bend)."""
    plain = [side.plain for side in sides]
    owner = np.repeat(np.arange(len(sides)), [p.sum() for p in plain])
    shares = np.concatenate([side.shares[p] for side, p in zip(sides, plain, strict=True)])
    offset = np.concatenate([side.offset[p] for side, p in zip(sides, plain, strict=True)])
    moved = np.concatenate([_moved_inward(side, middle, half_px)[p] for side, p in zip(sides, plain, strict=True)])
    rows = np.zeros((len(shares), 2 * len(sides) + 1))
    rows[np.arange(len(shares)), 2 * owner], rows[np.arange(len(shares)), 2 * owner + 1], rows[:, -1] = 1.0, shares, -moved
    kept, following, wavers = np.ones(len(shares), bool), np.zeros(len(shares), bool), _EXACT_PX
    for _ in range(_ROUNDS):
        if not _is_told(owner[kept], shares[kept], len(sides)):
            return None
        held = np.zeros(rows.shape[1])
        held[-1] = max(wavers, _EXACT_PX) * np.sqrt(kept.sum() / _WORTH) / _USUAL_BEND
        values = np.linalg.lstsq(np.vstack([rows[kept], held]), np.append(offset[kept], 0.0), rcond=None)[0]
        off = np.abs(offset - rows @ values)
        most = [max(_ASTRAY_PX, _ASTRAY * float(np.median(off[kept & (owner == k)]))) for k in range(len(sides))]
        following, kept = kept, off <= np.array(most)[owner]
        wavers = float(np.sqrt(np.mean(off[following] ** 2)))
        if np.array_equal(following, kept):
            break
    if wavers > max(_WAVERS_PX, _WAVERS * half_px) or abs(values[-1]) > _MOST_BEND:
        return None
    return values[:-1].reshape(-1, 2), float(values[-1])


def _moved_inward(side: SheetSide, middle: np.ndarray, half_px: float) -> np.ndarray:
    """(n,) by how much a bend of 1 would move its places inward, pixels."""
    out = side.start + (side.end - side.start) * side.shares[:, None] + side.inward * side.offset[:, None] - middle
    return np.asarray((out @ side.inward) * (out**2).sum(axis=1) / half_px**2)


def _is_told(owner: np.ndarray, shares: np.ndarray, count: int) -> bool:
    """Whether each side is seen at places enough, along enough of its length."""
    own = [shares[owner == k] for k in range(count)]
    return all(len(places) >= LEAST_POINTS and np.ptp(places) >= _LEAST_SPAN for places in own)
