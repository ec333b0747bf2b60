"""The camera as a central projection: from the table to fractions of the frame, and back.

Conventions: docs/glossary.md, "Camera". Depth is the axial distance in front of the lens, mm.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..errors import OpticsError
from ..model import Camera
from ..tolerances import NEAR_DEPTH_MM, PARALLEL
from .optics import focal_length_mm, magnification


@dataclass(frozen=True, eq=False, slots=True)
class View:
    """position, right, up, forward: (3,) in table axes. principal_distance, frame_width, frame_height: mm."""

    position: np.ndarray
    right: np.ndarray
    up: np.ndarray
    forward: np.ndarray
    focal_length: float
    focus_distance: float
    magnification: float
    principal_distance: float
    frame_width: float
    frame_height: float

    @property
    def matrix(self) -> np.ndarray:
        """(3, 4): (x, y, z, 1) to (u depth, v depth, depth)."""
        rows = np.stack(
            [
                0.5 * self.forward + self.principal_distance / self.frame_width * self.right,
                0.5 * self.forward - self.principal_distance / self.frame_height * self.up,
                self.forward,
            ]
        )
        return np.column_stack([rows, -rows @ self.position])

    @property
    def aspect(self) -> float:
        return self.frame_width / self.frame_height

    def project(self, points: np.ndarray) -> np.ndarray:
        """(..., 3) points in mm to (..., 3) of u, v, depth. u and v mean nothing where depth is not positive."""
        shifted = np.asarray(points, dtype=float) - self.position
        depth = shifted @ self.forward
        safe = np.where(np.abs(depth) < PARALLEL, PARALLEL, depth)
        u = 0.5 + self.principal_distance / self.frame_width * (shifted @ self.right) / safe
        v = 0.5 - self.principal_distance / self.frame_height * (shifted @ self.up) / safe
        return np.stack([u, v, depth], axis=-1)

    def ray(self, u: float, v: float) -> np.ndarray:
        """Direction (3,) of the ray through a place in the frame, scaled to one mm of depth."""
        across = (u - 0.5) * self.frame_width / self.principal_distance
        down = (v - 0.5) * self.frame_height / self.principal_distance
        return self.forward + across * self.right - down * self.up

    def rays(self, places: np.ndarray) -> np.ndarray:
        """Directions (n, 3) of the rays through places (n, 2) in the frame, as ``ray`` gives one."""
        shifted = (places - 0.5) * (self.frame_width / self.principal_distance, self.frame_height / self.principal_distance)
        return self.forward + shifted[:, :1] * self.right - shifted[:, 1:] * self.up

    def on_plane(self, u: float, v: float, z_mm: float = 0.0) -> tuple[float, float] | None:
        """Where the ray meets the level plane at ``z_mm``, as (x, y); None when it never does in front of the lens."""
        ray = self.ray(u, v)
        if abs(ray[2]) < PARALLEL * float(np.linalg.norm(ray)):
            return None
        depth = (z_mm - self.position[2]) / ray[2]
        if depth <= 0:
            return None
        point = self.position + depth * ray
        return float(point[0]), float(point[1])

    def is_in_front(self, depths: np.ndarray) -> bool:
        return bool((depths > NEAR_DEPTH_MM).all())


def camera_position(camera: Camera) -> np.ndarray:
    """(3,): ``aim + distance (sin a cos e, -cos a cos e, sin e)``."""
    return np.array(camera.aim, dtype=float) - camera.distance * _forward(camera)


def _forward(camera: Camera) -> np.ndarray:
    a, e = np.radians([camera.azimuth, camera.elevation])
    return np.array([-np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), -np.sin(e)])


@lru_cache(maxsize=512)
def view_of(camera: Camera) -> View:
    """The projection of ``camera``; raises OpticsError when the plane of focus is not beyond the focal length."""
    a, e, r = np.radians([camera.azimuth, camera.elevation, camera.roll])
    forward = _forward(camera)
    right = np.array([np.cos(a), np.sin(a), 0.0])
    up = np.array([-np.sin(a) * np.sin(e), np.cos(a) * np.sin(e), np.cos(e)])
    position = camera_position(camera)
    f = focal_length_mm(camera.lens, camera.sensor)
    u = camera.distance if camera.focus is None else float((np.array(camera.focus) - position) @ forward)
    if u <= f:
        path = "distance" if camera.focus is None else "focus.point"
        raise OpticsError(path, f"must put the plane of focus further from the lens than its focal length of {f:.4g} mm", u)
    m = magnification(f, u)
    return View(
        position,
        np.cos(r) * right - np.sin(r) * up,
        np.cos(r) * up + np.sin(r) * right,
        forward,
        f,
        u,
        m,
        f * (1 + m),
        camera.frame_width_mm,
        camera.frame_height_mm,
    )
