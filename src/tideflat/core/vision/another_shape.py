"""Whether a region that was told from the ground is another shape than the solid that was seen there."""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LEAST_LIGHT
from .edge_support import EdgePicture, asked
from .look import Look
from .outlined import FreeOutline
from .peeled import longest_shadow_mm
from .running_on import has_pointed_ends
from .solid_edges import SolidSeen
from .solids_chosen import LESS_STRANGE, is_ground_in_light, is_surely_seen

#: So dark, nothing is told of a place; what has less of the light than the next may lie in shadow.
_DEAD, _IN_LIGHT = 0.12, 0.92
#: Of one stuff are two places whose light differs by less than this, log, and of which one is at least so strange against the other.
_SAME_LIGHT, _SAME_STUFF = 0.35, 0.75
#: Less of an outline than this sharp, and in a colour of its own, is no thing's.
_OWN_EDGE = 0.5
#: What is left of a region beside a solid, as a share of it, from which on the region is another shape than the solid.
LEFT_OVER = 0.10
#: A piece of more than this share of it makes it another shape where its outline is its own so far round, it is as light, and as strange,
#: within this (log), and that is more than a shadow is.
_LEAST_MORE, _PLAIN_EDGE, _AS_STRANGE, _PLAINLY_STRANGE = 0.03, 0.9, 0.2, 0.3
#: What is less strange than this, log, is the ground; a hollow lies by so much of it within an outline's hull.
_UNSTRANGE, _HOLLOW = 0.1, 0.5
#: Of a solid this share is ground in the light where it is another shape, with no edge of its own there.
_COVERED = 0.03
#: A solid's own edge is looked for so far about a piece, mm, at so many places at the least, but for so many at both ends, which see what
#: is beside them; within so many mm, so near to where it should be; where less than this is seen of it the solid ends elsewhere.
_ABOUT_MM, _LEAST, _ENDS, _WINDOW_MM, _NEAR_EDGE_MM, _HARDLY_EDGED = 2.5, 9, 3, 0.9, 0.5, 0.5
#: A solid of which so much is seen goes on nowhere.
WHOLE = 0.95


def beside(outline: shapely.Polygon, solid: SolidSeen) -> BaseGeometry:
    """What an outline has more than a solid, but for slivers."""
    return outline.difference(solid.silhouette.buffer(1.0)).buffer(-0.8)


def covers_ground(outline: shapely.Polygon, solid: SolidSeen, look: Look, picture: EdgePicture) -> bool:
    """Whether a solid covers much of the ground beside an outline, and has no edge there: a board's notch, lit or in shade, not a cloth's pale
    end."""
    lacks = _lacking(outline, solid)
    piece = max(getattr(lacks, "geoms", [lacks]), key=lambda g: g.area, default=lacks)
    if piece.area < _COVERED * solid.silhouette.area or not (is_ground_in_light(piece, look) or _is_hollow_in_shade(piece, outline, look)):
        return False
    edge = solid.curves.silhouette
    is_there = shapely.contains_xy(piece.buffer(_ABOUT_MM), edge.places)
    along = np.flatnonzero(np.roll(is_there, -int(np.argmin(is_there)))) + int(np.argmin(is_there))
    if len(along) < _LEAST:
        return False
    edge = edge.only(along % len(is_there))
    plain = asked(picture, edge.places, edge.outward, _WINDOW_MM).plain_within(_NEAR_EDGE_MM)
    return float(plain[_ENDS:-_ENDS].mean()) < _HARDLY_EDGED


def _is_hollow_in_shade(piece: BaseGeometry, outline: shapely.Polygon, look: Look) -> bool:
    """Whether a place within an outline's hull is nothing but the ground, darker: a thing's own dark side lies out of that."""
    left, off = look.light(piece)
    return left < _IN_LIGHT and off < _UNSTRANGE and piece.intersection(outline.convex_hull).area > _HOLLOW * piece.area


def _lacking(outline: shapely.Polygon, solid: SolidSeen) -> BaseGeometry:
    """What a solid has more than an outline, but for slivers."""
    return solid.silhouette.difference(outline.buffer(1.0)).buffer(-0.8)


def is_more(free: FreeOutline, solid: SolidSeen | None, look: Look, picture: EdgePicture, height_mm: float) -> bool:
    """Whether the region is another shape than the solid: it has more than that and its shadow, or far less."""
    if solid is None:
        return True
    if not is_surely_seen(solid) and not free.doubts:
        return True
    if covers_ground(free.outline, solid, look, picture) or (not free.doubts and has_pointed_ends(solid, picture)):
        return True
    rest = beside(free.outline, solid)
    if not rest.is_empty and reaches(rest, solid.silhouette) > longest_shadow_mm(height_mm):
        return True  # no shadow of it is so long
    if rest.area < LEFT_OVER * solid.silhouette.area:
        if rest.area > _LEAST_MORE * solid.silhouette.area and _is_plainly_of_it(rest, free, solid, look):
            return True
        return bool(_lacking(free.outline, solid).area > LEFT_OVER * solid.silhouette.area) and not is_surely_seen(solid)
    if solid.seen >= WHOLE:
        return look.is_like(max(getattr(rest, "geoms", [rest]), key=lambda g: g.area), solid.silhouette)
    past = ~shapely.contains_xy(solid.silhouette.buffer(2.0), free.edge.places)
    if is_surely_seen(solid) and past.any() and float(free.edge.is_own[past].mean()) < _OWN_EDGE:
        return False  # what it has more has no edge of its own, as light that a thing throws
    beside_it, within = look.on_its_ground(rest, solid.silhouette.buffer(-1.0))
    left, off = look.light(beside_it)
    own_left, own = look.light(within)
    if abs(np.log(max(left, LEAST_LIGHT) / max(own_left, LEAST_LIGHT))) < _SAME_LIGHT and off > _SAME_STUFF * own:
        return True  # of one stuff with it, as a spoon's handle with its bowl
    is_tinted = left < _IN_LIGHT and off < LESS_STRANGE * own
    return not (is_tinted or left < _DEAD)


def has_stranger_beside(outline: shapely.Polygon, solid: SolidSeen, look: Look) -> bool:
    """Whether a rectangle may be a shadow, or mostly that, and what an outline has more is no shadow: of a spoon, beside whose handle a
    lamp's hard shadow lies, that is a plain rectangle."""
    if solid.kind != "rectangle":
        return False
    rest, within = look.on_its_ground(beside(outline, solid), solid.silhouette.buffer(-1.0))
    left, off = look.light(within)
    least = max(_SAME_STUFF * look.strangest(within), _PLAINLY_STRANGE)
    return left < _IN_LIGHT and off < _PLAINLY_STRANGE and look.strange_mm2(rest, least) > LEFT_OVER * solid.silhouette.area


def _is_plainly_of_it(rest: BaseGeometry, free: FreeOutline, solid: SolidSeen, look: Look) -> bool:
    """Whether what an outline has more has an edge of its own all round, and is as light and as strange as the solid: a board's handle."""
    past = ~shapely.contains_xy(solid.silhouette.buffer(2.0), free.edge.places)
    if not past.any() or float(free.edge.is_own[past].mean()) < _PLAIN_EDGE:
        return False
    (left, off), (own_left, own) = (look.light(p) for p in look.on_its_ground(rest, solid.silhouette.buffer(-1.0)))
    is_as_light = abs(np.log(max(left, LEAST_LIGHT) / max(own_left, LEAST_LIGHT))) < _SAME_LIGHT
    return is_as_light and own > _PLAINLY_STRANGE and abs(np.log(max(off, LEAST_LIGHT) / own)) < _AS_STRANGE


def reaches(region: BaseGeometry, thing: shapely.Polygon) -> float:
    """How far from a thing the furthest place of a region lies, mm."""
    return float(shapely.distance(shapely.points(shapely.get_coordinates(region)), thing).max())
