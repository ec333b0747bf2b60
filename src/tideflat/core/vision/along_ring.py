"""Places along a closed outline, at shares of its length."""

from __future__ import annotations

import numpy as np
import shapely


def counter_clockwise(outline: shapely.Polygon) -> np.ndarray:
    """(n + 1, 2) corners of its outer edge, the first again at the end."""
    turned = shapely.geometry.polygon.orient(shapely.Polygon(outline.exterior))
    return np.asarray(shapely.get_coordinates(turned.exterior))


def places_along(ring: np.ndarray, shares: np.ndarray) -> np.ndarray:
    """(m, 2) places of a closed ring (n + 1, 2) at shares (m,) of its length, from 0 to 1."""
    # by the lengths of all sides at once: to walk the ring anew for each of a thousand places takes as long as all the rest of an outline
    lengths = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(ring, axis=0), axis=1))])
    return np.column_stack([np.interp(shares * lengths[-1], lengths, ring[:, k]) for k in (0, 1)])


def lies_within(first: shapely.Polygon, second: shapely.Polygon, apart_mm: float) -> bool:
    """Whether no corner of either outline lies further from the other (Hausdorff's distance of corners, where only that is asked of it)."""
    for own, other in ((first, second), (second, first)):
        ring = shapely.LinearRing(other.exterior)
        shapely.prepare(ring)  # hundreds of corners against hundreds of sides: an index finds them in a hundredth of the time
        if not shapely.dwithin(ring, shapely.points(shapely.get_coordinates(own.exterior)), apart_mm).all():
            return False
    return True
