"""Light that changes slowly over a sheet or a table, fitted to a flattened photograph."""

from __future__ import annotations

import cv2
import numpy as np

from ..colour.transfer import decoded_array
from ..tolerances import LEAST_LIGHT
from .rectified import Flat

#: Clean white paper throws back so much of the light: about nine tenths (from memory).
PAPER_LIGHT = 0.88
#: Light is fitted over lengths of this unit, so that the terms are of one size.
_UNIT_MM = 150.0
#: Pixels that a smooth light is fitted to.
SAMPLES = 20_000


#: Linear light of each level of sRGB.
_LINEAR = decoded_array(np.arange(256) / 255).astype(np.float32)


def linear(rgb: np.ndarray) -> np.ndarray:
    """Linear light (float32) of sRGB uint8."""
    return np.asarray(cv2.LUT(rgb, _LINEAR))


def root_of_light(rgb: np.ndarray) -> np.ndarray:
    """The square root of linear light (float32) of sRGB uint8: between plain light, where bright edges shout, and log, where the steepest
    step of an edge sits on its dark side."""
    return np.asarray(cv2.LUT(rgb, np.sqrt(_LINEAR)))


def lightness(rgb: np.ndarray) -> np.ndarray:
    """(h, w) float32: linear light of sRGB uint8, the mean of the channels."""
    return mean_of(linear(rgb))


def mean_of(picture: np.ndarray) -> np.ndarray:
    """(h, w): of the three channels of float32."""
    return np.asarray(cv2.transform(picture, np.full((1, 3), 1 / 3, np.float32)))


def paper_light(flat: Flat) -> np.ndarray:
    """(h, w, 3): linear light that paper has over a flattened picture of the sheet."""
    log = log_light(flat)
    grid = grid_of(flat)
    if flat.known.sum() < 400:
        return np.full((*flat.known.shape, 3), 0.9, np.float32)
    fit, _, _ = fitted(log, grid, flat.known, bright=True)
    return np.asarray(cv2.merge(list(np.exp(smooth_over(fit, grid, most=1.6)))))


def smooth_light(flat: Flat, zone: np.ndarray, *, is_paper: bool = False) -> np.ndarray:
    """(6, 3): the slow change of light over a zone (h, w) bool of a flattened picture, for ``light_at``; of paper without its shadows."""
    return fitted(log_light(flat), grid_of(flat), zone, bright=is_paper)[0]


def light_at(fit: np.ndarray, x_mm: np.ndarray, y_mm: np.ndarray) -> np.ndarray:
    """(..., 3) log of linear light of ``smooth_light`` at places of the sheet's plane."""
    x, y = np.asarray(x_mm) / _UNIT_MM, np.asarray(y_mm) / _UNIT_MM
    return np.asarray(np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=-1) @ fit)


def log_light(flat: Flat) -> np.ndarray:
    """(h, w, 3) float32: log of linear light, a little smoothed."""
    smooth = cv2.GaussianBlur(flat.rgb, (0, 0), max(0.6, 0.5 * flat.per_mm))
    return np.asarray(cv2.LUT(smooth, np.log(np.maximum(decoded_array(np.arange(256) / 255), LEAST_LIGHT)).astype(np.float32)))


def grid_of(flat: Flat) -> tuple[np.ndarray, np.ndarray]:
    h, w = flat.known.shape
    x, y = flat.left + (np.arange(w) + 0.5) / flat.per_mm, flat.far - (np.arange(h) + 0.5) / flat.per_mm
    return (x / _UNIT_MM).astype(np.float32), (y / _UNIT_MM).astype(np.float32)


def smooth_over(fit: np.ndarray, grid: tuple[np.ndarray, np.ndarray], most: float = np.inf) -> np.ndarray:
    """The quadratics with coefficients (6, 3) of 1, x, y, x^2, xy, y^2 over the grid, (3, h, w) float32; no term counts for more than ``most``."""
    x, y = grid
    if np.isinf(most):  # one product of [1, y, y^2] with what goes with each
        plain = fit[[0, 1, 3]].T @ np.stack([np.ones_like(x), x, x * x])
        of_x = np.stack([plain, fit[2][:, None] + x * fit[4][:, None], np.tile(fit[5][:, None], len(x))], axis=1)
        return np.asarray(np.stack([np.ones_like(y), y, y * y], axis=-1) @ of_x)
    along = fit[[0, 1, 3]].T @ np.stack([np.ones_like(x), np.clip(x, -most, most), np.minimum(x * x, most)])
    away = fit[[2, 5]].T @ np.stack([np.clip(y, -most, most), np.minimum(y * y, most)])
    mixed = np.clip(np.multiply.outer(y, x), -most, most)
    return np.asarray(along[:, None] + away[:, :, None] + mixed * fit[4][:, None, None])


def fitted(log: np.ndarray, grid: tuple[np.ndarray, np.ndarray], zone: np.ndarray, *, bright: bool) -> tuple[np.ndarray, float, float]:
    """Coefficients (6, 3) of smooth light over the zone, and the spread of colour and of lightness about it (robust, one sigma)."""
    chosen = np.flatnonzero(zone)
    chosen = chosen[:: len(chosen) // SAMPLES + 1]  # before anything is copied: the zone may have a million pixels
    at_x, at_y = grid[0][chosen % zone.shape[1]], grid[1][chosen // zone.shape[1]]
    terms = np.stack([np.ones_like(at_x), at_x, at_y, at_x * at_x, at_x * at_y, at_y * at_y])
    values = np.ascontiguousarray(log.reshape(-1, 3)[chosen].T)  # channel by channel: sums along a last axis of three are slow
    mean = _mean(values)
    usual = np.abs(mean - np.median(mean))
    kept = mean > np.percentile(mean, 45) if bright else usual < np.percentile(usual, 80)
    if not kept.any():  # all of one light
        kept[:] = True
    fit = np.zeros((len(terms), 3), np.float32)
    exact, of_each = terms.astype(float), values.astype(float)
    for round_ in range(8):
        own = exact[: 1 if round_ == 0 else 3 if round_ < 3 else 6] * kept
        # the normal equations: a few terms over thousands of places, in units near one; a strip may leave some of them open
        fit[: len(own)] = np.linalg.lstsq(own @ exact[: len(own)].T, own @ of_each.T, rcond=None)[0]
        off = values - fit[: len(own)].T @ terms[: len(own)]
        size = _length(off)
        limit = max(0.03, 2.8 * float(np.median(size[kept])))
        kept = size < limit
        if bright:  # shadow on paper is no part of its light
            kept &= _mean(off) > -limit / 2
        if kept.sum() < 60:
            kept = size <= np.percentile(size, 30)
    off = values[:, kept] - fit.T @ terms[:, kept]
    m = _mean(off)
    return fit, float(np.sqrt(np.mean(_length(off - m) ** 2))) * 0.8, float(np.median(np.abs(m))) * 1.48


def _mean(channels: np.ndarray) -> np.ndarray:
    return np.asarray((channels[0] + channels[1] + channels[2]) / 3)


def _length(channels: np.ndarray) -> np.ndarray:
    return np.sqrt(channels[0] ** 2 + channels[1] ** 2 + channels[2] ** 2)
