"""A finding's remedy, found when it is pointed at, and the ghost that previews it."""

from __future__ import annotations

import json
from typing import Any

from tideflat.core.acts.registry import tried
from tideflat.web.bridge.finding_words import no_remedy_words
from tideflat.web.bridge.remedy_words import remedy_words
from tideflat.web.stores.images import SkinBook
from tideflat.web.stores.queries import core_stores

from ..ghost import ghost_of
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
        "ghost": json.dumps(ghost_of(picture, tried(scene, remedy.acts))),
        "seal": sealed(picture, remedy, row.pk, row.revision),
    }
