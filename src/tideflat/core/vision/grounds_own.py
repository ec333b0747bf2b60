"""Whether what was taken for a thing is the ground's own: a knot, a speck of its colours, a shadow, the table's corner in other light."""

from __future__ import annotations

import cv2
import numpy as np
import shapely

from ..tolerances import LEAST_LIGHT
from .look import Look
from .rectified import Flat
from .smooth_light import lightness
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
#: What lies so far within an outline, mm, shows the table's pattern where its light differs by so much, log, over the most of it, and by
#: less than this share of that from what the table's colours have there.
_WITHIN_MM, _PATTERNED, _ALIKE, _MOST_OF_IT = 2.0, 0.5, 0.75, (15, 85)


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


def shows_its_pattern(outline: shapely.Polygon, look: Look) -> bool:
    """Whether what is told by nothing but its darkness shows the table's checks or tiles: it is a shadow, or a glass's. A thing of its own
    is of one light there, or of other colours."""
    where, inside = look.flat.within(outline.buffer(-_WITHIN_MM).difference(look.sheet))
    off = look.ground.off[where][inside]
    if not np.isfinite(off).any() or float(np.median(off[np.isfinite(off)])) > look.ground.least_off:
        return False
    seen = (lightness(look.flat.rgb[where])[inside], look.ground.left[where][inside])
    by_itself, against = (float(np.ptp(np.percentile(np.log(np.maximum(light, LEAST_LIGHT)), _MOST_OF_IT))) for light in seen)
    return by_itself > _PATTERNED and against < _ALIKE * by_itself


def comes_in(outline: shapely.Polygon, own: float, flat: Flat) -> bool:
    """Whether what reaches the border of the picture is a thing that is cut off: plainly edged, and little of it along the border."""
    places = shapely.get_coordinates(shapely.segmentize(outline.exterior, 2.0))
    within = cv2.erode(np.pad(flat.known, 1).astype(np.uint8), np.ones((9, 9), np.uint8))[1:-1, 1:-1].astype(bool)
    at = np.rint(flat.pixels(places) - 0.5).astype(int)
    inside = (at >= 0).all(axis=1) & (at < [within.shape[1], within.shape[0]]).all(axis=1)
    at = np.clip(at, 0, [within.shape[1] - 1, within.shape[0] - 1])
    along = float((~inside | ~within[at[:, 1], at[:, 0]]).mean())
    return own >= _PLAIN_EDGE and along <= _MOSTLY_CUT
