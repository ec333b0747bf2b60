"""A thing's own face, without the dark strip that hangs on one side of it: its side in shadow, and the shadow on the table.

Where a lamp leaves a side unlit, that side and the hard, narrow shadow below it are one black strip in the picture. The face above is
lit as a whole and ends where the strip begins: that edge is the top's.
"""

from __future__ import annotations

import cv2
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LEAST_LIGHT, ROUNDING
from .rectified import Flat
from .smooth_light import lightness

#: A strip has less than this share of the face's light, and is no wider, mm, than so many heights and a little.
_DARK, _SHADOW_HEIGHTS, _SHADOW_LITTLE_MM = 0.5, 4.0, 3.0
#: The face is at least this share of the whole, and the strip so much of it; of the strip's border so much is the whole's.
_LEAST_FACE, _LEAST_STRIP, _LEAST_OUTER = 0.45, 0.015, 0.3
#: A strip hangs on one side: the ways out of its outer border have so much of a common way.
_ONE_SIDED = 0.35
#: Corners of an outline nearer than this, mm, to a straight line are pixels' corners.
_PIXELS_MM = 0.12


def face_of(outline: shapely.Polygon, flat: Flat, height_mm: float) -> shapely.Polygon | None:
    """The lit face within an outline, mm; None where nothing dark hangs on one side of it."""
    inside = flat.inside(outline).astype(np.uint8)
    light = np.log(np.maximum(cv2.GaussianBlur(lightness(flat.rgb), (0, 0), max(0.6, 0.4 * flat.per_mm)), LEAST_LIGHT))
    core = cv2.erode(inside, np.ones((3, 3), np.uint8)).astype(bool)
    if core.sum() < 60:
        return None
    low, high = float(light[core].min()), float(np.percentile(light[core], 98))
    scaled = np.clip((light - low) / max(high - low, ROUNDING) * 255, 0, 255).astype(np.uint8)
    level, _ = cv2.threshold(scaled[core].reshape(-1, 1), 0, 255, cv2.THRESH_OTSU)
    dark = inside.astype(bool) & (scaled <= level)
    bright = inside.astype(bool) & ~dark
    if not dark.any() or not bright.any() or np.exp(np.median(light[dark & core]) - np.median(light[bright])) > _DARK:
        return None
    small = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (max(3, int(0.8 * flat.per_mm) | 1),) * 2)
    face = cv2.morphologyEx(bright.astype(np.uint8), cv2.MORPH_OPEN, small)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(face)
    if count < 2:
        return None
    largest = 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())
    face = (labels == largest).astype(np.uint8)
    rings, _ = cv2.findContours(face, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(rings, key=cv2.contourArea)
    if len(ring) < 8:
        return None
    polygon = shapely.Polygon(flat.mm(ring[:, 0].astype(float) + 0.5)).buffer(0.5 / flat.per_mm, join_style="mitre").buffer(0)
    polygon = max(polygon.geoms, key=lambda g: g.area) if polygon.geom_type == "MultiPolygon" else polygon
    polygon = shapely.Polygon(polygon.exterior)
    strip = outline.difference(polygon.buffer(0.3)).buffer(-0.25).buffer(0.25)
    if polygon.area < _LEAST_FACE * outline.area or strip.area < _LEAST_STRIP * outline.area:
        return None
    return polygon if hangs_on(strip, outline, height_mm) else None


def longest_shadow_mm(height_mm: float) -> float:
    """No shadow of what is so high reaches further from it."""
    return _SHADOW_HEIGHTS * height_mm + _SHADOW_LITTLE_MM


def hangs_on(strip: BaseGeometry, outline: shapely.Polygon, height_mm: float) -> bool:
    """Whether what is dark lies along one side of the whole, no wider than a shadow of that height."""
    most = longest_shadow_mm(height_mm)
    strip = shapely.simplify(strip, _PIXELS_MM)  # it goes round pixels, thousands of them
    if not strip.buffer(-most / 2).is_empty:
        return False
    outer = outline.exterior.intersection(strip.buffer(0.6))
    if outer.length < _LEAST_OUTER * strip.length:
        return False
    ways = np.zeros(2)
    total = 0.0
    ring = shapely.geometry.polygon.orient(outline).exterior
    places = shapely.get_coordinates(shapely.segmentize(ring, 1.0))
    along = np.diff(places, axis=0)
    middle = (places[1:] + places[:-1]) / 2
    near = shapely.contains_xy(strip.buffer(0.8), middle)
    out = np.column_stack([along[:, 1], -along[:, 0]])[near]
    ways, total = out.sum(axis=0), float(np.linalg.norm(out, axis=1).sum())
    return total > 0 and float(np.linalg.norm(ways)) > _ONE_SIDED * total
