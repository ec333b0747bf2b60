"""Room between things on the table."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from ..composition.relations import LARGE_ROLES, heights_meet, label, related
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import GAP_TIGHT, GAP_TIGHT_AIRY
from ..plane.convex_parts import parting
from ..plane.separation import near_pairs
from ..remember import counted, remembered
from ..solids.body import Body
from ..solids.pieces import level_outlines
from ..tolerances import CONTACT_MM
from .finding import Finding, Mark, Segment
from .kind import Kind, Rule

OVERLAP = Kind(
    code="spacing.overlap", rank=50, severity="stop", unit="mm", measure="mm of the shortest way out, the deepest of nine level sections",
    limit=Fact(0, "mm", "two things, one place"), limit_note="0.5 mm of contact allowed",
    gives="one of the two, or what stands around them, would have to leave", makers=("lay it on", "part", "or lay it on"),
)  # fmt: skip
TIGHT = Kind(
    code="spacing.tight", rank=60, severity="mend", unit="mm", measure="mm between footprints of hero, supports, accents",
    limit=GAP_TIGHT, limit_note="to 15 for airy, to none for gathered", leaning="spacing",
    gives="what stands around them would have to make room", makers=("part",),
)  # fmt: skip


@counted(16)  # the family is run once, and asked again by what must not say the same twice
def find(picture: Picture) -> tuple[Finding, ...]:
    """Things that stand in each other, and large things nearer than reads as meant."""
    return tuple(_find(picture))


def _find(picture: Picture) -> Iterator[Finding]:
    solid = [i for i, body in picture.bodies.items() if not body.is_soft]
    boxes = shapely.bounds(np.array([picture.bodies[i].footprint for i in solid], dtype=object)).reshape(-1, 4)
    limit = tight_limit_mm(picture.scene.brief.leaning("spacing"))
    for k, m in near_pairs(boxes, max(limit, CONTACT_MM)):
        a, b = solid[k], solid[m]
        if not heights_meet(picture, a, b) or related(picture, a, b):
            continue
        first, second = picture.bodies[a], picture.bodies[b]
        gap = float(shapely.distance(first.footprint, second.footprint))
        if gap == 0:
            yield from _overlap(picture, first, second)
        elif gap < limit and {first.placement.role, second.placement.role} <= LARGE_ROLES:
            line = shapely.shortest_line(first.footprint, second.footprint)
            yield TIGHT.found(
                (a, b),
                round(gap, 2),
                limit,
                f"{label(picture, a)} and {label(picture, b)} stand {gap:.1f} mm apart; {limit:g} mm reads as meant",
                mark=_mark(picture, tuple(line.coords), max(first.z_min, second.z_min)),
            )


def tight_limit_mm(leaning: float) -> float:
    """Gap asked for between large things: 8 mm, 15 when spacing leans to airy, none when it leans to gathered."""
    if leaning >= 0:
        return GAP_TIGHT.value * (1 - leaning)
    return GAP_TIGHT.value + (GAP_TIGHT_AIRY.value - GAP_TIGHT.value) * -leaning


@remembered(1)
def collision(first: Body, second: Body) -> tuple[float, tuple[float, float]]:
    """(depth in mm, unit direction on the table that parts ``second`` from ``first``): the deepest of nine level sections."""
    low, high = max(first.z_min, second.z_min), min(first.z_max, second.z_max)
    deepest: tuple[float, tuple[float, float]] = (0.0, (1.0, 0.0))
    # Two upright prisms are cut alike at every height.
    shares = (0.5,) if first.is_upright_prism and second.is_upright_prism else np.linspace(0.02, 0.98, 9)
    for share in shares:
        z = float(low + share * (high - low))
        one, other = level_outlines(first, z), level_outlines(second, z)
        if one and other:
            deepest = max(deepest, parting(one, other))
    return deepest


def _overlap(picture: Picture, first: Body, second: Body) -> Iterator[Finding]:
    depth, direction = collision(first, second)
    if depth <= CONTACT_MM:
        return
    shared = shapely.intersection(first.footprint, second.footprint).centroid
    half_x, half_y = direction[0] * depth / 2, direction[1] * depth / 2
    ends = ((shared.x - half_x, shared.y - half_y), (shared.x + half_x, shared.y + half_y))
    yield OVERLAP.found(
        (first.id, second.id),
        round(depth, 2),
        0,
        f"{label(picture, first.id)} and {label(picture, second.id)} stand {depth:.0f} mm in each other",
        mark=_mark(picture, ends, max(first.z_min, second.z_min)),
    )


def _mark(picture: Picture, ends: Segment, z_mm: float) -> Mark:
    uv = picture.view.project(np.array([[x, y, z_mm] for x, y in ends]))
    (ax, ay), (bx, by) = ends
    frame: tuple[Segment, ...] = ()
    if picture.view.is_in_front(uv[:, 2]):
        frame = (((float(uv[0, 0]), float(uv[0, 1])), (float(uv[1, 0]), float(uv[1, 1]))),)
    return Mark(frame=frame, table=(((float(ax), float(ay)), (float(bx), float(by))),))


RULES = (Rule(find, (OVERLAP, TIGHT)),)
