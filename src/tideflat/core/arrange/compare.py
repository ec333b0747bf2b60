"""What differs between two states of a scene, as one set-up shows them: what moved and by how much, what was found, what the eye weighs."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..composition.measures import Measure, measures
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.registry import findings
from ..tolerances import ROUNDING


@dataclass(frozen=True, slots=True)
class Moved:
    """A thing that stands otherwise in the second: by so many mm along x, y, up, and degrees counter-clockwise, -180..180. changed: what
    else is otherwise (role, prop, lean, on, held_by). is_carried: it only went along with what it rests on."""

    id: str
    name: str
    dx: float
    dy: float
    dz: float
    turn: float
    changed: tuple[str, ...]
    is_carried: bool = False

    @property
    def mm(self) -> float:
        return math.hypot(self.dx, self.dy, self.dz)


@dataclass(frozen=True, slots=True)
class Changed:
    """A measure that differs, as each of the two has it."""

    measure: Measure
    before: float | None
    after: float | None

    @property
    def is_better(self) -> bool | None:
        """None where that is a matter of taste, or one of them has none."""
        if self.measure.better == 0 or self.before is None or self.after is None:
            return None
        return (self.after - self.before) * self.measure.better > 0


@dataclass(frozen=True)
class Compared:
    """The second against the first. added, gone: (id, name). camera: keys that differ, as (key, before, after)."""

    moved: tuple[Moved, ...]
    added: tuple[tuple[str, str], ...]
    gone: tuple[tuple[str, str], ...]
    camera: tuple[tuple[str, float, float], ...]
    cleared: tuple[Finding, ...]
    fresh: tuple[Finding, ...]
    measures: tuple[Changed, ...]

    @property
    def is_same(self) -> bool:
        return not (self.moved or self.added or self.gone or self.camera or self.cleared or self.fresh)


def compare(first: Picture, second: Picture) -> Compared:
    """What would have to be done to the first to get the second, and what that gives."""
    names = {i: p.name for i, p in first.props.items()}, {i: p.name for i, p in second.props.items()}
    was, now = findings(first), findings(second)
    weighed = zip(measures(first), measures(second), strict=True)
    return Compared(
        moves(first, second),
        tuple((i, n) for i, n in names[1].items() if i not in names[0]),
        tuple((i, n) for i, n in names[0].items() if i not in names[1]),
        _camera(first, second),
        tuple(f for f in was if not any(_same(f, g) for g in now)),
        tuple(f for f in now if not any(_same(f, g) for g in was)),
        tuple(Changed(b, a.value, b.value) for a, b in weighed if a.value != b.value),
    )


def moves(first: Picture, second: Picture) -> tuple[Moved, ...]:
    """What is in both and stands otherwise in the second, what moved furthest first."""
    found = {i: m for i in first.props if i in second.props and (m := _moved(first, second, i)) is not None}
    told = (replace(m, is_carried=not m.changed and second.scene.placement(i).on in found) for i, m in found.items())
    return tuple(sorted(told, key=lambda m: -m.mm))


def _moved(first: Picture, second: Picture, placement_id: str) -> Moved | None:
    a, b = first.scene.placement(placement_id), second.scene.placement(placement_id)
    changed = [key for key in ("role", "on", "held_by", "lean", "lean_toward") if getattr(a, key) != getattr(b, key)]
    if first.props[placement_id] != second.props[placement_id]:
        changed.append("prop")
    turn = (b.turn - a.turn + 180.0) % 360.0 - 180.0
    shift = (b.x - a.x, b.y - a.y, b.z - a.z)
    if not changed and abs(turn) <= ROUNDING and max(abs(v) for v in shift) <= ROUNDING:
        return None
    dx, dy, dz = (round(v, 4) for v in shift)
    return Moved(placement_id, second.props[placement_id].name, dx, dy, dz, round(turn, 4), tuple(changed))


def _camera(first: Picture, second: Picture) -> tuple[tuple[str, float, float], ...]:
    a, b = first.setup.camera, second.setup.camera
    values = [(key, float(getattr(a, key)), float(getattr(b, key))) for key in ("elevation", "azimuth", "roll", "distance", "aperture")]
    values += [(f"aim {axis}", float(a.aim[k]), float(b.aim[k])) for k, axis in enumerate("xyz")]
    values.append(("focal length", float(a.lens.focal_length), float(b.lens.focal_length)))
    return tuple(v for v in values if v[1] != v[2])


def _same(one: Finding, other: Finding) -> bool:
    """The same fault of the same things, however large it is in each."""
    return one.code == other.code and set(one.placements) == set(other.placements)
