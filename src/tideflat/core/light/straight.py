"""Light straight from a source: Lambert's formula times the share of the source that is seen, weighed as it counts there."""

from __future__ import annotations

import numpy as np

from ..tolerances import LIFTED_MM, SAME_NUMBER
from .lit_face import LitFace, area_of, in_beam, samples_of, unhindered, weights_of
from .sources import Source, sun_samples
from .through import Through

#: Of a source so many places a side are looked at from a point.
FINE = 12
#: A face with nothing before it is worked out with so many, where its beam ends.
_BEAM_SIDE = 12
#: Places of the sun's disc a side that are glanced at.
_SUN_GLANCED = 2


def straight(
    through: Through, points: np.ndarray, normals: np.ndarray, source: Source, *, side: int = FINE, hindered: bool = True
) -> np.ndarray:
    """(n,) lux straight from one source on points (n, 3) facing normals (n, 3), unit, with what comes ``through``. side: places a side of a
    face that are looked at. Of the sky nothing: it is gathered."""
    starts = points + LIFTED_MM * normals
    if source.to_sun is not None:
        return _from_sun(through, starts, normals, source, side, hindered)
    lux = np.zeros(len(points))
    each = side if len(source.faces) == 1 else 1
    through.hold(len(points), len(source.faces) * each**2)
    for k, face in enumerate(source.faces):
        whole = unhindered(points, normals, face, _BEAM_SIDE)
        asked = np.nonzero(whole > 0)[0]
        if hindered and len(asked):
            places = samples_of(face, each)
            whole[asked] *= share_seen(through, starts[asked], normals[asked], face, places, asked, k * each**2)
        lux += whole
    return lux


def share_seen(
    through: Through,
    starts: np.ndarray,
    normals: np.ndarray,
    face: LitFace,
    places: np.ndarray,
    rows: np.ndarray,
    first: int | np.ndarray = 0,
) -> np.ndarray:
    """(n,) the share of a face's light that comes through to each start, by places (m, 3) of it, or (n, m, 3), each start's own. rows: (n,)
    which of the points that ``through`` holds each start is; first: which of its places is the first, of each start or of all."""
    weight = weights_of(starts, normals, face.out, places)
    inside = in_beam(starts, face, places)
    if inside is not None:
        weight = weight * inside
    came = weight * _shares(through, starts, places, weight > 0, rows, first)
    whole = weight.sum(axis=1)
    return np.where(whole > 0, came.sum(axis=1) / np.maximum(whole, SAME_NUMBER**2), 1.0)  # type: ignore[no-any-return]


def _shares(
    through: Through, starts: np.ndarray, places: np.ndarray, asked: np.ndarray, rows: np.ndarray, first: int | np.ndarray = 0
) -> np.ndarray:
    """(n, m) the share that comes through from each place to each start, where it is asked (n, m)."""
    point, place = np.nonzero(asked)
    there = places[place] if places.ndim == 2 else places[point, place]
    ways = there - starts[point]
    far = np.linalg.norm(ways, axis=1)
    found = np.zeros(asked.shape)
    number = np.broadcast_to(first, len(rows))[point] + place
    found[point, place] = through.ask(rows[point], number, starts[point], ways / far[:, None], far)
    return found


def _from_sun(through: Through, starts: np.ndarray, normals: np.ndarray, source: Source, side: int, hindered: bool) -> np.ndarray:
    assert source.to_sun is not None
    through.hold(len(starts), side * side)
    if source.sun_lux <= 0:
        return np.zeros(len(starts))
    ways = sun_samples(source.to_sun, side)
    falls = np.maximum(0.0, normals @ ways.T)
    if source.opening is not None:
        falls = falls * np.stack([source.opening.passes(starts, way) for way in ways], axis=1)
    shares = np.ones(falls.shape)
    if hindered:
        point, way = np.nonzero(falls > 0)
        shares[point, way] = through.ask(point, way, starts[point], ways[way], np.full(len(point), np.inf))
    return source.sun_lux * (falls * shares).mean(axis=1)  # type: ignore[no-any-return]


def glanced(through: Through, points: np.ndarray, normals: np.ndarray, source: Source, glances: int, turns: np.ndarray) -> np.ndarray:
    """(n,) lux straight from one source on many points, each looking at a few places of it by its turn (n,), others than its neighbours:
    right in the mean over many."""
    starts = points + LIFTED_MM * normals
    if source.to_sun is not None:
        return _from_sun(through, starts, normals, source, _SUN_GLANCED, True)
    if len(source.faces) == 1:
        face = source.faces[0]
        lux = unhindered(points, normals, face, 3)
        lit = np.nonzero(lux > 0)[0]
        places = samples_of(face, FINE)
        own = places[_some(turns[lit], len(places), glances)]
        through.hold(len(points), own.shape[1])
        lux[lit] *= share_seen(through, starts[lit], normals[lit], face, own, lit)
        return lux
    if not source.faces:  # a lamp turned away from its sheet
        through.hold(len(points), 0)
        return np.zeros(len(points))
    light = np.array([area_of(face.polygon) * face.luminance for face in source.faces])
    middles = np.array([face.middle for face in source.faces])
    own = _some(turns, len(light), glances)
    through.hold(len(points), own.shape[1])
    weight = weights_of(starts, normals, source.faces[0].out, middles[own]) * light[own]
    came = weight * _shares(through, starts, middles[own], weight > 0, np.arange(len(points)))
    return len(light) / own.shape[1] * came.sum(axis=1)  # type: ignore[no-any-return]


def _some(turns: np.ndarray, count: int, glances: int) -> np.ndarray:
    """(n, glances') which of so many places each turn looks at, evenly over them."""
    stride = max(1, count // glances)
    return turns[:, None] % stride + stride * np.arange(count // stride)[None]
