"""Outlines of posed solids as the frame sees them.

A convex part's silhouette is the hull of its projected points. Circles add their four extreme points, and spheres their
true tangent circles, so that the bounds are exact and not those of a polygon inside.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..plane.hull import hull_of
from ..remember import remembered
from ..shapes.solid import UNIT_CIRCLE
from ..solids.body import Body, prism_outline
from ..tolerances import NEAR_DEPTH_MM
from .view import View


@dataclass(frozen=True, eq=False, slots=True)
class Silhouette:
    """One thing in the frame. ``outline`` in fractions of the frame; ``pieces``: the same, piece by piece for strewn things.

    depth: nearest and furthest axial distance of the solid from the entrance pupil, mm; sharp_depth: the same as what is sharp is judged by
    (``View.sharp_depths``).
    """

    is_remembered: ClassVar[bool] = True
    body: Body
    outline: BaseGeometry
    pieces: tuple[BaseGeometry, ...]
    depth: tuple[float, float]
    sharp_depth: tuple[float, float]

    @property
    def box(self) -> tuple[float, float, float, float]:
        u0, v0, u1, v1 = self.outline.bounds
        return float(u0), float(v0), float(u1), float(v1)


def silhouettes(bodies: tuple[Body, ...], view: View) -> dict[str, Silhouette]:
    """The silhouette of each body by placement id; bodies not wholly in front of the lens are left out."""
    found = {body.id: silhouette_of(body, view) for body in bodies}
    return {i: silhouette for i, silhouette in found.items() if silhouette is not None}


@remembered(5)  # while one thing is moved, all others keep theirs
def silhouette_of(body: Body, view: View) -> Silhouette | None:
    """One body's silhouette; None when it is not wholly in front of the lens."""
    depths = _depth_range(body, view)
    if depths[0] <= NEAR_DEPTH_MM:
        return None
    sharp = _sharp_range(body, view, depths)
    if len(body.spheres):
        pieces = shapely.polygons(_sphere_outlines(body.spheres, view))
        outline = pieces[0] if len(pieces) == 1 else shapely.union_all(pieces)
        return Silhouette(body, outline, tuple(pieces), depths, sharp)
    if body.local.outline is not None:
        outline = view.bent_outline(prism_outline(view.straight(body.parts[0])[:, :2]))
        return Silhouette(body, outline, (outline,), depths, sharp)
    extremes = _circle_extremes(body.circles, view)
    hulls = []
    for k, part in enumerate(body.parts):
        own = extremes[body.local.circle_part == k].reshape(-1, 3)
        points = np.concatenate([part, own]) if len(own) else part
        hulls.append(hull_of(view.straight(points)[:, :2]))
    outline = view.bent_outline(hulls[0] if len(hulls) == 1 else shapely.union_all(hulls))
    return Silhouette(body, outline, (outline,), depths, sharp)


def circle_outline(circle: np.ndarray, view: View) -> BaseGeometry:
    """A circle in space (3, 3: centre and half-axes) as the frame sees it."""
    return shapely.polygons(view.project(circle[0] + UNIT_CIRCLE @ circle[1:])[:, :2])


def _depth_range(body: Body, view: View) -> tuple[float, float]:
    away = view.forward
    offset = float(away @ view.position)
    lows, highs = [], []
    for part in body.parts:
        depths = part @ away - offset
        lows.append(float(depths.min()))
        highs.append(float(depths.max()))
    if len(body.spheres):
        centres = body.spheres[:, :3] @ away - offset
        lows.append(float((centres - body.spheres[:, 3]).min()))
        highs.append(float((centres + body.spheres[:, 3]).max()))
    return min(lows), max(highs)


def _sharp_range(body: Body, view: View, depths: tuple[float, float]) -> tuple[float, float]:
    if view.hinge is None:
        behind = view.lens.pupil_behind
        return depths if behind == 0 else (depths[0] - behind, depths[1] - behind)
    sharp = view.sharp_depths(sharp_points(body, view))
    return float(sharp.min()), float(sharp.max())


def sharp_points(body: Body, view: View) -> np.ndarray:
    """(n, 3) points of a solid between which all of it lies for what is sharp: its corners; of balls six points each."""
    ways = np.stack([view.forward, view.right, view.up])
    around = [body.spheres[:, :3] + sign * body.spheres[:, 3:] * way for way in ways for sign in (-1, 1)] if len(body.spheres) else []
    return np.concatenate([*body.parts, *around])


def _circle_extremes(circles: np.ndarray, view: View) -> np.ndarray:
    """(k, 4, 3): on each circle the points that are outermost in u and in v.

    u(t) = (a0 + a1 cos t + a2 sin t) / (b0 + b1 cos t + b2 sin t); u' = 0 is P sin t + Q cos t + R = 0 with
    P = a0 b1 - a1 b0, Q = a2 b0 - a0 b2, R = a2 b1 - a1 b2.
    """
    if len(circles) == 0:
        return np.empty((0, 4, 3))
    matrix = view.matrix
    homogeneous = circles @ matrix[:, :3].T
    homogeneous[:, 0] += matrix[:, 3]
    b0, b1, b2 = homogeneous[:, 0, 2], homogeneous[:, 1, 2], homogeneous[:, 2, 2]
    angles = []
    for row in (0, 1):
        a0, a1, a2 = homogeneous[:, 0, row], homogeneous[:, 1, row], homogeneous[:, 2, row]
        p, q, r = a0 * b1 - a1 * b0, a2 * b0 - a0 * b2, a2 * b1 - a1 * b2
        size = np.hypot(p, q)
        spread = np.arccos(np.clip(-r / np.where(size > 0, size, 1.0), -1.0, 1.0))
        middle = np.arctan2(p, q)
        angles += [middle + spread, middle - spread]
    t = np.stack(angles, axis=1)
    return circles[:, None, 0] + np.cos(t)[..., None] * circles[:, None, 1] + np.sin(t)[..., None] * circles[:, None, 2]


def _sphere_outlines(spheres: np.ndarray, view: View) -> np.ndarray:
    """(s, n, 2): the circle along which the cone of sight touches each sphere, in the frame.

    From the eye, a sphere of radius r at distance d is touched on a circle r^2/d before its centre, of radius r sqrt(1 - r^2/d^2).
    """
    toward = spheres[:, :3] - view.position
    distance = np.linalg.norm(toward, axis=1, keepdims=True)
    direction = toward / distance
    radius = spheres[:, 3:4]
    centre = spheres[:, :3] - direction * radius**2 / distance
    ring = radius * np.sqrt(np.clip(1 - (radius / distance) ** 2, 0.0, 1.0))
    helper = np.where(np.abs(direction[:, 2:3]) > 0.9, np.array([[1.0, 0, 0]]), np.array([[0.0, 0, 1.0]]))
    first = np.cross(direction, helper)
    first /= np.linalg.norm(first, axis=1, keepdims=True)
    circles = np.stack([centre, first * ring, np.cross(direction, first) * ring], axis=1)
    chords = UNIT_CIRCLE if len(spheres) == 1 else UNIT_CIRCLE[:: len(UNIT_CIRCLE) // 24]
    sampled = circles[:, None, 0] + chords @ circles[:, 1:]
    if len(spheres) == 1:  # exact bounds matter for one large ball, not for crumbs
        extremes = _circle_extremes(circles, view)
        sampled = np.concatenate([sampled, extremes], axis=1)
        offset = sampled - circles[:, None, 0]
        around = np.arctan2((offset * circles[:, None, 2]).sum(2), (offset * circles[:, None, 1]).sum(2))
        sampled = np.take_along_axis(sampled, np.argsort(around, axis=1)[..., None], axis=1)
    return view.project(sampled)[..., :2]
