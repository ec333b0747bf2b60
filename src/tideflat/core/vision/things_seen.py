"""What lies on and beside the sheet: of every plain solid whose edges are seen, and every region that is not the ground, what is a thing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..errors import FieldError
from .another_shape import LEFT_OVER, WHOLE, beside, covers_ground, has_stranger_beside, is_more
from .clear_solids import clear_solid, is_straight_from_rim_to_foot
from .edge_doubts import CLEAR, GOES_ON, HARDLY_DIFFERS, SHADOW_TAKEN
from .edge_support import EdgePicture
from .first_look import MOST_OF_SHEET, ROUND_MM, ROUND_SEEN, first_look
from .grounds_own import SMALL_MM2, comes_in, is_speck, is_strange, is_the_grounds, shows_its_pattern
from .look import Look, share
from .more_beside import NEAR_MM, goes_on_in, has_black_beside
from .outlined import Begun, FreeOutline, begun_outline, free_outline, parts_of, touches_border
from .printed import card_under
from .rectified import Flat
from .shadow_shown import shadows_of
from .sheet import FoundSheet
from .solid_edges import SolidSeen
from .solids_chosen import BLACK, SURE, chosen, is_surely_seen, may_be_shadow

#: So many parts of the mask may be things, of which a cloth's stripes take one each.
_MOST_PARTS = 12
#: What lies so near, mm, may hang together.
_TOUCHES_MM = 3.0
#: Two of which no more than this share is one place lie beside each other; of which more than the next, one upon the other; of which more
#: than the last, one is a piece of the other.
_APART, _UPON, _WITHIN = 0.05, 0.1, 0.3
#: What is no higher than this, mm, may be a card that something is printed on.
_CARD_MM = 3.0
PRINTED = "what was taken may lie or be printed on something larger; put its outline by hand if that is what you measure"
#: Lower than this, mm, nothing is looked for as a glass where something else is in doubt; its circles are seen along so much of them then.
#: Seen so, and straight from rim to foot, it is sure: of 290 photographs twelve things were so found, all right to 0.7 mm.
_CLEAR_HIGH_MM, _PLAINLY_CLEAR = 25.0, 0.5
#: An outline of which less than this is plainly its own, or that is small, stays in doubt when it is told again, which takes long: of 26 of
#: the former in 310 photographs none was cleared, of some forty of the latter two. Each showed one thing, so that none of these was one: of
#: small things that lie beside others nothing is known.
_HARDLY_OWN = 0.5
_REACHING = "it reaches the edge of what the picture shows"


@dataclass(frozen=True, eq=False)
class ThingSeen:
    """silhouette: on the sheet's plane, mm; foot: what it covers of it from above; solid: the plain solid that it is, None of another
    shape; doubts: reasons to look again; is_found: not put by hand; own: share of its edge that is plainly its own; shadow: on the
    sheet's plane, what was taken for its shadow."""

    silhouette: shapely.Polygon
    foot: shapely.Polygon
    solid: SolidSeen | None
    doubts: tuple[str, ...]
    is_found: bool = True
    own: float = 1.0
    shadow: tuple[shapely.Polygon, ...] = ()


@dataclass(frozen=True, eq=False)
class _Scene:
    """What every part of the mask is told by. solids: those that may be things; no_larger: of all that are seen, those that are no larger
    than a thing is, most_mm2."""

    rgb: np.ndarray
    found: FoundSheet
    height_mm: float
    look: Look
    picture: EdgePicture
    solids: list[SolidSeen]
    no_larger: list[SolidSeen]
    most_mm2: float


def things_seen(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], height_mm: float) -> list[ThingSeen]:
    """The things within ``box`` mm, the largest first. height_mm: of each of them. Raises FieldError (``thing``) where there is none."""
    first = first_look(rgb, found, box, height_mm)
    look, picture, flat = first.look, first.picture, first.look.flat
    most = MOST_OF_SHEET * found.size_mm[0] * found.size_mm[1]
    no_larger = [s for s in first.every if s.silhouette.area <= most]
    scene = _Scene(rgb, found, height_mm, look, picture, first.solids, no_larger, most)
    things, dropped = _told(parts_of(look.ground.mask, flat), scene)
    if not things and (round_ := [s for s in first.every if s.kind != "rectangle" and s.values[2] >= ROUND_MM]):
        things.append(ThingSeen(round_[0].silhouette, round_[0].footprint, round_[0], (HARDLY_DIFFERS,)))
    things = _or_clear(_but_coming_in(things, flat), rgb, found, box, picture, height_mm)
    strange = things[:1] + [kept for t in things[1:] if (kept := _or_in_doubt(t, look)) is not None]
    things = _but_coming_in(strange, flat)
    if not things:
        raise FieldError("thing", "must differ plainly from paper and table; nothing was found on or beside the sheet", show_got=False)
    things = [t if not touches_border(t.silhouette, flat) else replace(t, doubts=(*t.doubts, _REACHING)) for t in things]
    things = [t if not has_black_beside(t.silhouette, look) else replace(t, doubts=(*t.doubts, GOES_ON)) for t in things]
    things = [t if t.doubts or not shows_its_pattern(t.silhouette, look) else replace(t, doubts=(SHADOW_TAKEN,)) for t in things]
    things = [t if t.doubts or not goes_on_in(dropped, t.silhouette, height_mm) else replace(t, doubts=(GOES_ON,)) for t in things]
    things = [t if t.doubts or not _meets_one_in_doubt(t, things) else replace(t, doubts=(GOES_ON,)) for t in things]
    things = sorted(things, key=lambda t: -t.silhouette.area)
    shadows = shadows_of(look, [t.silhouette for t in things], height_mm)
    return [replace(t, shadow=shadow) for t, shadow in zip(things, shadows, strict=True)]


def flat_solids(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float]) -> list[SolidSeen]:
    """What looks like something flat, of a plain shape, within ``box`` mm: tops of whatever height, as they are seen on the sheet's plane."""
    return first_look(rgb, found, box, 0.0).solids


def _told(parts: list[shapely.Polygon], scene: _Scene) -> tuple[list[ThingSeen], list[shapely.Polygon]]:
    """(things, what was dropped as the ground's), of the parts of a mask, the largest first, and of what nothing but its edge tells."""
    rounds = [s for s in scene.solids if s.kind != "rectangle" and s.seen >= ROUND_SEEN]
    # before its shadow, which would be a thing by itself
    things = _of_edges_alone([s for s in rounds if _is_largest_there(s, parts)], [], scene)
    of_edges, dropped = len(things), list[shapely.Polygon]()
    for part in parts[:_MOST_PARTS]:
        hung_on = range(of_edges if is_strange(part, scene.look) else 0, len(things))  # what is strange hangs on none of the first
        if (known := _first_it_is_of(part, things, hung_on, scene)) is not None:
            things[known] = _or_goes_on(things[known], part, scene.look)
            continue
        there = [s for s in scene.solids if share(part, s.silhouette) > _WITHIN]
        beside_known = [s for s in there if not any(share(s.silhouette, t.silhouette) > _UPON for t in things)]
        if there and not beside_known:
            continue
        told = _told_by_itself(part, beside_known, scene, is_first=not things)
        if isinstance(told, ThingSeen):
            things.append(told)
        else:
            dropped.append(told)
    return _of_edges_alone(rounds, things, scene), dropped


def _first_it_is_of(part: shapely.Polygon, things: list[ThingSeen], hung_on: Iterable[int], scene: _Scene) -> int | None:
    """Which of the things a part is a piece of, or, of those that it may hang on, hangs on, as their shadow does; None of none."""
    hangs = [n for n in hung_on if _hangs_about(part, things[n], scene.look, scene.height_mm)]
    return min([*hangs, *(n for n, t in enumerate(things) if share(part, t.silhouette) > _WITHIN)], default=None)


def _or_goes_on(thing: ThingSeen, part: shapely.Polygon, look: Look) -> ThingSeen:
    """In doubt where the part beside it is of its colour, and it is no solid that is seen whole."""
    is_whole = thing.solid is not None and thing.solid.seen >= WHOLE
    if share(part, thing.silhouette) >= _WITHIN or is_whole or not look.is_like(part, thing.silhouette):
        return thing
    return replace(thing, doubts=(*thing.doubts, GOES_ON))


def _told_by_itself(part: shapely.Polygon, solids: list[SolidSeen], scene: _Scene, *, is_first: bool) -> ThingSeen | shapely.Polygon:
    """The thing that a part shows, by one of the solids there or by its outline; or an outline, which is the ground's. is_first: no other
    is known."""
    look, picture, height_mm = scene.look, scene.picture, scene.height_mm
    solid, doubts = chosen(solids, look, picture, height_mm)
    card = card_under(part if solid is None else solid.silhouette, scene.no_larger, look, picture)
    if card is not None and card.seen >= SURE:
        is_plain = height_mm <= _CARD_MM or (solid is None and card.seen >= WHOLE)
        return ThingSeen(card.silhouette, card.footprint, card, () if is_plain else (PRINTED,))
    on_card = () if card is None else (PRINTED,)
    if solid is None:
        if not is_first and is_speck(part, look):
            return part
        begun = begun_outline(part, look.ground, look.flat, scene.rgb, scene.found, height_mm)
        if not is_first and is_the_grounds(begun.outline, float(begun.edge.is_own.mean()), look):
            return begun.outline
        return _of_outline(_outline(part, begun, scene, is_final=is_first or _may_be_cleared(begun)), on_card)
    more = (GOES_ON,) if has_stranger_beside(part, solid, look) else ()
    of_solid = ThingSeen(solid.silhouette, solid.footprint, solid, (*doubts, *more, *on_card))
    is_all = solid.seen >= WHOLE and beside(part, solid).area < LEFT_OVER * solid.silhouette.area
    if is_all and not covers_ground(part, solid, look, picture):
        return of_solid
    begun = begun_outline(part, look.ground, look.flat, scene.rgb, scene.found, height_mm)
    is_asked_first = is_surely_seen(solid) or not is_first  # to tell what is in doubt again takes long
    if is_asked_first and not is_more(_outline(part, begun, scene, is_final=False), solid, look, picture, height_mm):
        return of_solid
    free = _outline(part, begun, scene, is_final=is_first or _may_be_cleared(begun))
    is_other = free.outline.area <= scene.most_mm2 and is_more(free, solid, look, picture, height_mm)
    return _of_outline(free, on_card) if is_other else of_solid


def _outline(part: shapely.Polygon, begun: Begun, scene: _Scene, *, is_final: bool) -> FreeOutline:
    ground, flat = scene.look.ground, scene.look.flat
    return free_outline(part, ground, flat, scene.rgb, scene.found, scene.height_mm, is_final=is_final, begun=begun)


def _of_outline(free: FreeOutline, doubts: tuple[str, ...]) -> ThingSeen:
    return ThingSeen(free.outline, free.foot, None, (*free.doubts, *doubts), own=float(free.edge.is_own.mean()))


def _may_be_cleared(begun: Begun) -> bool:
    """Whether telling an outline again, if it is in doubt, may leave it without one."""
    return not begun.is_in_doubt or (float(begun.edge.is_own.mean()) >= _HARDLY_OWN and begun.outline.area >= SMALL_MM2)


def _of_edges_alone(rounds: list[SolidSeen], things: list[ThingSeen], scene: _Scene) -> list[ThingSeen]:
    """The things, and those of the round solids that lie on none of them: white on white, nothing but its edge tells one."""
    things = list(things)
    for one in rounds:
        if any(share(one.silhouette, t.silhouette) > _APART for t in things):
            continue
        there = [s for s in scene.solids if share(one.silhouette, s.silhouette) > _WITHIN]
        plainest, doubts = chosen(there, scene.look, scene.picture, scene.height_mm)
        if plainest is not None and not any(share(plainest.silhouette, t.silhouette) > _APART for t in things):
            things.append(ThingSeen(plainest.silhouette, plainest.footprint, plainest, tuple(doubts)))
    return things


def _is_largest_there(solid: SolidSeen, parts: list[shapely.Polygon]) -> bool:
    """Whether it lies on no part of what was told from the ground, and those that touch it are smaller."""
    whole = solid.silhouette
    return all(share(p, whole) <= _WITHIN and (p.area < whole.area or p.distance(whole) > _TOUCHES_MM) for p in parts)


def _hangs_about(part: shapely.Polygon, thing: ThingSeen, look: Look, height_mm: float) -> bool:
    """Whether a part touches a thing, or is so dark and narrow, so near it, that it is its shadow."""
    apart = part.distance(thing.silhouette)
    return apart < _TOUCHES_MM or (apart < NEAR_MM and look.light(part)[0] < BLACK and may_be_shadow(part, height_mm))


def _or_clear(
    things: list[ThingSeen],
    rgb: np.ndarray,
    found: FoundSheet,
    box: tuple[float, float, float, float],
    picture: EdgePicture,
    height_mm: float,
) -> list[ThingSeen]:
    """With a clear thing, a glass, in place of what is in doubt about it: of a glass the other ways see what shows through, and its light
    and shadow on the table."""
    stand = [t for t in things if not t.foot.is_empty]
    if stand and (height_mm < _CLEAR_HIGH_MM or not any(t.doubts for t in stand)):
        return things
    clear = clear_solid(rgb, found, box, picture, height_mm)
    if clear is None or (stand and clear.seen < _PLAINLY_CLEAR):
        return things
    kept = [t for t in stand if not t.doubts or t.silhouette.distance(clear.silhouette) > NEAR_MM]
    if any(share(clear.silhouette, t.silhouette) > _UPON for t in kept):
        return things
    is_sure = clear.seen >= _PLAINLY_CLEAR and is_straight_from_rim_to_foot(clear, picture)
    return [ThingSeen(clear.silhouette, clear.footprint, clear, () if is_sure else (CLEAR,)), *kept]


def _but_coming_in(things: list[ThingSeen], flat: Flat) -> list[ThingSeen]:
    """Without what comes in at the picture's edge with no plain edge of its own, which is the table's; all of them where that is all."""
    return [t for t in things if not touches_border(t.silhouette, flat) or comes_in(t.silhouette, t.own, flat)] or things


def _or_in_doubt(thing: ThingSeen, look: Look) -> ThingSeen | None:
    """The same where it is none of the ground's: a plain solid, or strange to it. In doubt where it has an edge of its own all round, or is
    all but black: of the ground's colour, or grey, or a shadow. None where it is the ground's."""
    if thing.solid is not None or is_strange(thing.silhouette, look):
        return thing
    return None if is_the_grounds(thing.silhouette, thing.own, look) else replace(thing, doubts=thing.doubts or (HARDLY_DIFFERS,))


def _meets_one_in_doubt(thing: ThingSeen, things: list[ThingSeen]) -> bool:
    """Whether a rectangle touches what is longer and in doubt: both may be pieces of one thing, as a fork's tines are."""
    if thing.solid is None or thing.solid.kind != "rectangle":
        return False
    longer = [t for t in things if t.doubts and t.silhouette.length > thing.silhouette.length]
    return any(t.silhouette.distance(thing.silhouette) < _TOUCHES_MM for t in longer)
