"""Each finding: it is found with the right measure, and not found on the other side of its limit."""

from __future__ import annotations

import pytest

from tests.support.scenes import bare_value, picture, scene_value
from tideflat.core.findings.registry import KINDS, findings


def found(value, code):
    return [f for f in findings(picture(value)) if f.code == code]


def two_jars(gap, **camera):
    """Two jars of 76 mm side by side with ``gap`` mm between them, the first the hero, under an overhead camera."""
    value = bare_value(**{"distance": 700, **camera})
    value["placements"] = [
        {"id": "p1", "prop": "jar", "x": 400, "y": 300, "role": "hero"},
        {"id": "p2", "prop": "jar", "x": 476 + gap, "y": 300},
    ]
    return value


def test_a_hero_is_missing_and_there_are_several():
    value = two_jars(60)
    assert not found(value, "hero.missing") and not found(value, "hero.several")
    value["placements"][1]["role"] = "hero"
    (several,) = found(value, "hero.several")
    assert several.measure == 2 and several.placements == ("p1", "p2")
    for placement in value["placements"]:
        placement["role"] = "support"
    assert len(found(value, "hero.missing")) == 1
    value["placements"] = []
    assert len(found(value, "hero.missing")) == 1


def test_a_crop_that_loses_the_hero_is_named_with_the_share_it_loses():
    value = bare_value()
    value["placements"][0].update(x=450 - 0.5 * 756 * 8 / 15, y=300)  # its base is cut in half by the left edge of a 4:5 crop
    value["props"][0]["shape"]["height"] = 0.1
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "4:5"}]
    (cut,) = found(value, "hero.cut")
    assert cut.crop == "feed" and cut.sides == ("left",)
    assert cut.measure == pytest.approx(50, abs=0.2)


def test_a_hero_past_the_frame_is_cut_by_the_frame_and_gravely_when_most_is_lost():
    value = bare_value()
    value["placements"][0].update(x=60)
    (cut,) = found(value, "hero.cut")
    assert cut.crop is None and cut.severity == "stop"


def test_a_small_hero_is_measured_in_per_cent_of_the_frame():
    """A disc of 76 in a frame of 756 x 504: pi 38^2 / 381024 = 1.19 %."""
    value = bare_value()
    value["props"][0]["shape"]["height"] = 0.1
    (small,) = found(value, "hero.small")
    assert small.measure == pytest.approx(1.19, abs=0.02)
    assert not found(bare_value(distance=600), "hero.small")


def test_two_jars_in_each_other_are_measured_by_the_shortest_way_out():
    (overlap,) = found(two_jars(-20), "spacing.overlap")
    assert overlap.severity == "stop" and overlap.measure == pytest.approx(20, abs=0.1)
    assert not found(two_jars(0.5), "spacing.overlap")


def test_a_rim_over_a_spoon_is_no_collision():
    value = scene_value()
    value["placements"] = [
        {"id": "bowl", "prop": "bowl", "x": 450, "y": 300, "role": "hero"},
        {"id": "spoon", "prop": "spoon", "x": 450, "y": 238, "role": "linear"},
    ]
    assert not found(value, "spacing.overlap")  # the bowl's foot ends 35 mm from its middle, its rim 75


def test_what_rests_on_or_lies_in_a_thing_is_no_collision():
    value = scene_value()
    value["placements"] = [
        {"id": "bowl", "prop": "bowl", "x": 450, "y": 300, "role": "hero"},
        {"id": "leaf", "prop": "leaf", "x": 450, "y": 300, "z": 6},
        {"id": "peel", "prop": "peel", "x": 520, "y": 320, "role": "scatter"},
    ]
    assert not found(value, "spacing.overlap") and not found(value, "support.floating")


@pytest.mark.parametrize(("gap", "leaning", "is_found"), [(3, 0, True), (9, 0, False), (12, -1, True), (3, 1, False)])
def test_tight_spacing_follows_the_leaning(gap, leaning, is_found):
    value = two_jars(gap)
    value["brief"] = {"leanings": {"spacing": leaning}}
    tight = found(value, "spacing.tight")
    assert bool(tight) == is_found
    if tight:
        assert tight[0].measure == pytest.approx(gap, abs=0.05) and tight[0].leaning == "spacing" and tight[0].unit == "mm"


def test_outlines_that_only_just_touch_in_the_frame_though_far_apart_on_the_table():
    """At 45 degrees the far jar's foot meets the near jar's lid: found by sliding the far one until the gap is small."""
    value = two_jars(60, elevation=45)
    value["placements"][1].update(x=400)
    gaps = {}
    for y in range(380, 520, 2):
        value["placements"][1]["y"] = y
        near = found(value, "tangent.pair")
        if near:
            gaps[y] = near[0].measure
    assert gaps and max(gaps.values()) < 0.8
    value["placements"][1]["y"] = max(gaps) + 12
    assert not found(value, "tangent.pair")


def test_an_outline_that_kisses_the_edge_and_a_sliver_that_peeks_in():
    value = two_jars(200)
    value["props"][0]["shape"]["height"] = 0.1
    width = 36 / (50 / 650)  # 468 mm
    right = 450 + width / 2
    value["placements"][1]["x"] = right - 38 - 2  # 2 mm inside: 0.43 % of 468
    (kiss,) = found(value, "tangent.edge")
    assert kiss.placements == ("p2",) and kiss.sides == ("right",) and kiss.measure == pytest.approx(0.43, abs=0.02)
    value["placements"][1]["x"] = right + 38 - 8  # 8 mm of 76 peek in
    (sliver,) = found(value, "edge.sliver")
    assert sliver.measure == pytest.approx(5.6, abs=0.5)  # a segment 8 high of a disc of 76, by its area
    assert not found(value, "tangent.edge")


def test_the_ceiling_is_measured_from_the_back_of_the_camera():
    value = bare_value(distance=1570)
    (ceiling,) = found(value, "rig.ceiling")
    c = 50 * (1 + 50 / 1520)
    assert ceiling.measure == pytest.approx(2400 - 740 - 1570 - c - 35, abs=0.06) and ceiling.severity == "mend"
    (inside,) = found(bare_value(distance=1700), "rig.ceiling")
    assert inside.severity == "stop" and inside.measure < 0
    value["room"] = None
    assert not found(value, "rig.ceiling")


def test_focus_nearer_and_further_than_the_lens_reaches():
    (near,) = found(bare_value(distance=350), "lens.min_focus")
    assert near.severity == "stop" and near.limit == pytest.approx(392.7, abs=0.1)
    assert not found(bare_value(distance=393), "lens.min_focus")
    (far,) = found(bare_value(lens={"extension": 12}, distance=300), "lens.too_far")
    assert far.limit == pytest.approx(258.3, abs=0.1)
    assert not found(bare_value(lens={"extension": 12}, distance=200), "lens.too_far")


def test_the_surface_ends_in_the_picture():
    value = bare_value(distance=1300)  # 900 x 600 seen: exactly the surface, then a little more
    assert not found(value, "surface.edge")
    (edge,) = found(bare_value(distance=1350), "surface.edge")
    assert edge.measure == pytest.approx(18, abs=0.1) and set(edge.sides) == {"left", "right", "front", "back"} - {"back"}


def test_the_back_edge_counts_where_no_backdrop_stands():
    value = bare_value(elevation=20, distance=700, aim=[450, 300, 0])
    assert "back" not in {s for f in found(value, "surface.edge") for s in f.sides}
    value["backdrop"] = None
    assert "back" in {s for f in found(value, "surface.edge") for s in f.sides}


def test_the_backdrop_is_short_by_similar_triangles():
    (narrow,) = found(bare_value(elevation=0, aim=[450, 300, 200]), "backdrop.narrow")
    assert narrow.measure == pytest.approx(31.09, abs=0.05) and set(narrow.sides) == {"left", "right"}


def test_a_hero_deeper_than_what_is_sharp_and_the_leaning_that_lets_it_fall_away():
    value = bare_value(aperture=2)
    (soft,) = found(value, "focus.hero")
    near = 1100 * 50**2 / (50**2 + 2 * (43.2666 / 1442) * 1050)
    assert soft.measure == pytest.approx(near - (1100 - 95), abs=0.2)
    value["brief"] = {"leanings": {"focus": 1}}
    value["setups"][0]["camera"]["focus"] = {"point": [450, 300, 47.5]}
    assert not found(value, "focus.hero")


def test_words_would_run_over_the_jar():
    value = bare_value()
    value["setups"][0]["deliverables"] = [{"name": "banner", "ratio": "3:2", "copy_space": {"side": "left", "share": 0.5}}]
    (occupied,) = found(value, "copy.occupied")
    assert occupied.crop == "banner" and occupied.placements == ("p1",)
    value["setups"][0]["deliverables"][0]["copy_space"]["side"] = "right"
    value["placements"][0]["x"] = 350
    assert not found(value, "copy.occupied")


def test_what_nothing_carries_floats_and_what_is_held_does_not():
    value = bare_value()
    value["placements"][0]["z"] = 30
    (floats,) = found(value, "support.floating")
    assert floats.severity == "stop" and floats.measure == 30
    value["placements"][0]["held_by"] = "arm"
    assert not found(value, "support.floating")
    value["placements"][0].update(held_by=None, z=0, x=-200)
    (falls,) = found(value, "support.floating")
    assert falls.measure == 740  # beside the table, down to the floor


def test_a_pile_stands_when_the_middle_of_each_is_over_the_one_below():
    value = scene_value()
    value["placements"] = [
        {"id": "board", "prop": "board", "x": 450, "y": 300, "role": "hero"},
        {"id": "jar", "prop": "jar", "x": 560, "y": 300, "z": 18, "on": "board"},
    ]
    assert not found(value, "support.floating")
    value["placements"][1]["x"] = 640
    assert len(found(value, "support.floating")) == 1


def test_every_code_is_told_by_some_test():
    import pathlib

    here = pathlib.Path(__file__).parent
    text = "".join(path.read_text() for path in sorted(here.glob("test_*.py")))
    assert [code for code in KINDS if f'"{code}"' not in text] == []
