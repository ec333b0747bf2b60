"""Whether the camera can stand and focus there at all."""

from __future__ import annotations

from collections.abc import Iterator

from ..camera.optics import focus_reach_mm
from ..evaluate import Picture
from ..facts.practice import CEILING_CLEARANCE
from ..tolerances import REACH_MM
from .finding import Finding


def find_ceiling(picture: Picture) -> Iterator[Finding]:
    clear = picture.ceiling_clearance
    if clear is None or clear >= CEILING_CLEARANCE.value:
        return
    if clear < 0:
        words = f"the camera would be {-clear:.0f} mm in the ceiling"
    else:
        words = f"only {clear:.0f} mm are left between camera and ceiling"
    yield Finding(
        "rig.ceiling",
        "stop" if clear < 0 else "mend",
        (),
        round(clear, 1),
        CEILING_CLEARANCE.value,
        "mm",
        f"{words}; clamp and arm want {CEILING_CLEARANCE.value:g} mm",
    )


def find_focus_reach(picture: Picture) -> Iterator[Finding]:
    camera, u = picture.setup.camera, picture.view.focus_distance
    nearest, furthest = focus_reach_mm(camera.lens, camera.sensor)
    if u < nearest - REACH_MM:
        yield Finding(
            "lens.min_focus",
            "stop",
            (),
            round(u, 1),
            round(nearest, 1),
            "mm",
            f"the plane of focus is {u:.0f} mm from the lens; it comes no nearer than {nearest:.0f} mm",
        )
    elif furthest is not None and u > furthest + REACH_MM:
        yield Finding(
            "lens.too_far",
            "stop",
            (),
            round(u, 1),
            round(furthest, 1),
            "mm",
            f"with {camera.lens.extension:g} mm of extension nothing beyond {furthest:.0f} mm comes sharp; the plane of focus is at {u:.0f} mm",
        )
