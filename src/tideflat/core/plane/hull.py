"""The convex hull of points."""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry


def hull_of(points: np.ndarray) -> BaseGeometry:
    """Of points (n, 2): a polygon, or the line or the point that they all lie on.

    As one line through them, which has the same hull as they have and is made at once, where points are made one by one.
    """
    return shapely.convex_hull(shapely.linestrings(points) if len(points) > 1 else shapely.multipoints(points))
