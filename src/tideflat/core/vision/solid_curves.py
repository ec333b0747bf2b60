"""Plain upright solids as they are seen on the sheet's plane: the outline of the top, the silhouette, and how both move with their sizes.

What stands ``height`` high is thrown on the plane from the lens: its foot as it is, its top scaled by ``k`` about the foot of the lens.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..tolerances import ROUNDING
from .pose import Pose

#: Corners of a round outline, and mm between places on a straight side.
_CORNERS, _EVERY_MM = 180, 1.2
#: Slope of a ball's silhouette: over such a length, mm.
_STEP_MM = 1 / 64

#: How many numbers each kind has: middle x and y; then diameter; or width, depth and turn (radians); or top and base diameter.
KINDS = {"disc": 3, "rectangle": 5, "oval": 5, "taper": 4, "ball": 3}


@dataclass(frozen=True, eq=False, slots=True)
class Curve:
    """places (n, 2) mm, counter-clockwise; outward (n, 2), unit; moves (n, m): mm outward for one of each of the solid's numbers;
    is_own (n,): of an edge of the solid, not of a straight line between two of them."""

    places: np.ndarray
    outward: np.ndarray
    moves: np.ndarray
    is_own: np.ndarray

    def only(self, chosen: np.ndarray | slice) -> Curve:
        return Curve(self.places[chosen], self.outward[chosen], self.moves[chosen], self.is_own[chosen])


@dataclass(frozen=True, eq=False, slots=True)
class Seen:
    """silhouette; top: its outline whole, None where that is the silhouette; is_within (n,): the places of it that lie inside the
    silhouette; foot (m, 2): what it covers from above."""

    silhouette: Curve
    top: Curve | None
    is_within: np.ndarray
    foot: np.ndarray


def seen_of(kind: str, values: np.ndarray, pose: Pose, height_mm: float, *, by_top: bool = False, every: int = 1) -> Seen:
    """How the solid of that kind and those numbers looks on the plane. by_top: the outline of its top stands for its silhouette. every: so
    many times fewer places than it has at its finest."""
    eye = np.array(pose.eye[:2], dtype=float)
    k = pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    if kind == "ball":
        return Seen(_ball(values, pose, every), None, np.zeros(0, bool), _round(values[:2], values[2], values[2], 0.0)[0])
    if kind == "taper":
        base = _placed(*_round(values[:2], values[3], values[3], 0.0, every), "base", values, eye, 1.0)
        top = _placed(*_round(values[:2], values[2], values[2], 0.0, every), "top", values, eye, k)
        wide = float(max(values[2:4]))
        foot = _round(values[:2], wide, wide, 0.0)[0]
    else:
        outline = (
            _box(values, every)
            if kind == "rectangle"
            else _round(values[:2], values[2], values[2 if kind == "disc" else 3], 0.0 if kind == "disc" else values[4], every)
        )
        base, top = _placed(*outline, kind, values, eye, 1.0), _placed(*outline, kind, values, eye, k)
        foot = outline[0]
        if k == 1.0:
            return Seen(base, None, np.zeros(0, bool), foot)
    if by_top:
        return Seen(top, None, np.zeros(0, bool), foot)
    silhouette = _hull_of(base, top, _EVERY_MM * every)
    return Seen(silhouette, top, outside(silhouette.places, top.places) < -0.8, foot)


def outside(hull: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n,) how far places (n, 2) lie outside a convex outline (m, 2), counter-clockwise, mm; inside less than 0."""
    along = np.roll(hull, -1, axis=0) - hull
    length = np.maximum(np.linalg.norm(along, axis=1), ROUNDING)
    out = np.column_stack([along[:, 1], -along[:, 0]]) / length[:, None]
    return np.asarray((places @ out.T - (hull * out).sum(axis=1)).max(axis=1))


def _round(middle: np.ndarray, wide: float, deep: float, turn: float, every: int = 1) -> tuple[np.ndarray, np.ndarray]:
    """(places, outward)."""
    t = np.linspace(0, 2 * np.pi, _CORNERS // every, endpoint=False)
    spin = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    own = np.column_stack([np.cos(t) * wide / 2, np.sin(t) * deep / 2])
    out = np.column_stack([np.cos(t) * deep, np.sin(t) * wide])
    return middle + own @ spin, (out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), ROUNDING)) @ spin


def _box(values: np.ndarray, every: int) -> tuple[np.ndarray, np.ndarray]:
    x, y, wide, deep, turn = values
    spin = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    places, outward = [], []
    for n, half, across in (((0, -1), deep, wide), ((1, 0), wide, deep), ((0, 1), deep, wide), ((-1, 0), wide, deep)):
        count = max(4, int(across / (_EVERY_MM * every)))
        s = ((np.arange(count) + 0.5) / count - 0.5) * across
        way = np.array([-n[1], n[0]])
        places.append(np.array(n) * half / 2 + s[:, None] * way)
        outward.append(np.tile(np.array(n, dtype=float), (count, 1)))
    return np.array([x, y]) + np.concatenate(places) @ spin, np.concatenate(outward) @ spin


def _placed(foot: np.ndarray, outward: np.ndarray, kind: str, values: np.ndarray, eye: np.ndarray, k: float) -> Curve:
    moves = [k * outward[:, 0], k * outward[:, 1]]
    ones = np.full(len(foot), k / 2)
    if kind == "disc":
        moves.append(ones)
    elif kind in ("top", "base"):
        moves += [ones, 0 * ones] if kind == "top" else [0 * ones, ones]
    else:
        c, s = np.cos(values[4]), np.sin(values[4])
        along, deep = outward @ [c, s], outward @ [-s, c]
        if kind == "rectangle":
            moves += [ones * (np.abs(along) > 0.5), ones * (np.abs(deep) > 0.5)]
        else:
            reach = np.maximum(np.hypot(along * values[2], deep * values[3]), ROUNDING)
            moves += [ones * along**2 * values[2] / reach, ones * deep**2 * values[3] / reach]
        lever = foot - values[:2]
        moves.append(k * (outward[:, 1] * lever[:, 0] - outward[:, 0] * lever[:, 1]))
    return Curve(eye + k * (foot - eye), outward, np.column_stack(moves), np.ones(len(foot), bool))


def _hull_of(base: Curve, top: Curve, every_mm: float) -> Curve:
    """The silhouette of both: the places of each that lie outside the other, and the straight lines between, a place every so many mm."""
    places = np.concatenate([base.places, top.places])
    index = cv2.convexHull(places.astype(np.float32), returnPoints=False)[:, 0]
    ring = places[index]
    if float((ring[:, 0] * np.roll(ring[:, 1], -1) - np.roll(ring[:, 0], -1) * ring[:, 1]).sum()) < 0:
        ring = ring[::-1]
    both = Curve(places, np.concatenate([base.outward, top.outward]), np.concatenate([base.moves, top.moves]), np.ones(len(places), bool))
    on = np.flatnonzero(outside(ring, places) > -0.02)
    found = [both.only(on)]
    sides = np.roll(ring, -1, axis=0) - ring
    lengths = np.hypot(sides[:, 0], sides[:, 1])
    for k in np.flatnonzero(lengths >= 6 * every_mm):
        a, length, way = ring[k], lengths[k], sides[k] / lengths[k]
        n = np.array([way[1], -way[0]])
        # a straight side of either is there already
        off, along = (places[on] - a) @ n, (places[on] - a) @ way
        if ((np.abs(off) < 0.05) & (along > 0.2 * length) & (along < 0.8 * length)).any():
            continue
        count = int(length / every_mm)
        line = a + (np.arange(count) + 0.5)[:, None] / count * sides[k]
        found.append(Curve(line, np.tile(n, (count, 1)), np.zeros((count, base.moves.shape[1])), np.zeros(count, bool)))
    joined = Curve(*(np.concatenate([getattr(c, name) for c in found]) for name in ("places", "outward", "moves", "is_own")))
    middle = joined.places.mean(axis=0)
    order = np.argsort(np.arctan2(joined.places[:, 1] - middle[1], joined.places[:, 0] - middle[0]))
    return joined.only(order)


def _ball(values: np.ndarray, pose: Pose, every: int) -> Curve:
    here = _cone(values, pose, every)
    along = np.roll(here, -1, axis=0) - np.roll(here, 1, axis=0)
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), ROUNDING)
    outward = np.column_stack([along[:, 1], -along[:, 0]])
    moves = [((_cone(values + step, pose, every) - here) * outward).sum(axis=1) / _STEP_MM for step in _STEP_MM * np.eye(3)]
    return Curve(here, outward, np.column_stack(moves), np.ones(len(here), bool))


def _cone(values: np.ndarray, pose: Pose, every: int) -> np.ndarray:
    """Where the cone of rays that touch a ball meets the plane, counter-clockwise."""
    x, y, wide = values
    radius = wide / 2
    to = np.array([x, y, radius]) - pose.eye
    far = float(np.linalg.norm(to))
    way = to / far
    aside = np.cross(way, [0.0, 1, 0])
    aside = aside / np.linalg.norm(aside)
    across = np.cross(way, aside)
    lean = np.arcsin(min(0.99, radius / far))
    t = np.linspace(0, 2 * np.pi, _CORNERS // every, endpoint=False)
    rays = np.cos(lean) * way + np.sin(lean) * (np.cos(t)[:, None] * aside + np.sin(t)[:, None] * across)
    rays = np.where(rays[:, 2:] < -0.02, rays, rays * [1, 1, 0] + [0, 0, -0.02])
    ring = pose.eye[:2] - pose.eye[2] / rays[:, 2:] * rays[:, :2]
    area = float((ring[:, 0] * np.roll(ring[:, 1], -1) - np.roll(ring[:, 0], -1) * ring[:, 1]).sum())
    return np.asarray(ring if area > 0 else ring[::-1])
