"""Acts on findings: apply a remedy, or mean it."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import numpy as np

from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.exchanges import Stores
from tideflat.core.findings.finding import Finding, Remedy
from tideflat.core.findings.registry import findings
from tideflat.core.findings.remedies import remedy_for
from tideflat.core.formats.reading import text as plain_text
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import scene_value
from tideflat.core.model import Scene
from tideflat.web.stores.pictures import SkinBook
from tideflat.web.ui.fields import Fields

from .history import Edit


def finding_key(finding: Finding) -> str:
    """One line that names a finding in a set-up: code, crop and placements."""
    return "|".join((finding.code, finding.crop or "", *finding.placements))


Skins = Mapping[str, np.ndarray]


def find(scene: Scene, setup_name: str, key: str, skins: Skins) -> tuple[Picture, Finding]:
    """The finding with this key now; raises FieldError when it is gone."""
    picture = Picture(scene, scene.setup(setup_name), skins)
    for finding in findings(picture):
        if finding_key(finding) == key:
            return picture, finding
    raise FieldError("finding", "must still be there; it is settled already", show_got=False)


def remedied(scene: Scene, remedy: Remedy) -> Scene:
    """The scene after the remedy's RFC 6902 operations."""
    value = scene_value(scene)
    for path, new in remedy.patch:
        target: Any = value
        *steps, last = path.strip("/").split("/")
        for step in steps:
            target = target[int(step)] if isinstance(target, list) else target[step]
        target[last] = new
    return scene_from_value(value)


@lru_cache(maxsize=256)  # pointed at again and again while nothing changes, then applied
def remedy_of(scene: Scene, setup_name: str, finding: Finding, studio_id: int, stores: Stores) -> Remedy | None:
    """The remedy of a finding of this scene, with the skins that the studio keeps."""
    return remedy_for(Picture(scene, scene.setup(setup_name), SkinBook(studio_id)), finding, None, stores)


def apply_remedy(scene: Scene, fields: Fields, stores: Stores, studio_id: int) -> Edit:
    """The remedy of the finding named; it may take something out of the stores."""
    picture, finding = find(scene, fields.text("setup", 120), fields.text("key", 2000), SkinBook(studio_id))
    remedy = remedy_of(scene, picture.setup.name, finding, studio_id, stores)
    if remedy is None:
        raise FieldError("remedy", "must exist; nothing small clears this finding", show_got=False)
    selected = dict(remedy.figures).get("placement")
    return Edit(remedied(scene, remedy), f"remedy: {remedy.sentence}", selected=selected)


def accept(scene: Scene, accepted: list[dict[str, Any]], fields: Fields, skins: Skins) -> Edit:
    """Keep a finding on purpose, with the reason."""
    setup_name = fields.text("setup", 120)
    _, finding = find(scene, setup_name, fields.text("key", 2000), skins)
    entry = {"setup": setup_name, "key": finding_key(finding), "reason": plain_text(fields.text("reason", 300), "reason", 300)}
    kept = [a for a in accepted if (a["setup"], a["key"]) != (setup_name, entry["key"])]
    return Edit(scene, "meant: " + finding.code.replace(".", ", "), accepted=[*kept, entry])


def reconsider(scene: Scene, accepted: list[dict[str, Any]], fields: Fields, skins: Skins) -> Edit:
    """Let a finding that was meant be judged again."""
    setup_name, key = fields.text("setup", 120), fields.text("key", 2000)
    return Edit(
        scene,
        "judged again: " + key.split("|")[0].replace(".", ", "),
        accepted=[a for a in accepted if (a["setup"], a["key"]) != (setup_name, key)],
    )


def follow_setup(accepted: list[dict[str, Any]], was: str, now: str) -> list[dict[str, Any]]:
    """What is meant stays meant when its set-up is renamed."""
    return [{**a, "setup": now} if a["setup"] == was else a for a in accepted]
