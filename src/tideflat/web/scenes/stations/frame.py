"""The frame: where the camera stands, with which body and lens, and what carries it there."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from tideflat.core.camera.stance import PRESETS_DEG
from tideflat.core.camera.support import OVERHEAD_DEG, short_of
from tideflat.core.evaluate import Picture
from tideflat.core.frame.lens_chart import Row, lens_chart
from tideflat.core.model.kit import Kit
from tideflat.web.bridge.act_words import PRESET_WORDS
from tideflat.web.bridge.readings import frame_caption
from tideflat.web.bridge.section_drawn import section_drawn
from tideflat.web.bridge.straight_words import straight_words
from tideflat.web.stores.queries import bodies_and_lenses, kit_of, lens_choices

from .station import Look, Reading, Station

#: An angle so near a preset, degrees, is that preset.
_AS_PRESET_DEG = 0.5


def _context(look: Look) -> dict[str, Any]:
    picture, studio = look.picture, look.row.studio
    bodies, lenses = bodies_and_lenses(studio)
    camera = picture.setup.camera
    kit = kit_of(studio)
    height = float(picture.view.position[2]) + picture.scene.surface.height_above_floor
    fits = [s for s in kit.supports if short_of(s, picture.scene, camera, picture.view) is None]
    return {
        "section": section_drawn(picture, look.glance.selected, look.glance.unit, _its_lenses(look, kit)),
        "presets": [{"key": k, "words": w, "on": abs(camera.elevation - PRESETS_DEG[k]) < _AS_PRESET_DEG} for k, w in PRESET_WORDS.items()],
        "bodies": bodies,
        "lenses": lens_choices(lenses),
        "straight": straight_words(picture),
        "supports": {
            "height": height,
            "fits": fits,
            "owned": kit.supports,
            "overhead": camera.elevation > OVERHEAD_DEG,
            "held": picture.setup.support,
        },
    }


def _its_lenses(look: Look, kit: Kit) -> tuple[Row, ...]:
    """Where each lens of the body that is taken would stand."""
    sensor = look.picture.setup.camera.sensor
    body = next((b for b in kit.bodies if replace(b.sensor, moving=None) == replace(sensor, moving=None)), None)
    return () if body is None else lens_chart(look.picture, replace(kit, bodies=(body,)))


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
    verbs=("body", "camera", "lens", "preset", "room", "setup-remove", "setup-rename", "support"),
)
