"""How a thing comes to lie where it is let go: on what can carry it, over a riser as cloth does, else on the table."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import shapely

from ..model import Placement, Scene, Setup
from ..solids.body import Body, pose
from ..solids.falling import laid_out
from .resting import Resting, come_to_rest, laid_over, may_lie_on
from .standing import carries


def lying(seen: Scene, setup: Setup, placed: Placement, level: bool = False) -> dict[str, Any] | None:
    """How it lies where it is, as values of its placement; None where it stays as it is."""
    shape = seen.prop(placed.prop).shape
    if shape.is_strewn or placed.held_by is not None:
        return None
    if placed.on is None and (placed.z > 0 or placed.lean):
        return None  # raised or leaned by hand, on purpose
    apart = {placed.id, *seen.carried_by(placed.id)}
    here = [p for p in seen.placements_in(setup) if p.id not in apart]
    others = laid_out({p.id: pose(p, seen.prop(p.prop).shape) for p in here})
    if level:
        return _on_table(placed)
    if placed.on is not None and placed.on not in others:
        return None  # what carries it is left out of this set-up, and still carries it in the others
    if shape.is_laid:
        over = laid_over(pose(placed, shape), others, {p.id for p in here if p.role == "riser"})
        return _on_table(placed) if over is None else {"z": round(others[over].z_max, 1), "on": over, "lean": 0.0, "lean_toward": 0.0}
    every = come_to_rest(placed, shape, others)
    rest = every if every is not None and _would_be_laid(placed, seen, others, every) else None
    own = None if placed.on is None else others.get(placed.on)
    if own is not None and (rest is None or rest.on == placed.on) and carries(own, pose(placed, shape)):
        return None  # still over what it lies on: it slides there, as it lies
    if rest is None:
        rest = _on_one_alone(placed, seen, others)
    if rest is None:
        return _on_table(placed)
    return {"z": rest.z, "on": rest.on, "lean": rest.lean, "lean_toward": rest.lean_toward}


def _on_one_alone(placed: Placement, seen: Scene, others: dict[str, Body]) -> Resting | None:
    """Where it would slide off what else lies there, such as a lemon let go over a fish on its plate: how it lies on the highest single
    thing under its middle that carries it. That it then meets the other is a finding's to say."""
    shape = seen.prop(placed.prop).shape
    x, y = pose(placed, shape).centroid[:2]
    under = [i for i, b in others.items() if shapely.contains_xy(b.footprint, x, y)]
    for i in sorted(under, key=lambda i: -others[i].z_max):
        rest = come_to_rest(placed, shape, {i: others[i]})
        if rest is not None and _would_be_laid(placed, seen, others, rest):
            return rest
    return None


def _would_be_laid(placed: Placement, seen: Scene, others: dict[str, Body], rest: Resting) -> bool:
    """Whether it comes to lie on something, as anybody would lay it."""
    if rest.on is None or not _is_lain(placed, seen, rest):
        return False
    body = pose(replace(placed, z=rest.z, lean=rest.lean, lean_toward=rest.lean_toward), seen.prop(placed.prop).shape)
    return may_lie_on(body, others[rest.on], rest)


def _on_table(placed: Placement) -> dict[str, Any] | None:
    return None if placed.on is None else {"z": 0.0, "on": None, "lean": 0.0, "lean_toward": placed.lean_toward}


def _is_lain(placed: Placement, seen: Scene, rest: Resting) -> bool:
    """Not tipped over the edge of a cloth, which gives way; nor tipped with a load on it, which would slide."""
    if not rest.lean:
        return True
    return not seen.carried_by(placed.id) and not (rest.on is not None and seen.prop(seen.placement(rest.on).prop).shape.is_laid)
