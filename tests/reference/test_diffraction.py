"""Depth and diffraction together, worked by hand (Ray, *Applied Photographic Optics*; Airy disc 2.44 lambda N, any optics text), and judged so."""

from __future__ import annotations

import copy
import math

import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.camera import optics
from tideflat.core.camera.lens import thin
from tideflat.core.delivered import best_aperture_for, marked, needed_depth, sharpness_in, softens_from, stack_for
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.remedies.search import remedy_for
from tideflat.core.report import evaluation

CIRCLE = math.hypot(36, 24) / 1442


def close_value(aperture: float, **camera):
    """A cut fig of 40 mm, seen from the side at u = 300 with a 100 mm lens that moves as a whole: m = 0.5."""
    value = scene_value(
        lens={"focal_length": 100, "min_focus": 420, "min_aperture": 32}, distance=300, elevation=0, aperture=aperture, **camera
    )
    value["props"], value["placements"] = [{"id": "fig", "name": "fig", "shape": {"kind": "cylinder", "diameter": 40, "height": 40}}], []
    value["placements"] = [{"id": "p1", "prop": "fig", "x": 450, "y": 300, "role": "hero"}]
    value["setups"][0]["camera"]["aim"] = [450, 300, 20]
    value["setups"][0]["deliverables"] = []
    return value


def test_both_blurs_at_half_size_by_hand():
    """f/8, m = 0.5: Airy 2.44 x 0.00055 x 12 = 0.016104; c = 0.030005 leaves sqrt(c^2 - a^2) = 0.025317 for defocus.
    s = 8 x 0.025317 x 200 = 40.507: near 300 x 10000 / 10040.507 = 298.790, far 300 x 10000 / 9959.493 = 301.220."""
    zone = optics.sharpness(thin(100, 300), 8, CIRCLE)
    assert zone.airy_diameter == pytest.approx(0.016104)
    assert (zone.near, zone.far) == pytest.approx((298.790, 301.220), abs=2e-3)
    assert optics.depth_of_field(thin(100, 300), 8, CIRCLE).near == pytest.approx(298.567, abs=2e-3)  # without diffraction, as ever


@pytest.mark.parametrize("share, is_any", [(0.999, True), (1.001, False)])
def test_nothing_is_sharp_from_where_the_airy_disc_is_the_circle(share, is_any):
    """N (1 + m) 2.44 x 0.00055 = c: at m = 0.5, N = 0.030005 / 0.002013 = 14.906."""
    last = optics.last_aperture(thin(100, 300), CIRCLE)
    assert last == pytest.approx(14.906, abs=2e-3)
    assert optics.sharpness(thin(100, 300), last * share, CIRCLE).is_any is is_any


def test_the_best_stop_is_where_both_blurs_are_equal():
    """20 mm before and behind u = 300: K = 100 x 0.5 x 20 / 280 = 3.5714 (the near end), A = 0.002013: N = sqrt(K / A) = 42.12."""
    assert optics.best_aperture(thin(100, 300), 280, 320) == pytest.approx(42.12, abs=0.01)


def test_the_finding_and_the_reading_ask_one_function_and_the_crop_decides():
    """Overhead at 1100 the jar's 95 mm reach from u = 1005; in a crop of half the diagonal the circle is half: what the frame forgives it does not."""
    value = scene_value(aperture=5.6)
    value["setups"][0]["deliverables"] = [{"name": "all", "ratio": "3:2"}, {"name": "part", "ratio": "3:2", "scale": 0.5}]
    seen = picture(value)
    near, far = needed_depth(seen, "p1")
    missed = {c.name: max(sharpness_in(seen, c.box).missed(near, far)) for c in seen.crops}
    (told,) = [f for f in findings(seen) if f.code == "focus.hero"]
    assert told.crop == "part" and told.measure == pytest.approx(missed["part"], abs=0.06) and missed["part"] > missed["all"]
    zone = optics.sharpness(thin(50, 1100), 5.6, CIRCLE / 2)
    assert missed["part"] == pytest.approx(zone.near - 1005, abs=1e-6)


def test_no_remedy_stops_down_past_where_nothing_is_sharp():
    """At m = 0.5 a fig 40 mm deep cannot be held: f/25 would be needed by depth alone, where the Airy disc is larger than the circle."""
    value = close_value(8)
    read = scene_from_value(value)
    seen = picture(value)
    (told,) = [f for f in findings(seen) if f.code == "focus.hero"]
    remedy = remedy_for(seen, told)
    assert remedy is None or dict(remedy.figures).get("aperture", 0) < 14.9
    message = next(f for f in evaluation(read)["setups"]["main"]["findings"] if f["code"] == "focus.hero")["message"]
    assert "a stack of" in message


def test_a_remedy_of_focus_holds_the_hero_by_both_blurs():
    value = scene_value(aperture=5.6)
    value["setups"][0]["deliverables"] = []
    seen = picture(value)
    (told,) = [f for f in findings(seen) if f.code == "focus.hero"]
    remedy = remedy_for(seen, told)
    assert remedy is not None
    after = seen.changed(remedy_scene(seen, remedy))
    assert max(sharpness_in(after).missed(*needed_depth(after, "p1"))) <= 0.05
    assert after.setup.camera.aperture <= best_aperture_for(after, "p1") * 1.001


def remedy_scene(seen, remedy):
    from tideflat.core.acts.registry import tried

    return tried(seen.whole, remedy.acts)


def test_at_a_stop_where_nothing_is_sharp_the_finding_says_so():
    value = close_value(16)
    value["brief"] = {"leanings": {"focus": 1}}  # only the middle has to be sharp, and not even that is
    (told,) = [f for f in findings(picture(value)) if f.code == "focus.hero"]
    assert told.sides == ("everywhere",) and "nothing is sharp at f/16" in told.message
    assert "focus.hero" not in {f.code for f in findings(picture(close_value(14) | {"brief": {"leanings": {"focus": 1}}}))}


def test_a_stack_says_how_many_frames_and_where():
    """One slice at f/8 is 2.430 mm; 40 mm with a quarter shared: ceil((40 - 0.6075) / 1.8225) = 22 frames, from half a slice behind 280."""
    seen = picture(close_value(7.1))
    stack = stack_for(seen, "p1", (0, 0, 1, 1))
    assert stack is not None and stack.aperture == 7.1
    middle = 2 * 280 * 320 / 600
    zone = optics.sharpness(thin(100, middle), 7.1, CIRCLE)
    one = zone.far - zone.near
    assert len(stack.distances) == math.ceil((40 - 0.25 * one) / (0.75 * one))
    assert stack.distances[0] == pytest.approx(280 + one / 2, abs=0.01) and stack.distances[-1] == pytest.approx(320 - one / 2, abs=0.01)


def test_the_report_keeps_depth_of_field_and_adds_sharpness():
    value = scene_value(aperture=8)
    told = evaluation(scene_from_value(copy.deepcopy(value)), with_remedies=False)["setups"]["main"]["camera"]
    seen = picture(value)
    assert told["depth_of_field"]["near"] == optics.depth_of_field(thin(50, 1100), 8, CIRCLE).near
    zone = sharpness_in(seen, seen.crops[0].box)
    assert (told["sharpness"]["feed"]["near"], told["sharpness"]["feed"]["far"]) == (zone.near, zone.far)
    assert told["sharpness"]["feed"]["best_aperture"] == best_aperture_for(seen, "p1")
    assert told["sharpness"]["feed"]["nothing_from"] == softens_from(seen, seen.crops[0].box)
    nothing = evaluation(scene_from_value(close_value(16) | {}), with_remedies=False)
    assert nothing["setups"]["main"]["camera"]["sharpness"] == {}


def test_nothing_sharp_is_null_in_the_report():
    value = close_value(16)
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "4:5"}]
    told = evaluation(scene_from_value(value), with_remedies=False)["setups"]["main"]["camera"]["sharpness"]["feed"]
    assert told["near"] is None and told["far"] is None


def test_the_engraved_stop_nearest():
    assert [marked(n) for n in (5.7, 21.5, 12.2)] == [5.6, 22.0, 13.0]
