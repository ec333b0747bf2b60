"""The ghost of what would come of a change: what the window draws over both views before it is made."""

from __future__ import annotations

from typing import Any

import numpy as np

from tideflat.core.camera.view import view_of
from tideflat.core.evaluate import Picture
from tideflat.core.model import Scene as CoreScene
from tideflat.web.bridge.geometry import projection
from tideflat.web.bridge.sheets import frame_sheet, path_data, table_sheet


def ghost_of(before: Picture, scene: CoreScene) -> dict[str, Any]:
    """What would move: things by dx, dy, dz in mm, or turn, degrees; what would go, where it stands; what would come, as outlines; the
    projection when the camera would move, crops when they would."""
    after = Picture(scene, scene.setup(before.setup.name))
    moves, turns = {}, {}
    known = {p.id: p for p in before.scene.placements}
    outlines = {}
    for p in after.scene.placements:
        old = known.get(p.id)
        if old is None or (old.prop != p.prop):
            outlines[p.id] = _outline(after, p.id)
            continue
        shift = [round(p.x - old.x, 1), round(p.y - old.y, 1), round(p.z - old.z, 1)]
        turn = round((p.turn - old.turn + 180) % 360 - 180, 1)
        if any(shift) or turn:
            moves[p.id] = shift
        if turn:
            turns[p.id] = turn
    moves |= {i: [0, 0, 0] for i in before.bodies if i not in after.bodies}
    ghost: dict[str, Any] = {"moves": moves, "turns": turns, "outlines": [o for o in outlines.values() if o]}
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
