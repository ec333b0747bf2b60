"""What rays meet among casters: how much of the light comes through between two places, and what is met first.

Half spaces are met by C. Haines, "Fast ray-convex polyhedron intersection", Graphics Gems II, 1991. Solids
are taken a little smaller than they are, and rays begin a little before their face, so that nothing stands in its own light.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..tolerances import LIFTED_MM, PARALLEL, SHRUNK_MM
from .casters import Casters
from .forms import Balls, Block, Caster, Dish, Panel, sector_of

#: Rays are worked out so many at a time, so that their tables stay small.
_AT_ONCE = 8_000
#: Balls are asked in single precision, in which the square of a distance is a difference of squares of metres: they are taken so much
#: larger.
_SLACK_MM = 4.0
#: A ray that begins inside a solid meets nothing that gives light back.
INSIDE = -2
#: A ray that meets nothing.
NOTHING = -1


Hits = tuple[np.ndarray, np.ndarray, np.ndarray]


@dataclass(frozen=True, eq=False, slots=True)
class Met:
    """What rays met first. owner, patch: (n,) NOTHING where nothing is, and a patch INSIDE where it gives nothing back; far: (n,)
    mm; normal: (n, 3) unit, of the face on the side that was met."""

    owner: np.ndarray
    patch: np.ndarray
    far: np.ndarray
    normal: np.ndarray


def passing(casters: Casters, starts: np.ndarray, ways: np.ndarray, far: np.ndarray, *, but: frozenset[int] = frozenset()) -> np.ndarray:
    """(n,) share of the light that comes through from ``far`` (n,) mm along unit ways (n, 3) to starts (n, 3). but: owners left out."""
    through = np.ones(len(starts))
    numbers = [k for k in casters.shading if casters.owner_of[k] not in but]
    for first in range(0, len(starts), _AT_ONCE):
        part = slice(first, first + _AT_ONCE)
        near, along, radius = _near(casters, numbers, starts[part], ways[part])
        near &= along - radius <= far[part]
        for number, rays in zip(numbers, near, strict=True):
            asked = first + np.nonzero(rays)[0]
            asked = asked[through[asked] > 0]
            if not len(asked):
                continue
            met = _met(casters.casters[number], starts[asked], ways[asked])
            through[asked[met < far[asked] - LIFTED_MM]] *= casters.passes[casters.owner_of[number]]
    return through


def covered(casters: Casters, places: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """(n,) whether something lies on places (n, 3) of faces that look along normals (n, 3)."""
    met = first_met(casters, places + LIFTED_MM * normals, normals)
    return (met.patch == INSIDE) & (met.far <= 0)  # type: ignore[no-any-return]


def hidden_by(forms: Sequence[Caster], start: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n,) whether one of forms stands between a place (3,) and each of places (n, 3)."""
    ways = places - start
    far = np.linalg.norm(ways, axis=1)
    ways, starts = ways / far[:, None], np.broadcast_to(start, ways.shape)
    found = np.zeros(len(places), dtype=bool)
    for form in forms:
        asked = np.nonzero(~found)[0]
        if len(asked):
            found[asked] = _met(form, starts[asked], ways[asked]) < far[asked]
    return found


def first_met(casters: Casters, starts: np.ndarray, ways: np.ndarray, *, but: frozenset[int] = frozenset()) -> Met:
    """What unit ways (n, 3) from starts (n, 3) meet first; what lets light through is not met."""
    owner = np.full(len(starts), NOTHING)
    patch = np.full(len(starts), NOTHING)
    far = np.full(len(starts), np.inf)
    normal = np.zeros(starts.shape)
    numbers = [k for k, belongs in enumerate(casters.owner_of) if belongs not in but and casters.passes[belongs] == 0]
    for first in range(0, len(starts), _AT_ONCE):
        part = slice(first, first + _AT_ONCE)
        near, along, radius = _near(casters, numbers, starts[part], ways[part])
        along -= radius
        for number, rays, enters in zip(numbers, near, along, strict=True):
            asked = first + np.nonzero(rays & (enters <= far[part]))[0]
            if not len(asked):
                continue
            met, on, faces = _meet(casters.casters[number], starts[asked], ways[asked])
            nearer = met < far[asked]
            normal[asked[nearer]] = faces[nearer]
            far[asked[nearer]] = met[nearer]
            patch[asked[nearer]] = on[nearer]
            owner[asked[nearer]] = casters.owner_of[number]
    return Met(owner, patch, far, normal)


def _near(casters: Casters, numbers: Sequence[int], starts: np.ndarray, ways: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """((k, n) whether each ray comes near each of the casters ``numbers`` before it; (k, n) how far along it is nearest to the middle of
    each; (k, 1) radii of the balls round them)."""
    balls = casters.balls[list(numbers)]
    about = starts.mean(axis=0)  # from where they begin, so that a room's corner far off costs no digits
    centre, radius = (balls[:, :3] - about).astype(np.float32), (balls[:, 3:] + _SLACK_MM).astype(np.float32)
    ways, starts = ways.astype(np.float32), (starts - about).astype(np.float32)
    along = centre @ ways.T
    along -= np.einsum("nc,nc->n", starts, ways)
    square = (-2 * centre) @ starts.T
    square += np.einsum("nc,nc->n", starts, starts)
    square -= along * along
    return (square <= radius**2 - np.einsum("kc,kc->k", centre, centre)[:, None]) & (along >= -radius), along, radius


def _meet(caster: Caster, starts: np.ndarray, ways: np.ndarray) -> Hits:
    """((n,) mm to where each ray meets the caster, inf where it does not; (n,) on which patch; (n, 3) the face's normal on that side)."""
    if isinstance(caster, Block):
        return _meet_block(caster, starts, ways)
    if isinstance(caster, Balls):
        return _meet_balls(caster, starts, ways)
    if isinstance(caster, Dish):
        return _meet_dish(caster, starts, ways)
    return _meet_panel(caster, starts, ways)


def _met(caster: Caster, starts: np.ndarray, ways: np.ndarray) -> np.ndarray:
    """(n,) mm to where each ray meets the caster, as ``_meet`` says, and nothing else."""
    if isinstance(caster, Block):
        return _met_block(caster, starts, ways)
    if isinstance(caster, Panel):
        return _on_panel(caster, starts, ways)[0]
    return _meet(caster, starts, ways)[0]


def _along(way: np.ndarray, rows: np.ndarray) -> np.ndarray:
    """(n,) how far each of rows (n, 3) goes along a way (3,). Each for itself: a product of matrices comes out a last digit otherwise among
    other rows, and a ray along an edge would meet now one side, now the other."""
    return rows[:, 0] * way[0] + rows[:, 1] * way[1] + rows[:, 2] * way[2]  # type: ignore[no-any-return]


def _along_each(ways: np.ndarray, rows: np.ndarray) -> np.ndarray:
    """(k, n) the same of ways (k, 3)."""
    x, y, z = np.ascontiguousarray(rows.T)
    return ways[:, :1] * x + ways[:, 1:2] * y + ways[:, 2:] * z  # type: ignore[no-any-return]


def _through_planes(block: Block, starts: np.ndarray, ways: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """((p, n) mm to where rays come in through each plane, -inf where they do not; (n,) to where they go out; (n,) whether they pass beside
    it)."""
    normals = block.planes[:, :3]
    slope = _along_each(normals, ways)
    left = (block.planes[:, 3:] - SHRUNK_MM) - _along_each(normals, starts)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = left / slope
    comes = np.where(slope < -PARALLEL, at, -np.inf)
    goes = np.where(slope > PARALLEL, at, np.inf).min(axis=0)
    return comes, goes, ((np.abs(slope) <= PARALLEL) & (left < 0)).any(axis=0)


def _met_block(block: Block, starts: np.ndarray, ways: np.ndarray) -> np.ndarray:
    """(n,) mm to where rays meet the block, as ``_meet_block`` says."""
    comes, goes, beside = _through_planes(block, starts, ways)
    enters = comes.max(axis=0)
    return np.where((enters < goes) & (goes > 0) & ~beside, np.maximum(enters, 0.0), np.inf)


def _meet_block(block: Block, starts: np.ndarray, ways: np.ndarray) -> Hits:
    normals = block.planes[:, :3]
    comes, goes, beside = _through_planes(block, starts, ways)
    face = comes.argmax(axis=0)
    enters = comes[face, np.arange(len(starts))]
    hit = (enters < goes) & (goes > 0) & ~beside
    inside = hit & (enters < 0)
    patch = np.where(inside, INSIDE, block.patch[face])
    return np.where(hit, np.maximum(enters, 0.0), np.inf), patch, normals[face]


def _meet_balls(balls: Balls, starts: np.ndarray, ways: np.ndarray) -> Hits:
    best = np.full(len(starts), np.inf)
    which = np.zeros(len(starts), dtype=int)
    inside = np.zeros(len(starts), dtype=bool)
    for k, (x, y, z, radius) in enumerate(balls.spheres):
        to = np.array([x, y, z]) - starts
        along = (to * ways).sum(axis=1)
        square = (to**2).sum(axis=1)
        left = max(radius - SHRUNK_MM, radius / 2) ** 2 - square + along**2
        half = np.sqrt(np.maximum(left, 0.0))
        hit = (left > 0) & (along + half > 0)
        at = np.where(hit, np.maximum(along - half, 0.0), np.inf)
        nearer = at < best
        best, which = np.where(nearer, at, best), np.where(nearer, k, which)
        inside = np.where(nearer, along - half < 0, inside)
    met = np.isfinite(best)
    normals = starts + np.where(met, best, 0.0)[:, None] * ways - balls.spheres[which, :3]
    normals = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), PARALLEL)
    return best, np.where(inside, INSIDE, balls.patch[sector_of(normals)]), normals


def _meet_dish(dish: Dish, starts: np.ndarray, ways: np.ndarray) -> Hits:
    """The wall is a part of a cone: with the radius r(z) = a + k z, the ray's x^2 + y^2 = r^2 is a quadratic. Floor and foot are level."""
    o, d = (_along_each(dish.turned.T, rows).T for rows in (starts - dish.base, ways))
    k = (dish.rim - dish.foot) / dish.height
    radius, grows = dish.foot + k * o[:, 2], k * d[:, 2]
    a = d[:, 0] ** 2 + d[:, 1] ** 2 - grows**2
    b = o[:, 0] * d[:, 0] + o[:, 1] * d[:, 1] - radius * grows
    c = o[:, 0] ** 2 + o[:, 1] ** 2 - radius**2
    root = b * b - a * c
    safe = np.where(np.abs(a) < PARALLEL, PARALLEL, a)
    half = np.sqrt(np.maximum(root, 0.0))
    best, side = np.full(len(o), np.inf), np.zeros(len(o), dtype=int)
    normal = np.zeros(o.shape)
    for at in ((-b - half) / safe, (-b + half) / safe):
        z = o[:, 2] + at * d[:, 2]
        hit = (root > 0) & (at > 0) & (z >= 0) & (z <= dish.height) & (dish.foot + k * z > 0) & (at < best)
        place = o + at[:, None] * d
        out = np.column_stack([place[:, :2] / np.maximum(dish.foot + k * z, PARALLEL)[:, None], np.full(len(o), -k)]) / np.hypot(1, k)
        inside = (out * d).sum(axis=1) > 0
        best, side = np.where(hit, at, best), np.where(hit, inside, side)
        normal = np.where(hit[:, None], np.where(inside[:, None], -out, out), normal)
    for level, far, is_floor in ((dish.floor, dish.foot + k * dish.floor, 1), (0.0, dish.foot, 0)):
        at = (level - o[:, 2]) / np.where(np.abs(d[:, 2]) < PARALLEL, PARALLEL, d[:, 2])
        place = o + at[:, None] * d
        hit = (at > 0) & (place[:, 0] ** 2 + place[:, 1] ** 2 <= far**2) & (at < best) & (np.abs(d[:, 2]) > PARALLEL)
        up = np.where(d[:, 2] < 0, 1.0, -1.0)
        best, side = np.where(hit, at, best), np.where(hit, is_floor, side)
        normal = np.where(hit[:, None], up[:, None] * np.array([0.0, 0.0, 1.0]), normal)
    placed = _along_each(dish.turned, normal).T
    return best, dish.patch[side, sector_of(placed)], placed


def _on_panel(panel: Panel, starts: np.ndarray, ways: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """(n,) each: mm to where rays meet the panel, inf where they do not; there, along and up it from -1 to 1; whether it is its front."""
    out = panel.out
    slope = _along(out, ways)
    flat = np.abs(slope) < PARALLEL
    at = _along(out, panel.at - starts) / np.where(flat, 1.0, slope)
    along, upward = (side / float(side @ side) for side in (panel.along, panel.upward))
    a = _along(along, starts) + at * _along(along, ways) - panel.at @ along
    b = _along(upward, starts) + at * _along(upward, ways) - panel.at @ upward
    hit = ~flat & (at > 0) & (np.abs(a) <= 1) & (np.abs(b) <= 1)
    before = slope < 0
    if not panel.blocks:
        hit &= before
    return np.where(hit, at, np.inf), a, b, before


def _meet_panel(panel: Panel, starts: np.ndarray, ways: np.ndarray) -> Hits:
    at, a, b, before = _on_panel(panel, starts, ways)
    column = np.clip(((a + 1) / 2 * panel.columns).astype(int), 0, panel.columns - 1)
    row = np.clip(((b + 1) / 2 * panel.rows).astype(int), 0, panel.rows - 1)
    first = np.where(before, panel.front, panel.back)
    patch = np.where(first < 0, INSIDE, first + row * panel.columns + column)
    return at, patch, np.where(before[:, None], panel.out, -panel.out)
