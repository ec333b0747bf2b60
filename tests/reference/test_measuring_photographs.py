"""What is measured in sixteen made-up photographs against the true sizes they were drawn from (ISO 216: A4 is 210 x 297 mm)."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

import cv2
import numpy as np
import pytest
import shapely
from PIL import Image

from tests.support.photographs import SHOTS, Shot, Thing, Window, _camera, _pixels, block, disc, leaf, photograph
from tideflat.cli import main
from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph, read_photograph
from tideflat.core.vision.measure import Measured, measure
from tideflat.core.vision.pose import pose_of
from tools.measuring_pictures import FOLDER

#: The sixteen are drawn so large, pixels: smaller than any phone's.
SIZE = (1280, 960)


@lru_cache(maxsize=32)
def _taken(name: str) -> np.ndarray:
    return photograph(replace(SHOTS[name], size=SIZE))


@lru_cache(maxsize=32)
def _measured(name: str) -> Measured:
    shot = SHOTS[name]
    assert shot.thing is not None
    return measure(Photograph(_taken(name)), shot.sheet, shot.thing.height)


def _true_size(shot: Shot) -> tuple[float, float]:
    assert shot.thing is not None
    longer, shorter = sorted(cv2.minAreaRect(shot.thing.outline.astype(np.float32))[1], reverse=True)
    return longer, shorter


def test_fifteen_of_sixteen_are_within_two_millimetres_or_two_per_cent_and_the_rest_say_so() -> None:
    right, wrong_but_sure = [], []
    for name, shot in SHOTS.items():
        found = _measured(name)
        pairs = zip((found.width_mm, found.depth_mm), _true_size(shot), strict=True)
        if all(abs(got - want) <= max(2.0, 0.02 * want) for got, want in pairs):
            right.append(name)
        elif found.is_sure:
            wrong_but_sure.append(name)
    assert len(SHOTS) == 16
    assert len(right) >= 15
    assert not wrong_but_sure


@pytest.mark.parametrize("name", ["orange disc on the sheet", "leaf on the sheet, overhead", "dark disc on letter"])
def test_outline_and_colours_are_the_things_own(name: str) -> None:
    shot, found = SHOTS[name], _measured(name)
    assert shot.thing is not None
    true, ours = shapely.Polygon(shot.thing.outline), shapely.Polygon(found.outline_mm)
    assert ours.area == pytest.approx(true.area, rel=0.03)
    assert abs(ours.centroid.x) < 0.1
    assert difference(found.colours[0][0], "#{:02x}{:02x}{:02x}".format(*shot.thing.colour)) < 4


def test_a_two_toned_thing_gives_both_its_colours_with_shares() -> None:
    found = _measured("biscuit on pale table")
    # the darker middle is half as wide, a quarter of the area; the rim of the outline is left out of the count
    assert [share for _, share in found.colours] == [pytest.approx(0.74, abs=0.05), pytest.approx(0.26, abs=0.05)]


def test_without_its_height_a_tall_thing_comes_out_too_large() -> None:
    """Similar triangles: a rim 60 mm up looks 1 / (1 - 60 / 673) larger from a lens 673 mm above the table."""
    name = "cup, 60 high, from above"
    flat = measure(Photograph(_taken(name)), "a4", 0)
    eye = 700 * np.cos(np.radians(16))
    assert flat.depth_mm / 84 == pytest.approx(eye / (eye - 60), abs=0.02)
    assert _measured(name).depth_mm == pytest.approx(84, abs=2)


def test_focal_length_and_lens_height_come_out_of_the_sheets_perspective() -> None:
    """Against the pinhole camera that the corners were projected with, and OpenCV's own pose."""
    shot = SHOTS["red box lid, tilted far"]
    camera = _camera(shot)
    corners = _pixels(camera, np.array([[-105, 148.5], [105, 148.5], [105, -148.5], [-105, -148.5]]), 0)
    pose = pose_of(corners, (210, 297), shot.size, None)
    focal = shot.focal / 36 * 2000
    assert pose.focal_px == pytest.approx(focal, rel=1e-3)
    inner = np.array([[focal, 0, 1000], [0, focal, 750], [0, 0, 1]])
    plane = np.array([[-105, 148.5, 0], [105, 148.5, 0], [105, -148.5, 0], [-105, -148.5, 0]])
    _, rvec, tvec = cv2.solvePnP(plane, corners, inner, None)
    eye = -cv2.Rodrigues(rvec)[0].T @ tvec[:, 0]
    assert pose.eye == pytest.approx(eye, abs=0.5)
    assert pose.tilt_deg == pytest.approx(35, abs=0.05)


def test_a_phones_image_turned_by_exif_measures_the_same(tmp_path, capsys) -> None:
    upright = Image.fromarray(_taken("orange disc on the sheet"))
    said = []
    for turn, orientation in ((0, 1), (90, 6), (270, 8)):
        exif = Image.Exif()
        exif[0x0112] = orientation
        file = tmp_path / f"phone{orientation}.jpg"
        upright.rotate(turn, expand=True).save(file, quality=92, exif=exif)
        assert main(["measure", str(file), "--sheet", "a4", "--height", "4"]) == 0
        said.append(json.loads(capsys.readouterr().out))
    assert all(s["sure"] and s["why"] is None for s in said)
    assert [s["width_mm"] for s in said] == [pytest.approx(said[0]["width_mm"], abs=0.5)] * 3  # JPEG blocks fall differently
    assert set(said[0]) == {"sheet", "width_mm", "depth_mm", "height_mm", "outline_mm", "colours", "shape", "error_mm", "sure", "why", "things"}


def test_of_several_things_the_largest_is_told_first_and_all_in_things(tmp_path, capsys) -> None:
    file = Path(__file__).parents[2] / "src/tideflat/web/stores/examples/five.jpg"
    assert main(["measure", str(file), "--height", "1"]) == 0
    said = json.loads(capsys.readouterr().out)
    truth = sorted(json.loads((FOLDER / "five.json").read_text())["things"], key=lambda t: -t["width_mm"] * t["depth_mm"])
    assert len(said["things"]) == 5 and {k: v for k, v in said.items() if k != "things"} == said["things"][0]
    flat = [(t, [o for o in said["things"] if abs(o["width_mm"] - t["width_mm"]) < 2 and abs(o["depth_mm"] - t["depth_mm"]) < 2.5]) for t in truth if t["height_mm"] < 4]
    assert sum(bool(found) for _, found in flat) >= 2  # the card and the leaf; the rest is higher than was said
    assert all(t["sure"] == (t["error_mm"] is not None) == (t["why"] is None) for t in said["things"])


def test_the_height_is_solved_from_a_second_photograph(tmp_path, capsys) -> None:
    """Similar triangles twice: nothing is said of the jar's height, and the first alone cannot be sure."""
    jar = replace(SHOTS["jar, 95 high, beside the sheet"], size=(1600, 1200), distance=760, tilt=26)
    files = []
    for k, walked in enumerate((jar.walked, jar.walked + 100)):
        files.append(str(tmp_path / f"{k}.png"))
        Image.fromarray(photograph(replace(jar, walked=walked, seed=k))).save(files[-1])
    assert not measure(read_photograph(Path(files[0]).read_bytes())).is_sure
    assert main(["measure", files[0], "--second", files[1]]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said["height_mm"] == pytest.approx(95, abs=2) and said["width_mm"] == pytest.approx(76, abs=1.5)
    assert main(["measure", files[0], "--second", "none.png"]) == 2 and "none.png: must be a file" in capsys.readouterr().err


def test_the_focal_length_a_camera_noted_is_used() -> None:
    data = io.BytesIO()
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0xA405] = 32
    Image.fromarray(_taken("leaf on the sheet, overhead")).save(data, "JPEG", exif=exif)
    assert read_photograph(data.getvalue()).focal_35mm == 32


def test_no_sheet_is_one_clear_line_and_exit_two(tmp_path, capsys) -> None:
    file = tmp_path / "bare.jpg"
    Image.fromarray(photograph(replace(SHOTS["orange disc on the sheet"], has_sheet=False, size=(900, 675)))).save(file)
    assert main(["measure", str(file)]) == 2
    said = capsys.readouterr()
    assert said.out == ""
    (line,) = said.err.splitlines()
    assert "four edges" in line
    assert "by hand" in line


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        (["--sheet", "a3"], "a4 or letter"),
        (["--height", "tall"], "--height"),
        (["--colour", "red"], "--colour"),
        ([], "one photograph"),
        (["no-such.jpg"], "can be read"),
    ],
)
def test_measure_refuses_in_one_line(arguments, word, tmp_path, capsys) -> None:
    file = tmp_path / "p.png"
    Image.new("RGB", (64, 64)).save(file)
    given = arguments if arguments in ([], ["no-such.jpg"]) else [str(file), *arguments]
    assert main(["measure", *given]) == 2
    (line,) = capsys.readouterr().err.splitlines()
    assert word in line


def test_nothing_beside_the_sheet_is_said(tmp_path) -> None:
    with pytest.raises(FieldError, match="nothing was found"):
        measure(Photograph(photograph(replace(SHOTS["orange disc on the sheet"], thing=None, size=(1200, 900)))))


def test_corners_and_outline_put_by_hand_are_taken_as_they_are() -> None:
    shot = replace(SHOTS["orange disc on the sheet"], has_sheet=True, size=SIZE)
    assert shot.thing is not None
    camera = _camera(shot)
    a = np.radians(shot.sheet_turn)
    sheet = np.array([[-105, -148.5], [105, -148.5], [105, 148.5], [-105, 148.5]]) @ np.array(
        [[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]]
    )
    traced = _pixels(camera, shot.thing.footprint(), 0)
    found = measure(Photograph(_taken("orange disc on the sheet")), "a4", 0, _pixels(camera, sheet, 0), traced)
    assert found.width_mm == pytest.approx(74, abs=0.4)
    assert found.is_sure


def test_the_cut_out_is_clear_outside_the_thing() -> None:
    skin = _measured("orange disc on the sheet").skin
    h, w = skin.shape[:2]
    assert skin[2, 2, 3] == 0
    assert skin[h // 2, w // 2, 3] == 255
    assert (skin[..., 3] > 128).mean() == pytest.approx(np.pi / 4, abs=0.02)


def test_a_thing_on_the_table_alone_is_found_for_every_turn() -> None:
    for turn in (0, 30, 77):
        shot = Shot(Thing(disc(80), (10, 10), turn, 2, (60, 120, 90)), tilt=14, walked=turn * 3, size=(1200, 900))
        assert measure(Photograph(photograph(shot)), "a4", 2).width_mm == pytest.approx(80, abs=2)


def _in_window_light(count: int) -> list[Shot]:
    """Things of all sorts in the light of a window, which throws a shadow with a border of its own for each: worked out point by point of it."""
    rng = np.random.default_rng(11)
    colours = [(150, 40, 34), (176, 120, 62), (44, 92, 96), (96, 120, 50), (190, 96, 30), (210, 190, 150), (110, 104, 96), (60, 40, 90)]
    tables = [(112, 84, 60), (186, 150, 104), (150, 160, 168), (44, 62, 92), (70, 92, 72)]
    found = []
    for k in range(count):
        outline = [disc(rng.uniform(50, 110)), block(rng.uniform(60, 150), rng.uniform(40, 90)), leaf(rng.uniform(80, 140), 48)][k % 3]
        is_on = bool(rng.random() < 0.6)
        at = (
            (rng.uniform(-20, 20), rng.uniform(-40, 40))
            if is_on
            else (float(rng.choice([-1, 1])) * rng.uniform(175, 200), rng.uniform(-30, 30))
        )
        thing = Thing(outline, at, rng.uniform(0, 180), float(rng.choice([3, 8, 15, 30])), colours[k % 8])
        side = rng.uniform(0, 2 * np.pi)
        window = Window((700 * np.cos(side), 700 * np.sin(side), rng.uniform(300, 900)), rng.uniform(300, 1200), rng.uniform(300, 900), 0.8)
        shot = Shot(thing, tilt=rng.uniform(5, 30), walked=rng.uniform(-90, 90), distance=700 if is_on else 850, table=tables[k % 5])
        found.append(replace(shot, aim=(0, 0) if is_on else (at[0] / 2, 0), shadow=0.0, window=window, size=(2000, 1500), focal=30, seed=k))
    return found


def test_in_soft_shadow_what_is_wrong_is_not_sure() -> None:
    """Wrong is more than 3 mm and 3 per cent. The method is not to be trusted there yet; that it says so is what is asked. That it is not simply never sure is asked too."""
    wrong_but_sure, right, right_and_sure = [], 0, 0
    for k, shot in enumerate(_in_window_light(3)):
        assert shot.thing is not None
        found = measure(Photograph(photograph(shot)), "a4", shot.thing.height)
        pairs = zip((found.width_mm, found.depth_mm), _true_size(shot), strict=True)
        is_right = all(abs(got - want) <= max(3.0, 0.03 * want) for got, want in pairs)
        right += is_right
        right_and_sure += is_right and found.is_sure
        if found.is_sure and not is_right:
            wrong_but_sure.append((k, found.width_mm, found.depth_mm, _true_size(shot)))
    assert not wrong_but_sure
    assert right_and_sure >= right / 3 > 0


def test_an_unknown_height_in_a_tilted_picture_is_a_reason_to_be_unsure() -> None:
    name = "orange disc on the sheet"
    shot = Photograph(_taken(name))
    assert measure(shot, "a4", 4).is_sure and measure(shot, "a4", 0).is_sure
    assert any("height is not known" in why for why in measure(shot, "a4").why)
    from_above = measure(Photograph(_taken("leaf on the sheet, overhead")), "a4")
    assert from_above.is_sure


def test_an_edge_without_a_step_in_colour_is_a_reason() -> None:
    """A card of the table's own colour over half of its edge: it lies across the sheet's edge."""
    shot = replace(
        SHOTS["ribbon card on blue cloth"], thing=Thing(block(150, 60), (105, 0), 0, 1, (46, 64, 94)), table=(44, 62, 92), size=(1600, 1200)
    )
    try:
        found = measure(Photograph(photograph(shot)), "a4", 1)
    except FieldError:
        return  # nothing found at all is honest too
    assert not found.is_sure
