"""What the frame sees of every colour, and what each thing lies against in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from ..camera.crops import FULL_FRAME, Rect
from ..colour.delta_e_2000 import delta_e_2000
from ..colour.spaces import lab_of, oklch_of
from ..colour.transport import transport_distance
from ..evaluate import Picture, PlacedThing
from ..model import Colour
from ..remember import counted, remembered
from ..tolerances import ROUNDING, SAME_NUMBER, SEEN_AREA, SEEN_SHARE
from .grounds import Ground, grounds
from .in_light import InLight, as_lit, ground_parts, in_light

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
    """Every colour of every thing and ground with the share of the window it is seen on. Shares add to 1 but for glass, which hides
    nothing."""
    room = shapely.box(*window)
    shown = {i: t for i, t in picture.things.items() if t.frame_area_share > 0}
    areas = {i: t.visible.area if window == FULL_FRAME else _area_in(t, window) for i, t in shown.items()}
    found = [SeenColour(i, c.hex, areas[i] / room.area * part) for i in shown for c, part in parts(picture.props[i].colours)]
    # What is seen of opaque things never overlaps, so what they leave of a ground is a plain difference of areas.
    opaque = [t for i, t in shown.items() if picture.props[i].finish != "glass"]
    for ground in grounds(picture.scene, picture.view):
        left = _ground_in(ground, window) - sum(_over(t, ground, window) for t in opaque)
        found += [SeenColour(ground.name, c.hex, max(0.0, left) / room.area * part) for c, part in parts(ground.colours)]
    return tuple(s for s in found if s.share > SEEN_SHARE)


@counted(4096)
def _area_in(thing: PlacedThing, window: Rect) -> float:
    return float(shapely.intersection(thing.visible, shapely.box(*window)).area)


@remembered(2)
def _ground_in(ground: Ground, window: Rect) -> float:
    return float(shapely.intersection(ground.region, shapely.box(*window)).area)


@remembered(2)
def _over(thing: PlacedThing, ground: Ground, window: Rect) -> float:
    """Area of the window in which the thing is seen and this ground would be."""
    over = shapely.intersection(thing.visible, ground.region)
    return float(over.area if window == FULL_FRAME else shapely.intersection(over, shapely.box(*window)).area)


def parts(colours: tuple[Colour, ...]) -> list[tuple[Colour, float]]:
    """Each colour with its share, brought to 1 in all."""
    total = sum(c.share for c in colours)
    return [(c, c.share / total if total > 0 else 1 / len(colours)) for c in colours]


def against(picture: Picture) -> dict[str, Against]:
    """For every thing that is seen: what is just outside its visible outline, and how much it differs from it, in the set-up's own light."""
    shown = {i: t for i, t in picture.things.items() if t.visible.area > SEEN_AREA}
    behind = grounds(picture.scene, picture.view)
    found = {}
    boxes = {i: t.visible.bounds for i, t in shown.items()}
    lit = in_light(picture)
    own = {i: picture.props[i].colours if lit is None else as_lit(picture.props[i].colours, lit.things.get(i, 0)) for i in shown}
    for i, thing in shown.items():
        near = tuple(n for n in shown if n != i and _touch(boxes[i], boxes[n]))
        around = tuple((n, shown[n], own[n]) for n in near)
        rim = _rim(thing, own[i], around, behind, picture.view.aspect) if lit is None else _lit_rim(lit, thing, own[i], around, behind)
        if rim is not None:
            found[i] = rim
    return found


def _touch(a: Rect, b: Rect) -> bool:
    reach = 2 * _OUTSIDE
    return a[0] - reach < b[2] and b[0] - reach < a[2] and a[1] - reach < b[3] and b[1] - reach < a[3]


Around = tuple[tuple[str, PlacedThing, tuple[Colour, ...]], ...]


@remembered(1.5)  # what stands still keeps its rim
def _rim(thing: PlacedThing, colours: tuple[Colour, ...], around: Around, behind: tuple[Ground, ...], aspect: float) -> Against | None:
    points = _just_outside(thing, aspect)
    if not len(points):
        return None
    owner = owners_at(points, [n for n, _, _ in around], [t.visible for _, t, _ in around], behind)
    theirs = {g.name: g.colours for g in behind} | {n: c for n, _, c in around}
    names = [o for o in owner if o is not None]
    if not names:
        return None
    ordered = sorted(colour_distance(colours, theirs[n]) for n in names)
    middle = (ordered[(len(ordered) - 1) // 2] + ordered[len(ordered) // 2]) / 2
    return Against(middle, max(set(names), key=lambda n: (names.count(n), n)))


def _lit_rim(
    lit: InLight, thing: PlacedThing, colours: tuple[Colour, ...], around: Around, behind: tuple[Ground, ...]
) -> Against | None:
    """As _rim, with grounds as light as they are at each place."""
    points = _just_outside(thing, lit.view.aspect)
    if not len(points):
        return None
    owner = owners_at(points, [n for n, _, _ in around], [t.visible for _, t, _ in around], behind)
    theirs, differs = {n: c for n, _, c in around}, []
    for ground in behind:
        at = [k for k, n in enumerate(owner) if n == ground.name]
        if at:
            falls = ground_parts(lit, ground.name, points)[at].tolist()
            differs += [(colour_distance(colours, as_lit(ground.colours, p)), ground.name) for p in falls]
    differs += [(colour_distance(colours, theirs[n]), n) for n in owner if n in theirs]
    if not differs:
        return None
    ordered, names = sorted(d for d, _ in differs), [n for _, n in differs]
    middle = (ordered[(len(ordered) - 1) // 2] + ordered[len(ordered) // 2]) / 2
    return Against(middle, max(set(names), key=lambda n: (names.count(n), n)))


@remembered(1.5)
def _just_outside(thing: PlacedThing, aspect: float) -> np.ndarray:
    """(n, 2) points a little outside the visible outline and inside the frame, in fractions."""
    visible = thing.visible
    largest = max(visible.geoms, key=lambda g: g.area) if hasattr(visible, "geoms") else visible
    if largest.geom_type != "Polygon" or largest.is_empty:
        return np.empty((0, 2))
    ring = largest.exterior
    at = np.linspace(0, 1, _POINTS, endpoint=False)
    a = shapely.get_coordinates(shapely.line_interpolate_point(ring, at, normalized=True))
    b = shapely.get_coordinates(shapely.line_interpolate_point(ring, (at + 0.004) % 1, normalized=True))
    along = (b - a) * [aspect, 1.0]
    length = np.linalg.norm(along, axis=1, keepdims=True)
    along = along / np.maximum(length, SAME_NUMBER)
    outward = np.column_stack([along[:, 1], -along[:, 0]]) * (1 if ring.is_ccw else -1)
    points = a + outward * _OUTSIDE / [aspect, 1.0]
    return points[((points >= 0) & (points <= 1)).all(axis=1) & (length[:, 0] > ROUNDING)]


def owners_at(points: np.ndarray, ids: list[str], shapes: list[shapely.Geometry], behind: tuple[Ground, ...]) -> list[str | None]:
    """What is seen at each point (n, 2): a thing, else a ground, else None."""
    found = np.full(len(points), -1)
    for k, region in enumerate([*(g.region for g in behind), *shapes]):  # things come after grounds, so they win
        if not region.is_empty:
            shapely.prepare(region)
            found[shapely.intersects_xy(region, points[:, 0], points[:, 1])] = k
    names = [g.name for g in behind] + ids
    return [names[k] if k >= 0 else None for k in found.tolist()]


@counted(16384)
def colour_distance(first: tuple[Colour, ...], second: tuple[Colour, ...]) -> float:
    """CIEDE2000 between two things of several colours: what it takes to turn the one's into the other's, share by share."""
    a, b = parts(first), parts(second)
    labs_a, labs_b = np.array([lab_of(c.hex) for c, _ in a]), np.array([lab_of(c.hex) for c, _ in b])
    costs = delta_e_2000(labs_a[:, None], labs_b[None])
    return transport_distance(costs, np.array([s for _, s in a]), np.array([s for _, s in b]))


@counted(8192)
def lightness(colours: tuple[Colour, ...]) -> float:
    """Mean L*, 0..100, weighed by share."""
    return float(sum(lab_of(c.hex)[0] * s for c, s in parts(colours)))


@counted(8192)
def chroma(colours: tuple[Colour, ...]) -> float:
    """Mean OKLCH chroma, weighed by share."""
    return float(sum(oklch_of(c.hex)[1] * s for c, s in parts(colours)))
