"""Arrangements proposed for a scene: asked for as work, shown as small true frames, each with where things would stand."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from tideflat.core import model
from tideflat.core.acts.registry import act_from_value, unproven
from tideflat.core.errors import FieldError, TideflatError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import prop_value
from tideflat.core.model import SCHEMES
from tideflat.core.remember import counted
from tideflat.web.accounts.models import Studio
from tideflat.web.bridge.drawing import frame_drawing
from tideflat.web.bridge.told_words import told_words
from tideflat.web.stores.images import SkinBook
from tideflat.web.stores.queries import core_stores
from tideflat.web.work import services as work
from tideflat.web.work.models import Work

from .ghost import ghost_of
from .models import Scene
from .queries import picture_of
from .services.history import core_scene
from .versions import SMALL

KIND, COUNT = "propose", 8
#: What may be looked for: other arrangements, this one mended, one thing more or less.
WAYS = ("", "mend", "one")
#: Of each lead its id and x, y, turn.
Leads = tuple[tuple[str, tuple[float, float, float]], ...]


@dataclass(frozen=True)
class Shown:
    """One proposal in the strip. places: of each lead x, y, turn, by id, for the ghost in both views;
    ghost: of what comes or goes."""

    number: int
    said: str
    strengths: tuple[str, ...]
    weaknesses: tuple[str, ...]
    frame: dict[str, Any]
    places: str
    ghost: str


def ask(row: Scene, setup: str, scheme: str, keep: tuple[str, ...], seed: int, way: str = "", together: bool = False) -> Work:
    """Begin to look. ``together``: for all set-ups that share the table. ``way``: "mend" for what stands now, mended; "one" for one thing more or less; else arrangements. Raises FieldError
    for a scheme or a way that there is not."""
    if way not in WAYS:
        raise FieldError("way", "must be one of " + ", ".join(WAYS), way)
    if scheme not in ("any", *SCHEMES):
        raise FieldError("scheme", "must be any, or one of " + ", ".join(SCHEMES), scheme)
    scene = core_scene(row)
    names = [s.name for s in scene.setups]
    known = {p.id for p in scene.placements}
    job = {
        "document": row.document,
        "setup": setup if setup in names else names[0],
        "scheme": scheme,
        "count": COUNT,
        "seed": seed,
        "keep": [i for i in keep if i in known],
        "together": together,
    }
    if way == "one":
        job["props"] = [prop_value(p) for p in core_stores(row.studio).props]
    return work.begin(row.studio, KIND, row.pk, job, way)


def act_of(studio: Studio, row: Scene, work_id: int, number: int) -> dict[str, Any]:
    """One of what was found, as the act that takes it. Raises FieldError where it is not there any more."""
    found = work.one(studio, KIND, row.pk, work_id)
    told = [] if found is None else json.loads(found.told)
    if not 0 <= number < len(told):
        raise FieldError("proposal", "must be one that is shown; look for arrangements once more", show_got=False)
    return _act_in(told[number])


def _act_in(told: dict[str, Any]) -> dict[str, Any]:
    if "act" in told:
        return dict(told["act"])
    return _act(tuple((i, (x, y, turn)) for i, x, y, turn in told["leads"])) | {"scheme": told["scheme"]}


def _act(leads: Leads) -> dict[str, Any]:
    places = [{"x": x, "y": y, "turn": turn} for _, (x, y, turn) in leads]
    return {"act": "arrange", "placements": [i for i, _ in leads], "places": places}


def strip(row: Scene, setup: str, found: Work, unit: str) -> list[Shown]:
    """What there is so far, drawn in the scene as it is now; what no longer fits it is left out."""
    scene, now = core_scene(row), picture_of(row, setup)
    name = setup if any(s.name == setup for s in scene.setups) else scene.setups[0].name
    shown = []
    for k, told in enumerate(json.loads(found.told)):
        leads = tuple((i, (x, y, turn)) for i, x, y, turn in told["leads"])
        frame = _frame(scene, name, json.dumps(_act_in(told)), row.studio_id, k)
        if frame is not None:
            places = json.dumps({i: place for i, place in leads})
            strong, weak = (tuple(told_words(now, t, unit) for t in told[key]) for key in ("strengths", "weaknesses"))
            ghost = _ghost(scene, name, told["act"]) if "act" in told else ""
            shown.append(Shown(k, told["said"], strong, weak, frame, places, ghost))
    return shown


def _ghost(scene: model.Scene, setup: str, act: dict[str, Any]) -> str:
    after = unproven(scene, act_from_value({**act, "setup": setup})).scene
    return json.dumps(ghost_of(Picture(scene, scene.setup(setup)), after))


@counted(64)
def _frame(scene: model.Scene, setup: str, act: str, studio_id: int, number: int) -> dict[str, Any] | None:
    try:
        after = unproven(scene, act_from_value({**json.loads(act), "setup": setup})).scene
    except TideflatError:
        return None
    return frame_drawing(Picture(after, after.setup(setup), SkinBook(studio_id)), prefix=f"y{number}", live=False, detail=SMALL)
