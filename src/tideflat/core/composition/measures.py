"""What the eye weighs in a picture, as numbers: each a definition in the frame, heights of the frame as its length, y down.

They judge nothing; what is wrong by a rule is a finding. They tell how two arrangements differ, and why one reads as stronger.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from shapely.affinity import scale
from shapely.geometry.base import BaseGeometry

from ..evaluate import Picture
from ..facts.practice import ISLAND
from ..plane.areas import common
from ..tolerances import SAME_NUMBER
from .eye import Eye, eye_of, lightness
from .relations import related

_PRACTICE = "common practice, no source"
_ISLAND = ISLAND.value / 100
#: Things closer than this in the frame read as one cluster, heights of the frame [practice].
CLUSTER = 0.035
#: Planes in depth are parted by so much of the depth between the nearest and the furthest thing.
_PLANE_SHARE = 0.12


@dataclass(frozen=True, slots=True)
class Measure:
    """value: None where there is nothing to measure. what: the definition; source: whose it is. better: 1 where more is commonly held to be
    better, -1 where less is, 0 where it is a matter of taste."""

    key: str
    value: float | None
    unit: str
    what: str
    source: str
    better: int = 0


def _coverage(eye: Eye) -> float | None:
    return eye.covered.area / eye.room.area


def _balance(eye: Eye) -> float | None:
    middle = eye.weight_middle
    return None if middle is None else float(np.hypot(*(middle - [eye.room.centroid.x, eye.room.centroid.y])))


def light_balance(eye: Eye) -> float | None:
    """Mean lightness of what is seen left of the window's middle, less that right of it."""
    light: list[tuple[float, float, float]] = []
    for i, thing in eye.picture.things.items():
        if thing.frame_area_share > 0:
            light.append((thing.visible.centroid.x * eye.aspect, thing.visible.area, lightness(eye.picture.props[i].colours)))
    sides = [[(a, tone) for x, a, tone in light if (x < eye.room.centroid.x) == left] for left in (True, False)]
    if not all(sides):
        return None
    means = [sum(a * tone for a, tone in side) / sum(a for a, _ in side) for side in sides]
    return means[0] - means[1]


def _symmetry(eye: Eye) -> float | None:
    if eye.covered.area <= SAME_NUMBER:
        return None
    mirrored = scale(eye.covered, -1.0, 1.0, origin=(eye.room.centroid.x, 0))
    return _common(eye.covered, mirrored)


def _common(one: BaseGeometry, other: BaseGeometry) -> float:
    """Common area over that of both."""
    both = common(one, other).area
    return float(both / (one.area + other.area - both))


def _evenness(eye: Eye) -> float | None:
    n = len(eye.ids)
    if n < 3:
        return None
    far = np.hypot(*(eye.middles[:, None] - eye.middles[None]).transpose(2, 0, 1)) + np.diag(np.full(n, np.inf))
    return float(far.min(axis=1).mean() / (0.5 * np.sqrt(eye.room.area / n)))


def unevenness(eye: Eye) -> float | None:
    if len(eye.ids) < 3:
        return None
    nearest = eye.gaps.min(axis=1)
    return float(nearest.std() / nearest.mean()) if nearest.mean() > SAME_NUMBER else 0.0


def _islands(eye: Eye) -> float | None:
    return float((eye.gaps.min(axis=1) > _ISLAND).sum()) if len(eye.ids) > 1 else None


def _clusters(eye: Eye) -> float | None:
    return float(_groups(eye.gaps < CLUSTER)) if eye.ids else None


def _groups(is_near: np.ndarray) -> int:
    """How many groups hang together, of (n, n) which is near which. (Of SciPy's graphs only this would be wanted, at every start.)"""
    hang = is_near | np.eye(len(is_near), dtype=bool)
    while (further := hang @ hang).sum() > hang.sum():
        hang = further
    return len(np.unique(hang, axis=0))


def _hero_share(eye: Eye) -> float | None:
    return eye.outlines[eye.hero].area / eye.room.area if eye.hero else None


def _hero_clear(eye: Eye) -> float | None:
    if eye.hero is None or len(eye.ids) < 2:
        return None
    own = eye.gaps[eye.ids.index(eye.hero)]
    apart = [float(gap) for i, gap in zip(eye.ids, own, strict=True) if i != eye.hero and not related(eye.picture, i, eye.hero)]
    return min(apart, default=None)


def falling_away(eye: Eye) -> float | None:
    if eye.hero is None or len(eye.ids) < 5:
        return None
    k = eye.ids.index(eye.hero)
    others = np.arange(len(eye.ids)) != k
    far = np.hypot(*(eye.middles[others] - eye.middles[k]).T)
    if np.ptp(eye.areas[others]) <= SAME_NUMBER or np.ptp(far) <= SAME_NUMBER:
        return None
    return float(np.corrcoef(_ranks(far), _ranks(eye.areas[others]))[0, 1])


def _ranks(values: np.ndarray) -> np.ndarray:
    """(n,) ranks from 1, what is alike sharing their mean. (SciPy's statistics take a second to load, at every start.)"""
    _, which, alike = np.unique(values, return_inverse=True, return_counts=True)
    return np.asarray((np.cumsum(alike) - (alike - 1) / 2)[which])


def _heights(eye: Eye) -> float | None:
    heights = np.array([eye.picture.bodies[i].z_max for i in eye.ids])
    return float(heights.std() / heights.mean()) if len(heights) > 2 and heights.mean() > 0 else None


def _planes(eye: Eye) -> float | None:
    depths = np.sort([float(np.mean(eye.picture.silhouettes[i].depth)) for i in eye.ids])
    if len(depths) < 2 or abs(float(eye.picture.view.forward[2])) > np.cos(np.radians(10.0)):
        return None  # from above all lies in one plane
    return 1.0 + float((np.diff(depths) > _PLANE_SHARE * max(np.ptp(depths), 1.0)).sum())


def _hidden(eye: Eye) -> float | None:
    shares = [1 - eye.picture.things[i].visible_share for i in eye.ids]
    return float(np.mean(shares)) if shares else None


def _pointing(eye: Eye) -> float | None:
    return float(len(eye.leading_out)) if eye.rods else None


_ALL: tuple[tuple[str, Callable[[Eye], float | None], str, int, str, str], ...] = (
    ("coverage", _coverage, "share", 0, "seen area of everything but cloth, of the part that all crops share", _PRACTICE),
    ("balance", _balance, "of the height", -1, "how far the middle of visual weight, area times contrast (CIEDE2000) with what is behind, lies "
     "from the middle of what all crops share", "weight of area and contrast: Arnheim, Art and Visual Perception, 1954, from memory"),
    ("light_balance", light_balance, "L*", 0, "mean lightness of things left of the middle, less that right of it", _PRACTICE),
    ("symmetry", _symmetry, "share", 0, "what is covered and its mirror image about the upright middle line: common area over both", "Jaccard, 1901"),
    ("evenness", _evenness, "ratio", 0, "mean distance to the nearest neighbour over that of places by chance: under 1 clustered, over 1 even",
     "Clark & Evans, Ecology 35(4), 1954"),
    ("unevenness", unevenness, "ratio", 0, "deviation of gaps to the nearest neighbour over their mean", _PRACTICE),
    ("islands", _islands, "things", -1, f"large or long things further than {_ISLAND:g} of the height from all others", _PRACTICE),
    ("clusters", _clusters, "clusters", 0, f"groups of things closer than {CLUSTER:g} of the height", _PRACTICE),
    ("hero_share", _hero_share, "share", 0, "what is seen of the hero, of the part that all crops share", _PRACTICE),
    ("hero_clear", _hero_clear, "of the height", 1, "gap between the hero's outline and the nearest thing that shapes the picture", _PRACTICE),
    ("falling_away", falling_away, "rank correlation", -1, "of distance from the hero and seen area: -1 where sizes fall away from it",
     "Spearman, American Journal of Psychology 15, 1904; the use of it is common practice"),
    ("height_variety", _heights, "ratio", 1, "deviation of heights over their mean", _PRACTICE),
    ("depth_planes", _planes, "planes", 0, "groups in depth, seen aslant", _PRACTICE),
    ("hidden", _hidden, "share", -1, "mean share of outlines in the frame that other things hide", _PRACTICE),
    ("leading_out", _pointing, "things", -1, "long things whose line meets nothing that shapes the picture", _PRACTICE),
)  # fmt: skip


def measures(picture: Picture) -> tuple[Measure, ...]:
    """Every measure of the set-up."""
    return tuple(_measured(picture))


def _measured(picture: Picture) -> Iterator[Measure]:
    eye = eye_of(picture)
    for key, find, unit, better, what, source in _ALL:
        value = find(eye)
        yield Measure(key, None if value is None else round(float(value), 4), unit, what, source, better)
