"""Long things: what they point at, and whether they run alike. A place setting, laid as a group, is exempt."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

import numpy as np

from ..composition.eye import Eye, eye_of
from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import LINES_PARALLEL
from .composed import segment
from .finding import Finding, Mark
from .kind import Kind, Rule

OUT = Kind(
    code="linear.out", rank=335, severity="taste", unit="things", measure="things that a long thing's line meets, either way",
    limit=Fact(1, "things", "common practice, no source"), limit_note="not asked where order leans to squared, nor of a group", leaning="order",
    gives="something would have to stand where it points", makers=("point it",),
)  # fmt: skip
PARALLEL = Kind(
    code="linear.parallel", rank=338, severity="taste", unit="degrees", measure="degrees between two long things in the frame",
    limit=LINES_PARALLEL, limit_note="asked where order leans to loose", leaning="order",
    gives="one of the two would have to turn", makers=("turn them apart",),
)  # fmt: skip

#: How far a line that leads out is drawn, heights of the frame.
_DRAWN = 0.25


def lone_rods(picture: Picture, eye: Eye) -> tuple[str, ...]:
    """Long things that no group and no hand holds."""
    return tuple(i for i in eye.rods if picture.scene.group_of(i) is None and picture.bodies[i].placement.held_by is None)


def find(picture: Picture) -> Iterator[Finding]:
    order, eye = picture.scene.brief.leaning("order"), eye_of(picture)
    if order < 0:
        return
    lone = lone_rods(picture, eye)
    for i in eye.leading_out:
        if i in lone and len(eye.ids) > len(eye.rods):
            middle = np.array(eye.outlines[i].centroid.coords[0])
            ends = (middle - _DRAWN * eye.rods[i], middle + _DRAWN * eye.rods[i])
            yield OUT.found(
                (i,), 0, 1, f"{label(picture, i)} points at nothing either way and leads out of the frame", mark=Mark(frame=(segment(eye, *ends),))
            )
    if order > 0:
        yield from _parallel(picture, eye, lone)


def between_deg(eye: Eye, a: str, b: str) -> float:
    """The angle between two long things as seen, 0..90."""
    return float(np.degrees(np.arccos(min(1.0, abs(float(eye.rods[a] @ eye.rods[b]))))))


def _parallel(picture: Picture, eye: Eye, lone: tuple[str, ...]) -> Iterator[Finding]:
    for a, b in combinations(lone, 2):
        angle = between_deg(eye, a, b)
        if angle < LINES_PARALLEL.value:
            yield PARALLEL.found(
                (a, b),
                round(angle, 2),
                LINES_PARALLEL.value,
                f"{label(picture, a)} and {label(picture, b)} run {angle:.1f} degrees apart; lines that run alike look stiff in a loose picture",
            )


RULES = (Rule(find, (OUT, PARALLEL), cost=2),)
