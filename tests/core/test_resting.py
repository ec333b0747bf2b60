"""Where a thing comes to rest when it is let go, by hand; and "lay it on ..." as the remedy of what stands in what could carry it."""

from __future__ import annotations

import math

import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.acts.registry import tried
from tideflat.core.findings.registry import findings
from tideflat.core.model import Placement
from tideflat.core.remedies.search import remedy_for
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.shapes.rod import Rod
from tideflat.core.shapes.scatter import Scatter
from tideflat.core.shapes.sphere import Sphere
from tideflat.core.solids.body import pose
from tideflat.core.table.resting import come_to_rest, may_lie_on

BOARD = pose(Placement("board", "b", 0.0, 0.0), Box(200, 200, 20))
PLATE = pose(Placement("plate", "p", 0.0, 0.0), Bowl(270, 176, 24))
SPOON = Rod(220, 20, 6)


def at(x, shape=SPOON, turn=0.0, **others):
    return come_to_rest(Placement("s", "s", float(x), 0.0, turn=turn), shape, others or {"board": BOARD})


@pytest.mark.parametrize(("x", "on", "z"), [(0, "board", 20), (99, "board", 20), (215, None, 0)])
def test_its_weight_over_a_board_it_lies_flat_and_beside_it_on_the_table(x, on, z):
    rest = at(x)
    assert (rest.on, rest.z, rest.lean) == (on, z, 0)


@pytest.mark.parametrize("x", [102, 130, 180, 205])
def test_with_its_weight_past_the_edge_it_bridges_board_and_table(x):
    """It tips about the edge (100, 20) until its far end, at x + 110, is down: sin a = 20 / (x + 10)."""
    rest = at(x)
    assert (rest.on, rest.also, rest.z) == ("board", None, pytest.approx(0, abs=0.1)) and rest.lean_toward == pytest.approx(0)
    assert rest.lean == pytest.approx(math.degrees(math.asin(20 / (x + 10))), abs=0.05)


def test_it_tips_to_the_side_where_its_weight_is():
    rest = come_to_rest(Placement("s", "s", 0.0, -150.0, turn=90.0), SPOON, {"board": BOARD})
    assert rest.lean_toward == pytest.approx(-90) and rest.lean == pytest.approx(math.degrees(math.asin(20 / 160)), abs=0.05)


@pytest.mark.parametrize("x", [160, 200, 235])
def test_a_spoon_lies_across_a_plates_rim_and_the_table(x):
    rest = at(x, plate=PLATE)
    assert rest.on == "plate" and rest.lean == pytest.approx(math.degrees(math.asin(24 / (x + 110 - 135))), abs=0.1)


def test_a_spoons_head_lies_in_the_plate_and_its_handle_on_the_rim():
    """Its weight inside the rim: it tips inward, and its low end is on the floor, 4.8 mm over the foot."""
    rest = at(100, plate=PLATE)
    assert (rest.on, rest.also, rest.z) == ("plate", "plate", pytest.approx(4.8, abs=0.1)) and abs(rest.lean_toward) == 180


def test_fanned_slices():
    """The second of two slices 6 high, 40 mm on: its weight is 6 past the first one's edge; its own edge is 40 from there: sin a = 6 / 40."""
    first = pose(Placement("first", "f", 0.0, 0.0), Cylinder(68, 6))
    rest = at(40, Cylinder(68, 6), first=first)
    assert rest.on == "first" and rest.lean == pytest.approx(math.degrees(math.asin(6 / 40)), abs=0.1)
    assert at(30, Cylinder(68, 6), first=first).lean == 0  # its weight is over the first


def test_across_two_things_of_two_heights():
    """From a board 20 high, its edge at 100, to a block 8 high beginning at 150: a drop of 12 over 50."""
    block = pose(Placement("block", "k", 250.0, 0.0), Box(200, 200, 8))
    rest = at(130, board=BOARD, block=block)
    assert {rest.on, rest.also} == {"board", "block"}
    assert rest.lean == pytest.approx(math.degrees(math.asin(12 / math.hypot(140, 12))), abs=0.2)


def test_nothing_rests_on_a_ball_or_on_what_is_strewn():
    ball = pose(Placement("ball", "q", 0.0, 0.0), Sphere(60))
    assert at(0, Sphere(60), ball=ball) is None
    strewn = pose(Placement("strewn", "q", 0.0, 0.0), Scatter(100, 100, 6, 30, 1))
    assert at(0, strewn=strewn).on is None


def test_a_dish_takes_what_fits_on_its_floor():
    assert (at(0, Sphere(60), plate=PLATE).on, at(0, Sphere(60), plate=PLATE).z) == ("plate", 4.8)


@pytest.mark.parametrize(
    ("upper", "lower", "x", "may"),
    [
        (SPOON, Bowl(270, 176, 24), 160, True),
        (Cylinder(76, 95), Box(320, 220, 18), 100, True),
        (Cylinder(76, 95), Cylinder(76, 95), 10, False),  # a jar a little off another jar
        (Cylinder(70, 60), Cylinder(76, 95), 0, True),  # a pot on the whole of a jar's lid
        (Cylinder(76, 95), Box(320, 220, 18), 175, False),  # two thirds of it in the air: it tips, and is no flat thing
        (Cylinder(68, 6), Cylinder(68, 6), 40, True),
    ],
)
def test_what_anybody_would_lay_on_what(upper, lower, x, may):
    below, above = pose(Placement("l", "l", 0.0, 0.0), lower), pose(Placement("u", "u", float(x), 0.0), upper)
    rest = come_to_rest(above.placement, upper, {"l": below})
    assert (rest is not None and rest.on == "l" and may_lie_on(above, below, rest)) is may


def _overlapping(first, second, **keys):
    value = scene_value()
    value["props"] = [{"id": "a", "name": "lower", "shape": first}, {"id": "b", "name": "upper", "shape": second}]
    value["placements"] = [
        {"id": "p1", "prop": "a", "x": 400, "y": 300, "role": "support"},
        {"id": "p2", "prop": "b", "y": 300, "role": "linear", **keys},
    ]
    value["setups"][0]["deliverables"] = []
    return picture(value)


@pytest.mark.parametrize(
    ("lower", "upper", "x"),
    [
        (
            {"kind": "bowl", "diameter": 270, "base_diameter": 176, "height": 24},
            {"kind": "rod", "length": 220, "width": 20, "height": 6},
            560,
        ),
        ({"kind": "box", "width": 320, "depth": 220, "height": 18}, {"kind": "cylinder", "diameter": 118, "height": 14}, 380),
        ({"kind": "cylinder", "diameter": 68, "height": 6}, {"kind": "cylinder", "diameter": 68, "height": 6}, 440),
    ],
)
def test_what_stands_in_what_can_carry_it_is_laid_on_it(lower, upper, x):
    seen = _overlapping(lower, upper, x=x)
    (told,) = [f for f in findings(seen) if f.code == "spacing.overlap"]
    remedy = remedy_for(seen, told)
    assert remedy is not None and remedy.kind == "lay"
    after = seen.changed(tried(seen.whole, remedy.acts))
    figures = dict(remedy.figures)
    assert after.scene.placement(figures["placement"]).on == figures["on"]
    assert not [f for f in findings(after) if f.code.startswith(("spacing.overlap", "support."))]


def test_what_only_touches_is_parted():
    """The spoon's end 2 mm inside a box's side: nobody meant to lay it there."""
    seen = _overlapping(
        {"kind": "box", "width": 200, "depth": 200, "height": 20}, {"kind": "rod", "length": 220, "width": 20, "height": 6}, x=608
    )
    (told,) = [f for f in findings(seen) if f.code == "spacing.overlap"]
    assert told.measure == pytest.approx(2)
    remedy = remedy_for(seen, told)
    assert remedy is not None and remedy.kind == "move"
