"""Light straight from a source: Lambert's formula times the share of the source that is seen, weighed as it counts there."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..tolerances import LIFTED_MM, SAME_NUMBER
from .casters import Casters
from .lit_face import LitFace, area_of, in_beam, samples_of, unhindered, weights_of
from .rays import passing
from .sources import Source, sun_samples

#: Of a source so many places a side are looked at from a point.
FINE = 12
#: A face with nothing before it is worked out with so many, where its beam ends.
_BEAM_SIDE = 12
_NONE: frozenset[int] = frozenset()
#: The sun's disc is taken as wide as this (sine of the half angle), and what stands so near a ray, mm, as in its way.
_SUN_SINE, _BESIDE_MM = 0.01, 4.0


def straight(
    casters: Casters,
    points: np.ndarray,
    normals: np.ndarray,
    source: Source,
    *,
    side: int = FINE,
    but: frozenset[int] = _NONE,
    hindered: bool = True,
) -> np.ndarray:
    """(n,) lux straight from one source on points (n, 3) facing normals (n, 3), unit. side: places a side of a face that are looked at;
    but: owners that are not there. Of the sky nothing: it is gathered."""
    starts = points + LIFTED_MM * normals
    if source.to_sun is not None:
        return _from_sun(casters, starts, normals, source, side, but, hindered)
    lux = np.zeros(len(points))
    for face in source.faces:
        whole = unhindered(points, normals, face, _BEAM_SIDE)
        asked = np.nonzero(whole > 0)[0]
        if hindered and len(asked):
            places = samples_of(face, side if len(source.faces) == 1 else 1)
            whole[asked] *= share_seen(casters, starts[asked], normals[asked], face, places, but)
        lux += whole
    return lux


def share_seen(
    casters: Casters, starts: np.ndarray, normals: np.ndarray, face: LitFace, places: np.ndarray, but: frozenset[int] = _NONE
) -> np.ndarray:
    """(n,) the share of a face's light that comes through to each start, by places (m, 3) of it, or (n, m, 3), each start's own."""
    weight = weights_of(starts, normals, face.out, places)
    inside = in_beam(starts, face, places)
    if inside is not None:
        weight = weight * inside
    came = weight * _through(casters, starts, places, weight > 0, but)
    whole = weight.sum(axis=1)
    return np.where(whole > 0, came.sum(axis=1) / np.maximum(whole, SAME_NUMBER**2), 1.0)  # type: ignore[no-any-return]


def _through(casters: Casters, starts: np.ndarray, places: np.ndarray, asked: np.ndarray, but: frozenset[int]) -> np.ndarray:
    """(n, m) the share that comes through from each place to each start, where it is asked (n, m)."""
    point, place = np.nonzero(asked)
    there = places[place] if places.ndim == 2 else places[point, place]
    ways = there - starts[point]
    far = np.linalg.norm(ways, axis=1)
    through = np.zeros(asked.shape)
    through[point, place] = passing(casters, starts[point], ways / far[:, None], far, but=but)
    return through


def _from_sun(
    casters: Casters, starts: np.ndarray, normals: np.ndarray, source: Source, side: int, but: frozenset[int], hindered: bool
) -> np.ndarray:
    assert source.to_sun is not None
    if source.sun_lux <= 0:
        return np.zeros(len(starts))
    ways = sun_samples(source.to_sun, side)
    falls = np.maximum(0.0, normals @ ways.T)
    if source.opening is not None:
        falls = falls * np.stack([source.opening.passes(starts, way) for way in ways], axis=1)
    through = np.ones(falls.shape)
    if hindered:
        point, way = np.nonzero(falls > 0)
        through[point, way] = passing(casters, starts[point], ways[way], np.full(len(point), np.inf), but=but)
    return source.sun_lux * (falls * through).mean(axis=1)  # type: ignore[no-any-return]


def glanced(
    casters: Casters, points: np.ndarray, normals: np.ndarray, source: Source, glances: int, turns: np.ndarray
) -> np.ndarray:
    """(n,) lux straight from one source on many points, each looking at a few places of it by its turn (n,), others than its neighbours:
    right in the mean over many."""
    starts = points + LIFTED_MM * normals
    if source.to_sun is not None:
        return _from_sun(casters, starts, normals, source, 2, _NONE, True)
    if len(source.faces) == 1:
        face = source.faces[0]
        lux = unhindered(points, normals, face, 3)
        lit = np.nonzero(lux > 0)[0]
        places = samples_of(face, FINE)
        own = places[_some(turns[lit], len(places), glances)]
        lux[lit] *= share_seen(casters, starts[lit], normals[lit], face, own)
        return lux
    light = np.array([area_of(face.polygon) * face.luminance for face in source.faces])
    middles = np.array([face.middle for face in source.faces])
    own = _some(turns, len(light), glances)
    weight = weights_of(starts, normals, source.faces[0].out, middles[own]) * light[own]
    came = weight * _through(casters, starts, middles[own], weight > 0, _NONE)
    return len(light) / own.shape[1] * came.sum(axis=1)  # type: ignore[no-any-return]


def _some(turns: np.ndarray, count: int, glances: int) -> np.ndarray:
    """(n, glances') which of so many places each turn looks at, evenly over them."""
    stride = max(1, count // glances)
    return turns[:, None] % stride + stride * np.arange(count // stride)[None]


def ball_of(polygons: Sequence[np.ndarray]) -> np.ndarray:
    """(4,) a ball round polygons (k, 3); of none, nothing."""
    if not polygons:
        return np.zeros(4)
    corners = np.concatenate(polygons)
    middle = (corners.min(axis=0) + corners.max(axis=0)) / 2
    return np.append(middle, np.linalg.norm(corners - middle, axis=1).max())


def in_way(balls: np.ndarray, points: np.ndarray, to_sun: np.ndarray | None, of: np.ndarray) -> np.ndarray:
    """(n,) whether one of balls (k, 4) may stand between points (n, 3) and the sun, or what a ball (4,) holds: whether it touches the cone
    from each point that holds them. What is near its point or just beside is counted in."""
    far = np.full(len(points), np.inf)
    axis = np.broadcast_to(to_sun, points.shape) if to_sun is not None else of[:3] - points
    sine = np.full(len(points), _SUN_SINE)
    if to_sun is None:
        far = np.linalg.norm(axis, axis=1)
        axis = axis / np.maximum(far, SAME_NUMBER)[:, None]
        sine = np.minimum(of[3] / np.maximum(far, SAME_NUMBER), 1.0)
    cosine, found = np.sqrt(1 - sine**2), np.zeros(len(points), dtype=bool)
    for x, y, z, radius in balls:
        to = np.array([x, y, z]) - points
        along = (to * axis).sum(axis=1)
        aside = np.sqrt(np.maximum((to**2).sum(axis=1) - along**2, 0.0))
        reach = radius + _BESIDE_MM
        within = (aside * cosine - along * sine <= reach) & (along >= -reach) & (along - reach <= far + of[3])
        found |= within | (sine >= 1.0)
    return found
