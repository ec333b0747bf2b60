"""The few colours that a picture is made of, each with its share."""

from __future__ import annotations

import numpy as np

from .delta_e_2000 import delta_e_2000
from .spaces import hex_from_rgb, lab_from_rgb, rgb_from_lab

#: Levels per channel of the histogram that pixels are gathered in first: a step is under two units of L*.
_LEVELS = 32
_ROUNDS = 14
#: Colours nearer than this (CIEDE2000) are one colour in talk.
SAME_COLOUR = 9.0


def colours_with_shares(pixels: np.ndarray, most: int = 5, least_share: float = 0.03) -> list[tuple[str, float]]:
    """``(hex, share)`` of the main colours of sRGB pixels (n, 3) 0..255 uint8, the largest first; shares add to 1.

    Weighted k-means in CIELAB on a histogram, begun at the colours farthest apart, so the answer does not hang on chance; colours
    nearer than SAME_COLOUR are joined, those under ``least_share`` go to their nearest.
    """
    if len(pixels) == 0:
        return []
    rgb, weight = _histogram(pixels)
    lab = lab_from_rgb(rgb)
    centres = _spread(lab, weight, min(most + 3, len(lab)))
    nearest = np.zeros(len(lab), dtype=int)
    for _ in range(_ROUNDS):
        nearest = ((lab[:, None, :] - centres[None]) ** 2).sum(axis=2).argmin(axis=1)
        centres = np.array([_mean(lab, weight, nearest == k, centre) for k, centre in enumerate(centres)])
    shares = np.array([weight[nearest == k].sum() for k in range(len(centres))]) / weight.sum()
    kept = _joined(centres[shares > 0], shares[shares > 0], most, least_share)
    return [(hex_from_rgb(rgb_from_lab(centre))[0], share) for centre, share in kept]


def _histogram(pixels: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Mean sRGB 0..1 (m, 3) and number of pixels (m,) of each cell that holds any."""
    step = 256 // _LEVELS
    cells = (pixels.astype(np.int64) // step) @ np.array([_LEVELS * _LEVELS, _LEVELS, 1])
    counts = np.bincount(cells, minlength=_LEVELS**3)
    used = np.flatnonzero(counts)
    sums = np.stack([np.bincount(cells, weights=pixels[:, k], minlength=_LEVELS**3)[used] for k in range(3)], axis=1)
    return sums / counts[used, None] / 255, counts[used].astype(float)


def _spread(lab: np.ndarray, weight: np.ndarray, count: int) -> np.ndarray:
    """Starting colours: the heaviest cell, then always the one that the others serve worst for its weight."""
    chosen = [int(weight.argmax())]
    distance = ((lab - lab[chosen[0]]) ** 2).sum(axis=1)
    while len(chosen) < count:
        chosen.append(int((distance * np.sqrt(weight)).argmax()))
        distance = np.minimum(distance, ((lab - lab[chosen[-1]]) ** 2).sum(axis=1))
    return lab[chosen].copy()


def _mean(lab: np.ndarray, weight: np.ndarray, mine: np.ndarray, otherwise: np.ndarray) -> np.ndarray:
    """The weighted mean of what belongs to a centre; the centre as it was where nothing does."""
    return np.average(lab[mine], axis=0, weights=weight[mine]) if mine.any() else otherwise


def _joined(centres: np.ndarray, shares: np.ndarray, most: int, least_share: float) -> list[tuple[np.ndarray, float]]:
    found = [(c, float(s)) for c, s in zip(centres, shares, strict=True)]
    while len(found) > 1:
        labs = np.array([c for c, _ in found])
        apart = delta_e_2000(labs[:, None, :], labs[None])
        np.fill_diagonal(apart, np.inf)
        small = min(range(len(found)), key=lambda k: found[k][1])
        i, j = (int(v) for v in np.unravel_index(apart.argmin(), apart.shape))
        if apart[i, j] >= SAME_COLOUR:
            if len(found) <= most and found[small][1] >= least_share:
                break
            i, j = small, int(apart[small].argmin())
            if found[small][1] < least_share:  # too little to tint what it joins
                found[j] = (found[j][0], found[j][1] + found[small][1])
                del found[small]
                continue
        (a, s), (b, t) = found[i], found[j]
        found[min(i, j)] = ((a * s + b * t) / (s + t), s + t)
        del found[max(i, j)]
    return sorted(found, key=lambda pair: -pair[1])
