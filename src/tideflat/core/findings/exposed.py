"""How long the picture is exposed: against what moves in it, and against a hand that holds the camera."""

from __future__ import annotations

from collections.abc import Iterator

from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import HAND_TURNS, SMEAR
from ..moving import all_moving, handheld_limit_s
from ..tolerances import ROUNDING
from .finding import Finding
from .kind import Kind, Rule

SMEAR_KIND = Kind(
    code="exposure.smear", rank=172, severity="mend", unit="px", measure="delivered pixels over which what moves smears", limit=SMEAR,
    gives="a flash, or so much more light, would have to give", makers=("expose for less",),
)  # fmt: skip
HANDHELD_KIND = Kind(
    code="exposure.handheld", rank=173, severity="mend", unit="ms", measure="how long a hand holds the camera, ms",
    limit=Fact(0, "ms", HAND_TURNS.source), limit_words="one over the focal length, at this distance and for this crop",
    gives="a tripod, or so much more light, would have to give", makers=("put it on its legs", "expose for less"),
)  # fmt: skip


MOVING_KIND = Kind(
    code="exposure.moving", rank=171, severity="stop", unit="ms", measure="how long each frame of a moving picture is exposed, ms",
    limit=Fact(0, "ms", "arithmetic"), limit_words="one over its frames a second; a flash lights none",
    gives="fewer frames a second, or light that burns on, would have to give", makers=("expose each frame",),
)  # fmt: skip


def find_moving(picture: Picture) -> Iterator[Finding]:
    """A moving picture's frames cannot be exposed for longer than they last, nor by flash."""
    exposure = picture.setup.exposed
    if exposure is None:
        return
    fastest = max((d for d in picture.setup.deliverables if d.moves is not None), key=lambda d: d.moves or 0.0, default=None)
    if fastest is None or fastest.moves is None:
        return
    longest = 1 / fastest.moves
    if exposure.flash or exposure.time_s > longest + ROUNDING:
        why = "is lit by a flash" if exposure.flash else f"is exposed for {told(exposure.time_s)}"
        words = f"{fastest.name} has {fastest.moves:g} frames a second and {why}; each lasts {told(longest)}"
        side = "flash" if exposure.flash else "time"
        figures = (("longest_s", longest),)
        measure, limit = round(exposure.time_s * 1000, 3), round(longest * 1000, 3)
        yield MOVING_KIND.found((), measure, limit, words, crop=fastest.name, sides=(side,), figures=figures)


def find_smear(picture: Picture) -> Iterator[Finding]:
    """What moves smears over more than it may. With a flash the burst decides, which the document does not know."""
    exposure = picture.setup.exposed
    if exposure is None or exposure.flash:
        return
    for found in all_moving(picture):
        pixels = found.pixels_s * exposure.time_s
        if pixels > SMEAR.value:
            words = f"{label(picture, found.placement)} smears over {pixels:.0f} pixels in {told(exposure.time_s)}; {told(found.longest_s)} freezes it"
            figures = (("longest_s", found.longest_s),)
            yield SMEAR_KIND.found((found.placement,), round(pixels, 1), SMEAR.value, words, crop=found.crop, figures=figures)


def find_handheld(picture: Picture) -> Iterator[Finding]:
    """Held by a hand for longer than a hand is still."""
    exposure = picture.setup.exposed
    if exposure is None or exposure.flash or not exposure.handheld:
        return
    longest = handheld_limit_s(picture)
    if exposure.time_s > longest:
        words = f"a hand holds the camera for {told(exposure.time_s)}; here it is still for {told(longest)}"
        figures = (("longest_s", longest),)
        yield HANDHELD_KIND.found((), round(exposure.time_s * 1000, 3), round(longest * 1000, 3), words, figures=figures)


def told(seconds: float) -> str:
    """A time as cameras are set: 1/125 s, 0.5 s.

    >>> told(0.008), told(2.0)
    ('1/125 s', '2 s')
    """
    return f"1/{1 / seconds:.0f} s" if seconds < 0.3 else f"{seconds:.2g} s"


RULES = (Rule(find_moving, (MOVING_KIND,)), Rule(find_smear, (SMEAR_KIND,)), Rule(find_handheld, (HANDHELD_KIND,)))
