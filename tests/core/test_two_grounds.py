"""What lies across the sheet's edge is told from paper and from the table each by itself, and a second light's shadow by the first's."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from shapely.affinity import translate

from tests.core.test_shadow_line import mixed, off_of
from tests.core.test_things_seen import BOX, EYE, RED, SHADOW, block, disc, drawn, found_from, seen, sides_of, thrown
from tideflat.core.vision import first_look as first_look_module
from tideflat.core.vision import things_seen as module
from tideflat.core.vision.dark_sides import with_sides_below
from tideflat.core.vision.edge_doubts import GOES_ON, HARDLY_DIFFERS
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.ground import Ground, tell_apart
from tideflat.core.vision.look import Look
from tideflat.core.vision.more_beside import goes_on_in
from tideflat.core.vision.rectified import Flat, flatten
from tideflat.core.vision.shadow_line import NEUTRAL, ShadowLine, of_the_other_light, shadow_lines_of
from tideflat.core.vision.solid_edges import rated
from tideflat.core.vision.solids_chosen import SURE, _doubts, is_surely_seen
from tideflat.core.vision.strangeness import usual_on_each
from tideflat.core.vision.things_seen import _is_largest_there, things_seen

PAPER_HALF = np.s_[:, :50]


# -- against each ground ------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("on_paper", "on_table", "usual"),
    [
        (0.8, 2.4, (0.8, 2.4)),  # a wooden spoon: its bowl on paper is a third as strange as its handle on slate
        (0.36, 2.4, (0.36, 2.4)),
        (0.34, 2.4, (2.4, 2.4)),  # hardly strange to paper: its shadow there, as likely
        (0.8, 0.8, (0.8, 0.8)),
        (0.2, 0.2, (0.2, 0.2)),
    ],
)
def test_a_thing_is_as_strange_to_each_ground_as_it_is_there(on_paper, on_table, usual):
    off = np.full((40, 100), 0.01)
    own = np.zeros(off.shape, bool)
    own[10:30, 30:90] = True  # two thirds of it on the table, and so is the percentile that tells most of it
    paper = np.zeros(off.shape, bool)
    paper[PAPER_HALF] = True
    off[own & paper], off[own & ~paper] = on_paper, on_table
    off[20, 31] = np.inf
    told = usual_on_each(off, own, (paper, ~paper))
    assert (told[0, 0], told[0, 99]) == pytest.approx(usual)


def test_on_a_ground_where_it_is_stranger_than_all_of_it_a_thing_is_as_strange_as_all_of_it():
    """Or a thing's own dark side would be its shadow there."""
    off, own = np.full((40, 100), 0.01), np.zeros((40, 100), bool)
    own[:, 10:60] = True
    paper = np.zeros(off.shape, bool)
    paper[PAPER_HALF] = True
    off[own & paper], off[own & ~paper] = 0.9, 2.4
    assert usual_on_each(off, own, (paper, ~paper))[:, 99].max() == pytest.approx(0.9)


@pytest.mark.parametrize(
    ("place", "other", "is_split"),
    [
        (shapely.box(-10, 0, 3, 10), shapely.box(-20, 0, 60, 10), True),  # most of the place on paper, some of the other too
        (shapely.box(-4, 0, 6, 10), shapely.box(-20, 0, 60, 10), True),
        (shapely.box(-10, 0, 3, 10), shapely.box(-3.9, 0, 60, 10), False),  # 39 mm2 of it on paper tell nothing
        (shapely.box(-10, 0, 3, 10), shapely.box(-4.1, 0, 60, 10), True),
        (shapely.box(-10, 0, 3, 10), shapely.box(-4.1, 0, 90, 10), False),  # nor does less than a twentieth
        (shapely.box(-10, 0, 3, 10), shapely.box(5, 0, 60, 10), False),
    ],
)
def test_two_places_are_compared_on_one_ground(place, other, is_split):
    sheet = shapely.box(-100, -100, 0, 100)
    flat = Flat(np.zeros((10, 10, 3), np.uint8), np.ones((10, 10), bool), -5.0, 5.0, 1.0)
    look = Look(flat, Ground(*4 * (np.zeros((10, 10)),)), np.zeros((10, 10), bool), sheet)
    here, there = look.on_its_ground(place, other)
    ground = sheet if place.intersection(sheet).area > place.area / 2 else place.union(other).difference(sheet)
    want = (place.intersection(ground), other.intersection(ground)) if is_split else (place, other)
    assert here.equals(want[0]) and there.equals(want[1])
    on_one = Look(flat, look.ground, look.told).on_its_ground(place, other)  # of no sheet
    assert on_one[0].equals(place) and on_one[1].equals(other)


# -- a second light's shadow --------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("lamp", [(0.7, 0.55, 0.35), (0.62, 0.5, 0.42), (0.4, 0.5, 0.62)])
def test_what_one_light_gives_the_other_does_not(lamp):
    """Of each light's shadows the other's are told, whichever of them fade, and no thing's colours."""
    window = 1 - np.array(lamp)
    lines = shadow_lines_of(mixed(window).T, np.ones(3000, bool))
    others = of_the_other_light(lines)
    hard = np.array([lamp]) * np.random.default_rng(3).uniform(0.97, 1.03, (200, 1))
    assert np.median([off_of(line, hard)[0] for line in lines]) > 0.2
    assert np.median(np.min([off_of(line, hard)[0] for line in others], axis=0)) < 0.1
    for thing in ((0.1, 0.3, 0.08), (0.5, 0.08, 0.06), (0.45, 0.1, 0.4)):
        assert min(float(off_of(line, np.array([thing]))[0][0]) for line in others) > 0.3


def test_no_other_light_is_told_where_there_is_one():
    assert of_the_other_light((NEUTRAL,)) == ()
    # all but a tenth of the light is the lamp's: what is left in its shadow is tinted, and no second light throws a shadow there
    assert of_the_other_light((ShadowLine(np.array([1.06, 1.02, 0.92]), 0.11),)) == ()
    # of light so blue no more than half can be the window's, or more blue than there is would go
    assert of_the_other_light((ShadowLine(np.array([0.2, 0.8, 2.0]), 0.45),)) == ()
    assert len(of_the_other_light((ShadowLine(np.array([0.2, 0.8, 2.0]), 0.6),))) > 0


@pytest.mark.parametrize(("deepest", "is_told"), [(0.31, True), (0.29, False)])
def test_a_light_that_gives_nearly_all_leaves_no_other(deepest, is_told):
    assert bool(of_the_other_light((ShadowLine(np.array([1.2, 1.0, 0.8]), deepest),))) == is_told


@pytest.mark.parametrize(("by", "is_told"), [(0.07, False), (0.09, True)])
def test_a_hardly_tinted_shadow_tells_of_no_other_light(by, is_told):
    deep = np.exp(np.array([by, 0.0, -by])) * 0.7
    way = (1 - deep) / (1 - deep).mean()
    assert bool(of_the_other_light((ShadowLine(way, float(deep.mean())),))) == is_told


def _lit(share: np.ndarray | tuple[float, ...], over: tuple[int, int, int]) -> tuple[int, ...]:
    """A colour (sRGB) of a ground that so much of the light, linear, is left of."""
    linear = (np.array(over) / 255) ** 2.2 * np.array(share)
    return tuple(round(c) for c in 255 * linear ** (1 / 2.2))


def test_a_hard_shadow_in_the_light_of_another_lamp_is_no_part_of_a_board():
    """Window and lamp: the lamp's shadow is blue, hard and one flat place; the window's is warm and fades. It was taken in, and sure."""
    warm, paper = np.array([0.62, 0.5, 0.36]), (236, 232, 226)
    board = block(0, 20, 90, 60)
    fades = [(translate(board, 14 * (1 - k), -10 * (1 - k)), _lit(1 - k * 0.8 * (1 - warm), paper)) for k in np.linspace(0.03, 1.0, 40)]
    hard = board.union(translate(board, -7, 0)).convex_hull
    rgb = drawn((shapely.box(-105, -148.5, 105, 148.5), paper), *fades, (hard, _lit(1 - warm, paper)), (board, (150, 52, 40)))
    for thing in things_seen(rgb, found_from(), BOX, 0.0):
        assert thing.doubts or sides_of(thing) == pytest.approx([60, 90], abs=1.5)
    flat = flatten(rgb, found_from().pose.plane_to_pixel, BOX, 1.5)
    ground = tell_apart(flat, (210.0, 297.0))
    strip = flat.inside(shapely.box(-50, 0, -47, 40))
    assert np.median(ground.off[strip]) < 0.2 < 0.5 < np.median(ground.off[flat.inside(board.buffer(-3))])


# -- a side that was told to be shadow ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("height", [12.0, 28.0])
@pytest.mark.parametrize("lost", [0.4, 0.8])
def test_a_dark_side_goes_down_to_its_foot_whatever_of_it_was_told_to_be_shadow(height, lost):
    """Under a lit face whose edge is the top's: a board was 9 mm short, and sure."""
    foot = block(150, 40, 90, 60, 0.3)
    k = EYE[2] / (EYE[2] - height)
    roof = thrown(foot, height)
    whole = foot.union(roof).convex_hull
    flat = flatten(drawn((whole, SHADOW), (roof, RED)), found_from().pose.plane_to_pixel, BOX, 2.0)
    told = thrown(foot, lost * height).union(roof).convex_hull
    sides = with_sides_below(told, roof, edge_picture(flat), EYE[:2], k)
    assert sides.symmetric_difference(whole).area < 0.25 * told.symmetric_difference(whole).area


def test_below_a_lit_sides_foot_there_is_no_side():
    """A face that is top and lit side together ends at the foot; what is dark beyond is shadow."""
    foot, height = block(150, 40, 90, 60, 0.3), 20.0
    k = EYE[2] / (EYE[2] - height)
    roof = thrown(foot, height)
    whole = foot.union(roof).convex_hull
    shade = whole.union(translate(foot, 0, -6)).convex_hull
    flat = flatten(drawn((shade, SHADOW), (whole, (120, 40, 32)), (roof, RED)), found_from().pose.plane_to_pixel, BOX, 2.0)
    assert with_sides_below(shade, whole, edge_picture(flat), EYE[:2], k) is shade
    assert with_sides_below(whole, whole, edge_picture(flat), EYE[:2], k) is whole  # it lies within nothing
    assert with_sides_below(shade, whole, edge_picture(flat), np.array([150.0, 40.0]), 1.0) is shade  # it lies flat


# -- what is told by its edge alone -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("part", "is_largest"),
    [
        (shapely.box(70, -60, 90, 60), True),  # its shadow, that touches it
        (shapely.box(72, -90, 160, 90), False),  # a larger thing that touches it
        (shapely.box(74, -90, 180, 90), True),  # a larger one beside it
        (shapely.box(60, -20, 90, 20), False),  # half upon it: a piece of it, or what lies on it
        (shapely.box(-10, -10, 10, 10), False),  # a fig on a plate
    ],
)
def test_a_plate_told_by_its_edge_alone_comes_before_what_hangs_on_it(part, is_largest):
    picture = edge_picture(flatten(drawn(), found_from().pose.plane_to_pixel, BOX, 2.0))
    (plate,) = rated(picture, [("disc", np.array([0.0, 0.0, 140.0]))], found_from().pose, 0.0)
    assert plate.silhouette.bounds[2] == pytest.approx(70, abs=0.1)
    assert _is_largest_there(plate, [part]) == is_largest


@pytest.mark.parametrize(("colour", "count"), [(RED, 2), ((60, 59, 58), 1)])
def test_what_touches_a_white_plate_is_a_thing_or_its_shadow(colour, count):
    """A strip of shadow along a plate is none by itself; a red napkin that touches it is."""
    rim, inner = thrown(disc(20, 10, 140), 16), disc(20, 12, 84)
    strip = (translate(rim, 14, -14) if count == 1 else block(20, -75.5, 90, 40)).difference(rim.buffer(0.3))
    plate = [(rim, (246, 245, 242)), (rim.difference(translate(rim, 6, 5)), (222, 220, 214)), (inner, (242, 241, 238))]
    found = seen([(strip, colour), *plate], 16)
    assert len(found) == count and found[0].solid is not None and found[0].solid.values[2] == pytest.approx(140, abs=1.0)


@pytest.mark.parametrize(("told", "is_sure"), [(0.66, True), (0.64, False)])
def test_a_solid_seen_by_one_outline_alone_is_sure_where_it_is_told_from_the_ground(told, is_sure):
    board = block(0, 0, 90, 60)
    flat = flatten(drawn((board, RED)), found_from().pose.plane_to_pixel, BOX, 2.0)
    picture = edge_picture(flat)
    (one,) = rated(picture, [("rectangle", np.array([0.0, 0.0, 90.0, 60.0, 0.0]))], found_from().pose, 0.0)
    inside = flat.inside(shapely.box(-45, -30, -45 + 90 * told, 30))
    look = Look(flat, Ground(inside, inside, np.ones(inside.shape), np.zeros(inside.shape)), inside)
    by_top = type(one)(one.kind, one.values, one.curves, SURE - 0.02, 0.9, 0.75, 0.1)
    assert is_surely_seen(by_top) and (HARDLY_DIFFERS not in _doubts(by_top, look, picture)) == is_sure
    assert HARDLY_DIFFERS not in _doubts(one, look, picture)  # all of its edge is seen


# -- none is hidden by another, or by what was dropped ----------------------------------------------------------------------------------------


def test_a_rectangle_over_two_things_hides_neither(monkeypatch):
    """A card and a napkin in one line: of what was seen about the napkin the largest was a rectangle round both, and the napkin was lost."""
    card, napkin = block(190, 60, 90, 130), block(190, -70, 90, 60)
    looked = module.first_look

    def with_one_over_both(*asked):
        first = looked(*asked)
        (both,) = rated(first.picture, [("rectangle", np.array([190.0, 12.5, 90.0, 225.0, 0.0]))], found_from().pose, 0.0)
        return replace(first, every=[*first.every, replace(both, seen=0.9)])

    monkeypatch.setattr(module, "first_look", with_one_over_both)
    monkeypatch.setattr(module, "chosen", lambda solids, *_: (max(solids, key=lambda s: s.silhouette.area), []) if solids else (None, []))
    monkeypatch.setattr(module, "parts_of", lambda mask, flat: [napkin])
    monkeypatch.setattr(module, "_of_edges_alone", lambda rounds, things, *_: things or [module.ThingSeen(card, card, None, ())])
    found = seen([(card, (200, 214, 190)), (napkin, (44, 48, 96))], 0)
    assert any(sides_of(thing) == pytest.approx([60, 90], abs=1) for thing in found)


def test_a_cloths_stripes_leave_room_for_what_else_lies_there():
    """Each stripe is told by itself: eight were all that was looked at, and a fork beside a napkin and five things was not."""
    stripes = [(block(200, 200 - 34 * k, 110, 14), (150, 40, 50)) for k in range(9)]
    spoon = block(-40, 0, 8, 70)
    found = seen([*stripes, (spoon, (40, 44, 52))], 0)
    assert any(thing.silhouette.intersects(shapely.Point(-40, 0)) for thing in found)


@pytest.mark.parametrize(
    ("dropped", "height", "goes_on"),
    [
        (shapely.box(30, -3, 80, 3), 9.0, True),  # from 0 to 50 mm off; of 9 mm no shadow is longer than 39
        (shapely.box(30, -3, 68, 3), 9.0, False),
        (shapely.box(30, -3, 70, 3), 9.0, True),
        (shapely.box(37, -3, 90, 3), 9.0, True),
        (shapely.box(39, -3, 90, 3), 9.0, False),  # it begins elsewhere
        (shapely.box(30, -3, 80, 3), 14.0, False),
    ],
)
def test_what_was_dropped_and_is_longer_than_a_shadow_may_be_more_of_a_thing(dropped, height, goes_on):
    assert goes_on_in([dropped], shapely.box(-30, -20, 30, 20), height) == goes_on
    assert not goes_on_in([], shapely.box(-30, -20, 30, 20), height)


@pytest.mark.parametrize(("apart", "goes_on"), [(6, True), (9, False)])
def test_a_spoon_whose_handle_was_dropped_as_the_grounds_goes_on(monkeypatch, apart, goes_on):
    """Its bowl on a dark table was sure to be an oval, its grey handle on the paper a shadow's."""
    bowl, handle = disc(160, 30, 40), shapely.box(180 + apart, 27, 230, 33)
    monkeypatch.setattr(module, "is_the_grounds", lambda *_: True)
    monkeypatch.setattr(first_look_module, "_may_be", lambda solid, look: solid.kind == "disc")
    found = seen([(bowl, RED), (handle, (60, 58, 56))], 1.5)
    (thing,) = (t for t in found if t.silhouette.contains(shapely.Point(160, 30)))
    assert (GOES_ON in thing.doubts) == goes_on and len(found) == 1
