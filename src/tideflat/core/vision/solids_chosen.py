"""Which of several solids in one place is the thing: the largest that is well seen and is not a smaller one with its shadow."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LEAST_LIGHT
from .edge_doubts import FOLLOWS_SHEET, HARDLY_DIFFERS, SHADOW_TAKEN
from .edge_support import EdgePicture
from .look import Look, share
from .pulled_in import side_follows_sheet
from .running_on import goes_on_to, has_pointed_ends, runs_on
from .smallest_rectangle import least_sides
from .solid_edges import SolidSeen

#: Of a solid, so much of what it covers is told from the ground.
COVERED = 0.5
#: A solid this much less seen than another within it, or round it, gives way to it; where it is by so much more, either may be the thing.
_LESS_SEEN, _HARDLY_LESS = 0.06, 0.03
#: What is the thing without its shadow has a top whose outline is less seen by no more than this.
_TOP_LESS = 0.3
#: Of a smaller solid's outline so much runs along the larger's where the rest is its shadow; a shadow leaves less of the light than this;
#: is so much less strange than the thing, or so dark that nothing is told.
_ALONG, _SHADED, LESS_STRANGE, BLACK = 0.3, 0.78, 0.55, 0.3
#: What is darker than this by a shadow is no stranger (log) to its ground than that, whatever casts it: a red stripe is.
_OF_SHADE = ((BLACK, 0.8), (0.5, 0.25))
#: What leaves less of the light than this is all but black; beside it any light's shadow is no stranger than the next, log.
_ALL_BUT_BLACK, _TINT = 0.12, 0.5
#: Half of a shadow's width is no more than so many times the height of what throws it, and so much, mm, for heights are told roughly.
_REACHES, _REACHES_MM = 2.0, 4.0
#: Beside a solid seen as well, within this, what leaves less of the light than this and is less than this share as strange may be a shadow
#: tinted by another light, if it alters a size by so much, mm.
_AS_SEEN, _HARDLY_SHADED, _TINTED, _OPEN_MM = 0.03, 0.85, 0.75, 2.0
#: As dark as another is what leaves as much of the light, within this (log).
_AS_DARK = 0.2
#: A solid of which so much is seen is sure of its outline.
SURE = 0.84
#: It is sure too where its top's outline is seen so well, and its silhouette so: the foot of a side in shadow is not seen; or its
#: silhouette so well, and its top's outline so: black on black has no edge.
_TOP_WELL, _OUTER_THEN, _OUTER_WELL, _TOP_THEN = 0.86, 0.68, 0.86, 0.45
#: What is sure by one of them alone is in doubt where less than this share of it is told from the ground: a board's notch in shadow.
_TOLD_THEN = 0.65
#: So much of a smaller solid lies within a larger that may be it and its shadow.
_HELD = 0.9
#: What a larger one has more is nothing where it is narrower than this, mm, and its edge's blur.
_NARROW_MM = 0.8
#: Sizes so far apart, mm, are two answers.
_APART_MM = 1.5
#: A rectangle that another's sides run on to is seen so well at the least.
_CONTINUED = 0.75
#: A side is seen as wide as this, mm, to be told by its colour; it is ground that has so much of the light, is no stranger (log), and of
#: which no more than this is told from the ground.
_SIDE_MM, _IN_LIGHT, _OF_GROUND, _HARDLY_COVERED = 2.0, (0.93, 1.1), 0.1, 0.1
#: Of two solids in the same place, the plainer is taken where it is less seen by no more than this.
_ORDER, _PLAINER = ("disc", "ball", "rectangle", "taper", "oval"), 0.04


def chosen(solids: list[SolidSeen], look: Look, picture: EdgePicture, height_mm: float) -> tuple[SolidSeen | None, list[str]]:
    """The largest that is well seen and is not a smaller one with its shadow; and doubts of it. height_mm: of each of them."""
    if not solids:
        return None, []
    solids = [s for s in solids if not _has_ground_for_a_side(s, look)] or solids
    best = max(s.seen for s in solids)
    good = sorted((s for s in solids if s.seen >= best - 0.15), key=lambda s: -s.silhouette.area)
    given_up = 0.0  # how much of the plainest was seen: by many small steps too none gives way to what is far less seen
    for k, one in enumerate(good):
        rivals = [s for s in good[k + 1 :] if s.silhouette.area > 0.25 * one.silhouette.area and _holds(one, s)]
        least = max(one.seen, given_up) - _LESS_SEEN
        shaded = [
            s
            for s in rivals
            if s.seen >= least - _HARDLY_LESS
            and _has_its_top(s, one)
            and _is_beside_the_point(one, s, look, height_mm)
            and not _ends_too_soon(s, one, look, picture)
        ]
        if any(s.seen >= least for s in shaded):
            given_up = max(given_up, one.seen)
            continue
        if any(
            s.seen > one.seen + _LESS_SEEN and share(s.silhouette, one.silhouette) > 0.8 and s.silhouette.area > 0.7 * one.silhouette.area
            for s in good
        ):
            continue
        is_open = any(_is_another_size(s, one) for s in shaded) or any(
            s.seen >= one.seen - _AS_SEEN
            and _has_its_top(s, one)
            and _may_be_shaded(one, s, look, height_mm)
            and not _ends_too_soon(s, one, look, picture)
            for s in rivals
        )
        one = _plainest([s for s in good if s.seen >= one.seen - _PLAINER and _same_place(s, one)] or [one])
        one = _where_it_ends(one, solids, look, picture, height_mm)
        return one, [*_doubts(one, look, picture), *([SHADOW_TAKEN] if is_open else [])]
    return good[-1], _doubts(good[-1], look, picture)


def _has_ground_for_a_side(one: SolidSeen, look: Look) -> bool:
    """Whether what a box would show of its sides is the ground in full light: its top's edge is all of its silhouette's then, and it is no box
    of that height in that place."""
    if one.kind != "rectangle" or one.curves.top is None:
        return False
    side = one.silhouette.difference(shapely.Polygon(one.curves.top.places).buffer(0.6))
    if side.buffer(-_SIDE_MM / 2).is_empty:
        return False
    return is_ground_in_light(side, look) and look.covered(side) < _HARDLY_COVERED


def is_ground_in_light(place: BaseGeometry, look: Look) -> bool:
    """Whether a place has the ground's own colour, and no shadow on it."""
    left, off = look.light(place)
    return _IN_LIGHT[0] < left < _IN_LIGHT[1] and off < _OF_GROUND


def _where_it_ends(one: SolidSeen, solids: list[SolidSeen], look: Look, picture: EdgePicture, height_mm: float) -> SolidSeen:
    """The same, or, where its sides run on, the rectangle that they run on to: of a cloth whose last stripe is as pale as the table. Not
    where what that has more is a shadow."""
    if one.kind != "rectangle" or not runs_on(one, picture):
        return one
    for other in sorted((s for s in solids if goes_on_to(one, s, picture)), key=lambda s: -s.seen):
        rest = other.silhouette.difference(one.silhouette.buffer(0.6))
        if other.seen >= _CONTINUED and not _is_shade(rest, one.silhouette, look, height_mm) and not runs_on(other, picture):
            # what its last side lacks, pale on pale, is told by where the two others end
            return replace(other, seen=max(other.seen, SURE))
    return one


def _ends_too_soon(smaller: SolidSeen, larger: SolidSeen, look: Look, picture: EdgePicture) -> bool:
    """Whether the sides of a smaller rectangle go on past it to where those of the larger end, and it is less seen than that, or what it
    leaves out is as dark as it is itself: more of the thing, and no shadow."""
    if (smaller.kind, larger.kind) != ("rectangle", "rectangle"):
        return False
    if smaller.seen >= larger.seen - _AS_SEEN:
        rest = larger.silhouette.difference(smaller.silhouette.buffer(0.6))
        left, own = (look.light(place)[0] for place in look.on_its_ground(rest, smaller.silhouette))
        if abs(np.log(max(left, LEAST_LIGHT) / max(own, LEAST_LIGHT))) >= _AS_DARK:
            return False
    return runs_on(smaller, picture) and not runs_on(larger, picture)


def _has_its_top(smaller: SolidSeen, larger: SolidSeen) -> bool:
    """Whether the outline of its top is seen as well as the larger one's: a thing has one, its shadow none."""
    return smaller.top_seen >= larger.top_seen - _TOP_LESS


def _plainest(alike: list[SolidSeen]) -> SolidSeen:
    """Of one kind that of which both are seen best, its top and its silhouette: the edge of its shadow may pass for one of them."""
    return min(alike, key=lambda s: (_ORDER.index(s.kind), -s.top_seen - s.outer_seen))


def _same_place(one: SolidSeen, other: SolidSeen) -> bool:
    return bool(np.abs(np.array(one.silhouette.bounds) - np.array(other.silhouette.bounds)).max() < _APART_MM)


def _holds(larger: SolidSeen, smaller: SolidSeen) -> bool:
    """Whether nearly all of the smaller one lies within the larger: one side may be told better by either."""
    return share(smaller.silhouette, larger.silhouette) > _HELD


def _is_beside_the_point(larger: SolidSeen, smaller: SolidSeen, look: Look, height_mm: float) -> bool:
    """Whether what a larger solid has beside a smaller one is ground, or shadow."""
    rest = larger.silhouette.difference(smaller.silhouette.buffer(0.6))
    if rest.buffer(-_NARROW_MM / 2).is_empty:
        return False
    if look.covered(smaller.silhouette) > 0.6 and look.covered(rest) < COVERED:
        return True
    if (larger.kind, smaller.kind) == ("disc", "taper"):
        return False  # what a taper leaves is the disc's side, which ends where a disc's must
    edge = smaller.silhouette.exterior
    along = edge.intersection(larger.silhouette.exterior.buffer(1.2)).length / edge.length
    return bool(along >= _ALONG) and _is_shade(rest, smaller.silhouette, look, height_mm)


def _may_be_shaded(larger: SolidSeen, smaller: SolidSeen, look: Look, height_mm: float) -> bool:
    """Whether what a larger solid has beside a smaller one, along one side, may be a shadow tinted by another light."""
    if (larger.kind, smaller.kind) != ("rectangle", "rectangle"):
        return False  # a round thing's shadow makes it no round thing
    if not _is_another_size(larger, smaller):
        return False  # either would do
    rest = larger.silhouette.difference(smaller.silhouette.buffer(0.6))
    edge = smaller.silhouette.exterior
    is_along = edge.intersection(larger.silhouette.exterior.buffer(1.2)).length >= _ALONG * edge.length
    if not is_along or rest.buffer(-_NARROW_MM / 2).is_empty or not may_be_shadow(rest, height_mm):
        return False
    rest, thing = look.on_its_ground(rest, smaller.silhouette.buffer(-1.0))
    left, off = look.light(rest)
    return left < _HARDLY_SHADED and off < _TINTED * look.strangest(thing)


def _is_another_size(one: SolidSeen, other: SolidSeen) -> bool:
    sizes = [least_sides(shapely.get_coordinates(s.footprint.exterior)) for s in (one, other)]
    return max(abs(a - b) for a, b in zip(*sizes, strict=True)) >= _OPEN_MM


def may_be_shadow(place: BaseGeometry, height_mm: float) -> bool:
    """Whether a place is no wider than the shadow that what is so high throws in light from 14 degrees up."""
    return bool(place.buffer(-(_REACHES * height_mm + _REACHES_MM)).is_empty)


def _is_shade(rest: BaseGeometry, thing: shapely.Polygon, look: Look, height_mm: float) -> bool:
    if not may_be_shadow(rest, height_mm):
        return False
    rest, own_place = look.on_its_ground(rest, thing.buffer(-1.0))
    left, off = look.light(rest)
    own = look.strangest(own_place)
    most = max((off for least, off in _OF_SHADE if left < least), default=0.0)
    if look.light(own_place)[0] < _ALL_BUT_BLACK:  # what is so dark is hardly strange to anything: its colour tells nothing of a shadow's
        most = max(most, _TINT)
    return left < _SHADED and off < max(LESS_STRANGE * own, most)


def is_surely_seen(one: SolidSeen) -> bool:
    """Whether so much of its edges is seen that it is sure of its outline."""
    by_top = one.top_seen >= _TOP_WELL and one.outer_seen >= _OUTER_THEN
    return one.seen >= SURE or by_top or (one.outer_seen >= _OUTER_WELL and one.top_seen >= _TOP_THEN)


def _follows_sheet(one: SolidSeen, look: Look) -> bool:
    """Whether a side of a rectangle is the sheet's own edge: what lies beside it is the table, framed by its own joints."""
    if look.sheet.is_empty:
        return False
    left, near, right, far = look.sheet.bounds
    edge = one.curves.silhouette
    return side_follows_sheet(edge.places, edge.outward, (right - left, far - near))


def _doubts(one: SolidSeen, look: Look, picture: EdgePicture) -> list[str]:
    is_sure = is_surely_seen(one) and (one.seen >= SURE or look.covered(one.silhouette) >= _TOLD_THEN)
    why = [] if is_sure else [HARDLY_DIFFERS]
    if has_pointed_ends(one, picture):
        why.append("its ends lie further out than an oval's; put its outline by hand, or lay it on another ground")
    if one.kind == "rectangle" and _follows_sheet(one, look):
        why.append(FOLLOWS_SHEET)
    if one.kind == "rectangle" and runs_on(one, picture):
        why.append("its edges run on past what was taken; put its outline by hand, or lay it on another ground")
    return why
