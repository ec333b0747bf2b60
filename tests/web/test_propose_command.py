"""`tideflat propose`: what it prints, and what it says of what cannot be used."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tideflat.cli import main
from tideflat.core.arrange import propose as proposing
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import scene_value, write_scene
from tideflat.core.model import Scheme
from tideflat.web.scenes.starters import starter

WHOLE = proposing.propose


@pytest.fixture
def document(tmp_path: Path) -> Path:
    path = tmp_path / "marmalade.tideflat.json"
    path.write_bytes(write_scene(starter("marmalade")))
    return path


@pytest.fixture(autouse=True)
def quick(monkeypatch):
    """A shorter search: what is printed is what is tested here."""
    whole = proposing.propose
    monkeypatch.setattr(proposing, "propose", lambda picture, **wish: whole(picture, **{**wish, "effort": 0.2, "helpers": 1, "is_polished": False}))


def test_it_prints_arrangements_that_a_document_can_hold(document, capsys):
    assert main(["propose", str(document), "--count", "2", "--scheme=any", "--seed", "5"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert set(said) == {"proposals", "seconds"} and 1 <= len(said["proposals"]) <= 2
    scene = json.loads(document.read_bytes())
    for p in said["proposals"]:
        assert set(p) == {"scheme", "placements", "energy", "strengths", "weaknesses"}
        moved = scene_value(starter("marmalade"))
        for placement in moved["placements"]:
            placement.update(p["placements"].get(placement["id"], {}))
        assert scene_from_value(moved)
        assert set(p["placements"]) <= {q["id"] for q in scene["placements"]}
        assert all(set(q) == {"x", "y", "z", "turn", "lean", "on"} for q in p["placements"].values())


def test_the_command_itself_searches_in_two_processes_and_finds_what_one_does(document):
    command = [sys.executable, "-m", "tideflat.cli", "propose", str(document), "--count", "2", "--scheme", "diagonal", "--seed", "9"]
    said = json.loads(subprocess.run(command, capture_output=True, text=True, timeout=120, check=True).stdout)
    scene = starter("marmalade")
    found = WHOLE(Picture(scene, scene.setups[0]), scheme=Scheme("diagonal"), count=2, seed=9)
    assert said["proposals"] == [p.value() for p in found.proposals] != []


def test_a_wish_that_cannot_be_met_is_no_error(document, capsys, tmp_path):
    value = json.loads(document.read_bytes())
    for p in value["placements"]:
        p["locked"] = True
    document.write_text(json.dumps(value))
    assert main(["propose", str(document)]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["proposals"] == [] and "locked" in said["reason"]


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["--count", "0"], "--count: must be a whole number from 1 to 24"),
        (["--count", "25"], "--count"),
        (["--count"], "--count"),
        (["--seed", "-1"], "--seed"),
        (["--seed", "4294967296"], "--seed"),
        (["--together", "perhaps"], "--together: must be yes or no"),
        (["--scheme", "star"], "--scheme: must be any, or one of crescent"),
        (["--setup", "nowhere"], "--setup: must be one of from above, upright with words"),
        (["--colour", "1"], "--colour: must be one of --setup"),
        (["--seed", "1", "--seed", "2"], "--seed"),
        (["another.json"], "arguments: must be one scene document"),
    ],
)
def test_what_cannot_be_used_is_one_line_and_exit_2(document, capsys, arguments, said):
    assert main(["propose", str(document), *arguments]) == 2
    out = capsys.readouterr()
    assert out.out == "" and out.err.count("\n") == 1 and out.err.startswith(said)


def test_a_document_that_is_none_is_told_with_its_path(tmp_path, capsys):
    path = tmp_path / "x.json"
    path.write_text('{"format": "tideflat-scene", "version": 1, "placements": 3}')
    assert main(["propose", str(path)]) == 2 and "placements" in capsys.readouterr().err
    assert main(["propose", str(tmp_path / "none.json")]) == 2 and "must be a file" in capsys.readouterr().err


def test_the_edges_of_count_and_seed_are_taken(document, capsys):
    assert main(["propose", str(document), "--count", "1", "--seed", "4294967295", "--setup", "upright with words", "--scheme", "arc"]) == 0
    assert len(json.loads(capsys.readouterr().out)["proposals"]) <= 1
