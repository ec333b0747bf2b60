"""What is asked of places in a flattened photograph: how much of them is told from the ground, their light, whether two are of one colour."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LEAST_LIGHT
from .ground import Ground
from .rectified import Flat
from .smooth_light import linear

#: Of one colour are two places that differ by less than this, log, in each channel.
_LIKE = 0.4
#: What is stranger (log) than this percentile of a place is what is strangest there.
_STRANGEST = 80
#: What has more of itself than this share, and so much, mm2, on a ground is told against that ground.
_ON_IT, _ON_IT_MM2 = 0.05, 40.0


@dataclass(frozen=True, eq=False)
class Look:
    """What is asked of a place: the coarse picture and its ground. told (h, w) bool: what is not the ground, and what lies between. sheet:
    where the ground is paper; all else is table."""

    flat: Flat
    ground: Ground
    told: np.ndarray
    sheet: BaseGeometry = field(default_factory=shapely.Polygon)

    def on_its_ground(self, place: BaseGeometry, other: BaseGeometry) -> tuple[BaseGeometry, BaseGeometry]:
        """Both as far as they lie on the ground, paper or table, that most of ``place`` lies on: light that is left and strangeness are
        told against that, and a thing is far stranger to a dark table than to paper. All of both where too little of ``other`` lies
        there."""
        here, there = (p.intersection(self.sheet) for p in (place, other))
        if here.area <= place.area / 2:
            here, there = (p.difference(self.sheet) for p in (place, other))
        return (here, there) if there.area > max(_ON_IT * other.area, _ON_IT_MM2) else (place, other)

    def covered(self, polygon: BaseGeometry) -> float:
        """Share of it that is told from the ground."""
        where, inside = self.flat.within(polygon)
        return float(self.told[where][inside].mean()) if inside.any() else 0.0

    def is_like(self, one: shapely.Polygon, other: shapely.Polygon) -> bool:
        """Whether two places are of one colour."""
        colours = [self.flat.rgb[self.flat.inside(p)] for p in (one, other)]
        if not all(len(c) for c in colours):
            return False
        first, second = (np.log(np.maximum(linear(np.median(c, axis=0)[None, None].astype(np.uint8))[0, 0], LEAST_LIGHT)) for c in colours)
        return float(np.abs(first - second).max()) < _LIKE

    def light(self, polygon: BaseGeometry) -> tuple[float, float]:
        """(share of the ground's light that is left there, how strange its colour is to the ground), medians."""
        where, inside = self.flat.within(polygon)
        if not inside.any():
            return 1.0, 0.0
        off = self.ground.off[where][inside]
        known = off[np.isfinite(off)]
        return float(np.median(self.ground.left[where][inside])), float(np.median(known)) if len(known) else 0.0

    def strange_mm2(self, place: BaseGeometry, least: float) -> float:
        """How much of a place is at least so strange to the ground, mm2."""
        where, inside = self.flat.within(place)
        off = self.ground.off[where][inside]
        return float((off[np.isfinite(off)] >= least).sum()) / self.flat.per_mm**2

    def strangest(self, polygon: BaseGeometry) -> float:
        """How strange its colour is to the ground where that is strangest: of a striped thing the stripes tell it."""
        where, inside = self.flat.within(polygon)
        off = self.ground.off[where][inside]
        known = off[np.isfinite(off)]
        return float(np.percentile(known, _STRANGEST)) if len(known) else 0.0


def share(one: BaseGeometry, other: BaseGeometry) -> float:
    """How much of the smaller of two places they have in common."""
    a, b = one.bounds, other.bounds
    if a[2] < b[0] or b[2] < a[0] or a[3] < b[1] or b[3] < a[1]:
        return 0.0
    return float(one.intersection(other).area / max(min(one.area, other.area), 1.0))
