"""What a flattened photograph shows along a curve that an edge is expected on: a step across it, where exactly, and how plain."""

from __future__ import annotations

from collections.abc import Sequence
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
#: Noise is told by every so manieth pixel, both ways, of bands of so many rows, so far apart.
_SPARSE, _BAND_PX, _BANDS_APART_PX = 3, 32, 96
#: So many curves' places are looked up at once.
_MOST_ROWS = 30_000
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

    def plain_within(self, near_mm: float) -> np.ndarray:
        """(n,): how plain, 0 where the step lies no nearer to the curve than that."""
        return np.where(np.abs(self.offset) < near_mm, self.plain, 0.0)


@dataclass(frozen=True, eq=False)
class EdgePicture:
    """flat: the photograph; levels (h, w, 3) float32: it, a little smoothed; noise: of a step's mean, levels; shade: what shadows lie in it,
    where that was told."""

    flat: Flat
    levels: np.ndarray
    noise: float
    shade: Shaded | None = None


@dataclass(frozen=True, eq=False)
class Shaded:
    """left (h, w): share of the ground's light that is left, over ``flat``."""

    flat: Flat
    left: np.ndarray

    def at(self, places: np.ndarray) -> np.ndarray:
        """(n,) of places (n, 2), mm."""
        return self.flat.value_at(self.left, places)


def edge_picture(flat: Flat) -> EdgePicture:
    """The picture that curves are asked in."""
    rough = [_roughness(flat, band) for band in range(0, len(flat.rgb), _BANDS_APART_PX)]
    every = np.concatenate(rough)
    spread = 1.48 * float(np.median(every)) if len(every) else 1.0
    sigma = max(0.5, 0.3 * flat.per_mm)
    kernel = cv2.getGaussianKernel(round(8 * sigma + 1) | 1, sigma, cv2.CV_32F)
    return EdgePicture(flat, cv2.sepFilter2D(flat.rgb, cv2.CV_32F, kernel, kernel), spread)


def _roughness(flat: Flat, top: int) -> np.ndarray:
    """(n,): by how much places in a band of rows differ from what is about them, levels."""
    rows = slice(top, top + _BAND_PX)
    grey = cv2.transform(flat.rgb[rows].astype(np.float32), np.full((1, 3), 1 / 3, np.float32))
    rough = np.abs(grey - cv2.GaussianBlur(grey, (0, 0), 1.0))
    return np.asarray(rough[::_SPARSE, ::_SPARSE][flat.known[rows][::_SPARSE, ::_SPARSE]])


def asked(
    picture: EdgePicture, places: np.ndarray, outward: np.ndarray, window_mm: float, deep_mm: float = DEEP_MM, step_mm: float = FINE_MM
) -> Asked:
    """The steps across a curve at ``places``, within ``window_mm`` of it; of several the plainest, and of like ones the nearest.
    deep_mm: over which to both sides a step is taken: less than what lies between two of them. step_mm: how fine it is looked."""
    return asked_of_each(picture, [(places, outward)], window_mm, [deep_mm], step_mm)[0]


def asked_of_each(
    picture: EdgePicture,
    curves: Sequence[tuple[np.ndarray, np.ndarray]],
    window_mm: float,
    deep_mm: Sequence[float],
    step_mm: float = FINE_MM,
) -> list[Asked]:
    """``asked`` of many curves, (places, outward) each, at once, each over its own depth."""
    found: list[Asked | None] = [None] * len(curves)
    depths = [max(1, round(deep / step_mm)) for deep in deep_mm]
    for depth in sorted(set(depths)):
        chosen = [n for n, d in enumerate(depths) if d == depth]
        counts = [len(curves[n][0]) for n in chosen]
        places, outward = (np.concatenate([curves[n][k] for n in chosen]) for k in (0, 1))
        exact = np.repeat([deep_mm[n] for n in chosen], counts)
        offset, plain, step = _steps_across(picture, places, outward, _neighbours(counts, outward), window_mm, depth, exact, step_mm)
        ends = np.cumsum(counts)
        for n, count, end in zip(chosen, counts, ends, strict=True):
            own = slice(end - count, end)
            found[n] = Asked(places[own], outward[own], offset[own], plain[own], step[own])
    return [one for one in found if one is not None]


def _neighbours(counts: Sequence[int], outward: np.ndarray) -> list[tuple[np.ndarray, np.ndarray]]:
    """For each step along the rings, of so many places each, one after the other: (the places' neighbours so far on, whether the curve
    runs on so far)."""
    count = np.repeat(counts, counts)
    start = np.repeat(np.cumsum(counts) - counts, counts)
    here = np.arange(len(count))
    own = here - start
    x, y = (np.ascontiguousarray(outward[:, k]) for k in (0, 1))
    about = []
    for k in range(1, _NEIGHBOURS + 1):
        ahead, behind = here + k, here - k
        last, first = np.flatnonzero(own + k >= count), np.flatnonzero(own < k)  # a ring's last places see its first
        ahead[last] = start[last] + (own[last] + k) % count[last]
        behind[first] = start[first] + (own[first] - k) % count[first]
        runs_on = x * x[ahead] + y * y[ahead] > _RUNS_ON
        about += [(ahead, runs_on), (behind, runs_on[behind])]
    return about


def _steps_across(
    picture: EdgePicture,
    places: np.ndarray,
    outward: np.ndarray,
    about: list[tuple[np.ndarray, np.ndarray]],
    window_mm: float,
    deep: int,
    deep_mm: np.ndarray,
    step_mm: float,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(offset, plain, step) of ``Asked``. deep: in how many steps; deep_mm (n,): the same in mm, before it was rounded."""
    flat = picture.flat
    reach = round(window_mm / step_mm) + 1 + deep  # a step further, so that what is highest is seen to be
    steps = np.arange(-reach, reach + 1) * step_mm
    here = (flat.pixels(places) - 0.5).astype(np.float32)
    along = (flat.pixels(places + outward) - 0.5).astype(np.float32) - here  # the plane is laid flat: a mm is as many pixels everywhere
    across = steps.astype(np.float32)
    x, y = (here[:, k, None] + along[:, k, None] * across for k in (0, 1))
    rises = _rises(_levels_at(picture.levels, x, y), deep)
    total, weight, beside = rises.copy(), np.ones(len(rises), np.float32), np.empty_like(rises)
    for there, runs_on in about:
        np.take(rises, there, axis=0, out=beside, mode="clip")
        beside[~runs_on] = 0
        total += beside
        weight += runs_on
    total *= (1 / (deep * weight))[:, None, None]
    step = np.sqrt(cv2.transform(np.square(total, out=total), np.full((1, 3), 1 / 3, np.float32)))
    offsets = (steps[deep : deep + step.shape[1]] - step_mm / 2).astype(np.float32)
    within = np.abs(offsets) <= window_mm
    higher = np.ones(step.shape, bool)  # where a step is, not near it
    higher[:, 1:] &= step[:, 1:] >= step[:, :-1]
    higher[:, :-1] &= step[:, :-1] >= step[:, 1:]
    # of plain ones the nearest: a thing's own edge beside the end of its shadow
    weighed = np.minimum(step, 2 * _PLAIN) * (np.exp(-0.5 * (offsets / max(window_mm, step_mm)) ** 2) * within).astype(np.float32) * higher
    best = np.clip(weighed.argmax(axis=1), 1, step.shape[1] - 2)
    rows = np.arange(len(step))
    is_any = weighed[rows, best] > 0
    before, middle, after = (step[rows, best + k].astype(float) for k in (-1, 0, 1))
    bow = before - 2 * middle + after
    part = np.where(bow < -ROUNDING, 0.5 * (before - after) / np.where(bow < -ROUNDING, bow, 1), 0)
    offset = offsets[best] + np.clip(part, -1, 1) * step_mm
    least = _OVER_NOISE * picture.noise / np.sqrt(weight * deep_mm * flat.per_mm)
    plain = np.where(is_any, np.clip((middle - np.maximum(_NONE, least)) / (_PLAIN - _NONE), 0.0, 1.0), 0.0)
    return offset, plain, middle


def _levels_at(levels: np.ndarray, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """(n, k, 3) levels at pixels; OpenCV's pictures have no more than 32 767 rows."""
    parts = [slice(n, n + _MOST_ROWS) for n in range(0, len(x), _MOST_ROWS)]
    seen = [cv2.remap(levels, x[p], y[p], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE) for p in parts]
    return seen[0] if len(seen) == 1 else np.concatenate(seen)


def _rises(seen: np.ndarray, deep: int) -> np.ndarray:
    """(n, k + 1 - 2 deep, 3): by how much the sum of the next ``deep`` places is over that of the last."""
    sums = _sums(seen, deep)
    return np.asarray(sums[:, deep:] - sums[:, :-deep])


def _sums(seen: np.ndarray, deep: int) -> np.ndarray:
    """(n, k + 1 - deep, 3): sums of so many places, by halves: two that lie side by side are one twice as long."""
    if deep == 1:
        return seen
    half = _sums(seen, deep // 2)
    both = half[:, : -(deep // 2)] + half[:, deep // 2 :]
    return both if deep % 2 == 0 else both[:, :-1] + seen[:, deep - 1 :]
