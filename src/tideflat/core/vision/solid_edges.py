"""Plain solids fitted to the edges that a photograph shows: where the outline of the top and the silhouette should be seen, a step is
looked for, and the solid is moved until they meet.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from .edge_support import COARSE_MM, DEEP_MM, FINE_MM, Asked, EdgePicture, asked
from .pose import Pose
from .solid_curves import KINDS, Curve, Seen, outside, seen_of

#: Steps are looked for so far from where they should be, mm, one round after the other.
_WINDOWS_MM = (4.0, 2.5, 1.6, 1.2, 1.2)
#: So many times fewer of a curve's places are looked at in each round.
_EVERY = (4, 3, 3, 2, 1)
#: So many rounds look in coarse steps.
_COARSELY = 2
#: A solid of which less than this is seen in a round is given up; one that ran or grew so far, mm; and one so near to another.
_LEAST = (0.3, 0.4, 0.45, 0.5, 0.5)
_RAN_MM, _GREW_MM, _SAME_MM = 25.0, 40.0, 0.4
#: A step further off than this counts little; a place without so plain a step has none, mm.
_SCALE_MM, _SEEN = 0.6, 0.15
#: A step so near, mm, is where it should be, the more the nearer; within so far inside of a top's outline that is not seen, another
#: belies it.
_ON_MM, _NEAR_MM, _BELIES_MM = 1.2, 0.45, 4.0
#: What belies a top's edge is a step of so much of what its silhouette makes.
_BELIES = 0.25
#: Less than this is hardly a step. What is not seen for a good reason counts so much: the foot of a side, and a top's edge over a side.
_HARDLY, _FOOT_UNSEEN, _TOP_UNSEEN = 0.3, 0.5, 0.12
#: Levels so far to both sides, mm, of which the outer is this share of the inner, are a shadow's beside a thing; along this share of a
#: foot.
_BESIDE_MM, _MUCH_DARKER, _SHADED = 1.5, 0.7, 0.5
#: Places so far inside of another outline lie within it, mm.
_INSIDE_MM = 0.8
#: A step is taken over this share of what is seen of a side, and over so much at the least, mm.
_OF_SIDE = 0.5
_LEAST_DEEP_MM = 0.6
#: No side is shorter than this, mm.
_SHORTEST_MM = 5.0


@dataclass(frozen=True, eq=False)
class SolidSeen:
    """kind and values: of solid_curves; seen: share of its edges that are there, less what belies it; top_seen, outer_seen: of the top's
    outline, and of the silhouette; off_mm: how far those lie from it, root mean square."""

    kind: str
    values: np.ndarray
    curves: Seen
    seen: float
    top_seen: float
    outer_seen: float
    off_mm: float

    def as_value(self) -> dict[str, Any]:
        """As plain JSON values: its kind, and its sizes by their names, mm."""
        names = {"rectangle": ("width", "depth"), "oval": ("width", "depth"), "taper": ("top_diameter", "base_diameter")}
        return {"kind": self.kind} | {
            name: round(float(v), 1) for name, v in zip(names.get(self.kind, ("diameter",)), self.values[2:4], strict=False)
        }

    @cached_property
    def silhouette(self) -> shapely.Polygon:
        """What it covers of the sheet's plane, seen from the lens."""
        return shapely.Polygon(self.curves.silhouette.places).convex_hull

    @cached_property
    def footprint(self) -> shapely.Polygon:
        return shapely.Polygon(self.curves.foot)


def fit_to_edges(
    picture: EdgePicture,
    kind: str,
    start: np.ndarray,
    pose: Pose,
    height_mm: float,
    *,
    by_top: bool = False,
    known: list[np.ndarray] | None = None,
) -> SolidSeen | None:
    """The solid of that kind whose edges are seen nearest to those of ``start``; None where too little of it is seen, or it runs away.
    by_top: by the outline of its top alone, which no shadow on the table touches. known: what others of the kind came to; who comes to the
    same is None."""
    v = np.asarray(start, dtype=float).copy()
    if not _is_possible(kind, v, pose, height_mm):
        return None
    deep = _deep(seen_of(kind, v, pose, height_mm))
    for round_, window in enumerate(_WINDOWS_MM):
        sides = _sides(seen_of(kind, v, pose, height_mm, by_top=by_top, every=_EVERY[round_]))
        looked = [asked(picture, c.places, c.outward, window, deep, COARSE_MM if round_ < _COARSELY else FINE_MM) for c in sides]
        plain = np.concatenate([a.plain * c.is_own for a, c in zip(looked, sides, strict=True)])
        if plain.mean() < _LEAST[round_] or (round_ > 1 and any(np.abs(v - other).max() < _SAME_MM for other in known or ())):
            return None
        if (plain > _SEEN).sum() < 2 * KINDS[kind]:
            return None
        offset = np.concatenate([a.offset for a in looked])
        moves = np.concatenate([c.moves for c in sides])
        v = v + _step(moves, offset, np.where(plain > _SEEN, plain, 0.0), window)
        if (
            not _is_possible(kind, v, pose, height_mm)
            or np.abs(v[:2] - start[:2]).max() > _RAN_MM
            or np.abs(v[2:4] - start[2:4]).max() > _GREW_MM
        ):
            return None
    return rated(picture, kind, v, pose, height_mm)


def _deep(curves: Seen) -> float:
    """Over how many mm a step is taken: less than what is seen of the solid's sides."""
    if curves.top is None or not curves.is_within.any():
        return DEEP_MM
    aside = -outside(curves.silhouette.places, curves.top.places[curves.is_within])
    return float(np.clip(_OF_SIDE * float(np.percentile(aside, 25)), _LEAST_DEEP_MM, DEEP_MM))


def _is_possible(kind: str, v: np.ndarray, pose: Pose, height_mm: float) -> bool:
    sizes = v[2:4] if kind in ("rectangle", "oval", "taper") else v[2:3]
    return bool(np.isfinite(v).all() and (sizes > _SHORTEST_MM).all() and (kind != "ball" or v[2] < 0.8 * pose.eye[2]))


def _sides(curves: Seen) -> list[Curve]:
    if curves.top is None:
        return [curves.silhouette]
    return [curves.silhouette, curves.top.only(curves.is_within)] if curves.is_within.any() else [curves.silhouette]


def _step(moves: np.ndarray, offset: np.ndarray, weight: np.ndarray, window: float) -> np.ndarray:
    """(m,): what the numbers have to change by, what lies far off counting little."""
    v = np.zeros(moves.shape[1])
    size = np.maximum(np.abs(moves).max(axis=0), 1.0)
    scale = max(_SCALE_MM, 0.35 * window)
    for _ in range(4):
        left = offset - moves @ v
        w = weight / (1 + (left / scale) ** 2)
        rows = moves / size
        # a little held back: what no edge tells stays as it was
        v = np.linalg.solve(rows.T @ (w[:, None] * rows) + 0.5 * np.eye(len(v)), rows.T @ (w * offset)) / size
    return v


def rated(picture: EdgePicture, kind: str, v: np.ndarray, pose: Pose, height_mm: float) -> SolidSeen:
    """How much of a solid's edges is there."""
    curves = seen_of(kind, v, pose, height_mm)
    deep = _deep(curves)
    outer = asked(picture, curves.silhouette.places, curves.silhouette.outward, 1.6, deep)
    on_outer = _on(outer)
    if curves.top is None or not curves.is_within.any():
        seen = float(on_outer.mean())
        return SolidSeen(kind, v, curves, seen, seen, seen, _off(outer, on_outer))
    within = curves.top.only(curves.is_within)
    inner = asked(picture, within.places, within.outward, 1.6, deep)
    on_inner = _on(inner)
    # a top's edge that is not seen may be lit as its side is; but another step just inside it says that the top ends there. The foot of a
    # side in shadow is not told from the shadow.
    further = asked(picture, within.places - within.outward * (_BELIES_MM / 2 + _ON_MM), within.outward, _BELIES_MM / 2, deep)
    least = _BELIES * float(np.median(outer.step[on_outer > _HARDLY])) if (on_outer > _HARDLY).any() else 0.0
    belied = np.where((on_inner < _HARDLY) & (further.step > least), further.plain, 0.0)
    of_foot = outside(curves.top.places, curves.silhouette.places) > _INSIDE_MM
    # a shadow that begins at a side's foot lies on the side away from the light, and that side is darker than the top
    is_shaded = bool(of_foot.any()) and float(_is_dark_outside(picture, outer, of_foot).mean()) > _SHADED
    weight = np.concatenate([
        np.where(of_foot & (on_outer < _HARDLY), _FOOT_UNSEEN, 1.0),
        np.where((on_inner < _HARDLY) & (belied < _HARDLY) & (not is_shaded), _TOP_UNSEEN, 1.0),
    ])  # fmt: skip
    value = np.concatenate([on_outer, on_inner - belied])
    return SolidSeen(
        kind,
        v,
        curves,
        float(np.average(value, weights=weight)),
        float((on_inner - belied).mean()),
        float(on_outer.mean()),
        _off(outer, on_outer),
    )


def _is_dark_outside(picture: EdgePicture, looked: Asked, chosen: np.ndarray) -> np.ndarray:
    """(k,) of the places chosen: whether it is much darker just outside of them than just inside."""
    levels = []
    for reach in (_BESIDE_MM, -_BESIDE_MM):
        at = np.rint(picture.flat.pixels(looked.places[chosen] + reach * looked.outward[chosen]) - 0.5).astype(int)
        at = np.clip(at, 0, [picture.levels.shape[1] - 1, picture.levels.shape[0] - 1])
        levels.append(picture.levels[at[:, 1], at[:, 0]].mean(axis=1))
    return np.asarray(levels[0] < _MUCH_DARKER * levels[1])


def _on(looked: Asked) -> np.ndarray:
    return np.where(np.abs(looked.offset) <= _ON_MM, looked.plain * np.exp(-0.5 * (looked.offset / _NEAR_MM) ** 2), 0.0)


def _off(looked: Asked, on: np.ndarray) -> float:
    return float(np.sqrt(np.mean(looked.offset[on > _SEEN] ** 2))) if (on > _SEEN).any() else float("inf")
