"""Where on gloss and metal the lens sees each light, card and itself: every place of a thing that the frame sees is followed after the
mirror, and what meets the same is outlined."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import cv2
import numpy as np

from ..camera.crops import Rect
from ..camera.view import View
from ..tolerances import LIFTED_MM
from .falling import Lighting
from .mirrors import LENS_RADIUS_MM, MIRRORS, holds_something, mirrored, off_source
from .smooth import smoothed

#: Places across the longer side of a thing's box, and of what is looked at again, and at least; outlines are drawn so many times as fine.
_ACROSS, _AGAIN, _LEAST, _FINER = 84, 56, 24, 4
#: What shows on fewer places than this is looked at again, nearer.
_ENOUGH = 260
#: What looks up so much (cosine) in a dish is what lies in it.
_LEVEL = 0.9
#: An outline's corners lie within this of it, places.
_STRAIGHT = 0.3
#: Further beside than this, half-sizes, all is alike; so near, it is worth another look.
_FURTHEST, _NEAR = 4.0, 3.0
#: It is then looked at in so many places for one.
_NEARER = 3


@dataclass(frozen=True, slots=True)
class Shown:
    """kind: ``lights``, ``cards``, ``rig`` or ``lens``; meets: the id of what is mirrored there. rings: of places in the frame, fractions;
    share: of what is seen of the thing."""

    placement: str
    kind: str
    meets: str
    rings: tuple[tuple[tuple[float, float], ...], ...]
    share: float


def mirrored_on(lighting: Lighting, view: View, boxes: Iterable[tuple[str, Rect]]) -> list[Shown]:
    """What each gloss or metal thing among ``boxes`` (id, where it is seen in the frame) shows of lights, cards, rig and the lens."""
    found: list[Shown] = []
    for placement_id, box in boxes:
        if lighting.props[placement_id].finish in MIRRORS:
            found += _on_one(lighting, view, placement_id, box)
    return found


def _on_one(lighting: Lighting, view: View, placement_id: str, box: Rect) -> list[Shown]:
    whole = max(0.0, box[0]), max(0.0, box[1]), min(1.0, box[2]), min(1.0, box[3])
    first = _look(lighting, view, placement_id, whole, _ACROSS)
    found = []
    for (kind, name), over in (first.over if first is not None else {}).items():
        look, near = first, over < _NEAR
        if near.any() and int((over < 0).sum()) < _ENOUGH:
            box = _about(near, whole)
            longest = max((box[2] - box[0]) / (whole[2] - whole[0]), (box[3] - box[1]) / (whole[3] - whole[1]))
            look = _look(lighting, view, placement_id, box, max(_AGAIN, round(_NEARER * longest * _ACROSS)))
        if look is None or first is None:
            continue
        rings = _rings(look.over[kind, name], look.box)
        if rings:
            share = float(_area(look.box) * (look.over[kind, name] < 0).mean() / (_area(whole) * first.seen))
            found.append(Shown(placement_id, kind, name, rings, share))
    return found


def _area(box: Rect) -> float:
    return (box[2] - box[0]) * (box[3] - box[1])


def _about(near: np.ndarray, box: Rect) -> Rect:
    """The part of the box that holds ``near`` (rows, columns), and a place more all round."""
    rows, columns = np.nonzero(near.any(axis=1))[0], np.nonzero(near.any(axis=0))[0]
    high, wide = (box[3] - box[1]) / near.shape[0], (box[2] - box[0]) / near.shape[1]
    u0, u1 = box[0] + (columns[0] - 1) * wide, box[0] + (columns[-1] + 2) * wide
    v0, v1 = box[1] + (rows[0] - 1) * high, box[1] + (rows[-1] + 2) * high
    return max(box[0], u0), max(box[1], v0), min(box[2], u1), min(box[3], v1)


@dataclass(frozen=True, eq=False, slots=True)
class _Look:
    """over: by (kind, id), (rows, columns) over the box how far beside it each place looks; seen: the share of places where the thing is."""

    box: Rect
    over: dict[tuple[str, str], np.ndarray]
    seen: float


def _look(lighting: Lighting, view: View, placement_id: str, box: Rect, places_across: int) -> _Look | None:
    u0, v0, u1, v1 = box
    wide, high = (u1 - u0) * view.aspect, v1 - v0
    if wide <= 0 or high <= 0:
        return None
    across, down = (max(_LEAST, round(places_across * side / max(wide, high))) for side in (wide, high))
    u, v = np.meshgrid(u0 + (np.arange(across) + 0.5) / across * (u1 - u0), v0 + (np.arange(down) + 0.5) / down * (v1 - v0))
    ways = view.rays(np.column_stack([u.ravel(), v.ravel()]))
    ways = ways / np.linalg.norm(ways, axis=1, keepdims=True)
    lens = np.broadcast_to(view.position, ways.shape)
    things = lighting.owners("placement")
    others, called = frozenset(range(len(lighting.casters.owners))) - things, f"mirrored on {placement_id} {places_across}"
    met = lighting.again.met(called, lighting.casters, lens, ways, but=others)
    (own,) = lighting.owner("placement", placement_id)
    seen = np.nonzero(met.owner == own)[0]
    places = lens[seen] + met.far[seen, None] * ways[seen]
    normals = smoothed(lighting.bodies[placement_id], places, met.normal[seen])
    normals = np.where((normals * ways[seen]).sum(axis=1, keepdims=True) < 0, normals, -normals)
    if holds_something(lighting.bodies[placement_id], lighting.props[placement_id]):
        kept = normals[:, 2] <= _LEVEL
        seen, normals, places = seen[kept], normals[kept], places[kept]
    if not len(seen):
        return None
    found = {}
    for key, off in _offs(lighting, called, seen, places, normals, ways[seen], view.position, own).items():
        over = np.full(across * down, _FURTHEST, dtype=np.float32)
        over[seen] = off
        found[key] = over.reshape(down, across)
    return _Look(box, found, len(seen) / (across * down))


_KINDS = {"card": "cards", "rig": "rig"}


def _offs(
    lighting: Lighting, called: str, numbers: np.ndarray, at: np.ndarray, normals: np.ndarray, ways: np.ndarray, lens: np.ndarray, own: int
) -> dict[tuple[str, str], np.ndarray]:
    """For each (kind, id): (n,) how far beside it each of at (n, 3) looks after the mirror, from -1, below 0 where it is seen there. As
    a share of its half-size, so that an outline lies between the places and what is smaller than they are is not lost."""
    after, start = mirrored(ways, normals), at + LIFTED_MM * normals
    met = lighting.again.met(f"{called} after", lighting.casters, start, after, but=frozenset({own}), numbers=numbers)
    far, found = met.far.copy(), {}
    lights = {s.id: off_source(s, start, after) for s in lighting.sources if s.outline is not None}
    for to_plane, off in lights.values():
        far = np.where((off <= 0) & (to_plane <= far + 2 * LIFTED_MM), to_plane, far)
    for name, (to_plane, off) in lights.items():
        found["lights", name] = _seen(off, to_plane <= far + 2 * LIFTED_MM)
    for k, (kind, name) in enumerate(lighting.casters.owners):
        if kind in _KINDS:
            found[_KINDS[kind], name] = np.where((met.owner == k) & (met.far <= far), -1.0, 1.0)
    to_lens = lens - start
    along = (to_lens * after).sum(axis=1)
    off = np.linalg.norm(to_lens - along[:, None] * after, axis=1) / LENS_RADIUS_MM - 1
    found["lens", "lens"] = _seen(np.where(along > 0, off, np.inf), along < far)
    return found


def _seen(off: np.ndarray, is_open: np.ndarray) -> np.ndarray:
    """How far beside, where nothing stands before it; where something does, as far outside as it would be inside."""
    return np.where(is_open, np.clip(off, -1, _FURTHEST), np.minimum(np.abs(off), _FURTHEST))


def _rings(over: np.ndarray, box: Rect) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Where ``over`` (rows, columns) is below 0, drawn between its places."""
    down, across = over.shape
    framed = cv2.copyMakeBorder(over, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=_FURTHEST)
    fine = cv2.resize(framed, None, fx=_FINER, fy=_FINER, interpolation=cv2.INTER_LINEAR)
    outlines, _ = cv2.findContours((fine < 0).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    u0, v0, u1, v1 = box
    found = []
    for outline in outlines:
        places = (cv2.approxPolyDP(outline, _STRAIGHT * _FINER, True)[:, 0] + 0.5) / _FINER - 1
        if len(places) > 2:
            found.append(tuple((u0 + x / across * (u1 - u0), v0 + y / down * (v1 - v0)) for x, y in places.tolist()))
    return tuple(found)
