"""What in a flattened photograph is neither paper, nor table, nor shadow."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..colour.transfer import decoded_array
from ..tolerances import LEAST_LIGHT
from .rectified import Flat

#: Log of light that a shadow may leave of what falls beside it: down to a third.
_DARKEST_SHADOW = np.log(0.33)
#: Least difference in log colour (about per cent of light) that is taken for another thing, on paper and on the table.
_LEAST_CHROMA = {"paper": 0.07, "table": 0.10}
_LEAST_BRIGHTER = {"paper": 0.10, "table": 0.20}
_SPREADS = 5.0
#: Light is fitted over lengths of this unit, so that the terms are of one size.
_UNIT_MM = 150.0


@dataclass(frozen=True, eq=False)
class Ground:
    """mask (h, w) bool: the thing. grey: how much of it was told from shadow by its edges only. paper (h, w, 3): linear light that paper
    would have there."""

    mask: np.ndarray
    grey: float
    paper: np.ndarray


#: Pixels that a smooth light is fitted to.
_SAMPLES = 20_000


def linear(rgb: np.ndarray) -> np.ndarray:
    """Linear light (float32) of sRGB uint8."""
    table = np.arange(256) / 255
    table = decoded_array(table)
    return np.asarray(cv2.LUT(rgb, table.astype(np.float32)))


def tell_apart(flat: Flat, sheet_mm: tuple[float, float]) -> Ground:
    """The thing on or beside the sheet. Paper and table are each fitted with smooth light in log colour; a thing differs in colour,
    is brighter, or is darker than any shadow. Grey things are told by their sharp edges."""
    log = np.log(np.maximum(linear(cv2.GaussianBlur(flat.rgb, (0, 0), max(0.6, 0.5 * flat.per_mm))), LEAST_LIGHT))
    h, w = log.shape[:2]
    x = flat.left + (np.arange(w) + 0.5) / flat.per_mm
    y = flat.far - (np.arange(h) + 0.5) / flat.per_mm
    grid = ((x / _UNIT_MM).astype(np.float32), (y / _UNIT_MM).astype(np.float32))
    rim = 1.2 + 1.0 / flat.per_mm
    past = np.maximum((np.abs(x) - sheet_mm[0] / 2)[None], (np.abs(y) - sheet_mm[1] / 2)[:, None])  # mm outside the sheet
    well_in, well_out = past < -rim, past > rim
    sure = np.zeros((h, w), bool)
    vague = np.zeros((h, w), bool)
    paper_fit = None
    for kind, zone in (("paper", well_in & flat.known), ("table", well_out & flat.known)):
        if zone.sum() < 400:
            continue
        fit, spread_c, spread_m = _fitted(log, grid, zone, bright=kind == "paper")
        if kind == "paper":
            paper_fit = fit
        off = log - _smooth(fit, grid)
        red, green, blue = cv2.split(off)
        mean = (red + green + blue) / 3
        chroma = np.sqrt((red - mean) ** 2 + (green - mean) ** 2 + (blue - mean) ** 2)
        much = np.maximum(_LEAST_CHROMA[kind], _SPREADS * spread_c)
        brighter = np.maximum(_LEAST_BRIGHTER[kind], _SPREADS * spread_m)
        sure |= zone & ((chroma > much) | (mean > brighter) | (mean < _DARKEST_SHADOW))
        vague |= zone & (mean < -np.maximum(0.10, _SPREADS * spread_m))
    paper = np.exp(_smooth(paper_fit, grid, most=1.6)) if paper_fit is not None else np.full((h, w, 3), 0.9, np.float32)
    known = flat.known
    # a thing may lie across the sheet's edge: the strip that belongs to neither is bridged where both sides are the thing
    strip = known & ~well_in & ~well_out
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (int(2 * (2 * rim) * flat.per_mm) | 1,) * 2)
    bridged = cv2.morphologyEx(sure.astype(np.uint8), cv2.MORPH_CLOSE, kernel).astype(bool)
    sure |= strip & bridged
    mask, grey = _with_greys(sure, vague, log, flat.per_mm)
    return Ground(mask & known, grey, paper.astype(np.float32))


def _smooth(fit: np.ndarray, grid: tuple[np.ndarray, np.ndarray], most: float = np.inf) -> np.ndarray:
    """The quadratic with coefficients (6, 3) of 1, x, y, x^2, xy, y^2 over the grid, (h, w, 3) float32; no term counts for more than ``most``."""
    x, y = grid
    along = np.stack([np.ones_like(x), np.clip(x, -most, most), np.clip(x * x, -most, most)], axis=-1) @ fit[[0, 1, 3]]
    away = np.stack([np.clip(y, -most, most), np.clip(y * y, -most, most)], axis=-1) @ fit[[2, 5]]
    mixed = np.clip(np.multiply.outer(y, x), -most, most)
    return np.asarray((along[None] + away[:, None] + mixed[..., None] * fit[4]).astype(np.float32))


def _fitted(log: np.ndarray, grid: tuple[np.ndarray, np.ndarray], zone: np.ndarray, *, bright: bool) -> tuple[np.ndarray, float, float]:
    """Coefficients (6, 3) of smooth light over the zone, and the spread of colour and of lightness about it (robust, one sigma)."""
    chosen = np.flatnonzero(zone)
    chosen = chosen[:: len(chosen) // _SAMPLES + 1]  # before anything is copied: the zone may have a million pixels
    at_x, at_y = grid[0][chosen % zone.shape[1]], grid[1][chosen // zone.shape[1]]
    rows = np.stack([np.ones_like(at_x), at_x, at_y, at_x * at_x, at_x * at_y, at_y * at_y], axis=-1)
    values = log.reshape(-1, 3)[chosen]
    mean = values.mean(axis=1)
    kept = mean > np.percentile(mean, 45) if bright else np.abs(mean - np.median(mean)) < np.percentile(np.abs(mean - np.median(mean)), 80)
    fit = np.zeros((rows.shape[-1], 3), np.float32)
    for round_ in range(8):
        columns = slice(0, 1) if round_ == 0 else slice(0, 3) if round_ < 3 else slice(0, 6)
        solved = np.linalg.lstsq(rows[kept][:, columns], values[kept], rcond=None)[0]
        fit[:] = 0
        fit[columns] = solved
        off = values - rows @ fit
        size = np.linalg.norm(off, axis=1)
        limit = max(0.03, 2.8 * float(np.median(size[kept])))
        kept = size < limit
        if bright:  # shadow on paper is no part of its light
            kept &= off.mean(axis=1) > -limit / 2
        if kept.sum() < 60:
            kept = size <= np.percentile(size, 30)
    off = values[kept] - rows[kept] @ fit
    m = off.mean(axis=1)
    c = np.linalg.norm(off - m[:, None], axis=1)
    return fit, float(np.sqrt(np.mean(c**2))) * 0.8, float(np.median(np.abs(m))) * 1.48


def _with_greys(sure: np.ndarray, vague: np.ndarray, log: np.ndarray, per_mm: float) -> tuple[np.ndarray, float]:
    """Add what is only darker, where it has a sharp edge all round: a grey thing, not a shadow that fades."""
    opened = _cleaned(sure, per_mm)
    dark = _cleaned(vague | sure, per_mm)
    if not dark.any():
        return opened, 0.0
    light = log.mean(axis=-1)
    step = np.hypot(cv2.Sobel(light, cv2.CV_32F, 1, 0) / 8, cv2.Sobel(light, cv2.CV_32F, 0, 1) / 8) * per_mm
    count, labels, stats, _ = cv2.connectedComponentsWithStats(dark.astype(np.uint8))
    added = opened.copy()
    grey = 0
    for k in range(1, count):
        part = labels == k
        area = int(stats[k, cv2.CC_STAT_AREA])
        if area < 60 * per_mm**2 or (opened & part).sum() > 0.5 * area:
            continue  # mostly told by its colour: the rest is its shadow
        outline = part & ~cv2.erode(part.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
        near = cv2.dilate(step, np.ones((5, 5), np.uint8))[outline]
        if np.median(near) > 0.12 and np.percentile(near, 25) > 0.06:
            added |= part
            grey += area
    return added, grey / max(1, int(added.sum()))


def _cleaned(mask: np.ndarray, per_mm: float) -> np.ndarray:
    """Specks off, small gaps closed, holes filled."""
    small = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (max(3, int(1.6 * per_mm) | 1),) * 2)
    wide = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (max(3, int(3.2 * per_mm) | 1),) * 2)
    opened = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, small)
    closed = cv2.morphologyEx(opened, cv2.MORPH_CLOSE, wide)
    outlines, _ = cv2.findContours(closed, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    return cv2.drawContours(np.zeros_like(closed), outlines, -1, 1, cv2.FILLED).astype(bool)
