"""The forms in which rays meet what stands in the way of light: blocks, balls, dishes and panels; and bodies cut into them."""

from __future__ import annotations

from dataclasses import dataclass

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


@dataclass(frozen=True, eq=False, slots=True)
class Block:
    """A convex solid as half spaces: rows of planes (k, 4) are an outward normal and how far along it the face lies. bounds: (2, 3) least
    and most of it, mm; patch: (k,) of each plane."""

    planes: np.ndarray
    centre: np.ndarray
    radius: float
    bounds: np.ndarray
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


def ball_round(caster: Caster) -> tuple[float, float, float, float]:
    """(x, y, z, radius) of a ball that holds it."""
    if isinstance(caster, Panel):
        return (*caster.at, float(np.hypot(np.linalg.norm(caster.along), np.linalg.norm(caster.upward))))
    return (*caster.centre, caster.radius)


def box_round(caster: Caster) -> np.ndarray:
    """(2, 3) least and most of a box that holds it, mm."""
    if isinstance(caster, Block):
        return caster.bounds
    if isinstance(caster, Balls):
        middles, radii = caster.spheres[:, :3], caster.spheres[:, 3:]
        return np.array([(middles - radii).min(axis=0), (middles + radii).max(axis=0)])
    if isinstance(caster, Panel):
        reach = np.abs(caster.along) + np.abs(caster.upward)
        return np.array([caster.at - reach, caster.at + reach])
    return np.array([caster.centre - caster.radius, caster.centre + caster.radius])


def sector_of(normals: np.ndarray) -> np.ndarray:
    """(n,) which of SECTORS ways normals (n, 3) look."""
    about = np.floor(np.degrees(np.arctan2(normals[:, 1], normals[:, 0])) % 360 / 60).astype(int) % 6
    return np.where(normals[:, 2] > 0.7, 0, np.where(normals[:, 2] < -0.7, 1, 2 + about))


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
    centre = part.mean(axis=0)  # always within; the middle of its bounds is not, and would turn a sliver's long side inside out
    along_low, along_high, up = np.roll(low, -1, axis=0) - low, np.roll(high, -1, axis=0) - high, high - low
    sides = np.cross(np.where(np.linalg.norm(along_low, axis=1, keepdims=True) > 0, along_low, along_high), up)
    ends = np.array([np.cross(ring, np.roll(ring, -1, axis=0)).sum(axis=0) for ring in (low - centre, high - centre)])
    normals, places = np.concatenate([sides, ends]), np.concatenate([low, low[:1], high[:1]])
    size = np.linalg.norm(normals, axis=1)
    keep = size > SAME_NUMBER
    if not keep[-2:].any():
        return None  # a sliver no wider than rounding: nothing to stand in the way
    normals, places = normals[keep] / size[keep, None], places[keep]
    reach = ((places - centre) * normals).sum(axis=1)
    normals = np.where(reach[:, None] < 0, -normals, normals)
    rows = np.column_stack([normals, (places * normals).sum(axis=1)])
    planes = np.unique(np.round(rows, PLANE_DIGITS), axis=0)
    bounds = np.array([part.min(axis=0), part.max(axis=0)])
    return Block(planes, centre, float(np.linalg.norm(part - centre, axis=1).max()), bounds, sector_of(planes[:, :3]))


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
