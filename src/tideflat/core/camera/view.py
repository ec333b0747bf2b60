"""The camera as a central projection: from the table to fractions of the frame, and back.

Conventions: docs/glossary.md, "Camera". Depth is the axial distance in front of the lens, mm.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..bounds import MOST_PLACE_MM
from ..errors import OpticsError
from ..model import Camera
from ..remember import counted
from ..tolerances import BENT_STEP, FOLDED, NEAR_DEPTH_MM, PARALLEL
from .distortion import Distortion, distortion_of
from .lens import Focused, centre_in_frame, focused

#: No outline is bent in more steps.
_MOST_STEPS = 4000


@dataclass(frozen=True, eq=False, slots=True)
class Hinge:
    """The line beside a tilted lens through which every plane passes that it may hold sharp. toward: (3,), unit, square to the axis, from
    the principal point to the line; distance: ``f / sin(tilt)``, mm."""

    toward: np.ndarray
    distance: float


@dataclass(frozen=True, eq=False, slots=True)
class View:
    """position: (3,) of the entrance pupil, through which all is seen; right, up, forward: (3,) in table axes. lens: as it is focused.
    frame_width, frame_height: mm. hinge: how what is sharp leans, None where it stands square to the axis.

    centre: where the lens's axis meets the frame, in fractions of it. distortion: how the lens bends; None when straight lines stay so.
    """

    is_remembered: ClassVar[bool] = True
    position: np.ndarray
    right: np.ndarray
    up: np.ndarray
    forward: np.ndarray
    lens: Focused
    frame_width: float
    frame_height: float
    centre: tuple[float, float] = (0.5, 0.5)
    distortion: Distortion | None = None
    hinge: Hinge | None = None

    @property
    def principal_distance(self) -> float:
        """From the entrance pupil to the sensor, mm."""
        return self.lens.principal_distance

    @property
    def principal_point(self) -> np.ndarray:
        """(3,) where the lens's distances are told from."""
        return self.position + self.lens.pupil_behind * self.forward

    def sharp_depths(self, points: np.ndarray) -> np.ndarray:
        """(...) how far (mm) before the principal point, along the axis, points (..., 3) lie for what is sharp; for a tilted lens where the
        plane through the hinge and the point cuts the axis. What lies past the hinge, where that is endless, is as far as may be."""
        from_lens = np.asarray(points, dtype=float) - self.principal_point
        depths = from_lens @ self.forward
        if self.hinge is None:
            return depths  # type: ignore[no-any-return]
        lowered = 1 - from_lens @ self.hinge.toward / self.hinge.distance
        cut = depths / np.maximum(lowered, PARALLEL)
        return np.where(lowered > PARALLEL, np.minimum(cut, MOST_PLACE_MM), MOST_PLACE_MM)  # type: ignore[no-any-return]

    @property
    def scale(self) -> tuple[float, float]:
        """Fractions of the frame's width and height to one focal distance off the axis."""
        return self.principal_distance / self.frame_width, self.principal_distance / self.frame_height

    @property
    def matrix(self) -> np.ndarray:
        """(3, 4): (x, y, z, 1) to (u depth, v depth, depth), as a pinhole sees it: what the lens bends is bent after."""
        across, down = self.scale
        rows = np.stack([self.centre[0] * self.forward + across * self.right, self.centre[1] * self.forward - down * self.up, self.forward])
        return np.column_stack([rows, -rows @ self.position])

    @property
    def aspect(self) -> float:
        return self.frame_width / self.frame_height

    def depth_along(self, ray: np.ndarray, sharp_depth_mm: float) -> float:
        """How far (mm of depth, from the pupil) a ray of ``ray`` goes to where it is as sharp as ``sharp_depth_mm`` before the principal
        point on the axis; endless where it never is."""
        depth = sharp_depth_mm + self.lens.pupil_behind
        if self.hinge is None:
            return depth
        slope = 1 + sharp_depth_mm * float(ray @ self.hinge.toward) / self.hinge.distance
        return depth / slope if slope > PARALLEL else np.inf

    def project(self, points: np.ndarray) -> np.ndarray:
        """(..., 3) points in mm to (..., 3) of u, v, depth. u and v mean nothing where depth is not positive."""
        straight = self.straight(points)
        if self.distortion is not None:
            straight[..., :2] = self.bent(straight[..., :2])
        return straight

    def straight(self, points: np.ndarray) -> np.ndarray:
        """The same as a pinhole sees it: straight lines stay straight, so that hulls and clips may be made before ``bent``."""
        shifted = np.asarray(points, dtype=float) - self.position
        depth = shifted @ self.forward
        safe = np.where(np.abs(depth) < PARALLEL, PARALLEL, depth)
        across, down = self.scale
        u = self.centre[0] + across * (shifted @ self.right) / safe
        v = self.centre[1] - down * (shifted @ self.up) / safe
        return np.stack([u, v, depth], axis=-1)

    def bent(self, places: np.ndarray) -> np.ndarray:
        """(..., 2) where the lens puts what a pinhole sees at ``places`` (..., 2), both in fractions of the frame."""
        if self.distortion is None:
            return places
        return self.distortion.bent((places - self.centre) / self.scale) * self.scale + self.centre

    def straightened(self, places: np.ndarray) -> np.ndarray:
        """The way back."""
        if self.distortion is None:
            return places
        return self.distortion.straightened((places - self.centre) / self.scale) * self.scale + self.centre

    def bent_outline(self, outline: BaseGeometry) -> BaseGeometry:
        """An outline that was made of straight edges, as the lens bends it; the edges in steps of BENT_STEP of the frame."""
        if self.distortion is None:
            return outline
        step = max(BENT_STEP, outline.length / _MOST_STEPS)  # what lies far outside the frame may be coarser
        bent = shapely.transform(shapely.segmentize(outline, step), self.bent)
        return bent if bent.is_valid else shapely.make_valid(bent)

    def ray(self, u: float, v: float) -> np.ndarray:
        """Direction (3,) of the ray through a place in the frame, scaled to one mm of depth."""
        across, down = (self.straightened(np.array([u, v])) - self.centre) / self.scale
        return self.forward + across * self.right - down * self.up

    def rays(self, places: np.ndarray) -> np.ndarray:
        """Directions (n, 3) of the rays through places (n, 2) in the frame, as ``ray`` gives one."""
        return self.straight_rays(self.straightened(places))

    def straight_rays(self, places: np.ndarray) -> np.ndarray:
        """The same for places as a pinhole sees them."""
        shifted = (places - self.centre) / self.scale
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


def lens_position(camera: Camera) -> np.ndarray:
    """(3,) of the principal point: ``aim + distance (sin a cos e, -cos a cos e, sin e)``."""
    return np.array(camera.aim, dtype=float) - camera.distance * _forward(camera)


def _forward(camera: Camera) -> np.ndarray:
    a, e = np.radians([camera.azimuth, camera.elevation])
    return np.array([-np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), -np.sin(e)])


@counted(512)
def view_of(camera: Camera) -> View:
    """The projection of ``camera``; raises OpticsError when the plane of focus is not beyond the focal length,
    or the aim not before the pupil."""
    a, e, r = np.radians([camera.azimuth, camera.elevation, camera.roll])
    forward = _forward(camera)
    right = np.array([np.cos(a), np.sin(a), 0.0])
    up = np.array([-np.sin(a) * np.sin(e), np.cos(a) * np.sin(e), np.cos(e)])
    position = lens_position(camera)
    lens = _lens_at(camera, position, forward)
    if camera.distance + lens.pupil_behind <= 0:
        raise OpticsError("distance", f"must be more than {-lens.pupil_behind:.4g} mm, so that the aim lies before the lens's pupil", camera.distance)
    rolled = np.cos(r) * right - np.sin(r) * up, np.cos(r) * up + np.sin(r) * right
    view = View(
        position if lens.pupil_ratio == 1 else position - lens.pupil_behind * forward,
        *rolled,
        forward,
        lens,
        camera.frame_width_mm,
        camera.frame_height_mm,
        centre_in_frame(camera.lens, camera.frame_width_mm, camera.frame_height_mm),
        distortion_of(camera.lens.distortion),
        _hinge_of(camera, lens, *rolled),
    )
    _refuse_folded(view)
    return view


def _lens_at(camera: Camera, position: np.ndarray, forward: np.ndarray) -> Focused:
    u = camera.distance if camera.focus is None else float((np.array(camera.focus) - position) @ forward)
    try:
        return focused(camera.lens, camera.sensor, u)
    except OpticsError as error:
        if error.path != "distance":
            raise error.at("lens") from None
        path = "distance" if camera.focus is None else "focus.point"
        raise OpticsError(path, f"must put the plane of focus further from the lens: it {error.rule}", u) from None


def _hinge_of(camera: Camera, lens: Focused, right: np.ndarray, up: np.ndarray) -> Hinge | None:
    if camera.lens.tilt == 0:
        return None
    way = np.radians(camera.lens.tilt_toward)
    return Hinge(np.cos(way) * right + np.sin(way) * up, lens.focal_length / float(np.sin(np.radians(camera.lens.tilt))))


def _refuse_folded(view: View) -> None:
    if view.distortion is None:
        return
    corners = (np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]]) - view.centre) / view.scale
    straight = view.distortion.straightened(corners)
    back = np.abs(view.distortion.bent(straight) - corners).max()
    if back > FOLDED or np.linalg.norm(straight, axis=1).max() >= view.distortion.reach:
        raise OpticsError("lens.distortion", "must not fold the picture over itself inside the frame", list(view.distortion.terms))
