"""A cloth that lies over an edge: level on what carries it, falling at its edge in a straight fold, and level again where it reaches the
ground.

It is no kind of its own in a document: it comes of a cloth and of what it lies on (falling.py). Along a straight edge nothing is
stretched: what was d beyond the edge hangs d below it, and beyond the fall lies as much nearer as it fell. At a corner the cloth between
two edges has nowhere to go flat; there it stands out in a soft ear, whose rays from the corner keep their length.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
import shapely

from ..plane.clip import clip_half_plane
from ..remember import remembered
from ..shapes.cloth import Cloth
from ..shapes.mesh import Mesh, joined
from ..shapes.solid import NO_CIRCLES, NO_INDEX, NO_SPHERES, Solid
from ..tolerances import CONTACT_MM

#: A corner is cut in wedges of at most so many degrees; the ray in its middle leans out by this share of its length for a half turn
#: [practice]: less than what would draw neighbouring rays apart.
_WEDGE_DEG, _EAR = 15.0, 0.8
Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True, eq=False, slots=True)
class Facet:
    """A flat convex part of the sheet. points (n, 3): its underside in the cloth's axes, whose z = 0 is on what carries it,
    counter-clockwise seen from ``normal``. flat (n, 2): where those lie in the cloth spread out. fall: ``top``, ``hangs`` or ``lies``."""

    points: np.ndarray
    normal: np.ndarray
    flat: np.ndarray
    fall: str


@dataclass(frozen=True, slots=True)
class FoldedCloth(Cloth):
    """edge: the convex outline it falls over, counter-clockwise, in the cloth's own axes. drop: how far below lies the ground, mm."""

    is_prism: ClassVar[bool] = False
    is_folded: ClassVar[bool] = True
    edge: Points = ()
    drop: float = 0.0

    def solid(self) -> Solid:
        facets = facets_of(self)
        parts = tuple(np.concatenate([f.points, f.points + f.normal * self.thickness]) for f in facets)
        weights = np.array([_area(f) for f in facets])
        middles = np.array([part.mean(axis=0) for part in parts])
        return Solid(parts, NO_CIRCLES, NO_INDEX, NO_SPHERES, None, self.thickness, weights @ middles / weights.sum())

    def mesh(self) -> Mesh:
        return joined([side for f in facets_of(self) for side in self._sides(f)])

    def _sides(self, facet: Facet) -> tuple[Mesh, Mesh]:
        n = len(facet.points)
        uv = facet.flat / [self.width, self.depth] + 0.5
        fan = np.stack([np.zeros(n - 2, dtype=int), np.arange(1, n - 1), np.arange(2, n)], axis=1)
        normals = np.tile(facet.normal, (n, 1))
        upper = Mesh(facet.points + facet.normal * self.thickness, normals, uv, fan)
        return upper, Mesh(facet.points, -normals, uv, fan[:, ::-1])


@remembered(1)
def facets_of(cloth: FoldedCloth) -> tuple[Facet, ...]:
    """Every flat part of the sheet, what lies lowest first and the top last."""
    edge = np.array(cloth.edge)
    sheet = shapely.box(-cloth.width / 2, -cloth.depth / 2, cloth.width / 2, cloth.depth / 2)
    reach = 2 * (np.abs(edge).max() + cloth.width + cloth.depth)
    along = np.roll(edge, -1, axis=0) - edge
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    outward = np.column_stack([along[:, 1], -along[:, 0]])
    found: list[Facet] = []
    for k, corner in enumerate(edge):
        following = edge[(k + 1) % len(edge)]
        strip = np.array([corner, corner + outward[k] * reach, following + outward[k] * reach, following])
        found += _over_edge(_ring(sheet, strip), corner, along[k], outward[k], cloth.drop)
        found += _round_corner(sheet, corner, outward[k - 1], outward[k], reach, cloth.drop)
    top = _ring(sheet, edge)
    if len(top):
        found.append(Facet(np.column_stack([top, np.zeros(len(top))]), np.array([0.0, 0.0, 1.0]), top, "top"))
    order = {"lies": 0, "hangs": 1, "top": 2}
    return tuple(sorted(found, key=lambda f: order[f.fall]))


def _over_edge(strip: np.ndarray, corner: np.ndarray, along: np.ndarray, outward: np.ndarray, drop: float) -> Iterator[Facet]:
    """The part beyond one straight edge: ``strip`` (n, 2) of the sheet."""
    if len(strip) == 0:
        return
    off = float(outward @ corner)
    hangs = clip_half_plane(strip, -outward, off + drop)
    if _is_wide(hangs):
        s, d = (hangs - corner) @ along, (hangs - corner) @ outward
        points = np.column_stack([corner + s[:, None] * along, -d])
        yield _facet(points, np.array([*outward, 0.0]), hangs, "hangs")
    lies = clip_half_plane(strip, outward, -off - drop)
    if _is_wide(lies):
        yield _facet(np.column_stack([lies - outward * drop, np.full(len(lies), -drop)]), np.array([0.0, 0.0, 1.0]), lies, "lies")


def _round_corner(
    sheet: shapely.Polygon, corner: np.ndarray, before: np.ndarray, after: np.ndarray, reach: float, drop: float
) -> Iterator[Facet]:
    """The part between two edges, wedge by wedge. Within one, a place is so far along either of its rays, and goes where those go."""
    turn = float(np.arctan2(before[0] * after[1] - before[1] * after[0], before @ after))
    count = max(1, int(np.ceil(np.degrees(turn) / _WEDGE_DEG)))
    angles = np.arctan2(before[1], before[0]) + np.linspace(0.0, turn, count + 1)
    rays = np.column_stack([np.cos(angles), np.sin(angles)])
    outs = _EAR * turn / np.pi * np.sin(np.linspace(0.0, np.pi, count + 1))
    for k in range(count):
        pair, out = rays[k : k + 2], outs[k : k + 2]
        down = np.sqrt(1 - out**2)
        flat = _ring(sheet, np.array([corner, corner + pair[0] * reach, corner + pair[1] * reach]))
        if len(flat) == 0:
            continue
        shares = (flat - corner) @ np.linalg.inv(pair)
        fallen = clip_half_plane(shares, -down, drop)
        if len(fallen) > 2:
            points = np.column_stack([corner + (fallen * out) @ pair, -fallen @ down])
            normal = _outside_of(points)
            if normal is not None:
                yield _facet(points, normal, corner + fallen @ pair, "hangs")
        lying = clip_half_plane(shares, down, -drop)
        if _is_wide(lying):
            there = lying @ pair - (drop / (lying @ down))[:, None] * ((lying * (1 - out)) @ pair)
            points = np.column_stack([corner + there, np.full(len(there), -drop)])
            yield _facet(points, np.array([0.0, 0.0, 1.0]), corner + lying @ pair, "lies")


def _ring(sheet: shapely.Polygon, region: np.ndarray) -> np.ndarray:
    """(n, 2) counter-clockwise what of the sheet lies in a convex region; none when that is next to nothing."""
    shared = shapely.intersection(sheet, shapely.Polygon(region).buffer(0))
    if shared.geom_type != "Polygon" or shared.area <= CONTACT_MM**2:
        return np.empty((0, 2))
    return np.array(shapely.geometry.polygon.orient(shared).exterior.coords)[:-1]


def _is_wide(flat: np.ndarray) -> bool:
    return len(flat) > 2 and shapely.Polygon(flat).area > CONTACT_MM**2


def _facet(points: np.ndarray, normal: np.ndarray, flat: np.ndarray, fall: str) -> Facet:
    if float(_turned_about(points) @ normal) < 0:
        points, flat = points[::-1], flat[::-1]
    return Facet(points, normal, flat, fall)


def _turned_about(points: np.ndarray) -> np.ndarray:
    """(3,) twice the area of a flat polygon in space, along the way that it is counter-clockwise from (Newell's sum)."""
    return np.cross(points, np.roll(points, -1, axis=0)).sum(axis=0)


def _outside_of(points: np.ndarray) -> np.ndarray | None:
    """The unit normal of what leans out as it hangs, which looks up; None when there is next to nothing of it."""
    total = _turned_about(points)
    size = float(np.linalg.norm(total))
    if size <= 2 * CONTACT_MM**2:
        return None
    return total / size if total[2] >= 0 else -total / size


def _area(facet: Facet) -> float:
    return float(np.linalg.norm(_turned_about(facet.points))) / 2
