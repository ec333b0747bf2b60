"""Candidates that settle a thing: laid on another, set down, held, leaned less."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely

from ..acts.act import Act
from ..acts.things import Hold, Lean, Raise, Rest
from ..composition.relations import label
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.support import fall_mm
from ..table.resting import come_to_rest, may_lie_on
from .candidate import Candidate, Stores, where
from .moves import LONGEST_MOVE_MM, is_free, lesser_first, moved

#: Two things this deep in each other (mm, and share of the shorter side of the smaller) were meant to lie on each other.
_MEANT_TO_LIE_MM, _MEANT_TO_LIE = 4.0, 0.1
#: Over more things than these it lies in a heap: nothing is laid anywhere there.
_MOST_UNDER = 4


def lay_on(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Where the two are well over each other: the smaller laid on the other."""
    sides = [min(picture.bodies[i].shape.sides()[:2]) for i in finding.placements]
    if finding.measure >= max(_MEANT_TO_LIE_MM, _MEANT_TO_LIE * min(sides)):
        yield from _laid_on_each_other(picture, finding, (0.0,))


def or_lay_on(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The smaller of two things laid on the other where it is, across it and the table, or a little further onto it."""
    yield from _laid_on_each_other(picture, finding, (0.0, 0.25, 0.5, 0.75, 1.0))


def _laid_on_each_other(picture: Picture, finding: Finding, shares: tuple[float, ...]) -> Iterator[Candidate]:
    """The smaller on the other, moved by these shares of the way to its middle."""
    for upper in lesser_first(picture, finding.placements):
        (lower,) = (i for i in finding.placements if i != upper)
        own = picture.scene.placement(upper)
        body = picture.bodies[upper]
        under = sum(not b.is_soft and bool(shapely.intersects(b.footprint, body.footprint)) for b in picture.bodies.values()) - 1
        if own.held_by is not None or lower in picture.scene.carried_by(upper) or under > _MOST_UNDER:
            continue
        goal = picture.bodies[lower].footprint.centroid
        for share in shares:
            dx, dy = share * (goal.x - own.x), share * (goal.y - own.y)
            if float(np.hypot(dx, dy)) <= LONGEST_MOVE_MM:
                yield from _laid(picture, upper, lower, dx, dy)


def _laid(picture: Picture, upper: str, lower: str, dx: float, dy: float) -> Iterator[Candidate]:
    own = picture.scene.placement(upper)
    goal = replace(own, x=round(own.x + dx, 1), y=round(own.y + dy, 1))
    apart = {upper, *picture.scene.carried_by(upper)}
    rest = come_to_rest(goal, picture.bodies[upper].shape, {i: b for i, b in picture.bodies.items() if i not in apart})
    if rest is not None and rest.lean and picture.scene.carried_by(upper):
        return  # what lies on it would slide off
    if rest is None or lower not in (rest.on, rest.also) or not may_lie_on(picture.bodies[upper], picture.bodies[lower], rest):
        return
    acts: list[Act] = [moved(picture, upper, dx, dy)] if dx or dy else []
    acts.append(Rest(placement=upper, on=lower, **where(picture, upper, "on", "z")))
    if rest.lean or own.lean:
        acts.append(Lean(placement=upper, lean=rest.lean, lean_toward=rest.lean_toward, **where(picture, upper, "lean", "lean_toward")))
    acts.append(Raise(placement=upper, z=rest.z, **where(picture, upper, "z")))
    length = round(float(np.hypot(dx, dy)), 1)
    figures = (("placement", upper), ("on", lower), ("onto", label(picture, lower)), ("mm", length), ("lean", rest.lean))
    yield Candidate("lay", figures, f"lay {label(picture, upper)} on {label(picture, lower)}", tuple(acts))


def set_down(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Down onto what is under it."""
    (i,) = finding.placements
    if not is_free(picture, i):
        return
    drop = fall_mm(picture, picture.bodies[i])
    z = round(picture.bodies[i].z_min - drop, 1)
    if z >= 0:
        words = f"set {label(picture, i)} down by {drop:.0f} mm"
        figures = (("placement", i), ("z", z), ("mm", round(drop, 1)))
        yield Candidate("lower", figures, words, (Raise(placement=i, z=z, **where(picture, i, "z")),))


def hold_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """With tape when it stands on something, with an arm when it hangs."""
    (i,) = finding.placements
    if not is_free(picture, i):
        return
    by = "tape" if finding.code == "support.leaning" else "arm"
    figures = (("placement", i), ("held_by", by))
    yield Candidate(
        "hold", figures, f"hold {label(picture, i)} with {by}", (Hold(placement=i, held_by=by, **where(picture, i, "held_by")),)
    )


def lean_less(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """As far as its weight stays over its foot, or upright."""
    (i,) = finding.placements
    lean = picture.bodies[i].placement.lean
    for share in (0.9, 0.8, 0.7, 0.6, 0.5, 0.35, 0.2, 0.0):
        if lean and is_free(picture, i):
            less = round(lean * share, 1)
            figures = (("placement", i), ("lean", less))
            words = f"lean {label(picture, i)} no more than {abs(less):g} degrees"
            yield Candidate("lean", figures, words, (Lean(placement=i, lean=less, **where(picture, i, "lean")),))


MAKERS = {
    "lay it on": lay_on,
    "or lay it on": or_lay_on,
    "set down": set_down,
    "hold it": hold_it,
    "lean less": lean_less,
}
