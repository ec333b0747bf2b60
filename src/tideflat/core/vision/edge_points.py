"""Where an edge runs, to a part of a pixel: the steepest step of light across it."""

from __future__ import annotations

import cv2
import numpy as np

from ..tolerances import FLAT_BOW

#: Between places looked at across the edge, pixels.
_STEP = 0.5
#: A step weaker than this share of the plain ones, or than this much light, is no edge; fewer than so many points are none to go by.
_PLAIN, _LEAST_STEP, LEAST_POINTS = 0.35, 1.5, 20
#: Linear light, 0 to 255, of encoded levels.
_LINEAR = 255 * (np.arange(256) / 255) ** 2.2


def steepest_step(grey: np.ndarray, bases: np.ndarray, inward: np.ndarray, reach: float) -> tuple[np.ndarray, np.ndarray]:
    """How far along ``inward`` from each of ``bases`` (n, 2) light rises most, pixels (n,), within ``reach``; and which are plain (n,).

    grey: (h, w) uint8, encoded; bases count from the middle of the first pixel; inward: (n, 2) unit ways, or (2,) for all.
    """
    steps = np.arange(-reach, reach + 0.01, _STEP)
    grid = bases[:, None, :] + np.broadcast_to(inward, bases.shape)[:, None, :] * steps[None, :, None]
    slope = np.gradient(cv2.GaussianBlur(_linear_at(grey, grid[..., 0], grid[..., 1]), (5, 1), 1.2), axis=1)
    peak = slope[:, 1:-1].argmax(axis=1) + 1
    rows = np.arange(len(bases))
    before, at, after = slope[rows, peak - 1], slope[rows, peak], slope[rows, peak + 1]
    bow = before - 2 * at + after
    part = np.where(np.abs(bow) > FLAT_BOW, 0.5 * (before - after) / np.where(np.abs(bow) > FLAT_BOW, bow, 1), 0)
    plain = at > max(_LEAST_STEP, _PLAIN * float(np.percentile(at, 80)))
    return steps[peak] + np.clip(part, -1, 1) * _STEP, plain


def _linear_at(grey: np.ndarray, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Linear light, float32, 0 to 255, between the pixels of an encoded picture (h, w) uint8, only where it is asked: there are millions.
    In encoded light the steepest step of a blurred edge would lie on its dark side."""
    h, w = grey.shape
    x, y = np.clip(x, 0, w - 1), np.clip(y, 0, h - 1)
    left, top = (np.minimum(at.astype(int), most) for at, most in ((x, w - 2), (y, h - 2)))
    right_by, down_by = x - left, y - top
    above, below = (
        _LINEAR[grey[row, left]] * (1 - right_by) + _LINEAR[grey[row, left + 1]] * right_by for row in (top, top + 1)
    )
    return np.asarray((above * (1 - down_by) + below * down_by).astype(np.float32))


def points_on_edges(grey: np.ndarray, bases: np.ndarray, inward: np.ndarray, reach: float) -> tuple[np.ndarray, np.ndarray] | None:
    """(points (k, 2) pixels, which of the four edges each is on (k,)) for bases and ways (4, n, 2); None where an edge is not plain."""
    points, sides = [], []
    for side, (along, ways) in enumerate(zip(bases, inward, strict=True)):
        offset, plain = steepest_step(grey, along, ways, reach)
        inside = ((along >= 0) & (along <= [grey.shape[1] - 1, grey.shape[0] - 1])).all(axis=1)
        plain = plain & inside
        if plain.sum() < LEAST_POINTS:
            return None
        points.append((along + ways * offset[:, None])[plain] + 0.5)  # OpenCV's whole numbers are the middles of pixels
        sides.append(np.full(int(plain.sum()), side))
    return np.concatenate(points), np.concatenate(sides)
