"""A finding as it is now, its remedy, and the remedy as a person's window holds it until it is taken."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from django.core import signing

from tideflat.core.acts.registry import act_value
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import findings
from tideflat.core.model import Scene
from tideflat.core.remedies.candidate import Remedy, Stores
from tideflat.core.remedies.search import remedy_for
from tideflat.core.remember import counted
from tideflat.web.bridge.tideline import finding_key
from tideflat.web.stores.images import SkinBook

Skins = Mapping[str, np.ndarray]
_SALT = "tideflat.remedy"


def find(scene: Scene, setup_name: str, key: str, skins: Skins) -> tuple[Picture, Finding]:
    """The finding with this key now; raises FieldError when it is gone."""
    picture = Picture(scene, scene.setup(setup_name), skins)
    for finding in findings(picture):
        if finding_key(finding) == key:
            return picture, finding
    raise FieldError("finding", "must still be there; it is settled already", show_got=False)


@counted(256)  # pointed at again and again while nothing changes
def remedy_of(scene: Scene, setup_name: str, finding: Finding, studio_id: int, stores: Stores) -> Remedy | None:
    """The remedy of a finding of this scene, with the skins that the studio keeps."""
    return remedy_for(Picture(scene, scene.setup(setup_name), SkinBook(studio_id)), finding, None, stores)


def figures_of(picture: Picture, remedy: Remedy) -> dict[str, Any]:
    """Its figures, with the name of each thing that it moves as ``thing``."""

    def with_name(figures: dict[str, Any]) -> dict[str, Any]:
        prop = picture.props.get(str(figures.get("placement", "")))
        return figures if prop is None else figures | {"thing": prop.name}

    figures = with_name(dict(remedy.figures))
    return figures | {"then": [with_name(then) for then in figures["then"]]} if "then" in figures else figures


def sealed(picture: Picture, remedy: Remedy, scene_id: int, revision: int) -> str:
    """The proven remedy for the window that shows it: what comes back of it is just this, for just this state of the scene."""
    value = {
        "scene": scene_id,
        "revision": revision,
        "kind": remedy.kind,
        "figures": figures_of(picture, remedy),
        "sentence": remedy.sentence,
        "acts": [act_value(act) for act in remedy.acts],
    }
    return signing.dumps(value, salt=_SALT, compress=True)


def opened(seal: str, scene_id: int, revision: int) -> dict[str, Any]:
    """The remedy that was shown; raises FieldError where it is not one of ours, or was found for another state of the scene."""
    try:
        value: dict[str, Any] = signing.loads(seal, salt=_SALT)
    except signing.BadSignature:
        raise FieldError("remedy", "must be one that was shown; look for it once more", show_got=False) from None
    if (value["scene"], value["revision"]) != (scene_id, revision):
        raise FieldError("remedy", "must be looked for once more: the scene has changed since it was found", show_got=False)
    return value
