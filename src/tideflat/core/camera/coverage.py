"""What the frame sees: on the table, and of the backdrop."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..facts.optics import BACK_PLATE_BEHIND_SENSOR, BACK_PLATE_HEIGHT, BACK_PLATE_WIDTH
from ..model import Backdrop, Camera
from ..plane.clip import clip_half_plane
from ..tolerances import PARALLEL
from .crops import FULL_FRAME, Rect
from .view import View

#: Steps along each side of a window that a lens bends.
_BORDER_STEPS = 24
#: Beyond this (mm) a seen area counts as endless.
FAR_AWAY_MM = 1e6


@dataclass(frozen=True, slots=True)
class BackdropSeen:
    """Extent in x of what is seen of the backdrop's plane, and how far the backdrop falls short of it, mm."""

    seen: tuple[float, float] | None
    width_needed: float
    height_needed: float
    short_left: float
    short_right: float
    short_top: float
    slide: float


def corners_on_table(view: View, window: Rect = FULL_FRAME) -> tuple[tuple[float, float] | None, ...]:
    """Top left, top right, bottom right, bottom left of ``window`` on z = 0; None where the ray never meets it."""
    left, top, right, bottom = window
    return tuple(view.on_plane(u, v) for u, v in ((left, top), (right, top), (right, bottom), (left, bottom)))


def seen_on_plane(
    view: View, window: Rect, origin: np.ndarray, along: np.ndarray, across: np.ndarray, limits: tuple[float, float, float, float]
) -> np.ndarray:
    """(n, 2) polygon, in the coordinates of the plane ``origin + s along + t across``, of what ``window`` sees of it.

    ``limits`` (s0, t0, s1, t1) bounds the search. Each edge of the window is a plane through the lens, so a half-plane here; where the lens
    bends, the window's border is followed in steps instead, and where that passes the horizon the window's straight bounds are taken.
    """
    if view.distortion is not None:
        border = view.straightened(_border(window))
        window = (*border.min(axis=0).tolist(), *border.max(axis=0).tolist())
        followed = _border_on_plane(view, border, origin, along, across)
        if followed is not None:
            return _within(followed, limits)
    s0, t0, s1, t1 = limits
    polygon = np.array([[s0, t0], [s1, t0], [s1, t1], [s0, t1]], dtype=float)
    rows = view.matrix
    edges = (rows[0] - window[0] * rows[2], window[2] * rows[2] - rows[0], rows[1] - window[1] * rows[2], window[3] * rows[2] - rows[1])
    for edge in edges:
        weights = np.array([edge[:3] @ along, edge[:3] @ across])
        polygon = clip_half_plane(polygon, weights, float(edge[:3] @ origin + edge[3]))
    return polygon


def _border(window: Rect) -> np.ndarray:
    """(n, 2) places round a window, in steps."""
    left, top, right, bottom = window
    steps = np.linspace(0.0, 1.0, _BORDER_STEPS, endpoint=False)
    corners = np.array([[left, top], [right, top], [right, bottom], [left, bottom]])
    return np.concatenate([a + steps[:, None] * (b - a) for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True)])


def _border_on_plane(view: View, border: np.ndarray, origin: np.ndarray, along: np.ndarray, across: np.ndarray) -> np.ndarray | None:
    """(n, 2) where the rays through straightened places meet the plane; None unless all do, in front of the lens."""
    rays = view.straight_rays(border)
    normal = np.cross(along, across)
    toward = rays @ normal
    if (np.abs(toward) < PARALLEL).any():
        return None
    depth = float((origin - view.position) @ normal) / toward
    if (depth <= 0).any():
        return None
    met = view.position + depth[:, None] * rays - origin
    return np.stack([met @ along, met @ across], axis=1)


def _within(polygon: np.ndarray, limits: tuple[float, float, float, float]) -> np.ndarray:
    s0, t0, s1, t1 = limits
    for weights, offset in (((1, 0), -s0), ((-1, 0), s1), ((0, 1), -t0), ((0, -1), t1)):
        polygon = clip_half_plane(polygon, np.array(weights, dtype=float), float(offset))
    return polygon


def seen_on_table(view: View, window: Rect = FULL_FRAME, *, y_max: float | None = None) -> np.ndarray:
    """(n, 2) polygon of table-plane points the window sees, x and y in mm, up to ``y_max``; may reach FAR_AWAY_MM."""
    top = FAR_AWAY_MM if y_max is None else y_max
    return seen_on_plane(
        view, window, np.zeros(3), np.array([1.0, 0, 0]), np.array([0, 1.0, 0]), (-FAR_AWAY_MM, -FAR_AWAY_MM, FAR_AWAY_MM, top)
    )


def backdrop_seen(view: View, backdrop: Backdrop, window: Rect = FULL_FRAME) -> BackdropSeen:
    """The part of the plane y = backdrop.y, z >= 0, inside the window, against the backdrop that stands there.

    ``slide`` is the shortest move that leaves the least shortfall; where the backdrop is too narrow for any, the one that
    shares the shortfall evenly. ``seen`` is None when nothing, or something endless, is seen of the plane.
    """
    polygon = seen_on_plane(
        view,
        window,
        np.array([0.0, backdrop.y, 0.0]),
        np.array([1.0, 0, 0]),
        np.array([0, 0, 1.0]),
        (-FAR_AWAY_MM, 0.0, FAR_AWAY_MM, FAR_AWAY_MM),
    )
    if len(polygon) < 3 or np.abs(polygon).max() >= FAR_AWAY_MM * 0.999:
        return BackdropSeen(None, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    x0, x1 = float(polygon[:, 0].min()), float(polygon[:, 0].max())
    high = float(polygon[:, 1].max())
    left, right = backdrop.x - backdrop.width / 2, backdrop.x + backdrop.width / 2
    short_left, short_right = max(0.0, left - x0), max(0.0, x1 - right)
    if backdrop.width >= x1 - x0:
        slide = short_right - short_left  # one of them is nought
    else:
        slide = (x0 + x1) / 2 - backdrop.x
    if short_left == 0 and short_right == 0:
        slide = 0.0
    return BackdropSeen((x0, x1), x1 - x0, high, short_left, short_right, max(0.0, high - backdrop.height), slide)


def highest_point_mm(camera: Camera, view: View) -> float:
    """Height above the table's top of the camera's highest point: the pupil, or a corner of the body's back plate.

    The plate is turned with the body, so in portrait its long side stands upright in the frame.
    """
    centre = view.principal_point - view.forward * (view.lens.sensor_distance + BACK_PLATE_BEHIND_SENSOR.value)
    wide, high = BACK_PLATE_WIDTH.value / 2, BACK_PLATE_HEIGHT.value / 2
    if camera.orientation == "portrait":
        wide, high = high, wide
    rise = abs(view.right[2]) * wide + abs(view.up[2]) * high
    return float(max(view.position[2], centre[2] + rise))


def ceiling_clearance_mm(camera: Camera, view: View, height_above_floor_mm: float, ceiling_height_mm: float) -> float:
    """Free height above the camera's highest point; negative when it would be in the ceiling."""
    return ceiling_height_mm - height_above_floor_mm - highest_point_mm(camera, view)
