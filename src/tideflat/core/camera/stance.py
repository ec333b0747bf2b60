"""Where a camera may stand: clear of the surface it is over."""

from __future__ import annotations

from dataclasses import replace

from ..model import Camera, Surface
from .view import lens_position

#: The lens is kept this far above the surface when it stands over it, mm: half a body and a finger [practice].
LENS_CLEARANCE_MM = 60.0
#: A body reaches this far past its lens to each side, mm: half the back plate and a little.
BODY_REACH_MM = 80.0

#: Usual angles of the camera: its elevation in degrees.
PRESETS_DEG: dict[str, float] = {"overhead": 90.0, "high": 60.0, "diner": 45.0, "low": 25.0, "eye": 0.0}


def shortfall_over_surface_mm(camera: Camera, surface: Surface) -> float:
    """How much higher the lens would have to be to stand clear of the surface; 0 when it is clear or not over it."""
    x, y, z = lens_position(camera)
    over = -BODY_REACH_MM <= x <= surface.width + BODY_REACH_MM and -BODY_REACH_MM <= y <= surface.depth + BODY_REACH_MM
    return max(0.0, LENS_CLEARANCE_MM - float(z)) if over else 0.0


def above_surface(camera: Camera, surface: Surface) -> Camera:
    """The camera with its aim raised, where need be, so that the lens stands clear."""
    short = shortfall_over_surface_mm(camera, surface)
    if short == 0:
        return camera
    x, y, z = camera.aim
    return replace(camera, aim=(x, y, round(z + short, 1)))
