"""A finding's remedy, found when it is pointed at, and the ghost that previews it."""

from __future__ import annotations

import json
from typing import Any

import numpy as np

from tideflat.core.acts.registry import tried
from tideflat.core.camera.view import view_of
from tideflat.core.evaluate import Picture
from tideflat.core.model import Scene as CoreScene
from tideflat.web.bridge.finding_words import no_remedy_words
from tideflat.web.bridge.geometry import projection
from tideflat.web.bridge.remedy_words import remedy_words
from tideflat.web.bridge.sheets import frame_sheet, path_data, table_sheet
from tideflat.web.stores.images import SkinBook
from tideflat.web.stores.queries import core_stores

from ..glance import Glance
from ..models import Scene
from ..services.history import core_scene
from ..services.judgement import figures_of, find, remedy_of, sealed


def remedy_context(row: Scene, glance: Glance, key: str) -> dict[str, Any]:
    """Words and ghost of the remedy for the finding ``key``; raises FieldError when the finding is gone."""
    scene = core_scene(row)
    picture, finding = find(scene, glance.setup or scene.setups[0].name, key, SkinBook(row.studio_id))
    remedy = remedy_of(scene, picture.setup.name, finding, row.studio_id, core_stores(row.studio, picture.setup.camera))
    if remedy is None:
        return {"key": key, "none": no_remedy_words(finding)}
    return {
        "key": key,
        "words": remedy_words(remedy.kind, figures_of(picture, remedy), remedy.sentence, glance.unit),
        "ghost": json.dumps(_ghost(picture, tried(scene, remedy.acts))),
        "seal": sealed(picture, remedy, row.pk, row.revision),
    }


def _ghost(before: Picture, scene: CoreScene) -> dict[str, Any]:
    """What would move: things by dx, dy, dz in mm, the projection when the camera would, crops when they would."""
    after = Picture(scene, scene.setup(before.setup.name))
    moves = {}
    known = {p.id: p for p in before.scene.placements}
    outlines = {}
    for p in after.scene.placements:
        old = known.get(p.id)
        if old is None or (old.prop != p.prop):
            outlines[p.id] = _outline(after, p.id)
            continue
        shift = [round(p.x - old.x, 1), round(p.y - old.y, 1), round(p.z - old.z, 1)]
        if any(shift):
            moves[p.id] = shift
    ghost: dict[str, Any] = {"moves": moves, "outlines": [o for o in outlines.values() if o]}
    if after.setup.camera != before.setup.camera:
        ghost |= projection(view_of(after.setup.camera))
    ghost["crops"] = [list(new.box) for new, old in zip(after.crops, before.crops, strict=False) if new.box != old.box]
    return ghost


def _outline(after: Picture, placement_id: str) -> dict[str, str] | None:
    """What comes in from the stores, as paths in both views, in its own colour."""
    silhouette, body = after.silhouettes.get(placement_id), after.bodies[placement_id]
    if silhouette is None or silhouette.outline.geom_type != "Polygon":
        return None
    frame, table = frame_sheet(after.view), table_sheet(after.scene.surface)
    return {
        "frame": path_data(np.array(silhouette.outline.exterior.coords)[:-1], frame),
        "table": path_data(np.array(body.footprint_hull.exterior.coords)[:-1], table),
        "colour": after.props[placement_id].colours[0].hex,
    }
