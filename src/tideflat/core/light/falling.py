"""The light that falls on points of a scene: from every source, hindered by what stands between, and from everything that gives it back.

Direct light is Lambert's polygon formula times the share of the source that is seen, weighed as it counts there. Light given back is worked
out once for patches of all surfaces (radiosity, C. Goral et al., SIGGRAPH 1984, its form factors by even rays), then gathered at a point by
even rays, so that contacts and gaps come out by themselves. Everything is even patterns: the same scene gives the same numbers.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..colour.spaces import RGB_TO_XYZ
from ..model import Prop, Scene
from ..solids.body import Body
from ..tolerances import LIFTED_MM, SAME_NUMBER
from .casters import Casters, Panel
from .form_factor import even_directions, frame_of
from .lit_face import LitFace, in_beam, samples_of, unhindered, weights_of
from .rays import Met, first_met, passing
from .sources import Source, sources_of, sun_samples
from .surroundings import surroundings

LUMINANCE = RGB_TO_XYZ[1]
#: Of a source so many places a side are looked at from a point; of each cell of a sheet so many.
FINE, PATCH, CELL = 12, 4, 1
#: Rays that gather what is given back at a point, and at each place of a patch.
GATHERED, PATCH_GATHERED = 400, 64
#: Places a side of a card's patch that are looked at from a point.
_CARD_SIDE = 2
#: Places of a source that a gathering ray looks at from where it arrives.
_GLANCES = 4


@dataclass(frozen=True, eq=False)
class Lighting:
    """Sources and casters of one set-up as it stands. bodies, props: what stands there, by placement id. worn: as for ``surroundings``."""

    scene: Scene
    bodies: Mapping[str, Body]
    props: Mapping[str, Prop]
    worn: Mapping[str, np.ndarray] = field(default_factory=dict)

    @cached_property
    def sources(self) -> tuple[Source, ...]:
        return sources_of(self.scene.lights, self.scene.room)

    @cached_property
    def casters(self) -> Casters:
        return surroundings(self.scene, self.bodies, self.props, self.worn)

    def owners(self, *kinds: str) -> frozenset[int]:
        """Numbers of the casters' owners of these kinds."""
        return frozenset(k for k, (kind, _) in enumerate(self.casters.owners) if kind in kinds)

    def owner(self, kind: str, name: str) -> frozenset[int]:
        """The number of one owner."""
        return frozenset(k for k, own in enumerate(self.casters.owners) if own == (kind, name))

    @cached_property
    def _patch_met(self) -> Met:
        """What even rays from every place of every patch meet."""
        casters = self.casters
        places, normals = casters.places.reshape(-1, 3), casters.normals.reshape(-1, 3)
        starts, ways = gathering(places, normals, PATCH_GATHERED)
        return first_met(casters, starts, ways)

    @cached_property
    def exchange(self) -> np.ndarray:
        """(patches, patches) share of the even rays of each that meet each other."""
        count = self.casters.patch_count
        met = self._patch_met.patch.reshape(count, -1)
        found = np.zeros((count, count))
        for k in range(count):
            hit = met[k][met[k] >= 0]
            found[k] = np.bincount(hit, minlength=count) / met.shape[1]
        return found

    @cached_property
    def given_back(self) -> np.ndarray:
        """(sources, patches, 3) linear: what each patch gives on, lux of a face that it wholly surrounds, for each source."""
        casters, count = self.casters, self.casters.patch_count
        if not self.sources or not count:
            return np.zeros((len(self.sources), count, 3))
        per = casters.places.shape[1]
        places, normals = casters.places.reshape(-1, 3), casters.normals.reshape(-1, 3)
        lit = np.empty((len(self.sources), count))
        for k, source in enumerate(self.sources):
            if source.sky_lux:
                lux = self._sky(source, self._patch_met, gathering(places, normals, PATCH_GATHERED)[1], len(places))
            else:
                lux = self.direct(places, normals, source, side=PATCH)
            lit[k] = lux.reshape(count, per).mean(axis=1)
        rho = casters.gives_back
        found = np.empty((len(self.sources), count, 3))
        for channel in range(3):
            whole = np.eye(count) - rho[:, channel, None] * self.exchange
            colour = np.array([s.rgb[channel] for s in self.sources])
            found[..., channel] = np.linalg.solve(whole, rho[:, channel, None] * (lit * colour[:, None]).T).T
        return found

    @cached_property
    def given_on(self) -> np.ndarray:
        """(sources, patches, 3): the part of ``given_back`` that came to the patch from other patches."""
        return self.casters.gives_back * np.einsum("pq,sqc->spc", self.exchange, self.given_back)  # type: ignore[no-any-return]

    def direct(self, points: np.ndarray, normals: np.ndarray, source: Source, *, side: int = FINE,
               but: frozenset[int] = frozenset(), hindered: bool = True) -> np.ndarray:  # fmt: skip
        """(n,) lux straight from one source on points (n, 3) facing normals (n, 3), unit. side: places a side of a face that are looked at;
        but: owners that are not there. Of the sky nothing: it is gathered."""
        starts = points + LIFTED_MM * normals
        if source.to_sun is not None:
            return self._from_sun(starts, normals, source, side, but, hindered)
        lux = np.zeros(len(points))
        fine = side if len(source.faces) == 1 else CELL
        for face in source.faces:
            whole = unhindered(points, normals, face, FINE)
            asked = np.nonzero(whole > 0)[0]
            if hindered and len(asked):
                whole[asked] *= self._seen(starts[asked], normals[asked], face, fine, but)
            lux += whole
        return lux

    def _seen(self, starts: np.ndarray, normals: np.ndarray, face: LitFace, side: int, but: frozenset[int]) -> np.ndarray:
        """(n,) the share of a face's light that comes through to each start."""
        places = samples_of(face, side)
        weight = weights_of(starts, normals, face, places)
        inside = in_beam(starts, face, places)
        if inside is not None:
            weight = weight * inside
        through = self._through(starts, places, weight > 0, but)
        whole = weight.sum(axis=1)
        return np.where(whole > 0, (weight * through).sum(axis=1) / np.maximum(whole, SAME_NUMBER**2), 1.0)  # type: ignore[no-any-return]

    def _from_sun(
        self, starts: np.ndarray, normals: np.ndarray, source: Source, side: int, but: frozenset[int], hindered: bool
    ) -> np.ndarray:
        assert source.to_sun is not None
        if source.sun_lux <= 0:
            return np.zeros(len(starts))
        ways = sun_samples(source.to_sun, side)
        falls = np.maximum(0.0, normals @ ways.T)
        through = np.ones(falls.shape)
        for k, way in enumerate(ways):
            if source.opening is not None:
                through[:, k] *= source.opening.passes(starts, way)
            asked = np.nonzero((falls[:, k] > 0) & (through[:, k] > 0))[0]
            if hindered and len(asked):
                many = np.broadcast_to(way, (len(asked), 3))
                through[asked, k] *= passing(self.casters, starts[asked], many, np.full(len(asked), np.inf), but=but)
        return source.sun_lux * (falls * through).mean(axis=1)  # type: ignore[no-any-return]

    def _sky(self, source: Source, met: Met, ways: np.ndarray, count: int) -> np.ndarray:
        """(n,) lux of an even half space above, from rays that were gathered: walls, ceiling and floor never stand before it."""
        free = ~np.isin(met.owner, list(frozenset(range(len(self.casters.owners))) - self.owners("wall", "ceiling", "floor", "light")))
        return source.sky_lux * (free & (ways[:, 2] > 0)).reshape(count, -1).mean(axis=1)  # type: ignore[no-any-return]

    def falling(self, points: np.ndarray, normals: np.ndarray, *, rays: int = GATHERED, side: int = FINE,
                but: frozenset[int] = frozenset()) -> np.ndarray:  # fmt: skip
        """(sources, n, 3) linear lux on points (n, 3), mm, facing normals (n, 3), unit, from each source, every bounce included: the last
        but one from where each gathering ray arrives, those before from patches. but: owners that are not there for light on its last
        way."""
        if not self.sources or not len(points):
            return np.zeros((len(self.sources), len(points), 3))
        starts, ways = gathering(points, normals, rays)
        met = first_met(self.casters, starts, ways, but=but)
        found = np.empty((len(self.sources), len(points), 3))
        cards = self.owners("card")
        hit = np.nonzero((met.patch >= 0) & ~np.isin(met.owner, list(cards)))[0]
        places, faces, patches = starts[hit] + met.far[hit, None] * ways[hit], met.normal[hit], met.patch[hit]
        rho = self.casters.gives_back[patches]
        seen = self._cards_seen(points, normals, but) if cards - but else np.zeros((len(points), self.casters.patch_count))
        for k, source in enumerate(self.sources):
            back = np.zeros((len(starts), 3))
            if source.sky_lux:
                lux = self._sky(source, met, ways, len(points))
                back[hit] = self.given_back[k, patches]
            else:
                lux = self.direct(points, normals, source, side=side, but=but)
                back[hit] = rho * source.rgb * self._glanced(places, faces, source)[:, None] + self.given_on[k, patches]
            found[k] = lux[:, None] * source.rgb + back.reshape(len(points), -1, 3).mean(axis=1) + seen @ self.given_back[k]
        return found

    def _cards_seen(self, points: np.ndarray, normals: np.ndarray, but: frozenset[int]) -> np.ndarray:
        """(n, patches) how much of each patch of the cards is seen from points (n, 3): too small for rays to meet often enough, they are
        worked out as sources are. Of all other patches nothing."""
        found = np.zeros((len(points), self.casters.patch_count))
        starts = points + LIFTED_MM * normals
        for patch, face in self._card_faces:
            if int(self.casters.owner[patch]) in but:
                continue
            lux = unhindered(points, normals, face, CELL)
            lit = np.nonzero(lux > 0)[0]
            if len(lit):
                own = but | {int(self.casters.owner[patch])}
                found[lit, patch] = lux[lit] * self._seen(starts[lit], normals[lit], face, _CARD_SIDE, own)
        return found

    @cached_property
    def _card_faces(self) -> list[tuple[int, LitFace]]:
        """(number, face) of each patch of every card; a face gives one lux for each that its patch gives back."""
        cards = self.owners("card")
        panels = [
            c for c, owner in zip(self.casters.casters, self.casters.owner_of, strict=True) if isinstance(c, Panel) and owner in cards
        ]
        return [
            (first + k, LitFace(polygon if sign > 0 else polygon[::-1], sign * panel.out, 1 / np.pi))
            for panel in panels
            for first, sign in ((panel.front, 1), (panel.back, -1))
            for k, polygon in enumerate(panel.cells())
        ]

    def _glanced(self, points: np.ndarray, normals: np.ndarray, source: Source) -> np.ndarray:
        """(n,) lux straight from one source on many points, each looking at a few places of it, others than its neighbours: right in the
        mean over many."""
        starts = points + LIFTED_MM * normals
        lux = np.zeros(len(points))
        turns = np.arange(len(points))
        if source.to_sun is not None:
            return self._from_sun(starts, normals, source, 2, frozenset(), True)
        if len(source.faces) == 1:
            lux = unhindered(points, normals, source.faces[0], CELL * 3)
            lit = np.nonzero(lux > 0)[0]
            places = samples_of(source.faces[0], FINE)
            lux[lit] *= self._glimpsed(starts[lit], normals[lit], source.faces[0], places, turns[lit])
            return lux
        areas = np.array([_area(face.polygon) * face.luminance for face in source.faces])
        middles = np.array([face.middle for face in source.faces])
        out = source.faces[0].out
        stride = max(1, len(areas) // _GLANCES)
        for turn in range(stride):
            mine = np.nonzero(turns % stride == turn)[0]
            cells = np.arange(turn, len(areas), stride)
            if not len(mine):
                continue
            face = LitFace(source.faces[0].polygon, out, 1.0)
            weight = weights_of(starts[mine], normals[mine], face, middles[cells]) * areas[cells]
            lux[mine] = len(areas) / len(cells) * (weight * self._through(starts[mine], middles[cells], weight > 0)).sum(axis=1)
        return lux

    def _glimpsed(self, starts: np.ndarray, normals: np.ndarray, face: LitFace, places: np.ndarray, turns: np.ndarray) -> np.ndarray:
        """(n,) the share of a face's light that comes through, by _GLANCES of its places for each start."""
        found = np.ones(len(starts))
        stride = len(places) // _GLANCES
        for turn in range(stride):
            mine = np.nonzero(turns % stride == turn)[0]
            some = places[turn::stride]
            if not len(mine):
                continue
            weight = weights_of(starts[mine], normals[mine], face, some)
            whole = weight.sum(axis=1)
            came = (weight * self._through(starts[mine], some, weight > 0)).sum(axis=1)
            found[mine] = np.where(whole > 0, came / np.maximum(whole, SAME_NUMBER**2), 1.0)
        return found

    def _through(self, starts: np.ndarray, places: np.ndarray, asked: np.ndarray, but: frozenset[int] = frozenset()) -> np.ndarray:
        """(n, m) the share that comes through from each place to each start, where it is asked (n, m)."""
        point, place = np.nonzero(asked)
        ways = places[place] - starts[point]
        far = np.linalg.norm(ways, axis=1)
        through = np.zeros(asked.shape)
        through[point, place] = passing(self.casters, starts[point], ways / far[:, None], far, but=but)
        return through


def _area(polygon: np.ndarray) -> float:
    return float(np.linalg.norm(np.cross(polygon - polygon[0], np.roll(polygon, -1, axis=0) - polygon[0]).sum(axis=0))) / 2


def gathering(points: np.ndarray, normals: np.ndarray, rays: int) -> tuple[np.ndarray, np.ndarray]:
    """(starts, unit ways), (n * rays', 3) each: even rays over the half space before each point, as dense as their cosine."""
    local = even_directions(rays)
    frames = np.array([np.stack(frame_of(n)) for n in normals]).reshape(-1, 3, 3)
    ways = np.einsum("mk,nkc->nmc", local, frames).reshape(-1, 3)
    return np.repeat(points + LIFTED_MM * normals, len(local), axis=0), ways
