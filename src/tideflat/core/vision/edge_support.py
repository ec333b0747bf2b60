"""What a flattened photograph shows along a curve that an edge is expected on: a step across it, where exactly, and how plain."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..tolerances import ROUNDING
from .rectified import Flat

#: A curve is asked in so fine steps across it, mm, or in coarser ones; its step is of means over this depth.
FINE_MM, COARSE_MM, DEEP_MM = 0.25, 0.5, 1.5
#: Neighbours along the curve whose profiles are averaged, to both sides, where it runs on as straight as this (cosine).
_NEIGHBOURS, _RUNS_ON = 3, 0.96
#: Steps (levels of 255, a channel) that count as none, and as one.
_NONE, _PLAIN = 0.9, 3.2
#: So many times its noise a step must be.
_OVER_NOISE = 3.5


@dataclass(frozen=True, eq=False, slots=True)
class Asked:
    """places (n, 2) along a curve, mm; outward (n, 2); offset (n,): mm outward to the step found there; plain (n,): 0 for none to 1;
    step (n,): levels of 255, a channel."""

    places: np.ndarray
    outward: np.ndarray
    offset: np.ndarray
    plain: np.ndarray
    step: np.ndarray

    @property
    def found(self) -> np.ndarray:
        """(n, 2): where the steps are."""
        return np.asarray(self.places + self.outward * self.offset[:, None])


@dataclass(frozen=True, eq=False)
class EdgePicture:
    """flat: the photograph; levels (h, w, 3) float32: it, a little smoothed; noise: of a step's mean, levels."""

    flat: Flat
    levels: np.ndarray
    noise: float


def edge_picture(flat: Flat) -> EdgePicture:
    """The picture that curves are asked in."""
    levels = flat.rgb.astype(np.float32)
    grey = levels.mean(axis=-1)
    spread = 1.48 * float(np.median(np.abs(grey - cv2.GaussianBlur(grey, (0, 0), 1.0))[flat.known])) if flat.known.any() else 1.0
    return EdgePicture(flat, cv2.GaussianBlur(levels, (0, 0), max(0.5, 0.3 * flat.per_mm)), spread)


def asked(
    picture: EdgePicture, places: np.ndarray, outward: np.ndarray, window_mm: float, deep_mm: float = DEEP_MM, step_mm: float = FINE_MM
) -> Asked:
    """The steps across a curve at ``places``, within ``window_mm`` of it; of several the plainest, and of like ones the nearest.
    deep_mm: over which to both sides a step is taken: less than what lies between two of them. step_mm: how fine it is looked."""
    flat = picture.flat
    deep = max(1, round(deep_mm / step_mm))
    reach = round(window_mm / step_mm) + 1 + deep  # a step further, so that what is highest is seen to be
    steps = np.arange(-reach, reach + 1) * step_mm
    here = (flat.pixels(places) - 0.5).astype(np.float32)
    along = (flat.pixels(places + outward) - 0.5).astype(np.float32) - here  # the plane is laid flat: a mm is as many pixels everywhere
    across = steps.astype(np.float32)
    x, y = (here[:, k, None] + along[:, k, None] * across for k in (0, 1))
    seen = cv2.remap(picture.levels, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    sums = np.zeros((len(seen), len(steps) + 1, 3), np.float32)
    np.cumsum(seen, axis=1, out=sums[:, 1:])
    rises = (sums[:, 2 * deep :] - 2 * sums[:, deep:-deep] + sums[:, : -2 * deep]) / np.float32(deep)
    weight, rises = _with_neighbours(rises, outward)
    step = np.sqrt((rises**2).sum(axis=2) / 3)
    offsets = steps[deep : deep + step.shape[1]] - step_mm / 2
    within = np.abs(offsets) <= window_mm
    within = within & (step >= np.roll(step, 1, axis=1)) & (step >= np.roll(step, -1, axis=1))  # where a step is, not near it
    # of plain ones the nearest: a thing's own edge beside the end of its shadow
    weighed = np.minimum(step, 2 * _PLAIN) * np.exp(-0.5 * (offsets / max(window_mm, step_mm)) ** 2) * within
    best = np.clip(weighed.argmax(axis=1), 1, step.shape[1] - 2)
    rows = np.arange(len(step))
    is_any = weighed[rows, best] > 0
    before, middle, after = step[rows, best - 1], step[rows, best], step[rows, best + 1]
    bow = before - 2 * middle + after
    part = np.where(bow < -ROUNDING, 0.5 * (before - after) / np.where(bow < -ROUNDING, bow, 1), 0)
    offset = offsets[best] + np.clip(part, -1, 1) * step_mm
    least = _OVER_NOISE * picture.noise / np.sqrt(weight * deep_mm * flat.per_mm)
    plain = np.where(is_any, np.clip((middle - np.maximum(_NONE, least)) / (_PLAIN - _NONE), 0.0, 1.0), 0.0)
    return Asked(places, outward, offset, plain, middle)


def _with_neighbours(values: np.ndarray, outward: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """((n,) how many are taken together, (n, ...) the mean of the values of each place and of its neighbours where the curve runs on)."""
    count = len(values)
    round_about = np.arange(-_NEIGHBOURS, count + _NEIGHBOURS) % count
    values, outward = values[round_about], outward[round_about]
    here = slice(_NEIGHBOURS, _NEIGHBOURS + count)
    total, weight = values[here].copy(), np.ones(count, np.float32)
    for k in range(-_NEIGHBOURS, _NEIGHBOURS + 1):
        if k:
            there = slice(here.start + k, here.stop + k)
            alike = ((outward[there] * outward[here]).sum(axis=1) > _RUNS_ON).astype(np.float32)
            total += values[there] * alike[:, None, None]
            weight += alike
    return weight, total / weight[:, None, None]
