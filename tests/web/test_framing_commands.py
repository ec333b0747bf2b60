"""The commands `fit`, `lenses` and `overlay` as people type them: what they print, what they refuse, and that nothing is half written."""

from __future__ import annotations

import json

import pytest
from PIL import Image

from tests.support.scenes import scene_value
from tideflat.cli import main


@pytest.fixture
def scene(tmp_path):
    path = tmp_path / "scene.tideflat.json"
    path.write_text(json.dumps(scene_value(elevation=60)))
    return str(path)


def told(capsys) -> dict:
    return json.loads(capsys.readouterr().out)


def test_fit_prints_a_camera_that_the_document_takes(scene, capsys, tmp_path):
    assert main(["fit", scene, "--group", "p1,p2", "--crop", "feed", "--share", "0.9"]) == 0
    camera = told(capsys)
    assert "reason" not in camera
    value = scene_value(elevation=60)
    assert set(camera) >= set(value["setups"][0]["camera"])
    value["setups"][0]["camera"] = camera
    other = tmp_path / "fitted.json"
    other.write_text(json.dumps(value))
    assert main(["evaluate", str(other), "--no-remedies"]) == 0
    boxes = [told(capsys)["setups"]["main"]]
    box = [boxes[0]["placements"][i]["box"] for i in ("p1", "p2")]
    crop = boxes[0]["crops"]["feed"]
    room = [crop["box"][0], crop["copy_space"][3], crop["box"][2], crop["box"][3]]
    left, top = min(b[0] for b in box), min(b[1] for b in box)
    right, bottom = max(b[2] for b in box), max(b[3] for b in box)
    assert (left + right) / 2 == pytest.approx((room[0] + room[2]) / 2, abs=1e-4)
    assert (top + bottom) / 2 == pytest.approx((room[1] + room[3]) / 2, abs=1e-4)
    assert max((right - left) / (room[2] - room[0]), (bottom - top) / (room[3] - room[1])) == pytest.approx(0.9, abs=1e-4)


def test_a_wish_that_cannot_be_met_is_no_error(scene, capsys):
    assert main(["fit", scene, "--group=p1", "--crop=feed", "--share=1"]) == 0
    value = told(capsys)
    assert "focuses no nearer" in value["reason"] and value["code"] == "lens.min_focus" and 0 < value["share"] < 1


def test_lenses_prints_a_row_for_each_with_the_keys_that_are_published(scene, capsys, tmp_path):
    assert main(["lenses", scene, "--setup", "main"]) == 0
    rows = told(capsys)["rows"]
    keys = {"body", "lens", "focal_length", "distance", "height_above_floor", "ceiling_clearance", "magnification", "stretch", "backdrop_width", "enlargement", "walls"}
    assert len(rows) == 42 and all(keys <= set(r) for r in rows)
    kit = tmp_path / "kit.json"
    kit.write_text(json.dumps({"bodies": [{"name": "b", "width": 36, "height": 24}], "lenses": [{"name": "50", "focal_length": 50}]}))
    assert main(["lenses", scene, "--kit", str(kit)]) == 0
    (row,) = told(capsys)["rows"]
    assert row["distance"] == pytest.approx(1100) and row["lens"] == "50"


@pytest.mark.parametrize("name", ["over.png", "over.svg"])
def test_overlay_writes_the_file_and_prints_nothing(scene, capsys, tmp_path, name):
    out = tmp_path / name
    assert main(["overlay", scene, "--crop", "feed", "--pixels", "1500x1000", "-o", str(out)]) == 0
    assert capsys.readouterr().out == ""
    if name.endswith("png"):
        with Image.open(out) as image:
            assert image.size == (1500, 1000) and image.mode == "RGBA"
    else:
        assert out.read_text().startswith("<svg")


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["fit", "SCENE"], "arguments: must be one scene document and a --group"),
        (["fit", "SCENE", "--group", "nobody"], "--group: must be things in the picture"),
        (["fit", "SCENE", "--group", ","], "--group: must name one thing"),
        (["fit", "SCENE", "--group", "p1", "--crop", "poster"], "--crop: must be one of the set-up's deliverables: feed"),
        (["fit", "SCENE", "--group", "p1", "--share", "0"], "--share: must be a number from 0.01 to 1"),
        (["fit", "SCENE", "--group", "p1", "--share", "nan"], "--share: must be a number"),
        (["fit", "SCENE", "--group", "p1", "--setup", "none"], "--setup: must be one of main"),
        (["fit", "nowhere.json", "--group", "p1"], "nowhere.json: must be a file that can be read"),
        (["lenses", "SCENE", "--kit", "nowhere.json"], "nowhere.json: must be a file that can be read"),
        (["lenses", "SCENE", "--kit", "BROKEN"], "bodies[0].width: must be given"),
        (["lenses", "SCENE", "--kit", "CLASHING"], "lenses[0].min_focus: must go with max_magnification"),
        (["lenses"], "arguments: must be one scene document"),
        (["overlay", "SCENE", "--pixels", "600x400"], "arguments: must be one scene document, --pixels and -o"),
        (["overlay", "SCENE", "--pixels", "600x600", "-o", "OUT.png"], "--pixels: must have the frame's own shape"),
        (["overlay", "SCENE", "--pixels", "20000x13334", "-o", "OUT.png"], "--pixels: must be at most 100 megapixels"),
        (["overlay", "SCENE", "--pixels", "wide", "-o", "OUT.png"], "--pixels: must be WIDTHxHEIGHT"),
        (["overlay", "SCENE", "--pixels", "600x400", "-o", "OUT.gif"], "-o: must be a file that ends in .png or .svg"),
        (["overlay", "SCENE", "--pixels", "600x400", "--parts", "ink", "-o", "OUT.png"], "--parts: must be of crops"),
        (["overlay", "SCENE", "--pixels", "600x400", "-o", "nowhere/OUT.png"], "must be a file that can be written"),
    ],
)
def test_what_cannot_be_done_is_one_line_exit_two_and_no_file(scene, capsys, tmp_path, monkeypatch, arguments, says):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "broken.json").write_text(json.dumps({"bodies": [{"name": "b"}]}))
    clash = {"bodies": [{"name": "b", "width": 36, "height": 24}], "lenses": [{"name": "l", "focal_length": 100, "min_focus": 900, "max_magnification": 1}]}
    (tmp_path / "clash.json").write_text(json.dumps(clash))
    filled = {"SCENE": scene, "BROKEN": "broken.json", "CLASHING": "clash.json"}
    before = set(tmp_path.iterdir())
    assert main([filled.get(a, a) for a in arguments]) == 2
    said = capsys.readouterr()
    assert says in said.err and said.out == "" and said.err.count("\n") == 1
    assert set(tmp_path.iterdir()) == before
