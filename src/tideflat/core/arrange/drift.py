"""How far a thing may drift from where it was put before a finding above the line appears: solved in each direction, not a figure by role.

A thing that is set down by hand lands beside its mark. It is moved on, a small step at a time, with all that it carries, and every rule is
asked again; the first step at which something new is found is halved until it is known to 0.05 mm or better at a table's scale. A step is
smaller than half of the narrowest zone that a rule knows (a kiss of outlines, 1 % of what the frame covers): none is stepped over.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..evaluate import Picture
from ..findings.merging import meant_of
from ..findings.registry import each_finding
from ..model import Placement, Scene
from ..table.carrying import carried_along, wrapped

#: Ways on the table, degrees from the right, counter-clockwise.
WAYS = tuple(range(0, 360, 45))
#: A step, and how far is looked, as shares of the width that the frame covers at its aim.
STEP, FAR = 0.0035, 0.042
TURN_STEP, TURN_FAR = 2.0, 20.0
_HALVINGS = 7
#: Told a hundredth short, so that what is told holds.
_DIGITS = 100.0

Put = Callable[[Placement, float], Placement]
FindingKey = tuple[str, tuple[str, ...], str | None]


@dataclass(frozen=True, slots=True)
class Reach:
    """How far it may go; ``ends_with``: the code of what is then found, None where nothing is found as far as is looked."""

    far: float
    ends_with: str | None


@dataclass(frozen=True, slots=True)
class Drift:
    """Of one thing. ways: a Reach, mm, for each of WAYS. turns: counter-clockwise and clockwise, degrees; None for what is round. looked:
    how far was looked, mm."""

    id: str
    name: str
    ways: tuple[Reach, ...]
    turns: tuple[Reach, Reach] | None
    looked: float

    def value(self) -> dict[str, Any]:
        """As ``tideflat build`` prints it."""
        ways = {str(way): {"mm": r.far, "ends_with": r.ends_with} for way, r in zip(WAYS, self.ways, strict=True)}
        turns = None if self.turns is None else [{"degrees": r.far, "ends_with": r.ends_with} for r in self.turns]
        return {"ways": ways, "turns": turns, "least": self.least, "looked": self.looked}

    @property
    def least(self) -> float:
        """mm in the direction in which it may go least."""
        return min(r.far for r in self.ways)


def drift(picture: Picture, placement_id: str) -> Drift:
    """Of one placement of the set-up, with what it carries; a lock is no hindrance, as hands know none."""
    base = _unlocked(picture)
    before = frozenset(_above(base))
    lead = base.scene.placement(placement_id)
    looked = FAR * picture.size_at_aim[0]
    ways = tuple(_reach(base, lead, before, _shift(np.radians(way)), STEP * picture.size_at_aim[0], looked) for way in WAYS)
    shape = picture.bodies[placement_id].shape
    is_round = shape.form in ("turned", "ball") and not picture.props[placement_id].features and not base.scene.carried_by(placement_id)
    turns = None
    if not is_round and lead.lean == 0:
        turns = (_reach(base, lead, before, _turn(1.0), TURN_STEP, TURN_FAR), _reach(base, lead, before, _turn(-1.0), TURN_STEP, TURN_FAR))
    return Drift(placement_id, picture.props[placement_id].name, ways, turns, round(looked, 1))


def fussiest(drifts: Iterable[Drift], count: int = 3) -> tuple[Drift, ...]:
    """Those that may drift least, the fussiest first; what may go as far as is looked is not fussy."""
    found = sorted((d for d in drifts if any(r.ends_with for r in d.ways)), key=lambda d: d.least)
    return tuple(found[:count])


def found_anew(picture: Picture, placement_id: str, dx: float = 0.0, dy: float = 0.0, turn: float = 0.0) -> str | None:
    """The code of a finding above the line that appears when the thing is so far from where it stands; None where none does."""
    base = _unlocked(picture)
    return _anew(base, base.scene.placement(placement_id), frozenset(_above(base)), lambda p, far: _put(p, dx, dy, turn), 1.0)


def _unlocked(picture: Picture) -> Picture:
    """The set-up alone, everything as it stands in it, nothing locked."""
    free = tuple(replace(p, locked=False) for p in picture.scene.placements)
    setup = replace(picture.setup, differs=(), swap=())
    return Picture(replace(picture.scene, placements=free, setups=(setup,)), setup, picture.skins)


def _shift(way: float) -> Put:
    return lambda p, far: _put(p, far * float(np.cos(way)), far * float(np.sin(way)), 0.0)


def _turn(sign: float) -> Put:
    return lambda p, far: _put(p, 0.0, 0.0, sign * far)


def _put(p: Placement, dx: float, dy: float, turn: float) -> Placement:
    return replace(p, x=p.x + dx, y=p.y + dy, turn=wrapped(p.turn + turn) if turn else p.turn)


def _reach(base: Picture, lead: Placement, before: frozenset[FindingKey], put: Put, step: float, most: float) -> Reach:
    holds, at, ends = 0.0, step, None
    while at <= most * 1.0001:
        ends = _anew(base, lead, before, put, at)
        if ends is not None:
            break
        holds, at = at, at + step
    if ends is None:
        return Reach(_told(holds), None)
    fails = at
    for _ in range(_HALVINGS):
        middle = (holds + fails) / 2
        found = _anew(base, lead, before, put, middle)
        if found is None:
            holds = middle
        else:
            fails, ends = middle, found
    return Reach(_told(holds), ends)


def _told(far: float) -> float:
    return float(np.floor(far * _DIGITS) / _DIGITS)


def _anew(base: Picture, lead: Placement, before: frozenset[FindingKey], put: Put, far: float) -> str | None:
    after: Scene = carried_along(base.scene, lead, put(lead, far))
    return next((key[0] for key in _above(base.changed(after)) if key not in before), None)


def _above(picture: Picture) -> Iterator[FindingKey]:
    """The keys of what is above the line: to be mended, and not kept as meant."""
    for f in each_finding(picture, "mend"):
        if meant_of(picture, f.code, f.placements) is None:
            yield f.key
