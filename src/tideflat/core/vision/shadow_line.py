"""How a scene's shadows look: between full light and what is left where the key does not reach.

Light on a place is ``v K + A``: the key, as much of it as arrives, and all else. So the ratio of a place to the same ground in full light
lies, in linear colour, on the straight line from (1, 1, 1) to ``a = A / (K + A)``, however warm the key and cold the rest.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..tolerances import ROUNDING

#: Places that are asked, and lines that are tried; a place within this of a line (share of its light) is on it.
_ASKED, _TRIED, _NEAR = 6000, 160, 0.045
#: The line is followed in so many parts, each of which so many of the places asked must hold, as a penumbra does and one colour does not.
_PARTS, _LEAST_IN_PART = 10, 6
#: What is so far from the first line may lie on a second, which must be held in so many of its parts.
_ANOTHER, _LEAST_HELD = 0.08, 4
#: A shadow's colour is at the most so far from its light's, log, each channel from their mean, and of green so far: lights differ from warm
#: to cold, hardly from green to purple. What is tinted must be the better supported for it.
_MOST_CHROMA, _MOST_GREEN, _TINT_COSTS = 0.5, 0.12, 3.0
#: Darker than this share of the light no shadow is where nothing is known of it.
_DEEPEST = 0.2
#: Shadows are tinted where a channel of the deepest lies so far (log) from their mean: there are two lights, and the one they are the
#: shadows of gives so much of the light, so many shares of it tried.
_TINTED, _SHARES, _ALL, _TRIED_SHARES = 0.08, (0.3, 0.7), 0.98, 4


@dataclass(frozen=True, eq=False, slots=True)
class ShadowLine:
    """way: (3,) from full light toward the deepest shadow, linear ratio, its mean 1; deepest: share of the light (mean of the channels)
    that the darkest shadow leaves."""

    way: np.ndarray
    deepest: float

    def off_channels(self, channels: Sequence[np.ndarray], logs: Sequence[np.ndarray]) -> tuple[np.ndarray, np.ndarray]:
        """((n,) how far ratios are from the line, as a share of their light; (n,) share of the light left, by the mean), of three
        channels and their logarithms: this is asked of every pixel, of each of a table's colours."""
        left = (channels[0] + channels[1] + channels[2]) / 3
        # what is darker than the darkest shadow is compared with it, as dark as it is: only how the channels differ counts
        dark = 1 - np.clip(left, self.deepest, 1.0)
        apart = [log - np.log(np.maximum(1 - dark * way, ROUNDING)) for log, way in zip(logs, self.way.astype(left.dtype), strict=True)]
        mean = (apart[0] + apart[1] + apart[2]) / 3
        off = np.zeros_like(mean)
        for one in apart:
            one -= mean
            one *= one
            off += one
        return np.sqrt(off, out=off), left


#: Shadows where nothing is known of them.
NEUTRAL = ShadowLine(np.ones(3), _DEEPEST)


def shadow_lines_of(ratio: Sequence[np.ndarray], is_soft: np.ndarray) -> tuple[ShadowLine, ...]:
    """Of places, three channels (n,) of ratios to full light, of which ``is_soft`` (n,) lie where light changes slowly: one line, or, of
    two lights of other colours, two. Without shadows: neutral."""
    left = (ratio[0] + ratio[1] + ratio[2]) / 3
    first, _ = _line_of(ratio, left, is_soft)
    off, _ = first.off_channels(ratio, [np.log(np.maximum(c, ROUNDING)) for c in ratio])
    second, held = _line_of(ratio, left, is_soft & ((off > _ANOTHER) | (left > 0.9)))
    return (first, second) if held >= _LEAST_HELD else (first,)


def of_the_other_light(lines: Sequence[ShadowLine]) -> tuple[ShadowLine, ...]:
    """The shadows that a second light may throw where the first's are tinted. What both give is all of the light: (1, 1, 1), so what is
    left where the second does not reach is of the colour of what the first's shadows lack. A hard shadow on paper is one flat place, from
    which no line is told. How much of the light is the first's is not known, so several lines."""
    found = []
    for line in lines:
        deep = np.log(np.maximum(1 - (1 - line.deepest) * line.way, ROUNDING))
        if np.abs(deep - deep.mean()).max() < _TINTED:
            continue
        # no less than its shadows lack, and no more than all of any channel
        least, most = max(_SHARES[0], 1 - line.deepest), min(_SHARES[1], _ALL / float(line.way.max()))
        if least <= most:
            found += [ShadowLine((1 - t * line.way) / (1 - t), t) for t in np.linspace(least, most, _TRIED_SHARES)]
    return tuple(found)


def _line_of(ratio: Sequence[np.ndarray], left: np.ndarray, is_soft: np.ndarray, seed: int = 0) -> tuple[ShadowLine, int]:
    """(the line, how many of its parts are held by places). left (n,): the mean of the channels."""
    fit = np.flatnonzero((left > 0.04) & (left < 0.93) & is_soft)
    if len(fit) < 60:
        return NEUTRAL, 0
    random = np.random.Generator(np.random.PCG64(seed))
    fit = random.permutation(fit)[:_ASKED]
    places, dark = np.column_stack([channel[fit] for channel in ratio]), 1 - left[fit]
    ways = (1 - places) / np.maximum(dark, ROUNDING)[:, None]
    tried = np.concatenate([np.ones((1, 3)), ways[random.permutation(len(ways))[:_TRIED]]])
    found = _best_supported(places, dark, tried)
    for _ in range(4):
        near = _near(places, dark, found)
        if near.sum() < 30:
            break
        found = ((1 - places[near]) * dark[near, None]).sum(axis=0) / (dark[near] ** 2).sum()
        found = found / found.mean()
    near = _near(places, dark, found)
    depths = np.sort(1 - dark[near]) if near.any() else np.array([_DEEPEST])
    deepest = float(np.clip(depths[int(0.02 * len(depths))], 0.06, 0.9))
    held = np.bincount(np.minimum((dark[near] * _PARTS).astype(int), _PARTS - 1), minlength=_PARTS) >= _LEAST_IN_PART
    return ShadowLine(found, min(deepest, 1 - 0.02)), int(held.sum())


def _best_supported(places: np.ndarray, dark: np.ndarray, tried: np.ndarray) -> np.ndarray:
    """Of the ways tried (t, 3) the one that most of the places lie along, in most of its parts; neutral where none is a light's."""
    deep = 1 - 0.8 * tried  # of a deep shadow; its log colour against its light, of mean 0
    tints = np.log(np.maximum(deep, ROUNDING))
    tints = tints - tints.mean(axis=1, keepdims=True)
    most = np.abs(tints).max(axis=1)
    able = np.flatnonzero((deep.min(axis=1) > 0) & (np.abs(tints[:, 1]) <= _MOST_GREEN) & (most <= _MOST_CHROMA)).tolist()
    if not able:
        return NEUTRAL.way
    part = np.minimum((dark * _PARTS).astype(int), _PARTS - 1)
    support = []
    for n in able:
        near = _near(places, dark, tried[n])
        held = np.bincount(part[near], minlength=_PARTS) >= _LEAST_IN_PART
        support.append(float(held.sum()) + 2.0 * float(near.mean()) - _TINT_COSTS * float(most[n]))
    best = int(np.argmax(support))
    return np.asarray(tried[able[best]] if support[best] > -1.0 else NEUTRAL.way)


def _near(places: np.ndarray, dark: np.ndarray, way: np.ndarray) -> np.ndarray:
    square, is_lit = 0.0, True
    for k in range(3):  # sums along a last axis of three are slow
        on = 1 - dark * way[k]
        is_lit = is_lit & (on > 0)
        square = square + (places[:, k] - on) ** 2
    return np.asarray(is_lit & (square < (_NEAR * (0.15 + (1 - dark)) * 1.7) ** 2))
