"""An outline drawn in to the thing's own edge where it ran along the soft border of a shadow: inward from there the first plain step that
goes on along the stretch.
"""

from __future__ import annotations

import numpy as np
import shapely

from ..tolerances import ROUNDING
from .dark_sides import ring_of
from .edge_doubts import EdgeSeen
from .edge_support import EdgePicture, asked

#: Less of an outline than this soft, and nothing is drawn in.
_LEAST_SOFT = 0.03
#: It is looked for in windows of so many mm to both sides, over such a depth, and is as plain as this.
_WINDOW_MM, _DEEP_MM, _PLAIN = 0.9, 0.9, 0.7
#: Neighbours that tell how far a stretch is drawn in, to both sides; so near to each other, mm, they must be, and so many of them.
_NEIGHBOURS, _TOGETHER_MM, _TOGETHER = 6, 1.2, 0.55
#: What is left is at least this share of what there was.
_LEAST_LEFT = 0.25


def pulled_in(outline: shapely.Polygon, edge: EdgeSeen, picture: EdgePicture, most_mm: float) -> shapely.Polygon:
    """The outline, its soft stretches drawn in by up to ``most_mm`` where a plain edge runs along them within; as it was elsewhere."""
    if 1 - edge.is_own.mean() < _LEAST_SOFT:
        return outline
    places, outward = ring_of(outline)
    nearest = ((places[:, None, :] - edge.places[None, :, :]) ** 2).sum(axis=2).argmin(axis=1)
    soft = ~edge.is_own[nearest]
    outward = _evened(outward)
    inward = np.full(len(places), np.nan)
    for centre in np.arange(_WINDOW_MM / 2, most_mm, 1.5 * _WINDOW_MM):
        looked = asked(picture, places - centre * outward, outward, _WINDOW_MM, _DEEP_MM)
        found = np.isnan(inward) & soft & (looked.plain >= _PLAIN)
        inward[found] = centre - looked.offset[found]
    moved = _agreed(inward, soft)
    if not moved.any():
        return outline
    polygon = shapely.Polygon(places - moved[:, None] * outward).buffer(0)
    parts = [g for g in getattr(polygon, "geoms", [polygon]) if g.geom_type == "Polygon"]
    largest = max(parts, key=lambda g: g.area, default=outline)
    return shapely.Polygon(largest.exterior) if largest.area > _LEAST_LEFT * outline.area else outline


def _evened(ways: np.ndarray) -> np.ndarray:
    """(n, 2) unit ways, each the mean of those about it: a shadow's border wavers."""
    mean = sum(np.roll(ways, k, axis=0) for k in range(-4, 5))
    return np.asarray(mean / np.maximum(np.linalg.norm(mean, axis=1, keepdims=True), ROUNDING))


def _agreed(inward: np.ndarray, soft: np.ndarray) -> np.ndarray:
    """(n,) mm by which each place is drawn in: what most about it say; 0 where they do not agree."""
    about = np.stack([np.roll(inward, k) for k in range(-_NEIGHBOURS, _NEIGHBOURS + 1)])
    of_soft = np.stack([np.roll(soft, k) for k in range(-_NEIGHBOURS, _NEIGHBOURS + 1)]).sum(axis=0)
    known = np.isfinite(about)
    middle = np.zeros(len(inward))
    any_known = known.any(axis=0)
    middle[any_known] = np.nanmedian(about[:, any_known], axis=0)
    alike = (known & (np.abs(np.where(known, about, 0) - middle) < _TOGETHER_MM)).sum(axis=0)
    return np.where(soft & (alike >= _TOGETHER * np.maximum(of_soft, 1)) & (alike >= 3), middle, 0.0)
