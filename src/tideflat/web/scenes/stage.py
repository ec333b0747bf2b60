"""The bench's stage, put together: both views, readings, the tideline, the line of decisions and the open tray."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from tideflat.core import model
from tideflat.core.camera.crops import FULL_FRAME
from tideflat.core.evaluate import Picture
from tideflat.web.bridge.crops_drawn import chosen_crop, crop_view, veil
from tideflat.web.bridge.drawing import frame_drawing, table_drawing
from tideflat.web.bridge.geometry import geometry
from tideflat.web.bridge.grids_drawn import frame_grids, surface_grid
from tideflat.web.bridge.lights_drawn import lights_drawn, lights_seen
from tideflat.web.bridge.places_drawn import places_drawn
from tideflat.web.bridge.readings import frame_caption, readings
from tideflat.web.bridge.ruler import ruler, table_text_size
from tideflat.web.bridge.scheme_drawn import scheme_drawn
from tideflat.web.bridge.sharp_words import zone_drawn
from tideflat.web.bridge.tideline import tideline
from tideflat.web.stores.images import SkinBook

from .glance import Glance
from .hand import hand_of
from .models import Scene
from .next_step import next_step
from .own import own_of
from .queries import picture_of
from .stations import decisions, opened
from .stations.station import Look
from .steps import names_around


def stage(
    row: Scene,
    glance: Glance,
    asked: Mapping[str, str],
    shown: model.Scene | None = None,
    around: tuple[str | None, str | None] | None = None,
) -> dict[str, Any]:
    """Everything the bench's stage shows. ``asked``: what else the request says, for the open tray. ``shown``: the scene as the window
    shows it now, so that only the rest is sent. ``around``: what undo and redo would do, where it is known already."""
    picture = picture_of(row, glance.setup)
    scene = picture.scene
    is_here = glance.setup in ("", picture.setup.name)  # else it was dropped meanwhile, and another is shown
    glance = replace(glance, only=glance.only and is_here and len(scene.setups) > 1)
    look = Look(row, picture, glance, asked)
    known = known_to_window(shown, glance, picture)
    setup = picture.setup
    undo_name, redo_name = around or names_around(row, glance.unit, with_setup=len(scene.setups) > 1)
    frame, table = frame_drawing(picture, known=known), table_drawing(picture, known=known)
    crop = chosen_crop(picture, glance.crop)
    box = crop.box if crop else FULL_FRAME
    text = table_text_size(scene.surface)
    table_box = f"{-3.3 * text:g} {-1.8 * text:g} {scene.surface.width + 5.2 * text:g} {scene.surface.depth + 3.9 * text:g}"
    return {
        "row": row,
        "scene": scene,
        "setup": setup,
        "picture": picture,
        "glance": glance,
        "undo_name": undo_name,
        "redo_name": redo_name,
        "frame": frame,
        "table": table,
        "grids": frame_grids(picture, box, frame["sheet"]),
        "sharp_zone": zone_drawn(picture, table["sheet"], frame["sheet"]),
        "places": places_drawn(picture, crop, frame["sheet"], table["sheet"]),
        "table_grid": surface_grid(scene.surface, table["sheet"]),
        "table_text": text,
        "table_view_box": table_box,
        "lights_drawn": lights_drawn(scene, glance.unit, table_box),
        "lights_seen": lights_seen(picture, frame["sheet"]),
        "ruler": ruler(scene.surface, glance.unit),
        "crops": [crop_view(c, frame["sheet"], c is crop) for c in picture.crops],
        "crop": crop,
        "veil": veil(box, frame["sheet"]) if crop else "",
        "readings": readings(picture, glance.unit, crop.name if crop else None),
        "caption": frame_caption(setup),
        "decisions": decisions(picture, row),
        "geometry": geometry(picture, known),
        "scheme_drawn": scheme_drawn(picture),
        "next": next_step(picture) if glance.may_change else None,
        **tray_context(look),
        "own": own_of(picture),
        **tideline(picture, glance.unit),
    }


def tray_context(look: Look) -> dict[str, Any]:
    """``tray``: its kind, its template, and what is in hand; ``hand``: the same for the line under the views; beside it what its station
    shows."""
    station, look = opened(look)
    glance = look.glance
    tray = {"kind": station.tray, "template": station.template, "selected": glance.selected, "several": " ".join(glance.several)}
    return {"tray": tray, "hand": hand_of(look), **station.context(look)}


def tray_alone(row: Scene, glance: Glance, asked: Mapping[str, str]) -> dict[str, Any]:
    """What one tray needs when the two views stay where they are."""
    picture = picture_of(row, glance.setup)
    crop = chosen_crop(picture, glance.crop)
    shared = {"row": row, "scene": picture.scene, "setup": picture.setup, "picture": picture, "glance": glance, "own": own_of(picture)}
    shared["readings"] = readings(picture, glance.unit, crop.name if crop else None)
    return {**shared, **tray_context(Look(row, picture, glance, asked))}


def judged_alone(row: Scene, glance: Glance, scene: model.Scene) -> dict[str, Any]:
    """Readings and both sides of the tideline for ``scene`` as it would be: what follows a hand that has not let go yet."""
    setup = next((s for s in scene.setups if s.name == glance.setup), scene.setups[0])
    picture = Picture(scene, setup, SkinBook(row.studio_id))
    crop = chosen_crop(picture, glance.crop)
    return {
        "row": row,
        "setup": setup,
        "glance": glance,
        "readings": readings(picture, glance.unit, crop.name if crop else None),
        "next": next_step(picture),
        **tideline(picture, glance.unit),
    }


def known_to_window(shown: model.Scene | None, glance: Glance, picture: Picture) -> Picture | None:
    """What the window shows now, when it is the same set-up that it is to show next; None when it must be sent everything."""
    if shown is None or glance.setup != picture.setup.name:
        return None
    return next((Picture(shown, s) for s in shown.setups if s.name == picture.setup.name), None)
