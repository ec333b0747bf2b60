"""How much light falls on a face from an even, matt polygon: Lambert's formula, after the part below the face's own horizon is cut off.

Source: J. H. Lambert, *Photometria*, 1760; as in J. Arvo, "Applications of irradiance tensors to the simulation of non-Lambertian
phenomena", SIGGRAPH 1995: ``E = L / 2 * sum(angle_i * n . unit(v_i x v_i+1))``. Checked by the closed forms of rectangle and disc (table
of J. R. Howell, "A catalog of radiation heat transfer configuration factors").
"""

from __future__ import annotations

import numpy as np

from ..tolerances import LIFTED_MM, SAME_NUMBER


def projected_solid_angle(points: np.ndarray, normals: np.ndarray, polygon: np.ndarray) -> np.ndarray:
    """(n,) what points (n, 3) facing normals (n, 3), unit, see of a convex polygon (k, 3): light of luminance 1 that falls on them. Which
    side of the polygon they see is not asked. Places and polygon in one unit; 0 to pi."""
    height = polygon @ normals.T - np.einsum("nc,nc->n", points, normals)
    is_above = height >= 0
    whole = is_above.all(axis=0)
    cut = is_above.any(axis=0) & ~whole
    seen = np.zeros(len(points))
    if whole.any():
        seen[whole] = _of_whole(points[whole], normals[whole], polygon)
    if cut.any():
        seen[cut] = _of_cut(points[cut], normals[cut], polygon)
    return seen


def _of_whole(points: np.ndarray, normals: np.ndarray, polygon: np.ndarray) -> np.ndarray:
    """(n,) the same where no part of the polygon is below the horizon."""
    corners = [np.subtract(corner[:, None], points.T) for corner in polygon]
    total = np.zeros(len(points))
    for start, end in zip(corners, [*corners[1:], corners[0]], strict=True):
        total += _turned(start.T, end.T, normals)
    return np.abs(total) / 2  # type: ignore[no-any-return]


def _of_cut(points: np.ndarray, normals: np.ndarray, polygon: np.ndarray) -> np.ndarray:
    """(n,) the same where a part is below it."""
    corners = polygon[None] - points[:, None]
    height = np.einsum("nkc,nc->nk", corners, normals)
    after, height_after = np.roll(corners, -1, axis=1), np.roll(height, -1, axis=1)
    rising, falling = (height < 0) & (height_after >= 0), (height >= 0) & (height_after < 0)
    crossing = rising | falling
    share = np.where(crossing, height / np.where(crossing, height - height_after, 1.0), 0.0)
    meets = corners + share[..., None] * (after - corners)
    start = np.where(rising[..., None], meets, corners)
    end = np.where(falling[..., None], meets, after)
    above = (height >= 0) | (height_after >= 0)
    total = (_turned(start, end, normals[:, None]) * above).sum(axis=1)
    # The edge along the horizon, from where the outline goes under to where it comes up again.
    gone = np.where(falling[..., None], meets, 0.0).sum(axis=1)
    come = np.where(rising[..., None], meets, 0.0).sum(axis=1)
    total += np.where(crossing.any(axis=1), _turned(gone, come, normals), 0.0)
    return np.abs(total) / 2  # type: ignore[no-any-return]


def _turned(start: np.ndarray, end: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """(...) the angle between two ways, times the cosine between the normal and the way square to both."""
    (ax, ay, az), (bx, by, bz), (nx, ny, nz) = (np.moveaxis(ways, -1, 0) for ways in (start, end, normals))
    # The cross product by its parts: many times quicker than over a last axis of three.
    cx, cy, cz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
    size = np.sqrt(cx * cx + cy * cy + cz * cz)
    angle = np.arctan2(size, ax * bx + ay * by + az * bz)
    return angle * (cx * nx + cy * ny + cz * nz) / np.maximum(size, SAME_NUMBER)  # type: ignore[no-any-return]


def frame_of(toward: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(along the width, along the height, out of the face), unit (3,): the width is level, along x where the face looks straight up or
    down."""
    out = np.asarray(toward, dtype=float)
    out = out / np.linalg.norm(out)
    level = np.array([-out[1], out[0], 0.0])
    size = float(np.linalg.norm(level))
    along = level / size if size > SAME_NUMBER**0.5 else np.array([1.0, 0.0, 0.0])
    return along, np.cross(out, along), out


def frames_of(ways: np.ndarray) -> np.ndarray:
    """(n, 3, 3) the same three for each of unit ways (n, 3)."""
    level = np.column_stack([-ways[:, 1], ways[:, 0], np.zeros(len(ways))])
    size = np.linalg.norm(level, axis=1, keepdims=True)
    is_upright = size > SAME_NUMBER**0.5
    along = np.where(is_upright, level / np.where(is_upright, size, 1.0), np.array([1.0, 0.0, 0.0]))
    return np.stack([along, np.cross(ways, along), ways], axis=1)


def even_directions(count: int) -> np.ndarray:
    """(count', 3) ways about +z, as dense as the cosine of their angle to it, count' the next square: a mean over them is the light that an
    even sky sends on a face. Concentric map of P. Shirley and K. Chiu, "A low distortion map between disk and square", 1997."""
    side = int(np.ceil(np.sqrt(count)))
    disc = even_disc(side)
    return np.column_stack([disc, np.sqrt(np.maximum(0.0, 1 - (disc**2).sum(axis=1)))])


def even_disc(side: int) -> np.ndarray:
    """(side * side, 2) places of equal area in the unit disc."""
    return on_disc(2 * even_square(side * side) - 1)


def even_square(count: int) -> np.ndarray:
    """(count, 2) places in the unit square, so even that any straight edge parts them nearly as it parts the square: a lattice along the
    golden section (J. C. Lagarias, "Well-spaced labelings of points in rectangular grids", SIAM J. Discrete Math. 13, 2000)."""
    k = np.arange(count)
    return np.column_stack([(k + 0.5) / count, (0.5 + k * _GOLDEN) % 1.0])


_GOLDEN = (np.sqrt(5) - 1) / 2


def on_disc(square: np.ndarray) -> np.ndarray:
    """(n, 2) where places of the square from -1 to 1 come to lie on the unit disc, areas kept."""
    a, b = square[:, 0], square[:, 1]
    wide = np.abs(a) > np.abs(b)
    radius = np.where(wide, a, b)
    ratio = np.where(wide, b / np.where(a == 0, 1.0, a), a / np.where(b == 0, 1.0, b))
    angle = np.where(wide, np.pi / 4 * ratio, np.pi / 2 - np.pi / 4 * ratio)
    return np.column_stack([radius * np.cos(angle), radius * np.sin(angle)])


def gathering(points: np.ndarray, normals: np.ndarray, rays: int) -> tuple[np.ndarray, np.ndarray]:
    """(starts, unit ways), (n * rays', 3) each: even rays over the half space before each point, as dense as their cosine."""
    local = even_directions(rays)
    frames = frames_of(normals)
    ways = np.einsum("mk,nkc->nmc", local, frames).reshape(-1, 3)
    return np.repeat(points + LIFTED_MM * normals, len(local), axis=0), ways
