"""One lens before one sheet of paper: where it would put the sheet's points, and the lens that leaves seen edges the least off.

With the magnification m a lens D mm from the sheet is ``f = D m / (1 + m)^2``, its pupil ``f (1/m + 1/P)`` away: so m, turn and place, and
the two radial terms of Brown's model (core/camera/distortion.py) are all there is to find. Least squares, robust, our own.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from ..camera.distortion import distortion_of
from .sheet import FoundSheet

#: A second term is kept where it leaves this share of the sum of squares, or less: one sheet hardly tells it from the first, and what it
#: says past the sheet's edges is a guess.
_SECOND_EARNS = 0.6
#: What lies further off than this, pixels, pulls less.
_ROBUST_PX, _MOST_STEPS = 0.7, 200


@dataclass(frozen=True, eq=False)
class SheetFrame:
    """The picture as the fit sees it: its middle, pixels; mm of the sensor a pixel is; how far the sheet was; the pupil's ratio."""

    middle: np.ndarray
    pitch_mm: float
    distance_mm: float
    pupil_ratio: float
    half_mm: tuple[float, float]

    def pupil_distance(self, m: float) -> float:
        """From the entrance pupil to the sheet, mm: ``f (1/m + 1/P)``."""
        return self.distance_mm * m / (1 + m) ** 2 * (1 / m + 1 / self.pupil_ratio)


@dataclass(frozen=True, eq=False)
class LensFit:
    """values (8,): turn (3), shift of the sheet's middle (2, mm), log m, k1, k2. spread (8,): their standard deviations. wave: what is left
    along the edges, pixels."""

    values: np.ndarray
    spread: np.ndarray
    wave: float


def first_guess(frame: SheetFrame, found: FoundSheet) -> np.ndarray:
    """Square to the sheet, turned as its edges lie, as large as it is."""
    corners = found.corners
    across = corners[1] - corners[0]
    per_mm = 1 / found.mm_per_pixel
    middle = (corners.mean(axis=0) - frame.middle) / per_mm
    turn = cv2.Rodrigues(np.diag([1.0, -1.0, -1.0]))[0].ravel()
    about = np.arctan2(across[1], across[0])
    spun = cv2.Rodrigues(np.array([0, 0, about]))[0] @ cv2.Rodrigues(turn)[0]
    m = per_mm * frame.pitch_mm
    leaning = cv2.Rodrigues(spun @ cv2.Rodrigues(turn)[0].T)[0].ravel()
    return np.array([*leaning[:2], leaning[2], *middle, np.log(m), 0.0, 0.0])


def _turned(values: np.ndarray) -> np.ndarray:
    """(3, 3) the sheet's axes, y up and z toward the lens, as the camera's (right, down, away)."""
    turned: np.ndarray = cv2.Rodrigues(values[:3])[0] @ np.diag([1.0, -1.0, -1.0])
    return turned


def _place(frame: SheetFrame, values: np.ndarray, turned: np.ndarray) -> np.ndarray:
    """(3,) the sheet's middle from the pupil: the axis meets the sheet at the pupil's distance."""
    normal, u = turned[:, 2], frame.pupil_distance(float(np.exp(values[5])))
    x, y = values[3:5]
    return np.array([x, y, u - (normal[0] * x + normal[1] * y) / normal[2]])


def pixels_of(frame: SheetFrame, values: np.ndarray, plane: np.ndarray) -> np.ndarray:
    """(..., 2) pixels of points (..., 2) of the sheet, mm from its middle."""
    turned = _turned(values)
    there = plane @ turned[:, :2].T + _place(frame, values, turned)
    flat = there[..., :2] / there[..., 2:]
    bends = distortion_of((values[6], values[7], 0.0, 0.0, 0.0))
    c = principal_px(frame, values)
    return np.asarray((flat if bends is None else bends.bent(flat)) * c + frame.middle)


def principal_px(frame: SheetFrame, values: np.ndarray) -> float:
    m = float(np.exp(values[5]))
    return frame.pupil_distance(m) * m / frame.pitch_mm


def solved(frame: SheetFrame, points: np.ndarray, sides: np.ndarray, start: np.ndarray) -> LensFit:
    """points (n, 2) seen on the edges ``sides`` (n,), 0 far, 1 right, 2 near, 3 left. One radial term, or two where the second earns it."""
    from scipy.optimize import least_squares  # takes a while to load, and is needed once a photograph

    w, h = frame.half_mm
    along = sides % 2 == 0
    lines = np.where(sides == 0, h, np.where(sides == 1, w, np.where(sides == 2, -h, -w)))

    def off(values: np.ndarray) -> np.ndarray:
        """How far each point lies off its edge, pixels, by the sheet's own axes."""
        bends = distortion_of((values[6], values[7], 0.0, 0.0, 0.0))
        flat = (points - frame.middle) / principal_px(frame, values)
        straight = flat if bends is None else bends.straightened(flat)
        turned = _turned(values)
        place = _place(frame, values, turned)
        rays = np.column_stack([straight, np.ones(len(straight))])
        scale = (turned[:, 2] @ place) / (rays @ turned[:, 2])
        on_sheet = (rays * scale[:, None] - place) @ turned[:, :2]
        return np.asarray((np.where(along, on_sheet[:, 1], on_sheet[:, 0]) - lines) * np.exp(values[5]) / frame.pitch_mm)

    def with_terms(free: int, first: np.ndarray) -> tuple[np.ndarray, Any]:
        def some(values: np.ndarray) -> np.ndarray:
            return off(np.concatenate([values, np.zeros(8 - free)]))

        found = least_squares(some, first[:free], x_scale="jac", loss="soft_l1", f_scale=_ROBUST_PX, max_nfev=_MOST_STEPS)
        return np.concatenate([found.x, np.zeros(8 - free)]), found

    first, one = with_terms(7, start)
    both, two = with_terms(8, first)
    values, best = (both, two) if two.cost < _SECOND_EARNS * one.cost else (first, one)
    return _judged(values, best, off(values))


def _judged(values: np.ndarray, found: Any, left: np.ndarray) -> LensFit:
    """How far to trust what was found: what is left along the edges, carried through."""
    kept = np.abs(left) < 3 * _ROBUST_PX
    wave = float(np.sqrt(np.mean(left[kept] ** 2))) if kept.any() else float(np.abs(left).max())
    inverse = np.linalg.pinv(found.jac.T @ found.jac)
    spread = np.zeros(8)
    spread[: len(inverse)] = np.sqrt(np.maximum(np.diag(inverse), 0.0)) * wave
    return LensFit(values, spread, wave)
