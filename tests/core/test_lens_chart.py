"""Every lens of a kit from where it covers what is covered today, and the walls it runs into."""

from __future__ import annotations

import json
from importlib.resources import files

import jsonschema
import numpy as np
import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.errors import FieldError
from tideflat.core.formats.kit_reader import kit_from_value, read_kit, starter_kit
from tideflat.core.frame.lens_chart import lens_chart
from tideflat.core.report import evaluation

SMALL = {
    "bodies": [{"name": "large", "sensor": {"width": 36, "height": 24}}, {"name": "small", "width": 18, "height": 13.5, "pixels_wide": 800, "pixels_high": 600}],
    "lenses": [
        {"name": "50", "focal_length": 50},
        {"name": "tubes", "focal_length": 50, "extension": 12, "min_focus": 450},
        {"name": "small circle", "focal_length": 30, "image_circle": 30},
        {"name": "inner", "lens": {"focal_length": 100, "min_focus": 300, "max_magnification": 1, "pupil_ratio": 0.7}},
        {"name": "zoom", "focal_length": 24, "longest": 70, "max_aperture": 2.8, "max_aperture_long": 4, "min_focus": 380},
    ],
    "supports": [{"name": "tripod", "lowest": 400, "highest": 1600}, {"name": "arm", "kind": "arm", "lowest": 900, "highest": 1900, "inverts": True}],
}


def rows(kit=SMALL, **camera):
    return lens_chart(picture(scene_value(**camera)), kit_from_value(kit))


@pytest.mark.parametrize("camera", [{"elevation": 90}, {"elevation": 30, "azimuth": 20}, {"elevation": 60, "focus": {"point": [450, 420, 60]}}, {"orientation": "portrait"}])
def test_each_lens_covers_what_is_covered_today_and_says_what_evaluate_says(camera):
    now = picture(scene_value(**camera))
    covered = max(now.size_at_aim)
    seen = 0
    for row in lens_chart(now, kit_from_value(SMALL)):
        if row.camera is None:
            continue
        there = now.through(row.camera)
        assert max(there.size_at_aim) == pytest.approx(covered, rel=1e-6)
        told = evaluation(there.whole, with_remedies=False)["setups"]["main"]
        assert row.height_above_floor == pytest.approx(told["camera"]["height_above_floor"])
        assert row.ceiling_clearance == pytest.approx(told["camera"]["ceiling_clearance"])
        assert row.magnification == pytest.approx(told["camera"]["magnification"])
        assert row.backdrop_width == pytest.approx((told["camera"]["backdrop"] or {}).get("width_needed") or row.backdrop_width)
        assert row.enlargement == pytest.approx(max(c["enlargement"] for c in told["crops"].values()))
        depths = [(b.centroid - there.view.position) @ there.view.forward for b in there.bodies.values()]
        assert row.stretch == pytest.approx(max(depths) / min(depths))
        found = {f["code"] for f in told["findings"]}
        for code in ("rig.ceiling", "lens.min_focus", "lens.too_far", "lens.circle", "surface.edge", "backdrop.narrow", "crop.enlarged"):
            assert (code in row.walls) == (code in found), (row.lens, code)
        seen += 1
    assert seen > 10


def test_by_hand_a_half_size_sensor_stands_twice_as_far_with_the_same_lens():
    """Long side 900 mm: m = 36 / 900 = 0.04, u = 50 (1 + 25) = 1300; on 18 mm m = 0.02, u = 50 x 51 = 2550."""
    now = rows(distance=1300)
    found = {(r.body, r.lens): r for r in now}
    assert found["large", "50"].camera.distance == pytest.approx(1300)
    assert found["small", "50"].camera.distance == pytest.approx(2550)
    assert found["small", "50"].magnification == pytest.approx(0.02)
    assert found["large", "zoom at 24"].focal_length == 24 and ("large", "zoom at 35") in found


def test_walls_are_told():
    found = {(r.body, r.lens): set(r.walls) for r in rows(distance=1300)}
    assert "lens.circle" in found["large", "small circle"] and "lens.circle" not in found["small", "small circle"]
    assert "rig.ceiling" in found["small", "50"]  # 740 + 2550 in 2400
    assert "lens.too_far" in found["large", "tubes"]
    assert "crop.enlarged" in found["small", "50"]


@pytest.mark.parametrize(("elevation", "lens_at", "held"), [(90, 1160, True), (90, 1155, True), (90, 1165, False), (60, 1300, True), (60, 1400, False), (45, 1000, True)])
def test_a_support_must_bring_the_lens_there_and_look_straight_down_where_it_must(elevation, lens_at, held):
    kit = {**SMALL, "lenses": [{"name": "50", "focal_length": 50}], "bodies": SMALL["bodies"][:1]}
    (row,) = rows(kit, elevation=elevation, distance=lens_at)
    assert ("rig.reach" not in row.walls) is held
    assert bool(row.held_by) is held


def test_without_supports_none_is_missed():
    (row,) = rows({"bodies": SMALL["bodies"][:1], "lenses": [{"name": "50", "focal_length": 50}]})
    assert "rig.reach" not in row.walls


def test_a_phone_takes_only_its_own_lens():
    on = [(r.body, r.lens) for r in lens_chart(picture(scene_value()), starter_kit())]
    assert [lens for body, lens in on if body == "phone, main module"] == ["phone lens"]
    assert ("full-frame body", "phone lens") not in on
    # five lenses and two zooms of five and six lengths, and behind the converter what is 85 mm or longer
    assert len(on) == 2 * (5 + 5 + 6 + 4) + 2


def test_a_lens_that_covers_so_little_from_nowhere_has_no_place():
    value = scene_value(distance=140, lens={"focal_length": 100, "min_focus": 300, "max_magnification": 1}, aim=[450, 300, 200])
    kit = {"bodies": SMALL["bodies"][:1], "lenses": [{"name": "short", "focal_length": 24, "max_magnification": 0.2}]}
    (row,) = lens_chart(picture(value), kit_from_value(kit))
    assert "lens.min_focus" in row.walls


@pytest.mark.parametrize(
    ("broken", "path"),
    [
        ({"bodies": [{"name": "b"}]}, r"bodies\[0\].width"),
        ({"lenses": [{"name": "z", "focal_length": 50, "longest": 50}]}, r"lenses\[0\].longest"),
        ({"lenses": [{"name": "z", "focal_length": 50, "fixed_on": "none"}]}, r"lenses\[0\].fixed_on"),
        ({"supports": [{"name": "s", "lowest": 300, "highest": 200}]}, r"supports\[0\].highest"),
        ({"bodies": [{"name": "b", "width": 36, "height": 24}] * 2}, "bodies"),
        ({"lenses": [{"focal_length": 50}]}, r"lenses\[0\].name"),
        ({"tripods": []}, "tripods"),
        ([], "document"),
    ],
)
def test_a_kit_that_cannot_be_read_says_where(broken, path):
    with pytest.raises(FieldError, match=path):
        kit_from_value(broken)


def test_the_published_schema_takes_the_starter_kit_and_the_example():
    formats = files("tideflat.core.formats")
    schema = json.loads(formats.joinpath("kit.schema.json").read_text())
    starter = json.loads(formats.joinpath("starter-kit.json").read_text())
    check = jsonschema.Draft202012Validator(schema)
    check.check_schema(schema)
    for good in (starter, SMALL):
        check.validate(good)
    assert read_kit(json.dumps(starter).encode()) == starter_kit()
    for broken in ({"bodies": [{"name": "b"}]}, {"lenses": [{"focal_length": 50}]}, {"supports": [{"name": "s"}]}, {"tripods": []}):
        assert not check.is_valid(broken)


def test_stretch_needs_two_things():
    value = scene_value()
    value["placements"] = value["placements"][:1]
    (row, *_) = lens_chart(picture(value), kit_from_value(SMALL))
    assert row.stretch is None
    assert np.isfinite(row.ceiling_clearance)
