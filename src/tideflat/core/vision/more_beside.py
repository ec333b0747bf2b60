"""Whether what lies beside a thing, and was taken for its shadow or for the ground, may be more of it."""

from __future__ import annotations

from collections.abc import Iterable

import cv2
import numpy as np
import shapely

from .another_shape import reaches
from .look import Look
from .peeled import longest_shadow_mm

#: A shadow lies no further from its thing than this, mm.
NEAR_MM = 8.0
#: What leaves less than this of the light, and lies closer to a thing than this, mm, may be more of it, if it is more than this share of
#: it.
_NEARLY_BLACK, _CLOSE_MM, _MUCH_BLACK = 0.12, 1.2, 0.4


def goes_on_in(dropped: Iterable[shapely.Polygon], thing: shapely.Polygon, height_mm: float) -> bool:
    """Whether what was dropped as the ground's begins at a thing and reaches further than its shadow: a grey spoon's handle on the paper."""
    longest = longest_shadow_mm(height_mm)
    return any(one.distance(thing) < NEAR_MM and reaches(one, thing) > longest for one in dropped)


def has_black_beside(thing: shapely.Polygon, look: Look) -> bool:
    """Whether much that is nearly black hangs on it and is no part of it: more of it, as likely as its shadow."""
    flat = look.flat
    black = (look.ground.left < _NEARLY_BLACK) & flat.known
    if not black[flat.within(thing.envelope.buffer(4 * _CLOSE_MM))[0]].any():
        return False  # as nearly always
    dark = (black & ~flat.inside(thing.buffer(_CLOSE_MM))).astype(np.uint8)
    wide = np.ones((max(3, int(2 * _CLOSE_MM * flat.per_mm) | 1),) * 2, np.uint8)
    _, labels = cv2.connectedComponents(cv2.morphologyEx(dark, cv2.MORPH_OPEN, wide))
    touching = np.unique(labels[flat.inside(thing.buffer(3 * _CLOSE_MM))])
    area = float(np.isin(labels, touching[touching > 0]).sum()) / flat.per_mm**2
    return area > _MUCH_BLACK * thing.area
