"""Where a variant of another size has to stand so that the frame shows it on the same middle, top line or foot line."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..camera.silhouette import silhouette_of
from ..camera.view import View
from ..errors import FieldError
from ..evaluate import Picture
from ..model import Placement, Prop
from ..solids.body import pose
from ..tolerances import REGISTERED_MM

#: What of it stays: the middle of its foot on the table; in the frame the middle of its outline, its upper or its lower edge.
KEEPS = ("base", "centre", "top_line", "base_line")
#: Looking down by less than this (sine of the elevation) a thing is carried higher or lower for it, else further off or nearer.
_NEARLY_LEVEL = 0.17
_STEPS = 40

Box = tuple[float, float, float, float]


def registered(picture: Picture, placement: Placement, prop: Prop, keep: str) -> tuple[float, float, float]:
    """(x, y, z) of the placement with another prop, so that what is kept of the present outline stays within REGISTERED_MM.

    Raises FieldError for a thing that is not before the lens, and where the new one would have to sink into what is under it.
    """
    view, old = picture.view, picture.things[placement.id].box if placement.id in picture.things else None
    if old is None:
        raise FieldError("keep", "must be base for a thing that is not in the picture, before the lens", keep)
    across = np.array([view.right[0], view.right[1], 0.0]) / max(float(np.hypot(view.right[0], view.right[1])), _NEARLY_LEVEL)
    is_level = abs(float(view.forward[2])) < _NEARLY_LEVEL
    onward = np.array([0.0, 0.0, 1.0]) if is_level else np.array([-across[1], across[0], 0.0])
    marks = _MARKS[keep]
    place = np.array([placement.x, placement.y, placement.z])
    for _ in range(_STEPS):
        off = marks(old) - marks(_box(view, placement, prop, place))
        per = _per_mm(view, placement, prop, place, marks, across, onward)
        steps, *_rest = np.linalg.lstsq(per, off, rcond=None)
        step = steps[0] * across + steps[1] * onward
        place = place + step
        if float(np.abs(steps).max()) < REGISTERED_MM / 10:
            break
    x, y, z = (round(float(v), 3) for v in place)
    if z < placement.z - REGISTERED_MM:
        raise FieldError(
            "keep", f"must be base: it is taller, and would have to stand {placement.z - z:.0f} mm lower than what it stands on", keep
        )
    return x, y, z


def _box(view: View, placement: Placement, prop: Prop, place: np.ndarray) -> Box:
    x, y, z = (float(v) for v in place)
    seen = silhouette_of(pose(replace(placement, x=x, y=y, z=max(z, 0.0)), prop.shape), view)
    if seen is None:
        raise FieldError("keep", "must leave the thing in front of the lens", show_got=False)
    u0, v0, u1, v1 = seen.box
    return u0, v0 + _sunk(view, min(z, 0.0)), u1, v1 + _sunk(view, min(z, 0.0))


def _sunk(view: View, z: float) -> float:
    """How much lower (fraction of the frame) a place under the table would be shown, near enough to find out that it cannot be."""
    return -z * view.lens.magnification * float(view.up[2]) / view.frame_height


def _per_mm(
    view: View,
    placement: Placement,
    prop: Prop,
    place: np.ndarray,
    marks: Callable[[Box], np.ndarray],
    across: np.ndarray,
    onward: np.ndarray,
) -> np.ndarray:
    """(2, 2) what a millimetre across and a millimetre onward move of what is kept, half a millimetre either way."""
    columns = [
        marks(_box(view, placement, prop, place + way / 2)) - marks(_box(view, placement, prop, place - way / 2))
        for way in (across, onward)
    ]
    return np.stack(columns, axis=1)


_MARKS: dict[str, Callable[[Box], np.ndarray]] = {
    "centre": lambda b: np.array([(b[0] + b[2]) / 2, (b[1] + b[3]) / 2]),
    "top_line": lambda b: np.array([(b[0] + b[2]) / 2, b[1]]),
    "base_line": lambda b: np.array([(b[0] + b[2]) / 2, b[3]]),
}
