"""What lies on and beside the sheet: of every plain solid whose edges are seen, and every region that is not the ground, what is a thing."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import partial

import cv2
import numpy as np
import shapely

from ..errors import FieldError
from .another_shape import LEFT_OVER, WHOLE, beside, covers_ground, is_more
from .clear_solids import clear_solid, is_straight_from_rim_to_foot
from .edge_doubts import CLEAR, GOES_ON, HARDLY_DIFFERS
from .edge_support import EdgePicture, edge_picture
from .ground import tell_apart
from .look import Look, share
from .more_beside import NEAR_MM, goes_on_in, has_black_beside
from .outlined import Begun, begun_outline, free_outline, parts_of, touches_border
from .printed import card_under
from .rectified import Flat, flatten
from .shadow_shown import shadows_of
from .sheet import FoundSheet
from .solid_edges import SolidSeen
from .solid_starts import Shapes, circles, faces
from .solids_chosen import BLACK, COVERED, SURE, chosen, is_surely_seen, may_be_shadow
from .solids_found import solids_in

#: Pixels a mm, and the most of the long side: of the first look; and of the picture that edges are asked in.
_FIRST_PER_MM, _FIRST_PX, _EDGES_PER_MM = 4.0, 850, 2.2
#: No thing's top is larger than this share of the sheet.
_MOST_OF_SHEET = 0.75
#: Solids are looked for in so many regions; so many of them may be things, of which a cloth's stripes take one each.
_MOST_REGIONS, _MOST_PARTS = 8, 12
#: What lies so near, mm, may hang together.
_TOUCHES_MM = 3.0
#: So far apart, mm, are stripes at the most.
_BETWEEN_MM = 28.0
#: A round solid whose edge is so plain all round, and so large, mm, need not be told from the ground.
_ROUND_SEEN, _ROUND_MM = 0.9, 25.0
#: Two of which no more than this share is one place lie beside each other; of which more than the next, one upon the other; of which more
#: than the last, one is a piece of the other.
_APART, _UPON, _WITHIN = 0.05, 0.1, 0.3
#: What reaches the border of the picture is a thing where so much of its outline is plainly its own.
_PLAIN_EDGE = 0.9
#: A thing that is cut off has less of its outline than this along the border.
_MOSTLY_CUT = 0.45
#: What is no higher than this, mm, may be a card that something is printed on.
_CARD_MM = 3.0
PRINTED = "what was taken may lie or be printed on something larger; put its outline by hand if that is what you measure"
#: Lower than this, mm, nothing is looked for as a glass where something else is in doubt; its circles are seen along so much of them then.
#: Seen so, and straight from rim to foot, it is sure: of 290 photographs twelve things were so found, all right to 0.7 mm.
_CLEAR_HIGH_MM, _PLAINLY_CLEAR = 25.0, 0.5
#: An outline of which less than this is plainly its own, or that is smaller than this, mm2, stays in doubt when it is told again, which
#: takes long: of 26 of the former in 310 photographs none was cleared, of some forty of the latter two. Each showed one thing, so that
#: none of these was one: of small things that lie beside others nothing is known.
_HARDLY_OWN, _SMALL_MM2 = 0.5, 200.0
#: So strange to the ground, log, or so much brighter, the ground itself is not. What is small and no darker than this is a thing where it is
#: stranger than the next, and where colours are noisy by this factor stranger than what is told from their noise, up to the last.
_STRANGE, _BRIGHTER, _DARKER, _LEAST_OF_SPECK, _OVER_NOISE, _MOST_NOISE = 0.2, 1.15, 0.6, 0.3, 1.3, 0.4


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


def things_seen(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], height_mm: float) -> list[ThingSeen]:
    """The things within ``box`` mm, the largest first. height_mm: of each of them. Raises FieldError (``thing``) where there is none."""
    look, picture, every = _looked(rgb, found, box, height_mm)
    flat, parts = look.flat, parts_of(look.ground.mask, look.flat)
    most = _MOST_OF_SHEET * found.size_mm[0] * found.size_mm[1]
    solids, no_larger = [s for s in every if _may_be(s, look)], [s for s in every if s.silhouette.area <= most]
    rounds = [s for s in solids if s.kind != "rectangle" and s.seen >= _ROUND_SEEN]
    # before its shadow, which would be a thing by itself
    things = _of_edges_alone([s for s in rounds if _is_largest_there(s, parts)], [], solids, look, picture, height_mm)
    of_edges, dropped = len(things), list[shapely.Polygon]()
    for part in parts[:_MOST_PARTS]:
        first = of_edges if _is_strange(part, look) else 0  # what is strange hangs on none of those
        hung_on = [k >= first and _hangs_about(part, t, look, height_mm) for k, t in enumerate(things)]
        if near := [k for k, t in enumerate(things) if hung_on[k] or share(part, t.silhouette) > _WITHIN]:
            known = things[near[0]]
            is_whole = known.solid is not None and known.solid.seen >= WHOLE
            if share(part, known.silhouette) < _WITHIN and not is_whole and look.is_like(part, known.silhouette):
                things[near[0]] = replace(known, doubts=(*known.doubts, GOES_ON))
            continue  # a piece of what is known, or its shadow
        there = [s for s in solids if share(part, s.silhouette) > _WITHIN]
        beside_known = [s for s in there if not any(share(s.silhouette, t.silhouette) > _UPON for t in things)]
        if there and not beside_known:
            continue
        solid, doubts = chosen(beside_known, look, picture, height_mm)
        card = card_under(part if solid is None else solid.silhouette, no_larger, look, picture)
        if card is not None and card.seen >= SURE:
            is_plain = height_mm <= _CARD_MM or (solid is None and card.seen >= WHOLE)
            things.append(ThingSeen(card.silhouette, card.footprint, card, () if is_plain else (PRINTED,)))
            continue
        on_card = () if card is None else (PRINTED,)
        free = None
        is_all = solid is not None and solid.seen >= WHOLE and beside(part, solid).area < LEFT_OVER * solid.silhouette.area
        if solid is None or not is_all or covers_ground(part, solid, look, picture):
            if solid is None and things and _is_speck(part, look):
                dropped.append(part)
                continue
            begun = begun_outline(part, look.ground, flat, rgb, found, height_mm)
            if solid is None and things and _is_the_grounds(begun.outline, float(begun.edge.is_own.mean()), look):
                dropped.append(begun.outline)
                continue
            outline = partial(free_outline, part, look.ground, flat, rgb, found, height_mm, begun=begun)
            if solid is not None and (is_surely_seen(solid) or things):
                free = outline(is_final=False)
            if free is None or is_more(free, solid, look, picture, height_mm):
                free = outline(is_final=not things or _may_be_cleared(begun))
        if solid is not None and (free is None or free.outline.area > most or not is_more(free, solid, look, picture, height_mm)):
            things.append(ThingSeen(solid.silhouette, solid.footprint, solid, (*doubts, *on_card)))
        elif free is not None:
            things.append(ThingSeen(free.outline, free.foot, None, (*free.doubts, *on_card), own=float(free.edge.is_own.mean())))
    things = _of_edges_alone(rounds, things, solids, look, picture, height_mm)
    if not things and (round_ := [s for s in every if s.kind != "rectangle" and s.values[2] >= _ROUND_MM]):
        things.append(ThingSeen(round_[0].silhouette, round_[0].footprint, round_[0], (HARDLY_DIFFERS,)))
    things = _or_clear(_but_coming_in(things, flat), rgb, found, box, picture, height_mm)
    strange = things[:1] + [kept for t in things[1:] if (kept := _or_in_doubt(t, look)) is not None]
    things = _but_coming_in(strange, flat)
    if not things:
        raise FieldError("thing", "must differ plainly from paper and table; nothing was found on or beside the sheet", show_got=False)
    reaching = "it reaches the edge of what the picture shows"
    things = [t if not touches_border(t.silhouette, flat) else replace(t, doubts=(*t.doubts, reaching)) for t in things]
    things = [t if not has_black_beside(t.silhouette, look) else replace(t, doubts=(*t.doubts, GOES_ON)) for t in things]
    things = [t if t.doubts or not goes_on_in(dropped, t.silhouette, height_mm) else replace(t, doubts=(GOES_ON,)) for t in things]
    things = [t if t.doubts or not _meets_one_in_doubt(t, things) else replace(t, doubts=(GOES_ON,)) for t in things]
    things = sorted(things, key=lambda t: -t.silhouette.area)
    shadows = shadows_of(look, [t.silhouette for t in things], height_mm)
    return [replace(t, shadow=shadow) for t, shadow in zip(things, shadows, strict=True)]


def _of_edges_alone(
    rounds: list[SolidSeen], things: list[ThingSeen], solids: list[SolidSeen], look: Look, picture: EdgePicture, height_mm: float
) -> list[ThingSeen]:
    """The things, and those of the round solids that lie on none of them: white on white, nothing but its edge tells one."""
    things = list(things)
    for one in rounds:
        if any(share(one.silhouette, t.silhouette) > _APART for t in things):
            continue
        plainest, doubts = chosen([s for s in solids if share(one.silhouette, s.silhouette) > _WITHIN], look, picture, height_mm)
        if plainest is not None and not any(share(plainest.silhouette, t.silhouette) > _APART for t in things):
            things.append(ThingSeen(plainest.silhouette, plainest.footprint, plainest, tuple(doubts)))
    return things


def _is_largest_there(solid: SolidSeen, parts: list[shapely.Polygon]) -> bool:
    """Whether it lies on no part of what was told from the ground, and those that touch it are smaller."""
    whole = solid.silhouette
    return all(share(p, whole) <= _WITHIN and (p.area < whole.area or p.distance(whole) > _TOUCHES_MM) for p in parts)


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


def _meets_one_in_doubt(thing: ThingSeen, things: list[ThingSeen]) -> bool:
    """Whether a rectangle touches what is longer and in doubt: both may be pieces of one thing, as a fork's tines are."""
    if thing.solid is None or thing.solid.kind != "rectangle":
        return False
    longer = [t for t in things if t.doubts and t.silhouette.length > thing.silhouette.length]
    return any(t.silhouette.distance(thing.silhouette) < _TOUCHES_MM for t in longer)


def _but_coming_in(things: list[ThingSeen], flat: Flat) -> list[ThingSeen]:
    """Without what comes in at the picture's edge with no plain edge of its own, which is the table's; all of them where that is all."""
    return [t for t in things if not touches_border(t.silhouette, flat) or _comes_in(t, flat)] or things


def _comes_in(thing: ThingSeen, flat: Flat) -> bool:
    """Whether what reaches the border of the picture is a thing that is cut off: plainly edged, and little of it along the border."""
    ring = thing.silhouette.exterior
    places = shapely.get_coordinates(shapely.segmentize(ring, 2.0))
    within = cv2.erode(np.pad(flat.known, 1).astype(np.uint8), np.ones((9, 9), np.uint8))[1:-1, 1:-1].astype(bool)
    at = np.rint(flat.pixels(places) - 0.5).astype(int)
    inside = (at >= 0).all(axis=1) & (at < [within.shape[1], within.shape[0]]).all(axis=1)
    at = np.clip(at, 0, [within.shape[1] - 1, within.shape[0] - 1])
    along = float((~inside | ~within[at[:, 1], at[:, 0]]).mean())
    return thing.own >= _PLAIN_EDGE and along <= _MOSTLY_CUT


def _hangs_about(part: shapely.Polygon, thing: ThingSeen, look: Look, height_mm: float) -> bool:
    """Whether a part touches a thing, or is so dark and narrow, so near it, that it is its shadow."""
    apart = part.distance(thing.silhouette)
    return apart < _TOUCHES_MM or (apart < NEAR_MM and look.light(part)[0] < BLACK and may_be_shadow(part, height_mm))


def flat_solids(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float]) -> list[SolidSeen]:
    """What looks like something flat, of a plain shape, within ``box`` mm: tops of whatever height, as they are seen on the sheet's plane."""
    look, _, every = _looked(rgb, found, box, 0.0)
    return [s for s in every if _may_be(s, look)]


def _looked(
    rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], height_mm: float
) -> tuple[Look, EdgePicture, list[SolidSeen]]:
    per_mm = min(_FIRST_PER_MM, _FIRST_PX / max(box[2] - box[0], box[3] - box[1]))
    flat = flatten(rgb, found.pose.plane_to_pixel, box, per_mm)
    with ThreadPoolExecutor(max_workers=1) as beside:  # edges and colours are looked at at once: most of both is OpenCV's and NumPy's
        edges = beside.submit(_edges, rgb, found, box, flat)
        ground = tell_apart(flat, found.size_mm)
        look = Look(flat, ground, _bridged(ground.mask, per_mm), found.area)
        regions = _regions(look)
        picture, shapes = edges.result()
    most = _MOST_OF_SHEET * found.size_mm[0] * found.size_mm[1]
    return look, picture, solids_in(picture, flat, look.told, regions, shapes, found.pose, height_mm, most)


def _edges(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], flat: Flat) -> tuple[EdgePicture, Shapes]:
    fine = flatten(rgb, found.pose.plane_to_pixel, box, min(_EDGES_PER_MM, 1.1 / found.mm_per_pixel))
    return edge_picture(fine), Shapes(faces(flat), circles(flat))


def _bridged(mask: np.ndarray, per_mm: float) -> np.ndarray:
    """The mask with what lies between two of its parts, as white stripes between red ones do."""
    size = int(_BETWEEN_MM * per_mm) | 1
    padded = np.pad(mask.astype(np.uint8), size)
    closed = cv2.morphologyEx(padded, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    return np.asarray(closed[size:-size, size:-size].astype(bool))


def _regions(look: Look) -> list[shapely.Polygon]:
    """Where things may be: every part of the mask, without what hangs on it, and with what lies about it."""
    masks = (look.ground.mask, look.ground.bare, look.told)
    found = [part for mask in masks for part in parts_of(mask, look.flat)[:_MOST_REGIONS]]
    kept: list[shapely.Polygon] = []
    for region in found:
        if region.geom_type == "Polygon" and all(np.abs(np.array(region.bounds) - np.array(other.bounds)).max() > 1.0 for other in kept):
            kept.append(region)
    return kept


def _may_be(solid: SolidSeen, look: Look) -> bool:
    if look.covered(solid.silhouette) >= COVERED:
        return True
    return solid.kind in ("disc", "taper", "oval", "ball") and solid.seen >= _ROUND_SEEN and float(solid.values[2]) >= _ROUND_MM


def _may_be_cleared(begun: Begun) -> bool:
    """Whether telling an outline again, if it is in doubt, may leave it without one."""
    return not begun.is_in_doubt or (float(begun.edge.is_own.mean()) >= _HARDLY_OWN and begun.outline.area >= _SMALL_MM2)


def _or_in_doubt(thing: ThingSeen, look: Look) -> ThingSeen | None:
    """The same where it is none of the ground's: a plain solid, or strange to it. In doubt where it has an edge of its own all round, or is
    all but black: of the ground's colour, or grey, or a shadow. None where it is the ground's."""
    if thing.solid is not None or _is_strange(thing.silhouette, look):
        return thing
    return None if _is_the_grounds(thing.silhouette, thing.own, look) else replace(thing, doubts=thing.doubts or (HARDLY_DIFFERS,))


def _is_the_grounds(outline: shapely.Polygon, own: float, look: Look) -> bool:
    """Whether it is no stranger to the ground than that is, and either as small as a knot or a speck, or not all but black and without an
    edge of its own all round. own: share of its edge that is."""
    is_plain = own >= _PLAIN_EDGE or look.light(outline)[0] < BLACK
    return not _is_strange(outline, look) and not (is_plain and outline.area >= _SMALL_MM2)


def _is_speck(part: shapely.Polygon, look: Look) -> bool:
    """Whether it is small, about as light as the ground, and hardly further from the table's colours than they are from each other: a JPEG
    keeps colours in blocks, whose edges are sharp."""
    left, off = look.light(part)
    noise = min(_OVER_NOISE * look.ground.least_off, _MOST_NOISE)
    return part.area < _SMALL_MM2 and off <= max(_LEAST_OF_SPECK, noise) and _DARKER < left <= _BRIGHTER


def _is_strange(outline: shapely.Polygon, look: Look) -> bool:
    left, off = look.light(outline)
    return off > _STRANGE or left > _BRIGHTER
