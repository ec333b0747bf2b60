"""A database made by the version landed in November 2026 (tests/data) opens with every scene, every step, and what was meant."""

from __future__ import annotations

import gzip
import json
import os
import sqlite3
import subprocess
import sys
import zlib
from pathlib import Path

import pytest

from tideflat.core.formats.older_rules import with_meant
from tideflat.core.formats.scene_reader import scene_from_value

LANDED = Path(__file__).parents[1] / "data" / "landed_2026_11.sqlite3.gz"
#: Run in a process of its own, on a copy of that database: this one's settings belong to another.
STEPS = """
import json, zlib, django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0, interactive=False)
from tideflat.web.accounts.models import Studio
from tideflat.web.scenes.models import Change, Scene
from tideflat.web.scenes.services.acting import performed
from tideflat.web.scenes.services.history import change_scene, core_scene, go_to, redo, undo
from tideflat.web.scenes.steps import names_around, steps_of
studio = Studio.objects.get()
row = Scene.objects.get(title="Marmalade morning")
begun = {"document": row.document, "position": row.position, "names": names_around(row, "mm"), "day": str(row.shoot_on)}
been = {}
for number in [*range(14), row.position]:
    row = go_to(studio, row.pk, row.revision, number)
    core_scene(row)
    been[number] = row.document
walked = [row.document]
while (back := undo(studio, row.pk, row.revision)).position != row.position:
    row = back
    walked.append(row.document)
ahead = redo(studio, row.pk, row.revision).document
row = go_to(studio, row.pk, Scene.objects.get(pk=row.pk).revision, 10)
row, step, _, _ = change_scene(studio, row.pk, row.revision, None, lambda s: performed(s, {"act": "turn", "placement": "p1", "turn": 9}))
print(json.dumps({
    "begun": begun, "been": been, "walked": walked, "ahead": ahead, "titles": sorted(Scene.objects.values_list("title", flat=True)),
    "branch": [step.number, step.parent, Change.objects.filter(scene=row).count()],
    "words": [s.words for s in steps_of(row, "mm", with_setup=True)][::-1],
}))
"""


@pytest.fixture(scope="module")
def opened(tmp_path_factory):
    """(what the landed version kept, what this one makes of it)."""
    path = tmp_path_factory.mktemp("landed") / "kept.sqlite3"
    path.write_bytes(gzip.decompress(LANDED.read_bytes()))
    with sqlite3.connect(path) as raw:
        row = raw.execute("SELECT id, document, accepted, position FROM scenes_scene WHERE title = 'Marmalade morning'").fetchone()
        steps = raw.execute("SELECT number, label, state FROM scenes_change WHERE scene_id = ? ORDER BY number", row[:1]).fetchall()
    raw.close()
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "tideflat.web.settings.demo", "TIDEFLAT_DATABASE": str(path), "TIDEFLAT_VAR": str(path.parent)}
    said = subprocess.run([sys.executable, "-c", STEPS], env=environment, capture_output=True, text=True, timeout=120)
    assert said.returncode == 0, said.stderr
    return (row, steps), json.loads(said.stdout.splitlines()[-1])


def _merged(document: str, accepted: list) -> dict:
    return with_meant(json.loads(document), accepted)


def test_every_step_is_there_with_its_words_and_can_be_gone_back_to(opened):
    (_, steps), now = opened
    assert len(steps) == 14 and now["titles"] == ["An empty table", "Marmalade morning"]
    assert now["words"][:14] == [label for _, label, _ in steps]
    for number, _, state in steps:
        kept = json.loads(zlib.decompress(state))
        assert json.loads(now["been"][str(number)]).get("meant", []) == _merged(kept["document"], kept["accepted"])["meant"], number
        assert scene_from_value(json.loads(now["been"][str(number)])) == scene_from_value(_merged(kept["document"], kept["accepted"]))


def test_the_scene_stands_where_it_stood_and_undo_and_redo_lead_where_they_led(opened):
    (row, steps), now = opened
    assert now["begun"]["position"] == row[3] == 10 and now["begun"]["day"] == "2026-12-03"
    assert now["begun"]["names"] == [steps[10][1], steps[11][1]]
    assert len(now["walked"]) == 11 and now["walked"][-1] == now["been"]["0"] and now["ahead"] == now["been"]["1"]
    assert now["branch"] == [14, 10, 15]


def test_what_was_meant_is_meant_by_set_up_code_and_placements_with_every_reason(opened):
    (row, _), now = opened
    accepted = json.loads(row[2])
    meant = json.loads(now["begun"]["document"])["meant"]
    assert {(m["setup"], m["code"], tuple(m["placements"])) for m in meant} == {
        (a["setup"], a["key"].split("|")[0], tuple(a["key"].split("|")[2:])) for a in accepted
    }
    assert {m["reason"] for m in meant} == {"the words go elsewhere", "", "they belong together", "on purpose"}


def test_findings_that_differed_by_their_crop_become_one_and_what_is_gone_is_left_out():
    document = {"setups": [{"name": "main"}], "placements": [{"id": "p1"}]}
    accepted = [
        {"setup": "main", "key": "edge.sliver|feed|p1", "reason": "so"},
        {"setup": "main", "key": "edge.sliver|story|p1", "reason": "and so"},
        {"setup": "main", "key": "edge.sliver||p1", "reason": "so"},
        {"setup": "gone", "key": "edge.sliver|feed|p1", "reason": "x"},
        {"setup": "main", "key": "edge.sliver|feed|p9", "reason": "x"},
        {"setup": "main", "key": "copy.illegible|feed", "reason": "r" * 400},
    ]
    meant = with_meant(document, accepted)["meant"]
    assert meant[0] == {"setup": "main", "code": "edge.sliver", "placements": ["p1"], "reason": "so; and so"}
    assert meant[1]["placements"] == [] and len(meant[1]["reason"]) == 300 and len(meant) == 2
