"""The page by which a scene is built, the job that works out drifts, and `tideflat build`."""

from __future__ import annotations

import html
import json
from pathlib import Path

import pytest

from tests.web.test_proposing import NoThread
from tideflat.cli import main
from tideflat.core.acts.putting_in import Add
from tideflat.core.acts.registry import tried
from tideflat.core.arrange.building import TO_BORROW, to_borrow
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import write_scene
from tideflat.core.model import Colour, Prop
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.web.scenes.building import held_words
from tideflat.web.scenes.models import Scene
from tideflat.web.scenes.services.history import begin_scene
from tideflat.web.scenes.starters import starter
from tideflat.web.work import services
from tideflat.web.work.models import Work


@pytest.fixture
def row(studio, monkeypatch) -> Scene:
    NoThread.jobs.clear()
    monkeypatch.setattr(services.threading, "Thread", NoThread)
    return begin_scene(studio, starter("fig"), None, "laid out")


def page_of(client, row, **asked) -> str:
    return html.unescape(client.get(f"/scenes/{row.pk}/build/", asked).content.decode()).replace("\u202f", " ").replace("\u00a0", " ")


def test_steps_are_numbered_and_measured_from_edges_or_a_cross_in_the_persons_unit(row, ada, vic):
    page = page_of(ada, row)
    assert page.count('class="build-number"') == 8 and "392 mm left" in page and "Work out how far" in page
    crossed = page_of(ada, row, cross_x="40 cm", cross_y="200")
    assert "8 mm left" in crossed and "build-cross" in crossed
    wrong = page_of(ada, row, cross_x="wide", cross_y="2")
    assert 'role="alert"' in wrong and "392 mm left" in wrong
    assert "Work out how far" not in page_of(vic, row)


def test_drifts_are_worked_out_once_for_a_state_and_told_as_they_come(row, ada, vic):
    assert vic.post(f"/scenes/{row.pk}/build/drift/").status_code == 403
    assert "<progress" in ada.post(f"/scenes/{row.pk}/build/drift/").content.decode()
    ada.post(f"/scenes/{row.pk}/build/drift/")
    assert len(NoThread.jobs) == 1 and Work.objects.count() == 1
    _, (pk, kind, job) = NoThread.jobs[-1]
    services._work(pk, kind, {**job, "ids": job["ids"][:2]})
    assert Work.objects.get().state == Work.DONE
    page = page_of(ada, row, part="1")
    assert "a sliver at an edge" in page and "<progress" not in page and "fussy" in page and "<html" not in page
    ada.post(f"/scenes/{row.pk}/do/move/", {"revision": 1, "id": "leaf-1", "x": 300, "y": 200, "z": 0})
    assert "a sliver at an edge" not in page_of(ada, row)  # another state has other answers


@pytest.fixture
def document(tmp_path: Path) -> Path:
    path = tmp_path / "fig.tideflat.json"
    path.write_bytes(write_scene(starter("fig")))
    return path


def test_the_command_prints_steps_and_drifts(document, capsys):
    assert main(["build", str(document), "--drift", "no", "--cross=100,50"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert len(said["steps"]) == 8 and said["fussiest"] == [] and {s["across_from"] for s in said["steps"]} == {"the cross"}
    value = json.loads(document.read_bytes())
    value["placements"] = value["placements"][:2]
    document.write_text(json.dumps(value))
    assert main(["build", str(document)]) == 0
    said = json.loads(capsys.readouterr().out)
    assert set(said["steps"][0]["drift"]["ways"]) == {str(w) for w in range(0, 360, 45)} and len(said["fussiest"]) <= 3


def test_what_the_stores_do_not_have_is_on_the_list_to_borrow(document, capsys, studio, ada):
    scene = starter("fig")
    picture = Picture(scene, scene.setups[0])
    missing = Prop("missing", "a low matte round thing", Cylinder(60, 20), (Colour("#2b2a29", 1.0),), material=TO_BORROW)
    with_two = tried(scene, [Add(prop=missing, x=300, y=200), Add(prop=missing, x=420, y=200)])
    assert to_borrow(picture) == ()
    (wanted,) = to_borrow(Picture(with_two, with_two.setups[0]))
    assert (wanted.count, wanted.prop.name) == (2, "a low matte round thing")
    document.write_bytes(write_scene(with_two))
    assert main(["build", str(document), "--drift", "no"]) == 0
    (said,) = json.loads(capsys.readouterr().out)["to_borrow"]
    assert said == {"name": "a low matte round thing", "count": 2, "sides": [60, 60, 20], "hex": "#2b2a29", "finish": "matte"}
    row = begin_scene(studio, with_two, None, "laid out")
    page = page_of(ada, row)
    assert "To borrow" in page and "2 × a low matte round thing: about 60 mm × 60 mm × 20 mm" in page
    one = begin_scene(studio, scene, None, "laid out")
    assert "To borrow" not in page_of(ada, one)


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (["--cross", "3"], "--cross: must be x,y"),
        (["--cross", "3,nan"], "--cross: must be at most"),
        (["--drift", "maybe"], "--drift: must be yes or no"),
        (["--setup", "none such"], "--setup: must be one of"),
        (["--seed", "3"], "--seed: must be one of"),
        (["another.json"], "must be one scene document"),
    ],
)
def test_what_cannot_be_used_is_one_line_and_exit_2(document, capsys, more, said):
    assert main(["build", str(document), *more]) == 2
    told = capsys.readouterr()
    assert said in told.err and told.err.count("\n") == 1 and told.out == ""


@pytest.mark.parametrize(
    ("mm", "unit", "said"),
    [(2.96, "mm", "2.9 mm"), (26.78, "mm", "26.7 mm"), (0.2, "mm", "0.2 mm"), (1.39, "cm", "0.13 cm"), (1.3, "in", "0.05 in"), (25.4, "in", "1.00 in")],
)
def test_how_far_it_may_drift_is_never_told_larger_than_it_holds(mm, unit, said):
    assert held_words(mm, unit) == said


def test_a_cross_of_any_length_of_text_is_answered_with_a_sentence(row, ada):
    answer = ada.get(f"/scenes/{row.pk}/build/", {"cross_x": "9" * 5000, "cross_y": "x" * 5000})
    assert answer.status_code == 200 and 'role="alert"' in answer.content.decode()
