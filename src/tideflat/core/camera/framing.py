"""What the picture shows, kept while the camera becomes another: where the camera has to stand for it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from ..bounds import LEAST_SIZE_MM, MOST_PLACE_MM
from ..errors import FieldError
from ..model import Camera
from ..solids.body import Body
from .lens import distance_for, focused
from .view import View, view_of

#: Halvings of the way between the nearest and the furthest place: to a thousandth of a millimetre.
_HALVINGS = 48
#: The same to a millionth.
_FINE = 60


def magnification_at_aim(camera: Camera, view: View) -> float:
    """How much larger than itself what lies in the plane through the aim, square to the axis, is on the sensor."""
    return view.principal_distance / (camera.distance + view.lens.pupil_behind)


def carried(camera: Camera, du: float, dv: float) -> Camera:
    """Carried square to its axis so that what is (du, dv) of the frame off comes to where it should be, in the plane of the aim."""
    view = view_of(camera)
    per = 1 / magnification_at_aim(camera, view)
    x, y, z = (float(v) for v in np.array(camera.aim) + du * view.frame_width * per * view.right - dv * view.frame_height * per * view.up)
    return replace(camera, aim=(x, y, z))


def stretch(view: View, bodies: Iterable[Body]) -> float | None:
    """How much larger the nearest of some things is shown than the furthest, by their middles; None without two before the lens."""
    depths = np.array([(body.centroid - view.position) @ view.forward for body in bodies])
    depths = depths[depths > 0]
    return float(depths.max() / depths.min()) if len(depths) > 1 else None


def covered_mm(camera: Camera) -> tuple[float, float]:
    """Width and height (mm) that the frame covers in the plane through the aim, square to the axis. Raises OpticsError."""
    view = view_of(camera)
    scale = magnification_at_aim(camera, view)
    return view.frame_width / scale, view.frame_height / scale


def distance_keeping(before: Camera, after: Camera) -> float:
    """The distance, to a tenth of a millimetre, at which ``after`` shows all of what ``before`` shows at its aim, and no more than the
    other shape of its sensor makes it. Its own distance where no distance does."""
    wide, high = covered_mm(before)

    def shows_all(distance: float) -> bool:
        try:
            w, h = covered_mm(replace(after, distance=distance))
        except FieldError:  # so near that nothing can be in focus
            return False
        return w >= wide and h >= high

    low, far = LEAST_SIZE_MM, MOST_PLACE_MM
    if not shows_all(far):
        return after.distance
    for _ in range(_HALVINGS):
        middle = (low + far) / 2
        low, far = (low, middle) if shows_all(middle) else (middle, far)
    return round(far, 1)


def distance_covering(camera: Camera, covered_mm: float) -> float:
    """The distance (mm) at which the frame's long side covers ``covered_mm`` in the plane through the aim, square to the axis. Raises
    OpticsError."""
    lens, sensor = camera.lens, camera.sensor
    m = sensor.width / covered_mm
    if camera.focus is None and lens.extension == 0 and lens.tilt == 0:
        return distance_for(lens, sensor, m)
    behind_aim = 0.0 if camera.focus is None else _behind_aim(camera)

    def is_enough(distance: float) -> bool:
        try:
            at = focused(lens, sensor, distance + behind_aim)
        except FieldError:
            return False
        return at.principal_distance * covered_mm <= sensor.width * (distance + at.pupil_behind)

    near, far = 0.0, MOST_PLACE_MM
    for _ in range(_FINE):
        middle = (near + far) / 2
        near, far = (near, middle) if is_enough(middle) else (middle, far)
    focused(lens, sensor, far + behind_aim)  # raises where even the furthest place is none
    return far


def _behind_aim(camera: Camera) -> float:
    """How much further than the aim the plane of focus is, along the axis."""
    assert camera.focus is not None
    return float((np.array(camera.focus) - np.array(camera.aim)) @ view_of(replace(camera, focus=None)).forward)
