"""Things of shapes that the sixty photographs do not show: pointed ones, tapers wider at the foot, boxes as dark at the side as on top."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from shapely.affinity import scale, translate

from tests.core.test_outlines_in_doubt import far_apart, flat_of
from tests.core.test_things_seen import BLUE, BOX, DARK_BLUE, EYE, block, disc, drawn, found_from, seen, sides_of, standing, thrown
from tideflat.core.vision import solids_found
from tideflat.core.vision.expected_error import error_mm
from tideflat.core.vision.measure import _doubts_of_camera
from tideflat.core.vision.outlined import _is_no_things, _smoothed, _unexplained, raggedness, stood_down
from tideflat.core.vision.pointed import pointed, pointed_as
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.reflections import but_reflections
from tideflat.core.vision.solids_found import _by_both_ends, _stood

OCHRE, NAVY = (178, 122, 52), (34, 40, 66)


def star(x: float, y: float, far: float, near: float) -> shapely.Polygon:
    t = np.arange(12) * np.pi / 6 + 0.2
    by = np.where(np.arange(12) % 2, near, far)
    return shapely.Polygon(np.column_stack([x + np.cos(t) * by, y + np.sin(t) * by]))


WEDGE = shapely.Polygon([(-60, -38), (62, 0), (-60, 38)])


def rounded(shape: shapely.Polygon, by: float) -> shapely.Polygon:
    return shape.buffer(-by).buffer(by)


# -- corners --------------------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("shape", [star(10, 20, 50, 29), WEDGE, block(0, 0, 90, 40, 0.4)])
def test_a_corner_that_was_cut_off_is_found_again(shape):
    flat = flatten(drawn((shape, OCHRE)), found_from().pose.plane_to_pixel, BOX, 4.0)
    cut = rounded(shape, 2.0)
    told = pointed(cut, flat)
    assert far_apart(told, shape) < 0.55 * far_apart(cut, shape)
    tips = [shapely.Point(p).distance(told) for p in shapely.get_coordinates(shape.convex_hull.exterior)]
    was = [shapely.Point(p).distance(cut) for p in shapely.get_coordinates(shape.convex_hull.exterior)]
    assert max(tips) < 0.4 * max(was) and told.difference(shape.buffer(0.4)).area < 1.0


def test_a_corner_that_is_round_stays_round():
    """Where sides would meet lies the ground: as much of it as is seen to be ground is none of the thing."""
    shape = rounded(block(0, 0, 90, 60, 0.3), 7.0)
    told = pointed(shape, flat_of(drawn((shape, OCHRE))))
    assert told.difference(shape).area < 2.0
    ball = disc(20, 30, 60)
    assert pointed(ball, flat_of(drawn((ball, OCHRE)))).equals(ball)


def test_where_the_ground_is_seen_no_corner_is_made_up():
    cut = rounded(WEDGE, 2.0)
    assert pointed(cut, flat_of(drawn((cut, OCHRE)))).difference(cut).area < 2.0


def test_what_is_smoothed_keeps_the_corners_that_it_had_and_loses_its_teeth():
    tooth = shapely.box(-10, 36, -8.8, 37.0)
    shape = block(0, 0, 120, 72).union(tooth)
    smooth = _smoothed(shape, 2.5)
    assert smooth.length < shape.length - 1.0
    assert max(shapely.Point(p).distance(smooth) for p in ((60, 36), (-60, 36), (60, -36), (-60, -36))) < 0.2
    assert (
        pointed_as(rounded(WEDGE, 2.5), WEDGE, 2.5).symmetric_difference(WEDGE).area
        < 0.2 * rounded(WEDGE, 2.5).symmetric_difference(WEDGE).area
    )


def test_corners_are_no_teeth():
    jagged = shapely.Polygon(
        [(x, y + (1.2 if k % 2 else 0)) for k, (x, y) in enumerate((x, 0.0) for x in np.arange(0, 120, 1.2))] + [(120, 60), (0, 60)]
    )
    assert raggedness(star(0, 0, 50, 29)) < 1.02 < 1.04 < raggedness(jagged)


@pytest.mark.parametrize("height", [0.0, 14.0])
def test_a_star_and_a_wedge_are_as_long_as_their_points(height):
    for shape in (star(-190, 20, 46, 27), translate(WEDGE, -180, 30)):
        (thing, *_) = seen(prism(shape, height), height)
        assert thing.foot.symmetric_difference(shape).area < 0.05 * shape.area
        assert not thing.doubts


def prism(foot: shapely.Polygon, height: float, narrower: float = 1.0) -> list:
    """A thing of any shape that goes straight up; or gets narrower to its top."""
    levels = [
        thrown(scale(foot, n, n, origin=foot.centroid), h)
        for h, n in zip(np.linspace(0, height, 16), np.linspace(1, narrower, 16), strict=True)
    ]
    return [*((level, DARK_BLUE) for level in levels), (levels[-1], BLUE)]


# -- tapers and boxes -----------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("top", "base"), [(41.0, 64.0), (64.0, 41.0), (90.0, 42.0)])
def test_a_taper_is_begun_by_both_its_ends(monkeypatch, top, base):
    rim, foot = thrown(disc(60, 50, top), 100), disc(60, 50, base)
    whole = rim.union(foot).convex_hull
    found = found_from()
    k = found.pose.enlargement_at(100)
    begun = list(_by_both_ends(np.array(whole.exterior.coords)[:-1], found.pose, k))
    assert min(np.abs(one - [60, 50, top, base]).max() for one in begun) < 0.5
    shapes = [(whole, DARK_BLUE), (rim, BLUE)]
    (thing, *_) = seen(shapes, 100)
    assert thing.solid is not None and thing.solid.values == pytest.approx([60, 50, top, base], abs=0.6)
    if top < base:  # by no other start
        monkeypatch.setattr(solids_found, "_by_both_ends", lambda *a: iter(()))
        assert [t for t in seen(shapes, 100) if t.solid is not None and t.solid.values == pytest.approx([60, 50, top, base], abs=0.6)] == []


def test_what_has_one_end_far_narrower_than_the_other_is_begun_as_no_taper():
    found = found_from()
    for base, is_begun in ((14.0, True), (10.0, False)):
        whole = thrown(disc(60, 50, 60), 100).union(disc(60, 50, base)).convex_hull
        begun = _by_both_ends(np.array(whole.exterior.coords)[:-1], found.pose, found.pose.enlargement_at(100))
        assert any(np.abs(one - [60, 50, 60, base]).max() < 1.0 for one in begun) is is_begun


@pytest.mark.parametrize("turn", [0.0, 0.35])
def test_a_box_is_begun_by_all_that_is_seen_of_it(turn):
    """By hand: of a rectangle that is seen whole, sides facing the lens are the foot's, those away from it the top's, k times as far from
    the foot of the lens."""
    found = found_from()
    k = found.pose.enlargement_at(30)
    c, s = np.cos(turn), np.sin(turn)
    axes = np.array([[c, s], [-s, c]])
    (x, y), eye = axes @ [30.0, 40.0], axes @ EYE[:2]
    foot_low, foot_high = np.array([x - 50, y - 35]), np.array([x + 50, y + 35])
    low, high = np.minimum(foot_low, eye + k * (foot_low - eye)), np.maximum(foot_high, eye + k * (foot_high - eye))
    whole = np.array([*((low + high) / 2 @ axes), *(high - low), turn])
    assert _stood(whole, found.pose, k) == pytest.approx([30, 40, 100, 70, turn], abs=1e-6)


def test_a_box_as_dark_at_its_side_with_a_tinted_shadow_is_not_taken_with_it():
    foot = block(0, 10, 150, 76, -0.3)
    shadow = foot.union(translate(foot, -5, -11)).convex_hull
    (thing, *_) = seen([(shadow, (176, 186, 206)), *standing(foot, 10, NAVY, NAVY)], 10)
    assert thing.doubts or sides_of(thing) == pytest.approx([76, 150], abs=1.5)


# -- what a gloss mirrors -------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("other", "is_kept"), [(0.0, False), (0.9, True)])
def test_a_thing_as_light_as_the_lamp_that_is_mirrored_beside_it_stands_out_by_its_colour(other, is_kept):
    y, x = np.mgrid[0:160, 0:200].astype(np.float32)
    lamp = 1.2 * np.exp(-(((x - 100) / 60) ** 2 + ((y - 80) / 50) ** 2))
    inside = np.hypot(x - 110, y - 90) < 22
    calm = [lamp + other * sign * inside.astype(np.float32) for sign in (1.0, 0.0, -1.0)]
    over, mask = np.exp(lamp), lamp > 0.2
    kept = but_reflections(mask, np.ones_like(mask), over, over, np.full(mask.shape, 0.01, np.float32), calm, 2.0)
    assert bool(kept[90, 110]) is is_kept and not kept[60, 60]


# -- honest about heights and distances -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("narrower", "is_doubt"), [(1.0, False), (0.6, True)])
def test_what_gets_narrower_to_its_top_is_no_upright_thing(narrower, is_doubt):
    (thing, *_) = seen(prism(translate(WEDGE, -175, 60), 100, narrower), 100)
    assert any("goes straight up" in why for why in thing.doubts) is is_doubt


def test_how_much_of_what_is_seen_no_upright_thing_would_show():
    found = found_from()
    foot = translate(WEDGE, -175, 60)
    for narrower, least, most in ((1.0, 0.0, 0.001), (0.6, 0.05, 1.0)):
        whole = shapely.union_all(
            [thrown(scale(foot, n, n), h) for h, n in zip(np.linspace(0, 100, 41), np.linspace(1, narrower, 41), strict=True)]
        )
        assert least <= _unexplained(whole, stood_down(whole, found, 100), found, 100) < most
    assert _unexplained(whole, foot, found, 0.0) == 0.0


@pytest.mark.parametrize(
    ("height", "tilt", "focal_from", "is_doubt"),
    [(155, 5, "camera", False), (160, 5, "camera", True), (160, 9.5, "camera", False), (160, 5, "perspective", False)],
)
def test_what_reaches_near_to_the_camera_is_a_doubt_by_its_note_alone(height, tilt, focal_from, is_doubt):
    """By hand: from 420 mm, 155 mm high is seen 1.585 times as large, 160 mm 1.615 times."""
    found = found_from()
    found = replace(found, pose=replace(found.pose, tilt_deg=tilt, focal_from=focal_from))
    assert any("so near to the camera" in why for why in _doubts_of_camera(found, height, by_hand=False)) is is_doubt


def test_what_the_distance_is_off_by_is_in_the_error_where_only_the_camera_notes_it():
    """By hand: 100 mm wide and seen 420 / 320 = 1.3125 times as large, the distance known to a fiftieth: 0.625 mm more."""
    found = found_from()
    level = replace(found, pose=replace(found.pose, tilt_deg=3.0))
    foot = block(0, 0, 100, 60)
    assert error_mm(level, foot, None, 100) - error_mm(found, foot, None, 100) == pytest.approx(0.625)
    assert error_mm(level, foot, None, 0) == pytest.approx(error_mm(found, foot, None, 0))


def test_what_is_larger_than_the_sheet_is_no_things():
    found = found_from()
    assert not _is_no_things(shapely.box(0, 0, 210, 296), found) and _is_no_things(shapely.box(0, 0, 210, 298), found)


def test_what_crosses_itself_or_is_ragged_all_round_is_told_without_a_fault():
    bow = shapely.Polygon([(0, 0), (80, 60), (80, 0), (0, 60)])
    assert raggedness(bow) > 0 and not pointed_as(disc(40, 30, 50), bow, 2.5).is_empty


@pytest.mark.parametrize(("points", "is_asked"), [(24, True), (26, False)])
def test_of_more_corners_than_twenty_four_none_is_its_own(points, is_asked):
    t = np.arange(2 * points) * np.pi / points
    whole = shapely.Polygon(np.column_stack([np.cos(t), np.sin(t)]) * np.where(np.arange(2 * points) % 2, 150, 130)[:, None])
    cut = rounded(whole, 1.0)
    assert pointed(cut, flat_of(drawn((whole, OCHRE)))).equals(cut) is not is_asked
