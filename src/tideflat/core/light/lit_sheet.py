"""A sheet that a lamp shines through: the source is then its lit part, each point of which gives on, matt, what reaches it."""

from __future__ import annotations

import math

import numpy as np

from ..model import Sheet
from ..tolerances import SAME_NUMBER
from .form_factor import frame_of
from .lit_face import LitFace, unhindered

#: A sheet is cut into so many cells a side, narrow where the lamp is near it; what reaches a cell is the mean over so many parts a side.
_CELLS, _PARTS = 12, 4
#: Ways along the rim of a beam.
_RIM = 48


def lit_cells(lamp: LitFace, sheet: Sheet) -> tuple[LitFace, ...]:
    """The sheet in cells, each giving on what reaches it, on the side away from the lamp; those that nothing reaches are left out."""
    along, upward, out = frame_of(np.array(sheet.toward))
    middle = np.array(sheet.at, dtype=float)
    away = float((middle - lamp.middle) @ out)
    if away < 0:
        out, away = -out, -away
    foot = lamp.middle - middle
    (a0, a1), (b0, b1) = _reached(lamp, middle, along, upward, (sheet.width / 2, sheet.height / 2))
    a, b = (_graded(float(foot @ way), away, low, high) for way, low, high in ((along, a0, a1), (upward, b0, b1)))
    corners = np.array(
        [[[u0, v0], [u1, v0], [u1, v1], [u0, v1]] for u0, u1 in zip(a, a[1:], strict=False) for v0, v1 in zip(b, b[1:], strict=False)]
    )
    cells = middle + corners[..., :1] * along + corners[..., 1:] * upward
    steps = (np.arange(_PARTS) + 0.5) / _PARTS
    u, v = (grid.ravel()[None, :, None] for grid in np.meshgrid(steps, steps, indexing="ij"))
    parts = cells[:, None, 0] + u * (cells[:, None, 1] - cells[:, None, 0]) + v * (cells[:, None, 3] - cells[:, None, 0])
    places = parts.reshape(-1, 3)
    lux = unhindered(places, np.tile(-out, (len(places), 1)), lamp, 6).reshape(len(cells), -1).mean(axis=1)
    return tuple(LitFace(cell, out, float(e) * sheet.transmission / math.pi) for cell, e in zip(cells, lux, strict=True) if e > 0)


def _reached(
    lamp: LitFace, middle: np.ndarray, along: np.ndarray, upward: np.ndarray, halves: tuple[float, float]
) -> list[tuple[float, float]]:
    """(low, high) along each side of the sheet of what the lamp may light: all of it, or what its beam and its own size reach."""
    whole = [(-half, half) for half in halves]
    if lamp.cosine is None or lamp.cosine <= 0:
        return whole
    side, up, out = frame_of(lamp.out)
    sine = math.sqrt(1 - lamp.cosine**2)
    angles = np.linspace(0, 2 * np.pi, _RIM, endpoint=False)
    rim = lamp.cosine * out + sine * (np.cos(angles)[:, None] * side + np.sin(angles)[:, None] * up)
    slope = rim @ np.cross(along, upward)
    far = float((middle - lamp.middle) @ np.cross(along, upward)) / np.where(np.abs(slope) < SAME_NUMBER, SAME_NUMBER, slope)
    if (far <= 0).any():
        return whole
    met = lamp.middle + far[:, None] * rim - middle
    size = float(np.linalg.norm(lamp.polygon - lamp.middle, axis=1).max())
    found = []
    for way, (low, high) in ((along, whole[0]), (upward, whole[1])):
        bounds = max(low, float((met @ way).min()) - size), min(high, float((met @ way).max()) + size)
        found.append(bounds if bounds[0] < bounds[1] else (low, high))
    return found


def _graded(foot: float, away: float, low: float, high: float) -> np.ndarray:
    """Bounds of cells from low to high, so wide that each takes as much of the angle seen from ``away`` before ``foot``."""
    far = max(away, (high - low) / 2 / _CELLS)
    angles = np.linspace(math.atan2(low - foot, far), math.atan2(high - foot, far), _CELLS + 1)
    return foot + far * np.tan(angles)  # type: ignore[no-any-return]


def bounds_on(lit: np.ndarray, sheet: Sheet) -> np.ndarray:
    along, upward, _ = frame_of(np.array(sheet.toward))
    middle = np.array(sheet.at, dtype=float)
    a, b = (lit - middle) @ along, (lit - middle) @ upward
    return np.array(
        [middle + u * along + v * upward for u, v in ((a.min(), b.min()), (a.max(), b.min()), (a.max(), b.max()), (a.min(), b.max()))]
    )
