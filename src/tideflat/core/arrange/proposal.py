"""One arrangement as it is proposed: where things would stand, what is strong and what is weak in it, told in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import shapely

from ..composition.relations import LARGE_ROLES
from ..composition.schemes import Curve
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.registry import findings
from ..model import Placement, Scene, Scheme
from ..solids.body import Body
from ..table.carrying import carried_along, wrapped
from ..tolerances import STANDS_ALIKE_MM
from .checked import faults, picture_of
from .problem import Problem

#: Findings that no arrangement mends.
_OF_THE_CAMERA = ("rig.", "lens.", "backdrop.", "focus.")


@dataclass(frozen=True, eq=False)
class Proposal:
    """scheme: as the document would write it. moved: what stands otherwise than now, as it would stand; leads: those of them that do not
    only go along with another. clear_mm, weak: what strengths and weaknesses tell of. picture: the arrangement seen."""

    scheme: Scheme
    said: str
    moved: tuple[Placement, ...]
    leads: tuple[Placement, ...]
    energy: float
    strengths: tuple[str, ...]
    weaknesses: tuple[str, ...]
    clear_mm: float | None
    weak: tuple[Finding, ...]
    picture: Picture
    problem: Problem
    curve: Curve

    def value(self) -> dict[str, Any]:
        """As ``tideflat propose`` prints it."""
        return {
            "scheme": self.scheme.kind,
            "placements": {p.id: {"x": p.x, "y": p.y, "z": p.z, "turn": p.turn, "lean": p.lean, "on": p.on} for p in self.moved},
            "energy": round(self.energy, 3),
            "strengths": list(self.strengths),
            "weaknesses": list(self.weaknesses),
        }


def told_of(problem: Problem, curve: Curve, energy: float, seen: Scene, before: frozenset[str]) -> tuple[Proposal, list[str]]:
    """The scene as it would stand, told as a proposal; and what stands in its way."""
    picture = picture_of(problem, seen)
    judged = findings(picture)
    now = problem.picture.scene
    moved = tuple(p for p in seen.placements if p != now.placement(p.id))
    carried = {j for p in moved for j in now.carried_by(p.id)}
    leads = tuple(p for p in moved if p.id not in carried)
    leads += _by_themselves(now, leads, moved)
    clear, weak = _clear_mm(problem, picture), _weak(judged)
    strengths, weaknesses = _strengths(problem, picture, curve, judged, clear), _weaknesses(judged, weak)
    made = Proposal(curve.scheme, curve.said, moved, leads, energy, strengths, weaknesses, clear, weak, picture, problem, curve)
    return made, faults(picture, before, judged, problem.stays)


def _by_themselves(now: Scene, leads: tuple[Placement, ...], moved: tuple[Placement, ...]) -> tuple[Placement, ...]:
    """What would stand elsewhere if it only went along with what carries it."""
    for p in leads:
        now = carried_along(now, now.placement(p.id), p)
    return tuple(p for p in moved if p not in leads and _differs(p, now.placement(p.id)))


def _differs(one: Placement, other: Placement) -> bool:
    far = max(abs(one.x - other.x), abs(one.y - other.y))
    return far > STANDS_ALIKE_MM or abs(wrapped(one.turn - other.turn)) > STANDS_ALIKE_MM


def _weak(judged: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """What the rules would have mended, the gravest first; matters of taste are not weaknesses."""
    return tuple(f for f in judged if f.severity != "taste" and not f.code.startswith(_OF_THE_CAMERA))[:3]


def _weaknesses(judged: tuple[Finding, ...], weak: tuple[Finding, ...]) -> tuple[str, ...]:
    """Focus is set again in one step."""
    again = ["focus has to be set on the hero again"] if any(f.code == "focus.hero" for f in judged) else []
    return (*(f.message for f in weak), *again)


def _large(picture: Picture) -> list[Body]:
    return [b for b in picture.bodies.values() if b.placement.role in LARGE_ROLES and b.placement.on is None]


def _clear_mm(problem: Problem, picture: Picture) -> float | None:
    """How far the hero stands from everything large, mm on the table, where that is more than is asked for."""
    hero = next((b for b in picture.bodies.values() if b.placement.role == "hero"), None)
    if hero is None:
        return None
    others = [b for b in _large(picture) if b is not hero and b.id not in problem.picture.scene.carried_by(hero.id)]
    near = min((float(shapely.distance(hero.footprint, b.footprint)) for b in others), default=None)
    return near if near is not None and near > problem.gap_mm else None


def _strengths(
    problem: Problem, picture: Picture, curve: Curve, judged: tuple[Finding, ...], clear_mm: float | None
) -> tuple[str, ...]:
    said = [f"reads as {curve.said}"]
    codes = {f.code for f in judged}
    if clear_mm is not None:
        said.append(f"the hero stands clear of everything large by {clear_mm:.0f} mm")
    if problem.copies:
        said.append("what is kept for words is empty")
    if not codes & {"tangent.pair", "tangent.edge", "edge.sliver"}:
        said.append("nothing kisses another thing or an edge")
    if not codes & {"spacing.tight"} and len(_large(picture)) > 2:
        said.append("nothing large crowds its neighbour")
    return tuple(said)
