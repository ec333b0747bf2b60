"""Another body, lens or surface keeps what the picture shows; a lens must cover its sensor. By hand, both sides."""

from __future__ import annotations

import copy

import pytest

from tests.support.scenes import SENSORS, camera_value, picture, scene, scene_value
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.camera.framing import covered_mm
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings

PHONE_LENS = {"focal_length": 6.9, "max_aperture": 1.8, "min_aperture": 1.8, "min_focus": 120}


def after(act, of=None):
    return perform(scene(of or scene_value()), act_from_value(act)).scene


def test_a_longer_lens_steps_back_for_the_same_picture():
    """50 mm at 1100 cover 36 x 1050 / 50 = 756; 100 mm cover as much at 100 + 756 x 100 / 36 = 2200."""
    camera = after({"act": "lens", "setup": "main", "lens": {"focal_length": 100, "min_focus": 900, "max_aperture": 2.8}}).setups[0].camera
    assert camera.distance == pytest.approx(2200, abs=0.1) and covered_mm(camera)[0] == pytest.approx(756, abs=0.1)


def test_asked_to_stay_the_camera_stays():
    act = {"act": "lens", "setup": "main", "lens": {"focal_length": 100, "min_focus": 900, "max_aperture": 2.8}, "keep": "place"}
    assert after(act).setups[0].camera.distance == 1100


def test_a_phone_swapped_in_shows_no_more_of_the_board():
    """A sensor of 9.8 by 7.3 must show 756 by 504: by its width, 6.9 (1 + 756 / 9.8) = 539.2; by its height 7.3 / 504 wants less, 483.3."""
    act = {"act": "body", "setup": "main", "sensor": SENSORS["phone"], "lens": PHONE_LENS}
    camera = after(act).setups[0].camera
    assert camera.distance == pytest.approx(6.9 * (1 + 756 / 9.8), abs=0.1)
    assert covered_mm(camera) == (pytest.approx(756, abs=0.2), pytest.approx(756 * 7.3 / 9.8, abs=0.2))
    far = after({**act, "keep": "place"}).setups[0].camera
    assert covered_mm(far)[0] > 1500  # what it was


def test_a_lens_that_focuses_inside_keeps_it_too():
    lens = {"focal_length": 100, "min_focus": 300, "max_magnification": 1, "max_aperture": 2.8}
    assert covered_mm(after({"act": "lens", "setup": "main", "lens": lens}).setups[0].camera)[0] == pytest.approx(756, abs=0.1)


def test_a_surface_of_another_size_goes_under_by_its_middle():
    value = scene_value(focus={"point": [430, 310, 40]})
    larger = {**value["surface"], "width": 1200, "depth": 900}
    before, made = scene(value), after({"act": "surface", "surface": larger}, value)
    assert made.setups[0].camera.aim == (600, 450, 0) and made.setups[0].camera.focus == (580, 460, 40)
    moved = {(round(b.x - a.x, 6), round(b.y - a.y, 6)) for a, b in zip(before.placements, made.placements, strict=True)}
    assert moved == {(150, 150)} and made.backdrop.y == 750
    shown = [Picture(s, s.setups[0]).silhouettes["p1"].box for s in (before, made)]
    assert shown[0] == pytest.approx(shown[1])


@pytest.mark.parametrize("why", ["place", "locked", "same size"])
def test_it_stays_by_its_corner_where_it_must(why):
    value = scene_value()
    act = {"act": "surface", "surface": {**value["surface"], "width": 1200}}
    if why == "place":
        act["keep"] = "place"
    elif why == "locked":
        value["placements"][0]["locked"] = True
    else:
        act["surface"] = {**value["surface"], "name": "oak"}
    made = after(act, value)
    assert made.setups[0].camera.aim == (450, 300, 0) and made.placements == scene(value).placements


@pytest.mark.parametrize(
    ("circle", "shift", "told"),
    [(43.2, [0, 0], True), (43.3, [0, 0], False), (43.3, [3, 0], True), (48.5, [3, 0], False), (None, [0, 0], False)],
)
def test_a_lens_must_cover_the_sensor(circle, shift, told):
    """36 by 24 want 43.267 across; shifted 3 mm aside, 42 by 24 want 48.374."""
    value = copy.deepcopy(scene_value())
    value["setups"][0]["camera"] = camera_value(lens={"image_circle": circle, "shift": shift})
    found = [f for f in findings(picture(value)) if f.code == "lens.circle"]
    assert bool(found) is told
    if found:
        assert found[0].severity == "stop" and found[0].measure == circle
