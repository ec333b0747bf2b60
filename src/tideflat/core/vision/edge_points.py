"""Where an edge runs, to a part of a pixel: the steepest step of light across it."""

from __future__ import annotations

import cv2
import numpy as np

from ..tolerances import FLAT_BOW

#: Between places looked at across the edge, pixels.
_STEP = 0.5
#: A step weaker than this share of the plain ones, or than this much light, is no edge; fewer than so many points are none to go by.
_PLAIN, _LEAST_STEP, LEAST_POINTS = 0.35, 1.5, 20


def steepest_step(light: np.ndarray, bases: np.ndarray, inward: np.ndarray, reach: float) -> tuple[np.ndarray, np.ndarray]:
    """How far along ``inward`` from each of ``bases`` (n, 2) light rises most, pixels (n,), within ``reach``; and which are plain (n,).

    light: (h, w) float, linear; bases count from the middle of the first pixel; inward: (n, 2) unit ways, or (2,) for all.
    """
    steps = np.arange(-reach, reach + 0.01, _STEP)
    grid = bases[:, None, :] + np.broadcast_to(inward, bases.shape)[:, None, :] * steps[None, :, None]
    across, down = (grid[..., k].astype(np.float32) for k in (0, 1))
    values = cv2.remap(light, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    slope = np.gradient(cv2.GaussianBlur(values.astype(np.float32), (5, 1), 1.2), axis=1)
    peak = slope[:, 1:-1].argmax(axis=1) + 1
    rows = np.arange(len(bases))
    before, at, after = slope[rows, peak - 1], slope[rows, peak], slope[rows, peak + 1]
    bow = before - 2 * at + after
    part = np.where(np.abs(bow) > FLAT_BOW, 0.5 * (before - after) / np.where(np.abs(bow) > FLAT_BOW, bow, 1), 0)
    plain = at > max(_LEAST_STEP, _PLAIN * float(np.percentile(at, 80)))
    return steps[peak] + np.clip(part, -1, 1) * _STEP, plain


def points_on_edges(light: np.ndarray, bases: np.ndarray, inward: np.ndarray, reach: float) -> tuple[np.ndarray, np.ndarray] | None:
    """(points (k, 2) pixels, which of the four edges each is on (k,)) for bases and ways (4, n, 2); None where an edge is not plain."""
    points, sides = [], []
    for side, (along, ways) in enumerate(zip(bases, inward, strict=True)):
        offset, plain = steepest_step(light, along, ways, reach)
        inside = ((along >= 0) & (along <= [light.shape[1] - 1, light.shape[0] - 1])).all(axis=1)
        plain = plain & inside
        if plain.sum() < LEAST_POINTS:
            return None
        points.append((along + ways * offset[:, None])[plain] + 0.5)  # OpenCV's whole numbers are the middles of pixels
        sides.append(np.full(int(plain.sum()), side))
    return np.concatenate(points), np.concatenate(sides)
