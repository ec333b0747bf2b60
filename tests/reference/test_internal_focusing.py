"""Lenses that focus inside, against the scene document's own example, hand-worked cases, and SciPy's root finder on the definitions."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from tests.support.scenes import camera_value, scene, scene_value
from tideflat.core.camera.lens import at_zoom, distance_for, focus_reach_mm, focused, travel_of
from tideflat.core.errors import DocumentError, FieldError, OpticsError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings
from tideflat.core.model import Lens, MeasuredField, Sensor

FULL = Sensor(36.0, 24.0, 6000, 4000)
CLOSE_UP = Lens(100, min_focus=300, max_magnification=1.0)
_CLOSE_VALUE = {"focal_length": 100, "min_focus": 300, "max_magnification": 1.0}


def test_the_example_of_the_scene_document():
    """f 100, D 300, M 1, u 150: f' = 300 / 4 = 75, m = 1, c = 150, sensor at 300; the frame covers 36 mm, not 18."""
    lens = focused(CLOSE_UP, FULL, 150)
    assert (lens.focal_length, lens.magnification, lens.principal_distance) == pytest.approx((75, 1, 150))
    assert focus_reach_mm(CLOSE_UP, FULL) == (pytest.approx(150), None)
    picture = Picture(read := scene(scene_value(lens=_CLOSE_VALUE, distance=150, elevation=0, aim=[450, 300, 300])), read.setups[0])
    assert picture.size_at_aim == pytest.approx((36, 24))
    assert picture.setup.camera.distance + picture.view.principal_distance == pytest.approx(300)


def test_half_way_by_hand():
    """m = 0.5: f = 100 - 25 / 2 = 87.5; u = 87.5 x 3 = 262.5; c = 131.25. Depth at f/8, c.o.c. 0.03, exact: 2 u f^2 s / (f^4 - s^2), s = N c (u - f)."""
    lens = focused(CLOSE_UP, FULL, 262.5)
    assert (lens.focal_length, lens.magnification, lens.principal_distance) == pytest.approx((87.5, 0.5, 131.25))
    camera = scene_value(lens=_CLOSE_VALUE, distance=262.5, aperture=8, circle_of_confusion=0.03, aim=[450, 300, 95])
    picture = Picture(read := scene(camera), read.setups[0])
    spread = 8 * 0.03 * (262.5 - 87.5)
    assert picture.depth_of_field.total == pytest.approx(2 * 262.5 * 87.5**2 * spread / (87.5**4 - spread**2))


@given(st.floats(20, 300), st.floats(0.1, 2), st.floats(0.42, 1.13), st.floats(0, 1), st.one_of(st.just(0.0), st.floats(1, 80)))
def test_every_setting_is_found_again_from_where_it_focuses(f, most, shortened, share, extension):
    """The setting s gives u by the definitions; SciPy's brentq finds s back from u on them, and so does the core."""
    lens = Lens(f, min_focus=shortened * f * (1 + most) ** 2 / most, max_magnification=most, extension=extension)
    k = (f - shortened * f) / most

    def distance(s: float) -> float:
        length = f - k * s
        return length * (1 + 1 / (s + extension / length))

    setting = 0.02 * most + share * 0.98 * most
    u = distance(setting)
    found = focused(lens, FULL, u)
    back = brentq(lambda s: distance(s) - u, setting * 0.5, setting * 1.5, xtol=1e-14)
    assert found.focal_length == pytest.approx(f - k * back, rel=1e-7)
    assert found.magnification == pytest.approx(back + extension / (f - k * back), rel=1e-6)
    assert found.focal_length * (1 + 1 / found.magnification) == pytest.approx(u, rel=1e-7)
    assert found.principal_distance == pytest.approx(found.focal_length * (1 + setting) + extension, rel=1e-6)


@pytest.mark.parametrize("share, holds", [(0.3999, False), (0.4001, True), (1.1499, True), (1.1501, False)])
def test_the_closest_focus_and_the_magnification_must_go_together(share, holds):
    """f' = D M / (1 + M)^2 from 0.4 to 1.15 f: at M = 1, D = 4 f'. The error names all three."""
    value = scene_value(lens={**_CLOSE_VALUE, "min_focus": 4 * share * 100}, distance=900)
    if holds:
        assert scene(value)
        return
    with pytest.raises(DocumentError, match=r"lens.min_focus.*max_magnification 1 and focal_length 100") as error:
        scene(value)
    assert "\n" not in str(error.value)


def test_extension_behind_it_by_hand():
    """e = 25 at s = 1: v = 75 x 2 + 25 = 175, m = 175 / 75 - 1 = 4/3, u = 75 x 1.75 = 131.25; s = 0: 100 x 125 / 25 = 500."""
    lens = replace(CLOSE_UP, extension=25)
    assert focus_reach_mm(lens, FULL) == pytest.approx((131.25, 500))
    near = focused(lens, FULL, 131.25)
    assert (near.focal_length, near.magnification, near.principal_distance) == pytest.approx((75, 4 / 3, 175))


@pytest.mark.parametrize("distance, code", [(149.9, "lens.min_focus"), (150.1, None)])
def test_the_reach_is_judged_on_both_sides(distance, code):
    read = scene(scene_value(lens=_CLOSE_VALUE, distance=distance, elevation=0, aim=[450, 300, 400]))
    said = {f.code for f in findings(Picture(read, read.setups[0])) if f.code.startswith("lens.")} - {"lens.stretch"}
    assert said == ({code} if code else set())


def test_a_measured_field_fixes_the_length_and_the_magnification_only_sets_the_reach():
    """36 mm cover 144 at D = 500: m = 0.25, f' = 500 x 0.25 / 1.5625 = 80; M = 0.5 then reaches u = 80 x 3 = 240 though D = 250 < 4 x 80."""
    lens = Lens(100, min_focus=250, max_magnification=0.5, measured=MeasuredField(500, 144))
    assert travel_of(lens, FULL).length(0.3) == pytest.approx(80)
    assert focus_reach_mm(lens, FULL)[0] == pytest.approx(240)
    with pytest.raises(OpticsError, match="max_magnification"):
        focus_reach_mm(replace(lens, max_magnification=None), FULL)


def test_a_magnification_alone_is_a_lens_that_moves_as_a_whole():
    assert focus_reach_mm(Lens(60, max_magnification=0.5), FULL)[0] == pytest.approx(60 * 3)


@pytest.mark.parametrize(
    "length, most",
    [
        (70, 0.25),  # the long end's own
        (50, 0.25 * 50 / 70),  # as a whole it would be 50 / (190 + sqrt(36100 - 19000) - 50) = 0.1846
        (24, 24 / (190 + math.sqrt(36100 - 24 * 380) - 24)),  # as a whole 0.0727, less than 0.0857
    ],
)
def test_a_zoom_at_each_length(length, most):
    zoom = Lens(24, min_focus=380, max_magnification=0.25)
    assert at_zoom(zoom, length, 70).max_magnification == pytest.approx(most)
    assert at_zoom(zoom, length, 70).min_focus == 380


def test_a_measured_zoom_scales_with_its_length():
    """f' = 80 measured at 100 mm is 40 at 50 mm, and 56 at 70."""
    zoom = Lens(50, measured=MeasuredField(500, 144))
    assert travel_of(at_zoom(zoom, 50, 100), FULL).at_infinity == pytest.approx(40)
    assert travel_of(at_zoom(zoom, 70, 100, 100), FULL).at_infinity == pytest.approx(56)
    assert travel_of(at_zoom(zoom, 70, 100, 70), FULL).at_infinity == pytest.approx(80)


def test_the_distance_for_a_frame_of_a_width():
    """600 mm on 36: m = 0.06; f = 100 - 25 x 0.06 = 98.5; u = 98.5 x 17.6667 = 1740.17, where a fixed length says 1766.67."""
    assert distance_for(CLOSE_UP, FULL, 0.06) == pytest.approx(1740.1667, rel=1e-6)


def test_a_plane_of_focus_that_no_setting_reaches_is_refused_in_words():
    """A lens that grows longer near: f' = 1.1 f at M = 0.2, so k = -0.5 f; u is least at m = sqrt(f / -k), f (1.5 + 2 sqrt(0.5)) = 2.914 f."""
    lens = {"focal_length": 100, "min_focus": 110 * 1.44 / 0.2, "max_magnification": 0.2}
    camera = camera_value(lens=lens, distance=291, elevation=0, aim=[450, 300, 300])
    value = scene_value()
    value["setups"][0]["camera"] = camera
    with pytest.raises(FieldError, match="distance"):
        scene(value)
    camera["distance"] = 292
    assert scene(value)
