"""Candidates out of the stores: another prop in a thing's place, an echo brought in, another surface."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import islice

import numpy as np
import shapely

from ..acts.ground import UseSurface
from ..acts.putting_in import Add, Swap
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.registry import KINDS
from ..model import LEFT_OUT, Placement, Prop
from ..palette.seen import colour_distance
from ..palette.wanted import BELONGS, nearest
from ..shapes.shape import Shape
from ..solids.body import Body, pose
from ..table.clear_places import clear_places
from .candidate import Candidate, Stores, where_own

#: A prop stands in for another when neither width, depth nor height differs by more than this factor.
SIZE_FACTOR = 1.4
#: Shapes that stand in for each other: what stands upright and closed.
_UPRIGHT = frozenset({"cylinder", "cone", "bottle"})
#: As large as the hero to this factor, of its material and its kind, a thing is another hero, or another article of its range.
_LEADS = 1.25
#: Props tried in one place, or in each of several; places tried for an echo.
_MOST_PROPS, _MOST_PROPS_EACH, _MOST_SPOTS = 24, 8, 10
#: An echo stands so clear of everything (mm), so far inside the crops and so far from the words (fractions of the frame) [practice].
_CLEAR_MM, _INSIDE, _FROM_WORDS = 16.0, 0.06, 0.03
#: An echo is small: no longer than this any way, mm [practice].
_SMALL_MM = 160.0


def stand_ins(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Props of about the same size in a thing's place, the likest first. Nothing locked, and not the hero, is exchanged."""
    kind = KINDS[finding.code]
    fits = None if kind.fits is None else kind.fits(picture, finding)
    if fits is None:
        return
    who = finding.placements or tuple(p.id for p in picture.scene.placements_in(picture.setup) if p.role in ("support", "accent"))
    for i in who:
        able = [p for p in stores.props if p.name != picture.props[i].name and fits(p)]
        yield from _in_place_of(picture, i, able, limit=_MOST_PROPS if finding.placements else _MOST_PROPS_EACH)


def _in_place_of(picture: Picture, i: str, able: list[Prop], limit: int) -> Iterator[Candidate]:
    placement, old = picture.scene.placement(i), picture.props[i]
    if placement.locked or placement.role == "hero" or picture.scene.carried_by(i):
        return
    heroes = picture.hero_ids()
    size = size_mm(picture.bodies[i])
    sized = []
    for prop in able:
        other = size_mm(pose(Placement("t", prop.id, 0.0, 0.0), prop.shape))
        apart = float(np.abs(np.log(np.maximum(other, 1) / np.maximum(size, 1))).max())
        if apart >= np.log(SIZE_FACTOR) or not is_of_one_kind(old.shape, prop.shape):
            continue
        if any(_could_lead(prop, other, picture.props[h], size_mm(picture.bodies[h])) for h in heroes):
            continue
        sized.append((apart - 0.1 * len(set(prop.tags) & set(old.tags)), prop.id, prop))
    for _, _, prop in islice(sorted(sized, key=lambda s: s[:2]), limit):
        yield Candidate(
            "swap",
            (("placement", i), ("out", old.name), ("name", prop.name), ("prop", prop.id)),
            f"take {prop.name} from the stores in the place of {old.name}",
            (Swap(placement=i, prop=prop, **where_own(picture, i in dict(picture.setup.swap))),),
        )


def is_of_one_kind(first: Shape, second: Shape) -> bool:
    """Whether one may stand in for the other at all: a dish for a dish, a jar for a tin, and no spoon for a board."""
    return first.kind == second.kind or {first.kind, second.kind} <= _UPRIGHT


def _could_lead(prop: Prop, size: tuple[float, float, float], hero: Prop, own: tuple[float, float, float]) -> bool:
    """Whether the prop would be a second hero, or another article of the hero's range."""
    if prop.shape.kind != hero.shape.kind or not prop.material or prop.material != hero.material:
        return False
    return bool(np.abs(np.log(np.maximum(size, 1) / np.maximum(own, 1))).max() < np.log(_LEADS))


def echo(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A small thing of the accent's colour on a clear place of the table, well inside the picture."""
    yield from _echoes(picture, finding.sides[0], stores, 1)


def echo_twice(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Two of them: one alone would be lonely."""
    yield from _echoes(picture, finding.sides[0], stores, 2)


def _echoes(picture: Picture, wanted: str, stores: Stores, count: int) -> Iterator[Candidate]:
    palette = picture.scene.palette
    if palette is None:
        return
    here = {p.name for p in picture.props.values()}
    small = []
    for prop in stores.props:
        own, distance = nearest(palette, max(prop.colours, key=lambda c: c.share).hex)
        size = size_mm(pose(Placement("t", prop.id, 0.0, 0.0), prop.shape))
        if own.hex == wanted and distance <= BELONGS and max(size) <= _SMALL_MM and prop.name not in here:
            small.append((distance, prop.id, prop))
    theme = set(picture.scene.brief.tags)
    for _, _, prop in islice(sorted(small, key=lambda s: (-len(theme & set(s[2].tags)), s[0], s[1])), 4):
        places = list(places_in_the_picture(picture, prop))
        for first in range(min(len(places), _MOST_SPOTS)):
            spots = _apart(places, first, count)
            if len(spots) < count:
                continue
            yield Candidate(
                "bring",
                (("name", prop.name), ("prop", prop.id), ("count", count), ("x", spots[0][0]), ("y", spots[0][1])),
                f"bring in {prop.name} from the stores at " + " and ".join(f"{x:.0f}, {y:.0f} mm" for x, y in spots),
                tuple(Add(prop=prop, x=x, y=y, role="filler") for x, y in spots),
            )


def _apart(places: list[tuple[float, float]], first: int, count: int) -> list[tuple[float, float]]:
    """``count`` places from the one at ``first``, each the furthest from those before."""
    chosen = [places[first]]
    while len(chosen) < min(count, len(places)):
        chosen.append(max(places, key=lambda p: min((p[0] - c[0]) ** 2 + (p[1] - c[1]) ** 2 for c in chosen)))
    return chosen if len(set(chosen)) == count else []


def places_in_the_picture(picture: Picture, prop: Prop) -> Iterator[tuple[float, float]]:
    """Where it would stand clear of all and be seen in every crop, those away from the hero's side first."""
    window = picture.safe_area or (0.0, 0.0, 1.0, 1.0)
    heroes, aim = picture.hero_ids(), picture.setup.camera.aim
    centre = picture.bodies[heroes[0]].footprint.centroid if heroes else shapely.Point(*aim[:2])
    copies = [c.copy_box for c in picture.crops if c.copy_box is not None]

    def rank(x: float, y: float) -> float | None:
        u, v, depth = picture.view.project(np.array([x, y, 0.0]))
        inside = window[0] + _INSIDE < u < window[2] - _INSIDE and window[1] + _INSIDE < v < window[3] - _INSIDE
        if depth <= 0 or not inside:
            return None
        if any(c[0] - _FROM_WORDS < u < c[2] + _FROM_WORDS and c[1] - _FROM_WORDS < v < c[3] + _FROM_WORDS for c in copies):
            return None
        return abs(2 * aim[0] - float(centre.x) - x) + abs(2 * aim[1] - float(centre.y) - y)

    yield from clear_places(picture.scene, picture.setup, prop.shape, gap_mm=_CLEAR_MM, rank=rank)


def other_surfaces(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Surfaces at least as large, the likest first, on the same table."""
    old = picture.scene.surface
    able = [s for s in stores.surfaces if s.name != old.name and s.width >= old.width - 1 and s.depth >= old.depth - 1]
    for surface in sorted(able, key=lambda s: (colour_distance(s.colours, old.colours), s.name)):
        laid = replace(surface, height_above_floor=old.height_above_floor)
        yield Candidate(
            "surface",
            (("out", old.name), ("name", surface.name)),
            f"take the surface {surface.name} from the stores",
            (UseSurface(surface=laid, **where_own(picture, picture.setup.surface is not LEFT_OUT)),),
        )


def size_mm(body: Body) -> tuple[float, float, float]:
    """Width, depth and height of what a thing covers as it stands, the longer side first."""
    x0, y0, x1, y1 = body.footprint_bounds
    longer, shorter = sorted((x1 - x0, y1 - y0), reverse=True)
    return float(longer), float(shorter), float(body.z_max - body.z_min)


MAKERS = {"stand-in": stand_ins, "echo": echo, "echo twice": echo_twice, "another surface": other_surfaces}
