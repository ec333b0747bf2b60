"""What the eye weighs in a picture, as numbers: each a definition in the frame, heights of the frame as its length, y down.

They judge nothing; what is wrong by a rule is a finding. They tell how two arrangements differ, and why one reads as stronger.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from scipy.sparse.csgraph import connected_components
from scipy.stats import spearmanr
from shapely.affinity import scale
from shapely.geometry.base import BaseGeometry

from ..camera.crops import FULL_FRAME, Rect
from ..colour.spaces import lab_of
from ..evaluate import Picture
from ..findings.relations import SHAPING_ROLES, related
from ..model import Placement
from ..palette.seen import against, parts
from ..tolerances import FRAME_GRID, SAME_NUMBER
from .energy import ISLAND

_PRACTICE = "common practice, no source"
#: What stands so little out from what is behind it weighs by its area alone, CIEDE2000.
_LEAST_CONTRAST = 5.0
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


def _shapes_it(placement: Placement) -> bool:
    """What lies on something belongs to it; a hero counts wherever it lies."""
    return placement.role == "hero" or (placement.role in SHAPING_ROLES and placement.on is None)


class _Eye:
    """What all measures look at: outlines of the shaping things as seen, in heights of the frame."""

    def __init__(self, picture: Picture) -> None:
        self.picture = picture
        self.aspect = picture.view.aspect
        self.window: Rect = picture.safe_area or FULL_FRAME
        self.ids = [
            i
            for i, t in picture.things.items()
            if t.frame_area_share > 0 and _shapes_it(picture.bodies[i].placement)
        ]
        self.hero = next((i for i in self.ids if picture.bodies[i].placement.role == "hero"), None)

    def seen(self, i: str) -> BaseGeometry:
        return scale(self.picture.things[i].visible, self.aspect, 1.0, origin=(0, 0))

    @cached_property
    def outlines(self) -> dict[str, BaseGeometry]:
        return {i: self.seen(i) for i in self.ids}

    @cached_property
    def room(self) -> BaseGeometry:
        u0, v0, u1, v1 = self.window
        return shapely.box(u0 * self.aspect, v0, u1 * self.aspect, v1)

    @cached_property
    def covered(self) -> BaseGeometry:
        """All that is seen of anything but cloth, in the window that every crop shares."""
        seen = [self.seen(i) for i, b in self.picture.bodies.items() if b.placement.role != "cloth"]
        if not seen:
            return shapely.Polygon()
        snapped = shapely.set_precision(np.array(seen, dtype=object), FRAME_GRID)
        return shapely.intersection(shapely.union_all(snapped, grid_size=FRAME_GRID), self.room)

    @cached_property
    def gaps(self) -> np.ndarray:
        """(n, n) between the outlines of shaping things; infinite on the diagonal."""
        shapes = np.array(list(self.outlines.values()), dtype=object)
        gaps = shapely.distance(shapes[:, None], shapes[None]) if len(shapes) else np.zeros((0, 0))
        return gaps + np.diag(np.full(len(shapes), np.inf)) if len(shapes) else gaps

    @cached_property
    def middles(self) -> np.ndarray:
        """(n, 2)"""
        return np.array([[g.centroid.x, g.centroid.y] for g in self.outlines.values()]).reshape(-1, 2)

    @cached_property
    def areas(self) -> np.ndarray:
        return np.array([g.area for g in self.outlines.values()])


def _coverage(eye: _Eye) -> float | None:
    return eye.covered.area / eye.room.area


def _weight(eye: _Eye) -> tuple[np.ndarray, np.ndarray]:
    """(weights, (n, 2) middles) of everything seen: area times how much it stands out from what lies behind it."""
    rims = against(eye.picture)
    ids = [i for i, t in eye.picture.things.items() if t.frame_area_share > 0 and i in rims]
    areas = np.array([eye.picture.things[i].visible.area for i in ids])
    contrast = np.array([max(_LEAST_CONTRAST, rims[i].delta_e) for i in ids])
    middles = np.array([[(c := eye.picture.things[i].visible.centroid).x * eye.aspect, c.y] for i in ids]).reshape(-1, 2)
    return areas * contrast, middles


def _balance(eye: _Eye) -> float | None:
    weights, middles = _weight(eye)
    if weights.sum() <= SAME_NUMBER:
        return None
    middle = weights @ middles / weights.sum()
    return float(np.hypot(*(middle - [eye.room.centroid.x, eye.room.centroid.y])))


def _light(eye: _Eye) -> float | None:
    """Mean lightness of what is seen left of the window's middle, less that right of it."""
    light: list[tuple[float, float, float]] = []
    for i, thing in eye.picture.things.items():
        if thing.frame_area_share > 0:
            tone = sum(float(lab_of(c.hex)[0]) * part for c, part in parts(eye.picture.props[i].colours))
            light.append((thing.visible.centroid.x * eye.aspect, thing.visible.area, tone))
    sides = [[(a, tone) for x, a, tone in light if (x < eye.room.centroid.x) == left] for left in (True, False)]
    if not all(sides):
        return None
    means = [sum(a * tone for a, tone in side) / sum(a for a, _ in side) for side in sides]
    return means[0] - means[1]


def _symmetry(eye: _Eye) -> float | None:
    if eye.covered.area <= SAME_NUMBER:
        return None
    mirrored = scale(eye.covered, -1.0, 1.0, origin=(eye.room.centroid.x, 0))
    return _common(eye.covered, mirrored)


def _common(one: BaseGeometry, other: BaseGeometry) -> float:
    """Common area over that of both."""
    common = shapely.intersection(one, other, grid_size=FRAME_GRID).area
    return float(common / (one.area + other.area - common))


def _evenness(eye: _Eye) -> float | None:
    n = len(eye.ids)
    if n < 3:
        return None
    far = np.hypot(*(eye.middles[:, None] - eye.middles[None]).transpose(2, 0, 1)) + np.diag(np.full(n, np.inf))
    return float(far.min(axis=1).mean() / (0.5 * np.sqrt(eye.room.area / n)))


def _unevenness(eye: _Eye) -> float | None:
    if len(eye.ids) < 3:
        return None
    nearest = eye.gaps.min(axis=1)
    return float(nearest.std() / nearest.mean()) if nearest.mean() > SAME_NUMBER else 0.0


def _islands(eye: _Eye) -> float | None:
    return float((eye.gaps.min(axis=1) > ISLAND).sum()) if len(eye.ids) > 1 else None


def _clusters(eye: _Eye) -> float | None:
    return float(connected_components(eye.gaps < CLUSTER)[0]) if eye.ids else None


def _hero_share(eye: _Eye) -> float | None:
    return eye.outlines[eye.hero].area / eye.room.area if eye.hero else None


def _hero_clear(eye: _Eye) -> float | None:
    if eye.hero is None or len(eye.ids) < 2:
        return None
    own = eye.gaps[eye.ids.index(eye.hero)]
    apart = [float(gap) for i, gap in zip(eye.ids, own, strict=True) if i != eye.hero and not related(eye.picture, i, eye.hero)]
    return min(apart, default=None)


def _falling(eye: _Eye) -> float | None:
    if eye.hero is None or len(eye.ids) < 5:
        return None
    k = eye.ids.index(eye.hero)
    others = np.arange(len(eye.ids)) != k
    far = np.hypot(*(eye.middles[others] - eye.middles[k]).T)
    if np.ptp(eye.areas[others]) <= SAME_NUMBER or np.ptp(far) <= SAME_NUMBER:
        return None
    return float(spearmanr(far, eye.areas[others]).statistic)


def _heights(eye: _Eye) -> float | None:
    heights = np.array([eye.picture.bodies[i].z_max for i in eye.ids])
    return float(heights.std() / heights.mean()) if len(heights) > 2 and heights.mean() > 0 else None


def _planes(eye: _Eye) -> float | None:
    depths = np.sort([float(np.mean(eye.picture.silhouettes[i].depth)) for i in eye.ids])
    if len(depths) < 2 or abs(float(eye.picture.view.forward[2])) > np.cos(np.radians(10.0)):
        return None  # from above all lies in one plane
    return 1.0 + float((np.diff(depths) > _PLANE_SHARE * max(np.ptp(depths), 1.0)).sum())


def _hidden(eye: _Eye) -> float | None:
    shares = [1 - eye.picture.things[i].visible_share for i in eye.ids]
    return float(np.mean(shares)) if shares else None


def _pointing(eye: _Eye) -> float | None:
    """Of what is long, how many lie along a line that runs out of the frame without meeting anything that shapes the picture."""
    rods = [i for i in eye.ids if eye.picture.bodies[i].placement.role == "linear"]
    if not rods:
        return None
    return float(sum(not any(_meets(eye, i, end) for end in (-1, 1)) for i in rods))


def _meets(eye: _Eye, i: str, end: int) -> bool:
    box = shapely.minimum_rotated_rectangle(eye.outlines[i])
    corners = shapely.get_coordinates(box)[:-1]
    if len(corners) < 4:
        return False
    sides = np.diff(corners[:3], axis=0)
    way = sides[int(np.hypot(*sides.T).argmax())]
    start = corners.mean(axis=0)
    ray = shapely.LineString([start, start + end * way / max(np.hypot(*way), SAME_NUMBER) * 3.0])
    return any(shapely.intersects(ray, eye.outlines[j]) for j in eye.ids if j != i and eye.picture.bodies[j].placement.role != "linear")


_ALL: tuple[tuple[str, Callable[[_Eye], float | None], str, int, str, str], ...] = (
    ("coverage", _coverage, "share", 0, "seen area of everything but cloth, of the part that all crops share", _PRACTICE),
    ("balance", _balance, "of the height", -1, "how far the middle of visual weight, area times contrast (CIEDE2000) with what is behind, lies "
     "from the middle of what all crops share", "weight of area and contrast: Arnheim, Art and Visual Perception, 1954, from memory"),
    ("light_balance", _light, "L*", 0, "mean lightness of things left of the middle, less that right of it", _PRACTICE),
    ("symmetry", _symmetry, "share", 0, "what is covered and its mirror image about the upright middle line: common area over both", "Jaccard, 1901"),
    ("evenness", _evenness, "ratio", 0, "mean distance to the nearest neighbour over that of places by chance: under 1 clustered, over 1 even",
     "Clark & Evans, Ecology 35(4), 1954"),
    ("unevenness", _unevenness, "ratio", 0, "deviation of gaps to the nearest neighbour over their mean", _PRACTICE),
    ("islands", _islands, "things", -1, f"large or long things further than {ISLAND:g} of the height from all others", _PRACTICE),
    ("clusters", _clusters, "clusters", 0, f"groups of things closer than {CLUSTER:g} of the height", _PRACTICE),
    ("hero_share", _hero_share, "share", 0, "what is seen of the hero, of the part that all crops share", _PRACTICE),
    ("hero_clear", _hero_clear, "of the height", 1, "gap between the hero's outline and the nearest thing that shapes the picture", _PRACTICE),
    ("falling_away", _falling, "rank correlation", -1, "of distance from the hero and seen area: -1 where sizes fall away from it",
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
    eye = _Eye(picture)
    for key, find, unit, better, what, source in _ALL:
        value = find(eye)
        yield Measure(key, None if value is None else round(float(value), 4), unit, what, source, better)
