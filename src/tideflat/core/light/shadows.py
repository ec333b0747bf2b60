"""Where a thing's shadow lies on the surface: its core, where no point of the light is seen, and its edge, where not all of it is.

By tangent rays. A convex light S and a convex caster C: the edge is the level cut of ``{(1 + k) c - k s}``, which is convex and spanned by
the corners of both, so it is the hull of the corners of C thrown by the corners of S; the core is what is common to the shadows thrown by
the corners of S, since all of S is hidden only where all its corners are. A thing of several convex parts throws the union of theirs; its
core is what is common to such unions over the light's corners and places between them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..facts.light import SUN_DISC
from ..plane.hull import hull_of
from ..shapes.solid import UNIT_CIRCLE
from ..solids.body import Body
from ..solids.pieces import convex_bodies
from ..tolerances import CONTACT_MM, PARALLEL
from .form_factor import frame_of, frames_of
from .sources import Source

#: What is thrown further than this (mm) is cut there: light along the table throws shadows that never end.
FURTHEST_MM = 20_000.0
#: Ways to the sun's rim, and points of the ring along which a ball is touched.
_RIM, _TOUCHED = 24, 48
#: Round faces of lights throw from every so many of their corners for what is strewn.
_COARSE = 4
#: Rings of fewer square millimetres than this are none.
_LEAST_AREA = CONTACT_MM**2

_NONE = shapely.Polygon()


@dataclass(frozen=True, eq=False, slots=True)
class Shadow:
    """core, edge: areas on the level plane; the edge holds the core."""

    core: BaseGeometry
    edge: BaseGeometry


def shadow_of(body: Body, source: Source, level_mm: float = 0.0) -> Shadow:
    """The shadow that a thing throws on the level plane at ``level_mm``, by one light; what its foot covers there included. Nothing where
    the light is under the plane, or is an even sky."""
    corners = _corners_of(source, level_mm, coarse=body.shape.is_strewn)
    if corners is None or body.z_max <= level_mm:
        return Shadow(_NONE, _NONE)
    balls = [s for s in body.spheres if s[2] + s[3] > level_mm]
    parts = [] if balls else [_above(part, level_mm) for piece in convex_bodies(body) for part in piece.parts]
    parts = [part for part in parts if len(part) > 2]
    if not balls and not parts:
        return Shadow(_NONE, _NONE)
    thrown: list[list[BaseGeometry]] = []  # one list of areas a corner of the light
    edges: list[BaseGeometry] = []
    for part in parts:
        rays = [_thrown(part, corner, level_mm, source) for corner in corners]
        thrown.append([hull_of(r) for r in rays])
        edges.append(hull_of(np.concatenate(rays)))
    for ball in balls:
        touched = [touched_by(ball[None], corner, is_sun=source.to_sun is not None)[0] for corner in corners]
        rays = [_thrown(points, corner, level_mm, source) for points, corner in zip(touched, corners, strict=True)]
        thrown.append([hull_of(r) for r in rays])
        edges.append(hull_of(np.concatenate(rays)))
    by_corner = [shapely.union_all([by_part[k] for by_part in thrown]) for k in range(len(corners))]
    core = by_corner[0]
    for other in by_corner[1:]:
        core = core.intersection(other)
        if core.is_empty:
            break
    return Shadow(_kept(core), _kept(shapely.union_all(edges)))


def rings_of(area: BaseGeometry) -> list[list[list[float]]]:
    """Outlines of an area, to a thousandth of a millimetre, holes left out."""
    return [
        [[round(float(x), 3), round(float(y), 3)] for x, y in np.array(part.exterior.coords)[:-1]]
        for part in shapely.get_parts(area)
        if part.geom_type == "Polygon"
    ]


def _kept(area: BaseGeometry) -> BaseGeometry:
    parts = [p for p in shapely.get_parts(area) if p.geom_type == "Polygon" and p.area > _LEAST_AREA]
    return shapely.union_all(parts) if parts else _NONE


def _corners_of(source: Source, level_mm: float, *, coarse: bool) -> np.ndarray | None:
    """(k, 3) corners of what of the light stands above the plane, or unit ways to the rim of the sun; None where there is none."""
    if source.to_sun is not None:
        if source.to_sun[2] <= PARALLEL or source.sun_lux <= 0:
            return None
        along, upward, _ = frame_of(source.to_sun)
        angles = np.linspace(0, 2 * np.pi, _RIM, endpoint=False)[:: _COARSE if coarse else 1]
        half = math.tan(math.radians(SUN_DISC.value / 2))
        ways = source.to_sun + half * (np.cos(angles)[:, None] * along + np.sin(angles)[:, None] * upward)
        ways = ways / np.linalg.norm(ways, axis=1, keepdims=True)
        return ways[ways[:, 2] > PARALLEL] if (ways[:, 2] > PARALLEL).any() else None
    if source.outline is None:
        return None
    outline = source.outline
    if len(outline) > 4 and coarse:
        outline = outline[::_COARSE]
    cut = _above(outline, level_mm + CONTACT_MM)
    return cut if len(cut) > 2 else None


def _above(points: np.ndarray, level_mm: float) -> np.ndarray:
    """Points that span what of a convex set lies above a level: those above it, and where ways between two of them cross it."""
    above = points[:, 2] >= level_mm
    if above.all():
        return points
    if not above.any():
        return points[:0]
    high, low = points[above], points[~above]
    share = (level_mm - low[None, :, 2]) / (high[:, None, 2] - low[None, :, 2])
    crossing = low[None] + share[..., None] * (high[:, None] - low[None])
    return np.concatenate([high, crossing.reshape(-1, 3)])


def _thrown(points: np.ndarray, corner: np.ndarray, level_mm: float, source: Source) -> np.ndarray:
    """(m, 2) where points (n, 3) are thrown on the plane by one place of the light; far away where they never arrive."""
    height = points[:, 2] - level_mm
    if source.to_sun is not None:
        return points[:, :2] - height[:, None] * (corner[:2] / corner[2])  # type: ignore[no-any-return]
    fall = corner[2] - points[:, 2]
    way = points[:, :2] - corner[:2]
    lands = fall > 0
    found = points[lands, :2] + (height[lands] / fall[lands])[:, None] * way[lands]
    # What is as high as the light or higher: along its way from the light, so far that nobody asks.
    size = np.maximum(np.linalg.norm(way, axis=1, keepdims=True), PARALLEL)
    for_ever = points[~lands, :2] + FURTHEST_MM * (way / size)[~lands]
    foot = points[~lands, :2]
    found = np.concatenate([found, for_ever, foot])
    off = found - points[:, :2].mean(axis=0)
    far = np.linalg.norm(off, axis=1, keepdims=True)
    return points[:, :2].mean(axis=0) + off * np.minimum(1.0, FURTHEST_MM / np.maximum(far, PARALLEL))  # type: ignore[no-any-return]


def touched_by(balls: np.ndarray, corner: np.ndarray, *, is_sun: bool) -> np.ndarray:
    """(b, _TOUCHED, 3) where rays from one place of the light touch each of balls (b, 4): a circle, whose shadow is the ball's."""
    centre, radius = balls[:, :3], balls[:, 3:]
    to_light = np.tile(corner, (len(balls), 1)) if is_sun else corner - centre
    far = np.linalg.norm(to_light, axis=1, keepdims=True)
    along, upward, way = frames_of(to_light / np.maximum(far, PARALLEL)).swapaxes(0, 1)
    sine = np.zeros_like(radius) if is_sun else np.minimum(1.0, radius / np.maximum(far, radius))
    middle, size = centre + radius * sine * way, radius * np.sqrt(1 - sine**2)
    ring = UNIT_CIRCLE[:: len(UNIT_CIRCLE) // _TOUCHED, None, None]
    return (middle + size * (ring[..., 0] * along + ring[..., 1] * upward)).swapaxes(0, 1)  # type: ignore[no-any-return]
