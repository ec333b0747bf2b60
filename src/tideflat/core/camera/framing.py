"""What the picture shows, kept while the camera becomes another: where the camera has to stand for it."""

from __future__ import annotations

from dataclasses import replace

from ..bounds import LEAST_SIZE_MM, MOST_PLACE_MM
from ..errors import FieldError
from ..model import Camera
from .view import view_of

#: Halvings of the way between the nearest and the furthest place: to a thousandth of a millimetre.
_HALVINGS = 48


def covered_mm(camera: Camera) -> tuple[float, float]:
    """Width and height (mm) that the frame covers in the plane through the aim, square to the axis. Raises OpticsError."""
    view = view_of(camera)
    per_mm = camera.distance / view.principal_distance
    return view.frame_width * per_mm, view.frame_height * per_mm


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
