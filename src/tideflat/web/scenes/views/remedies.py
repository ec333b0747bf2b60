"""A finding's remedy, found when it is pointed at, and the ghost that previews it."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from tideflat.core.camera.view import view_of
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding, Remedy
from tideflat.core.findings.remedies import remedy_for
from tideflat.core.model import Scene as CoreScene
from tideflat.web.bridge.sentences import no_remedy_words, remedy_words

from ..models import Scene
from ..queries import Glance
from ..services.history import core_scene
from ..services.judgement import find, remedied


def remedy_context(row: Scene, glance: Glance, key: str) -> dict[str, Any]:
    """Words and ghost of the remedy for the finding ``key``; raises FieldError when the finding is gone."""
    scene = core_scene(row)
    picture, finding = find(scene, glance.setup or scene.setups[0].name, key)
    remedy = _found(scene, picture.setup.name, finding)
    if remedy is None:
        return {"key": key, "none": no_remedy_words(finding)}
    return {"key": key, "words": remedy_words(picture, remedy, glance.unit), "ghost": json.dumps(_ghost(picture, remedied(scene, remedy)))}


@lru_cache(maxsize=256)  # pointed at again and again while nothing changes
def _found(scene: CoreScene, setup_name: str, finding: Finding) -> Remedy | None:
    return remedy_for(Picture(scene, scene.setup(setup_name)), finding)


def _ghost(before: Picture, scene: CoreScene) -> dict[str, Any]:
    """What would move: things by dx, dy, dz in mm, the projection when the camera would, crops when they would."""
    after = Picture(scene, scene.setup(before.setup.name))
    moves = {}
    for p in scene.placements:
        old = before.scene.placement(p.id)
        shift = [round(p.x - old.x, 1), round(p.y - old.y, 1), round(p.z - old.z, 1)]
        if any(shift):
            moves[p.id] = shift
    ghost: dict[str, Any] = {"moves": moves}
    if after.setup.camera != before.setup.camera:
        ghost["matrix"] = [[round(float(v), 9) for v in row] for row in view_of(after.setup.camera).matrix]
    ghost["crops"] = [list(new.box) for new, old in zip(after.crops, before.crops, strict=False) if new.box != old.box]
    return ghost
