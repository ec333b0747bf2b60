"""What the frame does to the picture and how long it is exposed: found with the right measure, not on the other side of its limit, mended."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import bare_value, picture
from tideflat.core.acts.registry import tried
from tideflat.core.camera.exposing import crossing_mm_s, longest_handheld_s, speed_of_fall
from tideflat.core.camera.straightness import lean_in_frame_deg, off_level_in_frame_deg
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Lens
from tideflat.core.moving import all_moving, handheld_limit_s
from tideflat.core.remedies.candidate import NamedLens, Stores
from tideflat.core.remedies.proof import judged
from tideflat.core.remedies.search import candidates, remedies_for


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
    from tideflat.core.errors import FieldError

    broken = bare_value()
    broken["setups"][0][key] = value
    with pytest.raises(FieldError, match=rf"setups\[0\].{path}"):
        scene_from_value(broken)


@pytest.mark.parametrize(("motion", "path"), [({"speed": -1, "toward": [0, 0, 1]}, "speed"), ({"speed": 5, "toward": [0, 0, 0]}, "toward"), ({"speed": 5}, "toward")])
def test_a_motion_that_is_none_says_where(motion, path):
    from tideflat.core.errors import FieldError

    broken = bare_value()
    broken["placements"][0]["motion"] = motion
    with pytest.raises(FieldError, match=rf"placements\[0\].motion.{path}"):
        scene_from_value(broken)
