"""An upright thing of any outline, moved to the edges that are seen of its top and of its foot at once: at each place so far in or out as
most of both is seen, and as its neighbours are.
"""

from __future__ import annotations

import numpy as np
import shapely

from ..tolerances import ROUNDING
from .along_ring import lies_within
from .edge_support import EdgePicture
from .pose import Pose
from .prism_edges import EVERY_MM, SideSeen, look_at, ring_of, seen_share, sides_seen
from .sharpened import largest_of
from .solid_edges import SEEN

#: Each place is tried so far out, mm, and what is seen within so much of it counts: its mean over so many neighbours to both sides.
_SHIFTS_MM, _SHIFT_MM, _ABOUT = tuple(0.6 * k for k in range(-7, 8)), 0.5, 3
#: What is taken for a foot may be the top's edge, or the other way: no further than these two are apart, and so much, mm, a place is off.
_OFF_MM = 1.3
#: Nearer is better by so much a mm, and what lies otherwise than its neighbour worse by so much a step; what is to be seen nowhere counts
#: so much.
_NEARER, _OTHERWISE, _NEUTRAL = 0.02, 0.7, 0.4
#: Then steps are looked for so far off, mm, of which those far off count little, mm; places move as those about them do, so far along, mm,
#: and are held so much where they are.
_WINDOWS_MM, _SCALE_MM, _ALONG_MM, _HELD = (1.2, 1.0), 0.5, 2.0, 0.3
#: Ways outward are those of so many places to both sides, together.
_EVENED = 4
#: So much of its edges is seen, and so much more than of the outline that it was begun with, from which no place of it lies further, mm.
_PLAINLY, _MORE, _OUT_MM = 0.75, 0.08, 6.0


def bent_sided(foot: shapely.Polygon, picture: EdgePicture, pose: Pose, height_mm: float) -> shapely.Polygon | None:
    """The footprint of what stands on about that outline, moved to its edges; None where it is not seen far more plainly so."""
    if foot.is_empty:
        return None
    look = look_at(picture, pose, height_mm)
    before = seen_share(sides_seen(foot, [ring_of(foot)], look, _WINDOWS_MM[-1]))
    if before > 1 - _MORE:
        return None
    places, outward = _ring(foot)
    every = sides_seen(foot, [(places, outward)], look, _SHIFT_MM, _SHIFTS_MM)
    apart = np.abs(((look.k - 1) * (places - look.eye) * outward).sum(axis=1))
    score = _about(np.array([_of_each(one) for one in every]).T) - _NEARER * np.abs(_SHIFTS_MM)
    score[np.abs(_SHIFTS_MM)[None] > apart[:, None] + _OFF_MM] = -1.0
    shift = np.array(_SHIFTS_MM)[_agreed(score)]
    moved = _polygon(places + _slowly(shift, np.ones(len(shift)))[:, None] * outward)
    for window in _WINDOWS_MM:
        if moved.is_empty:
            return None
        places, outward = _ring(moved)
        (looked,) = sides_seen(moved, [(places, outward)], look, window)
        weight = np.where(looked.plain > SEEN, looked.plain, 0.0) / (1 + (looked.offset / _SCALE_MM) ** 2)
        total = weight.sum(axis=1)
        moved = _polygon(places + _slowly((weight * looked.offset).sum(axis=1) / np.maximum(total, ROUNDING), total)[:, None] * outward)
    if moved.is_empty or not lies_within(moved, foot, _OUT_MM):
        return None
    after = seen_share(sides_seen(moved, [ring_of(moved)], look, _WINDOWS_MM[-1]))
    return moved if after >= max(_PLAINLY, before + _MORE) else None


def _ring(outline: shapely.Polygon) -> tuple[np.ndarray, np.ndarray]:
    """``ring_of``, its ways outward evened: an outline wavers."""
    places, outward = ring_of(outline)
    mean = np.sum([np.roll(outward, k, axis=0) for k in range(-_EVENED, _EVENED + 1)], axis=0)
    return places, mean / np.maximum(np.linalg.norm(mean, axis=1, keepdims=True), ROUNDING)


def _of_each(looked: SideSeen) -> np.ndarray:
    """(n,): how much is seen of what is to be seen at each place."""
    number = looked.is_asked.sum(axis=1)
    return np.where(number > 0, looked.there.sum(axis=1) / np.maximum(number, 1), _NEUTRAL)


def _about(score: np.ndarray) -> np.ndarray:
    return np.asarray(np.mean([np.roll(score, k, axis=0) for k in range(-_ABOUT, _ABOUT + 1)], axis=0))


def _agreed(score: np.ndarray) -> np.ndarray:
    """(n,) of (n, k): for each place of a ring which of k, so that most is seen of all and neighbours lie alike; by Viterbi's way."""
    count, ways = score.shape
    far = _OTHERWISE * np.abs(np.arange(ways)[:, None] - np.arange(ways))
    twice = np.concatenate([score, score])  # twice round, of which the middle counts: there what begins and ends a ring is forgotten
    best = twice[0]
    before = np.zeros((2 * count, ways), int)
    for n in range(1, 2 * count):
        every = best[:, None] - far
        before[n] = every.argmax(axis=0)
        best = every[before[n], np.arange(ways)] + twice[n]
    found = np.empty(2 * count, int)
    found[-1] = best.argmax()
    for n in range(2 * count - 1, 0, -1):
        found[n - 1] = before[n, found[n]]
    half = count // 2
    return np.roll(found[half : half + count], half)


def _slowly(by: np.ndarray, weight: np.ndarray) -> np.ndarray:
    """(n,): by how much each place of a ring moves, as those about it do."""
    near = np.arange(-round(2.5 * _ALONG_MM / EVERY_MM), round(2.5 * _ALONG_MM / EVERY_MM) + 1)
    bell = np.exp(-0.5 * (near * EVERY_MM / _ALONG_MM) ** 2)
    moved, total = (np.sum([b * np.roll(one, n) for b, n in zip(bell, near, strict=True)], axis=0) for one in (weight * by, weight))
    return np.asarray(moved / (total + _HELD))


def _polygon(places: np.ndarray) -> shapely.Polygon:
    return shapely.Polygon(largest_of(shapely.Polygon(places).buffer(0)).exterior)
