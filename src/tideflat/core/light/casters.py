"""What stands in the way of light, cut into patches.

A patch is a part of a surface that gives light back evenly: a thing has one for each of eight ways that its faces look, a panel a grid.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from ..remember import remembered
from ..solids.body import Body
from ..tolerances import SHRUNK_MM
from .forms import SECTORS, Balls, Block, Caster, Dish, Form, Panel, ball_round, forms_of, sector_of

#: A patch is looked at from so many places, of so many that may be it.
_PLACES, _MOST_PLACES = 3, 24
#: A face's places are its middle and some so far toward where its thing ends.
_TOWARD_ENDS = 0.6


@dataclass(eq=False)
class Casters:
    """All that stands round a point. casters: with the owner of each in ``owners``; passes: (owners,) the share of light that goes through.
    places: (p, _PLACES, 3) where each patch is looked at, once chosen, its normals and what it gives back, (p, 3) linear; owner: (p,)."""

    casters: list[Caster] = field(default_factory=list)
    owner_of: list[int] = field(default_factory=list)
    owners: list[tuple[str, str]] = field(default_factory=list)
    passes: list[float] = field(default_factory=list)
    places: np.ndarray = field(default_factory=lambda: np.empty((0, _PLACES, 3)))
    normals: np.ndarray = field(default_factory=lambda: np.empty((0, _PLACES, 3)))
    _places: list[np.ndarray] = field(default_factory=list)
    _normals: list[np.ndarray] = field(default_factory=list)
    _rho: list[np.ndarray] = field(default_factory=list)
    _owner: list[int] = field(default_factory=list)

    @cached_property
    def shading(self) -> tuple[int, ...]:
        """Numbers of the casters that shade."""
        return tuple(k for k, c in enumerate(self.casters) if not isinstance(c, Panel) or c.blocks)

    @cached_property
    def balls(self) -> np.ndarray:
        """(casters, 4) a middle and a radius round each."""
        return np.array([ball_round(c) for c in self.casters]).reshape(-1, 4)

    @property
    def patch_count(self) -> int:
        return len(self._owner)

    @property
    def candidates(self) -> tuple[np.ndarray, np.ndarray]:
        """((n, 3) places of all patches one after the other, (n, 3) their normals)."""
        return np.concatenate(self._places or [np.empty((0, 3))]), np.concatenate(self._normals or [np.empty((0, 3))])

    def choose(self, covered: np.ndarray) -> None:
        """Of each patch the places that it is looked at from: of those over which nothing stands (``covered`` (n,), as candidates are
        listed), where there are such. What stands on a part of it neither takes light from the rest nor sees any."""
        chosen, first = [], 0
        for k, places in enumerate(self._places):
            free = np.nonzero(~covered[first : first + len(places)])[0]
            first += len(places)
            free = free if len(free) else np.arange(len(places))
            pick = free[np.linspace(0, len(free) - 1, _PLACES).round().astype(int)]
            chosen.append((places[pick], self._normals[k][pick]))
        self.places = np.array([p for p, _ in chosen]).reshape(-1, _PLACES, 3)
        self.normals = np.array([n for _, n in chosen]).reshape(-1, _PLACES, 3)

    @property
    def gives_back(self) -> np.ndarray:
        return np.array(self._rho).reshape(-1, 3)

    @property
    def owner(self) -> np.ndarray:
        return np.array(self._owner, dtype=int)

    def own(self, kind: str, name: str, passes: float = 0.0) -> int:
        """A new owner: what it is, and its id."""
        self.owners.append((kind, name))
        self.passes.append(passes)
        return len(self.owners) - 1

    def add(self, owner: int, caster: Caster) -> None:
        self.casters.append(caster)
        self.owner_of.append(owner)

    def patch(self, owner: int, places: np.ndarray, normals: np.ndarray, rho: np.ndarray) -> int:
        """A new patch, looked at from places (k, 3), k at least 1, facing normals (k, 3)."""
        self._places.append(places)
        self._normals.append(normals)
        self._rho.append(rho)
        self._owner.append(owner)
        return len(self._owner) - 1

    def add_panel(self, owner: int, at: np.ndarray, along: np.ndarray, upward: np.ndarray, grid: tuple[int, int],
                  front: np.ndarray | None, back: np.ndarray | None, *, blocks: bool = True) -> None:  # fmt: skip
        """A panel whose sides give back ``front`` and ``back`` (3,), None for nothing."""
        out = np.cross(along, upward)
        out = out / np.linalg.norm(out)
        columns, rows = grid
        first = []
        for rho, way in ((front, out), (back, -out)):
            if rho is None:
                first.append(-1)
                continue
            first.append(self.patch_count)
            for row in range(rows):
                for column in range(columns):
                    steps = np.array([[0.0, 0.0], [-0.28, 0.22], [0.28, -0.22]])
                    a, b = (2 * (column + 0.5 + steps[:, 0]) / columns - 1), (2 * (row + 0.5 + steps[:, 1]) / rows - 1)
                    self.patch(owner, at + a[:, None] * along + b[:, None] * upward, np.tile(way, (3, 1)), rho)
        self.add(owner, Panel(at, along, upward, columns, rows, first[0], first[1], blocks))

    def add_body(self, owner: int, body: Body, rho: np.ndarray) -> None:
        """A thing, its colours as one."""
        forms = forms_of(body)
        number = np.full(2 * SECTORS, -1)
        for sector, (places, normals) in sorted(_patches_of(body).items()):
            number[sector] = self.patch(owner, places, normals, rho)
        for form in forms:
            self.add(owner, replace(form, patch=number[form.patch]))


@remembered(2)
def _patches_of(body: Body) -> dict[int, tuple[np.ndarray, np.ndarray]]:
    """For each sector, places on the faces that look that way and their normals, the largest faces first."""
    forms = forms_of(body)
    listed = [(k, *face) for k, form in enumerate(forms) for face in _faces(form)]
    if not listed:
        return {}
    of, sizes, sectors = (np.array([face[k] for face in listed]) for k in (0, 1, 4))
    places, normals = (np.array([face[k] for face in listed]) for k in (2, 3))
    is_free, outside = np.ones(len(listed), dtype=bool), places + normals
    for k, form in enumerate(forms):
        if isinstance(form, Block):  # where two pieces of a thing meet
            is_free &= (of == k) | (outside @ form.planes[:, :3].T > form.planes[:, 3]).any(axis=1)
    found = {}
    for sector in np.unique(sectors[is_free]):
        own = np.nonzero(is_free & (sectors == sector))[0]
        own = own[np.argsort(-sizes[own], kind="stable")][:_MOST_PLACES]
        found[int(sector)] = places[own], normals[own]
    return found


def _faces(form: Form) -> Iterable[tuple[float, np.ndarray, np.ndarray, int]]:
    if isinstance(form, Balls):
        ways = np.array([[0, 0, 1.0], [0, 0, -1.0], *([np.cos(a), np.sin(a), 0.0] for a in np.radians(np.arange(6) * 60 + 30))])
        for x, y, z, radius in form.spheres[:: max(1, len(form.spheres) // 3)]:
            for sector, way in enumerate(ways):
                yield radius, np.array([x, y, z]) + radius * way, way, sector
    elif isinstance(form, Block):
        for plane, sector, (size, places) in zip(form.planes, form.patch, _plane_faces(form), strict=True):
            for place in places:
                yield size, place, plane[:3], int(sector)
    elif isinstance(form, Dish):
        yield from _dish_faces(form)


def _dish_faces(dish: Dish) -> Iterable[tuple[float, np.ndarray, np.ndarray, int]]:
    """Places all round the wall, outside and in, on the floor and under the foot."""
    middle = (dish.foot + dish.rim) / 2
    slope = np.array([dish.height, dish.foot - dish.rim]) / np.hypot(dish.height, dish.rim - dish.foot)
    inner = dish.foot + (dish.rim - dish.foot) * dish.floor / dish.height
    for angle in np.radians(np.arange(0, 360, 15)):
        way = np.array([np.cos(angle), np.sin(angle), 0.0])
        wall = (way * middle + [0, 0, dish.height / 2], way * slope[0] + [0, 0, slope[1]])
        for place, normal, side in ((*wall, 0), (wall[0], -wall[1], 1), (way * inner / 2 + [0, 0, dish.floor], np.array([0.0, 0, 1]), 1)):
            out = normal @ dish.turned.T
            yield 1.0, place @ dish.turned.T + dish.base, out, side * SECTORS + int(sector_of(out[None])[0])
    down = np.array([0.0, 0, -1]) @ dish.turned.T
    yield 1.0, dish.base, down, int(sector_of(down[None])[0])


def _plane_faces(block: Block) -> list[tuple[float, np.ndarray]]:
    """(weight, places (k, 3)) of each face of a block: where a ray from its middle leaves through that plane, or the place of the plane
    nearest; and others on it."""
    normals, reach = block.planes[:, :3], block.planes[:, 3]
    along, low, high = reach - normals @ block.centre, *block.bounds
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    found = []
    for k, normal in enumerate(normals):
        place = block.centre + along[k] * normal
        weight = float((normals @ place <= reach + 0.01 * block.radius).mean())
        ends = place + _TOWARD_ENDS * (corners - block.centre)
        ends = ends - ((ends @ normal) - reach[k])[:, None] * normal
        others = np.arange(len(normals)) != k
        on = (ends @ normals[others].T < reach[others] - SHRUNK_MM).all(axis=1)
        found.append((weight, np.concatenate([place[None], np.unique(np.round(ends[on], 3), axis=0)])))
    return found
