"""Whether a thin thing goes on past the end of its outline: both its sides do, where a highlight ends on a handle and not the handle."""

from __future__ import annotations

import cv2
import numpy as np
import shapely

from .dark_sides import ring_of
from .edge_support import EdgePicture, asked

#: An end is no wider than this, mm, and than this share of the length; its sides are told by the places so far back from it, mm, as many as
#: this, which are straight within so much, mm.
_WIDEST_MM, _SLENDER, _BACK_MM, _LEAST, _STRAIGHT_MM = 30.0, 0.25, (3.0, 25.0), 6, 0.6
#: Past the end an edge is looked for so far, mm, in steps over so much; so much of it, so near to the side's line, in a line so straight,
#: mm, and it runs on.
_PAST_MM, _DEEP_MM, _SEEN, _ON_MM, _LINE_MM = (2.0, 9.0), 1.0, 0.55, 1.4, 0.2


def runs_past_an_end(outline: shapely.Polygon, picture: EdgePicture) -> bool:
    """Whether edges run on straight past both sides of one of its narrow ends."""
    (_, (a, b), angle) = cv2.minAreaRect(np.array(outline.exterior.coords, dtype=np.float32))
    turn = np.radians(angle if a >= b else angle + 90)
    places, _ = ring_of(outline)
    way = np.array([np.cos(turn), np.sin(turn)])
    return any(_runs_on(places, sign * way, max(a, b), picture) for sign in (1, -1))


def _runs_on(places: np.ndarray, way: np.ndarray, length: float, picture: EdgePicture) -> bool:
    out = np.array([-way[1], way[0]])
    ahead, aside = places @ way, places @ out
    end = float(ahead.max())
    back = (ahead < end - _BACK_MM[0]) & (ahead > end - _BACK_MM[1])
    if not back.any() or np.ptp(aside[back]) > min(_WIDEST_MM, _SLENDER * length):
        return False
    middle = float(aside[back].min() + aside[back].max()) / 2
    past = end + np.linspace(*_PAST_MM, 8)
    for sign in (1, -1):
        side = back & (sign * (aside - middle) > 0)
        if side.sum() < _LEAST:
            return False
        slope, at = np.polyfit(ahead[side], aside[side], 1)
        if float(np.std(aside[side] - slope * ahead[side] - at)) > _STRAIGHT_MM:
            return False
        line = past[:, None] * way + (slope * past + at)[:, None] * out
        outward = sign * (out - slope * way) / np.hypot(1.0, slope)
        looked = asked(picture, line, np.tile(outward, (len(line), 1)), _ON_MM, _DEEP_MM)
        if float(looked.plain.mean()) < _SEEN or float(np.std(looked.offset)) > _LINE_MM:
            return False
    return True
