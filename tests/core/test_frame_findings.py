"""What the frame does to the picture and how long it is exposed: found with the right measure, not on the other side of its limit, mended."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.support.scenes import bare_value, picture, scene, scene_value
from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.camera.exposing import crossing_mm_s, longest_handheld_s, speed_of_fall
from tideflat.core.camera.guides import grid_lines
from tideflat.core.camera.straightness import across_frame, edge_line, lean_in_frame_deg, off_level_in_frame_deg, plumb_and_level
from tideflat.core.errors import FieldError
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Lens
from tideflat.core.moving import all_moving, handheld_limit_s
from tideflat.core.patches import patch_of
from tideflat.core.remedies.candidate import NamedLens, Stores
from tideflat.core.remedies.proof import judged
from tideflat.core.remedies.search import candidates, remedies_for
from tideflat.core.report import evaluation


def found(value, code):
    return [f for f in findings(picture(value)) if f.code == code]


def mended(value, code, stores=None):
    """The scene as its remedy makes it; the finding must be gone."""
    shown = picture(value)
    (finding,) = [f for f in findings(shown) if f.code == code]
    (remedy,) = remedies_for(shown, (finding,), judged(shown.whole), *(() if stores is None else (stores,)))
    assert remedy is not None, code
    after = shown.changed(tried(shown.whole, remedy.acts))
    assert not [f for f in findings(after) if f.code == code]
    return after


def standing(height=200, y=300, x=450, **camera):
    """One bottle-like cylinder, the hero, 60 mm wide."""
    value = bare_value(**camera)
    value["props"][0]["shape"] = {"kind": "cylinder", "diameter": 60, "height": height}
    value["placements"][0].update(x=x, y=y)
    return value


@pytest.mark.parametrize(("elevation", "is_found"), [(90, False), (89.6, False), (89.5, False), (89.4, True), (85, True), (84.9, False), (60, False)])
def test_nearly_plumb_is_not_plumb(elevation, is_found):
    value = bare_value(elevation=elevation)
    assert bool(found(value, "camera.plumb")) is is_found
    if is_found:
        assert found(value, "camera.plumb")[0].measure == pytest.approx(90 - elevation)
        if elevation > 89:  # from further off plumb the hero would be seen smaller than is asked
            assert mended(value, "camera.plumb").setup.camera.elevation == 90


@pytest.mark.parametrize(("roll", "off"), [(0, 0), (0.4, 0), (0.5, 0.5), (-2, 2), (6, 6), (6.1, 0), (91, 1), (180, 0), (-89, 1), (45, 0)])
def test_a_small_roll_is_a_mistake(roll, off):
    value = bare_value(roll=roll)
    seen = found(value, "camera.level")
    assert [f.measure for f in seen] == ([pytest.approx(off)] if off else [])
    if off:
        assert mended(value, "camera.level").setup.camera.roll % 90 == pytest.approx(0, abs=1e-6)


@pytest.mark.parametrize(("pixels", "is_found"), [([3200, 4000], False), ([3204, 4005], True), ([1080, 1350], False)])
def test_a_crop_enlarged_past_its_pixels_is_told(pixels, is_found):
    """A 4:5 crop of 6000 x 4000 is 3200 x 4000 pixels."""
    value = bare_value()
    value["setups"][0]["deliverables"] = [{"name": "print", "pixels": pixels}]
    assert bool(found(value, "crop.enlarged")) is is_found


def test_enlargement_is_measured_in_per_cent():
    value = bare_value()
    value["setups"][0]["deliverables"] = [{"name": "print", "pixels": [4000, 5000], "scale": 0.5}]
    (seen,) = found(value, "crop.enlarged")
    assert seen.measure == 250 and seen.crop == "print"


def test_uprights_lean_by_what_a_vanishing_point_gives():
    """Looking level and moved up by shift nothing leans; looking down by e, an upright ``a`` off the axis leans by about atan(tan(a) sin e)."""
    at_side = standing(x=700, elevation=10, aim=[450, 300, 100], distance=900)
    shown = picture(at_side)
    lean = lean_in_frame_deg(shown.bodies["p1"], shown.view)
    foot, top = shown.view.project(np.array([[700, 300, 0.0], [700, 300, 200.0]]))
    by_hand = np.degrees(np.arctan2((top[0] - foot[0]) * 36, (foot[1] - top[1]) * 24))
    assert lean == pytest.approx(by_hand)
    vanishing = np.degrees(np.arctan(250 / 900 * np.sin(np.radians(10)) / np.cos(np.radians(10)) * np.cos(np.radians(10))))
    assert abs(lean) == pytest.approx(vanishing, abs=0.6)
    (seen,) = found(at_side, "frame.converging")
    assert seen.measure == pytest.approx(abs(lean), abs=0.01)
    assert not found(standing(x=700, elevation=0, aim=[450, 300, 100], distance=900), "frame.converging")
    assert not found(standing(x=450, elevation=10, aim=[450, 300, 100], distance=900), "frame.converging")  # in the middle it stands upright
    assert not found(standing(x=700, elevation=12, aim=[450, 300, 100], distance=900), "frame.converging")  # looked down on
    assert abs(mended(at_side, "frame.converging").setup.camera.elevation) < 10
    assert off_level_in_frame_deg(shown.view, np.array([300.0, 300, 0]), np.array([600.0, 300, 0])) == pytest.approx(0, abs=1e-9)


def test_a_line_through_the_hero():
    """At eye level the edge of the table behind a hero runs through it at the height of the lens."""
    value = standing(height=200, y=200, elevation=0, aim=[450, 200, 100], distance=900)
    value["backdrop"] = None
    (seen,) = found(value, "frame.horizon")
    # the edge is 400 further off than the hero at 900: 100 mm below the axis there is 100 * 900 / 1300 = 69.2 of the hero's 200
    assert seen.measure == pytest.approx((200 - (100 - 69.23)) / 200 * 100 - 69.2, abs=60)
    assert 15 < seen.measure < 50
    assert not found(standing(height=200, y=200, elevation=60, aim=[450, 200, 100], distance=900), "frame.horizon")
    sweep = {**value, "backdrop": {"kind": "sweep", "y": 600, "x": 450, "width": 2000, "height": 1500}}
    assert not found(sweep, "frame.horizon")
    behind = {**value, "backdrop": {"kind": "upright", "y": 100, "x": 450, "width": 2000, "height": 1500}}
    assert not found(behind, "frame.horizon")


@pytest.mark.parametrize(("back", "is_found"), [(500, False), (530, True)])
def test_stretch_is_the_ratio_of_depths(back, is_found):
    """Level, 900 mm from a thing at y 0: another at y = 540 is 1440 off, 1.6 times."""
    value = standing(y=0, elevation=0, aim=[450, 0, 100], distance=900)
    value["placements"].append({"id": "p2", "prop": value["props"][0]["id"], "x": 300, "y": back + 30})
    seen = found(value, "lens.stretch")
    assert bool(seen) is is_found
    if is_found:
        assert seen[0].measure == pytest.approx((900 + 560) / 900, abs=1e-3)
        stores = Stores(lenses=(NamedLens("85 mm", Lens(85)), NamedLens("35 mm", Lens(35))))
        shown = picture(value)
        (first, *_) = (c for c in candidates(shown, seen[0], stores))
        assert first.after(shown).setup("main").camera.lens.focal_length == 85


@pytest.mark.parametrize(("aperture", "is_found"), [(16, False), (18, True), (22, False)])
def test_diffraction_is_told_between_softening_and_nothing_sharp(aperture, is_found):
    """Airy 2.44 x 0.00055 x N (1 + m), m = 50 / 1050; in 0.03 mm: f/16 75 %, f/18 84 %; f/22 103 %, where focus.hero says that nothing is."""
    value = bare_value(aperture=aperture)
    assert bool(found(value, "lens.diffraction")) is is_found
    if is_found:
        assert found(value, "lens.diffraction")[0].measure == pytest.approx(2.44 * 0.00055 * 18 * (1 + 50 / 1050) / 0.03001 * 100, abs=0.5)
        assert mended(value, "lens.diffraction").setup.camera.aperture < 18


def test_a_rim_out_of_what_is_sharp_from_above():
    value = standing(height=10, elevation=90, aperture=2.8)
    value["props"].append({"id": "tall", "name": "tall", "shape": {"kind": "cylinder", "diameter": 60, "height": 180}})
    value["placements"].append({"id": "p2", "prop": "tall", "x": 600, "y": 300})
    (seen,) = found(value, "focus.rim")
    near = 1100 * 2500 / (2500 + 2.8 * (0.03001**2 - (2.44 * 0.00055 * 2.8 * (1 + 50 / 1050)) ** 2) ** 0.5 * 1050)
    assert seen.measure == pytest.approx(near - (1100 - 180), abs=0.2)
    assert seen.severity == "taste" and seen.placements == ("p2",)
    for leaning, severity in ((-1, "mend"), (0.4, "taste"), (1, None)):
        value["brief"] = {"leanings": {"focus": leaning}}
        assert [f.severity for f in found(value, "focus.rim")] == ([] if severity is None else [severity])
    value["brief"] = {}
    value["setups"][0]["camera"]["elevation"] = 70
    assert not found(value, "focus.rim")


# -- what moves, and a hand


def pouring(time_s=0.01, speed=1000.0, toward=(1, 0, 0), **exposure):
    value = standing(height=0.2, elevation=90)
    value["placements"][0]["motion"] = {"speed": speed, "toward": list(toward)}
    value["setups"][0]["exposure"] = {"time_s": time_s, **exposure}
    return value


def test_smear_is_speed_times_scale_times_time():
    """m = 50 / 1050 at the plane of focus; 1000 mm/s for 1/100 s is 10 mm, 0.476 mm on 36 mm of 6000 pixels: 79.4."""
    (seen,) = found(pouring(), "exposure.smear")
    assert seen.measure == pytest.approx(10 * 50 / 1050 / 36 * 6000, rel=2e-3)
    assert not found(pouring(flash=True), "exposure.smear")
    limit = 2 / (1000 * 50 / 1050 / 36 * 6000)
    assert found(pouring(limit * 1.01), "exposure.smear") and not found(pouring(limit * 0.99), "exposure.smear")
    assert not found(pouring(speed=0), "exposure.smear")
    after = mended(pouring(), "exposure.smear").setup.exposed
    assert after.time_s * after.iso == pytest.approx(0.01 * 100, rel=0.01) and after.time_s < limit


def test_smear_is_counted_in_the_pixels_that_are_delivered():
    value = pouring()
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "4:5", "pixels": [1080, 1350]}]
    (seen,) = found(value, "exposure.smear")
    assert seen.crop == "feed"
    assert seen.measure == pytest.approx(10 * 50 / 1050 / 36 * 6000 * 1080 / 3200, rel=2e-3)


def test_what_moves_along_the_sight_smears_only_as_it_grows():
    shown = picture(pouring(toward=(0, 0, 1)))
    assert crossing_mm_s(shown.view, np.array([450.0, 300, 0]), 1000, np.array([0, 0, 1.0])) == pytest.approx(0, abs=1e-9)
    off = crossing_mm_s(shown.view, np.array([550.0, 300, 0]), 1000, np.array([0, 0, 1.0]))
    later, before = (shown.view.project(np.array([550.0, 300, z]))[0] * 36 for z in (0.5, -0.5))
    assert off == pytest.approx((later - before) / 0.001, rel=1e-6)


def test_the_fastest_stands_first_and_what_is_hidden_is_not_asked():
    value = pouring()
    value["placements"].append({"id": "p2", "prop": value["props"][0]["id"], "x": 600, "y": 300, "motion": {"speed": 3000, "toward": [0, 1, 0]}})
    assert [m.placement for m in all_moving(picture(value))] == ["p2", "p1"]
    value["setups"][0]["hidden"] = ["p2"]
    assert [m.placement for m in all_moving(picture(value))] == ["p1"]


def test_a_hand_is_still_for_one_over_the_focal_length():
    assert longest_handheld_s(50, 0.03) == pytest.approx(1 / 50)
    value = standing(elevation=60)
    limit = handheld_limit_s(picture(value))
    assert limit == pytest.approx(0.0300056 / (0.03 * 50 * 1100 / 1050), rel=1e-3)
    for time_s, is_held, is_found in ((limit * 1.01, True, True), (limit * 0.99, True, False), (limit * 5, False, False)):
        value["setups"][0]["exposure"] = {"time_s": time_s, "handheld": is_held}
        assert bool(found(value, "exposure.handheld")) is is_found
    value["setups"][0]["exposure"] = {"time_s": 0.5, "handheld": True}
    assert mended(value, "exposure.handheld").setup.exposed.handheld is False
    value["setups"][0]["exposure"]["flash"] = True
    assert not found(value, "exposure.handheld")


def test_free_fall():
    """h = 0.2 m: v = sqrt(2 x 9.80665 x 0.2) = 1.981 m/s, worked by hand."""
    assert speed_of_fall(200) == pytest.approx(1980.57, abs=0.05)
    assert speed_of_fall(-1) == 0


# -- the document


def test_new_keys_are_written_only_where_they_are_and_come_back():
    from tideflat.core.formats.scene_writer import scene_value as written

    value = pouring(handheld=True, iso=400)
    value["setups"][0]["guides"] = [{"axis": "u", "at": 0.5}, {"from": [0.1, 0.2], "to": [0.4, 0.9], "kind": "registration", "of": "p1", "locked": True}]
    value["setups"][0]["deliverables"] = [{"name": "card", "ratio": "3:2", "bleed": 0.02, "safe": 0.05}]
    scene = scene_from_value(value)
    out = written(scene)
    assert scene_from_value(out) == scene
    setup = out["setups"][0]
    assert setup["exposure"] == {"iso": 400, "time_s": 0.01, "flash": False, "handheld": True}
    assert setup["guides"][0] == {"axis": "u", "at": 0.5, "kind": "line"}
    assert setup["guides"][1] == {"from": [0.1, 0.2], "to": [0.4, 0.9], "kind": "registration", "of": "p1", "locked": True}
    assert out["placements"][0]["motion"] == {"speed": 1000, "toward": [1, 0, 0]}
    plain = written(scene_from_value(bare_value()))
    assert "exposure" not in plain["setups"][0] and "motion" not in plain["placements"][0]
    null = bare_value()
    null["setups"][0]["exposure"] = None
    assert written(scene_from_value(null))["setups"][0]["exposure"] is None


@pytest.mark.parametrize(
    ("key", "value", "path"),
    [
        ("exposure", {"time_s": 0}, "exposure.time_s"),
        ("exposure", {"iso": 0.5}, "exposure.iso"),
        ("exposure", {"fps": 25}, "exposure.fps"),
        ("guides", [{"from": [0, 0]}], r"guides\[0\].to"),
        ("guides", [{"from": [0, 0], "to": [0, 0]}], r"guides\[0\].to"),
        ("guides", [{"from": [0, 0], "to": [1, 0], "axis": "u"}], r"guides\[0\].axis"),
        ("guides", [{"axis": "u", "at": 0.5, "of": "nobody"}], r"guides\[0\].of"),
        ("guides", [{"at": 0.5}], r"guides\[0\].axis"),
        ("deliverables", [{"name": "d", "ratio": "1:1", "bleed": 0.21}], r"deliverables\[0\].bleed"),
    ],
)
def test_what_cannot_be_read_says_where(key, value, path):

    broken = bare_value()
    broken["setups"][0][key] = value
    with pytest.raises(FieldError, match=rf"setups\[0\].{path}"):
        scene_from_value(broken)


@pytest.mark.parametrize(("motion", "path"), [({"speed": -1, "toward": [0, 0, 1]}, "speed"), ({"speed": 5, "toward": [0, 0, 0]}, "toward"), ({"speed": 5}, "toward")])
def test_a_motion_that_is_none_says_where(motion, path):

    broken = bare_value()
    broken["placements"][0]["motion"] = motion
    with pytest.raises(FieldError, match=rf"placements\[0\].motion.{path}"):
        scene_from_value(broken)


# -- lines over the frame


def test_a_guide_runs_along_the_longest_edge_of_a_foot():
    """A box 200 wide, turned by 20 degrees, from straight above: its long edges run at 20 degrees to the frame."""
    value = bare_value(elevation=90)
    value["props"][0]["shape"] = {"kind": "box", "width": 200, "depth": 60, "height": 40}
    value["placements"][0].update(turn=20)
    shown = picture(value)
    (u0, v0), (u1, v1) = edge_line(shown.bodies["p1"], shown.view)
    angle = np.degrees(np.arctan2(-(v1 - v0) * 24, (u1 - u0) * 36))
    assert abs(angle) % 180 == pytest.approx(20, abs=1e-6) or abs(angle) % 180 == pytest.approx(160, abs=1e-6)
    for u, v in ((u0, v0), (u1, v1)):
        assert min(abs(u), abs(1 - u), abs(v), abs(1 - v)) < 1e-9
    corners = shown.view.project(np.concatenate(shown.bodies["p1"].parts))[:, :2]
    normal = np.array([-(v1 - v0), u1 - u0])
    assert np.abs((corners - [u0, v0]) @ normal).min() < 1e-9
    value["props"][0]["shape"] = {"kind": "sphere", "diameter": 60}
    round_one = picture(value)
    assert edge_line(round_one.bodies["p1"], round_one.view) is None


def test_a_line_across_the_frame_ends_at_its_borders():
    assert across_frame(np.array([0.2, 0.5]), np.array([0.4, 0.5])) == ((0.0, 0.5), (1.0, 0.5))
    assert across_frame(np.array([0.5, 0.5]), np.array([0.75, 0.75])) == ((0.0, 0.0), (1.0, 1.0))
    assert across_frame(np.array([2.0, 0.0]), np.array([2.0, 1.0])) is None
    assert across_frame(np.array([0.3, 0.3]), np.array([0.3, 0.3])) is None


def test_plumb_and_level_run_through_the_aim():
    plumb, level = plumb_and_level(picture(bare_value(elevation=30, roll=5)).view, (450, 300, 0))
    for (u0, v0), (u1, v1) in (plumb, level):
        assert abs((0.5 - u0) * (v1 - v0) - (0.5 - v0) * (u1 - u0)) < 1e-9
    angle = np.degrees(np.arctan2((level[1][1] - level[0][1]) * 24, (level[1][0] - level[0][0]) * 36))
    assert abs(angle) == pytest.approx(5, abs=0.3)
    assert len(plumb_and_level(picture(bare_value(elevation=90)).view, (450, 300, 0))) == 1  # straight down there is no plumb


# -- detail views


def test_each_named_place_gets_a_set_up_that_looks_straight_at_it():
    value = bare_value()
    value["props"][0]["features"] = [
        {"id": "label", "name": "label", "at": [0, -38, 50], "facing": [0, -1, 0], "width": 40, "height": 30},
        {"id": "lid", "name": "lid", "at": [0, 0, 95], "facing": [0, 0, 1], "width": 50, "height": 50},
    ]
    value["props"][0]["shape"] = {"kind": "cylinder", "diameter": 76, "height": 95}
    value["placements"][0]["turn"] = 30
    before = picture(value)
    after = tried(before.whole, (act_from_value({"act": "details", "setup": "main", "placement": "p1"}),))
    assert [s.name for s in after.setups] == ["main", "detail, label", "detail, lid"]
    for name, feature in (("detail, label", 0), ("detail, lid", 1)):
        shown = before.changed(after, name)
        patch = patch_of(shown.bodies["p1"], shown.props["p1"].features[feature])
        assert np.degrees(np.arccos(-patch.facing @ shown.view.forward)) < 0.1
        assert np.array(shown.setup.camera.aim) == pytest.approx(patch.centre, abs=60)
        assert not [f for f in findings(shown) if f.code in ("lens.min_focus", "lens.too_far")]
        assert not shown.setup.guides and all(d.copy_space is None for d in shown.setup.deliverables)
    with pytest.raises(FieldError, match="named places"):
        tried(after, (act_from_value({"act": "details", "setup": "main", "placement": "p1"}),))


def test_the_golden_spiral_begins_in_a_corner_and_winds_to_the_golden_point():
    lines = grid_lines("spiral", (0, 0, 1, 1), 1.5)
    assert lines[0][0] == pytest.approx((0, 1)) and len(lines) > 60
    pole = (5 + 5**0.5) / 10  # of both sides: where the spiral of a golden rectangle winds to (elementary geometry)
    assert lines[-1][1] == pytest.approx((pole, pole), abs=0.03)
    assert all(-1e-9 <= u <= 1 + 1e-9 and -1e-9 <= v <= 1 + 1e-9 for line in lines for u, v in line)
    assert all(lines[k][1] == pytest.approx(lines[k + 1][0], abs=1e-9) for k in range(len(lines) - 1))


def test_what_leans_and_what_falls_off_level_is_told_in_degrees():
    """A camera rolled by 2 degrees turns every upright and every level line by as much; by a level camera none is."""
    for roll in (0, 2):
        value = scene_value(elevation=0, distance=1200, aim=[450, 300, 120], roll=roll, azimuth=0)
        told = evaluation(scene(value), with_remedies=False)["setups"]["main"]
        assert told["placements"]["p1"]["lean_in_frame"] == pytest.approx(-roll, abs=1e-6)
        assert told["camera"]["off_level"]["backdrop"] == pytest.approx(-roll, abs=1e-6)
        assert told["placements"]["p4"]["lean_in_frame"] is None, "it leans on purpose"


def test_looking_down_uprights_off_the_middle_lean_as_the_projection_has_them():
    """By hand: x = 0.2 of u to the side at depth, foot and top of the axis through the pinhole; the tangent of the slope between them."""
    value = scene_value(elevation=30, distance=1000, aim=[230, 310, 0], azimuth=0)
    told = evaluation(scene(value), with_remedies=False)["setups"]["main"]["placements"]["p1"]["lean_in_frame"]
    e = math.radians(30)
    ahead, up = (math.cos(e), -math.sin(e)), (math.sin(e), math.cos(e))
    eye = (310 - 1000 * math.cos(e), 1000 * math.sin(e))
    places = []
    for z in (0, 95):
        y, h = 310 - eye[0], z - eye[1]
        depth = y * ahead[0] + h * ahead[1]
        places.append((200 / depth, (y * up[0] + h * up[1]) / depth))
    (x0, y0), (x1, y1) = places
    assert told == pytest.approx(math.degrees(math.atan2(x1 - x0, y1 - y0)), abs=1e-6)


@pytest.mark.parametrize("azimuth", [0, 180, -180])
def test_a_line_is_as_level_from_behind_the_table_as_from_before_it(azimuth):
    value = scene_value(elevation=10, distance=1200, aim=[450, 300, 120], azimuth=azimuth)
    value["backdrop"] = None
    off = evaluation(scene(value), with_remedies=False)["setups"]["main"]["camera"]["off_level"]
    assert [round(d, 6) for d in off.values() if d is not None] and all(abs(d) < 1e-6 for d in off.values() if d is not None)
