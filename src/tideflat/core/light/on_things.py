"""Light on what stands on the table, and on the backdrop, as a view shows it: one ray a place of the picture, and the light where it
arrives.

What is matt shows the light that falls on it; gloss adds the bright things that it mirrors; metal shows what its mirror meets.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import cv2
import numpy as np

from .falling import Lighting
from .mirrors import holds_something, mirrored
from .rays import first_met
from .sources import Source
from .straight import glanced

#: Of a gloss face so much of what it mirrors is seen beside its colour (Fresnel at n = 1.5, straight on).
_GLOSS_SHARE = 0.04
#: What is worked out where things are is spread so far beyond their edges, places of the picture.
_SPREAD = 5
#: Places of a light that are looked at from where a ray arrives.
_GLANCES = 9
#: The finish that shows what it mirrors and nothing else.
METAL = 2
#: A face that looks up so much (cosine) is the floor of a dish.
_LEVEL = 0.9


@dataclass(frozen=True, eq=False, slots=True)
class ThingsLit:
    """light: (h, w, 3) linear lux, as a matt face that looked the same would have; there: (h, w) where a thing is."""

    light: np.ndarray
    there: np.ndarray


@dataclass(frozen=True, eq=False, slots=True)
class Seen:
    """What rays through the places of a picture see of the things. size: rows, columns; hit: (m,) numbers of the places where a thing is;
    places, normals: (m, 3) there, normals toward the eye; ways: (m, 3); patch, owner: (m,); finish: (m,) 0 matt, 1 gloss, 2 metal."""

    called: str
    size: tuple[int, int]
    hit: np.ndarray
    places: np.ndarray
    normals: np.ndarray
    ways: np.ndarray
    patch: np.ndarray
    owner: np.ndarray
    finish: np.ndarray


def things_seen(lighting: Lighting, starts: np.ndarray, ways: np.ndarray, called: str) -> Seen:
    """What rays from starts (h, w, 3) along unit ways (h, w, 3) see of the things; of clear glass nothing. called: a name for these rays."""
    name = f"{called} {starts.shape[1]}"
    return lighting.kept(name, partial(_seen, lighting, starts, ways, name))


def _seen(lighting: Lighting, starts: np.ndarray, ways: np.ndarray, name: str) -> Seen:
    owners = range(len(lighting.casters.owners))
    others = frozenset(owners) - lighting.owners("placement")
    from_, along = starts.reshape(-1, 3), ways.reshape(-1, 3)
    met = first_met(lighting.casters, from_, along, but=others)
    hit = np.nonzero(met.patch >= 0)[0]
    places, normals = from_[hit] + met.far[hit, None] * along[hit], met.normal[hit]
    facing = (normals * along[hit]).sum(axis=1) < 0
    normals = np.where(facing[:, None], normals, -normals)
    finish = np.array([_finish_of(lighting, owner) for owner in owners], dtype=int)[met.owner[hit]]
    holds = np.array([_holds_something(lighting, owner) for owner in owners], dtype=bool)[met.owner[hit]]
    finish = np.where(holds & (normals[:, 2] > _LEVEL), 0, finish)  # what is in a dish is seen there, not the dish
    return Seen(name, (starts.shape[0], starts.shape[1]), hit, places, normals, along[hit], met.patch[hit], met.owner[hit], finish)


def straight_on(lighting: Lighting, seen: Seen, source: Source) -> np.ndarray:
    """(m,) lux straight from a source where things are seen."""
    look = partial(glanced, lighting.casters, seen.places, seen.normals, source, _GLANCES)
    return lighting.kept(seen.called, look, source)


def light_seen(lighting: Lighting, seen: Seen) -> np.ndarray:
    """(m, 3) linear lux where things are seen, as a matt face that looked the same would have."""
    found: np.ndarray = lighting.on_patches[:, seen.patch].sum(axis=0)
    for source in lighting.sources:
        if not source.sky_lux:
            found = found + straight_on(lighting, seen, source)[:, None] * source.rgb
    shiny = np.nonzero(seen.finish > 0)[0]
    if len(shiny):
        mirrors = _mirrored_light(lighting, seen.places[shiny], seen.normals[shiny], seen.ways[shiny])
        is_metal = (seen.finish[shiny] == METAL)[:, None]
        found[shiny] = np.where(is_metal, mirrors, found[shiny] + _GLOSS_SHARE * mirrors)
    return found


def things_light(lighting: Lighting, seen: Seen) -> ThingsLit:
    """The same as a picture."""
    height, width = seen.size
    light, there = np.zeros((height * width, 3)), np.zeros(height * width, dtype=np.float32)
    light[seen.hit], there[seen.hit] = light_seen(lighting, seen), 1.0
    smooth = _smoothed(light.reshape(height, width, 3), there.reshape(height, width))
    return ThingsLit(smooth, there.reshape(height, width) > 0)


def _finish_of(lighting: Lighting, owner: int) -> int:
    kind, name = lighting.casters.owners[owner]
    return {"gloss": 1, "metal": METAL}.get(lighting.props[name].finish, 0) if kind == "placement" else 0


def _holds_something(lighting: Lighting, owner: int) -> bool:
    kind, name = lighting.casters.owners[owner]
    return kind == "placement" and holds_something(lighting.bodies[name], lighting.props[name])


def _mirrored_light(lighting: Lighting, places: np.ndarray, normals: np.ndarray, ways: np.ndarray) -> np.ndarray:
    """(n, 3) what is seen in a mirror there, as lux on a white matt face that looked as bright."""
    on = mirrored(ways, normals)
    starts = places + normals
    met = first_met(lighting.casters, starts, on)
    found = np.zeros((len(places), 3))
    hit = met.patch >= 0
    found[hit] = lighting.given_back[:, met.patch[hit]].sum(axis=0)
    for source in lighting.sources:
        if source.sky_lux:
            free = (met.patch == -1) & (on[:, 2] > 0)
            found[free] += source.sky_lux * source.rgb
        for face in source.faces:
            slope = on @ face.out
            before = slope < -1 / 512
            far = np.where(before, ((face.polygon[0] - starts) @ face.out) / np.where(before, slope, -1.0), -1.0)
            at = starts + far[:, None] * on
            inside = before & (far > 0) & (far <= met.far + 2) & _within(face.polygon, at, face.out)
            found[inside] = np.pi * face.luminance * source.rgb
    return found


def _within(polygon: np.ndarray, places: np.ndarray, out: np.ndarray) -> np.ndarray:
    edges = np.roll(polygon, -1, axis=0) - polygon
    sides = np.stack([(np.cross(edge, places - corner) @ out) for corner, edge in zip(polygon, edges, strict=True)])
    return np.asarray((sides >= 0).all(axis=0) | (sides <= 0).all(axis=0))


def _smoothed(light: np.ndarray, there: np.ndarray) -> np.ndarray:
    """Grain taken off, and what is at the edge of things carried beyond it."""
    weight = cv2.GaussianBlur(there, (3, 3), 0)
    near = cv2.GaussianBlur((light * there[..., None]).astype(np.float32), (3, 3), 0) / np.maximum(weight, 1 / 512)[..., None]
    size = 2 * _SPREAD + 1
    wide_weight = cv2.blur(there, (size, size))
    wide = cv2.blur((light * there[..., None]).astype(np.float32), (size, size)) / np.maximum(wide_weight, 1 / 512)[..., None]
    return np.where((weight > 1 / 16)[..., None], near, wide)


def backdrop_light(lighting: Lighting, columns: int, rows: int) -> np.ndarray | None:
    """(rows, columns, 3) linear lux on the backdrop's front, the top row first; None without one."""
    backdrop = lighting.scene.backdrop
    if backdrop is None:
        return None
    x = backdrop.x + ((np.arange(columns) + 0.5) / columns - 0.5) * backdrop.width
    z = backdrop.height * (1 - (np.arange(rows) + 0.5) / rows)
    gx, gz = np.meshgrid(x, z)
    places = np.column_stack([gx.ravel(), np.full(gx.size, backdrop.y), gz.ravel()])
    normals = np.tile([0.0, -1.0, 0.0], (len(places), 1))
    found = lighting.bounced(places, normals, rays=64, exact=False, called="backdrop").sum(axis=0)
    for source in lighting.sources:
        if not source.sky_lux:
            lux = lighting.kept("backdrop", partial(lighting.direct, places, normals, source, side=4), source)
            found += lux[:, None] * source.rgb
    return found.reshape(rows, columns, 3)
