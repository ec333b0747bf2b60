"""Sheets by what of a picture is bright, or closed in by edges: four-cornered outlines of masks."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain

import cv2
import numpy as np

from ..tolerances import ROUNDING

#: A sheet takes at least this share of the picture; less is too coarse to measure by.
LEAST_SHARE = 0.015
#: With so much of its edge plainly seen, one that was cut out by light is enough; and one of any mask.
_BEYOND_DOUBT, _AT_ONCE = 0.97, 0.93


def quadrilaterals_of_masks(small: np.ndarray, light: np.ndarray) -> Iterator[tuple[Iterator[np.ndarray], float]]:
    """Four-cornered outlines (4, 2) of bright regions, cut at several levels, plain, without colour and evened out, and of closed edges;
    and with what share of its edge seen such a one is enough."""
    yield _cut(light), _BEYOND_DOUBT
    lab = cv2.cvtColor(small, cv2.COLOR_RGB2LAB)
    # Paper has little colour of its own: brightness less chroma tells it from a pale coloured table.
    chroma = cv2.magnitude(*(lab[..., k].astype(np.float32) - 128 for k in (1, 2)))
    yield _cut(np.clip(light.astype(np.float32) - 1.6 * chroma, 0, 255).astype(np.uint8)), _BEYOND_DOUBT
    wide = max(light.shape) // 3 | 1
    yield _cut(cv2.divide(light, cv2.blur(light, (wide, wide)), scale=128)), _BEYOND_DOUBT
    adapted = cv2.adaptiveThreshold(light, 1, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY, (max(light.shape) // 4) | 1, -8)
    calm = cv2.GaussianBlur(light, (0, 0), 1.3)
    closed = (
        1 - cv2.dilate(cv2.Canny(picture, low, high), np.ones((3, 3), np.uint8)) // 255
        for picture, low, high in ((light, 25, 70), (calm, 6, 16), (calm, 10, 26), (calm, 16, 44))  # paper on white checks has faint edges
    )
    yield chain(_outlined(adapted), *(_outlined(mask, cv2.RETR_LIST) for mask in closed)), _AT_ONCE


def _cut(picture: np.ndarray) -> Iterator[np.ndarray]:
    """Of what is brighter than several levels of a picture."""
    level, _ = cv2.threshold(picture, 0, 255, cv2.THRESH_OTSU)
    of_each = np.cumsum(np.bincount(picture.ravel(), minlength=256))
    high = int(np.searchsorted(of_each, 0.98 * picture.size))
    for share in (-0.25, 0.0, 0.25, 0.5, 0.75):
        yield from _outlined((picture > level + (high - level) * share).astype(np.uint8))


def _outlined(mask: np.ndarray, which: int = cv2.RETR_EXTERNAL) -> Iterator[np.ndarray]:
    opened = cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    outlines, _ = cv2.findContours(opened, which, cv2.CHAIN_APPROX_SIMPLE)
    for outline in sorted(outlines, key=cv2.contourArea, reverse=True)[:6]:
        if cv2.contourArea(outline) < LEAST_SHARE * mask.size:
            break
        corners = _four_corners(cv2.convexHull(outline)[:, 0].astype(float))
        if corners is not None:
            yield corners


def _four_corners(hull: np.ndarray) -> np.ndarray | None:
    """The four longest straight runs of a convex outline, cut with their neighbours: a corner may be covered by the thing."""
    length = cv2.arcLength(hull.astype(np.float32), True)
    simple = cv2.approxPolyDP(hull.astype(np.float32), 0.012 * length, True)[:, 0].astype(float)
    if len(simple) < 4 or len(simple) > 9:
        return None
    following = np.roll(simple, -1, axis=0)
    order = np.sort(np.argsort(-np.linalg.norm(following - simple, axis=1))[:4])
    first, other = simple[order], following[order]
    lines = np.column_stack([first[:, 1] - other[:, 1], other[:, 0] - first[:, 0], first[:, 0] * other[:, 1] - first[:, 1] * other[:, 0]])
    met = np.cross(lines, np.roll(lines, -1, axis=0))  # where each meets the next, homogeneous
    if np.abs(met[:, 2]).min() < ROUNDING:
        return None
    found = clockwise(met[:, :2] / met[:, 2:])
    is_convex = cv2.isContourConvex(found.astype(np.float32))
    inside = np.all(np.abs(found - hull.mean(axis=0)) < 1.5 * np.ptp(hull, axis=0))
    return found if is_convex and inside else None


def clockwise(corners: np.ndarray) -> np.ndarray:
    """In the picture (y down), clockwise from the corner nearest the top left."""
    middle = corners.mean(axis=0)
    around = corners[np.argsort(np.arctan2(corners[:, 1] - middle[1], corners[:, 0] - middle[0]))]
    return np.roll(around, -int(around.sum(axis=1).argmin()), axis=0)
