"""What holds the camera: whether it brings it there, and whether it is in the picture."""

from __future__ import annotations

from collections.abc import Iterator

from ..camera.support import OVERHEAD_DEG, seen_of, short_of
from ..evaluate import Picture
from ..facts.optics import Fact
from .finding import Finding
from .kind import Kind, Rule

_NOUGHT = Fact(0, "mm", "geometry")
REACH_KIND = Kind(
    code="rig.reach", rank=102, severity="stop", unit="mm",
    measure="mm that what holds the camera does not rise, sink or reach over the surface; 0 where it cannot look straight down",
    limit=_NOUGHT,
    gives="another support, another lens from elsewhere, or another angle would have to give", makers=("within its reach",),
)  # fmt: skip
SEEN_KIND = Kind(
    code="rig.seen", rank=103, severity="mend", unit="% of the frame's shorter side",
    measure="how far into the frame column or legs reach, wherever they may stand", limit=Fact(0, "%", "geometry"),
    gives="another support, or a tighter frame, would have to give", retouch_minutes=10,
)  # fmt: skip
_WORDS = {
    "high": "rises {mm:.0f} mm too little for the lens",
    "low": "comes down {mm:.0f} mm too little for the lens",
    "reach": "reaches {mm:.0f} mm too little over the surface",
    "inverts": f"cannot look down by more than {OVERHEAD_DEG:g} degrees",
}


def find(picture: Picture) -> Iterator[Finding]:
    """Only where it is told what holds the camera."""
    support, camera = picture.setup.support, picture.setup.camera
    if support is None:
        return
    short = short_of(support, picture.scene, camera, picture.view)
    if short is not None:
        words = f"the {support.name} {_WORDS[short.way].format(mm=short.mm)}"
        yield REACH_KIND.found((), round(short.mm, 1), 0, words, sides=(short.way,), figures=(("support", support.name),))
        return
    seen = seen_of(support, picture.scene, picture.view)
    if seen > 0:
        words = f"the {support.name} stands in the picture, {seen:.0%} of its shorter side deep"
        yield SEEN_KIND.found((), round(100 * seen, 1), 0, words, figures=(("support", support.name),))


RULES = (Rule(find, (REACH_KIND, SEEN_KIND)),)
