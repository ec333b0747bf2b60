"""What holds the camera: whether it brings the lens to its place, where it then stands, and whether the lens sees it.

Column and legs stand on the floor, beside the surface; so the lens hangs over the surface by as much as its nearest free edge is away. No
published source: how such things stand is common practice.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..model import Backdrop, Camera, Scene, Support, Surface
from ..tolerances import PARALLEL, ROUNDING
from .view import View

#: Looking down by more than this, degrees, the camera hangs over the table: a support must be able to look straight down.
OVERHEAD_DEG = 70.0
#: A column's middle stands so far beside the surface, and it is so thick, mm.
BESIDE_MM, COLUMN_MM = 60.0, 50.0
#: The feet of three legs are so far out for each mm of height; the legs meet so far under the lens, mm; they are so thick.
LEGS_OUT, LEGS_UNDER_MM, LEG_MM = 0.4, 120.0, 28.0
#: Places looked at along a leg or a column.
_ALONG = 48


@dataclass(frozen=True, slots=True)
class Short:
    """In what a support falls short: ``high`` or ``low`` (mm it does not rise or sink), ``reach`` (mm it does not reach over the surface),
    ``inverts`` (it cannot look straight down)."""

    way: str
    mm: float = 0.0


def edges_out(at: tuple[float, float], surface: Surface, backdrop: Backdrop | None) -> dict[str, tuple[float, tuple[float, float]]]:
    """From a place over the surface: by side, how far (mm) its edge is and the way out; none from a place beside it. Where a backdrop
    stands at the back, nothing else does."""
    x, y = at
    if not (0 < x < surface.width and 0 < y < surface.depth):
        return {}
    found = {"left": (x, (-1.0, 0.0)), "right": (surface.width - x, (1.0, 0.0)), "front": (y, (0.0, -1.0))}
    if backdrop is None:
        found["back"] = (surface.depth - y, (0.0, 1.0))
    return found


def short_of(support: Support, scene: Scene, camera: Camera, view: View) -> Short | None:
    """Why the support does not bring the camera there; None where it does."""
    floor = float(view.position[2]) + scene.surface.height_above_floor
    if floor > support.highest:
        return Short("high", floor - support.highest)
    if floor < support.lowest:
        return Short("low", support.lowest - floor)
    if camera.elevation > OVERHEAD_DEG and not support.inverts:
        return Short("inverts")
    if support.reach is None or support.kind == "stand":
        return None
    out = edges_out((float(view.position[0]), float(view.position[1])), scene.surface, scene.backdrop)
    needed = min((d for d, _ in out.values()), default=-BESIDE_MM) + BESIDE_MM
    return Short("reach", needed - support.reach) if needed > support.reach + ROUNDING else None


def seen_of(support: Support, scene: Scene, view: View) -> float:
    """How far into the frame the support reaches at least, as a share of its shorter side, wherever it may stand; 0 where one place is out
    of the picture."""
    if support.kind == "stand":
        return 0.0
    return min((_seen(scene, view, lines) for lines in _stances(support, scene, view)), default=0.0)


def _stances(support: Support, scene: Scene, view: View) -> Iterator[list[tuple[np.ndarray, np.ndarray, float]]]:
    """Where it may stand, as lines (from, to, thickness) that the lens could see."""
    x, y, z = (float(v) for v in view.position)
    floor = -scene.surface.height_above_floor
    out = edges_out((x, y), scene.surface, scene.backdrop)
    feet = [(x, y)] if not out else [
        (x + way[0] * (d + BESIDE_MM), y + way[1] * (d + BESIDE_MM))
        for d, way in out.values()
        if support.reach is None or d + BESIDE_MM <= support.reach
    ]  # fmt: skip
    if not out and support.kind == "column":  # the lens is off the surface: the column stands behind it
        back = view.forward[:2] / max(PARALLEL, float(np.linalg.norm(view.forward[:2])))
        feet = [(x - float(back[0]) * BESIDE_MM, y - float(back[1]) * BESIDE_MM)]
    for fx, fy in feet:
        if support.kind == "column":
            yield [(np.array([fx, fy, floor]), np.array([fx, fy, z]), COLUMN_MM)]
            continue
        apex = np.array([fx, fy, max(z - LEGS_UNDER_MM, floor)])
        ahead = np.arctan2(view.forward[1], view.forward[0])
        radius = LEGS_OUT * (apex[2] - floor)
        ways = [ahead + np.pi, ahead + np.pi / 3, ahead - np.pi / 3]
        yield [(np.array([fx + radius * np.cos(w), fy + radius * np.sin(w), floor]), apex, LEG_MM) for w in ways]


def _seen(scene: Scene, view: View, lines: list[tuple[np.ndarray, np.ndarray, float]]) -> float:
    share = np.linspace(0, 1, _ALONG)[:, None]
    deepest = 0.0
    for start, end, thick in lines:
        points = start + share * (end - start)
        depth = (points - view.position) @ view.forward
        points = points[depth > thick]
        points = points[~_is_behind(scene, view, points)]
        if not len(points):
            continue
        places = view.project(points)
        short = min(view.frame_width, view.frame_height)
        u, v = places[:, 0] * view.frame_width / short, places[:, 1] * view.frame_height / short
        half = thick / 2 * view.principal_distance / places[:, 2] / short
        inside = np.minimum.reduce([u, view.frame_width / short - u, v, view.frame_height / short - v])
        deepest = max(deepest, float((inside + half).max()))
    return deepest


def _is_behind(scene: Scene, view: View, points: np.ndarray) -> np.ndarray:
    """(n,) whether the surface, or the backdrop, stands between the lens and points (n, 3)."""
    rays = points - view.position
    hidden = np.zeros(len(points), dtype=bool)
    surface, drop = scene.surface, scene.backdrop
    with np.errstate(divide="ignore", invalid="ignore"):
        at = -view.position[2] / rays[:, 2]
        met = view.position + at[:, None] * rays
        hidden |= (at > 0) & (at < 1) & (met[:, 0] > 0) & (met[:, 0] < surface.width) & (met[:, 1] > 0) & (met[:, 1] < surface.depth)
        if drop is not None:
            at = (drop.y - view.position[1]) / rays[:, 1]
            met = view.position + at[:, None] * rays
            is_there = (np.abs(met[:, 0] - drop.x) < drop.width / 2) & (met[:, 2] > 0) & (met[:, 2] < drop.height)
            hidden |= (at > 0) & (at < 1) & is_there
    return hidden
