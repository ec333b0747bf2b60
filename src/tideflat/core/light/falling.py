"""The light that falls on points of a scene: from every source, hindered by what stands between, and from everything that gives it back.

Direct light is Lambert's polygon formula times the share of the source that is seen, weighed as it counts there. Light given back is worked
out once for patches of all surfaces (radiosity, C. Goral et al., SIGGRAPH 1984, its form factors by even rays), then gathered at a point by
even rays, so that contacts and gaps come out by themselves. Everything is even patterns: the same scene gives the same numbers.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property, partial
from typing import Any, TypeVar

import numpy as np

from ..colour.spaces import RGB_TO_XYZ
from ..model import Prop, Scene
from ..solids.body import Body
from .again import Again, boxes_moved
from .cards_seen import card_faces, cards_seen
from .casters import Casters
from .form_factor import gathering
from .lit_face import LitFace
from .rays import Met
from .sources import Source, sources_of
from .straight import FINE, glanced, straight
from .surroundings import surroundings
from .through import Through

LUMINANCE = RGB_TO_XYZ[1]
#: Of a source so many places a side are looked at from a patch.
PATCH = 4
#: Rays that gather what is given back at a point, and at each place of a patch.
GATHERED, PATCH_GATHERED = 400, 64
#: So much of what was worked out once is taken over at most, the newest.
_KEPT = 60
#: Places of a source that a gathering ray looks at from where it arrives.
_GLANCES = 4


T = TypeVar("T")


@dataclass(frozen=True, eq=False)
class Lighting:
    """Sources and casters of one set-up as it stands. bodies, props: what stands there, by placement id. worn: as for ``surroundings``."""

    scene: Scene
    bodies: Mapping[str, Body]
    props: Mapping[str, Prop]
    worn: Mapping[str, np.ndarray] = field(default_factory=dict)

    def knowing(self, other: Lighting) -> Lighting:
        """Itself, with what patches see of each other taken over from a lighting of the same things and cards (lights add no patches), and
        what each light gives that it has too; where cards are only nearly where they were, no light is taken over."""
        if self.casters.patch_count == other.casters.patch_count and _but_lights(self.casters) == _but_lights(other.casters):
            for key in ("_patch_met", "exchange"):
                self.__dict__[key] = getattr(other, key)
            here = (None, *self.sources) if self.scene.cards == other.scene.cards else (None,)
            known = [(key, value) for key, value in other._kept.items() if key[1] in here]
            self._kept.update(known[-_KEPT:])
            self.again.take(other.again, here)
        return self

    def following(self, other: Lighting) -> Lighting:
        """Itself, asking again only what is touched by what moved since the other, a lighting of the same set-up a little earlier; of
        anything else, nothing is taken over."""
        moved = boxes_moved(other.casters, self.casters)
        if moved is not None:
            self.again.follow(other.again, moved)
            self._of_lights.update((key, value) for key, value in other._of_lights.items() if key[1] in self.sources)
        return self

    @cached_property
    def again(self) -> Again:
        """What was asked row by row."""
        return Again()

    @cached_property
    def _kept(self) -> dict[tuple[str, Source | None], Any]:
        return {}

    def kept(self, name: str, work: Callable[[], T], source: Source | None = None) -> T:
        """What was worked out once for things and cards: of one light, or of none."""
        key = name, source
        if key not in self._kept:
            self._kept[key] = work()
        return self._kept[key]  # type: ignore[no-any-return]

    @cached_property
    def _of_lights(self) -> dict[tuple[str, Source | None], Any]:
        return {}

    def of_light(self, name: str, work: Callable[[], T], source: Source) -> T:
        """What was worked out once for a light, whatever stands about it."""
        key = name, source
        if key not in self._of_lights:
            self._of_lights[key] = work()
        return self._of_lights[key]  # type: ignore[no-any-return]

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
        return self.again.met("patches", casters, starts, ways)

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
        lit, rho = self.lit, casters.gives_back
        found = np.empty((len(self.sources), count, 3))
        for channel in range(3):
            colour = np.array([s.rgb[channel] for s in self.sources])
            found[..., channel] = (self._all_bounces[channel] @ (rho[:, channel, None] * (lit * colour[:, None]).T)).T
        return found

    @property
    def lit(self) -> np.ndarray:
        """(sources, patches) lux straight on each patch from each source, or from the sky."""
        return np.stack([self.kept("patches", partial(self._lit_patches, source), source) for source in self.sources])

    @cached_property
    def _all_bounces(self) -> np.ndarray:
        """(3, patches, patches) what each patch gives on in the end, for what each gives on of what comes straight."""

        def work() -> np.ndarray:
            rho, one = self.casters.gives_back, np.eye(self.casters.patch_count)
            return np.stack([np.linalg.inv(one - rho[:, channel, None] * self.exchange) for channel in range(3)])

        return self.kept("bounces", work)

    def _lit_patches(self, source: Source) -> np.ndarray:
        """(patches,) lux straight from one source, or from the sky."""
        places, normals = self.casters.places.reshape(-1, 3), self.casters.normals.reshape(-1, 3)
        if source.sky_lux:
            lux = self._sky(source, self._patch_met, gathering(places, normals, PATCH_GATHERED)[1], len(places))
        else:
            lux = self.direct(places, normals, source, side=PATCH, called="patches")
        return lux.reshape(self.casters.patch_count, -1).mean(axis=1)  # type: ignore[no-any-return]

    @cached_property
    def given_on(self) -> np.ndarray:
        """(sources, patches, 3): the part of ``given_back`` that came to the patch from other patches."""
        return self.casters.gives_back * np.einsum("pq,sqc->spc", self.exchange, self.given_back)  # type: ignore[no-any-return]

    def direct(
        self,
        points: np.ndarray,
        normals: np.ndarray,
        source: Source,
        *,
        side: int = FINE,
        but: frozenset[int] = frozenset(),
        hindered: bool = True,
        called: str = "",
    ) -> np.ndarray:
        """(n,) lux straight from one source, as ``straight`` says. called: of points that are asked about again, a name."""

        def look(rows: np.ndarray, through: Through) -> np.ndarray:
            return straight(through, points[rows], normals[rows], source, side=side, hindered=hindered)

        return self.again.lux(called and f"{called} {side}", source, self.casters, points, normals, look, but=but)

    def _sky(self, source: Source, met: Met, ways: np.ndarray, count: int) -> np.ndarray:
        """(n,) lux of an even half space above, from rays that were gathered: walls, ceiling and floor never stand before it."""
        free = ~np.isin(met.owner, list(frozenset(range(len(self.casters.owners))) - self.owners("wall", "ceiling", "floor", "light")))
        return source.sky_lux * (free & (ways[:, 2] > 0)).reshape(count, -1).mean(axis=1)  # type: ignore[no-any-return]

    def falling(
        self,
        points: np.ndarray,
        normals: np.ndarray,
        *,
        rays: int = GATHERED,
        side: int = FINE,
        but: frozenset[int] = frozenset(),
    ) -> np.ndarray:
        """(sources, n, 3) linear lux on points (n, 3), mm, facing normals (n, 3), unit, from each source, every bounce included. but:
        owners that are not there for light on its last way."""
        found = self.bounced(points, normals, rays=rays, but=but)
        for k, source in enumerate(self.sources):
            if not source.sky_lux and len(points):
                found[k] += self.direct(points, normals, source, side=side, but=but)[:, None] * source.rgb
        return found

    def bounced(
        self,
        points: np.ndarray,
        normals: np.ndarray,
        *,
        rays: int = GATHERED,
        but: frozenset[int] = frozenset(),
        exact: bool = True,
        called: str = "",
    ) -> np.ndarray:
        """The same without what comes straight, but with the sky: the last bounce from where each gathering ray arrives, those before from
        patches; unless exact, all from patches, which is many times quicker. called: of points that are asked about again,
        a name."""
        found = np.zeros((len(self.sources), len(points), 3))
        if not self.sources or not len(points):
            return found
        starts, ways = gathering(points, normals, rays)

        def met_by_rays() -> Met:
            return self.again.met(called and f"met {called}", self.casters, starts, ways, but=but)

        met = self.kept(f"met {called}", met_by_rays) if called else met_by_rays()
        gathered = partial(self._gathered, points, normals, met, but, called)
        shares = self.kept(f"gathered {called}", gathered) if called else gathered()
        for k, source in enumerate(self.sources):
            found[k] = shares @ self.given_back[k]
            if source.sky_lux:
                found[k] += self._sky(source, met, ways, len(points))[:, None] * source.rgb
            elif exact:
                sharper = partial(self._sharper, k, starts, ways, met, called)
                back = self.kept(f"sharper {called}", sharper, source) if called else sharper()
                found[k] += back.reshape(len(points), -1, 3).mean(axis=1)
        return found

    def _gathered(self, points: np.ndarray, normals: np.ndarray, met: Met, but: frozenset[int], called: str) -> np.ndarray:
        """(n, patches) how much each point sees of each patch: by its rays, of cards by their faces."""
        cards, count = self.owners("card"), self.casters.patch_count
        patch = met.patch.reshape(len(points), -1)
        counts = (patch >= 0) & ~np.isin(met.owner, list(cards)).reshape(patch.shape)
        number = np.nonzero(counts)[0] * count + patch[counts]
        shares = np.bincount(number, minlength=len(points) * count).reshape(len(points), count) / patch.shape[1]
        return shares + cards_seen(self.casters, points, normals, but, self.again, called) if cards - but else shares

    def _sharper(self, k: int, starts: np.ndarray, ways: np.ndarray, met: Met, called: str) -> np.ndarray:
        """(rays, 3) what is given back where each ray arrives, less what its patch gives back on the whole."""
        source = self.sources[k]
        hit = np.nonzero((met.patch >= 0) & ~np.isin(met.owner, list(self.owners("card"))))[0]
        places, patches = starts[hit] + met.far[hit, None] * ways[hit], met.patch[hit]
        normals = met.normal[hit]

        def look(rows: np.ndarray, through: Through) -> np.ndarray:
            return glanced(through, places[rows], normals[rows], source, _GLANCES, hit[rows])

        straight_on = self.again.lux(called and f"sharper {called}", source, self.casters, places, normals, look, numbers=hit)
        found = np.zeros((len(starts), 3))
        at_once = self.casters.gives_back[patches] * source.rgb * straight_on[:, None]
        found[hit] = at_once + self.given_on[k, patches] - self.given_back[k, patches]
        return found

    @cached_property
    def on_patches(self) -> np.ndarray:
        """(sources, patches, 3) linear lux on each patch that does not come straight from a light, the sky's included."""
        found: np.ndarray = np.einsum("pq,sqc->spc", self.exchange, self.given_back)
        per = self.casters.places.shape[1]
        places, normals = self.casters.places.reshape(-1, 3), self.casters.normals.reshape(-1, 3)
        for k, source in enumerate(self.sources):
            if source.sky_lux:
                sky = self._sky(source, self._patch_met, gathering(places, normals, PATCH_GATHERED)[1], len(places))
                found[k] += sky.reshape(-1, per).mean(axis=1)[:, None] * source.rgb
        return found

    @cached_property
    def card_faces(self) -> list[tuple[int, LitFace]]:
        """(number, face) of each patch of every card; a face gives one lux for each that its patch gives back."""
        return card_faces(self.casters)


def _but_lights(casters: Casters) -> list[tuple[str, str]]:
    return [owner for owner in casters.owners if owner[0] != "light"]
