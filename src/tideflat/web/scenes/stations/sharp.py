"""What will be sharp: thing by thing, what holds them sharp, how long it may be exposed, and what moves."""

from __future__ import annotations

from typing import Any

from tideflat.core.errors import FieldError
from tideflat.core.facts.speeds import SPEEDS
from tideflat.core.frame.hold_sharp import hold_sharp
from tideflat.web.bridge.sharp_words import exposure_words, held_words, slides, things_words, zone_words

from .station import Look, Station


def _context(look: Look) -> dict[str, Any]:
    picture, glance = look.picture, look.glance
    chosen = glance.several or ((glance.selected,) if glance.selected in picture.silhouettes else picture.hero_ids())
    ids = tuple(i for i in chosen if i in picture.silhouettes)
    names = ", ".join(picture.props[i].name for i in ids)
    try:
        held = held_words(hold_sharp(picture, ids), names, glance.unit) if ids else None
        if held is not None and "once" in held:
            held["not_now"] = hold_sharp(picture, ids, picture.setup.camera.aperture).reason
    except FieldError:
        held = None
    moved = next((p for p in picture.scene.placements if p.id == glance.selected), None)
    return {
        "zone_words": zone_words(picture, glance.crop or None, glance.unit),
        "soft_things": things_words(picture),
        "slides": slides(picture, glance.unit),
        "held_sharp": held,
        "held_ids": " ".join(ids),
        "exposure": exposure_words(picture),
        "moved": None
        if moved is None
        else {"id": moved.id, "name": picture.scene.prop(moved.prop).name, "speed": None if moved.motion is None else moved.motion.speed},
        "speeds": [(name, fact.value) for name, fact in SPEEDS.items()],
    }


STATION = Station(
    tray="sharp",
    template="scenes/fragments/tray_sharp.html",
    context=_context,
    verbs=("exposure", "hold-sharp", "motion"),
)
