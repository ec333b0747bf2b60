"""The few numbers by which a light is judged: how bright, which is the key, how much is filled, how it falls off, and how warm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely

from ..facts.light import LUX_AT_A_METRE, SUN_DISC
from ..plane.hull import hull_of
from ..solids.body import Body
from ..tolerances import NO_LIGHT_LUX, SAME_NUMBER
from .falling import LUMINANCE, Lighting
from .planckian import kelvin_of_rgb
from .sources import Source

UP = np.array([0.0, 0.0, 1.0])
#: Upright faces all round.
_ROUND_ABOUT = np.array([[math.cos(a), math.sin(a), 0.0] for a in np.radians(np.arange(0, 360, 15))])
#: Falloff is read at so many places a side of the bounds of what stands there.
_STEPS = 24


def stops_of(lux: float) -> float | None:
    """Against 1 000 lux on a level face; None where no light comes."""
    return math.log2(lux / LUX_AT_A_METRE.value) if lux > NO_LIGHT_LUX else None


def highest_point(body: Body) -> np.ndarray:
    """(3,) mm: of what ends in a level top its middle, else the highest corner or pole."""
    if len(body.spheres):
        x, y, z, radius = body.spheres[int(np.argmax(body.spheres[:, 2] + body.spheres[:, 3]))]
        return np.array([x, y, z + radius])
    points = np.concatenate([*body.parts, *(body.circles[:, 0] + body.circles[:, k] * sign for k in (1, 2) for sign in (1, -1))])
    top = points[points[:, 2] >= points[:, 2].max() - SAME_NUMBER**0.5]
    return np.array([*((top[:, :2].max(axis=0) + top[:, :2].min(axis=0)) / 2), points[:, 2].max()])


@dataclass(frozen=True, slots=True)
class AtPoint:
    """stops against 1 000 lux on a level face, None where no light comes; by: the same of each light that is on, a bounce to its light."""

    at: tuple[float, float, float]
    stops: float | None
    by: dict[str, float | None]


def at_points(lighting: Lighting, points: np.ndarray) -> list[AtPoint]:
    """What falls on level faces at points (n, 3)."""
    normals = np.tile(UP, (len(points), 1))
    lux = lighting.falling(points, normals) @ LUMINANCE
    return [
        AtPoint(
            (float(p[0]), float(p[1]), float(p[2])),
            stops_of(float(lux[:, k].sum())),
            {source.id: stops_of(float(lux[j, k])) for j, source in enumerate(lighting.sources)},
        )
        for k, p in enumerate(points)
    ]


@dataclass(frozen=True, slots=True)
class AtHero:
    """key: the light that gives most at the hero; way: unit, level, toward it, None where it has none. lux: of each light there; kelvin: of
    all together. key_to_fill_stops: the upright face turned to the key against the one turned away."""

    key: str
    way: tuple[float, float] | None
    lux: dict[str, float]
    kelvin: float | None
    key_to_fill_stops: float | None


def at_hero(lighting: Lighting, hero_id: str) -> AtHero | None:
    """What the hero gets; None where no light comes to it."""
    body = lighting.bodies[hero_id]
    rgb = lighting.falling(highest_point(body)[None], UP[None])[:, 0]
    lux = rgb @ LUMINANCE
    middle = body.centroid
    own = lighting.owner("placement", hero_id)
    if len(lux) and lux.sum() <= NO_LIGHT_LUX:  # all of it comes from as low as its top, or lower
        rgb = lighting.falling(np.tile(middle, (len(_ROUND_ABOUT), 1)), _ROUND_ABOUT, but=own).mean(axis=1)
        lux = rgb @ LUMINANCE
    if not len(lux) or lux.sum() <= NO_LIGHT_LUX:
        return None
    k = int(np.argmax(lux))
    source = lighting.sources[k]
    way = key_way(lighting, k, middle, own)
    ratio = None
    if way is not None:
        turned = np.array([[*way, 0.0], [-way[0], -way[1], 0.0]])
        toward, away = (lighting.falling(np.tile(middle, (2, 1)), turned, but=own) @ LUMINANCE).sum(axis=0)
        ratio = math.log2(toward / away) if min(toward, away) > NO_LIGHT_LUX else None
    return AtHero(
        source.id, way, {s.id: float(v) for s, v in zip(lighting.sources, lux, strict=True)}, kelvin_of_rgb(rgb.sum(axis=0)), ratio
    )


def key_way(lighting: Lighting, k: int, middle: np.ndarray, own: frozenset[int]) -> tuple[float, float] | None:
    """Level, unit, toward the k-th source; where nothing of it comes straight, toward where its bounces come from. None where it comes from
    above all round."""
    source = lighting.sources[k]
    to = source.to_sun if source.to_sun is not None else None if source.middle is None else source.middle - middle
    if to is None or not _comes_straight(lighting, source, middle, own):
        lux = (lighting.falling(np.tile(middle, (len(_ROUND_ABOUT), 1)), _ROUND_ABOUT, but=own)[k] @ LUMINANCE)[:, None]
        to = (lux * _ROUND_ABOUT).sum(axis=0) if lux.max() - lux.min() > NO_LIGHT_LUX + 0.01 * lux.max() else np.zeros(3)
    size = math.hypot(to[0], to[1])
    if size <= 0.02 * float(np.linalg.norm(to)) or size < SAME_NUMBER:
        return None
    return float(to[0] / size), float(to[1] / size)


def _comes_straight(lighting: Lighting, source: Source, middle: np.ndarray, own: frozenset[int]) -> bool:
    to = source.to_sun if source.to_sun is not None else None if source.middle is None else source.middle - middle
    if to is None or not np.linalg.norm(to):
        return False
    facing = (to / np.linalg.norm(to))[None]
    return float(lighting.direct(middle[None], facing, source, but=own)[0]) > NO_LIGHT_LUX


def falloff_stops(lighting: Lighting) -> float | None:
    """Brightest against darkest level face over the hull of the things' feet, straight from the lights, no shadows counted."""
    feet = [
        np.array(body.footprint_hull.exterior.coords) for body in lighting.bodies.values() if body.footprint_hull.geom_type == "Polygon"
    ]
    if not feet:
        return None
    hull = hull_of(np.concatenate(feet))
    x0, y0, x1, y1 = hull.bounds
    grid = np.stack(np.meshgrid(np.linspace(x0, x1, _STEPS), np.linspace(y0, y1, _STEPS), indexing="ij"), axis=-1).reshape(-1, 2)
    rim = np.array(hull.exterior.coords)[:-1]
    flat = np.concatenate([grid[shapely.intersects_xy(hull, grid[:, 0], grid[:, 1])], rim])
    points = np.column_stack([flat, np.zeros(len(flat))])
    normals = np.tile(UP, (len(points), 1))
    lux = np.zeros(len(points))
    for source in lighting.sources:
        lux += source.sky_lux if source.sky_lux else lighting.direct(points, normals, source, hindered=False)
    return math.log2(float(lux.max() / lux.min())) if lux.min() > NO_LIGHT_LUX else None


def softness_deg(source: Source, place: np.ndarray) -> float | None:
    """How wide a light looks from a place, degrees across its larger side; None for an even sky."""
    if source.to_sun is not None:
        return SUN_DISC.value
    if source.outline is None:
        return None
    ways = source.outline - place
    ways = ways / np.linalg.norm(ways, axis=1, keepdims=True)
    return math.degrees(math.acos(max(-1.0, float((ways @ ways.T).min()))))
