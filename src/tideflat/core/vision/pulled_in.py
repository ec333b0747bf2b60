"""An outline drawn in to the thing's own edge where it ran along the soft border of a shadow: inward from there the first plain step that
goes on along the stretch.
"""

from __future__ import annotations

import numpy as np
import shapely

from ..tolerances import ROUNDING
from .along_ring import lies_within
from .dark_sides import ring_of
from .edge_doubts import EdgeSeen
from .edge_support import EdgePicture, asked_of_each

#: Less of an outline than this soft, and nothing is drawn in.
_LEAST_SOFT = 0.03
#: It is looked for in windows of so many mm to both sides, over such a depth, and is as plain as this.
_WINDOW_MM, _DEEP_MM, _PLAIN = 0.9, 0.9, 0.7
#: It is so much of the plainest on the way, and stands out so far from what is usual there.
_NEARLY, _STANDS_OUT = 0.6, 1.8
#: Neighbours that tell how far a stretch is drawn in, to both sides; so near to each other, mm, they must be, and so many of them.
_NEIGHBOURS, _TOGETHER_MM, _TOGETHER = 6, 1.2, 0.55
#: What lies so near to the sheet's edge, mm, and as square to its way out (cosine), runs along it; so much of a side, and it is the sheet's.
_ON_SHEET_MM, _PARALLEL, _MOST_OF_SIDE = 1.0, 0.9, 0.5
#: So many places in a row are a stretch of it.
_STRETCH = 6
#: A gap of so many places at the most is closed.
_GAP = 15
#: What is left is at least this share of what there was.
_LEAST_LEFT = 0.25
#: Of what there was, no place lies further from what is left than so many times as far as it may be drawn in: a handle pinched off.
_FURTHEST = 1.5


def pulled_in(
    outline: shapely.Polygon, edge: EdgeSeen, picture: EdgePicture, most_mm: float, sheet_mm: tuple[float, float]
) -> shapely.Polygon:
    """The outline, its soft stretches and those along the sheet's edge drawn in by up to ``most_mm`` where a plain edge runs along them
    within; as it was elsewhere. sheet_mm: its sides, its middle lying at 0, 0."""
    places, outward = ring_of(outline)
    nearest = shapely.STRtree(shapely.points(edge.places)).nearest(shapely.points(places))
    soft = ~edge.is_own[nearest] | _along_sheet(places, outward, sheet_mm)
    if soft.mean() < _LEAST_SOFT:
        return outline
    outward = _evened(outward)
    centres = np.arange(_WINDOW_MM / 2, most_mm, 1.5 * _WINDOW_MM)
    inward = np.full(len(places), np.nan)
    inward[soft] = _first_edge(picture, outline, places[soft], outward[soft], centres)
    moved = _agreed(inward, soft)
    # a shadow that ends at the sheet's edge: what runs along that goes straight from one side of it to the other
    kept = ~(_along_sheet(places, outward, sheet_mm) & (moved == 0))
    if (not moved.any() and kept.all()) or kept.sum() < len(places) / 2:
        return outline
    polygon = shapely.Polygon((places - moved[:, None] * outward)[kept]).buffer(0)
    parts = [g for g in getattr(polygon, "geoms", [polygon]) if g.geom_type == "Polygon"]
    largest = max(parts, key=lambda g: g.area, default=outline)
    is_whole = largest.area > _LEAST_LEFT * outline.area and lies_within(largest, outline, _FURTHEST * most_mm)
    return shapely.Polygon(largest.exterior) if is_whole else outline


def _first_edge(picture: EdgePicture, outline: shapely.Polygon, places: np.ndarray, outward: np.ndarray, centres: np.ndarray) -> np.ndarray:
    """(n,) mm inward of each place to the first of the plain edges that stands out of the shadow's own slope, NaN where none does. A thin
    thing's other side is not on the way."""
    ahead = np.array([places - (centre + _WINDOW_MM + _DEEP_MM) * outward for centre in centres])
    on_the_way = np.logical_and.accumulate(shapely.contains_xy(outline, ahead[..., 0], ahead[..., 1]), axis=0)
    on_the_way[0] = True
    on_the_way = on_the_way[on_the_way.any(axis=1)]
    centres = centres[: len(on_the_way)]
    every = asked_of_each(picture, [(places - centre * outward, outward) for centre in centres], _WINDOW_MM, [_DEEP_MM] * len(centres))
    steps = np.where(on_the_way, [a.step for a in every], np.nan)
    stands_out = (
        (np.array([a.plain for a in every]) >= _PLAIN)
        & (steps >= _NEARLY * np.nanmax(steps, axis=0))
        & (steps > _STANDS_OUT * np.nanmedian(steps, axis=0))
    )
    at = np.array([centre - a.offset for centre, a in zip(centres, every, strict=True)])[stands_out.argmax(axis=0), np.arange(len(places))]
    return np.where(stands_out.any(axis=0), at, np.nan)


def own_share(edge: EdgeSeen, sheet_mm: tuple[float, float]) -> float:
    """Share of an outline that is plainly a thing's own edge, and not the sheet's."""
    return float((edge.is_own & ~_of_sheet(edge, sheet_mm)).mean())


def follows_sheet(edge: EdgeSeen, sheet_mm: tuple[float, float]) -> bool:
    """Whether a stretch of an outline is the sheet's edge, and none of the thing's."""
    of_sheet = _of_sheet(edge, sheet_mm)
    return bool(np.all([np.roll(of_sheet, k) for k in range(_STRETCH)], axis=0).any())


def side_follows_sheet(places: np.ndarray, outward: np.ndarray, sheet_mm: tuple[float, float]) -> bool:
    """Whether of places (n, 2) round a plain solid, with their ways outward, most of those on one side lie along the sheet's own edge."""
    along = _along_sheet(places, outward, sheet_mm)
    sides = outward[along] @ outward.T > _PARALLEL  # (along, n): which lie on the same side
    return bool(((sides & along).mean(axis=1) > _MOST_OF_SIDE * sides.mean(axis=1)).any())


def _of_sheet(edge: EdgeSeen, sheet_mm: tuple[float, float]) -> np.ndarray:
    along = np.roll(edge.places, -1, axis=0) - np.roll(edge.places, 1, axis=0)
    outward = np.column_stack([along[:, 1], -along[:, 0]]) / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), ROUNDING)
    return _along_sheet(edge.places, outward, sheet_mm)


def _along_sheet(places: np.ndarray, outward: np.ndarray, sheet_mm: tuple[float, float]) -> np.ndarray:
    """(n,) whether the outline runs along the sheet's own edge there."""
    half = np.array(sheet_mm) / 2
    beside = (np.abs(np.abs(places) - half) < _ON_SHEET_MM) & (np.abs(places)[:, ::-1] < half[::-1] + _ON_SHEET_MM)
    return np.asarray((beside & (np.abs(outward) > _PARALLEL)).any(axis=1))


def _evened(ways: np.ndarray) -> np.ndarray:
    """(n, 2) unit ways, each the mean of those about it: a shadow's border wavers."""
    mean = sum(np.roll(ways, k, axis=0) for k in range(-4, 5))
    return np.asarray(mean / np.maximum(np.linalg.norm(mean, axis=1, keepdims=True), ROUNDING))


def _agreed(inward: np.ndarray, soft: np.ndarray) -> np.ndarray:
    """(n,) mm by which each place is drawn in: what most about it say; 0 where they do not agree."""
    about = np.stack([np.roll(inward, k) for k in range(-_NEIGHBOURS, _NEIGHBOURS + 1)])
    of_soft = np.stack([np.roll(soft, k) for k in range(-_NEIGHBOURS, _NEIGHBOURS + 1)]).sum(axis=0)
    known = np.isfinite(about)
    middle = np.zeros(len(inward))
    any_known = known.any(axis=0)
    middle[any_known] = np.nanmedian(about[:, any_known], axis=0)
    alike = (known & (np.abs(np.where(known, about, 0) - middle) < _TOGETHER_MM)).sum(axis=0)
    is_told = soft & (alike >= _TOGETHER * np.maximum(of_soft, 1)) & (alike >= 3)
    if not is_told.any():
        return np.zeros(len(inward))
    # what lies between two places that are told, or between one and the plain edge, goes with them
    told = is_told | ~soft
    value = np.where(is_told, middle, 0.0)
    count = len(inward)
    at, known_at = np.arange(count), np.flatnonzero(told)
    between = np.interp(at, np.concatenate([known_at - count, known_at, known_at + count]), np.tile(value[known_at], 3))
    gaps = np.diff(np.concatenate([known_at, [known_at[0] + count]]))
    near = np.repeat(gaps, gaps) <= _GAP
    return np.where(told, value, np.where(np.roll(near, known_at[0]), between, 0.0))
