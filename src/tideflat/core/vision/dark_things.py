"""What is dark on the paper: a thing's shadow, or a thing that passes for one where the light has several colours. Shadows fade, and things
have borders: of two readings that is right whose things have the sharper ones.
"""

from __future__ import annotations

import cv2
import numpy as np

from ..tolerances import LEAST_LIGHT
from .reflections import cleaned, each_part, rim_of, steepness, well_within

#: What leaves less of the paper's light than this, and is no smaller, mm2, may be a thing that was taken for shadow.
_DARK, _LEAST_MM2 = 0.35, 100.0
#: A border is sharp where this share of the step within so many mm is made within so many, and within so many pixels.
_SHARP, _ABOUT_MM, _EDGE_MM, _EDGE_PX = 0.6, 7.0, 2.0, 3
#: Of its border so much is sharp; and of the things' of the other reading, by so much more than of the first.
_CLOSED, _PLAIN, _PLAINER = 0.75, 0.85, 0.1


def sharpness_of_borders(log: np.ndarray, per_mm: float) -> np.ndarray:
    """(h, w): share of the step about each place that is made at it, in the channel of log light (h, w, 3) that changes most: about 1 at
    the edge of a thing, less the wider a shadow's border is."""
    about = np.ones((int(_ABOUT_MM * per_mm) | 1,) * 2, np.uint8)
    edge_px = max(_EDGE_PX, _EDGE_MM * per_mm)
    near = np.ones((int(edge_px) | 1,) * 2, np.uint8)
    most, sharpness = np.zeros(log.shape[:2], np.float32), np.zeros(log.shape[:2], np.float32)
    for channel in cv2.split(log):
        step = cv2.morphologyEx(channel, cv2.MORPH_GRADIENT, about)
        made = cv2.dilate(steepness(channel, edge_px), near) / np.maximum(step, LEAST_LIGHT)  # made within an edge's width
        np.copyto(sharpness, made, where=step > most)
        np.maximum(most, step, out=most)
    return sharpness


def has_dark_things(paper: np.ndarray, over: np.ndarray, sure: np.ndarray, per_mm: float) -> bool:
    """Whether anything is so dark on the paper, without being told from its shadows, beside what is told. All (h, w)."""
    least = _LEAST_MM2 * per_mm**2
    return (paper & sure).sum() >= least and (paper & (over < _DARK) & ~sure).sum() >= least


def dark_things(paper: np.ndarray, over: np.ndarray, sure: np.ndarray, sharpness: np.ndarray, per_mm: float) -> np.ndarray:
    """(h, w) bool: what is dark on the paper, is not told from its shadows, and has a sharp border. over (h, w): share of the light that is
    left."""
    found = np.zeros(paper.shape, bool)
    inner = well_within(paper)
    for where, part in each_part(cleaned(paper & (over < _DARK) & ~sure, per_mm)):
        rim = rim_of(part) & inner[where]
        if part.sum() >= _LEAST_MM2 * per_mm**2 and rim.any() and (sharpness[where][rim] > _SHARP).mean() >= _CLOSED:
            found[where] |= part
    return found


def sharp_share(mask: np.ndarray, paper: np.ndarray, sharpness: np.ndarray, per_mm: float) -> float | None:
    """Which share of the borders of what a mask tells on the paper is sharp; None where it has none there."""
    borders = sharpness[rim_of(cleaned(mask & paper, per_mm)) & well_within(paper)] > _SHARP
    return float(borders.mean()) if len(borders) else None


def is_sharper(share: float | None, than: float) -> bool:
    """Whether a reading of which that share of the borders is sharp is plainly sharper than another, and sharp."""
    return share is not None and share >= _PLAIN and share > than + _PLAINER
