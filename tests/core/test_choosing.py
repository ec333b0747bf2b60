"""Choosing among very many: near a colour, with a scene, in the gap between two things, on another surface."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import scene_value
from tideflat.core.camera.equivalence import equivalent_mm, focal_from_equivalent_mm
from tideflat.core.colour.contrast import contrast_ratio
from tideflat.core.colour.delta_e_2000 import delta_e_2000, difference
from tideflat.core.colour.spaces import lab_from_rgb, lab_of
from tideflat.core.evaluate import Picture
from tideflat.core.facts.practice import GAP_TIGHT, GAP_TIGHT_AIRY, MERGE, MERGE_DEEP, OFF_PALETTE
from tideflat.core.findings.registry import findings
from tideflat.core.findings.room_beside import room_beside
from tideflat.core.findings.surface_tried import try_surface
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Colour, Surface
from tideflat.core.palette.choosing import NEAR, distance_within, goes_with, may_be_within, nearest_first
from tideflat.core.palette.sources import in_common

# ---- near a colour


@pytest.mark.parametrize("limit", [MERGE.value, OFF_PALETTE.value, NEAR])
def test_no_near_colour_is_thrown_out_before_it_is_worked(limit):
    """Against CIEDE2000 itself, which tests/reference/test_colour.py holds to the published pairs."""
    random = np.random.default_rng(3)
    corners = np.array([[0, 0, 1], [1, 0, 1], [0, 1, 0], [1, 1, 1], [0, 0, 0]], dtype=float)
    for target in lab_from_rgb(np.concatenate([random.random((20, 3)), corners])):
        labs = lab_from_rgb(np.clip(random.normal(0.5, 0.6, (20_000, 3)), 0, 1))
        near = delta_e_2000(labs, target) <= limit
        assert not (near & ~may_be_within(labs, target, limit)).any()


def test_what_is_surely_further_is_infinite_and_the_rest_is_right():
    labs = np.array([lab_of(h) for h in ("#c4621a", "#d0702a", "#1a62c4", "#ffffff")])
    found = distance_within(labs, "#c4621a", NEAR)
    assert found[0] == 0 and found[1] == pytest.approx(difference("#d0702a", "#c4621a")) and np.isinf(found[3])


def test_the_nearest_come_first_and_a_trace_of_colour_is_no_ground_to_find_a_thing_by():
    near, far, trace = "#c4621a", "#ffffff", "#c4621a"
    lab = np.array([[lab_of(far), lab_of(trace)], [lab_of("#d0702a"), lab_of(far)], [lab_of(far), lab_of(near)]])
    share = np.array([[0.95, 0.05], [0.7, 0.3], [0.6, 0.4]])
    rows, distances = nearest_first(lab, share, near)
    assert rows.tolist() == [2, 1] and distances.tolist() == sorted(distances.tolist())
    assert [len(a) for a in nearest_first(np.empty((0, 2, 3)), np.empty((0, 2)), near)] == [0, 0]


# ---- with a scene


def scene(**more):
    value = scene_value()
    value["palette"] = {"colours": [{"hex": "#4b5052", "part": "base", "share": 0.6}, {"hex": "#d9762a", "part": "accent", "share": 0.1}]}
    value["brief"] = {"tags": ["Orange", "winter"]}
    return scene_from_value({**value, **more})


def test_a_thing_of_the_palette_and_the_story_goes_before_one_of_neither_and_says_why():
    hexes = ["#d9762a", "#2a62d9", "#4b5052", "#d9762a"]
    tags = [frozenset({"orange", "winter", "fruit"}), frozenset(), frozenset({"winter"}), frozenset({"orange", "winter"})]
    names = ["slice", "vase", "stone", "jar"]  # a jar is on the table already
    found = goes_with(np.array([lab_of(h) for h in hexes]), tags, names, np.array(["gloss", "matte", "matte", "gloss"]), scene())
    assert found.order[0] == 0 and found.order.tolist().index(3) > 0
    assert found.palette_colour.tolist() == [1, -1, 0, 1]
    assert found.tags[0] == {"orange", "winter"} and found.tags[1] == frozenset()
    assert found.is_clear.tolist() == [True, True, False, True]  # the stone is as grey as the slate
    assert found.is_there.tolist() == [False, False, False, True] and found.is_rare.tolist() == [True, False, False, True]


def test_without_a_palette_and_a_story_what_stands_clear_still_comes_first():
    found = goes_with(
        np.array([lab_of("#4b5052"), lab_of("#f0e8d8")]),
        [frozenset()] * 2,
        ["a", "b"],
        np.array(["matte"] * 2),
        scene(palette=None, brief={}),
    )
    assert found.order.tolist() == [1, 0] and found.palette_colour.tolist() == [-1, -1]


def test_references_share_their_near_colours_and_keep_their_mean_shares():
    found = in_common([(("#808080", 0.6), ("#d9762a", 0.4)), (("#848484", 0.5), ("#2a62d9", 0.5))])
    # by hand: greys (0.6 + 0.5) / 2, blue 0.5 / 2, orange 0.4 / 2
    assert [(h, round(s, 3)) for h, s in found] == [("#808080", 0.55), ("#2a62d9", 0.25), ("#d9762a", 0.2)]


# ---- in the gap


def row_of(*placements, leaning=0.0):
    value = scene_value()
    value["brief"] = {"leanings": {"spacing": leaning}}
    value["placements"] = [{"id": i, "prop": p, "x": x, "y": 300, **more} for i, p, x, more in placements]
    value["props"].append({"id": "napkin", "shape": {"kind": "cloth", "width": 300, "depth": 200, "thickness": 2}})
    computed = scene_from_value(value)
    return Picture(computed, computed.setups[0])


def test_the_room_beside_a_thing_is_the_gap_less_what_spacing_asks_on_both_sides():
    for leaning, asked in ((0.0, GAP_TIGHT.value), (-1.0, GAP_TIGHT_AIRY.value), (1.0, 0.0)):
        found = room_beside(row_of(("a", "jar", 200, {}), ("b", "orange", 400, {}), leaning=leaning), "a")
        # by hand: 200 between middles, less half of 76 and half of 74
        assert found.neighbour == "b" and found.gap_mm == pytest.approx(125, abs=0.2)
        assert found.fits_mm == pytest.approx(125 - 2 * asked, abs=0.2)


def test_cloth_under_it_what_it_rests_on_and_what_is_far_above_are_no_neighbours():
    table = row_of(
        ("a", "orange", 200, {"z": 18, "on": "board"}),
        ("board", "board", 200, {}),
        ("napkin", "napkin", 260, {}),
        ("far", "jar", 600, {}),
        ("above", "spoon", 260, {"z": 300}),
    )
    assert room_beside(table, "a").neighbour == "far"
    assert room_beside(row_of(("a", "jar", 200, {})), "a") is None and room_beside(table, "nobody") is None


def test_things_in_each_other_leave_no_room():
    found = room_beside(row_of(("a", "jar", 200, {}), ("b", "jar", 230, {})), "a")
    assert (found.gap_mm, found.fits_mm) == (0, 0)


# ---- on another surface


def on(hex_: str, width: float = 900, depth: float = 600) -> Surface:
    return Surface(f"{hex_} board", width, depth, 0, (Colour(hex_, 1.0),), "matte", None)


def with_words(**more):
    value = scene_value()
    value["props"][4]["colours"] = [{"hex": "#e0822a", "share": 1.0}]
    value["placements"] = [{"id": "hero", "prop": "orange", "x": 450, "y": 300, "role": "hero"}]
    value["setups"][0]["deliverables"] = [{"name": "card", "ratio": "3:2", "copy_space": {"side": "left", "share": 0.25}}]
    value["setups"][0]["camera"]["distance"] = 700
    computed = scene_from_value({**value, **more})
    return Picture(computed, computed.setups[0])


def test_a_surface_that_the_hero_stands_out_from_and_words_read_on_ranks_first():
    before = with_words()
    tried = {h: try_surface(before, on(h)) for h in ("#1c1c1c", "#e0822a", "#8f8f8f")}
    assert max(tried, key=lambda h: tried[h].points) == "#1c1c1c" and min(tried, key=lambda h: tried[h].points) == "#e0822a"
    dark, same = tried["#1c1c1c"], tried["#e0822a"]
    assert dark.hero[0][1] == pytest.approx(difference("#1c1c1c", "#e0822a")) and same.hero == (("hero", 0.0),)
    ((crop, read),) = dark.words
    assert (crop, read.ink) == ("card", "#ffffff") and read.ratio == pytest.approx(contrast_ratio("#ffffff", "#1c1c1c"))
    assert dark.off is None and dark.bare == pytest.approx(0, abs=1e-9)


def test_what_a_surface_is_told_to_melt_is_what_the_findings_say_on_it():
    for shadow, limit in ((0.0, MERGE.value), (1.0, MERGE_DEEP.value)):
        tried = try_surface(with_words(brief={"leanings": {"shadow": shadow}}), on("#d87c2c"))
        assert tried.limit == limit
        melts = any(f.code == "colour.merge" for f in findings(tried.picture))
        assert melts is (tried.hero[0][1] < limit)


def test_a_surface_too_small_shows_how_much_of_the_frame_is_bare():
    before = with_words(backdrop=None)
    tried = try_surface(before, on("#1c1c1c", width=450))
    # by hand: overhead the frame is (u - f) / f x 36 mm wide about x = 450, so that its right half is past a surface of 450
    assert tried.bare == pytest.approx(0.5, abs=0.02)
    assert tried.points < try_surface(before, on("#1c1c1c")).points - 5


def test_the_table_stays_as_high_as_it_is_whatever_lies_on_it():
    before = with_words()
    assert try_surface(before, on("#1c1c1c")).picture.scene.surface.height_above_floor == before.scene.surface.height_above_floor


# ---- by equivalent focal lengths


def test_an_equivalent_focal_length_is_by_the_diagonals():
    """Common practice, no source: a sensor of half the diagonal sees with half the focal length what full frame sees."""
    assert equivalent_mm(25, 18, 12) == pytest.approx(50)
    # by hand for a 4:3 sensor of 6.4 x 4.8 (diagonal 8): 26 x 8 / 43.2666 = 4.8074
    assert focal_from_equivalent_mm(26, 6.4, 4.8) == pytest.approx(4.8074, abs=1e-4)
    for focal in (4.25, 6.9, 35, 100):
        assert focal_from_equivalent_mm(equivalent_mm(focal, 9.8, 7.35), 9.8, 7.35) == pytest.approx(focal)
