"""Whether the camera can stand and focus there at all."""

from __future__ import annotations

from collections.abc import Iterator

from ..camera.lens import circle_needed_mm, focus_reach_mm
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import CEILING_CLEARANCE
from ..tolerances import REACH_MM
from .finding import Finding
from .kind import Kind, Rule

CEILING = Kind(
    code="rig.ceiling", rank=100, severity="stop", severities="mend; stop when negative", unit="mm",
    measure="mm above the camera's highest point", limit=CEILING_CLEARANCE,
    gives="a shorter lens or a lower table would have to give", makers=("come lower",),
)  # fmt: skip
MIN_FOCUS = Kind(
    code="lens.min_focus", rank=110, severity="stop", unit="mm", measure="u of the plane of focus, mm",
    limit=Fact(0, "mm", "optics"), limit_words="the nearest the lens reaches with its extension",
    gives="a lens that focuses nearer, or extension, would have to give", makers=("into the reach of focus",),
)  # fmt: skip
TOO_FAR = Kind(
    code="lens.too_far", rank=120, severity="stop", unit="mm", measure="u of the plane of focus, mm",
    limit=Fact(0, "mm", "optics"), limit_words="the furthest the lens reaches with its extension",
    gives="less extension would have to give", makers=("into the reach of focus",),
)  # fmt: skip


CIRCLE = Kind(
    code="lens.circle", rank=115, severity="stop", unit="mm", measure="mm across that the lens covers", limit=Fact(0, "mm", "geometry"),
    limit_words="the sensor's diagonal, and twice what the lens is shifted",
    gives="a lens made for this sensor, or a smaller sensor, would have to give", makers=("a lens that covers",),
    retouch_minutes=15,
)  # fmt: skip


def find_circle(picture: Picture) -> Iterator[Finding]:
    """The lens does not cover the sensor: its corners stay dark."""
    camera = picture.setup.camera
    circle = camera.lens.image_circle
    if circle is None:
        return
    needed = circle_needed_mm(camera)
    if circle < needed - REACH_MM:
        words = f"the lens covers {circle:.1f} mm across, and this sensor needs {needed:.1f} mm: the corners stay dark"
        yield CIRCLE.found((), round(circle, 1), round(needed, 1), words)


def find_ceiling(picture: Picture) -> Iterator[Finding]:
    clear = picture.ceiling_clearance
    if clear is None or clear >= CEILING_CLEARANCE.value:
        return
    if clear < 0:
        words = f"the camera would be {-clear:.0f} mm in the ceiling"
    else:
        words = f"only {clear:.0f} mm are left between camera and ceiling"
    yield CEILING.found(
        (),
        round(clear, 1),
        CEILING_CLEARANCE.value,
        f"{words}; clamp and arm want {CEILING_CLEARANCE.value:g} mm",
        severity="stop" if clear < 0 else "mend",
    )


def find_focus_reach(picture: Picture) -> Iterator[Finding]:
    camera, u = picture.setup.camera, picture.view.lens.distance
    nearest, furthest = focus_reach_mm(camera.lens, camera.sensor)
    if u < nearest - REACH_MM:
        yield MIN_FOCUS.found(
            (), round(u, 1), round(nearest, 1), f"the plane of focus is {u:.0f} mm from the lens; it comes no nearer than {nearest:.0f} mm"
        )
    elif furthest is not None and u > furthest + REACH_MM:
        yield TOO_FAR.found(
            (),
            round(u, 1),
            round(furthest, 1),
            f"with {camera.lens.extension:g} mm of extension nothing beyond {furthest:.0f} mm comes sharp; the plane of focus is at {u:.0f} mm",
        )


RULES = (Rule(find_ceiling, (CEILING,)), Rule(find_focus_reach, (MIN_FOCUS, TOO_FAR)), Rule(find_circle, (CIRCLE,)))
