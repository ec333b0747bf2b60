"""`tideflat light` and `tideflat proof`: what they print and write, and how they refuse."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest

from tests.support.lit import LAMP, picture, table, thing
from tideflat.cli import main

BOX = {"kind": "box", "width": 120, "depth": 80, "height": 60}


@pytest.fixture
def scene(tmp_path: Path) -> Path:
    things = [
        thing(1, BOX, 450, 300, role="hero", turn=25),
        thing(2, {"kind": "sphere", "diameter": 70}, 250, 200),
        thing(3, {"kind": "bowl", "diameter": 140, "base_diameter": 70, "height": 50}, 680, 380),
    ]
    file = tmp_path / "scene.tideflat.json"
    file.write_text(json.dumps(table([LAMP], things, camera={"elevation": 55, "distance": 1300})))
    return file


def refused(capsys: pytest.CaptureFixture[str], *arguments: Any) -> str:
    assert main([str(a) for a in arguments]) == 2
    out, err = capsys.readouterr()
    assert out == "" and err.count("\n") == 1
    return err


def test_light_prints_one_set_up_or_all(scene: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["light", str(scene)]) == 0
    told = json.loads(capsys.readouterr().out)["setups"]["main"]
    assert set(told) == {"points", "falloff_stops", "key", "key_to_fill_stops", "kelvin_at_hero", "shadows", "mirrors", "sun"}
    assert told["key"] == "lamp" and len(told["points"]) == 3 and len(told["shadows"]) == 3 and told["sun"] is None
    assert main(["light", str(scene), "--setup=main", "--at", "1,2,3", "4,5,6", "--at=-7,8,0"]) == 0
    points = json.loads(capsys.readouterr().out)["setups"]["main"]["points"]
    assert [p["at"] for p in points] == [[1, 2, 3], [4, 5, 6], [-7, 8, 0]]


def test_without_light_it_says_nothing_of_it(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "dark.tideflat.json"
    for lights in ([], [{**LAMP, "on": False}]):
        file.write_text(json.dumps(table(lights, [thing(1, BOX, 450, 300, role="hero")])))
        assert main(["light", str(file)]) == 0
        told = json.loads(capsys.readouterr().out)["setups"]["main"]
        assert (told["key"], told["kelvin_at_hero"], told["falloff_stops"], told["key_to_fill_stops"]) == (None,) * 4
        assert told["points"][0]["stops"] is None and told["shadows"] == []


def test_what_is_wrong_is_one_line(scene: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert "usage" in refused(capsys, "light")
    assert "usage" in refused(capsys, "light", scene, scene)
    assert "--setup: must be one of main" in refused(capsys, "light", scene, "--setup", "other")
    for at in ("1,2", "1,2,3,4", "a,b,c", "1e6,0,0", "nan,0,0", ""):
        assert "--at: must be x,y,z" in refused(capsys, "light", scene, f"--at={at}")
    assert "at most 1000 times" in refused(capsys, "light", scene, *(["--at", "1,1,0"] * 1001))
    assert "must be one of --setup" in refused(capsys, "light", scene, "--bright", "1")
    assert "can be read" in refused(capsys, "light", tmp_path / "none.json")
    (tmp_path / "bad.json").write_text(json.dumps(table([{**LAMP, "kelvin": 1}])))
    assert "lights[0].kelvin" in refused(capsys, "light", tmp_path / "bad.json")
    out = tmp_path / "p.png"
    assert "usage" in refused(capsys, "proof", scene)
    assert "-o: must be a file that ends in .png" in refused(capsys, "proof", scene, "-o", tmp_path / "p.jpg")
    assert "--width: must be a whole number from 16 to 4096" in refused(capsys, "proof", scene, "-o", out, "--width", "15")
    assert "--width: must be" in refused(capsys, "proof", scene, "-o", out, "--width", "4097")
    assert "--samples: must be a whole number from 1 to 4096" in refused(capsys, "proof", scene, "-o", out, "--samples", "0")
    assert "--masks: must be another file" in refused(capsys, "proof", scene, "-o", out, "--masks", out)
    assert "--masks: must be a file that ends in .png" in refused(capsys, "proof", scene, "-o", out, "--masks", "m.tif")
    assert not out.exists()


def test_a_proof_and_its_masks(scene: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Each thing that is wholly seen lies within a pixel of the box that evaluate prints, at 720 pixels across."""
    pytest.importorskip("mitsuba")
    out, masks = tmp_path / "p.png", tmp_path / "m.png"
    assert main(["proof", str(scene), "-o", str(out), "--width", "720", "--samples", "1", "--masks", str(masks)]) == 0
    assert capsys.readouterr() == ("", "")
    proof, mask = (cv2.imread(str(f), cv2.IMREAD_UNCHANGED) for f in (out, masks))
    assert proof.shape == (480, 720, 3) and proof.dtype == np.uint8 and proof.std() > 5
    assert mask.shape == (480, 720) and mask.dtype == np.uint16 and set(np.unique(mask)) == {0, 1, 2, 3}
    seen = picture(json.loads(scene.read_text())).things
    for k, i in enumerate(("p1", "p2", "p3"), 1):
        rows, columns = np.nonzero(mask == k)
        box = seen[i].box
        assert box is not None
        found = (columns.min(), rows.min(), columns.max() + 1, rows.max() + 1)
        assert np.abs(np.array(found) - np.array(box) * [720, 480, 720, 480]).max() < 1


def test_a_scene_without_light_has_a_window_and_it_is_said(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    pytest.importorskip("mitsuba")
    file = tmp_path / "dark.tideflat.json"
    file.write_text(json.dumps(table([], [thing(1, BOX, 450, 300, role="hero")])))
    assert main(["proof", str(file), "-o", str(tmp_path / "p.png"), "--width", "60", "--samples", "1"]) == 0
    assert "none are decided" in capsys.readouterr().err
    assert cv2.imread(str(tmp_path / "p.png")).max() > 30


def test_without_the_renderer_it_says_how_it_is_installed(
    scene: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(__import__("sys").modules, "mitsuba", None)
    assert "make proof-parts" in refused(capsys, "proof", scene, "-o", tmp_path / "p.png")
    assert not (tmp_path / "p.png").exists()
