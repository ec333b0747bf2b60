"""Letting go: what can carry a thing does, by the rule of rest; all else stays as it was."""

from __future__ import annotations

import pytest

from tests.support.acts import stacked_value
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.web.scenes.starters import CHOICES, starter

VALUE = stacked_value()


def scene_with(**of_things):
    value = stacked_value()
    for placement in value["placements"]:
        placement.update(of_things.get(placement["id"], {}))
    return scene_from_value(value)


def let_go(scene, placement, x, y, **more):
    done = perform(scene, act_from_value({"act": "let_go", "placement": placement, "x": x, "y": y, **more}))
    return done, done.scene.placement(placement)


def test_over_a_board_it_lies_on_it_and_away_from_it_on_the_table():
    scene = scene_with()
    done, orange = let_go(scene, "orange", 326, 224)
    assert (orange.on, orange.z) == ("board", 18) and done.code == "let_go" and dict(done.figures)["below"] == "board"
    done, orange = let_go(done.scene, "orange", 700, 500)
    assert (orange.on, orange.z, orange.x) == (None, 0, 700) and done.code == "move"


def test_in_a_bowl_it_lies_on_its_floor_and_what_it_carries_comes_along():
    scene = scene_with()
    _, orange = let_go(scene, "orange", 480, 450)
    assert orange.on == "bowl" and 0 < orange.z < 30
    done, dish = let_go(scene, "dish", 620, 520)
    assert (dish.on, dish.z) == (None, 0)
    spoon, before = done.scene.placement("spoon"), scene.placement("spoon")
    assert (spoon.x - before.x, spoon.y - before.y) == pytest.approx((620 - 330, 520 - 310), abs=0.2)
    assert spoon.z == pytest.approx(before.z - 18, abs=0.2) and spoon.on == "dish"


def test_level_keeps_it_on_the_table_whatever_is_there():
    _, orange = let_go(scene_with(), "orange", 480, 450, level=True)
    assert (orange.on, orange.z) == (None, 0)
    _, dish = let_go(scene_with(), "dish", 320, 300, level=True)
    assert (dish.on, dish.z) == (None, 0)


def test_still_over_its_carrier_it_slides_there_as_it_lies():
    scene = scene_with()
    _, dish = let_go(scene, "dish", 322, 306)
    assert (dish.on, dish.z, dish.lean) == ("board", 18, 0)
    _, spoon = let_go(scene, "spoon", 343, 317)
    assert (spoon.on, spoon.z, spoon.lean) == ("dish", 43, 8)


@pytest.mark.parametrize("own", [{"z": 60, "held_by": "arm"}, {"z": 60}, {"lean": 20, "held_by": "tape"}, {"lean": 12}])
def test_what_is_held_up_raised_or_leaned_by_hand_stays_so(own):
    scene = scene_with(orange=own) if "lean" not in own else scene_with(jar=own)
    thing = "orange" if "lean" not in own else "jar"
    before = scene.placement(thing)
    _, after = let_go(scene, thing, 300, 300)
    assert (after.z, after.on, after.lean, after.held_by) == (before.z, None, before.lean, before.held_by)


def test_it_is_done_where_it_is_looked_at_and_for_the_others_only_when_they_share_it():
    scene = scene_with()
    done = perform(scene, act_from_value({"act": "let_go", "placement": "orange", "x": 326, "y": 224, "setup": "detail", "only": True}))
    assert done.scene.placement("orange") == scene.placement("orange")
    here = done.scene.seen_in(done.scene.setup("detail")).placement("orange")
    assert (here.x, here.on, here.z) == (326, "board", 18)


def test_what_lies_on_a_thing_that_is_left_out_here_keeps_lying_on_it():
    value = stacked_value()
    value["setups"][2]["hidden"] = ["board"]
    scene = scene_from_value(value)
    _, dish = let_go(scene, "dish", 340, 312, setup="detail")
    assert (dish.x, dish.on, dish.z) == (340, "board", 18)


@pytest.mark.parametrize("kind", [k for k in CHOICES if k != "empty"])
def test_let_go_where_it_is_nothing_in_the_demo_jumps(kind):
    scene = starter(kind)
    for setup in scene.setups:
        seen = scene.seen_in(setup)
        for p in seen.placements:
            if p.locked or p.id == "sage-2":  # it hangs over the napkin's edge by more than half
                continue
            act = act_from_value({"act": "let_go", "placement": p.id, "x": p.x, "y": p.y, "setup": setup.name, "only": True})
            after = perform(scene, act).scene.seen_in(setup)
            assert (after.placement(p.id).z, after.placement(p.id).on) == (p.z, p.on), p.id


def test_a_prop_that_is_let_go_on_a_board_is_added_lying_on_it():
    scene = scene_with()
    done = perform(scene, act_from_value({"act": "add", "prop": "orange", "x": 326, "y": 224, "settled": True}))
    assert (done.scene.placement(done.held).on, done.scene.placement(done.held).z) == ("board", 18)
    done = perform(scene, act_from_value({"act": "add", "prop": "orange", "x": 326, "y": 224}))
    assert (done.scene.placement(done.held).on, done.scene.placement(done.held).z) == (None, 0)
