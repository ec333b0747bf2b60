"""What is to be arranged: the units that move, what stands still, where they may be, and what the frame asks for."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..camera.crops import FULL_FRAME, Rect
from ..camera.view import View
from ..composition.eye import echoes, lightness
from ..composition.layout import Layout, layout_of
from ..composition.relations import LARGE_ROLES
from ..evaluate import Picture
from ..findings.spacing import tight_limit_mm
from ..model import Placement, Setup
from ..plane.hull import hull_of
from ..shapes.shape import Shape
from ..solids.body import Body
from ..table.carrying import moving_with
from .elsewhere import Elsewhere, set_ups_beside

#: Directions in which the reach of an outline is known: gaps between two are then known from below, between round things to 0.9 % of their
#: distance, between long ones to an eighth of their length.
WAYS = 24
_STEP_DEG = 360 // WAYS
ANGLES = np.radians(np.arange(WAYS) * _STEP_DEG)
DIRECTIONS = np.column_stack([np.cos(ANGLES), np.sin(ANGLES)])
#: Places of a unit's outline that are looked at through the lens.
_SEEN_POINTS = 26
_ALL_ROUND = np.radians(np.arange(360))
#: Of a thing outside the frame less than this is in it.
OUTSIDE = 0.02
#: How far what is laid together may be turned either way, degrees.
_LAID_DEG = 28.0


@dataclass(frozen=True, eq=False, slots=True)
class Unit:
    """What moves as one: a thing with all it carries, or a group. Places are of its lead's foot, mm; turn by degrees from how it stands
    now.

    points (m, 3): its outline about the lead's foot, z absolute; core: the same of the hero alone, where it holds one, and of what lies on
    a cloth without it; solid: of all that words may not run over. reach (360,): how far its solid parts
    reach from the foot toward each degree on the table; None when all of it
    gives way. turns: how far it may be turned either way, degrees; 0 for what keeps facing as it does. tone: its mean lightness, L*.
    is_outside: it may stay out of the frame.
    """

    lead: str
    ids: tuple[str, ...]
    role: str
    x: float
    y: float
    points: np.ndarray
    core: np.ndarray
    solid: np.ndarray
    reach: np.ndarray | None
    area: float
    top: float
    is_fixed: bool
    turns: float
    is_laid: bool
    is_strewn: bool
    tone: float
    is_outside: bool = False

    @property
    def is_hero(self) -> bool:
        return self.role == "hero"

    @property
    def is_shaping(self) -> bool:
        return self.role in LARGE_ROLES or self.role == "linear"


@dataclass(frozen=True, eq=False, slots=True)
class Problem:
    """windows: what is delivered, or the whole frame. gap_mm: between large things. echoes: pairs of units that alone carry an accent.
    beside: other set-ups that are to be served as well."""

    picture: Picture
    units: tuple[Unit, ...]
    windows: tuple[Rect, ...]
    layout: Layout
    gap_mm: float
    echoes: tuple[tuple[int, int], ...] = ()
    beside: tuple[Elsewhere, ...] = ()

    @property
    def copies(self) -> tuple[Rect, ...]:
        return self.layout.copies

    @property
    def field(self) -> Rect:
        return self.layout.field

    @property
    def table(self) -> Rect:
        return self.layout.table

    @property
    def leanings(self) -> dict[str, float]:
        return self.layout.leanings

    @property
    def view(self) -> View:
        return self.picture.view

    @property
    def setup(self) -> Setup:
        return self.picture.setup

    @property
    def mobile(self) -> tuple[int, ...]:
        return tuple(k for k, u in enumerate(self.units) if not u.is_fixed)

    @property
    def stays(self) -> frozenset[str]:
        """Ids of what need not be in the frame: it is not moved, or may stay out of it."""
        return frozenset(i for u in self.units if u.is_fixed or u.is_outside for i in u.ids)

    @property
    def fixed_ids(self) -> frozenset[str]:
        return frozenset(i for u in self.units if u.is_fixed for i in u.ids)

    @property
    def heroes(self) -> tuple[int, ...]:
        return tuple(k for k, u in enumerate(self.units) if u.is_hero)

    @property
    def slant(self) -> float:
        """How much of the table's depth the frame sees: 1 from above, 0 at eye level."""
        return self.layout.slant


def problem_of(picture: Picture, keep: Iterable[str] = (), *, together: bool = False) -> Problem:
    """The set-up of a picture as a problem. ``keep``: placements that stay where they are, beside those that are locked. ``together``: for
    all set-ups that share the table."""
    scene = picture.scene
    kept = {p.id for p in scene.placements if p.locked} | set(keep)
    there = {p.id: p for p in scene.placements_in(picture.setup)}
    units: list[Unit] = []
    taken: set[str] = set()
    for p in sorted(there.values(), key=lambda p: p.on is not None):
        if p.id in taken:
            continue
        lead = _root(p, there)
        ids = tuple(i for i in moving_with(scene, lead.id) if i in there and i not in taken)
        taken |= set(ids)
        unit = unit_of(picture, there, lead, ids, is_fixed=bool(kept & set(moving_with(scene, lead.id))) or _stays(lead))
        units.append(replace(unit, is_outside=_is_outside(picture, ids)))
    windows = tuple(c.box for c in picture.crops) or (FULL_FRAME,)
    layout = layout_of(picture, sum(1 for u in units if not u.is_laid and not u.is_strewn))
    of_unit = {i: k for k, u in enumerate(units) for i in u.ids}
    pairs = tuple((of_unit[a], of_unit[b]) for a, b, _ in echoes(picture) if of_unit[a] != of_unit[b])
    beside = set_ups_beside(picture, tuple(units)) if together else ()
    return Problem(picture, tuple(units), windows, layout, max(1.0, tight_limit_mm(layout.leanings["spacing"])), pairs, beside)


def _root(p: Placement, there: dict[str, Placement]) -> Placement:
    seen = set()
    while p.on in there and p.id not in seen:
        seen.add(p.id)
        p = there[p.on or ""]
    return p


def _stays(lead: Placement) -> bool:
    """What hangs, leans on something or is kept off the frame on purpose is not moved."""
    is_held = lead.held_by in ("arm", "thread", "tape", "hand") or (lead.on is None and lead.z > 0)
    return lead.role == "off-frame" or is_held or lead.lean != 0


def _is_outside(picture: Picture, ids: tuple[str, ...]) -> bool:
    """What the frame does not show now, and what is longer than its shorter side, may stay out of it: in a close-up it is the table round
    it."""
    bounds = shapely.bounds(np.array([picture.bodies[i].footprint for i in ids], dtype=object)).reshape(-1, 4)
    longest = float((bounds[:, 2:].max(axis=0) - bounds[:, :2].min(axis=0)).max())
    return longest > min(picture.size_at_aim) and all(picture.things[i].inside_frame_share < OUTSIDE for i in ids)


def unit_of(picture: Picture, there: dict[str, Placement], lead: Placement, ids: tuple[str, ...], *, is_fixed: bool) -> Unit:
    """``ids``, the lead first, as one; ``there``: the placements of the picture by id."""
    bodies = [picture.bodies[i] for i in ids]
    foot = np.array([lead.x, lead.y])
    solid = [b for b in bodies if not b.is_soft and not b.shape.is_strewn]
    roles = [there[i].role for i in ids]
    role = "hero" if "hero" in roles else lead.role
    if role == "riser" and len(ids) > 1:
        role = next((r for r in roles if r in LARGE_ROLES), role)
    largest = max(bodies, key=lambda b: b.footprint.area)
    points = _seen_points(bodies) - [*foot, 0.0]
    core = [b for i, b in zip(ids, bodies, strict=True) if there[i].role == "hero"] or (solid if lead.role == "cloth" else [])
    own = _seen_points(core) - [*foot, 0.0] if core and len(ids) > 1 else points
    hard = points if len(solid) == len(bodies) or not solid else own if core == solid else _seen_points(solid) - [*foot, 0.0]
    return Unit(
        lead.id,
        ids,
        role,
        lead.x,
        lead.y,
        points,
        own,
        hard,
        _reach(solid, foot) if solid else None,
        float(sum(b.footprint.area for b in bodies if b.placement.on is None or b.is_soft) or largest.footprint.area),
        max(b.z_max for b in bodies),
        is_fixed,
        _turns(picture, lead, ids, largest.shape),
        lead.role == "cloth" and not solid,
        picture.bodies[lead.id].shape.is_strewn,
        lightness(picture.props[largest.id].colours),
    )


def _reach(solid: list[Body], foot: np.ndarray) -> np.ndarray:
    """(360,) how far any of them reaches along each degree."""
    hull = hull_of(np.concatenate([shapely.get_coordinates(b.footprint) for b in solid]))
    points = np.array(hull.exterior.coords)[:-1] - foot
    return (points @ np.array([np.cos(_ALL_ROUND), np.sin(_ALL_ROUND)])).max(axis=0)


def _seen_points(bodies: list[Body]) -> np.ndarray:
    """(m, 3) places on their outsides: of each direction of a ball the one that lies furthest."""
    clouds = [np.concatenate(b.parts) if b.parts else _balls(b.spheres) for b in bodies]
    points = np.concatenate(clouds)
    golden = np.pi * (3 - np.sqrt(5))
    k = np.arange(2 * _SEEN_POINTS)
    z = 1 - (2 * k + 1) / (2 * _SEEN_POINTS * 2) * 2
    flat = np.sqrt(1 - z**2)
    ways = np.column_stack([np.cos(golden * k) * flat, np.sin(golden * k) * flat, z])
    centred = points - points.mean(axis=0)
    return points[np.unique((centred @ ways.T).argmax(axis=0))]


def _balls(spheres: np.ndarray) -> np.ndarray:
    ring = np.array([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1.0]])
    return (spheres[:, None, :3] + ring[None] * spheres[:, None, 3:]).reshape(-1, 3)


def _turns(picture: Picture, lead: Placement, ids: tuple[str, ...], shape: Shape) -> float:
    """What leans on something keeps leaning that way, a label that must be seen keeps facing where it faces, what is round gains nothing,
    and a place that is laid, or a board with what lies on it, is turned a little only: it was laid toward somebody [practice]."""
    faced = any(picture.props[i].features or (picture.props[i].skins and shape.form == "turned") for i in ids)
    leans = any(picture.bodies[i].placement.lean for i in ids)
    if faced or shape.form in ("turned", "ball") or picture.scene.group_of(lead.id) is not None or leans:
        return 0.0
    return _LAID_DEG if len(ids) > 1 else 180.0
