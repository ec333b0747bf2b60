"""Things with straight sides, whatever their outline, are fitted by the edges of their tops and feet; what is round is not taken for one."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, scale, translate

from tests.core.test_things_seen import BLUE, BOX, DARK_BLUE, DARK_RED, EYE, RED, TABLE, block, disc, drawn, found_from, seen, thrown
from tideflat.core.vision import outlined
from tideflat.core.vision import straight_sided as module
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.prism_edges import standing_on
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.straight_sided import _is_elsewhere, _put_back, straight_sided

TURNS = np.arange(12) * np.pi / 6
STAR = shapely.Polygon(np.column_stack([np.cos(TURNS), np.sin(TURNS)]) * np.where(np.arange(12) % 2, 26, 44)[:, None])
NOTCHED = shapely.box(-55, -40, 55, 40).difference(shapely.box(10, 5, 56, 41))
WEDGE = shapely.Polygon([(-60, -38), (62, 0), (-60, 38)])
CHAMFERED = shapely.Polygon([(-60, -40), (60, -40), (60, 20), (40, 40), (-60, 40)])
SHAPES = {"star": STAR, "notched": NOTCHED, "wedge": WEDGE, "chamfered": CHAMFERED}


def swept(foot: shapely.Polygon, height: float, eye=EYE) -> shapely.Polygon:
    """What an upright thing covers of the plane, level by level."""
    return shapely.union_all([thrown(foot, h, eye) for h in np.linspace(0, height, 200)])


def upright(foot: shapely.Polygon, height: float, top=RED, side=DARK_RED, eye=EYE) -> list:
    return [(swept(foot, height, eye), side), (thrown(foot, height, eye), top)] if height else [(foot, top)]


def pictured(*shapes):
    return edge_picture(flatten(drawn(*shapes), found_from().pose.plane_to_pixel, BOX, 2.0))


def badly(foot: shapely.Polygon, seed: int = 0) -> shapely.Polygon:
    """Its corners cut off, and its sides wavering by half a millimetre."""
    smooth = foot.buffer(-2).buffer(2).exterior
    ring = shapely.get_coordinates(shapely.line_interpolate_point(smooth, np.arange(0, smooth.length - 1, 2.0)))
    return shapely.Polygon(ring + np.random.default_rng(seed).normal(0, 0.3, ring.shape))


def fitted(foot, begun, height, eye=EYE, **colours):
    found = straight_sided(begun, pictured(*upright(foot, height, eye=eye, **colours)), found_from(eye).pose, height)
    return None if found is None else found.foot


@pytest.mark.parametrize("eye", [EYE, np.array([-260.0, 40, 380])])
@pytest.mark.parametrize("height", [0.0, 6.0, 24.0])
@pytest.mark.parametrize("name", SHAPES)
def test_a_thing_with_straight_sides_comes_out_with_its_corners(name, height, eye):
    foot = translate(rotate(SHAPES[name], 17, origin=(0, 0)), 20, -15)
    found = fitted(foot, badly(foot), height, eye)
    assert found is not None and len(found.exterior.coords) == len(foot.exterior.coords)
    assert found.hausdorff_distance(foot) < 0.6


@pytest.mark.parametrize("height", [5.0, 7.0])
def test_a_side_that_was_taken_at_its_tops_edge_is_put_at_its_foot(height):
    """What lies in shadow is left out of what is seen: the near sides end where the top does."""
    foot = translate(STAR, -10, 30)
    lit_only = thrown(foot, height).intersection(foot)
    assert lit_only.hausdorff_distance(foot) > 2.0
    found = fitted(foot, lit_only, height)
    assert found is not None and found.hausdorff_distance(foot) < 0.6


@pytest.mark.parametrize(
    "foot",
    [
        disc(0, 0, 80),
        scale(disc(0, 0, 100), 1.0, 0.5),
        disc(0, 0, 90).difference(disc(25, 0, 70)),
        shapely.union_all([disc(-60, 0, 36), shapely.box(-50, -5, 90, 5)]),
        block(0, 0, 120, 60).buffer(30),
    ],
    ids=["disc", "oval", "crescent", "spoon", "rounded"],
)
@pytest.mark.parametrize("height", [0.0, 8.0])
def test_what_is_round_has_no_straight_sides(foot, height):
    assert fitted(foot, foot, height) is None


@pytest.mark.parametrize("height", [0.0, 12.0])
def test_round_corners_stay_round(height):
    square = block(10, -20, 120, 80, 0.3)
    foot = square.buffer(-8).buffer(8)
    assert square.hausdorff_distance(foot) > 3.0
    begun = badly(foot)
    found = fitted(foot, begun, height)
    assert (begun if found is None else found).hausdorff_distance(foot) < 1.2
    assert (found is None) == (height == 0)  # lying flat its outline is seen as well as it is


@pytest.mark.parametrize(("hidden", "is_found", "is_whole"), [(0.0, True, True), (0.15, True, True), (0.2, True, False), (0.45, False, False)])
def test_each_side_must_be_seen_along_most_of_it(hidden, is_found, is_whole):
    """And all along, for the thing to go on nowhere."""
    foot = block(10, 0, 120, 80)
    of_table = shapely.box(60, -40, 90, -40 + 80 * hidden)  # so much of the right side is like what is beside it
    shapes = [(shapely.box(40, -60, 140, 60), TABLE), (foot, RED), (of_table, TABLE)]
    begun = badly(foot)
    found = straight_sided(begun, pictured(*shapes), found_from().pose, 0.0)
    assert (found is not None) == is_found
    assert (found is not None and found.is_whole) == is_whole


@pytest.mark.parametrize(("least", "is_whole"), [(0.9, True), (1.1, False)])
def test_what_is_seen_all_round_goes_on_nowhere_and_what_hangs_on_it_is_its_shadow(least, is_whole, monkeypatch):
    monkeypatch.setattr(module, "_WHOLE", least)
    monkeypatch.setattr(outlined, "_UNEXPLAINED", -1.0)  # as if there were more than what is upright shows,
    monkeypatch.setattr(outlined, "_LOST_MM", -1.0)  # and the outline had lost a piece of it
    foot, height = translate(NOTCHED, -190, 30), 9.0
    (thing, *_) = seen(upright(foot, height), height)
    assert thing.solid is None and thing.foot.hausdorff_distance(foot) < 0.7
    assert (thing.doubts == ()) == is_whole


def test_where_nothing_is_seen_it_has_no_sides():
    assert straight_sided(badly(block(-210, 0, 120, 80)), pictured(), found_from().pose, 0.0) is None
    for small in (shapely.box(0, 0, 1.5, 1.5), shapely.Polygon()):
        assert straight_sided(small, pictured(), found_from().pose, 0.0) is None


def test_an_outline_that_is_seen_as_well_stays_as_it_is(monkeypatch):
    foot = block(10, 0, 120, 80)
    assert fitted(foot, badly(foot), 0.0) is not None
    monkeypatch.setattr(module, "_MORE", 0.3)
    assert fitted(foot, badly(foot), 0.0) is None


@pytest.mark.parametrize(("cut", "corners"), [(6.0, 4), (24.0, 5)])
def test_a_corner_that_the_outline_cut_off_is_none_of_its_sides(cut, corners):
    foot = block(0, 0, 130, 90)
    cut_off = foot.difference(shapely.Polygon([(65, 45), (65 - cut, 45), (65, 45 - cut)]))
    found = module._corners_of(cut_off)
    assert found is not None and len(found) == corners


@pytest.mark.parametrize(("bend", "corners"), [(1.4, 4), (1.9, 5), (4.0, 5)])
def test_long_sides_that_hardly_turn_are_two_where_they_meet_off_the_line(bend, corners):
    """A knife's back, of which one side turns by a degree or two: as one it would lie beside both."""
    knife = shapely.Polygon([(-95, -9), (10, -9 - bend), (95, -9), (95, 7), (-95, 7)])
    found = module._corners_of(knife)
    assert found is not None and len(found) == corners


def test_a_knife_between_two_soft_shadows_is_fitted_along_its_own_sides():
    """Its outline begun two millimetres out to both sides: corners of sides that hardly turn slide far along them."""
    knife = rotate(shapely.Polygon([(-95, -9), (10, -12), (95, -9), (95, 7), (0, 9.5), (-95, 7)]), 40, origin=(0, 0))
    begun = badly(shapely.Polygon(knife.buffer(2.0, join_style="mitre").exterior))
    found = straight_sided(begun, pictured((knife, RED)), found_from().pose, 0.0)
    assert found is not None and found.foot.hausdorff_distance(knife) < 1.0 and len(found.foot.exterior.coords) == 7


@pytest.mark.parametrize("name", SHAPES)
@pytest.mark.parametrize("height", [0.0, 30.0])
def test_what_stands_on_a_footprint_covers_what_its_levels_do(name, height):
    foot = translate(SHAPES[name], 15, 25)
    want = swept(foot, height)
    assert standing_on(foot, found_from().pose, height).symmetric_difference(want).area < 0.005 * want.area


def test_a_star_on_the_sheet_is_measured_to_its_points():
    foot = rotate(STAR, 10, origin=(0, 0))
    (thing,) = seen(upright(foot, 7.0, BLUE, DARK_BLUE), 7.0)
    assert thing.foot.hausdorff_distance(foot) < 0.7 and not thing.doubts


@pytest.mark.parametrize(("out", "is_elsewhere"), [(0.0, False), (1.9, False), (2.1, True), (-1.9, False), (-2.1, True)])
@pytest.mark.parametrize("side", range(4))
def test_a_side_that_is_hardly_seen_stays_where_it_was_begun(side: int, out: float, is_elsewhere: bool):
    """As one side of twelve of a crescent on dark boards, led 4 mm out by their grain."""
    foot = shapely.box(-40, -25, 40, 25)
    corners = shapely.get_coordinates(foot.exterior)[:4]
    ends = [side, (side + 1) % 4]
    away = corners[ends].mean(axis=0)
    moved = corners.copy()
    moved[ends] += out * away / np.linalg.norm(away)
    assert _is_elsewhere(moved, side, foot) == is_elsewhere
    assert not any(_is_elsewhere(corners, one, foot) for one in range(4))


@pytest.mark.parametrize("far", [False, True])
def test_of_twelve_sides_one_may_be_hardly_seen_and_is_put_back_where_it_was_led_elsewhere(monkeypatch: pytest.MonkeyPatch, far: bool):
    picture, begun, asked = pictured((STAR, RED)), badly(STAR), []
    told: list[list[float]] = []
    real = module.sides_seen
    monkeypatch.setattr(module, "sides_seen", lambda *given: told.append([one.plainest for one in real(*given)]) or real(*given))
    assert straight_sided(begun, picture, found_from().pose, 0.0) is not None
    (*_, sides, _) = told  # the last are the outline's own, together
    least, next_least = sorted(sides)[:2]
    monkeypatch.setattr(module, "_EACH_PLAINLY", (least + next_least) / 2)
    monkeypatch.setattr(module, "_is_elsewhere", lambda moved, side, foot: asked.append(side) or far)
    put_back, back = module._put_back, []
    monkeypatch.setattr(module, "_put_back", lambda moved, corners, which: back.append(which) or put_back(moved, corners, which))
    assert straight_sided(begun, picture, found_from().pose, 0.0) is not None
    assert asked == [sides.index(least)] and back == ([asked] if far else [])


@pytest.mark.parametrize("side", range(4))
def test_a_side_that_is_put_back_meets_the_others_where_they_lie_now(side: int):
    begun = shapely.get_coordinates(shapely.box(-40, -25, 40, 25).exterior)[:4]
    moved = shapely.get_coordinates(shapely.box(-43, -29, 44, 26).exterior)[:4]
    back = _put_back(moved, begun, [side])
    along = 0 if begun[side][0] == begun[(side + 1) % 4][0] else 1  # what both its corners have in common
    for n in range(4):
        is_its = n in (side, (side + 1) % 4)
        assert back[n][along] == pytest.approx((begun if is_its else moved)[n][along])
        assert back[n][1 - along] == pytest.approx(moved[n][1 - along])
