"""The frame: where the camera stands, with which body and lens, and what carries it there."""

from __future__ import annotations

from typing import Any

from tideflat.core.camera.stance import PRESETS_DEG
from tideflat.core.evaluate import Picture
from tideflat.web.bridge.act_words import PRESET_WORDS
from tideflat.web.bridge.readings import frame_caption
from tideflat.web.bridge.section_drawn import section_drawn
from tideflat.web.stores.queries import bodies_and_lenses, lens_choices, supports_reaching

from .station import Look, Reading, Station

#: An angle so near a preset, degrees, is that preset.
_AS_PRESET_DEG = 0.5


def _context(look: Look) -> dict[str, Any]:
    picture, studio = look.picture, look.row.studio
    bodies, lenses = bodies_and_lenses(studio)
    camera = picture.setup.camera
    height = float(picture.view.position[2]) + picture.scene.surface.height_above_floor
    fits, owned = supports_reaching(studio, height, overhead=camera.elevation > _OVERHEAD_DEG)
    return {
        "section": section_drawn(picture, look.glance.selected, look.glance.unit),
        "presets": [{"key": k, "words": w, "on": abs(camera.elevation - PRESETS_DEG[k]) < _AS_PRESET_DEG} for k, w in PRESET_WORDS.items()],
        "bodies": bodies,
        "lenses": lens_choices(lenses),
        "supports": {"height": height, "fits": fits, "owned": owned, "overhead": camera.elevation > _OVERHEAD_DEG},
    }


#: Looking down more steeply than this, degrees, a support must be one that can look straight down.
_OVERHEAD_DEG = 70.0


def _reading(picture: Picture) -> Reading:
    asked = picture.setup.deliverables
    return Reading(bool(asked), frame_caption(picture.setup) + ("; for " + ", ".join(d.name for d in asked) if asked else "; what for?"))


STATION = Station(
    tray="camera",
    template="scenes/fragments/tray_camera.html",
    context=_context,
    rank=50,
    name="Frame",
    reading=_reading,
    verbs=("body", "camera", "lens", "preset", "room", "setup-remove", "setup-rename"),
)
