"""What should be upright or level through the lens, and is not: degrees."""

from __future__ import annotations

import math

import numpy as np

from ..solids.body import Body
from .view import View

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
