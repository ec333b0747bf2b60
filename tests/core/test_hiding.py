"""Who is in front of whom, and in which order things are painted."""

from __future__ import annotations

import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.camera.hiding import front_order, lies_in, painting_order


def things(*placements, **camera):
    value = scene_value(**camera)
    value["props"].append({"id": "cloth", "shape": {"kind": "cloth", "width": 300, "depth": 200, "thickness": 2}})
    value["placements"] = list(placements)
    value["setups"][0]["deliverables"] = []
    return picture(value)


def at(name, prop, x, y, **more):
    return {"id": name, "prop": prop, "x": x, "y": y, **more}


@pytest.mark.parametrize("elevation", [90, 45, 5])
def test_order_is_the_same_from_either_side(elevation):
    computed = things(at("a", "jar", 430, 250), at("b", "bottle", 450, 400), elevation=elevation, aim=[450, 300, 40])
    a, b = (computed.silhouettes[i] for i in "ab")
    assert front_order(a, b, computed.view) == -front_order(b, a, computed.view) != 0


def test_the_nearer_jar_is_in_front_at_a_low_camera_and_the_walk_round_swaps_them():
    pair = (at("a", "jar", 450, 200), at("b", "jar", 450, 400))
    near = things(*pair, elevation=10, aim=[450, 300, 40])
    assert ("a", "b") in near.hiding.in_front
    round_the_back = things(*pair, elevation=10, azimuth=180, aim=[450, 300, 40])
    assert ("b", "a") in round_the_back.hiding.in_front


def test_what_stands_on_the_board_is_in_front_of_it_from_above():
    computed = things(at("board", "board", 450, 300), at("jar", "jar", 470, 310, z=18, on="board"), elevation=45)
    assert ("jar", "board") in computed.hiding.in_front


def test_cloth_lies_under_what_stands_on_it_whatever_the_heights_say():
    computed = things(at("cloth", "cloth", 450, 300, role="cloth"), at("bowl", "bowl", 560, 330), elevation=45)
    assert computed.things["bowl"].visible_share == 1
    assert computed.things["cloth"].visible_share < 1


def test_strewn_pieces_are_hidden_one_by_one():
    computed = things(at("peel", "peel", 450, 300, role="scatter"), at("cup", "cup", 470, 285), elevation=30)
    share = computed.things["peel"].visible_share
    assert 0.2 < share < 0.95
    assert computed.things["cup"].visible_share > 0.9


def test_a_spoon_in_a_bowl_lies_in_it_and_a_long_one_does_not():
    computed = things(at("bowl", "bowl", 450, 300), at("leaf", "leaf", 450, 300, z=6), at("spoon", "spoon", 480, 300, z=6), elevation=45)
    bodies = computed.bodies
    assert lies_in(bodies["leaf"], bodies["bowl"])
    assert not lies_in(bodies["spoon"], bodies["bowl"])
    assert not lies_in(bodies["bowl"], bodies["leaf"])


def test_things_are_painted_from_the_back_and_a_ring_of_three_still_ends():
    depth = {"near": 1.0, "middle": 2.0, "far": 3.0}
    assert painting_order(("near", "far", "middle"), (("near", "middle"), ("middle", "far")), depth) == ("far", "middle", "near")
    assert painting_order(("near", "far"), (("far", "near"),), depth) == ("near", "far")  # who is in front wins over depth
    ring = painting_order(("a", "b", "c"), (("a", "b"), ("b", "c"), ("c", "a")), {})
    assert sorted(ring) == ["a", "b", "c"]


def test_an_empty_table_hides_nothing():
    computed = things()
    assert computed.things == {} and computed.hiding.in_front == ()
