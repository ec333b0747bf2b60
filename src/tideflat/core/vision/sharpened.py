"""An outline moved to the steps in colour that it runs along, and rid of what no thing has: spikes and crumbs."""

from __future__ import annotations

import cv2
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import ROUNDING
from .edge_doubts import EdgeSeen
from .rectified import Flat, flatten
from .sheet import FoundSheet
from .smooth_light import root_of_light

#: The finest grid, pixels for one mm, and the most pixels of its long side.
_FINEST_PER_MM, _MOST_PX = 4.0, 1100
#: So much of the picture round the thing is laid flat finely, mm; it is read across its edge so far.
_AROUND_MM = 12.0
#: Half of what is too thin to belong to a thing's outline, mm.
_SPIKE_MM = 0.35
#: What sticks out for less than so many places of an outline, and is larger than this, mm2, is cut off.
_TOOTH_PLACES, _CRUMB_MM2 = 8, 0.3


def finely(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float]) -> Flat:
    """The photograph laid flat round a ``box`` on the sheet's plane, mm, as finely as is of use."""
    x0, y0, x1, y1 = box
    per_mm = finest_per_mm(box)
    return flatten(rgb, found.pose.plane_to_pixel, (x0 - _AROUND_MM, y0 - _AROUND_MM, x1 + _AROUND_MM, y1 + _AROUND_MM), per_mm)


def finest_per_mm(box: tuple[float, float, float, float]) -> float:
    """How fine, pixels a mm, that is."""
    return min(_FINEST_PER_MM, _MOST_PX / (max(box[2] - box[0], box[3] - box[1]) + 16))


def largest_of(found: BaseGeometry) -> shapely.Polygon:
    """The largest polygon of it; an empty one where there is none."""
    parts = [g for g in getattr(found, "geoms", [found]) if g.geom_type == "Polygon"]
    return max(parts, key=lambda g: g.area) if parts else shapely.Polygon()


def sharpened(outline: shapely.Polygon, flat: Flat) -> shapely.Polygon:
    """Each point of the outline moved to the steepest step in colour within 2 mm across it, then smoothed along the outline."""
    around = np.array(shapely.segmentize(shapely.simplify(outline, 0.4), 1.0).exterior.coords)[:-1]
    if shapely.Polygon(around).exterior.is_ccw:
        around = around[::-1]
    tangent = np.roll(around, -2, axis=0) - np.roll(around, 2, axis=0)
    tangent /= np.maximum(np.linalg.norm(tangent, axis=1, keepdims=True), ROUNDING)
    outward = np.column_stack([-tangent[:, 1], tangent[:, 0]])
    steps = np.arange(-2.0, 2.01, 0.5 / flat.per_mm)
    grid = around[:, None, :] + outward[:, None, :] * steps[None, :, None]
    at = flat.pixels(grid.reshape(-1, 2)).reshape(*grid.shape[:2], 2).astype(np.float32) - 0.5
    values = cv2.remap(root_of_light(flat.rgb), at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    values = cv2.GaussianBlur(values, (9, 1), 1.5)
    slope = np.linalg.norm(np.gradient(values, axis=1), axis=2)
    # the step nearest to where it was found is likelier than one further off (a pattern, the end of its shadow)
    slope *= np.exp(-((steps / 1.6) ** 2))
    peak = slope[:, 1:-1].argmax(axis=1) + 1
    rows = np.arange(len(around))
    before, middle, after = slope[rows, peak - 1], slope[rows, peak], slope[rows, peak + 1]
    bow = before - 2 * middle + after
    part = np.where(np.abs(bow) > ROUNDING, 0.5 * (before - after) / np.where(np.abs(bow) > ROUNDING, bow, 1), 0)
    offset = steps[peak] + np.clip(part, -1, 1) * (steps[1] - steps[0])
    window = np.stack([np.roll(offset, k) for k in range(-4, 5)])
    moved = around + outward * np.median(window, axis=0)[:, None]
    polygon = shapely.Polygon(moved).buffer(0)
    if polygon.geom_type == "MultiPolygon":
        polygon = max(polygon.geoms, key=lambda g: g.area)
    return shapely.Polygon(polygon.exterior) if not polygon.is_empty else outline


def without_teeth(outline: shapely.Polygon, edge: EdgeSeen) -> shapely.Polygon:
    """Without what sticks out for a short stretch that has no edge of its own, between two that have: a crumb of the mask."""
    count = len(edge.places)
    own = np.flatnonzero(edge.is_own)
    for a, b in zip(own, np.roll(own, -1), strict=True):
        places = edge.places[np.arange(a, b + 1 if b > a else b + 1 + count) % count]
        if not 3 <= len(places) <= _TOOTH_PLACES:
            continue
        tooth = shapely.Polygon(places).buffer(0)
        if tooth.area > _CRUMB_MM2 and tooth.intersection(outline).area > 0.5 * tooth.area:
            outline = largest_of(outline.difference(tooth.buffer(0.1)))
    return outline


def without_spikes(outline: shapely.Polygon) -> shapely.Polygon:
    """What is thinner than a millimetre and sticks out is the end of a shadow, or noise."""
    opened = outline.buffer(-_SPIKE_MM).buffer(_SPIKE_MM)
    largest = max(opened.geoms, key=lambda g: g.area) if opened.geom_type == "MultiPolygon" else opened
    return shapely.Polygon(largest.exterior) if largest.area > 0.8 * outline.area else outline
