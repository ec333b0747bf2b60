"""What a print is on: a plain thing of the ground's own colour, a card, of which nothing is told from the ground but what is printed on it."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
import shapely

from ..tolerances import LEAST_LIGHT
from .edge_support import EdgePicture
from .look import Look, share
from .smooth_light import linear
from .solid_edges import SolidSeen
from .solids_chosen import COVERED

#: Nearly all of a print lies on its card, which is so many times as large at the least.
_HELD, _LARGER = 0.97, 1.2
#: A card differs so far inside its edge from what lies so far outside, mm, by so many levels of 255 in a channel, along so much of its
#: edge: the joints round a tile have the same on both sides.
_INSIDE_MM, _OUTSIDE_MM, _LEVELS, _MOSTLY = 3.0, 6.0, 7.0, 0.7
#: Of what is not printed, so far from what is, mm, more than this share is of one colour, within so much, log.
_AROUND_PRINT_MM, _MOST, _ONE_COLOUR = 2.0, 0.8, 0.12


def card_under(printed: shapely.Polygon, solids: Sequence[SolidSeen], look: Look, picture: EdgePicture) -> SolidSeen | None:
    """The rectangle whose edges are seen best round what was taken for a thing, and which is not told from the ground itself; None where
    there is none."""
    cards = [
        s
        for s in solids
        if s.kind == "rectangle"
        and s.silhouette.area > _LARGER * printed.area
        and share(printed, s.silhouette) > _HELD
        and look.covered(s.silhouette) < COVERED
        and _is_of_one_colour(s, look)
        and _ends_in_steps(s, picture)
    ]
    return max(cards, key=lambda s: s.seen, default=None)


def _is_of_one_colour(card: SolidSeen, look: Look) -> bool:
    """Whether all of it that is not told from the ground is: a table's checks go round rectangles too."""
    flat = look.flat
    side = int(2 * _AROUND_PRINT_MM * flat.per_mm) | 1
    printed = cv2.dilate(look.told.astype(np.uint8), np.ones((side, side), np.uint8)) > 0
    rest = flat.rgb[flat.inside(card.silhouette.buffer(-_AROUND_PRINT_MM)) & ~printed]
    if not len(rest):
        return False
    light = np.log(np.maximum(linear(rest[None])[0], LEAST_LIGHT))
    return bool((np.abs(light - np.median(light, axis=0)).max(axis=1) < _ONE_COLOUR).mean() > _MOST)


def _ends_in_steps(card: SolidSeen, picture: EdgePicture) -> bool:
    curve = card.curves.silhouette
    places = [curve.places + by * curve.outward for by in (-_INSIDE_MM, _OUTSIDE_MM)]
    inside, outside = (picture.flat.value_at(picture.levels, at) for at in places)
    return bool((np.abs(inside - outside).max(axis=1) > _LEVELS).mean() > _MOSTLY)
