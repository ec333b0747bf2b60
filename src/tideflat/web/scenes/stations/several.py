"""Several things in hand: what can be done with them all at once."""

from __future__ import annotations

from typing import Any

from tideflat.web.ui.options import options

from ..queries import other_scenes
from .station import Look, Station


def _context(look: Look) -> dict[str, Any]:
    scene, ids = look.picture.scene, look.glance.several
    others = ((p.id, scene.prop(p.prop).name) for p in scene.placements if p.id not in ids)
    group = next((g for i in ids if (g := scene.group_of(i)) is not None), None)
    return {
        "several": [{"id": i, "name": scene.prop(scene.placement(i).prop).name} for i in ids],
        "ids": " ".join(ids),
        "others": options(others, None),
        "group": group,
        "scenes": other_scenes(look.row),
        "free": any(not scene.placement(i).locked for i in ids),
    }


STATION = Station(
    tray="several",
    template="scenes/fragments/tray_several.html",
    context=_context,
    verbs=(
        "apart",
        "duplicate-all",
        "face-lens",
        "line-up",
        "lock-all",
        "mirror",
        "remove-all",
        "share-out",
        "square-up",
        "together",
        "turn-toward",
    ),
)
