"""Whether something is under each thing, and its weight is over that."""

from __future__ import annotations

from collections.abc import Iterator

from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..solids.body import Body
from ..table import standing
from ..tolerances import SUPPORT_MM
from .finding import Finding
from .kind import Kind, Rule

FLOATING = Kind(
    code="support.floating", rank=170, severity="stop", unit="mm", measure="mm the thing would fall",
    limit=Fact(0, "mm", "gravity"), limit_note="2 mm allowed", gives="hold it with something, or put something under it",
    makers=("set down", "hold it"),
)  # fmt: skip
LEANING = Kind(
    code="support.leaning", rank=175, severity="stop", unit="mm", measure="mm on the table that its weight is outside what bears it",
    limit=Fact(0, "mm", "statics: the weight over the foot"), gives="hold it, wedge it, or lean it against something",
    makers=("hold it", "lean less"),
)  # fmt: skip


#: Things with these roles may stand on a stand of their own beside the table [practice].
ELSEWHERE = frozenset({"foreground", "off-frame"})


def find(picture: Picture) -> Iterator[Finding]:
    """A thing that nothing carries and nothing holds, or that would tip over."""
    for i, body in picture.bodies.items():
        if body.placement.held_by is not None or body.placement.role in ELSEWHERE:
            continue
        gap = fall_mm(picture, body)
        if gap > SUPPORT_MM:
            yield FLOATING.found(
                (i,), round(gap, 1), 0, f"{label(picture, i)} hangs {gap:.0f} mm above what is under it, and nothing holds it"
            )
            continue
        outside = standing.overhang_mm(body, tuple(picture.bodies.values()), picture.scene.surface, picture.scene.backdrop)
        if outside > 0:
            yield LEANING.found(
                (i,), round(outside, 1), 0, f"{label(picture, i)} would fall over: its weight is {outside:.0f} mm outside what bears it"
            )


def fall_mm(picture: Picture, body: Body) -> float:
    """How far the thing would fall in this picture."""
    return standing.fall_mm(body, picture.bodies.values(), picture.scene.surface)


RULES = (Rule(find, (FLOATING, LEANING)),)
