"""What should be upright or level through the lens, and is not: degrees."""

from __future__ import annotations

import math

import numpy as np

from ..model import Scene
from ..plane.clip import clip_half_plane
from ..plane.hull import hull_of
from ..solids.body import Body
from ..tolerances import CONTACT_MM, PARALLEL
from .view import View

Line = tuple[tuple[float, float], tuple[float, float]]

#: A thing must be so much higher than wide to have uprights that the eye follows [practice].
_TALL = 0.7


def lean_in_frame_deg(body: Body, view: View) -> float | None:
    """How far (degrees, positive clockwise) the axis of a thing that stands upright leans in the frame; None for what lies, leans on
    purpose, is not tall, or is not before the lens."""
    low, high = body.z_min, body.z_max
    width, depth, height = body.shape.sides()
    if body.placement.lean or body.shape.is_soft or height < _TALL * min(width, depth):
        return None
    x, y = body.base[:2]
    return _off_upright(view, np.array([[x, y, low], [x, y, high]]))


def _off_upright(view: View, ends: np.ndarray) -> float | None:
    foot, top = view.project(ends)
    if not view.is_in_front(np.array([foot[2], top[2]])):
        return None
    across, down = (top[0] - foot[0]) * view.frame_width, (foot[1] - top[1]) * view.frame_height
    return math.degrees(math.atan2(across, down)) if math.hypot(across, down) > 0 else None


def off_level_in_frame_deg(view: View, start: np.ndarray, end: np.ndarray) -> float | None:
    """How far (degrees, positive clockwise) a level line of the scene, from ``start`` to ``end`` (3,), is off level in the frame; None
    where it is not before the lens."""
    a, b = view.project(np.stack([start, end]))
    if not view.is_in_front(np.array([a[2], b[2]])):
        return None
    across, down = (b[0] - a[0]) * view.frame_width, (b[1] - a[1]) * view.frame_height
    return math.degrees(math.atan2(down, across))


def level_lines_deg(view: View, scene: Scene) -> dict[str, float | None]:
    """How far off level (degrees, positive clockwise) the table's front and back edges run in the frame, and the foot of the backdrop."""
    wide, deep = scene.surface.width, scene.surface.depth
    lines = {"front": ((0.0, 0.0), (wide, 0.0)), "back": ((0.0, deep), (wide, deep))}
    if scene.backdrop is not None:
        half, x, y = scene.backdrop.width / 2, scene.backdrop.x, scene.backdrop.y
        lines["backdrop"] = ((x - half, y), (x + half, y))
    found = {name: off_level_in_frame_deg(view, *(np.array([*end, 0.0]) for end in ends)) for name, ends in lines.items()}
    # A line has no direction: seen from behind the table it is as level as from before it.
    return {name: None if off is None else (off + 90) % 180 - 90 for name, off in found.items()}


def edge_line(body: Body, view: View) -> Line | None:
    """The longest straight edge of a thing's foot as a line across the whole frame, (u, v) to (u, v); None for what is round, soft, or not
    before the lens."""
    if body.shape.form != "straight" or body.shape.is_soft or not body.parts:
        return None
    points = np.concatenate(body.parts)
    foot = points[points[:, 2] < points[:, 2].min() + CONTACT_MM]
    if len(foot) < 2:
        return None
    corners = np.array(hull_of(foot[:, :2]).boundary.coords) if len(foot) > 2 else foot[:, :2]
    lengths = np.hypot(*np.diff(corners, axis=0).T)
    k = int(lengths.argmax())
    ends = np.column_stack([corners[k : k + 2], np.full(2, foot[0, 2])])
    seen = view.project(ends)
    return across_frame(seen[0, :2], seen[1, :2]) if view.is_in_front(seen[:, 2]) else None


def across_frame(a: np.ndarray, b: np.ndarray) -> Line | None:
    """The line through two places of the frame, from border to border; None where it misses the frame, or both are one."""
    way = np.asarray(b, dtype=float) - a
    if float(np.hypot(*way)) < PARALLEL:
        return None
    normal = np.array([-way[1], way[0]])
    square = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    cut = clip_half_plane(square, normal, -float(normal @ a))
    met = [p for p in cut if abs(float(normal @ (p - a))) < PARALLEL * max(1.0, float(np.hypot(*normal)))]
    if len(met) < 2:
        return None
    first, last = min(met, key=lambda p: float(way @ p)), max(met, key=lambda p: float(way @ p))
    if float(np.hypot(*(last - first))) < PARALLEL:
        return None
    (u0, v0), (u1, v1) = np.clip(first, 0, 1).tolist(), np.clip(last, 0, 1).tolist()
    return (u0, v0), (u1, v1)


def plumb_and_level(view: View, aim: tuple[float, float, float]) -> tuple[Line, ...]:
    """Where a plumb line and a level line through the aim run in the frame; none where the camera looks straight down."""
    middle = np.array(aim, dtype=float)
    across = np.array([view.forward[1], -view.forward[0], 0.0])
    if float(np.hypot(*across[:2])) < PARALLEL:
        across = view.right
    found = []
    for way in (np.array([0.0, 0.0, 1.0]), across):
        seen = view.project(np.stack([middle - way, middle + way]))
        line = across_frame(seen[0, :2], seen[1, :2]) if view.is_in_front(seen[:, 2]) else None
        if line is not None:
            found.append(line)
    return tuple(found)
