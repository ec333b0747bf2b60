"""Outlines in the frame that only just touch: each other, or an edge; and slivers that peek in."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..camera.crops import Rect, passed_sides
from ..camera.silhouette import Silhouette
from ..evaluate import Picture, share_within
from ..facts.practice import SLIVER, TANGENT
from ..plane.separation import near_pairs, penetration_mm
from ..remember import remembered
from ..tolerances import CUT_SHARE
from . import spacing
from .finding import Finding, Mark, Segment
from .kind import Kind, Rule
from .relations import SHAPING_ROLES, label, related

PAIR = Kind(
    code="tangent.pair", rank=70, severity="mend", unit="% of the frame's long side",
    measure="gap or overlap of outlines, % of the frame's long side", limit=TANGENT,
    gives="what stands around them would have to make room, or the camera move", makers=("part in the frame",),
)  # fmt: skip
EDGE = Kind(
    code="tangent.edge", rank=80, severity="mend", unit="% of the frame's long side",
    measure="distance of an outline's end from an edge of a window, % of the long side", limit=TANGENT,
    gives="the crop or what stands around it would have to give", makers=("off the edge",),
)  # fmt: skip
SLIVERED = Kind(
    code="edge.sliver", rank=90, severity="mend", unit="%", measure="% of the outline that is seen in a window", limit=SLIVER,
    leaning="edges", gives="the crop or what stands around it would have to give", makers=("off the edge",),
)  # fmt: skip


def _judged(picture: Picture) -> list[str]:
    return [i for i, s in picture.silhouettes.items() if s.body.placement.role in SHAPING_ROLES]


def _scale(picture: Picture) -> tuple[float, float]:
    """From fractions of the frame to % of its long side."""
    view = picture.view
    long_side = max(view.frame_width, view.frame_height)
    return view.frame_width * 100 / long_side, view.frame_height * 100 / long_side


def _scaled(outline: BaseGeometry, scale: tuple[float, float]) -> BaseGeometry:
    return shapely.transform(outline, lambda points: points * scale)


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
    depth = penetration_mm(_corners(first), _corners(second))
    if depth >= limit or depth <= 0:
        return None
    shared = shapely.intersection(first, second).envelope.bounds
    return 0.0, depth, ((shared[0] / scale[0], shared[1] / scale[1]), (shared[2] / scale[0], shared[3] / scale[1]))


def find_pairs(picture: Picture) -> Iterator[Finding]:
    """Two outlines nearer than the limit without touching, or overlapping by less than it."""
    scale = _scale(picture)
    limit = TANGENT.value
    ids = _judged(picture)
    boxes = np.array([picture.silhouettes[i].box for i in ids]).reshape(-1, 4) * [*scale, *scale]
    on_table = {frozenset(f.placements) for f in spacing.find(picture)}
    for k, m in near_pairs(boxes, limit):
        a, b = ids[k], ids[m]
        close = _closeness(picture.silhouettes[a], picture.silhouettes[b], scale, limit)
        if close is None or frozenset((a, b)) in on_table or related(picture, a, b):
            continue
        gap, depth, ends = close
        measure, words = (gap, f"{gap:.2f} % apart") if gap > 0 else (depth, f"{depth:.2f} % over each other")
        middle = ((ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2)
        if not any(_holds(window, middle) for _, window in picture.windows):
            continue
        yield PAIR.found(
            (a, b),
            round(measure, 3),
            limit,
            f"the outlines of {label(picture, a)} and {label(picture, b)} are {words}; clear of {limit:g} % they read as meant",
            sides=("apart",) if gap > 0 else ("over",),
            mark=Mark(frame=(ends,)),
        )


def _corners(outline: BaseGeometry) -> np.ndarray:
    return np.array(shapely.convex_hull(outline).exterior.coords)[:-1]


def _holds(window: Rect, point: tuple[float, float]) -> bool:
    return window[0] <= point[0] <= window[2] and window[1] <= point[1] <= window[3]


def find_edges(picture: Picture) -> Iterator[Finding]:
    """An outline whose end lies within the limit of an edge of a crop, inside or out; one finding for each edge that is the same line."""
    scale = _scale(picture)
    for i in _judged(picture):
        told: set[tuple[str, float]] = set()
        silhouette = picture.silhouettes[i]
        for crop, window in picture.windows:
            inside = share_within(silhouette.outline, window)
            if inside * 100 < SLIVER.value:
                continue
            if silhouette.body.placement.role == "hero" and 1 - inside > CUT_SHARE:
                continue  # hero.cut says it
            for side, at, gap in _edge_gaps(silhouette.box, window, scale):
                if abs(gap) >= TANGENT.value or (side, at) in told:
                    continue
                told.add((side, at))
                where = "the frame" if crop is None else f"the crop {crop}"
                yield EDGE.found(
                    (i,),
                    round(abs(gap), 3),
                    TANGENT.value,
                    f"{label(picture, i)} only just {'touches' if gap <= 0 else 'clears'} the {side} edge of {where}",
                    crop=crop,
                    sides=(side,),
                    mark=_edge_mark(silhouette.box, window, side),
                )
                break


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
