"""What beside a thing was taken for its shadow, as it is shown to whoever measures."""

from __future__ import annotations

import cv2
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from .look import Look
from .peeled import longest_shadow_mm

#: What keeps less than this share of the ground's light is shaded, and is one with what is shaded so near it, mm; narrower, mm, it is
#: grain.
_SHADED, _ONE_MM, _GRAIN_MM = 0.84, 1.5, 2.2
#: A shadow begins so near its thing, mm, and ends so far from it, mm, where its height is not known; smaller, mm2, it is not shown.
_BEGINS_MM, _FURTHEST_MM, _LEAST_MM2 = 3.0, 80.0, 40.0
#: The border is drawn with corners no nearer than this, mm.
_DRAWN_MM = 0.6


def shadows_of(look: Look, things: list[shapely.Polygon], height_mm: float) -> list[tuple[shapely.Polygon, ...]]:
    """For each thing, by its silhouette on the sheet's plane, mm, what is darker about it than the ground in full light and begins at it;
    none of it twice."""
    flat, every = look.flat, shapely.union_all([thing.buffer(0.3) for thing in things])
    shaded = flat.known & (cv2.blur(look.ground.left, (3, 3)) < _SHADED) & ~flat.inside(every)
    sides = [max(3, int(mm * flat.per_mm) | 1) for mm in (_ONE_MM, _GRAIN_MM)]
    joined = cv2.morphologyEx(shaded.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((sides[0], sides[0]), np.uint8))
    mask = cv2.morphologyEx(joined, cv2.MORPH_OPEN, np.ones((sides[1], sides[1]), np.uint8))
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    rings = [flat.mm(c[:, 0].astype(float) + 0.5) for c in contours if len(c) >= 4]
    near = shapely.union_all([thing.envelope.buffer(2 * _BEGINS_MM) for thing in things])  # what else there is is not drawn
    near_by = (ring for ring in rings if shapely.box(*ring.min(axis=0), *ring.max(axis=0)).intersects(near))
    regions = [shapely.Polygon(ring).buffer(0.5 / flat.per_mm) for ring in near_by]
    most = longest_shadow_mm(height_mm) if height_mm > 0 else _FURTHEST_MM
    left, found = regions, []
    for thing in things:
        about = thing.buffer(_BEGINS_MM)
        own = [region for region in left if region.intersects(about)]
        left = [region for region in left if not region.intersects(about)]
        reach = thing.buffer(most).difference(every) if own else shapely.Polygon()
        found.append(tuple(part for region in own for part in _parts(region.intersection(reach))))
    return found


def _parts(region: BaseGeometry) -> list[shapely.Polygon]:
    plain = shapely.simplify(region, _DRAWN_MM)
    return [p for p in getattr(plain, "geoms", [plain]) if p.geom_type == "Polygon" and p.area >= _LEAST_MM2]
