"""What stands in the way of light, in the forms that rays meet quickly: blocks, balls, dishes and panels, cut into patches.

A patch is a part of a surface that gives light back evenly: a thing has one for each of eight ways that its faces look, a panel a grid.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from ..remember import remembered
from ..solids.body import Body
from ..solids.pieces import convex_bodies
from ..tolerances import PLANE_DIGITS, SAME_NUMBER

#: Rounded parts are met as so many points a ring: every so many of the circle's.
_RING_STEP = 4
#: A part of more corners than this is round.
_MOST_CORNERS = 64
#: Up, down, and six ways about.
SECTORS = 8
#: A patch is looked at from so many places at most.
_PLACES = 3


@dataclass(frozen=True, eq=False, slots=True)
class Block:
    """A convex solid as half spaces: rows of planes (k, 4) are an outward normal and how far along it the face lies. patch: (k,) of each."""

    planes: np.ndarray
    centre: np.ndarray
    radius: float
    patch: np.ndarray


@dataclass(frozen=True, eq=False, slots=True)
class Balls:
    """spheres: (s, 4) centre and radius. patch: (SECTORS,) of each."""

    spheres: np.ndarray
    centre: np.ndarray
    radius: float
    patch: np.ndarray


@dataclass(frozen=True, eq=False, slots=True)
class Dish:
    """An open dish in its own axes: ``turned`` (3, 3) and ``base`` (3,) put it on the table. foot, rim: radii of its wall, low and high;
    height; floor: how high its floor lies. patch: (2, SECTORS), outside and foot, inside and floor."""

    turned: np.ndarray
    base: np.ndarray
    foot: float
    rim: float
    height: float
    floor: float
    centre: np.ndarray
    radius: float
    patch: np.ndarray


@dataclass(frozen=True, eq=False, slots=True)
class Panel:
    """A flat rectangle about ``at`` with half-sides ``along`` and ``upward`` (3,), in columns and rows of patches. front, back: the first
    patch of each side, -1 where that side gives nothing back. blocks: whether it shades; what does not is met on its front only."""

    at: np.ndarray
    along: np.ndarray
    upward: np.ndarray
    columns: int
    rows: int
    front: int
    back: int
    blocks: bool

    @property
    def out(self) -> np.ndarray:
        way = np.cross(self.along, self.upward)
        return way / np.linalg.norm(way)  # type: ignore[no-any-return]

    def cells(self) -> list[np.ndarray]:
        """(4, 3) corners of each patch, in their order, counter-clockwise seen from the front."""
        found = []
        for row in range(self.rows):
            for column in range(self.columns):
                a = 2 * np.array([column, column + 1, column + 1, column]) / self.columns - 1
                b = 2 * np.array([row, row, row + 1, row + 1]) / self.rows - 1
                found.append(self.at + a[:, None] * self.along + b[:, None] * self.upward)
        return found


Form = Block | Balls | Dish
Caster = Form | Panel


@dataclass(eq=False)
class Casters:
    """All that stands round a point. casters: with the owner of each in ``owners``; passes: (owners,) the share of light that goes through.
    places: (p, _PLACES, 3) where each patch is looked at, its normals and what it gives back, (p, 3) linear; owner: (p,)."""

    casters: list[Caster] = field(default_factory=list)
    owner_of: list[int] = field(default_factory=list)
    owners: list[tuple[str, str]] = field(default_factory=list)
    passes: list[float] = field(default_factory=list)
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
        return np.array([_ball_round(c) for c in self.casters]).reshape(-1, 4)

    @property
    def patch_count(self) -> int:
        return len(self._owner)

    @property
    def places(self) -> np.ndarray:
        return np.array(self._places).reshape(-1, _PLACES, 3)

    @property
    def normals(self) -> np.ndarray:
        return np.array(self._normals).reshape(-1, _PLACES, 3)

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
        pick = np.linspace(0, len(places) - 1, _PLACES).round().astype(int)
        self._places.append(places[pick])
        self._normals.append(normals[pick])
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
        for sector, (places, normals) in sorted(_patches(forms).items()):
            number[sector] = self.patch(owner, places, normals, rho)
        for form in forms:
            self.add(owner, replace(form, patch=number[form.patch]))


def _ball_round(caster: Caster) -> tuple[float, float, float, float]:
    if isinstance(caster, Panel):
        return (*caster.at, float(np.hypot(np.linalg.norm(caster.along), np.linalg.norm(caster.upward))))
    return (*caster.centre, caster.radius)


def sector_of(normals: np.ndarray) -> np.ndarray:
    """(n,) which of SECTORS ways normals (n, 3) look."""
    about = np.floor(np.degrees(np.arctan2(normals[:, 1], normals[:, 0])) % 360 / 60).astype(int) % 6
    return np.where(normals[:, 2] > 0.7, 0, np.where(normals[:, 2] < -0.7, 1, 2 + about))


def _patches(forms: tuple[Form, ...]) -> dict[int, tuple[np.ndarray, np.ndarray]]:
    """For each sector, places on the faces that look that way and their normals, the largest faces first."""
    places: dict[int, list[tuple[float, np.ndarray, np.ndarray]]] = {}
    blocks = [form for form in forms if isinstance(form, Block)]
    for form in forms:
        for size, place, normal, sector in _faces(form):
            outside = place + normal
            if any(bool((b.planes[:, :3] @ outside <= b.planes[:, 3]).all()) for b in blocks if b is not form):
                continue  # where two pieces of a thing meet
            places.setdefault(sector, []).append((size, place, normal))
    found = {}
    for sector, listed in places.items():
        listed.sort(key=lambda f: -f[0])
        kept = listed[:12]
        found[sector] = np.array([p for _, p, _ in kept]), np.array([n for _, _, n in kept])
    return found


def _faces(form: Form) -> Iterable[tuple[float, np.ndarray, np.ndarray, int]]:
    if isinstance(form, Balls):
        ways = np.array([[0, 0, 1.0], [0, 0, -1.0], *([np.cos(a), np.sin(a), 0.0] for a in np.radians(np.arange(6) * 60 + 30))])
        for x, y, z, radius in form.spheres[:: max(1, len(form.spheres) // 3)]:
            for sector, way in enumerate(ways):
                yield radius, np.array([x, y, z]) + radius * way, way, sector
    elif isinstance(form, Block):
        for (nx, ny, nz, _), sector, (size, middle) in zip(form.planes, form.patch, _plane_faces(form), strict=True):
            yield size, middle, np.array([nx, ny, nz]), int(sector)
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
    """(weight, a place) of each face of a block: where a ray from its middle leaves through that plane, or the place of the plane nearest."""
    normals, reach = block.planes[:, :3], block.planes[:, 3]
    along = reach - normals @ block.centre
    found = []
    for k, normal in enumerate(normals):
        place = block.centre + along[k] * normal
        inside = normals @ place <= reach + 0.01 * block.radius
        found.append((float(inside.mean()), place))
    return found


@remembered(4)
def forms_of(body: Body) -> tuple[Form, ...]:
    """The body in forms whose patches are sectors."""
    if len(body.spheres):
        centre = body.spheres[:, :3].mean(axis=0)
        reach = float((np.linalg.norm(body.spheres[:, :3] - centre, axis=1) + body.spheres[:, 3]).max())
        return (Balls(body.spheres, centre, reach, np.arange(SECTORS)),)
    if body.local.opening is not None and body.shape.floor_mm is not None:
        return (_dish(body),)
    blocks = []
    for piece in convex_bodies(body):
        blocks += [block for part in piece.parts if (block := _block(part)) is not None]
    return tuple(blocks)


def _block(part: np.ndarray) -> Block | None:
    """A convex part, which is always two rings of as many corners, one above the other: a plane for each side between them, and both ends."""
    step = _RING_STEP if len(part) > _MOST_CORNERS else 1
    low, high = (ring[::step] for ring in np.split(part, 2))
    centre = (part.max(axis=0) + part.min(axis=0)) / 2
    along_low, along_high, up = np.roll(low, -1, axis=0) - low, np.roll(high, -1, axis=0) - high, high - low
    sides = np.cross(np.where(np.linalg.norm(along_low, axis=1, keepdims=True) > 0, along_low, along_high), up)
    ends = np.array([np.cross(ring, np.roll(ring, -1, axis=0)).sum(axis=0) for ring in (low - centre, high - centre)])
    normals, places = np.concatenate([sides, ends]), np.concatenate([low, low[:1], high[:1]])
    size = np.linalg.norm(normals, axis=1)
    keep = size > SAME_NUMBER
    if not keep.any():
        return None  # no thicker than rounding: nothing to stand in the way
    normals, places = normals[keep] / size[keep, None], places[keep]
    reach = ((places - centre) * normals).sum(axis=1)
    normals = np.where(reach[:, None] < 0, -normals, normals)
    rows = np.column_stack([normals, (places * normals).sum(axis=1)])
    planes = np.unique(np.round(rows, PLANE_DIGITS), axis=0)
    return Block(planes, centre, float(np.linalg.norm(part - centre, axis=1).max()), sector_of(planes[:, :3]))


def _dish(body: Body) -> Dish:
    """An open dish: wall, foot, and the floor inside."""
    floor = body.shape.floor_mm
    assert floor is not None and body.local.opening is not None
    circles = body.local.circles
    foot, rim = (float(np.linalg.norm(circles[k][1])) for k in (0, body.local.opening))
    centre = body.placed_point(np.array([0.0, 0.0, body.local.height / 2]))
    reach = float(np.hypot(max(foot, rim), body.local.height / 2))
    patch = np.arange(2 * SECTORS).reshape(2, SECTORS)
    return Dish(body.turned, body.base, foot, rim, body.local.height, floor, centre, reach, patch)
