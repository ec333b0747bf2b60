"""What hides what in the frame.

Two solids that do not pass into each other have a plane between them, and the one on the camera's side is in front wherever
both are seen. The plane is looked for level, then upright; only what neither parts is settled by rays.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry
from shapely.strtree import STRtree

from ..plane.areas import areas_of
from ..remember import remembered
from ..solids.body import Body
from ..solids.mesh import Facing, depths_along, facing, surface_of
from ..solids.pieces import convex_bodies
from ..tolerances import CONTACT_MM, SAME_DEPTH_MM
from .silhouette import Silhouette, circle_outline, silhouette_of
from .view import View


@dataclass(frozen=True, eq=False)
class Hiding:
    """in_front: pairs (nearer, further) of placement ids whose outlines overlap. visible: what is left of each outline."""

    in_front: tuple[tuple[str, str], ...]
    visible: dict[str, BaseGeometry] = field(default_factory=dict)


def hiding(seen: dict[str, Silhouette], view: View, transparent: frozenset[str]) -> Hiding:
    """Who is in front of whom, and what is left visible, not yet cut to the frame. ``transparent`` things hide nothing."""
    units = [unit for silhouette in seen.values() for unit in _units(silhouette)]
    if not units:
        return Hiding(())
    outlines = np.array([unit.outline for unit in units], dtype=object)
    hidden: dict[str, list[BaseGeometry]] = {i: [] for i in seen}
    in_front: dict[tuple[str, str], None] = {}
    numbers = {i: k for k, i in enumerate(seen)}
    owner = np.array([numbers[unit.body.id] for unit in units])
    first, second = STRtree(outlines).query(outlines, predicate="intersects")
    asked = (first < second) & (owner[first] != owner[second])
    for i, j in zip(first[asked].tolist(), second[asked].tolist(), strict=True):
        settled = _settle(units[i], units[j], view)
        if settled is None:
            continue
        near, far, cover, counter_cover = settled
        in_front[near.body.id, far.body.id] = None
        if near.body.id not in transparent:
            hidden[far.body.id].append(_only_on(far, cover, seen))
        if counter_cover is not None and far.body.id not in transparent:
            hidden[near.body.id].append(_only_on(near, counter_cover, seen))
    visible = {i: _uncovered(seen[i].outline, tuple(covers)) if covers else seen[i].outline for i, covers in hidden.items()}
    return Hiding(tuple(in_front), visible)


@remembered(1.5)
def _units(silhouette: Silhouette) -> tuple[Silhouette, ...]:
    """Strewn things piece by piece, as other things stand among the pieces."""
    if len(silhouette.pieces) == 1:
        return (silhouette,)
    return tuple(
        Silhouette(body, outline, (outline,), silhouette.depth, silhouette.sharp_depth)
        for body, outline in zip(silhouette.body.piece_bodies, silhouette.pieces, strict=True)
    )


@remembered(2)
def _uncovered(outline: BaseGeometry, covers: tuple[BaseGeometry, ...]) -> BaseGeometry:
    return areas_of(shapely.difference(outline, areas_of(shapely.union_all(covers))))


def _only_on(unit: Silhouette, cover: BaseGeometry, seen: dict[str, Silhouette]) -> BaseGeometry:
    """What covers one piece covers that piece only, not its neighbours."""
    return cover if unit.outline is seen[unit.body.id].outline else shapely.intersection(cover, unit.outline)


@remembered(5)
def _settle(a: Silhouette, b: Silhouette, view: View) -> tuple[Silhouette, Silhouette, BaseGeometry, BaseGeometry | None] | None:
    """(nearer, further, what the nearer covers of the further, what the further's near wall covers of the nearer)."""
    for content, dish in ((a, b), (b, a)):
        if lies_in(content.body, dish.body):
            return _content_and_dish(content, dish, view)
    order = _order_by_planes(a, b, view)
    if order is None and len(convex_bodies(a.body)) + len(convex_bodies(b.body)) > 2:
        return _piece_by_piece(a, b, view)
    order = _order_by_rays(a, b, view) if order is None else order
    if order == 0:
        return None
    near, far = (a, b) if order > 0 else (b, a)
    return near, far, near.outline, None


def _piece_by_piece(a: Silhouette, b: Silhouette, view: View) -> tuple[Silhouette, Silhouette, BaseGeometry, BaseGeometry | None] | None:
    """The same where one stands in the other's notch: of an arm before it and one behind, each convex piece is settled with each."""
    first, second = (_pieces(silhouette, view) for silhouette in (a, b))
    orders = {
        (i, k): front_order(one, other, view) if shapely.intersection(one.outline, other.outline).area > 0 else 0
        for i, one in enumerate(first)
        for k, other in enumerate(second)
    }
    on_b = _covered_by(first, second, orders)
    on_a = _covered_by(second, first, {(k, i): -order for (i, k), order in orders.items()})
    if on_a.area + on_b.area == 0:
        return None
    near, far, cover, counter = (a, b, on_b, on_a) if on_b.area >= on_a.area else (b, a, on_a, on_b)
    return near, far, cover, counter if counter.area > 0 else None


def _covered_by(upper: list[Silhouette], lower: list[Silhouette], orders: dict[tuple[int, int], int]) -> BaseGeometry:
    """Where a piece of the one is before every piece of the other that is there. orders: +1 where the first of the pair is in front."""
    covers = []
    for i, piece in enumerate(upper):
        before = [other.outline for k, other in enumerate(lower) if orders[i, k] < 0]
        behind = [other.outline for k, other in enumerate(lower) if orders[i, k] > 0]
        shared = shapely.intersection(piece.outline, shapely.union_all(behind))
        covers.append(shapely.difference(shared, shapely.union_all(before)) if before else shared)
    return areas_of(shapely.union_all([areas_of(c) for c in covers]))


def _pieces(silhouette: Silhouette, view: View) -> list[Silhouette]:
    bodies = convex_bodies(silhouette.body)
    return [silhouette] if len(bodies) == 1 else [s for s in (silhouette_of(body, view) for body in bodies) if s is not None]


def _content_and_dish(content: Silhouette, dish: Silhouette, view: View) -> tuple[Silhouette, Silhouette, BaseGeometry, BaseGeometry]:
    """What lies in a dish is seen through its mouth; the dish's near wall hides the rest of it."""
    rim = dish.body.opening
    assert rim is not None
    normal = np.cross(rim[1], rim[2])
    if float((view.position - rim[0]) @ normal) <= 0:  # looked at from below the rim: the wall hides all that is not above it
        return content, dish, shapely.difference(content.outline, dish.outline), dish.outline
    mouth = circle_outline(rim, view)
    wall = shapely.difference(dish.outline, mouth)
    return content, dish, shapely.difference(content.outline, wall), wall


@remembered(1.5)
def lies_in(content: Body, dish: Body) -> bool:
    """Whether ``content`` sits inside the open ``dish``: its footprint within the rim, its foot between base and rim; of a dish that leans,
    along its own axes."""
    rim = dish.opening
    if rim is None:
        return False
    if dish.placement.lean != 0:
        return _lies_in_a_leaning_one(content, dish)
    if not dish.z_min - CONTACT_MM <= content.z_min < dish.z_max - CONTACT_MM:
        return False
    return bool(dish.footprint.buffer(CONTACT_MM).covers(content.footprint))


def _lies_in_a_leaning_one(content: Body, dish: Body) -> bool:
    opening = dish.local.opening
    assert opening is not None
    points = np.concatenate([*content.parts, content.spheres[:, :3]]) if content.parts else content.spheres[:, :3]
    round_ = np.concatenate([np.zeros(len(points) - len(content.spheres)), content.spheres[:, 3]])
    own = (points - dish.base) @ dish.turned
    widest = float(np.linalg.norm(dish.local.circles[opening, 1]))
    foot = float((own[:, 2] - round_).min())
    is_within = bool((np.hypot(own[:, 0], own[:, 1]) + round_ <= widest + CONTACT_MM).all())
    return is_within and -CONTACT_MM <= foot < dish.local.height - CONTACT_MM


def front_order(a: Silhouette, b: Silhouette, view: View) -> int:
    """+1 when ``a`` is in front of ``b``, -1 when behind, 0 when rays cannot tell either."""
    order = _order_by_planes(a, b, view)
    return _order_by_rays(a, b, view) if order is None else order


def _order_by_planes(a: Silhouette, b: Silhouette, view: View) -> int | None:
    """The same by a level or an upright plane that parts them; None when neither does."""
    eye = view.position
    for low, high, sign in ((b.body, a.body, 1), (a.body, b.body, -1)):
        if _gives_way(low, high):
            return sign if eye[2] >= low.z_max else -sign  # cloth gives way: what stands in it stands on it
    for low, high, sign in ((b.body, a.body, 1), (a.body, b.body, -1)):
        if high.z_min >= low.z_max - CONTACT_MM:  # a level plane parts them
            middle = (high.z_min + low.z_max) / 2
            return sign if eye[2] >= middle else -sign
    if not shapely.intersects(a.body.footprint_hull, b.body.footprint_hull):
        line = shapely.shortest_line(a.body.footprint_hull, b.body.footprint_hull)
        (ax, ay), (bx, by) = line.coords
        toward_a = np.array([ax - bx, ay - by])
        return 1 if float((eye[:2] - np.array([(ax + bx) / 2, (ay + by) / 2])) @ toward_a) >= 0 else -1
    return None


def _gives_way(low: Body, high: Body) -> bool:
    """Whether the thing stands in the cloth; of one that falls over an edge each part is asked, and of those only what it is over."""
    if not low.shape.is_laid or high.shape.is_laid or high.z_min < low.z_min - CONTACT_MM:
        return False
    return not low.shape.is_folded or (low.local.is_piece and bool(shapely.intersects(low.footprint_hull, high.footprint_hull)))


def _order_by_rays(a: Silhouette, b: Silhouette, view: View) -> int:
    shared = shapely.intersection(a.outline, b.outline)
    if shared.area <= 0:
        return 0
    u0, v0, u1, v1 = shared.bounds
    steps = (np.arange(5) + 0.5) / 5
    places = np.stack(np.meshgrid(u0 + steps * (u1 - u0), v0 + steps * (v1 - v0), indexing="ij"), axis=-1).reshape(-1, 2)
    places = places[shapely.contains_xy(shared, places[:, 0], places[:, 1])]
    if len(places) == 0:
        point = shared.representative_point()
        places = np.array([[point.x, point.y]])
    rays = view.rays(places)
    first, second = (depths_along(_facing(silhouette.body, view), rays) for silhouette in (a, b))
    # The coarse mesh may miss at an edge; a miss on both sides says nothing.
    met = np.isfinite(first) | np.isfinite(second)
    lead = second[met] - first[met]
    lead = np.sign(np.where(np.abs(lead) > SAME_DEPTH_MM, lead, 0.0)).sum()
    return int(np.sign(lead))


@remembered(3)
def _facing(body: Body, view: View) -> Facing:
    return facing(surface_of(body), view.position)


def painting_order(ids: tuple[str, ...], in_front: tuple[tuple[str, str], ...], depth: dict[str, float]) -> tuple[str, ...]:
    """``ids`` from back to front, so that who is in front is painted later; ties by depth, cycles broken at the furthest."""
    behind: dict[str, set[str]] = {i: set() for i in ids}
    for near, far in in_front:
        if near in behind and far in behind:
            behind[near].add(far)
    order: list[str] = []
    left = sorted(ids, key=lambda i: -depth.get(i, 0.0))
    while left:
        chosen = next((i for i in left if not behind[i] & set(left)), left[0])
        left.remove(chosen)
        order.append(chosen)
    return tuple(order)
