"""Light over the whole surface as a picture: what comes straight, with shadows as sharp as they fall, and what is given back.

Shadows are drawn, not traced: for each of some places of a light the outlines of everything that stands in the way are thrown on the
surface
and filled, and those pictures averaged.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

import cv2
import numpy as np
import shapely

from ..solids.pieces import convex_bodies
from .falling import Lighting
from .forms import Block, Panel
from .lit_face import area_of, samples_of, unhindered, weights_of
from .readings import UP
from .shadows import touched_by
from .sources import Source, sun_samples

#: Outlines are filled to this part of a pixel, as a power of two.
_SHIFT = 4
#: Places of a light that shadows are thrown from, a side; places a side of the grids on which what changes slowly is worked out.
_SIDE, _SLOW, _QUICK = 6, 20, 60
_GATHERED = 100
#: Nearer to a foot than this, mm, it is the thing's own contact that darkens.
_OFF_FEET_MM = 4.0
_CORNERS = 1 << _SHIFT
#: Corners of a panel, in half-sides.
_SIDES = ((-1, -1), (1, -1), (1, 1), (-1, 1))


#: x0, y0, x1, y1 of a part of the surface, mm.
Part = tuple[float, float, float, float]


def surface_light(lighting: Lighting, size: tuple[int, int], *, side: int = _SIDE, part: Part | None = None) -> np.ndarray:
    """(down, across, 3) linear lux on the surface, or a part of it, the back row first. size: (across, down)."""
    found = np.zeros((size[1], size[0], 3))
    for source in lighting.sources:
        if not source.sky_lux:
            found += straight_over(lighting, source, size, side=side, part=part)[..., None] * source.rgb
    return found + _cut(_back(lighting), lighting, size, part)


def _whole(lighting: Lighting) -> Part:
    return 0.0, 0.0, lighting.scene.surface.width, lighting.scene.surface.depth


def _cut(picture: np.ndarray, lighting: Lighting, size: tuple[int, int], part: Part | None) -> np.ndarray:
    """(down, across, 3): the part of a picture over the whole surface, at that size."""
    if part is None:
        return cv2.resize(picture, size, interpolation=cv2.INTER_LINEAR)
    _, _, wide, deep = _whole(lighting)
    x0, y0, x1, y1 = part
    x = (x0 + (np.arange(size[0]) + 0.5) / size[0] * (x1 - x0)) / wide * picture.shape[1] - 0.5
    y = (1 - (y1 - (np.arange(size[1]) + 0.5) / size[1] * (y1 - y0)) / deep) * picture.shape[0] - 0.5
    over, down = np.meshgrid(x.astype(np.float32), y.astype(np.float32))
    return cv2.remap(picture, over, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)


def straight_over(
    lighting: Lighting, source: Source, size: tuple[int, int], *, side: int = _SIDE, part: Part | None = None
) -> np.ndarray:
    """(down, across) lux straight from a source, shadows and all, on the surface or a part of it."""
    return lighting.kept(f"surface {size} {side} {part}", partial(_straight, lighting, source, size, side, part), source)


def _straight(lighting: Lighting, source: Source, size: tuple[int, int], side: int, part: Part | None) -> np.ndarray:
    fine = _QUICK if source.opening is not None or any(f.cosine is not None for f in source.faces) else _SLOW
    where = part or _whole(lighting)
    points, shape = _grid(where, fine)
    lux = lighting.of_light(f"clear {fine} {where}", partial(_clear, source, points), source).reshape(shape)
    clear = cv2.resize(lux, size, interpolation=cv2.INTER_LINEAR)
    return clear * shade(lighting, source, *size, side, part)  # type: ignore[no-any-return]


def _back(lighting: Lighting) -> np.ndarray:
    """(rows, columns, 3) lux that is given back to the surface, and the sky's; where something stands, as round about it."""
    points, shape = _grid(_whole(lighting), _SLOW)
    feet = shapely.union_all([body.footprint for body in lighting.bodies.values()])
    free = ~shapely.intersects_xy(shapely.buffer(feet, _OFF_FEET_MM), points[:, 0], points[:, 1])
    # What is under a foot is asked as well, for nothing, so that each place keeps its number when things move.
    found = lighting.bounced(points, np.tile(UP, (len(points), 1)), rays=_GATHERED, exact=False, called="surface").sum(axis=0)
    light, there = np.where(free[:, None], found, 0.0).reshape(*shape, 3).astype(np.float32), free.reshape(shape).astype(np.float32)
    while there.min() <= 0 < there.max():  # spread from what is known, one cell further each time
        near = cv2.blur(there, (3, 3))
        spread = cv2.blur(light * there[..., None], (3, 3)) / np.maximum(near, 1 / 512)[..., None]
        fresh = (there <= 0) & (near > 0)
        light[fresh], there[fresh] = spread[fresh], 1.0
    return light


def _grid(part: Part, across: int) -> tuple[np.ndarray, tuple[int, int]]:
    """((n, 3) middles of cells of a part of the surface, back row first, (rows, columns))."""
    x0, y0, x1, y1 = part
    down = max(2, round(across * (y1 - y0) / (x1 - x0)))
    x = x0 + (np.arange(across) + 0.5) / across * (x1 - x0)
    y = y1 - (np.arange(down) + 0.5) / down * (y1 - y0)
    gx, gy = np.meshgrid(x, y)
    return np.column_stack([gx.ravel(), gy.ravel(), np.zeros(gx.size)]), (down, across)


def _clear(source: Source, points: np.ndarray) -> np.ndarray:
    normals = np.tile(UP, (len(points), 1))
    if source.to_sun is not None:
        return np.full(len(points), source.sun_lux * max(0.0, float(source.to_sun[2])))
    return sum((unhindered(points, normals, face, 6) for face in source.faces), np.zeros(len(points)))


def shade(lighting: Lighting, source: Source, across: int, down: int, side: int = _SIDE, part: Part | None = None) -> np.ndarray:
    """(down, across) the share of a source's light that comes through to the surface, or to a part of it."""
    surface = lighting.scene.surface
    x0, y0, x1, y1 = part or _whole(lighting)
    scale = np.array([across / (x1 - x0), -down / (y1 - y0)])
    offset = np.array([-x0 * scale[0], down - y0 * scale[1]])
    total = np.zeros((down, across))
    places, weights = _places(source, side, np.array([surface.width / 2, surface.depth / 2, 0.0]))
    outlines = outlines_of(lighting)
    for place, weight in zip(places, weights, strict=True):
        through = np.ones((down, across), dtype=np.float32)
        if source.opening is not None:
            through[:] = 0
            _fill(through, _corners_of(_thrown(_corners(source), place, source) * scale + offset), 1.0)
        for corners, passes in outlines.thrown(place, source, scale, offset, (across, down)):
            _dim(through, corners, passes)
        total += weight * through
    return total


def _places(source: Source, side: int, middle: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(places, or ways to the sun, (n, 3); how much each counts, together 1)."""
    if source.to_sun is not None:
        ways = sun_samples(source.to_sun, 4)
        return ways, np.full(len(ways), 1 / len(ways))
    if not source.faces:  # a lamp turned away from its sheet
        return np.empty((0, 3)), np.empty(0)
    if len(source.faces) == 1:
        places = samples_of(source.faces[0], side)
        light = np.ones(len(places))
    else:
        light = np.array([face.luminance * area_of(face.polygon) for face in source.faces])
        places = np.array([face.middle for face in source.faces])
    # As they count at the surface's middle: what lies under its horizon does not light it.
    light = light * weights_of(middle[None], UP[None], source.faces[0].out, places)[0]
    over = light > 0
    if not over.any():
        return places[:0], light[:0]
    return places[over], light[over] / light[over].sum()


@dataclass(frozen=True, eq=False, slots=True)
class Outlines:
    """Everything that stands over the surface, in convex parts. points: (n, 3) corners of all parts, first: where each part begins;
    rings: of each part, one, or two of as many corners, one above the other; balls: (b, 4); the owner of each part and of each ball, and
    what passes it."""

    points: np.ndarray
    first: np.ndarray
    rings: tuple[int, ...]
    owner: tuple[int, ...]
    passes: tuple[float, ...]
    balls: np.ndarray
    ball_owner: tuple[int, ...]
    ball_passes: tuple[float, ...]

    @classmethod
    def standing(cls, lighting: Lighting) -> Outlines:
        """Of all that stands about; the surface is what shadows fall on."""
        casters = lighting.casters
        parts: list[tuple[np.ndarray, int]] = []
        balls: list[tuple[np.ndarray, int]] = []
        for caster, owner in zip(casters.casters, casters.owner_of, strict=True):
            if casters.owners[owner][0] in ("surface", "placement"):
                continue
            if isinstance(caster, Panel) and caster.blocks:
                corners = np.array([caster.at + a * caster.along + b * caster.upward for a, b in _SIDES])
                parts.append((corners, owner))
            elif isinstance(caster, Block):
                parts.append((_block_corners(caster), owner))
        for placement_id, body in lighting.bodies.items():
            (owner,) = lighting.owner("placement", placement_id)
            balls += [(ball, owner) for ball in body.spheres]
            if not len(body.spheres):
                parts += [(_thinned(part), owner) for piece in convex_bodies(body) for part in piece.parts]
        rings = tuple(1 if len(p) == len(_SIDES) else 2 for p, _ in parts)
        points = np.concatenate([p for p, _ in parts]) if parts else np.empty((0, 3))
        first = np.concatenate([[0], np.cumsum([len(p) for p, _ in parts])]).astype(int)
        spheres = np.array([b for b, _ in balls]).reshape(-1, 4)
        of, ball_of = tuple(o for _, o in parts), tuple(o for _, o in balls)
        passes, ball_passes = (tuple(casters.passes[o] for o in owners) for owners in (of, ball_of))
        return cls(points, first, rings, of, passes, spheres, ball_of, ball_passes)

    def thrown(
        self, place: np.ndarray, source: Source, scale: np.ndarray, offset: np.ndarray, size: tuple[int, int]
    ) -> Iterator[tuple[np.ndarray, float]]:
        """(corners in parts of a pixel, what passes) of each part's shadow from one place of a light that falls into the picture."""
        touched = touched_by(self.balls, place, is_sun=source.to_sun is not None)
        per = touched.shape[1]
        points = np.concatenate([self.points, touched.reshape(-1, 3)])
        first = np.concatenate([self.first[:-1], len(self.points) + per * np.arange(len(self.balls))]).astype(int)
        if not len(first):
            return
        flat = _thrown(points, place, source) * scale + offset
        low, high = np.minimum.reduceat(flat, first), np.maximum.reduceat(flat, first)
        falls = np.nonzero((high >= -1).all(axis=1) & (low <= np.array(size) + 1).all(axis=1))[0]
        corners, ends, passes = _corners_of(flat), [*first[1:], len(points)], self.passes + self.ball_passes
        for k in falls:
            yield cv2.convexHull(corners[first[k] : ends[k]]), passes[k]


def outlines_of(lighting: Lighting) -> Outlines:
    """Worked out once for things and cards."""
    return lighting.kept("outlines", partial(Outlines.standing, lighting))


def _thinned(part: np.ndarray) -> np.ndarray:
    return part[::2] if len(part) > 100 else part


def _block_corners(block: Block) -> np.ndarray:
    """Corners of an upright box from its planes: a ring below and one above."""
    normals, reach = block.planes[:, :3], block.planes[:, 3]
    three = [[i, j, k] for k in (5, 4) for i, j in ((1, 3), (0, 3), (0, 2), (1, 2))]
    return np.array([np.linalg.solve(normals[planes], reach[planes]) for planes in three])


def _corners(source: Source) -> np.ndarray:
    opening = source.opening
    assert opening is not None
    if opening.round:
        angles = np.linspace(0, 2 * np.pi, 32, endpoint=False)
        return opening.at + np.cos(angles)[:, None] * opening.along + np.sin(angles)[:, None] * opening.upward
    return np.array([opening.at + a * opening.along + b * opening.upward for a, b in _SIDES])


def _thrown(points: np.ndarray, place: np.ndarray, source: Source) -> np.ndarray:
    """(m, 2) where what stands over the surface is thrown on it; what is as high as the light, a long way off."""
    height = np.maximum(points[:, 2], 0.0)
    if source.to_sun is not None:
        return points[:, :2] - height[:, None] * (place[:2] / max(float(place[2]), 1 / 512))
    fall = np.maximum(place[2] - height, (place[2] if place[2] > 0 else 1.0) / 128)
    return points[:, :2] + (height / fall)[:, None] * (points[:, :2] - place[:2])  # type: ignore[no-any-return]


def _corners_of(flat: np.ndarray) -> np.ndarray:
    """(m, 2) whole parts of a pixel, as outlines are filled by."""
    return np.rint(np.clip(flat - 0.5, -1 << 15, 1 << 15) * _CORNERS).astype(np.int32)  # type: ignore[no-any-return]


def _fill(picture: np.ndarray, corners: np.ndarray, value: float) -> None:
    cv2.fillConvexPoly(picture, corners, value, lineType=cv2.LINE_8, shift=_SHIFT)


def _dim(picture: np.ndarray, corners: np.ndarray, passes: float) -> None:
    """What lies under the outline keeps so much of its light."""
    if passes == 0:
        _fill(picture, corners, 0.0)
        return
    mask = np.ones(picture.shape, dtype=np.float32)
    _fill(mask, corners, passes)
    picture *= mask
