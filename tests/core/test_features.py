"""What must be seen, by hand: angle, size, what hides it, blur; both sides of each limit; in every set-up and crop."""

from __future__ import annotations

import math

import pytest

from tests.support.scenes import picture, scene, scene_value
from tideflat.core.acts.registry import tried
from tideflat.core.evaluate import Picture
from tideflat.core.features.seen import seen_feature
from tideflat.core.findings.registry import findings
from tideflat.core.patches import feature_of, patch_of
from tideflat.core.remedies.search import remedy_for
from tideflat.core.report import evaluation
from tideflat.core.solids.body import pose

#: A label 50 wide and 30 high on the front of a box 80 x 60 x 100, its middle 50 up; and a clasp on its lid.
LABEL = {"id": "label", "name": "label", "at": [0, -30, 50], "facing": [0, -1, 0], "width": 50, "height": 30}
CLASP = {"id": "clasp", "name": "clasp", "at": [0, 0, 100], "facing": [0, 0, 1], "width": 20, "height": 20}


def value(feature="label", others=(), ask=True, **camera):
    found = scene_value(**{"elevation": 0, "aim": [450, 300, 50], "aperture": 11, **camera})
    found["props"] = [
        {"id": "box", "name": "tin", "shape": {"kind": "box", "width": 80, "depth": 60, "height": 100}, "features": [LABEL, CLASP]},
        {"id": "post", "name": "post", "shape": {"kind": "box", "width": 40, "depth": 10, "height": 120}},
    ]
    found["placements"] = [{"id": "p1", "prop": "box", "x": 450, "y": 300, "role": "hero"}, *others]
    found["brief"] = {"must_show": [{"placement": "p1", "feature": feature}] if ask else []}
    found["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "3:2", "pixels": [1800, 1200]}]
    return found


def said(of):
    seen = picture(of)
    return {f.code: f for f in findings(seen) if f.code.startswith("feature.")}


def test_a_patch_turns_and_leans_with_its_thing():
    read = scene(value())
    placement = read.placements[0]
    feature = feature_of(read.props[0], "label")
    assert feature is not None
    patch = patch_of(pose(placement, read.props[0].shape), feature)
    assert patch.centre == pytest.approx([450, 270, 50]) and patch.facing == pytest.approx([0, -1, 0])
    assert patch.corners[0] == pytest.approx([425, 270, 65])  # its top left, as one looks at it
    from dataclasses import replace

    turned = patch_of(pose(replace(placement, turn=90.0), read.props[0].shape), feature)
    assert turned.centre == pytest.approx([480, 300, 50]) and turned.facing == pytest.approx([1, 0, 0])


@pytest.mark.parametrize(("turn", "told"), [(0, False), (55, False), (62, True), (180, True)])
def test_a_label_turned_past_sixty_degrees_is_turned_away(turn, told):
    found = said(value() | {"placements": [{"id": "p1", "prop": "box", "x": 450, "y": 300, "role": "hero", "turn": turn}]})
    assert ("feature.turned" in found) is told
    if told:
        middle = (450 + 30 * math.sin(math.radians(turn)), 300 - 30 * math.cos(math.radians(turn)))
        to_lens = math.degrees(math.atan2(450 - middle[0], middle[1] + 800))
        assert found["feature.turned"].measure == pytest.approx(abs(turn - to_lens), abs=0.2)
        assert set(found) == {"feature.turned"}  # not also hidden, small or soft


def test_its_height_in_delivered_pixels_by_similar_triangles():
    """30 mm at 1100 - 30 = 1070 from the lens; c = 50 x 1100 / 1050 = 52.381; 36 mm are 1800 px."""
    seen = picture(value())
    found = seen_feature(seen, "p1", feature_of(seen.props["p1"], "label"), pixels_per_frame=1800)
    assert found is not None and found.pixels_high == pytest.approx(30 * 52.38095 / 1070 / 36 * 1800, rel=1e-4)
    assert found.angle_deg == pytest.approx(0, abs=1e-6) and found.seen == pytest.approx(1)


@pytest.mark.parametrize(("high", "told"), [(13.2, True), (13.4, False)])
def test_too_small_to_be_read_under_thirty_two_pixels(high, told):
    """32 px are 32 x 36 / 1800 x 1070 / 52.381 = 13.07 mm in a delivered width of 1800; the limit lies between at this distance."""
    of = value(distance=1100)
    of["props"][0]["features"][0] = {**LABEL, "height": high * 13.07 / 13.3}
    assert ("feature.small" in said(of)) is told


@pytest.mark.parametrize(("x", "told"), [(450, True), (432, True), (420, True), (411, False), (380, False)])
def test_what_stands_before_it_hides_it(x, told):
    """A post of 40, its near face 915 from the lens and its far one 925, the label 1070: an edge at x + 20 is seen at 450 + (x - 430) x 1070 / 925
    on the label, which goes from 425 to 475; too much of it is hidden past 432.5. By its height of 120 the post covers all of the label's."""
    post = {"id": "p2", "prop": "post", "x": x, "y": 120}
    found = said(value(others=[post]))
    edge = 450 + (x + 20 - 450) * (1070 / (1100 - 180 + 5))
    hidden = max(0.0, min(475, edge) - max(425, 450 + (x - 20 - 450) * (1070 / (1100 - 180 + 5)))) / 50
    assert ("feature.hidden" in found) is (hidden > 0.15)
    if "feature.hidden" in found:
        assert found["feature.hidden"].measure == pytest.approx(100 * (1 - hidden), abs=3)
        assert dict(found["feature.hidden"].figures)["by"] == "p2"
    assert told is (hidden > 0.15)


def test_glass_hides_nothing_and_a_crop_cuts_it_off():
    of = value(others=[{"id": "p2", "prop": "post", "x": 450, "y": 120}])
    of["props"][1]["finish"] = "glass"
    assert "feature.hidden" not in said(of)
    cut = value()
    cut["setups"][0]["deliverables"].append({"name": "story", "ratio": "9:16", "centre": [0.3, 0.5]})
    found = said(cut)["feature.hidden"]
    assert found.crop == "story" and found.crops == ("story",)


@pytest.mark.parametrize(("focus_y", "told"), [(270, False), (600, True)])
def test_a_feature_out_of_focus_is_soft(focus_y, told):
    assert ("feature.soft" in said(value(focus={"point": [450, focus_y, 50]}, aperture=4))) is told


def test_on_a_lid_seen_level_it_is_turned_and_from_above_it_is_seen():
    assert "feature.turned" in said(value("clasp"))
    assert not said(value("clasp", elevation=75, aim=[450, 300, 100]))


def test_in_a_dish_a_filling_is_hidden_by_the_wall_before_it():
    of = value()
    of["props"][0] |= {
        "shape": {"kind": "bowl", "diameter": 160, "base_diameter": 90, "height": 80},
        "features": [{"id": "label", "name": "filling", "at": [0, 0, 16], "facing": [0, 0, 1], "width": 80, "height": 80}],
    }
    of["setups"][0]["camera"].update(elevation=32)
    assert "feature.hidden" in said(of)
    of["setups"][0]["camera"].update(elevation=80)
    assert not said(of)


def test_nothing_is_asked_where_it_is_left_out_swapped_or_not_asked_for():
    of = value()
    of["placements"][0]["turn"] = 180
    assert "feature.turned" in said(of)
    assert not said({**of, "brief": {}})
    of["setups"][0]["hidden"] = ["p1"]
    assert not said(of)
    of["setups"][0] |= {"hidden": [], "swap": {"p1": "post"}}
    assert not said(of)


def test_every_set_up_is_checked():
    of = value()
    of["setups"].append({**of["setups"][0], "name": "behind", "camera": {**of["setups"][0]["camera"], "azimuth": 180}})
    read = scene(of)
    codes = [{f.code for f in findings(Picture(read, s)) if f.code.startswith("feature.")} for s in read.setups]
    assert codes == [set(), {"feature.turned"}]
    told = evaluation(read, with_remedies=False)["setups"]["behind"]["placements"]["p1"]["features"]["label"]
    assert told["angle"] > 170 and told["seen"] == 0 and set(told["crops"]["feed"]) == {"seen", "blur", "pixels_high"}


@pytest.mark.parametrize(
    ("changes", "code", "kinds"),
    [
        ({"turn": 80}, "feature.turned", {"turn"}),
        ({"others": [{"id": "p2", "prop": "post", "x": 440, "y": 120}]}, "feature.hidden", {"move"}),
        ({"camera": {"focus": {"point": [450, 600, 50]}, "aperture": 8}}, "feature.soft", {"refocus", "refocus_and_aperture"}),
        ({"camera": {"distance": 1700}, "high": 12}, "feature.small", {"step", "aim_and_step"}),
    ],
)
def test_its_remedy_shows_it(changes, code, kinds):
    of = value(others=changes.get("others", ()), **changes.get("camera", {}))
    of["placements"][0]["turn"] = changes.get("turn", 0)
    if "high" in changes:
        of["props"][0]["features"][0] = {**LABEL, "height": changes["high"]}
    seen = picture(of)
    (told,) = [f for f in findings(seen) if f.code == code]
    remedy = remedy_for(seen, told)
    assert remedy is not None and remedy.kind in kinds
    assert code not in {f.code for f in findings(seen.changed(tried(seen.whole, remedy.acts)))}


@pytest.mark.parametrize(("ask", "focus_y", "told"), [(True, 270, False), (True, 300, True), (False, 300, False), (False, 270, True)])
def test_where_the_rest_may_fall_away_what_must_be_seen_has_to_be_sharp_and_not_the_middle(ask, focus_y, told):
    """By hand, f/1.8 at u = 1070 or 1100 through 50 mm: some 21 mm hold to each side for c = 0.03; label and middle are 30 mm apart."""
    of = value(ask=ask, aperture=1.8, focus={"point": [450, focus_y, 50]})
    of["brief"]["leanings"] = {"focus": 1}
    hero = [f for f in findings(picture(of)) if f.code == "focus.hero"]
    assert bool(hero) is told
    if told:
        assert hero[0].sides == (("near",) if ask else ("far",))


def test_of_several_places_that_must_be_seen_the_nearest_and_the_furthest_are_held():
    from tideflat.core.delivered import needed_depth

    of = value(elevation=0)
    of["brief"] = {"leanings": {"focus": 1}, "must_show": [{"placement": "p1", "feature": "label"}, {"placement": "p1", "feature": "clasp"}]}
    assert needed_depth(picture(of), "p1") == pytest.approx((1070, 1100))
    of["brief"]["leanings"] = {"focus": 0}
    assert needed_depth(picture(of), "p1") == pytest.approx((1070, 1130))  # all of it, 60 mm deep
