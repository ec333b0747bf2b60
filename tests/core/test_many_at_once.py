"""What is asked of many solids, or of a large picture, at once is what each would be told alone."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, translate

from tests.core.test_solid_curves import EYES, SOLIDS, pose_at
from tests.core.test_straight_sided import NOTCHED, upright
from tests.core.test_things_seen import BLUE, BOX, DARK_BLUE, PAPER, block, disc, drawn, found_from
from tideflat.core.vision import graph_cut, outlined, solid_fits
from tideflat.core.vision.edge_support import _neighbours, _rises, edge_picture
from tideflat.core.vision.ground import tell_apart
from tideflat.core.vision.outlined import RAGGED, free_outline, raggedness
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.smooth_light import light_at
from tideflat.core.vision.solid_curves import outside, seen_of, seen_of_each
from tideflat.core.vision.solid_fits import Start, fits_to_edges


@pytest.mark.parametrize("height", [0.0, 60.0])
@pytest.mark.parametrize("kind", SOLIDS)
def test_each_of_many_looks_as_it_does_alone(kind, height):
    many = np.array(SOLIDS[kind]) + np.array([[0.0], [7.0], [-12.0]]) * ([1, 1, 1, 0.5, 0.01][: len(SOLIDS[kind])])
    for values, seen in zip(many, seen_of_each(kind, many, pose_at(EYES[0]), height), strict=True):
        alone = seen_of(kind, values, pose_at(EYES[0]), height)
        assert np.array_equal(seen.silhouette.places, alone.silhouette.places) and np.array_equal(seen.foot, alone.foot)
        assert np.array_equal(seen.is_within, alone.is_within) and (seen.top is None) == (alone.top is None)


@pytest.mark.parametrize("places_a_side", [1, 9])
def test_how_far_places_lie_outside_of_a_hull_whatever_lies_on_its_straight_sides(places_a_side):
    """Against Shapely's distance, with many places on a straight side as with none."""
    hull = block(10, -20, 80, 50, 0.4)
    ring = shapely.get_coordinates(shapely.segmentize(shapely.geometry.polygon.orient(hull).exterior, 80 / places_a_side))[:-1]
    places = np.random.default_rng(2).uniform(-60, 60, (300, 2))
    want = shapely.distance(shapely.points(places), hull.exterior) * np.where(shapely.contains_xy(hull, places), -1, 1)
    inside = want < 0  # beyond a corner the nearest side is nearer than the corner is
    assert outside(ring, places)[inside] == pytest.approx(want[inside], abs=1e-9)
    assert ((outside(ring, places) > 0) == (want > 0)).all()


@pytest.mark.parametrize("deep", [1, 2, 3, 5, 6, 7])
def test_a_rise_is_the_sum_of_what_comes_less_the_sum_of_what_went(deep):
    seen = np.random.default_rng(1).uniform(0, 255, (7, 23, 3)).astype(np.float32)
    want = [seen[:, k : k + deep].sum(axis=1) - seen[:, k - deep : k].sum(axis=1) for k in range(deep, 23 - deep + 1)]
    assert np.stack(want, axis=1) == pytest.approx(_rises(seen, deep), abs=2e-3)


def test_a_places_neighbours_are_of_its_own_ring_however_short_that_is():
    counts, random = [1, 2, 3, 5, 40], np.random.default_rng(3)
    ways = random.normal(0, 1, (len(counts), 2)).repeat(counts, axis=0) + random.normal(0, 0.5, (sum(counts), 2))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    want = {}
    for begin, count in zip(np.cumsum([0, *counts]), counts, strict=False):
        for own in range(count):
            for k in (1, -1, 2, -2, 3, -3):
                there = begin + (own + k) % count
                want[begin + own, k] = there, bool(ways[there] @ ways[begin + own] > 0.96)
    for k, (there, runs_on) in zip((1, -1, 2, -2, 3, -3), _neighbours(counts, ways), strict=True):
        assert [(int(a), bool(b)) for a, b in zip(there, runs_on, strict=True)] == [want[n, k] for n in range(sum(counts))]
        assert 0 < runs_on.mean() < 1


@pytest.mark.parametrize("region", [disc(20, 30, 60), disc(-320, 250, 90), disc(900, 0, 50), disc(20, 30, 60).difference(disc(25, 30, 20)),
                                    shapely.union_all([disc(0, 0, 30), disc(90, 20, 40)]), shapely.Polygon()])  # fmt: skip
def test_a_region_is_asked_in_a_window_as_it_is_in_the_whole(region):
    flat = flatten(drawn(), found_from().pose.plane_to_pixel, BOX, 0.4)
    where, part = flat.within(region)
    whole = np.zeros(flat.known.shape, bool)
    whole[where] = part
    middles = flat.mm(np.argwhere(np.ones(flat.known.shape))[:, ::-1] + 0.5)
    want = shapely.contains_xy(region, middles).reshape(flat.known.shape)
    sure = shapely.distance(shapely.points(middles), region.boundary).reshape(flat.known.shape) > 1 / flat.per_mm
    assert (whole == want)[sure | region.is_empty].all() and np.array_equal(whole, flat.inside(region))


@pytest.mark.parametrize("per_mm", [0.4, 0.7, 2.0])  # with five, two and one of the photograph's pixels to one of it
def test_a_part_is_laid_flat_as_all_of_it_is(per_mm):
    rgb, matrix = drawn((disc(-40, 20, 60), (140, 60, 40))), found_from().pose.plane_to_pixel @ np.diag([1.1, 0.97, 1])
    step = 10 / per_mm
    whole = flatten(rgb, matrix, (-40 * step, -30 * step, 40 * step, 30 * step), per_mm)
    part = flatten(rgb, matrix, (-5 * step, -4 * step, 9 * step, 6 * step), per_mm)
    there = whole.rgb[240:340, 350:490].astype(int)
    assert part.rgb.shape == there.shape and np.abs(part.rgb - there)[whole.known[240:340, 350:490]].max() <= 1
    assert (part.known == whole.known[240:340, 350:490]).all() and whole.known.all() == (per_mm == 2.0)


def test_steps_of_coarse_pixels_are_no_teeth_of_a_thing(monkeypatch):
    """A slanting thing told in pixels of a millimetre and a half, its edge as blurred as a far one's: what is told of it is not ragged,
    as it was when its steps were begun with."""
    thing = block(0, 0, 150, 14, 0.5)
    picture = cv2.GaussianBlur(drawn((thing, (140, 60, 40))), (0, 0), 2.0)
    found = found_from()
    flat = flatten(picture, found.pose.plane_to_pixel, BOX, 0.7)
    ground = tell_apart(flat, found.size_mm)
    (part, *_) = outlined.parts_of(ground.mask, flat)
    assert raggedness(part) > RAGGED
    told = free_outline(part, ground, flat, picture, found, 0.0)
    assert raggedness(told.foot) <= RAGGED and told.foot.symmetric_difference(thing).area < 0.5 * thing.length
    for name in ("straight_sided", "bent_sided"):  # which would mend it too
        monkeypatch.setattr(outlined, name, lambda *_: None)
    assert raggedness(free_outline(part, ground, flat, picture, found, 0.0).foot) <= RAGGED
    monkeypatch.setattr(outlined, "_STAIRS_PX", 0.0)
    assert raggedness(free_outline(part, ground, flat, picture, found, 0.0).foot) > RAGGED


@pytest.mark.parametrize(("turn", "wide", "is_one"), [(90, 40, False), (90, 6, False), (90, 4, True), (60, 40, False)])
def test_what_is_narrower_than_five_millimetres_is_a_tooth_and_a_corner_is_none(turn, wide, is_one):
    shape = shapely.Polygon([(0, 0), (60, 0), (60 + 40 / np.tan(np.radians(turn)), 40), (0, 40)]) if wide == 40 else shapely.box(0, 0, 60, wide)
    assert (outlined._largest_tooth(shape) > outlined._TOOTH_MM2) == is_one
    bumped = shapely.union_all([shape, shapely.box(20, -4, 23, 0)])
    assert outlined._largest_tooth(bumped) > outlined._TOOTH_MM2


@pytest.mark.parametrize(("at_one_place", "kept"), [(0, [False, True]), (1, [True, True])])
def test_of_more_starts_than_are_gone_on_with_those_most_seen_are_and_those_of_other_places(monkeypatch, at_one_place, kept):
    found = found_from()
    shapes = (block(-30, 20, 80, 50), (140, 60, 40)), (block(30, -70, 60, 40), (140, 60, 40)), (block(5, -70, 20, 50), PAPER)
    picture = edge_picture(flatten(drawn(*shapes), found.pose.plane_to_pixel, BOX, 2.0))
    starts = [Start("rectangle", np.array(v)) for v in ([31.0, -69, 61, 41, 0], [-31.0, 21, 79, 51, 0.0])]  # of the first a part is covered
    both = fits_to_edges(picture, starts, found.pose, 0.0)
    assert both[0] is not None and both[1] is not None and both[0].seen < both[1].seen
    monkeypatch.setattr(solid_fits, "_MOST", (2, 1, 1, 1, 1))
    monkeypatch.setattr(solid_fits, "_MOST_AT_ONE_PLACE", at_one_place)
    assert [one is not None for one in fits_to_edges(picture, starts, found.pose, 0.0)] == kept


@pytest.mark.parametrize(("beside", "is_kept"), [(19.0, False), (21.0, True)])
def test_what_reaches_over_anothers_middle_lies_at_its_place(beside, is_kept):
    values = np.array([[0.0, 0, 30, 40, 0], [0, 5, 30, 40, 0], [0, beside, 10, 8, 0]])
    assert solid_fits._are_most_seen(values, np.array([0.9, 0.8, 0.5]), 1).tolist() == [True, True, is_kept]
    assert solid_fits._are_most_seen(values, np.array([0.9, 0.8, 0.5]), 3).all()


def test_slow_light_is_a_quadratic_of_places_in_units_of_fifteen_centimetres():
    fit = np.arange(18.0).reshape(6, 3)
    want = fit[0] + 2 * fit[1] - fit[2] + 4 * fit[3] - 2 * fit[4] + fit[5]
    assert light_at(fit, np.array([300.0]), np.array([-150.0]))[0] == pytest.approx(want)


@pytest.mark.parametrize(
    ("thing", "is_coarse_first"), [(disc(0, 0, 150), True), (block(0, 0, 190, 44), True), (block(0, 0, 190, 32), False)]
)
def test_a_large_compact_thing_is_cut_coarsely_first_and_comes_out_as_fine(monkeypatch, thing, is_coarse_first):
    sizes = []
    real = graph_cut._cut
    monkeypatch.setattr(graph_cut, "_cut", lambda picture, state: (sizes.append(max(state.shape)), real(picture, state))[1])
    about = (thing.bounds[0] - 12, thing.bounds[1] - 12, thing.bounds[2] + 12, thing.bounds[3] + 12)
    flat = flatten(drawn((thing, (140, 60, 40))), found_from().pose.plane_to_pixel, about, 2.0)
    again = graph_cut.cut_again(thing.buffer(-4), flat)
    assert sizes[0] == min(420, max(flat.rgb.shape[:2])) // (2 if is_coarse_first else 1)
    assert again.symmetric_difference(thing).area < 0.8 * thing.length  # corners are rounded


@pytest.mark.parametrize(("wide", "is_coarse_first"), [(149, False), (152, True)])
def test_only_a_large_picture_is_cut_coarsely_first(monkeypatch, wide, is_coarse_first):
    asked = []
    monkeypatch.setattr(graph_cut, "_coarsely_first", lambda picture, state: asked.append(1) or graph_cut.cut(picture, state))
    flat = flatten(drawn((disc(0, 0, 90), (140, 60, 40))), found_from().pose.plane_to_pixel, (-wide / 2, -60, wide / 2, 60), 2.0)
    graph_cut.cut_again(disc(0, 0, 88), flat)
    assert bool(asked) == is_coarse_first


def test_an_outline_that_was_begun_is_gone_on_with():
    """What is told at first and then again is what is told at once, and begun once; where nothing is in doubt too it is fitted then."""
    picture = drawn((disc(-40, 20, 60), (140, 60, 40)), (disc(60, -30, 50), (205, 200, 192)))
    found = found_from()
    flat = flatten(picture, found.pose.plane_to_pixel, BOX, 2.0)
    ground = tell_apart(flat, found.size_mm)
    for thing in (disc(-40, 20, 60), disc(60, -30, 54)):
        begun = outlined.begun_outline(thing, ground, flat, picture, found, 8.0)
        at_once = free_outline(thing, ground, flat, picture, found, 8.0)
        with pytest.MonkeyPatch.context() as patched:
            patched.setattr(outlined, "begun_outline", None)  # it is not asked a second time
            further = free_outline(thing, ground, flat, picture, found, 8.0, begun=begun)
        assert further.outline.equals(at_once.outline) and further.foot.equals(at_once.foot) and further.doubts == at_once.doubts


def test_what_is_clear_at_first_is_fitted_with_its_straight_sides_in_the_end():
    board, found = translate(rotate(NOTCHED, 12, origin=(0, 0)), -195, 20), found_from()
    picture = drawn(*upright(board, 3.0, BLUE, DARK_BLUE))
    flat = flatten(picture, found.pose.plane_to_pixel, BOX, 2.0)
    ground = tell_apart(flat, found.size_mm)
    begun = outlined.begun_outline(board.buffer(1), ground, flat, picture, found, 3.0)
    first, further = (free_outline(board.buffer(1), ground, flat, picture, found, 3.0, is_final=end, begun=begun) for end in (False, True))
    assert not begun.is_in_doubt
    assert further.foot.hausdorff_distance(board) < 0.4 < 1.0 < first.foot.hausdorff_distance(board)
