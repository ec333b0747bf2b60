"""The scene cut from the side: the upright plane through the camera's axis, in which its height, its angle and what it clears are seen.

Places in the section are (s, z), mm: s along the way the camera heads on the table, 0 under its aim; z above the table.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from ..model import Camera, Scene
from ..plane.hull import hull_of
from ..solids.body import Body
from .optics import DepthOfField
from .view import View

#: Rays are drawn so far where they meet no table, mm, and the lens's body is so long behind it.
_FAR_MM, BODY_MM = 4000.0, 120.0

#: Walked round so far that the cut runs along the backdrop (cosine), none is drawn.
_ALONG = 0.05

Point = tuple[float, float]


@dataclass(frozen=True)
class Section:
    """lens: of its principal point; eye: of its entrance pupil, from which the rays go; aim: places. heading: the way +s points on the table. table: s of its two edges along the cut. edges: the rays of the frame's
    upper and lower edge, each to where it meets the table or far out. near, far: ends of the lines that what is sharp lies between; far
    None for endless. backdrop: (s, height), None where there is none ahead. floor, ceiling: their z, ceiling None where it is not known.
    """

    lens: Point
    eye: Point
    aim: Point
    heading: Point
    table: Point
    edges: tuple[Point, Point]
    near: tuple[Point, Point]
    far: tuple[Point, Point] | None
    backdrop: tuple[float, float] | None
    floor: float
    ceiling: float | None
    things: tuple[tuple[str, tuple[Point, ...]], ...]


def section_of(scene: Scene, camera: Camera, view: View, sharp: DepthOfField, bodies: Mapping[str, Body]) -> Section:
    """The section through ``camera`` of the scene as it stands in its set-up; ``bodies``: what is in the picture."""
    a = np.radians(camera.azimuth)
    heading = np.array([-np.sin(a), np.cos(a)])
    aim = np.array(camera.aim, dtype=float)

    def flat(points: np.ndarray) -> np.ndarray:
        return np.column_stack([(points[:, :2] - aim[:2]) @ heading, points[:, 2]])

    lens, eye = flat(np.stack([view.principal_point, view.position]))
    rays = view.ray(0.5, 0.0), view.ray(0.5, 1.0)
    upper, lower = (_along(ray, heading) for ray in rays)

    def across(depth: float) -> tuple[Point, Point]:
        """What is as sharp as a depth of the axis, from the lower edge of what is seen to the upper."""
        high, low = (min(view.depth_along(ray, depth), _FAR_MM) for ray in rays)
        return _pair(eye + low * lower), _pair(eye + high * upper)

    return Section(
        _pair(lens),
        _pair(eye),
        (0.0, float(aim[2])),
        _pair(heading),
        _cut(scene, aim, heading),
        (_end(eye, upper), _end(eye, lower)),
        across(sharp.near),
        None if sharp.far is None or sharp.far > _FAR_MM else across(sharp.far),
        _backdrop(scene, aim, heading, lens[0]),
        -scene.surface.height_above_floor,
        None if scene.room is None or scene.room.ceiling_height is None else scene.room.ceiling_height - scene.surface.height_above_floor,
        tuple((i, _outline(flat(_corners(body)))) for i, body in bodies.items()),
    )


def _pair(values: np.ndarray) -> Point:
    return float(values[0]), float(values[1])


def _along(ray: np.ndarray, heading: np.ndarray) -> np.ndarray:
    """A ray, one mm of depth long, in the section."""
    return np.array([float(ray[:2] @ heading), float(ray[2])])


def _end(lens: np.ndarray, ray: np.ndarray) -> Point:
    """Where it meets the table's plane, or far out."""
    reach = -lens[1] / ray[1] if ray[1] < 0 and lens[1] > 0 else np.inf
    return _pair(lens + min(reach, _FAR_MM / float(np.hypot(*ray))) * ray)


def _cut(scene: Scene, aim: np.ndarray, heading: np.ndarray) -> Point:
    top = shapely.box(0.0, 0.0, scene.surface.width, scene.surface.depth)
    line = shapely.LineString([aim[:2] - 2e4 * heading, aim[:2] + 2e4 * heading])
    met = shapely.get_coordinates(shapely.intersection(line, top))
    if not len(met):
        return 0.0, 0.0
    s = (met - aim[:2]) @ heading
    return float(s.min()), float(s.max())


def _backdrop(scene: Scene, aim: np.ndarray, heading: np.ndarray, lens_s: float) -> tuple[float, float] | None:
    drop = scene.backdrop
    if drop is None or abs(heading[1]) < _ALONG:  # it stands along y: seen edge on it cuts the section nowhere
        return None
    s = float((drop.y - aim[1]) / heading[1])
    return (s, float(drop.height)) if s > lens_s else None


def _corners(body: Body) -> np.ndarray:
    if len(body.spheres):
        ways = np.array([[0, 0, 1], [0, 0, -1], [1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0]], dtype=float)
        return (body.spheres[:, None, :3] + body.spheres[:, None, 3:] * ways).reshape(-1, 3)  # type: ignore[no-any-return]
    return np.concatenate(body.parts)


def _outline(points: np.ndarray) -> tuple[Point, ...]:
    hull = hull_of(points)
    return tuple(_pair(p) for p in shapely.get_coordinates(hull))
