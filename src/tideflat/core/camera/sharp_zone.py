"""Where the table is sharp: the part of its plane between the near and far limits, leaned with a tilted lens."""

from __future__ import annotations

import numpy as np

from ..model import Surface
from ..plane.clip import clip_half_plane
from .optics import Sharpness
from .view import View


def sharp_on_surface(view: View, zone: Sharpness, surface: Surface) -> np.ndarray:
    """(n, 2) outline, mm, of what of the surface's top is sharp; empty where nothing is.

    ``near <= Z / (1 - q / J) <= far`` is linear in the place on the plane: two half-planes.
    """
    corners = np.array([[0.0, 0.0], [surface.width, 0.0], [surface.width, surface.depth], [0.0, surface.depth]])
    if zone.near is None:
        return np.empty((0, 2))
    for limit, sign in ((zone.near, 1.0), (zone.far, -1.0)):
        if limit is None:
            continue
        normal = view.forward.copy()
        if view.hinge is not None:
            normal = normal + limit / view.hinge.distance * view.hinge.toward
        offset = -float(normal @ view.principal_point) - limit
        corners = clip_half_plane(corners, sign * normal[:2], sign * offset)
        if len(corners) < 3:
            return np.empty((0, 2))
    return corners
