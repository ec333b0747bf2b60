"""An outline that is in doubt, told again: by the colours within it, and drawn in where it runs along a shadow."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from .edge_doubts import EdgeSeen, Shade, edge_seen
from .edge_support import edge_picture
from .graph_cut import cut_again
from .peeled import hangs_on, longest_shadow_mm
from .pointed import pointed
from .pulled_in import own_share, pulled_in
from .rectified import Flat
from .sharpened import finely, sharpened, without_spikes
from .sheet import FoundSheet
from .smooth_light import lightness

#: What comes so near to the border of its picture, mm, may go on past it: it is looked at again in one that goes further by so much, mm, so
#: many times.
_BORDER_MM, _WIDER_MM, _WIDENED = 3.0, 30.0, 4
#: What may hang on a thing is asked about where it is more than this share of it.
HARDLY = 0.015
#: An outline that is drawn in is the thing's where so much more of its edge is its own.
_BETTER = 0.02
#: What has less than this share of the thing's light may be its shadow.
_DARKER = 0.6
#: What leaves more than this of the light, and is so strange to its ground (log), is no shadow: it is not lost.
_IN_LIGHT, _STRANGE = 0.92, 0.3


def told_again(
    outline: shapely.Polygon,
    edge: EdgeSeen,
    fine: Flat,
    shade: Shade,
    rgb: np.ndarray,
    found: FoundSheet,
    height_mm: float,
    *,
    is_open: bool,
) -> tuple[shapely.Polygon, EdgeSeen, bool, Flat]:
    """An outline that is in doubt, by the colours within it; then drawn in where it still runs along a shadow. Each is taken where more of
    its edge is its own. Whether it is still open if a shadow was taken for a part of it; and the picture, which may have had to be
    larger."""
    most = longest_shadow_mm(height_mm)
    again, wider = _cut_whole(outline, fine, rgb, found)
    ways: list[Callable[[shapely.Polygon, EdgeSeen], shapely.Polygon | None]] = [lambda was, seen: again]
    picture = edge_picture(wider)
    ways += 2 * [lambda was, seen: pulled_in(was, seen, picture, most, found.size_mm)]  # what wavered is nearly straight the second time
    asked = None
    for way in ways:
        if asked == (way, outline):
            continue  # it would say the same
        asked = way, outline
        told = way(outline, edge)
        if told is None or told is outline:
            continue
        told = pointed(without_spikes(sharpened(sharpened(told, wider), wider)), wider)
        more = told.difference(outline.buffer(0.5)).buffer(-0.3)
        if more.area > HARDLY * outline.area and _is_darker(more, outline, wider) and hangs_on(more, told, height_mm):
            continue  # a hard shadow has an edge too
        less = outline.difference(told.buffer(0.5)).buffer(-0.3)
        if less.area > HARDLY * outline.area and _is_a_side(less, told, shade):
            continue  # its own side, of another colour than its top
        seen = edge_seen(told, wider, shade)
        if own_share(seen, found.size_mm) > own_share(edge, found.size_mm) + _BETTER:
            outline, edge, is_open = told, seen, False
    return outline, edge, is_open, wider


def _cut_whole(outline: shapely.Polygon, fine: Flat, rgb: np.ndarray, found: FoundSheet) -> tuple[shapely.Polygon | None, Flat]:
    """The outline cut again, and the picture that holds all of it: what goes on to the border of one is looked at in a larger."""
    again = cut_again(outline, fine)
    for _ in range(_WIDENED):
        if again is None or not _reaches_border(again, fine):
            break
        grown = shapely.union_all([outline, again]).convex_hull.buffer(_WIDER_MM)
        fine = finely(rgb, found, grown.bounds)
        again = cut_again(again, fine) or again
    return again, fine


def _reaches_border(outline: shapely.Polygon, flat: Flat) -> bool:
    h, w = flat.known.shape
    x0, y0, x1, y1 = outline.bounds
    right, near = flat.left + w / flat.per_mm, flat.far - h / flat.per_mm
    return min(x0 - flat.left, right - x1, flat.far - y1, y0 - near) < _BORDER_MM


def _is_a_side(region: BaseGeometry, thing: shapely.Polygon, shade: Shade) -> bool:
    """Whether what an outline would lose is neither the ground nor a shadow on it, and darker than the thing, as its sides are."""
    known = np.isfinite(shade.off)
    there, own = shade.flat.inside(region) & known, shade.flat.inside(thing) & known
    if not there.any() or not own.any():
        return False
    left = np.median(shade.left[there])
    return bool(_IN_LIGHT < left < np.median(shade.left[own]) and np.median(shade.off[there]) > _STRANGE)


def _is_darker(region: BaseGeometry, thing: shapely.Polygon, fine: Flat) -> bool:
    light = lightness(fine.rgb)
    there, own = light[fine.inside(region)], light[fine.inside(thing)]
    return min(len(there), len(own)) > 0 and float(np.median(there)) < _DARKER * float(np.median(own))
