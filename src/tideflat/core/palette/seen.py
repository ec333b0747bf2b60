"""What the frame sees of every colour, and what each thing lies against in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from ..camera.crops import FULL_FRAME, Rect
from ..colour.delta_e_2000 import delta_e_2000
from ..colour.spaces import lab_of, oklch_of
from ..evaluate import Picture
from ..model import Colour
from .grounds import Ground, grounds

#: Points along a thing's outline that are asked what lies just outside, and how far outside (fraction of the frame's height).
_POINTS, _OUTSIDE = 28, 0.006


@dataclass(frozen=True, slots=True)
class SeenColour:
    """owner: a placement's id, or ``surface``, ``backdrop``, ``room``. share: of the window, 0..1."""

    owner: str
    hex: str
    share: float


@dataclass(frozen=True, slots=True)
class Against:
    """delta_e: the median, along its outline, of how much a thing differs (CIEDE2000) from what is behind; behind: what that mostly is."""

    delta_e: float
    behind: str


def seen_colours(picture: Picture, window: Rect = FULL_FRAME) -> tuple[SeenColour, ...]:
    """Every colour of every thing and ground with the share of the window it is seen on. Shares add to 1 but for glass, which hides nothing."""
    room = shapely.box(*window)
    is_whole = window == FULL_FRAME
    visible = {
        i: t.visible if is_whole else shapely.intersection(t.visible, room) for i, t in picture.things.items() if t.frame_area_share > 0
    }
    found = [SeenColour(i, c.hex, v.area / room.area * part) for i, v in visible.items() for c, part in parts(picture.props[i].colours)]
    covering = [v for i, v in visible.items() if picture.props[i].finish != "glass" and v.area > 0]
    covered = shapely.union_all(covering) if covering else shapely.Polygon()
    for ground in grounds(picture.scene, picture.view):
        region = ground.region if is_whole else shapely.intersection(ground.region, room)
        left = region.area - (shapely.intersection(region, covered).area if covering else 0.0)
        found += [SeenColour(ground.name, c.hex, max(0.0, left) / room.area * part) for c, part in parts(ground.colours)]
    return tuple(s for s in found if s.share > 1e-6)


def parts(colours: tuple[Colour, ...]) -> list[tuple[Colour, float]]:
    """Each colour with its share, brought to 1 in all."""
    total = sum(c.share for c in colours)
    return [(c, c.share / total if total > 0 else 1 / len(colours)) for c in colours]


def against(picture: Picture) -> dict[str, Against]:
    """For every thing that is seen: what is just outside its visible outline, and how much it differs from it."""
    shown = {i: t.visible for i, t in picture.things.items() if t.visible.area > 1e-5}
    if not shown:
        return {}
    aspect = picture.view.aspect
    rims = {i: _just_outside(v, aspect) for i, v in shown.items()}
    names = [i for i, r in rims.items() if len(r)]
    if not names:
        return {}
    points = np.concatenate([rims[i] for i in names])
    owner = owners_at(points, list(shown), list(shown.values()), grounds(picture.scene, picture.view))
    colours = {i: picture.props[i].colours for i in shown} | {g.name: g.colours for g in grounds(picture.scene, picture.view)}
    differs: dict[tuple[str, str], float] = {}
    found, at = {}, 0
    for i in names:
        theirs = owner[at : at + len(rims[i])]
        at += len(rims[i])
        values = []
        for name in theirs:
            if name is None or name == i:
                continue
            key = (i, name)
            if key not in differs:
                differs[key] = colour_distance(colours[i], colours[name])
            values.append((differs[key], name))
        if values:
            median = float(np.median([v for v, _ in values]))
            names_behind = [n for _, n in values]
            found[i] = Against(median, max(set(names_behind), key=lambda n: (names_behind.count(n), n)))
    return found


def _just_outside(visible: shapely.Geometry, aspect: float) -> np.ndarray:
    """(n, 2) points a little outside the outline and inside the frame, in fractions."""
    largest = max(visible.geoms, key=lambda g: g.area) if hasattr(visible, "geoms") else visible
    if largest.geom_type != "Polygon" or largest.is_empty:
        return np.empty((0, 2))
    ring = largest.exterior
    at = np.linspace(0, 1, _POINTS, endpoint=False)
    a = shapely.get_coordinates(shapely.line_interpolate_point(ring, at, normalized=True))
    b = shapely.get_coordinates(shapely.line_interpolate_point(ring, (at + 0.004) % 1, normalized=True))
    along = (b - a) * [aspect, 1.0]
    length = np.linalg.norm(along, axis=1, keepdims=True)
    along = along / np.maximum(length, 1e-12)
    outward = np.column_stack([along[:, 1], -along[:, 0]]) * (1 if ring.is_ccw else -1)
    points = a + outward * _OUTSIDE / [aspect, 1.0]
    return points[((points >= 0) & (points <= 1)).all(axis=1) & (length[:, 0] > 1e-9)]


def owners_at(points: np.ndarray, ids: list[str], shapes: list[shapely.Geometry], behind: tuple[Ground, ...]) -> list[str | None]:
    """What is seen at each point: a thing, else a ground, else None."""
    spots = shapely.points(points)
    found: list[str | None] = [None] * len(points)
    regions = [g.region for g in behind]
    tree = shapely.STRtree(regions + shapes)
    names = [g.name for g in behind] + ids
    where, which = tree.query(spots, predicate="intersects")
    for point, shape in sorted(zip(where.tolist(), which.tolist(), strict=True)):  # things come after grounds, so they win
        found[point] = names[shape]
    return found


def colour_distance(first: tuple[Colour, ...], second: tuple[Colour, ...]) -> float:
    """CIEDE2000 between two things of several colours: the mean over all pairs, weighed by share."""
    a, b = parts(first), parts(second)
    labs_a, labs_b = np.array([lab_of(c.hex) for c, _ in a]), np.array([lab_of(c.hex) for c, _ in b])
    shares = np.outer([s for _, s in a], [s for _, s in b])
    return float((delta_e_2000(labs_a[:, None], labs_b[None]) * shares).sum())


def lightness(colours: tuple[Colour, ...]) -> float:
    """Mean L*, 0..100, weighed by share."""
    return float(sum(lab_of(c.hex)[0] * s for c, s in parts(colours)))


def chroma(colours: tuple[Colour, ...]) -> float:
    """Mean OKLCH chroma, weighed by share."""
    return float(sum(oklch_of(c.hex)[1] * s for c, s in parts(colours)))
