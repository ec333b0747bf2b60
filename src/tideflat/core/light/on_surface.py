"""Light over the whole surface as a picture: what comes straight, with shadows as sharp as they fall, and what is given back.

Shadows are drawn, not traced: for each of some places of a light the outlines of everything that stands in the way are thrown on the
surface
and filled, and those pictures averaged.
"""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np
import shapely

from .casters import Block, Panel
from .falling import Lighting
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


def surface_light(lighting: Lighting, across: int, down: int, *, side: int = _SIDE) -> np.ndarray:
    """(down, across, 3) linear lux on the surface, the back row first."""
    found = np.zeros((down, across, 3))
    surface = lighting.scene.surface
    wide, deep = surface.width, surface.depth
    for source in lighting.sources:
        if source.sky_lux:
            continue
        fine = _QUICK if source.opening is not None or any(f.cosine is not None for f in source.faces) else _SLOW
        points, shape = _grid(wide, deep, fine)
        lux = _clear(lighting, source, points).reshape(shape)
        straight = cv2.resize(lux, (across, down), interpolation=cv2.INTER_LINEAR)
        found += (straight * shade(lighting, source, across, down, side))[..., None] * source.rgb
    return found + cv2.resize(_back(lighting), (across, down), interpolation=cv2.INTER_LINEAR)


def _back(lighting: Lighting) -> np.ndarray:
    """(rows, columns, 3) lux that is given back to the surface, and the sky's; where something stands, as round about it."""
    points, shape = _grid(lighting.scene.surface.width, lighting.scene.surface.depth, _SLOW)
    feet = shapely.union_all([body.footprint for body in lighting.bodies.values()])
    free = ~shapely.intersects_xy(shapely.buffer(feet, _OFF_FEET_MM), points[:, 0], points[:, 1])
    found = np.zeros((len(points), 3))
    found[free] = lighting.bounced(points[free], np.tile(UP, (int(free.sum()), 1)), rays=_GATHERED, exact=False, called="surface").sum(
        axis=0
    )
    light, there = found.reshape(*shape, 3).astype(np.float32), free.reshape(shape).astype(np.float32)
    while there.min() <= 0 < there.max():  # spread from what is known, one cell further each time
        near = cv2.blur(there, (3, 3))
        spread = cv2.blur(light * there[..., None], (3, 3)) / np.maximum(near, 1 / 512)[..., None]
        fresh = (there <= 0) & (near > 0)
        light[fresh], there[fresh] = spread[fresh], 1.0
    return light


def _grid(wide: float, deep: float, across: int) -> tuple[np.ndarray, tuple[int, int]]:
    """((n, 3) middles of cells of the surface, back row first, (rows, columns))."""
    down = max(2, round(across * deep / wide))
    x = (np.arange(across) + 0.5) / across * wide
    y = deep - (np.arange(down) + 0.5) / down * deep
    gx, gy = np.meshgrid(x, y)
    return np.column_stack([gx.ravel(), gy.ravel(), np.zeros(gx.size)]), (down, across)


def _clear(lighting: Lighting, source: Source, points: np.ndarray) -> np.ndarray:
    normals = np.tile(UP, (len(points), 1))
    if source.to_sun is not None:
        return np.full(len(points), source.sun_lux * max(0.0, float(source.to_sun[2])))
    return sum((unhindered(points, normals, face, 6) for face in source.faces), np.zeros(len(points)))


def shade(lighting: Lighting, source: Source, across: int, down: int, side: int = _SIDE) -> np.ndarray:
    """(down, across) the share of a source's light that comes through to the surface."""
    surface = lighting.scene.surface
    scale = np.array([across / surface.width, -down / surface.depth])
    offset = np.array([0.0, down])
    total = np.zeros((down, across))
    places, weights = _places(source, side, np.array([surface.width / 2, surface.depth / 2, 0.0]))
    outlines = list(_outlines(lighting))
    for place, weight in zip(places, weights, strict=True):
        through = np.ones((down, across), dtype=np.float32)
        if source.opening is not None:
            through[:] = 0
            _fill(through, _thrown(_corners(source), place, source) * scale + offset, 1.0)
        for points, ball, passes in outlines:
            solid = touched_by(ball, place, is_sun=source.to_sun is not None) if ball is not None else points
            flat = _thrown(solid, place, source)
            if len(flat) > 2:
                _dim(through, cv2.convexHull((flat * scale + offset).astype(np.float32))[:, 0], passes)
        total += weight * through
    return total


def _places(source: Source, side: int, middle: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(places, or ways to the sun, (n, 3); how much each counts, together 1)."""
    if source.to_sun is not None:
        ways = sun_samples(source.to_sun, 4)
        return ways, np.full(len(ways), 1 / len(ways))
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


def _outlines(lighting: Lighting) -> Iterator[tuple[np.ndarray, np.ndarray | None, float]]:
    """(corners of a convex part, or a ball, what passes it) of everything that stands over the surface."""
    casters = lighting.casters
    for caster, owner in zip(casters.casters, casters.owner_of, strict=True):
        passes = casters.passes[owner]
        if casters.owners[owner][0] in ("surface", "placement"):
            continue
        if isinstance(caster, Panel) and caster.blocks:
            yield (
                np.array([caster.at + a * caster.along + b * caster.upward for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]),
                None,
                passes,
            )
        elif isinstance(caster, Block):
            yield _block_corners(caster), None, passes
    for placement_id, body in lighting.bodies.items():
        (owner,) = lighting.owner("placement", placement_id)
        passes = casters.passes[owner]
        if len(body.spheres):
            for ball in body.spheres:
                yield np.empty((0, 3)), ball, passes
            continue
        from ..solids.pieces import convex_bodies

        for piece in convex_bodies(body):
            for part in piece.parts:
                yield part[::2] if len(part) > 100 else part, None, passes


def _block_corners(block: Block) -> np.ndarray:
    """Corners of an upright box from its planes."""
    normals, reach = block.planes[:, :3], block.planes[:, 3]
    found = []
    for i in (0, 1):
        for j in (2, 3):
            for k in (4, 5):
                found.append(np.linalg.solve(normals[[i, j, k]], reach[[i, j, k]]))
    return np.array(found)


def _corners(source: Source) -> np.ndarray:
    opening = source.opening
    assert opening is not None
    if opening.round:
        angles = np.linspace(0, 2 * np.pi, 32, endpoint=False)
        return opening.at + np.cos(angles)[:, None] * opening.along + np.sin(angles)[:, None] * opening.upward
    return np.array([opening.at + a * opening.along + b * opening.upward for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))])


def _thrown(points: np.ndarray, place: np.ndarray, source: Source) -> np.ndarray:
    """(m, 2) where what stands over the surface is thrown on it; what is as high as the light, a long way off."""
    over = points[points[:, 2] >= 0]
    if len(over) < len(points):
        over = np.concatenate([over, points[points[:, 2] < 0] * [1, 1, 0]])
    if source.to_sun is not None:
        return over[:, :2] - over[:, 2:] * (place[:2] / max(float(place[2]), 1 / 512))
    fall = np.maximum(place[2] - over[:, 2], (place[2] if place[2] > 0 else 1.0) / 128)
    return over[:, :2] + (over[:, 2] / fall)[:, None] * (over[:, :2] - place[:2])


def _fill(picture: np.ndarray, polygon: np.ndarray, value: float) -> None:
    cv2.fillPoly(
        picture, [np.rint(np.clip(polygon - 0.5, -1 << 15, 1 << 15) * _CORNERS).astype(np.int32)], value, lineType=cv2.LINE_8, shift=_SHIFT
    )


def _dim(picture: np.ndarray, polygon: np.ndarray, passes: float) -> None:
    """What lies under the outline keeps so much of its light; only that part of the picture is touched."""
    down, across = picture.shape
    x0, y0 = np.maximum(np.floor(polygon.min(axis=0)).astype(int) - 1, 0)
    x1, y1 = np.minimum(np.ceil(polygon.max(axis=0)).astype(int) + 2, [across, down])
    if x0 >= x1 or y0 >= y1:
        return
    part = picture[y0:y1, x0:x1]
    if passes == 0:
        whole = np.ascontiguousarray(part)
        _fill(whole, polygon - [x0, y0], 0.0)
        part[:] = whole
    else:
        mask = np.ones(part.shape, dtype=np.float32)
        _fill(mask, polygon - [x0, y0], passes)
        part *= mask
