"""What is seen of the edges of an upright thing of any outline: of its top, and of its silhouette."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.affinity import scale

from ..tolerances import ROUNDING
from .along_ring import counter_clockwise, places_along
from .edge_support import DEEP_MM, EdgePicture, asked_of_each
from .pose import Pose
from .sharpened import largest_of
from .solid_edges import FOOT_UNSEEN, HARDLY, deep_for, is_dark_outside

#: An outline's places so far apart, mm.
EVERY_MM = 0.75
#: What it covers of the plane need not be told nearer than this, mm.
_SIMPLY_MM = 0.1
#: A top's edge so far inside of the silhouette, mm, is seen apart from it; how near to a step an edge is, mm.
_WITHIN_MM, _NEAR_STEP_MM = 0.8, 0.45
#: So much a top's edge counts that is not seen where a side may be lit as it is: more than a plain solid's, which has no other shape to take.
_TOP_UNSEEN = 0.3


@dataclass(frozen=True, eq=False, slots=True)
class SideSeen:
    """Of one side, at its places: (n, 2) each, of what is seen of its silhouette, and of its top where that lies within it; (n, 1) of what
    lies flat. offset: to the step, mm at the foot; plain: 0 to 1; is_asked: whether it is to be seen; is_lit (n,): whether it is not much
    darker just outside of the silhouette than just inside."""

    offset: np.ndarray
    plain: np.ndarray
    is_asked: np.ndarray
    is_lit: np.ndarray

    @property
    def there(self) -> np.ndarray:
        """(n, 2): 0 to 1, how plainly, and how near to where it should be, each is seen."""
        return np.asarray(self.plain * np.exp(-0.5 * (self.offset / _NEAR_STEP_MM) ** 2))

    @property
    def weight(self) -> np.ndarray:
        """(n, 2): how much each counts. The foot of a side in shadow is not told from the shadow, and a side may be lit as its top is; not
        where a shadow begins at its foot, for that lies on the side away from the light."""
        weight = self.is_asked.astype(float)
        if weight.shape[1] == 2:
            is_hardly, has_side = self.there < HARDLY, self.is_asked[:, 1]
            weight[has_side & is_hardly[:, 0], 0] *= FOOT_UNSEEN
            weight[has_side & is_hardly[:, 1] & self.is_lit, 1] *= _TOP_UNSEEN
        return weight

    @property
    def seen(self) -> float:
        """Share of what is to be seen that is there."""
        return self._share_of(self.there)

    @property
    def plain_share(self) -> float:
        """The same however far off it is, of as far as was looked."""
        return self._share_of(self.plain)

    def _share_of(self, values: np.ndarray) -> float:
        weight = self.weight
        return float((values * weight).sum() / weight.sum()) if self.is_asked.any() else 0.0

    @property
    def plainest(self) -> float:
        """The same of that of its two edges that is seen best."""
        asked = self.is_asked.sum(axis=0)
        is_long = asked > len(self.plain) / 2
        return float((self.there.sum(axis=0)[is_long] / asked[is_long]).max()) if is_long.any() else 0.0


@dataclass(frozen=True, eq=False, slots=True)
class PrismLook:
    """picture: that edges are asked in; eye (2,): the foot of the lens, mm; k: a top is seen so many times as large."""

    picture: EdgePicture
    eye: np.ndarray
    k: float


def look_at(picture: EdgePicture, pose: Pose, height_mm: float) -> PrismLook:
    return PrismLook(picture, np.array(pose.eye[:2], dtype=float), pose.enlargement_at(height_mm) if height_mm > 0 else 1.0)


def sides_seen(
    foot: shapely.Polygon,
    sides: Sequence[tuple[np.ndarray, np.ndarray]],
    look: PrismLook,
    window_mm: float,
    shifts_mm: Sequence[float] = (0.0,),
    reach_mm: Sequence[float] = (),
) -> list[SideSeen]:
    """Of each side, (places, outward), of what stands on ``foot``, as if it lay each of so many mm further out in turn. reach_mm: each side
    no further in or out than so much: beyond that nothing of it is seen."""
    eye, k, is_flat = look.eye, look.k, look.k == 1.0
    ways = np.concatenate([outward for _, outward in sides])
    low = np.concatenate([np.concatenate([places for places, _ in sides]) + shift * ways for shift in shifts_mm])
    out = np.tile(ways, (len(shifts_mm), 1))
    high = eye + k * (low - eye)
    over = ((high - low) * out).sum(axis=1)
    is_bare = (over > 0) | is_flat
    if not is_flat:  # a top hides what lies well within it
        top = scale(foot.buffer(0), k, k, origin=(float(eye[0]), float(eye[1]))).buffer(-_WITHIN_MM)
        shapely.prepare(top)
        is_bare |= ~shapely.contains_xy(top, low)
    is_within = over < -_WITHIN_MM
    deep = float(deep_for(float(np.percentile(-over[is_within], 25)))) if is_within.any() else DEEP_MM
    ends = np.cumsum([len(places) for _ in shifts_mm for places, _ in sides])
    own = [slice(begin, end) for begin, end in zip([0, *ends[:-1]], ends, strict=True)]
    edges = [np.where(over[:, None] > 0, high, low)] + ([] if is_flat else [high])
    is_asked = np.column_stack([is_bare, is_within])[:, : len(edges)]
    is_near = [abs(shift) <= most + ROUNDING for shift in shifts_mm for most in (reach_mm or [np.inf] * len(sides))]
    pairs = [(e, n) for e in range(len(edges)) for n, near in zip(own, is_near, strict=True) if near and is_asked[n, e].any()]
    looked = asked_of_each(look.picture, [(edges[e][n], out[n]) for e, n in pairs], window_mm, [deep] * len(pairs))
    offset, plain = np.zeros(is_asked.shape), np.zeros(is_asked.shape)
    for (e, n), one in zip(pairs, looked, strict=True):
        offset[n, e], plain[n, e] = one.offset, np.where(is_asked[n, e], one.plain, 0.0)
    by = np.column_stack([np.where(over > 0, k, 1.0), np.full(len(over), k)])[:, : len(edges)]
    offset /= by
    is_lit = ~is_dark_outside(look.picture, edges[0], out)
    return [SideSeen(offset[n], plain[n], is_asked[n], is_lit[n]) for n in own]


def seen_share(sides: Sequence[SideSeen]) -> float:
    """Share of all edges that is there."""
    number = np.array([one.weight.sum() for one in sides])
    return float(np.average([one.seen for one in sides], weights=number)) if number.any() else 0.0


def ring_of(outline: shapely.Polygon) -> tuple[np.ndarray, np.ndarray]:
    """(places, outward) all round it."""
    places = places_along(counter_clockwise(outline), np.linspace(0, 1, max(8, int(outline.exterior.length / EVERY_MM)), endpoint=False))
    along = np.roll(places, -2, axis=0) - np.roll(places, 2, axis=0)
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), ROUNDING)
    return places, np.column_stack([along[:, 1], -along[:, 0]])


def standing_on(foot: shapely.Polygon, pose: Pose, height_mm: float) -> shapely.Polygon:
    """What an upright thing on that footprint covers of the sheet's plane, seen from the lens."""
    if height_mm <= 0:
        return foot
    k, eye = pose.enlargement_at(height_mm), (float(pose.eye[0]), float(pose.eye[1]))
    foot = shapely.simplify(foot, _SIMPLY_MM)
    top = scale(foot, k, k, origin=eye)
    low, high = (shapely.get_coordinates(one.exterior) for one in (foot, top))
    sides = [shapely.Polygon([a, b, d, c]).buffer(0) for a, b, c, d in zip(low, low[1:], high, high[1:], strict=False)]
    return largest_of(shapely.union_all([foot, top, *sides]))
