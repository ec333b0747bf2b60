"""Acts of the core, done on a scene through its one registry, as an edit that can be kept; `history` proves it by reading it back."""

from __future__ import annotations

from typing import Any

from tideflat.core.acts.registry import act_from_value, tried, unproven
from tideflat.core.errors import FieldError
from tideflat.core.model import Scene
from tideflat.web.accounts.models import Studio
from tideflat.web.ui.fields import Fields

from ..forms import adding, brief, camera, ground, judgement, lights, palette, proposals, schemes, set_ups, several, sharp, things
from ..forms.asked import Asked, Form, Value
from ..models import Scene as SceneRow
from .history import Edit
from .judgement import opened

#: Every verb that people post, and the form that makes an act of it.
FORMS: dict[str, Form] = {
    **things.FORMS,
    **adding.FORMS,
    **several.FORMS,
    **camera.FORMS,
    **sharp.FORMS,
    **set_ups.FORMS,
    **ground.FORMS,
    **lights.FORMS,
    **palette.FORMS,
    **brief.FORMS,
    **judgement.FORMS,
    **proposals.FORMS,
    **schemes.FORMS,
}


def asked_for(asked: Asked, verb: str) -> Edit:
    """What the verb makes of the scene; raises FieldError whose path is the field at fault."""
    return performed(asked.scene, FORMS[verb](asked), asked.fields.text("setup", 120))


def performed(scene: Scene, value: Value, setup: str = "") -> Edit:
    """The act in ``value`` done, while the set-up of that name is looked at."""
    done = unproven(scene, act_from_value(value, ""))
    return Edit(done.scene, done.code, dict(done.figures), done.held, setup)


def remedied(scene: Scene, seal: str, row: SceneRow, setup: str) -> Edit:
    """The remedy that was shown, by its acts: nothing is searched. Raises FieldError where it was shown for another state of the scene."""
    shown = opened(seal, row.pk, row.revision)
    try:
        scene = tried(scene, [act_from_value(value) for value in shown["acts"]])
    except FieldError as error:
        raise FieldError("remedy", f"must be looked for once more ({error})", show_got=False) from None
    figures: dict[str, Any] = {"kind": shown["kind"], "sentence": shown["sentence"], **shown["figures"]}
    return Edit(scene, "remedy", figures, shown["figures"].get("placement"), setup)


def asked_from(scene: Scene, fields: Fields, row: SceneRow, studio: Studio) -> Asked:
    """What was posted, as forms take it; with one set-up there is only the shared table."""
    return Asked(scene, fields, row, studio, only=fields.text("only", 5) == "1" and len(scene.setups) > 1)
