"""What must not hang on how a photograph was coded: arcs of half-seen round things, faint stretches of edges, needles, dark sides, pieces of
one thing. Each was right in one coding of a rendered photograph, and lost in another."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, translate

from tests.core.test_other_shapes import OCHRE
from tests.core.test_straight_sided import STAR, badly, fitted, pictured, upright
from tests.core.test_things_seen import BOX, RED, SHADOW, block, disc, drawn, found_from, thrown
from tideflat.core.vision import straight_sided
from tideflat.core.vision.edge_points import _LINEAR, _linear_at, steepest_step
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.look import share
from tideflat.core.vision.pointed import pointed
from tideflat.core.vision.prism_edges import look_at, ring_of, seen_share, sides_seen
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.reflections import but_reflections
from tideflat.core.vision.sheet_lines import _joined
from tideflat.core.vision.solid_arcs import circles_along
from tideflat.core.vision.solid_edges import rated
from tideflat.core.vision.solid_fits import Start
from tideflat.core.vision.solids_found import _but_a_band
from tideflat.core.vision.things_seen import ThingSeen, _meets_one_in_doubt

# -- round things of which a part is told ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("wide", [40.0, 120.0, 300.0])
@pytest.mark.parametrize("kept", [0.45, 0.7])
def test_what_is_told_of_a_round_thing_leads_to_all_of_it(wide: float, kept: float):
    whole = disc(30, -20, wide)
    part = whole.intersection(shapely.box(-400, -400, 30 - wide / 2 + kept * wide, 400))
    circle = circles_along(rotate(part, 40, origin=(30, -20)))[0]
    assert circle == pytest.approx([30, -20, wide], abs=2.5)  # a fit finds the rest


@pytest.mark.parametrize(("wide", "is_given"), [(20.0, False), (24.0, True), (326.0, True), (334.0, False)])
def test_circles_smaller_or_larger_than_things_are_none(wide: float, is_given: bool):
    assert bool(circles_along(disc(0, 0, wide))) is is_given


@pytest.mark.parametrize(("kept", "is_given"), [(0.12, False), (0.4, True)])
def test_a_short_arc_leads_nowhere(kept: float, is_given: bool):
    """A cap of a ring's 0.12 is an arc of about 2 acos(1 - 0.24) = 0.22 of its round; one of 0.4 of 0.44."""
    cap = disc(0, 0, 100).intersection(shapely.box(-50, -50, -50 + 100 * kept, 50))
    assert any(abs(wide - 100) < 4 for *_, wide in circles_along(cap)) is is_given


def test_straight_sides_are_no_circles():
    assert circles_along(shapely.box(0, 0, 140, 90)) == []


# -- faint stretches of an edge in a mirrored lamp -------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("faint", "is_kept"), [(0.0, False), (0.1, True)])
def test_an_edge_that_gets_fainter_still_goes_round_a_thing(faint: float, is_kept: bool):
    """Blue on a mirrored lamp, from left to right the less unlike it, until it is of its colour, or nearly."""
    y, x = np.mgrid[0:220, 0:260].astype(np.float32)
    lamp = 1.2 * np.exp(-(((x - 130) / 80) ** 2 + ((y - 110) / 70) ** 2))
    inside = np.hypot(x - 140, y - 120) < 46
    unlike = faint + 0.8 * np.maximum(150 - x, 0) / 56
    calm = [lamp + sign * cv2.GaussianBlur(np.where(inside, unlike, 0.0).astype(np.float32), (0, 0), 1.0) for sign in (1.0, 0.0, -1.0)]
    over, mask = np.exp(lamp), lamp > 0.2
    kept = but_reflections(mask, np.ones_like(mask), over, over, np.full(mask.shape, 0.01, np.float32), calm, 2.0)
    assert bool(kept[120, 150]) is is_kept and not kept[40, 60]


# -- needles ---------------------------------------------------------------------------------------------------------------------------------

_ACROSS = np.linspace(-1, 1, 41)
#: A point whose sides bend toward each other: 30 mm deep, 36 mm wide at its foot, as a heart's.
CUSP = shapely.Polygon([*np.column_stack([70 - 34 * np.abs(_ACROSS) ** 0.62, 22 * _ACROSS]), (0, 22), (0, -22)])


def test_a_point_whose_sides_bend_toward_each_other_is_followed_past_where_they_lead_to():
    flat = flatten(drawn((CUSP, OCHRE)), found_from().pose.plane_to_pixel, BOX, 4.0)
    cut = CUSP.buffer(-2).buffer(2)
    tip = shapely.Point(70, 0)
    told = pointed(cut, flat)
    assert tip.distance(cut) > 3.0
    assert tip.distance(told) < 0.5 * tip.distance(cut)
    assert told.difference(CUSP.buffer(0.5)).area < 1.0


@pytest.mark.parametrize(("acute", "is_followed"), [(95.0, True), (170.0, False)])
def test_only_acute_corners_have_needles(acute: float, is_followed: bool, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr("tideflat.core.vision.pointed._ACUTE", acute)
    flat = flatten(drawn((CUSP, OCHRE)), found_from().pose.plane_to_pixel, BOX, 4.0)
    cut, tip = CUSP.buffer(-2).buffer(2), shapely.Point(70, 0)
    assert (tip.distance(pointed(cut, flat)) < 0.5 * tip.distance(cut)) is is_followed
    square = block(0, 0, 90, 60)
    flat = flatten(drawn((square, OCHRE)), found_from().pose.plane_to_pixel, BOX, 4.0)
    assert pointed(square.buffer(-2).buffer(2), flat).difference(square.buffer(0.4)).area < 0.2


# -- sides in the dark, hidden sides ---------------------------------------------------------------------------------------------------------


def _in_its_shadow(foot: shapely.Polygon, height: float) -> list:
    """A thing whose near sides are as dark as its shadow, which falls toward the lens."""
    sides = [thrown(foot, h) for h in np.linspace(0, height, 60)]
    cast = shapely.union_all([translate(foot, 0.2 * h, -1.6 * h) for h in np.linspace(0, height, 60)])
    return [(cast, SHADOW), (shapely.union_all(sides), SHADOW), (thrown(foot, height), RED)]


@pytest.mark.parametrize("height", [4.0, 6.0, 10.0])
def test_sides_as_dark_as_their_shadow_lie_beyond_the_edge_that_is_seen(height: float):
    foot = translate(rotate(STAR, 8, origin=(0, 0)), -10, 20)
    begun = thrown(foot, height).intersection(foot)  # the near sides along the top's edge
    picture = pictured(*_in_its_shadow(foot, height))
    found = straight_sided.straight_sided(begun, picture, found_from().pose, height)
    assert found is not None and found.foot.hausdorff_distance(foot) < 0.8


def test_a_side_lit_as_its_top_is_is_no_reason_against_an_outline():
    foot = translate(STAR, -10, 20)
    shapes = [(standing, RED) for standing, _ in upright(foot, 8.0)]
    look = look_at(pictured(*shapes), found_from().pose, 8.0)
    assert seen_share(sides_seen(foot, [ring_of(foot)], look, 1.0)) > 0.72
    dark = look_at(pictured((foot.buffer(30), SHADOW), *shapes), found_from().pose, 8.0)
    assert seen_share(sides_seen(foot, [ring_of(foot)], dark, 1.0)) < 0.72  # where a shadow lies at its foot the side is not lit


def test_a_side_whose_outline_led_elsewhere_is_turned_to_its_edge(monkeypatch: pytest.MonkeyPatch):
    foot = STAR
    off = shapely.get_coordinates(foot.exterior)[:-1].copy()
    way = (off[4] - off[3]) / np.linalg.norm(off[4] - off[3])
    off[3] += 4.5 * np.array([way[1], -way[0]])
    monkeypatch.setattr(straight_sided, "_corners_of", lambda _: off)
    found = fitted(foot, badly(foot), 0.0)
    assert found is not None and found.hausdorff_distance(foot) < 0.6
    monkeypatch.setattr(straight_sided, "_TILTS", (0.0,))
    found = fitted(foot, badly(foot), 0.0)
    assert found is None or found.hausdorff_distance(foot) > 0.6


@pytest.mark.parametrize(("hidden", "is_found"), [((2,), True), ((2, 7), False)])
def test_of_twelve_sides_a_shadow_may_hide_one(hidden: tuple[int, ...], is_found: bool):
    foot = translate(STAR, 0, 10)
    corners = shapely.get_coordinates(foot.exterior)
    patches = []
    for n in hidden:
        begin, end = corners[n], corners[n + 1]
        patches.append((shapely.LineString([begin + 0.2 * (end - begin), begin + 0.8 * (end - begin)]).buffer(4, cap_style="flat"), (150, 60, 52)))
    picture = pictured((foot, RED), *patches)
    found = straight_sided.straight_sided(badly(foot), picture, found_from().pose, 0.0)
    assert (found is not None) is is_found
    assert found is None or found.foot.hausdorff_distance(foot) < 1.0  # not led out to where the shadow ends, 4 mm


# -- bands -----------------------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("side", "ways"), [("near", {"top", "silhouette"}), ("far", {"top"})])
def test_a_band_along_a_side_that_the_lens_sees_ends_at_its_foot_or_at_its_top(side: str, ways: set[str]):
    foot, height = block(0, 20, 120, 80), 10.0
    found = found_from()
    k = found.pose.enlargement_at(height)
    line = shapely.box(-60, -15.0, 60, 60) if side == "near" else shapely.box(-60, -20, 60, 56.0)
    shapes = [(thrown(foot, height).union(foot).convex_hull, (90, 40, 36)), (thrown(foot, height), RED), (thrown(line, height), (230, 190, 60))]
    picture = edge_picture(flatten(drawn(*shapes), found.pose.plane_to_pixel, BOX, 2.0))
    (box,) = rated(picture, [("rectangle", np.array([0.0, 20, 120, 80, 0]))], found.pose, height)
    starts: list[Start] = list(_but_a_band(box, picture, found.pose, k))
    y = [start.values[1] for start in starts]
    assert {start.by for start in starts if (start.values[1] > 20) == (side == "near")} == ways, y


# -- pieces of one thing ---------------------------------------------------------------------------------------------------------------------


def _thing(shape: shapely.Polygon, *doubts: str, kind: str = "rectangle") -> ThingSeen:
    found = found_from()
    picture = edge_picture(flatten(drawn((shape, RED)), found.pose.plane_to_pixel, BOX, 2.0))
    (solid,) = rated(picture, [("rectangle", np.array([0.0, 0, 38, 24, 0]))], found.pose, 0.0)
    return ThingSeen(shape, shape, replace(solid, kind=kind), doubts)


@pytest.mark.parametrize(
    ("apart", "long", "doubts", "kind", "is_piece"),
    [
        (2.8, 170, ("soft",), "rectangle", True),
        (3.2, 170, ("soft",), "rectangle", False),
        (2.8, 170, (), "rectangle", False),
        (2.8, 30, ("soft",), "rectangle", False),
        (2.8, 170, ("soft",), "disc", False),
    ],
)
def test_a_rectangle_may_be_a_piece_of_what_is_longer_and_in_doubt(apart: float, long: float, doubts: tuple[str, ...], kind: str, is_piece: bool):
    tines = _thing(shapely.box(-19, -12, 19, 12), kind=kind)
    handle = _thing(shapely.box(19 + apart, -5, 19 + apart + long, 5), *doubts)
    assert _meets_one_in_doubt(tines, [handle, tines]) is is_piece


# -- the same in less time -------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("by", [(0.0, 0.0), (30.0, 10.0), (59.0, 0.0), (61.0, 0.0), (0.0, 41.0), (-61.0, 0.0), (0.0, -41.0)])
def test_what_places_have_in_common(by: tuple[float, float]):
    one = shapely.box(0, 0, 60, 40)
    want = max(0.0, 60 - abs(by[0])) * max(0.0, 40 - abs(by[1])) / 2400
    assert share(one, translate(one, *by)) == pytest.approx(want)


def test_light_between_pixels_is_that_of_the_pixels_about():
    """By hand: halfway between two, the mean of their linear light; past the border, the border's."""
    grey = np.array([[0, 100, 200], [50, 150, 250]], np.uint8)
    linear = 255 * (np.arange(256) / 255) ** 2.2
    x, y = np.array([0.5, 1.0, 2.0, 9.0, -3.0, 1.5]), np.array([0.0, 1.0, 0.5, 1.0, 0.0, 0.5])
    want = [linear[[0, 100]].mean(), linear[150], linear[[200, 250]].mean(), linear[250], 0.0, linear[[100, 200, 150, 250]].mean()]
    assert _linear_at(grey, x, y) == pytest.approx(want, rel=1e-5)
    assert np.allclose(_LINEAR, linear)


def test_the_steepest_step_is_told_in_linear_light():
    """A blurred step from dark to light: its middle in linear light lies where it was drawn, in encoded light further out."""
    x = np.arange(200)
    light = cv2.GaussianBlur(np.where(x >= 100, 240.0, 8.0)[None].repeat(40, axis=0), (0, 0), 3.0)
    grey = np.rint(255 * (light / 255) ** (1 / 2.2)).astype(np.uint8)
    bases = np.column_stack([np.full(30, 97.0), np.arange(5.0, 35.0)])
    offset, plain = steepest_step(grey, bases, np.array([1.0, 0.0]), 8.0)
    assert plain.all() and offset == pytest.approx(np.full(30, 2.5), abs=0.3)


def test_segments_along_one_line_are_that_line():
    begin = np.array([[0.0, 0], [50, 1.0], [0, 30], [0, 3.5], [120, 0]])
    end = np.array([[40.0, 0], [80, 1.5], [0, 60], [30, 3.5], [100, 0]])
    ways = (end - begin) / np.linalg.norm(end - begin, axis=1, keepdims=True)
    lines = _joined(begin, end, ways)
    assert [line.spans for line in lines] == [
        [(0.0, 40.0), (pytest.approx(50.0), pytest.approx(80.0))],
        [(0.0, 30.0)],
        [(0.0, 30.0)],
        [(0.0, 20.0)],  # it is brighter on its other side
    ]
