"""The command `tideflat apply`: all acts or none, the new document printed or put in place at once, one line for what is wrong."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests.support.acts import stacked_value
from tests.support.malformed import MALFORMED
from tideflat.cli import main
from tideflat.core.acts.registry import ACTS
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.formats.scene_writer import write_scene

ACTS_GIVEN = [{"act": "move", "placement": "jar", "x": 430, "y": 310}, {"act": "turn", "placement": "jar", "turn": 20, "setup": "upright", "only": True}]


@pytest.fixture
def files(tmp_path: Path) -> tuple[Path, Path, Path]:
    scene, acts, out = (tmp_path / name for name in ("s.tideflat.json", "acts.json", "out.tideflat.json"))
    scene.write_text(json.dumps(stacked_value()))
    acts.write_text(json.dumps(ACTS_GIVEN))
    return scene, acts, out


def test_the_new_document_is_printed_or_written_and_the_old_one_is_left(files, capfdbinary):
    scene, acts, out = files
    before = scene.read_bytes()
    assert main(["apply", str(scene), str(acts)]) == 0
    printed = capfdbinary.readouterr().out
    assert main(["apply", str(scene), str(acts), "-o", str(out)]) == 0
    assert capfdbinary.readouterr().out == b"" and out.read_bytes() == printed and scene.read_bytes() == before
    value = json.loads(printed)
    jar = next(p for p in value["placements"] if p["id"] == "jar")
    assert (jar["x"], jar["y"], jar["turn"]) == (430, 310, 0) and value["setups"][1]["differs"] == {"jar": {"turn": 20}}
    assert write_scene(read_scene(printed)) == printed
    assert main(["apply", "-o", str(scene), str(scene), str(acts)]) == 0  # onto itself, options first
    assert scene.read_bytes() == printed
    assert {p.name for p in scene.parent.iterdir()} == {p.name for p in files}


@pytest.mark.parametrize(
    ("content", "line"),
    [
        (b"{", "acts: must be JSON"), (b"{}", "acts: must be a list"), (b'[{"act": "move"}]', "acts[0].placement: must be given"),
        (b'[{"act": "title", "title": "x"}, {"act": "turn", "placement": "jar", "turn": 9999}]', "acts[1].turn: must be at least -3600 and at most 3600"),
        (b'[{"act": "turn", "placement": "jar", "turn": NaN}]', "acts[0].turn: must be a finite number"), (b"\xff", "acts: must be UTF-8"),
        (b'[{"act": "move", "act": "turn", "placement": "jar", "turn": 1}]', "acts[0].act: must be given once"),
    ],
)  # fmt: skip
def test_one_bad_act_and_nothing_is_written(files, capsys, content, line):
    scene, acts, out = files
    acts.write_bytes(content)
    out.write_text("kept")
    assert main(["apply", str(scene), str(acts), "-o", str(out)]) == 2
    said = capsys.readouterr()
    assert said.out == "" and said.err.startswith(line) and len(said.err.splitlines()) == 1 and out.read_text() == "kept"
    assert {p.name for p in scene.parent.iterdir()} == {p.name for p in files}


def test_bad_scenes_bad_files_and_bad_arguments_are_one_line_too(files, capsys, tmp_path):
    scene, acts, out = files
    scene.write_bytes(MALFORMED["NaN"][0])
    for arguments, line in (
        ([str(scene), str(acts)], "placements[0].x: must be"), (["/nowhere.json", str(acts)], "/nowhere.json: must be a file that can be read"),
        ([str(scene)], "arguments: must be"), ([str(scene), str(acts), "-o"], "arguments: must be"), ([str(scene), str(acts), "--fast"], "arguments: must be"),
        ([], "arguments: must be"),
    ):  # fmt: skip
        assert main(["apply", *arguments]) == 2
        said = capsys.readouterr()
        assert said.out == "" and said.err.startswith(line) and len(said.err.splitlines()) == 1
    scene.write_text(json.dumps(stacked_value()))
    assert main(["apply", str(scene), str(acts), "-o", str(tmp_path / "no" / "out.json")]) == 2
    assert "out.json: must be a file that can be written" in capsys.readouterr().err and not out.exists()


def test_the_list_names_every_act_with_its_schema_and_the_command_needs_no_database(tmp_path):
    clean = {k: v for k, v in os.environ.items() if not k.startswith("DJANGO")}
    said = subprocess.run([sys.executable, "-m", "tideflat.cli", "apply", "--list"], env=clean, capture_output=True, text=True, timeout=60, cwd=tmp_path)
    assert said.returncode == 0 and said.stderr == ""
    assert list(json.loads(said.stdout)["acts"]) == list(ACTS)


def test_a_remedy_that_evaluate_prints_is_applied_by_its_acts(tmp_path, capsys):
    value = stacked_value()
    value["placements"][5] |= {"x": 640, "y": 300}  # the orange into the jar
    scene, acts, out = (tmp_path / name for name in ("s.tideflat.json", "acts.json", "out.tideflat.json"))
    scene.write_text(json.dumps(value))
    assert main(["evaluate", str(scene)]) == 0
    findings = json.loads(capsys.readouterr().out)["setups"]["main"]["findings"]
    overlap = next(f for f in findings if f["code"] == "spacing.overlap")
    acts.write_text(json.dumps(overlap["remedy"]["acts"]))
    assert main(["apply", str(scene), str(acts), "-o", str(out)]) == 0
    assert main(["evaluate", str(out)]) == 0
    after = json.loads(capsys.readouterr().out)["setups"]["main"]["findings"]
    assert not [f for f in after if f["code"] == "spacing.overlap" and f["placements"] == overlap["placements"]]
