"""Things of one scene put into another, as they stand to each other."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from ..model import Scene
from .ids import free_id
from .props import with_prop


def brought(scene: Scene, source: Scene, ids: Iterable[str]) -> tuple[Scene, tuple[str, ...]]:
    """``scene`` with a copy of these things of ``source`` (as it stands in the set-up that is looked at), and of all they carry, at the
    same places; and the ids they have there. None of them is locked, and none is a second hero."""
    wanted = {j for i in ids for j in (i, *source.carried_by(i))}
    called: dict[str, str] = {}
    for placed in source.placements:
        if placed.id not in wanted:
            continue
        scene, prop = with_prop(scene, source.prop(placed.prop))
        own = called[placed.id] = free_id(placed.id, {p.id for p in scene.placements})
        has_hero = any(p.role == "hero" for p in scene.placements)
        role = "support" if placed.role == "hero" and has_hero else placed.role
        scene = replace(scene, placements=(*scene.placements, replace(placed, id=own, prop=prop.id, role=role, locked=False)))
    laid = tuple(replace(p, on=called.get(p.on) if p.on is not None else None) if p.id in called.values() else p for p in scene.placements)
    return replace(scene, placements=laid), tuple(called.values())
