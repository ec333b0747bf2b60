"""Outlines in the frame that only just touch: each other, or an edge; and slivers that peek in."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..camera.crops import Rect, passed_sides
from ..camera.silhouette import Silhouette
from ..composition.relations import SHAPING_ROLES, label, related
from ..evaluate import Picture, share_within
from ..facts.practice import HERO_CUT, SLIVER, TANGENT
from ..plane.convex_parts import convex_parts, parting
from ..plane.separation import near_pairs
from ..remember import remembered
from ..tolerances import CUT_SHARE
from . import spacing
from .finding import Finding, Mark, Segment
from .kind import Kind, Rule

PAIR = Kind(
    code="tangent.pair", rank=70, severity="mend", unit="% of the crop's long side",
    measure="gap or overlap of outlines, % of the delivered crop's long side", limit=TANGENT,
    gives="what stands around them would have to make room, or the camera move", makers=("part in the frame",),
)  # fmt: skip
EDGE = Kind(
    code="tangent.edge", rank=80, severity="mend", unit="% of the crop's long side",
    measure="distance of an outline's end from an edge of a window, % of the long side", limit=TANGENT,
    gives="the crop or what stands around it would have to give", makers=("off the edge",),
)  # fmt: skip
SLIVERED = Kind(
    code="edge.sliver", rank=90, severity="mend", unit="%", measure="% of the outline that is seen in a window", limit=SLIVER,
    leaning="edges", gives="the crop or what stands around it would have to give", makers=("off the edge",),
    retouch_minutes=6,
)  # fmt: skip


#: Outlines are smoothed by so much, % of the long side, before it is asked how deep they overlap.
_SMOOTHED = 0.02


def _judged(picture: Picture) -> list[str]:
    return [i for i, s in picture.silhouettes.items() if s.body.placement.role in SHAPING_ROLES]


def _scale(picture: Picture) -> tuple[float, float]:
    """From fractions of the frame to % of its long side."""
    view = picture.view
    long_side = max(view.frame_width, view.frame_height)
    return view.frame_width * 100 / long_side, view.frame_height * 100 / long_side


def _scaled(outline: BaseGeometry, scale: tuple[float, float]) -> BaseGeometry:
    return shapely.transform(outline, lambda points: points * scale)


@remembered(1)
def _parts(silhouette: Silhouette, scale: tuple[float, float]) -> tuple[np.ndarray, ...]:
    """The outline in % of the long side as convex parts."""
    return convex_parts(_scaled(silhouette.outline, scale), _SMOOTHED)


@remembered(2)
def _closeness(a: Silhouette, b: Silhouette, scale: tuple[float, float], limit: float) -> tuple[float, float, Segment] | None:
    """(gap, overlap, where) of two outlines in % of the long side when they only just touch, else None; ``where`` in fractions."""
    first, second = (_scaled(s.outline, scale) for s in (a, b))
    gap = float(shapely.distance(first, second))
    if gap >= limit:
        return None
    if gap > 0:
        line = shapely.shortest_line(first, second)
        ends: Segment = tuple((float(x / scale[0]), float(y / scale[1])) for x, y in line.coords)  # type: ignore[assignment]
        return gap, 0.0, ends
    common = shapely.intersection(first, second)
    if not shapely.buffer(common, -limit / 2, quad_segs=2).is_empty:
        return None  # a disc as wide as the limit lies in both, and is not out of itself in less
    depth = parting(_parts(a, scale), _parts(b, scale))[0]
    if depth >= limit or depth <= 0:
        return None
    shared = common.envelope.bounds
    return 0.0, depth, ((shared[0] / scale[0], shared[1] / scale[1]), (shared[2] / scale[0], shared[3] / scale[1]))


def find_pairs(picture: Picture) -> Iterator[Finding]:
    """Two outlines nearer than the limit without touching, or overlapping by less than it, as each crop that shows the place is
    delivered."""
    scale = _scale(picture)
    reach = TANGENT.value * max(long_side(picture, window) for _, window in picture.windows)
    ids = _judged(picture)
    boxes = np.array([picture.silhouettes[i].box for i in ids]).reshape(-1, 4) * [*scale, *scale]
    on_table = {frozenset(f.placements) for f in spacing.find(picture)}
    for k, m in near_pairs(boxes, reach):
        a, b = ids[k], ids[m]
        if frozenset((a, b)) in on_table or related(picture, a, b):
            continue
        close = _closeness(picture.silhouettes[a], picture.silhouettes[b], scale, reach)
        if close is not None:
            yield from _told_of_pair(picture, a, b, *close)


def _told_of_pair(picture: Picture, a: str, b: str, gap: float, depth: float, ends: Segment) -> Iterator[Finding]:
    middle = ((ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2)
    side, how = ("apart", "apart") if gap > 0 else ("over", "over each other")
    wide_mm = frame_percent_mm(picture, a, b) * max(gap, depth)
    for crop, window in picture.windows:
        measure = max(gap, depth) / long_side(picture, window)
        if measure >= TANGENT.value or not _holds(window, middle):
            continue
        yield PAIR.found(
            (a, b),
            round(measure, 3),
            TANGENT.value,
            f"the outlines of {label(picture, a)} and {label(picture, b)} are {measure:.2f} % of {_where(crop)} {how}, about {wide_mm:.1f} mm "
            f"there; clear of {TANGENT.value:g} % they read as meant",
            crop=crop,
            sides=(side,),
            mark=Mark(frame=(ends,)),
            figures=(("gap_mm", round(wide_mm, 1)),),
        )


def long_side(picture: Picture, window: Rect) -> float:
    """The longer side of a window over the frame's longer side."""
    across, down = _scale(picture)
    return max((window[2] - window[0]) * across, (window[3] - window[1]) * down) / 100


def frame_percent_mm(picture: Picture, *ids: str) -> float:
    """How many mm one per cent of the frame's long side is where the things are, square to the axis, at their middles' mean depth."""
    view = picture.view
    depths = [float((picture.bodies[i].centroid - view.position) @ view.forward) for i in ids]
    return max(view.frame_width, view.frame_height) / 100 * (sum(depths) / len(depths)) / view.principal_distance


def _where(crop: str | None) -> str:
    return "the frame" if crop is None else f"the crop {crop}"


def _holds(window: Rect, point: tuple[float, float]) -> bool:
    return window[0] <= point[0] <= window[2] and window[1] <= point[1] <= window[3]


def find_edges(picture: Picture) -> Iterator[Finding]:
    """An outline whose end lies within the limit of an edge of a crop, inside or out; a hero that loses a little less than makes it cut."""
    scale = _scale(picture)
    for i in _judged(picture):
        silhouette = picture.silhouettes[i]
        is_hero = silhouette.body.placement.role == "hero"
        for crop, window in picture.windows:
            inside = share_within(silhouette.outline, window)
            lost = (1 - inside) * 100
            if inside * 100 < SLIVER.value or (is_hero and lost >= HERO_CUT.value):
                continue  # edge.sliver and hero.cut say it
            grazes = is_hero and lost > CUT_SHARE * 100
            found = _edge_met(picture, silhouette, window, scale, grazes=grazes)
            if found is None:
                continue
            side, gap = found
            wide_mm = frame_percent_mm(picture, i) * abs(gap) * long_side(picture, window)
            yield EDGE.found(
                (i,),
                round(abs(gap), 3),
                TANGENT.value,
                f"{label(picture, i)} only just {'passes' if gap <= 0 else 'clears'} the {side} edge of {_where(crop)}, by about {wide_mm:.1f} mm there",
                crop=crop,
                sides=(side,),
                mark=_edge_mark(silhouette.box, window, side),
                figures=(("gap_mm", round(wide_mm, 1)),),
            )


def _edge_met(
    picture: Picture, silhouette: Silhouette, window: Rect, scale: tuple[float, float], *, grazes: bool
) -> tuple[str, float] | None:
    """(side, room to it in % of the window's long side) of the first edge that the outline's end only just touches, or that a hero
    grazes."""
    long = long_side(picture, window)
    gaps = [(side, gap / long) for side, _, gap in _edge_gaps(silhouette.box, window, scale)]
    met = next(((side, gap) for side, gap in gaps if abs(gap) < TANGENT.value), None)
    return met if met is not None or not grazes else min(gaps, key=lambda g: g[1])


def _edge_gaps(box: Rect, window: Rect, scale: tuple[float, float]) -> tuple[tuple[str, float, float], ...]:
    """(side, where that edge is, room between outline and edge in % of the long side, negative when passed)."""
    return (
        ("left", window[0], (box[0] - window[0]) * scale[0]),
        ("right", window[2], (window[2] - box[2]) * scale[0]),
        ("top", window[1], (box[1] - window[1]) * scale[1]),
        ("bottom", window[3], (window[3] - box[3]) * scale[1]),
    )


def _edge_mark(box: Rect, window: Rect, side: str) -> Mark:
    if side in ("left", "right"):
        u = window[0] if side == "left" else window[2]
        return Mark(frame=(((u, box[1]), (u, box[3])),))
    v = window[1] if side == "top" else window[3]
    return Mark(frame=(((box[0], v), (box[2], v)),))


def find_slivers(picture: Picture) -> Iterator[Finding]:
    """A thing of which only a sliver is seen at the edge of a crop."""
    for i in _judged(picture):
        silhouette = picture.silhouettes[i]
        if silhouette.body.placement.role == "hero":
            continue  # hero.cut says it
        for crop, window in picture.windows:
            inside = share_within(silhouette.outline, window) * 100
            if not CUT_SHARE * 100 < inside < SLIVER.value:
                continue
            where = "the frame" if crop is None else f"the crop {crop}"
            shown = shapely.intersection(silhouette.outline, shapely.box(*window)).bounds
            yield SLIVERED.found(
                (i,),
                round(inside, 2),
                SLIVER.value,
                f"{inside:.0f} % of {label(picture, i)} peeks into {where}; under {SLIVER.value:g} % it looks like a mistake",
                crop=crop,
                sides=passed_sides(silhouette.box, window),
                mark=Mark(frame=(((shown[0], shown[1]), (shown[2], shown[3])),)),
            )


RULES = (Rule(find_pairs, (PAIR,)), Rule(find_edges, (EDGE,)), Rule(find_slivers, (SLIVERED,)))
