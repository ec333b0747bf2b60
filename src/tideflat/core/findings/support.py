"""Whether something is under each thing."""

from __future__ import annotations

from collections.abc import Iterator

import shapely

from ..camera.hiding import lies_in
from ..evaluate import Picture
from ..facts.optics import Fact
from ..solids.body import Body
from ..tolerances import SUPPORT_MM
from .finding import Finding
from .kind import Kind, Rule
from .relations import label

FLOATING = Kind(
    code="support.floating", rank=170, severity="stop", unit="mm", measure="mm the thing would fall",
    limit=Fact(0, "mm", "gravity"), limit_note="2 mm allowed", gives="hold it with something, or put something under it", makers=("set down",),
)  # fmt: skip


#: Things with these roles may stand on a stand of their own beside the table [practice].
ELSEWHERE = frozenset({"foreground", "off-frame"})


def find(picture: Picture) -> Iterator[Finding]:
    """A thing that nothing carries and nothing holds."""
    for i, body in picture.bodies.items():
        if body.placement.held_by is not None or body.placement.role in ELSEWHERE:
            continue
        gap = fall_mm(picture, body)
        if gap > SUPPORT_MM:
            yield FLOATING.found(
                (i,), round(gap, 1), 0, f"{label(picture, i)} hangs {gap:.0f} mm above what is under it, and nothing holds it"
            )


def fall_mm(picture: Picture, body: Body) -> float:
    """How far the thing would fall: onto what is under it, the table, or the floor beside the table."""
    best = 0.0 if _over_table(picture, body) else -picture.scene.surface.height_above_floor
    for other in picture.bodies.values():
        if other is body or other.z_min > body.z_min + SUPPORT_MM:
            continue
        if lies_in(body, other):
            return 0.0
        if other.z_max <= body.z_min + SUPPORT_MM and other.z_max > best and _carries(other, body):
            best = other.z_max
    return max(0.0, body.z_min - best)


def _over_table(picture: Picture, body: Body) -> bool:
    x, y = body.centroid[:2]
    return 0 <= x <= picture.scene.surface.width and 0 <= y <= picture.scene.surface.depth


def _carries(lower: Body, upper: Body) -> bool:
    """The middle of the upper thing is over the lower one, or a fifth of its footprint is."""
    if shapely.contains_xy(lower.footprint, *upper.centroid[:2]):
        return True
    return bool(shapely.intersection(lower.footprint, upper.footprint).area > 0.2 * upper.footprint.area)


RULES = (Rule(find, (FLOATING,)),)
