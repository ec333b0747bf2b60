"""Materials: surface and backdrop."""

from __future__ import annotations

from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.web.stores.queries import materials

from .station import Look, Reading, Station


def _context(look: Look) -> dict[str, Any]:
    surfaces, backdrops = materials(look.row.studio)
    return {"surfaces": surfaces, "backdrops": backdrops}


def _reading(picture: Picture) -> Reading:
    scene = picture.scene
    return Reading(True, scene.surface.name + ("" if scene.backdrop is None else f", {scene.backdrop.kind} backdrop"))


STATION = Station(
    tray="materials",
    template="scenes/fragments/tray_materials.html",
    context=_context,
    rank=20,
    name="Materials",
    reading=_reading,
    verbs=("backdrop", "backdrop-place", "give-back", "surface", "take-over"),
)
