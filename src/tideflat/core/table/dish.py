"""Inside a dish: a composition of its own, bounded by the rim, laid level, in a heap or along a crescent; the poor pieces below, the best
up, what is long pointing one way [common practice, no source].

Pieces come down where they are let go, one after the other, by the rule of resting; none stands in another, none over the rim.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from ..camera.hiding import lies_in
from ..errors import FieldError
from ..model import Placement, Scene, Setup
from ..shapes.shape import Shape
from ..solids.body import Body, pose
from ..solids.falling import laid_out
from .carrying import wrapped
from .resting import at_rest, may_lie_on

WAYS = ("level", "heap", "crescent")
#: Rings and spokes of places in a dish; of those with room so many are tried for one piece, and so many of a heap's.
_RINGS, _SPOKES, _TRIED, _HEAPED = 8, 18, 12, 24
#: A piece is bedded on another by so much of its foot; what is smaller than this beside what leads garnishes it.
_BEDDED, _GARNISH = 0.3, 0.35
#: In a heap a piece that lies its own height higher is as good as one so much further out, of the way to the rim.
_UPWARD = 0.9
Spot = tuple[float, float]
#: A crescent keeps so far out, as a share of the way to the rim, and runs so far round to each side of its middle, degrees.
_OUT, _ROUND_DEG = 0.62, 105.0
#: What is so much longer than wide points; each by a little otherwise than the next, degrees.
_LONG, _UNDONE_DEG = 1.6, 7.0
#: On a board things keep so far from its edge, mm, and from each other when they are laid level.
_EDGE_MM, _APART_MM = 4.0, 1.5
_GOLDEN = float(np.pi * (3 - np.sqrt(5)))


def contents(seen: Scene, setup: Setup, dish: str) -> tuple[str, ...]:
    """What lies in or on a thing and may be laid anew: all that it carries but what is strewn or gives way, or is locked. Nothing of
    a cloth, of what leans, or of what is left out of the set-up."""
    there = {p.id: p for p in seen.placements_in(setup)}
    shapes = {i: seen.prop(p.prop).shape for i, p in there.items()}
    if dish not in there or shapes[dish].is_soft or shapes[dish].is_strewn or there[dish].lean:
        return ()
    stays = {i for i, p in there.items() if shapes[i].is_strewn or shapes[i].is_soft or p.locked or p.held_by is not None}
    return tuple(i for i in seen.carried_by(dish) if i in there and i not in stays)


def laid_in(seen: Scene, setup: Setup, dish: str, way: str, toward: float, seed: int = 1) -> tuple[Placement, ...]:
    """Everything in the dish laid anew. ``way``: one of WAYS; ``toward``: where a heap leans, a crescent lies and long things point,
    degrees, 0 right, 90 away. Raises FieldError where nothing lies in it, or something finds no room so."""
    ids = contents(seen, setup, dish)
    if not ids:
        raise FieldError("placement", "must be a level dish or board with things in it that are not locked", dish)
    there = {p.id: p for p in seen.placements_in(setup)}
    shapes = {i: seen.prop(p.prop).shape for i, p in there.items()}
    whole = laid_out({i: pose(there[i], shapes[i]) for i in there if i not in ids})
    kept = {i: b for i, b in whole.items() if i == dish or i in seen.carried_by(dish)}  # what stays in it
    name = ""
    for is_tight in (False, True) if way == "level" else (False,):
        wish = _Wish(way, toward, np.random.default_rng(seed), is_tight)
        laid, stuck = _laid_all(_in_line(ids, there, shapes), there, shapes, kept, dish, wish)
        if stuck is None:
            return tuple(laid)
        name = seen.prop(there[stuck].prop).name
    raise FieldError("way", f"must be one that there is room for: the {name} finds none so; lay it in a heap, or take something out", way)


def _laid_all(
    line: list[str], there: dict[str, Placement], shapes: dict[str, Shape], kept: dict[str, Body], dish: str, wish: _Wish
) -> tuple[list[Placement], str | None]:
    """(all of them, one after the other; the first that found no room)."""
    kept = dict(kept)
    bowl, laid = kept[dish], list[Placement]()
    for k, i in enumerate(line):
        found = _laid_one(there[i], shapes[i], bowl, kept, replace(wish, turn_of=k))
        if found is None:
            return laid, i
        laid.append(found)
        kept[i] = pose(found, shapes[i])
    return laid, None


def _in_line(ids: tuple[str, ...], there: dict[str, Placement], shapes: dict[str, Shape]) -> list[str]:
    """The bed first, the large before the small; then what leads; what is small beside that, as a garnish is, last."""
    area = {i: float(np.prod(shapes[i].sides()[:2])) for i in ids}
    lead = max((area[i] for i in ids if there[i].role == "hero"), default=0.0)

    def layer(i: str) -> int:
        if there[i].role == "hero":
            return 1
        return 2 if area[i] < _GARNISH * lead or there[i].role == "accent" else 0

    return sorted(ids, key=lambda i: (layer(i), -area[i]))


@dataclass(frozen=True)
class _Wish:
    """is_tight: against the rim and each other, where laid apart not all would find room. turn_of: which piece it is."""

    way: str
    toward: float
    random: np.random.Generator
    is_tight: bool
    turn_of: int = 0


def _laid_one(piece: Placement, shape: Shape, bowl: Body, kept: dict[str, Body], wish: _Wish) -> Placement | None:
    """Where it lies well: level, with the most room round it; on a crescent, the first place along it that is free; in a heap, near the
    middle and low, so that what lies there is lain against before it is lain upon."""
    level = pose(replace(piece, x=0.0, y=0.0, z=0.0, turn=_turned(piece, shape, wish), lean=0.0, lean_toward=0.0, on=None), shape)
    inner = bowl.footprint if bowl.opening is not None else shapely.buffer(bowl.footprint, -_EDGE_MM)
    spots = [at for at in _places(bowl, wish) if inner.covers(translate(level.footprint, *at))]
    if wish.way == "heap":
        return _heaped(level, shape, spots[:: max(1, len(spots) // _HEAPED)], bowl, kept, wish)
    room = [(_room(translate(level.footprint, *at), bowl, kept), at) for at in spots]
    free = [(r, at) for r, at in room if r > 0]
    in_order = free if wish.way == "crescent" else sorted(free, key=lambda f: f[0] if wish.is_tight else -f[0])
    return next((f for _, at in in_order[:_TRIED] if (f := _at(level, shape, at, bowl, kept)) is not None and f.on == bowl.id), None)


def _at(level: Body, shape: Shape, at: Spot, bowl: Body, kept: dict[str, Body]) -> Placement | None:
    """The piece let go there, if it comes to lie on something of the dish as anybody would lay it."""
    placed = replace(level.placement, x=round(at[0], 1), y=round(at[1], 1))
    over = translate(level.footprint, *at)
    rest = at_rest(placed, shape, {i: b for i, b in kept.items() if b.footprint.intersects(over)})
    if rest is None or rest.on not in kept:
        return _on_the_floor(placed, shape, bowl, kept)
    found = replace(placed, z=rest.z, on=rest.on)
    is_well = rest.on == bowl.id or rest.share >= _BEDDED or may_lie_on(pose(found, shape), kept[rest.on], rest)
    return found if is_well else None


def _on_the_floor(placed: Placement, shape: Shape, bowl: Body, kept: dict[str, Body]) -> Placement | None:
    """On the floor of an open dish that it fits into, where nothing else lies: what its walls would do to it is not asked."""
    if bowl.shape.floor_mm is None:
        return None
    found = replace(placed, z=round(bowl.placement.z + bowl.shape.floor_mm, 1), on=bowl.id)
    body = pose(found, shape)
    is_free = not any(b.footprint.intersects(body.footprint) for i, b in kept.items() if i != bowl.id)
    return found if is_free and lies_in(body, bowl) else None


def _heaped(
    level: Body, shape: Shape, spots: list[Spot], bowl: Body, kept: dict[str, Body], wish: _Wish
) -> Placement | None:
    """Where it costs least: how far out it lies, and how high, in its own heights."""
    heart, reach, high = _heart(bowl, wish), _reach(bowl), max(shape.sides()[2], 1.0)
    out = {at: float(np.hypot(*((np.array(at) - heart) / reach))) for at in spots}
    ground = bowl.z_max if bowl.shape.floor_mm is None else bowl.placement.z + bowl.shape.floor_mm
    best: tuple[float, Placement] | None = None
    for at in sorted(spots, key=lambda at: out[at]):
        if best is not None and out[at] >= best[0]:
            break  # nothing lies lower than on the ground of the dish
        found = _at(level, shape, at, bowl, kept)
        cost = np.inf if found is None else out[at] + _UPWARD * (found.z - ground) / high
        if found is not None and (best is None or cost < best[0]):
            best = float(cost), found
    return None if best is None else best[1]


def _turned(piece: Placement, shape: Shape, wish: _Wish) -> float:
    """What is long points where it is wished to, each a little otherwise."""
    wide, deep, _ = shape.sides()
    if max(wide, deep) < _LONG * min(wide, deep) or shape.form in ("turned", "ball"):
        return piece.turn
    along = 0.0 if wide >= deep else 90.0
    return round(wrapped(wish.toward - along + float(wish.random.normal()) * _UNDONE_DEG), 1)


def _places(bowl: Body, wish: _Wish) -> Iterator[Spot]:
    """Places over the dish, the likeliest first: a heap from a little off its middle outward, a crescent along its arc."""
    middle, reach = np.array(bowl.footprint.centroid.coords[0]), _reach(bowl)
    toward = np.radians(wish.toward)
    if wish.way == "crescent":
        for step in range(_SPOKES * 2):
            side = (1 if step % 2 else -1) * np.radians(_ROUND_DEG) * ((step + 1) // 2) / _SPOKES
            for out in (_OUT, _OUT - 0.15, _OUT + 0.15):
                yield _spot(middle, reach * out, float(toward + side))
        return
    begin = _heart(bowl, wish)
    yield float(begin[0]), float(begin[1])
    turn = wish.turn_of * _GOLDEN + float(wish.random.uniform(0, 0.3))
    for ring in range(1, _RINGS):
        for spoke in range(_SPOKES):
            a = turn + spoke * _GOLDEN
            yield _spot(begin, reach * ring / _RINGS, a)


def _spot(middle: np.ndarray, reach: np.ndarray, angle: float) -> Spot:
    x, y = middle + reach * np.array([np.cos(angle), np.sin(angle)])
    return float(x), float(y)


def _heart(bowl: Body, wish: _Wish) -> np.ndarray:
    """The middle of the dish; a heap leans a little off it."""
    middle = np.array(bowl.footprint.centroid.coords[0])
    toward = np.radians(wish.toward)
    return middle + (0.12 * _reach(bowl) * np.array([np.cos(toward), np.sin(toward)]) if wish.way == "heap" else 0.0)


def _reach(bowl: Body) -> np.ndarray:
    """(2,) how far it goes from its middle along x and y."""
    x0, y0, x1, y1 = bowl.footprint.bounds
    return np.array([x1 - x0, y1 - y0]) / 2


def _room(footprint: BaseGeometry, bowl: Body, kept: dict[str, Body]) -> float:
    """How far it would lie from the rim and from what lies there, mm, less what they keep clear; the nearest counts."""
    gaps = [float(shapely.distance(footprint, b.footprint)) for i, b in kept.items() if i != bowl.id]
    return min([float(shapely.distance(footprint, bowl.footprint.boundary)), *(g - _APART_MM for g in gaps)])
