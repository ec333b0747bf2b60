"""What a carrier carries follows it: shifted, turned about its middle, leaned with it, as one stiff body."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from ..errors import LockedError
from ..model import Placement, Scene
from ..solids.body import pose, rotation
from ..tolerances import STIFF_DIGITS, UPRIGHT

#: Keys of a placement that say how it stands: what is locked keeps them; its role and what holds it may change.
_STANDING = ("x", "y", "z", "turn", "lean", "lean_toward", "on")


def carried_along(seen: Scene, lead: Placement, goal: Placement, *, also: Iterable[str] = ()) -> Scene:
    """The scene with ``lead`` become ``goal``, and everything it carries with it; raises LockedError when something locked would move.

    ``seen``: the scene as it stands in the set-up (Scene.seen_in). ``also``: ids that are shifted on the table as the lead is, with what
    they carry, such as those of its group.
    """
    loads = seen.carried_by(lead.id)
    others = [i for k in also for i in (k, *seen.carried_by(k))]
    shifted = [i for i in dict.fromkeys(others) if i != lead.id and i not in loads] if (goal.x, goal.y) != (lead.x, lead.y) else []
    if any(getattr(goal, key) != getattr(lead, key) for key in _STANDING):
        refuse_locked(seen, (lead.id, *loads, *shifted))
    changed = {lead.id: goal, **_stiffly(seen, lead, goal, loads)}
    dx, dy = goal.x - lead.x, goal.y - lead.y
    changed |= {i: _shifted(seen.placement(i), dx, dy, 0.0) for i in shifted}
    return replace(seen, placements=tuple(changed.get(p.id, p) for p in seen.placements))


def moving_with(seen: Scene, placement_id: str) -> tuple[str, ...]:
    """Everything that goes along when the thing is moved on the table: itself, its group, and what they carry."""
    group = seen.group_of(placement_id)
    leads = (placement_id, *(group.placements if group else ()))
    return tuple(dict.fromkeys(i for k in leads for i in (k, *seen.carried_by(k))))


def refuse_locked(scene: Scene, ids: Iterable[str]) -> None:
    """Raises LockedError, with its name, for the first of ``ids`` that is locked."""
    for i in ids:
        placement = scene.placement(i)
        if placement.locked:
            raise LockedError("placement", scene.prop(placement.prop).name, i)


def lifted(seen: Scene, ids: Iterable[str], rise_mm: float) -> Scene:
    """The scene with these things and all they carry higher by ``rise_mm``; nothing sinks into the table."""
    moving = {k for i in ids for k in (i, *seen.carried_by(i))}
    return replace(seen, placements=tuple(_shifted(p, 0.0, 0.0, rise_mm) if p.id in moving else p for p in seen.placements))


def _shifted(p: Placement, dx: float, dy: float, dz: float) -> Placement:
    return replace(p, x=round(p.x + dx, STIFF_DIGITS), y=round(p.y + dy, STIFF_DIGITS), z=round(max(0.0, p.z + dz), STIFF_DIGITS))


def _stiffly(seen: Scene, lead: Placement, goal: Placement, loads: Iterable[str]) -> dict[str, Placement]:
    if (lead.turn, lead.lean, lead.lean_toward) == (goal.turn, goal.lean, goal.lean_toward):
        shift = goal.x - lead.x, goal.y - lead.y, goal.z - lead.z
        return {i: _shifted(seen.placement(i), *shift) for i in loads}
    shape = seen.prop(lead.prop).shape
    before, after = pose(lead, shape), pose(goal, shape)
    spin = after.turned @ before.turned.T
    found = {}
    for i in loads:
        p = seen.placement(i)
        body = pose(p, seen.prop(p.prop).shape)
        base = spin @ (body.base - before.base) + after.base
        posed = _posed(p, spin, spin @ body.turned)
        sunk = posed.z - pose(posed, body.shape).base[2]  # from the middle of its base to its lowest point
        x, y, z = base + [0.0, 0.0, sunk]
        found[i] = replace(
            posed, x=round(float(x), STIFF_DIGITS), y=round(float(y), STIFF_DIGITS), z=round(max(0.0, float(z)), STIFF_DIGITS)
        )
    return found


def _posed(p: Placement, spin: np.ndarray, turned: np.ndarray) -> Placement:
    """The placement with the turn and lean that stand for the rotation ``turned``; ``spin`` is what it was turned by."""
    if spin[2, 2] > 1 - UPRIGHT:  # about the upright axis: the lean keeps its angle and goes round
        by = float(np.degrees(np.arctan2(spin[1, 0], spin[0, 0])))
        return replace(p, turn=wrapped(p.turn + by), lean_toward=wrapped(p.lean_toward + by) if p.lean else p.lean_toward)
    up = turned[:, 2]  # where the thing's own upright axis points
    lean = float(np.degrees(np.arctan2(np.hypot(up[0], up[1]), up[2])))
    toward = float(np.degrees(np.arctan2(up[1], up[0]))) if np.hypot(up[0], up[1]) > UPRIGHT else 0.0
    left = rotation(0.0, lean, toward).T @ turned
    return replace(
        p,
        turn=wrapped(float(np.degrees(np.arctan2(left[1, 0], left[0, 0])))),
        lean=round(lean, STIFF_DIGITS) + 0.0,
        lean_toward=wrapped(toward),
    )


def wrapped(angle_deg: float) -> float:
    """The same angle over -180 and up to 180 degrees, without the dust of computing."""
    return round(180.0 - (180.0 - angle_deg) % 360.0, STIFF_DIGITS) + 0.0
