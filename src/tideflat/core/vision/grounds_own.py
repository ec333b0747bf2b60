"""Whether what was taken for a thing is the ground's own: a knot, a speck of its colours, a shadow, the table's corner in other light."""

from __future__ import annotations

import cv2
import numpy as np
import shapely

from .look import Look
from .rectified import Flat
from .solids_chosen import BLACK

#: Smaller than this, mm2, it is as small as a knot or a speck.
SMALL_MM2 = 200.0
#: A thing's outline is plainly its own so far round.
_PLAIN_EDGE = 0.9
#: A thing that is cut off by the picture's border has less of its outline than this along it.
_MOSTLY_CUT = 0.45
#: So strange to the ground, log, or so much brighter, the ground itself is not. What is small and no darker than this is a thing where
#: it is stranger than the next; where colours are noisy, than so many times what is told from their noise, up to the last.
_STRANGE, _BRIGHTER, _DARKER, _LEAST_OF_SPECK, _OVER_NOISE, _MOST_NOISE = 0.2, 1.15, 0.6, 0.3, 1.3, 0.4


def is_strange(outline: shapely.Polygon, look: Look) -> bool:
    """Whether the ground itself is not of such a colour, nor so bright."""
    left, off = look.light(outline)
    return off > _STRANGE or left > _BRIGHTER


def is_speck(part: shapely.Polygon, look: Look) -> bool:
    """Whether it is small, about as light as the ground, and hardly further from the table's colours than they are from each other: a JPEG
    keeps colours in blocks, whose edges are sharp."""
    left, off = look.light(part)
    noise = min(_OVER_NOISE * look.ground.least_off, _MOST_NOISE)
    return part.area < SMALL_MM2 and off <= max(_LEAST_OF_SPECK, noise) and _DARKER < left <= _BRIGHTER


def is_the_grounds(outline: shapely.Polygon, own: float, look: Look) -> bool:
    """Whether it is no stranger to the ground than that is, and either as small as a knot or a speck, or not all but black and without an
    edge of its own all round. own: share of its edge that is."""
    is_plain = own >= _PLAIN_EDGE or look.light(outline)[0] < BLACK
    return not is_strange(outline, look) and not (is_plain and outline.area >= SMALL_MM2)


def comes_in(outline: shapely.Polygon, own: float, flat: Flat) -> bool:
    """Whether what reaches the border of the picture is a thing that is cut off: plainly edged, and little of it along the border."""
    places = shapely.get_coordinates(shapely.segmentize(outline.exterior, 2.0))
    within = cv2.erode(np.pad(flat.known, 1).astype(np.uint8), np.ones((9, 9), np.uint8))[1:-1, 1:-1].astype(bool)
    at = np.rint(flat.pixels(places) - 0.5).astype(int)
    inside = (at >= 0).all(axis=1) & (at < [within.shape[1], within.shape[0]]).all(axis=1)
    at = np.clip(at, 0, [within.shape[1] - 1, within.shape[0] - 1])
    along = float((~inside | ~within[at[:, 1], at[:, 0]]).mean())
    return own >= _PLAIN_EDGE and along <= _MOSTLY_CUT
