"""The thing in hand: its values as typed, and what the frame makes of it."""

from __future__ import annotations

from typing import Any

from tideflat.core.camera.straightness import edge_line
from tideflat.core.evaluate import Picture
from tideflat.core.model import HOLDERS
from tideflat.core.table.dish import contents
from tideflat.web.bridge.crops_drawn import chosen_crop
from tideflat.web.bridge.readings import feature_readings, sharpness_words, size_words
from tideflat.web.ui.options import options

from ..forms.things import FEATURE_SIDES
from ..glance import Glance
from ..own import others_to_move_with, own_parts
from ..queries import other_scenes
from .station import Look, Station


def _context(look: Look) -> dict[str, Any]:
    return {"held": _held(look.picture, look.glance.selected, look.glance), "holders": HOLDERS, "scenes": other_scenes(look.row)}


def _held(picture: Picture, placement_id: str, glance: Glance) -> dict[str, Any]:
    """The thing in hand: its values as typed, and what the frame makes of it."""
    scene = picture.scene
    placement = scene.placement(placement_id)
    prop = scene.prop(placement.prop)
    thing = picture.things.get(placement_id)
    beneath = {placement_id, *scene.carried_by(placement_id)}
    return {
        "placement": placement,
        "prop": prop,
        "thing": thing,
        "contents": len(contents(scene, picture.setup, placement_id)),
        "hidden": placement_id in picture.setup.hidden,
        "own": own_parts(picture, placement_id),
        "with": scene.group_of(placement_id),
        "others": others_to_move_with(picture, placement_id),
        "size": size_words(picture, placement_id, glance.unit),
        "rest": options(((p.id, scene.prop(p.prop).name) for p in scene.placements if p.id not in beneath), None),
        "step": _step(picture, placement_id),
        "seen": round(thing.visible_share * 100) if thing else 0,
        "inside": round(thing.inside_frame_share * 100) if thing else 0,
        "area": round(thing.frame_area_share * 100, 1) if thing else 0,
        "has_edge": placement_id in picture.bodies and edge_line(picture.bodies[placement_id], picture.view) is not None,
        "features": feature_readings(picture, placement_id, chosen_crop(picture, glance.crop)),
        "sides": FEATURE_SIDES,
        "sharp": sharpness_words(picture, placement_id, chosen_crop(picture, glance.crop)),
    }


#: Clear table between two of a row that is laid without a wish, mm [practice].
_APART_MM = 15.0


def _step(picture: Picture, placement_id: str) -> float:
    """From middle to middle of a row of them, mm."""
    body = picture.bodies.get(placement_id)
    return 80.0 if body is None else round(body.footprint_bounds[2] - body.footprint_bounds[0] + _APART_MM)


STATION = Station(
    tray="held",
    template="scenes/fragments/tray_held.html",
    context=_context,
    verbs=(
        "along",
        "camera",
        "details",
        "duplicate",
        "face-lens",
        "feature",
        "feature-ask",
        "feature-drop",
        "give-back",
        "hide",
        "hold",
        "lay-dish",
        "lean",
        "lock",
        "move-with",
        "register",
        "remove",
        "repeat",
        "square-up",
        "take-over",
        "turn-toward",
    ),
)
