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
from .forms import SECTORS
from .lobes import GLOSS, MATT, METAL, SATIN, light_in, lobes_of
from .mirrors import holds_something
from .smooth import smoothed
from .sources import Source
from .straight import glanced
from .surroundings import mean_rgb
from .through import Through

#: A colour is taken as this light at least, linear.
_DARKEST = 0.02
#: What is worked out where things are is spread so far beyond their edges, places of the picture.
_SPREAD = 5
#: Places of a light that are looked at from where a ray arrives.
_GLANCES = 6
#: The places of the next row look so many turns further.
_NEXT_ROW = 5
#: A face that looks up so much (cosine) is the floor of a dish.
_LEVEL = 0.9


#: The places about one, and how much each counts.
_ABOUT = tuple((down, across, (2 - abs(down)) * (2 - abs(across))) for down in (-1, 0, 1) for across in (-1, 0, 1))
#: Faces are alike that look so nearly the same way (cosine); what shines is evened so often.
_ALIKE, _SHINE_PASSES = 0.85, 4
#: With so few alike about it, itself among them, a place is on an edge.
_EDGE_PLACES = 3
#: How sharply what is given back goes over from one patch to the next, as a power of the cosine.
_NARROW = 3
_FINISHES = {"gloss": GLOSS, "metal": METAL, "satin": SATIN}


@dataclass(frozen=True, eq=False, slots=True)
class ThingsLit:
    """light: (h, w, 3) linear lux, as a matt face that looked the same would have; there: (h, w) where a thing is; colour: (h, w, 3)
    linear, the mean of what is lit there."""

    light: np.ndarray
    there: np.ndarray
    colour: np.ndarray


@dataclass(frozen=True, eq=False, slots=True)
class Seen:
    """What rays through the places of a picture see of the things. size: rows, columns; hit: (m,) numbers of the places where a thing is;
    places, normals: (m, 3) there, normals toward the eye; ways: (m, 3); patch, owner: (m,); finish: (m,) as lobes.py numbers
    them."""

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
    met = lighting.again.met(name, lighting.casters, from_, along, but=others)
    hit = np.nonzero(met.patch >= 0)[0]
    places, normals = from_[hit] + met.far[hit, None] * along[hit], met.normal[hit]
    for number in np.unique(met.owner[hit]):
        own = met.owner[hit] == number
        normals[own] = smoothed(lighting.bodies[lighting.casters.owners[number][1]], places[own], normals[own])
    facing = (normals * along[hit]).sum(axis=1) < 0
    normals = np.where(facing[:, None], normals, -normals)
    finish = np.array([_finish_of(lighting, owner) for owner in owners], dtype=int)[met.owner[hit]]
    holds = np.array([_holds_something(lighting, owner) for owner in owners], dtype=bool)[met.owner[hit]]
    finish = np.where(holds & (normals[:, 2] > _LEVEL), 0, finish)  # what is in a dish is seen there, not the dish
    return Seen(name, (starts.shape[0], starts.shape[1]), hit, places, normals, along[hit], met.patch[hit], met.owner[hit], finish)


def straight_on(lighting: Lighting, seen: Seen, source: Source) -> np.ndarray:
    """(m,) lux straight from a source where things are seen."""
    turns = _turns(seen)

    def look(rows: np.ndarray, through: Through) -> np.ndarray:
        return glanced(through, seen.places[rows], seen.normals[rows], source, _GLANCES, turns[rows])

    lux = partial(lighting.again.lux, seen.called, source, lighting.casters, seen.places, seen.normals, look, numbers=seen.hit)
    return lighting.kept(seen.called, lux, source)


def _turns(seen: Seen) -> np.ndarray:
    """(m,) of each place: other ones than its neighbours', in its row and the next."""
    return seen.hit % seen.size[1] + _NEXT_ROW * (seen.hit // seen.size[1])  # type: ignore[no-any-return]


def light_seen(lighting: Lighting, seen: Seen) -> np.ndarray:
    """(m, 3) linear lux where things are seen, as a matt face that looked the same would have."""
    shares = lighting.kept(f"{seen.called} patches", partial(_patch_shares, lighting, seen))
    found: np.ndarray = np.einsum("mk,mkc->mc", shares[1], lighting.on_patches.sum(axis=0)[shares[0]])
    for source in lighting.sources:
        if not source.sky_lux:
            found = found + straight_on(lighting, seen, source)[:, None] * source.rgb
    shiny = np.nonzero(seen.finish != MATT)[0]
    if len(shiny):
        own = partial(lobes_of, lighting, seen.called, seen.places[shiny], seen.normals[shiny], seen.ways[shiny], seen.finish[shiny],
                      _turns(seen)[shiny], seen.hit[shiny])  # fmt: skip
        mirrors = np.zeros(found.shape)
        mirrors[shiny] = light_in(lighting, lighting.kept(f"{seen.called} shines", own))
        about = lighting.kept(f"{seen.called} about", partial(_about, seen))
        for _ in range(_SHINE_PASSES):
            mirrors = _evened(mirrors, about)
        mirrors = mirrors[shiny]
        is_metal = (seen.finish[shiny] == METAL)[:, None]
        # What is mirrored lies over the colour; the drawing multiplies all of it by the colour.
        under = _colours(lighting)[seen.owner[shiny]]
        found[shiny] = np.where(is_metal, mirrors, found[shiny] + mirrors / under)
    return found


def _patch_shares(lighting: Lighting, seen: Seen) -> tuple[np.ndarray, np.ndarray]:
    """((m, SECTORS) patches, (m, SECTORS) how much each counts) of what is given back where things are seen: between the patches of a
    thing that look nearly that way; in a dish, whose inside looks as its outside does, the patch itself."""
    patches, shares = np.tile(seen.patch[:, None], (1, SECTORS)), np.zeros((len(seen.hit), SECTORS))
    shares[:, 0] = 1.0
    normals, of = lighting.casters.normals.mean(axis=1), lighting.casters.owner
    for owner in np.unique(seen.owner):
        own, here = np.nonzero(of == owner)[0], np.nonzero(seen.owner == owner)[0]
        if len(own) > SECTORS or lighting.bodies[lighting.casters.owners[owner][1]].local.opening is not None:
            continue
        near = np.maximum(0.0, seen.normals[here] @ normals[own].T) ** _NARROW
        lit = near.sum(axis=1) > 1 / 512
        patches[here[lit], : len(own)] = own
        shares[here[lit], : len(own)] = near[lit] / near[lit].sum(axis=1, keepdims=True)
    return patches, shares


def _about(seen: Seen) -> tuple[np.ndarray, np.ndarray]:
    """((m, 9) numbers of the places about each where things are seen, (m, 9) how much each counts, together 1): those of the same thing
    that look nearly the same way; of an edge, those that do not."""
    height, width = seen.size
    number = np.full((height + 2, width + 2), -1)
    rows, columns = seen.hit // width + 1, seen.hit % width + 1
    number[rows, columns] = np.arange(len(seen.hit))
    near = np.stack([number[rows + down, columns + across] for down, across, _ in _ABOUT], axis=1)
    there = np.maximum(near, 0)
    alike = (seen.normals[there] * seen.normals[:, None]).sum(axis=2) > _ALIKE
    same = (near >= 0) & (seen.owner[there] == seen.owner[:, None])
    # An edge no wider than a place would come and go from place to place: it is as light as what it is the edge of.
    is_edge = ((same & alike).sum(axis=1) <= _EDGE_PLACES) & (same & ~alike).any(axis=1)
    counts = np.array([share for _, _, share in _ABOUT]) * (same & np.where(is_edge[:, None], ~alike, alike))
    return there, counts / counts.sum(axis=1, keepdims=True)


def _evened(light: np.ndarray, about: tuple[np.ndarray, np.ndarray]) -> np.ndarray:
    return np.einsum("mk,mkc->mc", about[1], light[about[0]])  # type: ignore[no-any-return]


def _colours(lighting: Lighting) -> np.ndarray:
    """(owners, 3) linear, of things, not under what a drawing can show of it; of all else white."""
    own = {name: lighting.worn.get(name, mean_rgb(prop.colours)) for name, prop in lighting.props.items()}
    colours = {name: np.maximum(colour, _DARKEST) for name, colour in own.items()}
    return np.array([colours[name] if kind == "placement" else np.ones(3) for kind, name in lighting.casters.owners])


def things_light(lighting: Lighting, seen: Seen) -> ThingsLit:
    """The same as a picture."""
    height, width = seen.size
    light, there = np.zeros((height * width, 3)), np.zeros(height * width, dtype=np.float32)
    even = _evened(light_seen(lighting, seen), lighting.kept(f"{seen.called} about", partial(_about, seen)))
    light[seen.hit], there[seen.hit] = even, 1.0
    colour = np.ones((height * width, 3))
    colour[seen.hit] = _colours(lighting)[seen.owner]
    carried = _carried(light.reshape(height, width, 3), there.reshape(height, width))
    return ThingsLit(carried, there.reshape(height, width) > 0, _carried(colour.reshape(height, width, 3), there.reshape(height, width)))


def _finish_of(lighting: Lighting, owner: int) -> int:
    kind, name = lighting.casters.owners[owner]
    return _FINISHES.get(lighting.props[name].finish, MATT) if kind == "placement" else MATT


def _holds_something(lighting: Lighting, owner: int) -> bool:
    kind, name = lighting.casters.owners[owner]
    return kind == "placement" and holds_something(lighting.bodies[name], lighting.props[name])


def _carried(light: np.ndarray, there: np.ndarray) -> np.ndarray:
    """What is at the edge of things carried beyond it."""
    size = 2 * _SPREAD + 1
    weight = cv2.blur(there, (size, size))
    wide = cv2.blur((light * there[..., None]).astype(np.float32), (size, size)) / np.maximum(weight, 1 / 512)[..., None]
    return np.where(there[..., None] > 0, light, wide)


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
            lux = lighting.kept("backdrop", partial(lighting.direct, places, normals, source, side=4, called="backdrop"), source)
            found += lux[:, None] * source.rgb
    return found.reshape(rows, columns, 3)
