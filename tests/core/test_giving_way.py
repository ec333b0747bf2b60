"""Making room for what is carried: the least way, nothing locked, nothing off the table, and back when it has left."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.arranged import PROBLEMS, table_of
from tests.support.scenes import bare_value, picture
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.arrange.giving_way import make_room
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings

GAP = 8.0  # what large things keep clear, spacing leaning to neither


def row(*places: tuple[float, float], across: float = 60.0, **first: Any) -> dict[str, Any]:
    """Discs, the first the hero, on 900 by 600 mm."""
    value = bare_value() | {"backdrop": None, "room": None}
    value["props"] = [{"id": f"d{k}", "name": f"disc {k}", "shape": {"kind": "cylinder", "diameter": across, "height": 30}} for k in range(len(places))]
    value["placements"] = [
        {"id": f"d{k}", "prop": f"d{k}", "x": x, "y": y, "role": "support" if k else "hero"} for k, (x, y) in enumerate(places)
    ]
    value["placements"][0] |= first
    return value


def moved(value: dict[str, Any], x: float, y: float, **more: Any) -> dict[str, tuple[float, float]]:
    return make_room(picture(value), "d0", x, y, **more)


def test_what_is_come_near_to_moves_by_what_is_lacking_and_no_more():
    value = row((200, 300), (400, 300))
    assert moved(value, 400 - 60 - GAP - 0.1, 300) == {}
    there = moved(value, 350, 300)
    assert there == {"d1": (pytest.approx(350 + 60 + GAP, abs=0.7), pytest.approx(300, abs=0.1))}
    assert moved(value, 200, 300) == {}, "and comes back when it has left"


def test_one_after_the_other_gives_way_and_each_by_its_own_share():
    there = moved(row((100, 300), (300, 300), (300 + 60 + GAP, 300), (600, 300)), 270, 300)
    lead = 270 + 60 + GAP
    assert set(there) == {"d1", "d2"} and there["d1"][0] == pytest.approx(lead, abs=0.7) and there["d2"][0] == pytest.approx(lead + 60 + GAP, abs=1.4)


def test_what_is_locked_stands_and_nothing_leaves_the_table():
    value = row((200, 300), (400, 300), (400 + 60 + GAP, 300))
    value["placements"][2]["locked"] = True
    there = moved(value, 360, 300)
    assert set(there) == {"d1"}
    x, y = there["d1"]
    assert np.hypot(x - 360, y - 300) >= 60 + GAP - 0.2 and np.hypot(x - 468, y - 300) >= 60 + GAP - 0.2
    edge = moved(row((700, 300), (860, 300)), 830, 300)["d1"]
    assert edge[0] <= 870.1 and np.hypot(edge[0] - 830, edge[1] - 300) >= 60 + GAP - 1.0


def test_what_stood_too_near_before_need_not_part_from_what_does_not_come():
    assert moved(row((100, 100), (400, 300), (463, 300)), 100, 105) == {}


def test_what_it_is_laid_on_stays_and_what_hangs_over_all_moves_nothing():
    value = row((200, 300), (400, 300))
    assert moved(value, 400, 300, apart=["d1"]) == {}
    assert moved(row((200, 300), (400, 300), z=200, held_by="arm"), 400, 300) == {}
    assert moved(row((200, 300), (400, 300), z=200), 400, 300) == {}, "nothing has a height in common with it"
    with pytest.raises(FieldError):
        make_room(picture(value), "d9", 0, 0)


def test_what_lies_on_a_thing_goes_with_it_and_a_group_goes_as_one():
    value = row((100, 300), (400, 300), (400, 300), (400, 400))
    value["props"][2]["shape"] |= {"diameter": 20}
    value["placements"][2] |= {"z": 30, "on": "d1", "role": "filler"}
    assert set(moved(value, 370, 300)) == {"d1"}
    value["groups"] = [{"id": "g", "name": "pair", "placements": ["d1", "d3"]}]
    there = moved(value, 370, 300)
    shifts = {i: (round(x - 400, 1), round(y - (300 if i == "d1" else 400), 1)) for i, (x, y) in there.items()}
    assert set(shifts) == {"d1", "d3"} and shifts["d1"] == shifts["d3"]


def test_a_gap_between_two_is_crossed_the_least_way():
    """Straight between two 100 mm apart: each gives way by half of what is lacking."""
    there = moved(row((100, 300), (400, 250), (400, 350)), 400, 300)
    assert there["d1"][1] == pytest.approx(300 - 60 - GAP, abs=0.7) and there["d2"][1] == pytest.approx(300 + 60 + GAP, abs=0.7)
    assert abs(there["d1"][0] - 400) < 1 and abs(there["d2"][0] - 400) < 1


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_over_tables_by_chance_nothing_new_stands_in_anything(seed):
    random = np.random.default_rng(seed)
    scene = table_of(14, 90)
    lead = scene.placements[int(random.integers(0, 14))]
    shown = Picture(scene, scene.setups[0])
    x, y = float(random.uniform(200, 1500)), float(random.uniform(200, 1200))
    there = make_room(shown, lead.id, x, y)
    placements = tuple(
        replace(p, x=x, y=y) if p.id == lead.id else replace(p, x=there[p.id][0], y=there[p.id][1]) if p.id in there else p
        for p in scene.placements
    )
    after = shown.changed(replace(scene, placements=placements))
    assert not [f for f in findings(after) if f.code == "spacing.overlap"]
    assert make_room(shown, lead.id, lead.x, lead.y) == {}
    feet = {i: b.footprint for i, b in after.bodies.items()}
    for i, at in there.items():  # whatever moved stands as near to what pushed it as it may: less would be too near to something
        back = replace(next(p for p in scene.placements if p.id == i))
        share = 0.2
        nearer = shapely.affinity.translate(feet[i], share * (back.x - at[0]), share * (back.y - at[1]))
        assert np.hypot(back.x - at[0], back.y - at[1]) < 6 or any(shapely.distance(nearer, f) < GAP + 6 for j, f in feet.items() if j != i)


def test_one_step_lets_go_and_makes_room_and_says_so():
    scene = PROBLEMS["marmalade"]()
    jar = next(p for p in scene.placements if p.id == "jar-1")
    pan = next(p for p in scene.placements if p.role == "hero")
    room = [{"placement": "jar-1", "x": jar.x + 40, "y": jar.y}]
    act = {"act": "let_go", "placement": pan.id, "x": pan.x + 30, "y": pan.y + 60, "making_room": room}
    done = perform(scene, act_from_value(act))
    assert (done.scene.placement("jar-1").x, done.scene.placement(pan.id).x) == (jar.x + 40, pan.x + 30)
    assert dict(done.figures)["room"] == 1
    with pytest.raises(FieldError, match="other things"):
        perform(scene, act_from_value(act | {"making_room": [{"placement": pan.id, "x": 1, "y": 1}]}))
    locked = replace(scene, placements=tuple(replace(p, locked=p.id == "jar-1") for p in scene.placements))
    with pytest.raises(FieldError):
        perform(locked, act_from_value(act))
