"""A plain solid fitted to a thing's silhouette: upright disc, oval, rectangle, straight taper or ball, of known height.

What is seen on the sheet's plane is the solid's outline thrown there from the lens: its foot as it is, its top scaled about the foot of the
lens. The sides that are seen aslant are so part of what is fitted, and what a shadow adds to a part of the outline is left out as an
outlier.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import shapely
from shapely.affinity import scale

from ..tolerances import ROUNDING
from .pose import Pose

#: Corners of a round outline; places of the silhouette that are fitted to.
_CORNERS, _PLACES = 56, 140
#: A place within this of the fitted outline, mm, is on it; so it counts little when it is further than the second.
_ON_MM, _SCALE_MM = 0.9, 0.6
#: Slopes are taken over such a share of a value.
_STEP = 1 / 4096
#: A shape is taken when so many places lie on it; a plainer one when it is as good but for this share.
_LEAST_ON = {"disc": 0.72, "ball": 0.72, "taper": 0.72, "rectangle": 0.86, "oval": 0.95}
_PLAINER, _OVAL_MM = 0.03, 0.3
#: A fitted shape covers about what was seen to be covered: of a taper and a ball that is less than they do.
_COVERS = {"disc": (0.85, 1.2), "ball": (0.8, 6.0), "taper": (0.8, 3.0), "rectangle": (0.88, 1.12), "oval": (0.9, 1.1)}
#: What is round and lies on so many places, so well, mm, needs no other witness.
_SETTLED, _SETTLED_MM, _EXACT = 0.8, 0.4, 0.97
#: A ball is about as high as it is wide.
_AS_HIGH = 0.3


@dataclass(frozen=True, eq=False, slots=True)
class Fitted:
    """kind: ``disc``, ``oval``, ``rectangle``, ``taper``, ``ball``. footprint: what it covers from above, mm on the sheet's plane. values:
    diameter, or width and depth, or top and base, mm. on: share of the silhouette's places that lie on it; error_mm: what its sizes may
    be off by as far as the fit tells."""

    kind: str
    footprint: shapely.Polygon
    values: tuple[float, ...]
    on: float
    error_mm: float

    def as_value(self) -> dict[str, Any]:
        """As plain JSON values: its kind, and its sizes by their names, mm."""
        names = {"rectangle": ("width", "depth"), "oval": ("width", "depth"), "taper": ("top_diameter", "base_diameter")}
        return {"kind": self.kind} | {name: round(v, 1) for name, v in zip(names.get(self.kind, ("diameter",)), self.values, strict=True)}

    @property
    def is_exact(self) -> bool:
        """Whether hardly a place of the silhouette lies off it."""
        return self.on >= _EXACT and self.error_mm <= _SETTLED_MM

    @property
    def settles_edges(self) -> bool:
        """Whether it tells the outline where its edge is soft: what is round cannot be larger on one side only."""
        return self.kind in ("disc", "ball", "taper") and self.on >= _SETTLED and self.error_mm <= _SETTLED_MM


def fitted(seen: shapely.Polygon, pose: Pose, height_mm: float) -> Fitted | None:
    """The plainest solid of that height whose silhouette lies on ``seen`` nearly all round; None for what is none of them."""
    ring = shapely.Polygon(seen.exterior).exterior
    places = shapely.get_coordinates(shapely.line_interpolate_point(ring, np.linspace(0, 1, _PLACES, endpoint=False), normalized=True))
    k = pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    eye = np.array([*pose.eye[:2]], dtype=float)
    hull = seen.convex_hull
    foot = hull.intersection(scale(hull, 1 / k, 1 / k, origin=(float(eye[0]), float(eye[1])))) if k > 1 else hull
    if foot.geom_type != "Polygon" or foot.is_empty:
        return None
    (cx, cy), (a, b), angle = cv2.minAreaRect(np.array(foot.exterior.coords, dtype=np.float32))
    middle, size = np.array([cx, cy]), np.array([a, b])
    tries: list[tuple[str, np.ndarray, Callable[[np.ndarray], np.ndarray]]] = [
        ("disc", np.array([*middle, float(size.mean())]), lambda v: _two(_disc(v[:2], v[2], v[2], 0.0), eye, k)),
        ("rectangle", np.array([*middle, *size, np.radians(angle)]), lambda v: _two(_box(v), eye, k)),
        ("oval", np.array([*middle, *size, np.radians(angle)]), lambda v: _two(_disc(v[:2], v[2], v[3], v[4]), eye, k)),
    ]
    if height_mm > _AS_HIGH * min(a, b):
        narrow = np.array([*middle, min(size), 0.8 * min(size)])
        tries.append(("taper", narrow, lambda v: _taper(v, eye, k)))
        tries.append(("ball", np.array([*middle, height_mm]), lambda v: _ball(v, pose)))
    found = [one for kind, start, outline in tries if (one := _one(kind, start, outline, places)) is not None and _is_it(one, foot)]
    best = max((f.on for f in found), default=0.0)
    order = ("disc", "ball", "rectangle", "taper", "oval")
    return min((f for f in found if f.on >= best - _PLAINER), key=lambda f: order.index(f.kind), default=None)


def _is_it(one: Fitted, foot: shapely.Polygon) -> bool:
    low, high = _COVERS[one.kind]
    if one.kind == "oval" and one.error_mm > _OVAL_MM:
        return False  # a leaf is nearly one
    return one.on >= _LEAST_ON[one.kind] and low * foot.area <= one.footprint.area <= high * foot.area


def _one(kind: str, start: np.ndarray, outline: Callable[[np.ndarray], np.ndarray], places: np.ndarray) -> Fitted | None:
    from scipy.optimize import least_squares  # takes a while to load, and is needed once a photograph

    def off(values: np.ndarray) -> np.ndarray:
        return _off(outline(values), places)

    height = start[2]
    sizes = slice(2, 4) if kind in ("rectangle", "oval", "taper") else slice(2, 3)
    result = least_squares(
        off, start, loss="cauchy", f_scale=_SCALE_MM, x_scale=np.where(np.arange(len(start)) == 4, 0.02, 1.0), diff_step=_STEP, max_nfev=60
    )
    values = result.x
    if (values[sizes] <= 1.0).any() or (kind == "ball" and abs(values[2] / height - 1) > _AS_HIGH):
        return None
    left = off(values)
    on = np.abs(left) <= _ON_MM
    error = float(np.sqrt(np.mean(left[on] ** 2))) if on.any() else np.inf
    turn = values[4] if len(values) > 4 else 0.0
    if kind == "rectangle":
        foot = _box(values)
    elif kind == "oval":
        foot = _disc(values[:2], values[2], values[3], turn)
    else:
        foot = _disc(values[:2], float(values[sizes].max()), float(values[sizes].max()), 0.0)
    return Fitted(kind, shapely.Polygon(foot), tuple(float(v) for v in values[sizes]), float(on.mean()), error)


def _off(hull: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n,) how far places (n, 2) lie outside a convex outline (m, 2), counter-clockwise, mm; inside less than 0."""
    along = np.roll(hull, -1, axis=0) - hull
    length = np.maximum(np.linalg.norm(along, axis=1), ROUNDING)
    out = np.column_stack([along[:, 1], -along[:, 0]]) / length[:, None]
    beyond = places @ out.T - (hull * out).sum(axis=1)
    side = beyond.argmax(axis=1)
    plane = beyond[np.arange(len(places)), side]
    # beyond a corner the corner is nearest
    t = ((places - hull[side]) * along[side]).sum(axis=1) / length[side] ** 2
    nearest = hull[side] + np.clip(t, 0, 1)[:, None] * along[side]
    return np.where((plane > 0) & ((t < 0) | (t > 1)), np.linalg.norm(places - nearest, axis=1), plane)


def _hull(points: np.ndarray) -> np.ndarray:
    found = points[cv2.convexHull(points.astype(np.float32), returnPoints=False)[:, 0]]  # as exact as they came
    area = float((found[:, 0] * np.roll(found[:, 1], -1) - np.roll(found[:, 0], -1) * found[:, 1]).sum())
    return found if area > 0 else found[::-1]


def _two(foot: np.ndarray, eye: np.ndarray, k: float) -> np.ndarray:
    """The silhouette of an upright prism: its foot, and its top as it is thrown on the plane."""
    return foot if k == 1 else _hull(np.concatenate([foot, eye + k * (foot - eye)]))


def _disc(middle: np.ndarray, wide: float, deep: float, turn: float) -> np.ndarray:
    t = np.linspace(0, 2 * np.pi, _CORNERS, endpoint=False)
    c, s = np.cos(turn), np.sin(turn)
    # as large as the circle on the mean: corners a little outside it
    grown = 1 / np.cos(np.pi / _CORNERS) ** 0.5
    own = grown * np.column_stack([np.cos(t) * wide / 2, np.sin(t) * deep / 2])
    return middle + own @ np.array([[c, s], [-s, c]])  # type: ignore[no-any-return]


def _box(values: np.ndarray) -> np.ndarray:
    x, y, wide, deep, turn = values
    c, s = np.cos(turn), np.sin(turn)
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * [wide / 2, deep / 2]
    return np.array([x, y]) + corners @ np.array([[c, s], [-s, c]])  # type: ignore[no-any-return]


def _taper(values: np.ndarray, eye: np.ndarray, k: float) -> np.ndarray:
    x, y, top, base = values
    middle = np.array([x, y])
    return _hull(np.concatenate([_disc(middle, base, base, 0.0), eye + k * (_disc(middle, top, top, 0.0) - eye)]))


def _ball(values: np.ndarray, pose: Pose) -> np.ndarray:
    """Where the cone of rays that touch it meets the plane."""
    x, y, wide = values
    radius = wide / 2
    to = np.array([x, y, radius]) - pose.eye
    far = float(np.linalg.norm(to))
    way = to / far
    aside = np.cross(way, [0.0, 0, 1] if abs(way[2]) < 0.99 else [0.0, 1, 0])
    aside = aside / np.linalg.norm(aside)
    across = np.cross(way, aside)
    lean = np.arcsin(min(0.99, radius / far))
    t = np.linspace(0, 2 * np.pi, _CORNERS, endpoint=False)
    rays = np.cos(lean) * way + np.sin(lean) * (np.cos(t)[:, None] * aside + np.sin(t)[:, None] * across)
    rays = np.where(rays[:, 2:] < -0.02, rays, rays * [1, 1, 0] + [0, 0, -0.02])
    return _hull(pose.eye[:2] - pose.eye[2] / rays[:, 2:] * rays[:, :2])
