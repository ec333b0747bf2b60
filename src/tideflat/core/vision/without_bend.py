"""What was told of a thing as if the lens did not bend, as it is: its size and its place beside the sheet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import shapely
from shapely.affinity import affine_transform
from shapely.geometry.base import BaseGeometry

from .rectified import at_height, through
from .sheet import FoundSheet
from .solid_edges import SolidSeen

#: Round solids stay so: the lens is asked for the places of a thing's middle and so far from that, mm.
_ASIDE_MM = 10.0
#: Kinds that are as wide as deep, and those whose turn is told.
_ROUND, _TURN = ("disc", "taper", "ball"), 4


def without_bend(found: FoundSheet, foot: BaseGeometry, solid: SolidSeen | None, rim_mm: float) -> tuple[BaseGeometry, SolidSeen | None]:
    """(the foot, mm; the solid with its own sizes) of what was told so high, by where its rim is seen: an outline place by place, a plain
    solid as large as the lens shows it in its place, so that what is round stays round and what is square stays square."""
    if found.lens is None:
        return foot, solid
    if solid is None:
        return shapely.transform(foot, lambda places: settled(found, places, rim_mm)), None
    turn = float(solid.values[_TURN]) if len(solid.values) > _TURN else 0.0
    own = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    middle = np.array([foot.centroid.x, foot.centroid.y])
    there, slopes = _about(middle, own, lambda places: settled(found, places, rim_mm))
    larger, way = np.linalg.norm(slopes, axis=0), slopes[:, 0] / np.linalg.norm(slopes[:, 0])
    if solid.kind in _ROUND:
        larger[:] = np.sqrt(larger.prod())
    laid = np.column_stack([way, [-way[1], way[0]]]) @ np.diag(larger) @ own
    off = there - laid @ middle
    values = solid.values.copy()
    values[:2] = laid @ values[:2] + off
    sizes = values[2 : 2 + (1 if solid.kind in ("disc", "ball") else 2)]
    sizes *= larger[: len(sizes)]
    if len(values) > _TURN:
        values[_TURN] = np.arctan2(way[1], way[0])
    return affine_transform(foot, [*laid.ravel(), *off]), replace(solid, values=values)


def settled(found: FoundSheet, mm: np.ndarray, rim_mm: float) -> np.ndarray:
    """Places (n, 2), mm, so high, that were told as if the lens did not bend, as they are."""
    if found.lens is None:
        return mm
    return found.lens.on_table(through(at_height(found.pose, rim_mm), mm), rim_mm)


def seen_from(found: FoundSheet, middle: np.ndarray, rim_mm: float) -> np.ndarray:
    """(3, 3) from places about ``middle`` (2,), mm, so high, as they are, to homogeneous pixels: the best that a plane does for them."""
    if found.lens is None:
        return at_height(found.pose, rim_mm)
    lens, to_pixels = found.lens, at_height(found.pose, rim_mm)
    there, slopes = _about(middle, np.eye(2), lambda places: through(np.linalg.inv(to_pixels), lens.in_picture(places, rim_mm)))
    moved = np.eye(3)
    moved[:2, :2], moved[:2, 2] = slopes, there - slopes @ middle
    return np.asarray(to_pixels @ moved)


def bent_by(found: FoundSheet, foot: BaseGeometry, rim_mm: float) -> float:
    """By which share, at the most, a side of what has that foot is told otherwise than as if the lens did not bend."""
    if found.lens is None:
        return 0.0
    middle = np.array([foot.centroid.x, foot.centroid.y])
    _, slopes = _about(middle, np.eye(2), lambda places: settled(found, places, rim_mm))
    return float(np.abs(np.linalg.svd(slopes, compute_uv=False) - 1).max())


def _about(middle: np.ndarray, ways: np.ndarray, moved: Callable[[np.ndarray], np.ndarray]) -> tuple[np.ndarray, np.ndarray]:
    """(where the middle (2,) goes; (2, 2) where a step of 1 along each of two ways (2, 2), its rows, goes, in columns)."""
    there, *ends = moved(np.vstack([middle, middle + _ASIDE_MM * ways, middle - _ASIDE_MM * ways]))
    return there, np.column_stack([ends[0] - ends[2], ends[1] - ends[3]]) / (2 * _ASIDE_MM)


def in_picture(found: FoundSheet, mm: np.ndarray, rim_mm: float) -> np.ndarray:
    """Pixels (n, 2) of places (n, 2), mm, so high, as they are."""
    return through(at_height(found.pose, rim_mm), mm) if found.lens is None else found.lens.in_picture(mm, rim_mm)
