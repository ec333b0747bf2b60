"""A scene begun as a copy of another; things of one scene put into another."""

from __future__ import annotations

from django.contrib.auth.models import User

from tideflat.core import model
from tideflat.core.errors import FieldError
from tideflat.core.table.bringing import brought
from tideflat.web.accounts.models import Studio

from ..models import Scene
from .acting import performed
from .history import Edit, begin_scene, change_scene, core_scene
from .naming import free_title


def copy_scene(studio: Studio, row: Scene, by: User) -> Scene:
    """Begins where ``row`` stands; raises UnreadableScene where that cannot be read."""
    scene = core_scene(row)
    named = performed(scene, {"act": "title", "title": free_title(studio, scene.title)}).scene
    return begin_scene(studio, named, by, f"copied from {row.title}"[:200])


def copy_things(studio: Studio, row: Scene, goal: Scene, setup: str, ids: list[str], by: User) -> int:
    """The things of ``row``, as its set-up shows them, at the same places of ``goal``; how many. Raises FieldError, StaleRevision."""
    source = core_scene(row)
    shown = next((s for s in source.setups if s.name == setup), source.setups[0])
    seen = source.seen_in(shown)
    known = {p.id for p in seen.placements}
    wanted = [i for i in dict.fromkeys(ids) if i in known]
    if not wanted:
        raise FieldError("placements", "must name a thing that is on the table", show_got=False)
    count = 0

    def make(scene: model.Scene) -> Edit:
        nonlocal count
        after, fresh = brought(scene, seen, wanted)
        count = len(fresh)
        return Edit(after, "bring", {"count": count, "title": row.title})

    change_scene(studio, goal.pk, goal.revision, by, make, goal)
    return count
