"""How much of a plain solid's edges a photograph shows: of the outline of its top, and of its silhouette."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from .edge_support import DEEP_MM, Asked, EdgePicture, asked_of_each
from .pose import Pose
from .solid_curves import Seen, outside, seen_of, seen_of_each, standing

#: A place without so plain a step has none.
SEEN = 0.15
#: Steps are looked for so far from where they should be, mm.
_WINDOW_MM = 1.6
#: A step so near, mm, is where it should be, the more the nearer; within so far inside of a top's outline that is not seen, another
#: belies it.
_ON_MM, _NEAR_MM, _BELIES_MM = 1.2, 0.45, 4.0
#: What belies a top's edge is a step of so much of what its silhouette makes.
_BELIES = 0.25
#: Less than this is hardly a step. What is not seen for a good reason counts so much: the foot of a side, and a top's edge over a side.
HARDLY, FOOT_UNSEEN, _TOP_UNSEEN = 0.3, 0.5, 0.12
#: Levels so far to both sides, mm, of which the outer is this share of the inner, are a shadow's beside a thing; along this share of a
#: foot. A dark table is darker than a thing without one: of its light less than the last is left.
_BESIDE_MM, _MUCH_DARKER, _SHADED, _SHADED_LEFT = 1.5, 0.7, 0.5, 0.85
#: Places so far inside of another outline lie within it, mm.
_INSIDE_MM = 0.8
#: A step is taken over this share of what is seen of a side, and over so much at the least, mm.
_OF_SIDE, _LEAST_DEEP_MM = 0.5, 0.6


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


def deep_for(side_mm: np.ndarray | float) -> np.ndarray:
    """Over how many mm a step is taken where so much is seen of a solid's sides: less than that; where none is, as usual."""
    return np.where(np.isfinite(side_mm), np.clip(_OF_SIDE * np.asarray(side_mm), _LEAST_DEEP_MM, DEEP_MM), DEEP_MM)


def rated(picture: EdgePicture, solids: Sequence[tuple[str, np.ndarray]], pose: Pose, height_mm: float) -> list[SolidSeen]:
    """How much of the edges of each is there; solids: kind and numbers."""
    kinds = [kind for kind, _ in solids]
    looks = {
        kind: iter(seen_of_each(kind, np.array([values for own, values in solids if own == kind]), pose, height_mm)) for kind in set(kinds)
    }
    every = [next(looks[kind]) for kind in kinds]
    deep = deep_for(np.array([curves.side_mm for curves in every])).tolist()
    outer = asked_of_each(picture, [(c.silhouette.places, c.silhouette.outward) for c in every], _WINDOW_MM, deep)
    standing = [n for n, c in enumerate(every) if c.top is not None and c.is_within.any()]
    within = [(c.top.places[c.is_within], c.top.outward[c.is_within]) for c in (every[n] for n in standing) if c.top is not None]
    deeps = [deep[n] for n in standing]
    inner = asked_of_each(picture, within, _WINDOW_MM, deeps)
    # a top's edge that is not seen may be lit as its side is; but another step just inside it says that the top ends there
    inside = [(places - outward * (_BELIES_MM / 2 + _ON_MM), outward) for places, outward in within]
    further = asked_of_each(picture, inside, _BELIES_MM / 2, deeps)
    tops = {n: (inner[k], further[k]) for k, n in enumerate(standing)}
    return [_told(picture, *solids[n], every[n], outer[n], tops.get(n)) for n in range(len(solids))]


def rated_clear(picture: EdgePicture, solids: Sequence[tuple[str, np.ndarray]], pose: Pose, height_mm: float) -> list[SolidSeen]:
    """The same of clear round things: of the circles of their rim, and of their foot (as what is seen outermost)."""
    every = [seen_of(kind, values, pose, height_mm) for kind, values in solids]
    many = [standing(kind, values[None], pose, height_mm) for kind, values in solids]
    found = []
    for (kind, values), curves, one in zip(solids, every, many, strict=True):
        rim, foot = asked_of_each(picture, [(one.top, one.outward), (one.base, one.outward)], _WINDOW_MM, [DEEP_MM] * 2)
        on_rim, on_foot = _on(rim), _on(foot)
        seen = float((on_rim.mean() + on_foot.mean()) / 2)
        found.append(SolidSeen(kind, values, curves, seen, float(on_rim.mean()), float(on_foot.mean()), _off(foot, on_foot)))
    return found


def _told(picture: EdgePicture, kind: str, values: np.ndarray, curves: Seen, outer: Asked, top: tuple[Asked, Asked] | None) -> SolidSeen:
    on_outer = _on(outer)
    if top is None or curves.top is None:
        seen = float(on_outer.mean())
        return SolidSeen(kind, values, curves, seen, seen, seen, _off(outer, on_outer))
    inner, further = top
    on_inner = _on(inner)
    least = _BELIES * float(np.median(outer.step[on_outer > HARDLY])) if (on_outer > HARDLY).any() else 0.0
    belied = np.where((on_inner < HARDLY) & (further.step > least), further.plain, 0.0)
    hardly, open_ = on_outer < HARDLY, (on_inner < HARDLY) & (belied < HARDLY)
    weight = [np.ones(len(on_outer)), np.ones(len(on_inner))]
    if hardly.any() or open_.any():
        # the foot of a side in shadow is not told from the shadow
        of_foot = outside(curves.top.places, curves.silhouette.places) > _INSIDE_MM
        weight[0][of_foot & hardly] = FOOT_UNSEEN
        # a shadow that begins at a side's foot lies on the side away from the light, and that side is darker than the top
        is_shaded = False
        if open_.any() and of_foot.any():
            is_shaded = float(is_dark_outside(picture, outer.places[of_foot], outer.outward[of_foot]).mean()) > _SHADED
        weight[1][open_ & (not is_shaded)] = _TOP_UNSEEN
    value = np.concatenate([on_outer, on_inner - belied])
    all_weight = np.concatenate(weight)
    seen = float(value @ all_weight / all_weight.sum())
    return SolidSeen(kind, values, curves, seen, float((on_inner - belied).mean()), float(on_outer.mean()), _off(outer, on_outer))


def is_dark_outside(picture: EdgePicture, places: np.ndarray, outward: np.ndarray) -> np.ndarray:
    """(n,) of places (n, 2), mm: whether it is much darker just outside of them than just inside, and than the ground is in light."""
    beside = places + _BESIDE_MM * outward
    outer, inner = (picture.flat.value_at(picture.levels, at).mean(axis=1) for at in (beside, places - _BESIDE_MM * outward))
    is_dark = outer < _MUCH_DARKER * inner
    return np.asarray(is_dark if picture.shade is None else is_dark & (picture.shade.at(beside) < _SHADED_LEFT))


def _on(looked: Asked) -> np.ndarray:
    return np.where(np.abs(looked.offset) <= _ON_MM, looked.plain * np.exp(-0.5 * (looked.offset / _NEAR_MM) ** 2), 0.0)


def _off(looked: Asked, on: np.ndarray) -> float:
    return float(np.sqrt(np.mean(looked.offset[on > SEEN] ** 2))) if (on > SEEN).any() else float("inf")
