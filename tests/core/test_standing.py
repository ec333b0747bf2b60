"""Whether a thing stands: falls and overhangs worked by hand, on both sides of where it tips."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.findings.registry import findings
from tideflat.core.model import Placement
from tideflat.core.remedies.search import remedy_for
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.sphere import Sphere
from tideflat.core.solids.body import pose
from tideflat.core.solids.heights import meeting, topside, underside

BOWL = {"kind": "bowl", "diameter": 200, "base_diameter": 80, "height": 90}
TIN = {"kind": "cylinder", "diameter": 80, "height": 120}


def told(*things, **more):
    """Findings of support: (code, measure) by placement; each thing is (shape, placement's keys)."""
    value = scene_value()
    value["props"] = [{"id": f"s{k}", "shape": shape} for k, (shape, _) in enumerate(things)]
    value["placements"] = [{"id": f"p{k}", "prop": f"s{k}", "x": 450, "y": 300, **keys} for k, (_, keys) in enumerate(things)]
    value["backdrop"] = more.get("backdrop")
    seen = picture(value)
    return {i: (f.code, f.measure) for f in findings(seen) if f.code.startswith("support.") for i in f.placements}


def wall_height(radius_out: float, ball: float) -> float:
    """Where the middle of a ball lies that touches a wall from (40, 0) to (100, 90) and not the floor."""
    slope = math.atan2(90, 60)
    return ball / math.cos(slope) - 40 * math.tan(slope)


@pytest.mark.parametrize(("lift", "falls"), [(0, None), (1.9, None), (2.5, 2.5), (40, 40)])
def test_a_ball_in_the_air_inside_a_bowl_is_floating(lift, falls):
    """A ball of 60 lies on the bowl's floor, 6 mm over its foot."""
    found = told((BOWL, {}), ({"kind": "sphere", "diameter": 60}, {"z": 6 + lift}))
    assert found.get("p1") == (("support.floating", pytest.approx(falls, abs=0.1)) if falls else None)


@pytest.mark.parametrize(("lift", "falls"), [(0.0, False), (3.0, True)])
def test_a_ball_too_wide_for_the_floor_lies_on_the_wall(lift, falls):
    """Radius 50: its middle is at 50 / cos 56.31 - 40 tan 56.31 = 30.14 below which it cannot go, so its foot would be at -19.9: the floor is
    first. Radius 70: 70 / cos - 60 = 66.19, but it touches at radius 70 sin = 58.2 where the wall is 27.4 high: its foot is at -3.8 < 6. So the
    floor bears every ball that fits; the wall bears one in a steeper, narrower dish: 60 to 90 over 80 high."""
    dish = {"kind": "bowl", "diameter": 90, "base_diameter": 60, "height": 80}
    slope = math.atan2(80, 15)
    middle = 40 / math.cos(slope) - 30 * math.tan(slope)  # a ball of 80
    foot = middle - 40
    assert foot > 6
    found = told((dish, {}), ({"kind": "sphere", "diameter": 80}, {"z": round(foot + lift, 2)}))
    assert ("p1" in found) is falls


def test_a_thing_held_or_on_a_stand_of_its_own_is_not_judged():
    assert "p1" not in told((BOWL, {}), ({"kind": "sphere", "diameter": 60}, {"z": 60, "held_by": "thread"}))
    assert "p0" not in told((TIN, {"lean": 60, "held_by": "tape"}))
    assert "p0" not in told((TIN, {"lean": 60, "role": "foreground"}))


#: A tin of 80 by 120 tips past atan(40 / 60) = 33.69 degrees, and a mm more.
TIPS = math.degrees(math.atan2(40, 60))


@pytest.mark.parametrize("toward", [0, 75, 200])
@pytest.mark.parametrize(("more", "falls"), [(-1, False), (0.5, False), (2, True), (20, True)])
def test_a_tin_falls_from_where_its_weight_is_outside_its_foot(more, falls, toward):
    """Its middle is 60 sin a ahead of the base's, the edge it stands on 40 cos a: outside by 60 sin a - 40 cos a."""
    a = math.radians(TIPS + more)
    outside = 60 * math.sin(a) - 40 * math.cos(a)
    found = told((TIN, {"lean": TIPS + more, "lean_toward": toward}))
    assert found == ({"p0": ("support.leaning", pytest.approx(outside, abs=0.3))} if falls else {})
    assert falls is (outside > 1)


def test_a_bottle_leaning_thirty_degrees_on_nothing_falls():
    bottle = {"kind": "bottle", "diameter": 70, "height": 260, "neck_diameter": 28, "neck_height": 100}
    assert told((bottle, {"lean": 30}))["p0"][0] == "support.leaning"
    assert not told((bottle, {"lean": 90})) and not told((bottle, {"lean": 12}))  # it lies; it is wedged


def test_what_leans_against_another_thing_or_the_backdrop_does_not_fall():
    """A board of 200 by 12 by 150 tipped 50 degrees to +x; a tin so near that the board's edge meets it, and one 30 mm further."""
    board = ({"kind": "box", "width": 12, "depth": 200, "height": 150}, {"lean": 50, "lean_toward": 0, "x": 300})
    assert told(board)["p0"][0] == "support.leaning"
    reach = 300 + 6 * math.cos(math.radians(50)) + 150 * math.sin(math.radians(50))  # the upper edge's furthest x
    block = {"kind": "box", "width": 60, "depth": 60, "height": 160}
    assert "p0" not in told(board, (block, {"x": reach + 30}))
    assert "p0" in told(board, (block, {"x": reach + 60}))
    back = {"kind": "upright", "x": 450, "width": 900, "height": 600, "colour": "#808080"}
    board[1].update(lean_toward=90, x=450, y=300)
    turned = ({"kind": "box", "width": 200, "depth": 12, "height": 150}, board[1])
    edge = 300 + 6 * math.cos(math.radians(50)) + 150 * math.sin(math.radians(50))
    assert "p0" not in told(turned, backdrop={**back, "y": edge}) and "p0" in told(turned, backdrop={**back, "y": edge + 20})


@pytest.mark.parametrize(("out", "falls"), [(38, False), (40.5, False), (43, True)])
def test_a_thing_with_its_weight_past_the_boards_edge_falls(out, falls):
    """A board of 200 at x 450 ends at 550; a box of 120 stands on it with a third and more over it, its middle ``out`` - 40 past the edge."""
    board = {"kind": "box", "width": 200, "depth": 200, "height": 20}
    box = ({"kind": "box", "width": 120, "depth": 60, "height": 60}, {"x": 550 + out - 40, "z": 20})
    found = told((board, {}), box)
    assert found == ({"p1": ("support.leaning", pytest.approx(out - 40, abs=0.3))} if falls else {})


def test_a_wedge_under_the_raised_edge_bears_it():
    """A tin tipped 40 degrees to +x, and a block under its overhanging side that reaches it."""
    tin = (TIN, {"lean": 40, "lean_toward": 0})
    assert told(tin)["p0"][0] == "support.leaning"
    body = pose(Placement("t", "t", 450, 300, lean=40.0), _shape(TIN))
    place = np.array([[530.0, 300.0]])
    under = float(underside(body, place)[0])
    block = {"kind": "box", "width": 30, "depth": 60, "height": round(under, 1)}
    assert "p0" not in told(tin, (block, {"x": 515}))


def _shape(value):
    from tideflat.core.shapes.cylinder import Cylinder

    return Cylinder(value["diameter"], value["height"])


@pytest.mark.parametrize(("kind", "has"), [("leaning", {"hold", "lean"}), ("floating", {"lower", "hold"})])
def test_its_remedy_holds_it_or_stands_it_up(kind, has):
    value = scene_value()
    value["placements"] = value["placements"][:1]
    value["placements"][0].update({"lean": 60} if kind == "leaning" else {"z": 30})
    seen = picture(value)
    (found,) = [f for f in findings(seen) if f.code == f"support.{kind}"]
    remedy = remedy_for(seen, found)
    assert remedy is not None and remedy.kind in has


def test_heights_by_hand():
    ball = pose(Placement("b", "b", 0.0, 0.0, 10.0), Sphere(60))
    assert underside(ball, np.array([[0.0, 0.0], [18.0, 0.0], [40.0, 0.0]]))[:2] == pytest.approx([10, 40 - 24])
    dish = pose(Placement("d", "d", 0.0, 0.0), Bowl(200, 80, 90))
    found = topside(dish, np.array([[0.0, 0.0], [70.0, 0.0], [99.9, 0.0]]), np.full(3, 500.0))
    assert found == pytest.approx([6, 45, 89.8], abs=0.2)
    met = meeting(pose(Placement("x", "x", 0.0, 0.0, 50.0), Box(20, 20, 20)), dish)
    assert met is not None and met.drop == pytest.approx(44)
    assert meeting(pose(Placement("x", "x", 300.0, 0.0, 50.0), Box(20, 20, 20)), dish) is None
