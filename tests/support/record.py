"""What the core says of many tables, put down so that a change of any of it is seen: `make record` writes it, tests/core/test_record.py compares.

The record holds no truth of its own: what is right is proven elsewhere, by hand, by property and against outside references. It tells
whoever changes a rule, a formula or the order in which remedies are tried, all that changes with it.
"""

from __future__ import annotations

import json
import random
import zlib
from collections.abc import Iterator
from itertools import islice
from pathlib import Path
from typing import Any

from tests.support.acts import chance_act, chance_scene
from tests.support.chance import table_value
from tideflat.core.acts.registry import act_from_value, act_value, perform
from tideflat.core.camera.guides import projected_line, surface_thirds
from tideflat.core.camera.hiding import painting_order
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import findings
from tideflat.core.formats.ground_reader import surface_from_value
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Lens, Scene
from tideflat.core.remedies.candidate import NamedLens, Stores
from tideflat.core.remedies.patch import patch
from tideflat.core.remedies.search import candidates, remedy_for
from tideflat.core.report import evaluation
from tideflat.web.scenes.starters import starter
from tideflat.web.stores.starter import SURFACES, starter_prop, starter_surface
from tideflat.web.stores.starter_props import PROPS

FOLDER = Path(__file__).parents[1] / "data" / "record"
TABLES = tuple(range(1, 49))
HANDS = tuple(range(1, 61))
PROVEN = ("marmalade", "supper", "tea", "fig")
_MOST_CANDIDATES, _ACTS = 40, 12


def _rounded(value: Any) -> Any:
    """Numbers to six digits: what differs between machines is less."""
    if isinstance(value, float):
        return float(f"{value:.6g}") + 0.0
    if isinstance(value, dict):
        return {k: _rounded(v) for k, v in value.items()}
    return [_rounded(v) for v in value] if isinstance(value, list | tuple) else value


def _stores() -> Stores:
    keys = [row["key"] for row in PROPS][::3]
    surfaces = tuple(surface_from_value(starter_surface(row["name"])) for row in SURFACES)
    lenses = tuple(NamedLens(f"{f} mm", Lens(focal_length=f, max_aperture=2.8, min_aperture=22, min_focus=8 * f)) for f in (24.0, 35.0, 70.0, 100.0))
    return Stores(tuple(starter_prop(k) for k in keys), surfaces, lenses)


def _finding_row(found: Finding) -> list[Any]:
    mark = [list(found.mark.frame), list(found.mark.table)]
    return [
        found.code,
        found.severity,
        list(found.placements),
        found.crop,
        found.measure,
        found.limit,
        list(found.sides),
        found.message,
        mark,
    ]


def numbers_of(scene: Scene) -> dict[str, Any]:
    """Everything `tideflat evaluate` prints but the findings."""
    report = evaluation(scene, with_remedies=False)["setups"]
    return _rounded({name: {k: v for k, v in setup.items() if k != "findings"} for name, setup in report.items()})


def judged_table(seed: int) -> dict[str, Any]:
    """Numbers, findings, and for each kind of finding what would be tried, in order."""
    scene = scene_from_value(table_value(seed))
    stores = _stores()
    said: dict[str, Any] = {}
    for setup in scene.setups:
        picture = Picture(scene, setup)
        found = findings(picture)
        first = {f.code: f for f in reversed(found)}
        said[setup.name] = {
            "painted": painting_order(
                tuple(picture.silhouettes), picture.hiding.in_front, {i: s.depth[0] for i, s in picture.silhouettes.items()}
            ),
            "thirds": [projected_line(picture.view, (*a, 0.0), (*b, 0.0)) for a, b in surface_thirds(picture.scene.surface)],
            "findings": [_finding_row(f) for f in found],
            "tried": {
                code: [_tried(c) for c in islice(candidates(picture, f, stores), _MOST_CANDIDATES)] for code, f in sorted(first.items())
            },
        }
    return {"numbers": numbers_of(scene), "judged": _rounded(said)}


def _tried(candidate: Any) -> list[Any]:
    """Its figures, and a sum over its acts, which are too long to keep."""
    acts = json.dumps([act_value(a) for a in candidate.acts])
    return [candidate.kind, *(v for _, v in candidate.figures), candidate.sentence[:40], zlib.crc32(acts.encode())]


def proven_remedies(kind: str) -> list[Any]:
    """Each finding of a starter scene with the remedy that is found for it."""
    scene = starter(kind)
    rows = []
    for setup in scene.setups:
        picture = Picture(scene, setup)
        for found in findings(picture):
            remedy = remedy_for(picture, found)
            rows.append([setup.name, *_finding_row(found), None if remedy is None else [remedy.kind, dict(remedy.figures)]])
    return _rounded(rows)


def acts_done(seed: int) -> list[Any]:
    """A dozen acts one after the other on a table by chance, each with the words' figures and what it changed, or why it cannot be done."""
    hand = random.Random(seed)
    scene = chance_scene(hand)
    return _rounded([_done(step) for step in _steps(hand, scene)])


def _steps(hand: random.Random, scene: Scene) -> Iterator[tuple[dict[str, Any], Any, Any]]:
    for _ in range(_ACTS):
        value = chance_act(hand, scene)
        try:
            done = perform(scene, act_from_value(value))
        except FieldError as error:
            yield value, str(error), None
            continue
        yield value, {"code": done.code, **dict(done.figures)}, patch(scene, done.scene)
        scene = done.scene


def _done(step: tuple[dict[str, Any], Any, Any]) -> Any:
    value, said, changed = step
    return [value["act"], said, changed]
