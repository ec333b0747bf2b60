"""Strewn leaves as the renderer holds them: just as they are drawn, each half a fan about the end of its crease."""

from __future__ import annotations

import numpy as np

from ..drawing.kinds.scatter import leaves_of
from ..model import Prop
from ..solids.body import Body
from ..tolerances import SAME_NUMBER

#: Points, normals, places in a picture, and faces.
Part = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]


def leaf_parts(body: Body, prop: Prop) -> dict[int, list[Part]]:
    """By the number of their tone."""
    found: dict[int, list[Part]] = {}
    for tone, points in leaves_of(body, prop):
        count = len(points)
        faces = np.column_stack([np.zeros(count - 2, dtype=int), np.arange(1, count - 1), np.arange(2, count)])
        way = np.cross(points[count // 2] - points[0], points[-2] - points[0])
        way = way * np.sign(way[2] or 1.0) / max(float(np.linalg.norm(way)), SAME_NUMBER)
        found.setdefault(tone, []).append((points, np.tile(way, (count, 1)), np.zeros((count, 2)), faces))
    return found
