"""What faces that shine show of the bright things about them: some ways about the mirrored one, as wide as their finish spreads them.

Microfacets of B. Walter et al., "Microfacet models for refraction through rough surfaces", EGSR 2007 (GGX, with the shadowing of B. Smith,
1967), their Fresnel share by C. Schlick, 1994. Half-widths are those of the proof (core/render/mitsuba_scene.py).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .falling import Lighting
from .form_factor import frames_of
from .lit_face import LitFace
from .mirrors import mirrored
from .rays import Met
from .sources import Source

#: Finishes by number: matt, gloss, metal, satin; half-widths of their lobes; what of the light straight on they mirror.
MATT, GLOSS, METAL, SATIN = 0, 1, 2, 3
ROUGHNESS = np.array([1.0, 0.08, 0.16, 0.28])
_STRAIGHT_ON = np.array([0.0, 0.04, 1.0, 0.04])
#: Ways about the mirrored one at each place; neighbours take others, so many in turn.
_WAYS, _TURNS = 2, 13
_GOLDEN = (np.sqrt(5) - 1) / 2
#: A face seen more aslant than this (cosine) is taken as seen at it.
_LEAST_COSINE = 0.05


@dataclass(frozen=True, eq=False, slots=True)
class Lobes:
    """ways: (n, _WAYS, 3) unit, on which each place looks; starts: (n, 3); met: of the n * _WAYS rays; weight: (n, _WAYS)."""

    starts: np.ndarray
    ways: np.ndarray
    met: Met
    weight: np.ndarray


def lobes_of(lighting: Lighting, called: str, places: np.ndarray, normals: np.ndarray, ways: np.ndarray, finish: np.ndarray,
             turns: np.ndarray, numbers: np.ndarray) -> Lobes:  # fmt: skip
    """Of places (n, 3) with unit normals (n, 3), met along unit ways (n, 3), of finishes (n,). called: a name for them;
    turns: (n,) by which each looks on other ways than its neighbours; numbers: (n,) by which they are known again."""
    alpha = ROUGHNESS[finish]
    number = turns[:, None] % _TURNS * _WAYS + np.arange(_WAYS)
    u, v = (number + 0.5) / (_TURNS * _WAYS), (number * _GOLDEN) % 1.0
    slope = alpha[:, None] * np.sqrt(u / (1 - u))
    cosine = 1 / np.sqrt(1 + slope**2)
    sine = slope * cosine
    local = np.stack([sine * np.cos(2 * np.pi * v), sine * np.sin(2 * np.pi * v), cosine], axis=-1)
    halves = np.einsum("nmk,nkc->nmc", local, frames_of(normals))
    on = mirrored(ways[:, None], halves)
    to_eye, out = np.maximum(-(ways * normals).sum(axis=1), _LEAST_COSINE)[:, None], (on * normals[:, None]).sum(axis=-1)
    to_half = np.maximum(-(ways[:, None] * halves).sum(axis=-1), 0.0)
    least = _STRAIGHT_ON[finish][:, None]
    share = least + (1 - least) * (1 - to_half) ** 5
    hidden = _seen(to_eye, alpha[:, None]) * _seen(np.maximum(out, _LEAST_COSINE), alpha[:, None])
    weight = np.where(out > 0, share * hidden * to_half / (to_eye * cosine), 0.0) / _WAYS
    starts = places + normals
    rays = (numbers[:, None] * _WAYS + np.arange(_WAYS)).ravel()
    met = lighting.again.met(
        f"{called} shines", lighting.casters, np.repeat(starts, _WAYS, axis=0), on.reshape(-1, 3), numbers=rays
    )
    return Lobes(starts, on, met, weight)


def _seen(cosine: np.ndarray, alpha: np.ndarray) -> np.ndarray:
    """The share of microfacets that is not hidden by others."""
    return 2 / (1 + np.sqrt(1 + alpha**2 * (1 / cosine**2 - 1)))  # type: ignore[no-any-return]


def light_in(lighting: Lighting, lobes: Lobes) -> np.ndarray:
    """(n, 3) what is seen in them, as lux on a white matt face that looked as bright."""
    on, starts, met = lobes.ways.reshape(-1, 3), np.repeat(lobes.starts, _WAYS, axis=0), lobes.met
    found = np.zeros(on.shape)
    hit = met.patch >= 0
    found[hit] = lighting.given_back[:, met.patch[hit]].sum(axis=0)
    for source in lighting.sources:
        if source.sky_lux:
            found[(met.patch == -1) & (on[:, 2] > 0)] += source.sky_lux * source.rgb
        elif source.faces:
            inside, luminance = _faces_met(source, starts, on, met.far)
            found[inside] = np.pi * luminance[:, None] * source.rgb
    return (found.reshape(*lobes.ways.shape) * lobes.weight[..., None]).sum(axis=1)  # type: ignore[no-any-return]


def _faces_met(source: Source, starts: np.ndarray, on: np.ndarray, far: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(numbers of the rays that meet a light's face before anything else, the luminance there)."""
    face, outline = source.faces[0], source.outline
    assert outline is not None
    slope = on @ face.out
    before = slope < -1 / 512
    at = np.where(before, ((outline[0] - starts) @ face.out) / np.where(before, slope, -1.0), -1.0)
    asked = np.nonzero(before & (at > 0) & (at <= far + 2))[0]
    places = starts[asked] + at[asked, None] * on[asked]
    inside = _within(outline, places, face.out)
    asked, places = asked[inside], places[inside]
    if len(source.faces) == 1:
        return asked, _in_beam(face, on[asked]) * face.luminance
    middles = np.array([f.middle for f in source.faces])
    nearest = ((places[:, None] - middles) ** 2).sum(axis=2).argmin(axis=1) if len(places) else np.empty(0, dtype=int)
    return asked, np.array([f.luminance for f in source.faces])[nearest]


def _in_beam(face: LitFace, on: np.ndarray) -> np.ndarray:
    return np.ones(len(on)) if face.cosine is None else (-(on @ face.out) >= face.cosine).astype(float)  # type: ignore[no-any-return]


def _within(polygon: np.ndarray, places: np.ndarray, out: np.ndarray) -> np.ndarray:
    edges = np.roll(polygon, -1, axis=0) - polygon
    sides = np.stack([(np.cross(edge, places - corner) @ out) for corner, edge in zip(polygon, edges, strict=True)])
    return np.asarray((sides >= 0).all(axis=0) | (sides <= 0).all(axis=0))
