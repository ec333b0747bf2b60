"""The order in which a scene is built on the table, and where each thing goes by a tape: from the nearest edges, or from a cross of tape.

From large to small: masses, the flat shapes they contrast with, cloth, contents, what is long, fillers, what is strewn [common practice, no
source]; but what lies under something comes before it, and what is off the frame comes last.
"""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from ..evaluate import Picture
from ..model import Prop
from ..solids.body import Body
from ..tolerances import CONTACT_MM

_RANKS = {"hero": 0, "support": 0, "riser": 0, "accent": 0, "cloth": 2, "linear": 4, "filler": 5, "off-frame": 7}
_FLAT, _CONTENT, _STREWN = 1, 3, 6
#: Lower than this share of its length a thing is one of the flat shapes.
_FLAT_SHARE = 0.15


#: The material of a stand-in for what the stores do not have.
TO_BORROW = "to borrow"


@dataclass(frozen=True, slots=True)
class Wanted:
    """Something that the set-up shows and that has to be borrowed. count: of this kind."""

    prop: Prop
    count: int


def to_borrow(picture: Picture) -> tuple[Wanted, ...]:
    """The list to borrow of a set-up: stand-ins that nothing of the stores has been put in the place of yet."""
    found: dict[Prop, int] = {}
    for prop in picture.props.values():
        if prop.material == TO_BORROW:
            found[prop] = found.get(prop, 0) + 1
    return tuple(Wanted(prop, count) for prop, count in found.items())


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to set down. across: mm from the left edge, or the right where that is nearer; deep: from the front, or the back; or along
    both from a cross, positive right and back. on: what it rests on; turn: degrees, None for what is round and faces nowhere."""

    number: int
    id: str
    name: str
    across: float
    across_from: str
    deep: float
    deep_from: str
    up: float
    turn: float | None
    lean: float
    on: str | None
    held_by: str | None


def build_order(picture: Picture, cross: tuple[float, float] | None = None) -> tuple[Step, ...]:
    """Every thing in the set-up, in the order of building. ``cross``: x, y, mm, of a tape cross that is measured from."""
    ids = list(picture.bodies)
    under = {i: [j for j in ids if j != i and _lies_on(picture, i, j)] for i in ids}
    found: list[str] = []
    for i in sorted(ids, key=lambda i: _key(picture, i)):
        _take(i, under, found)
    return tuple(_step(picture, k + 1, i, cross) for k, i in enumerate(found))


def _take(i: str, under: dict[str, list[str]], found: list[str]) -> None:
    """What lies under it first, then the thing."""
    if i in found:
        return
    for j in under[i]:
        _take(j, under, found)
    found.append(i)


def _key(picture: Picture, i: str) -> tuple[int, float, str]:
    body = picture.bodies[i]
    rank = _RANKS.get(body.placement.role, 5)
    if body.shape.is_strewn:
        rank = _STREWN
    elif body.placement.on is not None and rank < _CONTENT:
        rank = _CONTENT
    elif rank == 0 and body.z_max - body.z_min < _FLAT_SHARE * max(body.shape.sides()):
        rank = _FLAT
    return rank, -float(body.footprint.area), i


def _lies_on(picture: Picture, upper: str, lower: str) -> bool:
    """Whether ``upper`` rests on ``lower``, or stands on a cloth or board that runs under it."""
    a, b = picture.bodies[upper], picture.bodies[lower]
    if a.placement.on == lower:
        return True
    if lower in picture.scene.carried_by(upper) or b.shape.is_strewn:
        return False
    return _is_higher(a, b) and shapely.intersects(a.footprint, b.footprint)


def _is_higher(a: Body, b: Body) -> bool:
    if b.is_soft != a.is_soft and a.z_min < b.z_max + CONTACT_MM:
        return b.is_soft  # cloth runs under what stands on the same table
    return a.z_min >= b.z_max - CONTACT_MM


def _step(picture: Picture, number: int, i: str, cross: tuple[float, float] | None) -> Step:
    body, surface = picture.bodies[i], picture.scene.surface
    p = body.placement
    if cross is not None:
        across, deep = (p.x - cross[0], "the cross"), (p.y - cross[1], "the cross")
    else:
        across = (p.x, "left") if p.x <= surface.width / 2 else (surface.width - p.x, "right")
        deep = (p.y, "front") if p.y <= surface.depth / 2 else (surface.depth - p.y, "back")
    is_round = body.shape.form in ("turned", "ball") and not picture.props[i].features and not picture.props[i].skins
    on = None if p.on is None or p.on not in picture.props else picture.props[p.on].name
    turn = None if is_round else round(p.turn, 1)
    name, (left, left_of), (front, front_of) = picture.props[i].name, across, deep
    return Step(number, i, name, round(left, 1), left_of, round(front, 1), front_of, round(p.z, 1), turn, p.lean, on, p.held_by)
