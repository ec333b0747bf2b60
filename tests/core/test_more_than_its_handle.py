"""A rectangle that may be a shadow is in doubt beside what is none; and a hollow is kept, in shade or light, however high a thing stands."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, scale, translate

from tests.core.test_bent_sided import KIDNEY
from tests.core.test_more_of_it import _solid, _told_look
from tests.core.test_outlines_in_doubt import flat_of
from tests.core.test_straight_sided import upright
from tests.core.test_things_seen import BOX, disc, drawn, found_from, seen
from tideflat.core.vision import things_seen as module
from tideflat.core.vision.another_shape import covers_ground, has_stranger_beside
from tideflat.core.vision.edge_doubts import FOLLOWS_SHEET
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.outlined import stood_down
from tideflat.core.vision.solids_chosen import _doubts
from tideflat.core.vision.things_seen import things_seen

PINK, DARK_PINK, BLUISH, BROWNISH = (184, 47, 142), (120, 30, 92), (160, 166, 170), (202, 192, 178)
SPOON = shapely.union_all([scale(disc(0, -45, 28), 1.0, 1.4), shapely.box(-4, -30, 4, 66)])


@pytest.mark.parametrize("is_asked", [True, False])
def test_a_spoon_between_two_lamps_shadows_is_not_its_handle_and_a_shadow(is_asked, monkeypatch):
    """Two hard shadows, each of a colour of its own, lie along the handle: with one of them that is a rectangle, plain all round."""
    if not is_asked:
        monkeypatch.setattr(module, "has_stranger_beside", lambda *given: False)
    eye = np.array([10.0, 60.0, 560.0])
    foot = translate(SPOON, 0, 40)
    shadows = [
        (shapely.union_all([translate(foot, way * t, 0) for t in np.linspace(0, 8, 20)]), tint)
        for way, tint in ((-1, BLUISH), (1, BROWNISH))
    ]
    (thing, *_) = things_seen(drawn(*shadows, *upright(foot, 12.0, PINK, DARK_PINK, eye)), found_from(eye), BOX, 12.0)
    is_handle = not thing.doubts and thing.foot.area < 0.8 * foot.area
    assert is_handle != is_asked


@pytest.mark.parametrize(
    ("left", "off", "wide", "is_so"),
    [
        (0.6, 0.1, 20, True),
        (0.91, 0.29, 20, True),
        (0.93, 0.1, 20, False),
        (0.6, 0.31, 20, False),
        (0.6, 0.1, 6, False),
        (0.6, 0.1, 12, True),
    ],
)
def test_what_may_be_a_shadow_has_something_stranger_beside_it(left, off, wide, is_so):
    """A tenth of it at the least; of what is no rectangle it is not asked."""
    place, more = shapely.box(-260, 0, -200, 30), shapely.box(-200, 0, -200 + wide, 30)
    look, solid = _told_look((place, left, off), (more, 0.5, 0.8)), _solid(place)
    whole = place.union(more)
    assert has_stranger_beside(whole, solid, look) == is_so
    assert not has_stranger_beside(whole, replace(solid, kind="disc"), look)
    assert not has_stranger_beside(place, solid, look)


@pytest.mark.parametrize(("least", "mm2"), [(0.3, 600.0), (0.5, 600.0), (0.51, 0.0)])
def test_so_much_of_a_place_is_so_strange(least, mm2):
    place = shapely.box(-230, 0, -200, 20)
    look = _told_look((place, 0.6, 0.5))
    assert look.strange_mm2(place.buffer(5, join_style="mitre"), least) == pytest.approx(mm2, rel=0.06)
    off = look.ground.off.copy()
    off[:] = np.nan
    assert replace(look, ground=replace(look.ground, off=off)).strange_mm2(place, least) == 0.0


@pytest.mark.parametrize(("wide", "is_kept"), [(16.0, True), (7.0, True), (4.0, False), (2.0, False)])
def test_a_hollow_of_what_stands_is_kept_and_a_wavering_edge_is_none(wide, is_kept):
    """What is seen of it is narrower by as much as its foot and its top lie apart."""
    foot = disc(0, 0, 90).difference(shapely.box(-wide / 2, 27, wide / 2, 50))
    whole = shapely.union_all([scale(foot, by, by, origin=(30.0, -200.0)) for by in np.linspace(1.0, 420 / 400, 120)])
    found = stood_down(whole, found_from((30.0, -200.0, 420.0)), 20.0)
    assert found.contains(shapely.Point(0, 36)) != is_kept


def test_a_kidney_that_stands_high_is_no_oval():
    foot = translate(KIDNEY, -190, 20)
    (thing, *_) = seen(upright(foot, 22.0), 22.0)
    assert thing.doubts or thing.foot.hausdorff_distance(foot) < 2.5


HOLLOW = shapely.box(-250, -70, -150, 70).difference(shapely.box(-190, -30, -140, 30))


@pytest.mark.parametrize(
    ("left", "off", "is_ground"), [(0.5, 0.0, True), (0.9, 0.09, True), (0.5, 0.11, False), (0.93, 0.0, True), (1.2, 0.0, False)]
)
def test_a_hollow_in_shade_is_no_part_of_a_solid_that_has_no_edge_there(left, off, is_ground):
    whole = shapely.box(-250, -70, -150, 70)
    look = _told_look((whole, left, off), (HOLLOW, 0.5, 1.0))
    assert covers_ground(HOLLOW, _solid(whole), look, edge_picture(flat_of(drawn((HOLLOW, PINK))))) == is_ground


@pytest.mark.parametrize("left", [0.5, 0.93])
def test_what_lies_out_of_the_hull_may_be_its_dark_side(left):
    """In full light it is the ground, wherever it lies."""
    whole, lit = shapely.box(-250, -70, -150, 70), shapely.box(-250, -70, -190, 70)
    look = _told_look((whole, left, 0.0), (lit, 0.5, 1.0))
    assert covers_ground(lit, _solid(whole), look, edge_picture(flat_of(drawn((lit, PINK))))) == (left > 0.92)


@pytest.mark.parametrize(("arm", "lip", "share", "is_ground"), [(40.0, 4.0, 0.56, True), (34.0, 0.0, 0.43, False)])
def test_half_of_a_hollow_in_shade_lies_within_the_hull(arm, lip, share, is_ground):
    """Between an arm and a lip; without the lip, and with a shorter arm, most of it lies out of the hull, as a dark side does."""
    whole, body = shapely.box(-250, -70, -150, 70), shapely.box(-250, -70, -190, 70)
    angled = shapely.union_all([body, shapely.box(-190, -70, -190 + arm, -60), shapely.box(-190, 66, -190 + lip, 70)])
    piece = whole.difference(angled)
    assert piece.intersection(angled.convex_hull).area / piece.area == pytest.approx(share, abs=0.02)
    look = _told_look((whole, 0.5, 0.0), (angled, 0.5, 1.0))
    assert covers_ground(angled, _solid(whole), look, edge_picture(flat_of(drawn((angled, PINK))))) == is_ground


@pytest.mark.parametrize(("side", "wall"), [(DARK_PINK, (168, 166, 162)), (PINK, (150, 148, 144))])
def test_a_kidney_whose_hollow_lies_in_shade_is_no_oval(side, wall):
    eye = np.array([-60.0, -160.0, 520.0])
    foot = translate(KIDNEY, 0, 40)
    shade = shapely.union_all([translate(foot, 0, t) for t in np.linspace(0, 30, 40)])
    (thing, *_) = things_seen(drawn((shade, wall), *upright(foot, 14.0, PINK, side, eye)), found_from(eye), BOX, 14.0)
    assert thing.doubts or thing.foot.hausdorff_distance(foot) < 2.5


@pytest.mark.parametrize(("off", "is_sheets"), [(0.0, True), (0.9, True), (1.3, False), (9.0, False)])
@pytest.mark.parametrize("turned", [0.0, 3.0, 40.0])
def test_a_rectangle_one_side_of_which_is_the_sheets_own_edge_is_in_doubt(off, is_sheets, turned):
    """Beside the sheet, on its left: the table between a joint and the paper."""
    look = replace(_told_look(), sheet=found_from().area)
    box = rotate(shapely.box(-205 - off, -60, -105 - off, 70), turned, origin=(-105 - off, 5))
    doubts = _doubts(_solid(box), look, edge_picture(flat_of(drawn((box, PINK)))))
    assert (FOLLOWS_SHEET in doubts) == (is_sheets and turned == 0.0)


@pytest.mark.parametrize(("right", "is_sheets"), [(-85, False), (-62, False), (-34, True)])
def test_of_what_lies_past_the_sheets_corner_half_a_side_is_the_sheets(right, is_sheets):
    """Of its side that lies along the sheet's far edge, which ends at -105, 0.27, 0.44 and 0.56 do."""
    look = replace(_told_look(), sheet=found_from().area)
    box = shapely.box(-160, 148.5, right, 200)
    assert (FOLLOWS_SHEET in _doubts(_solid(box), look, edge_picture(flat_of(drawn((box, PINK)))))) == is_sheets


def test_what_lies_across_the_sheets_corner_follows_no_edge_of_it():
    look, box = replace(_told_look(), sheet=found_from().area), shapely.box(-160, 100, -60, 170)
    assert FOLLOWS_SHEET not in _doubts(_solid(box), look, edge_picture(flat_of(drawn((box, PINK)))))
