"""A thing with a narrow shadow along two sides, beside black, and a handle: which of several rectangles, or what other shape, it is."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest
import shapely

from tests.core.test_more_of_it import _solid, _told_look
from tests.core.test_outlines_in_doubt import flat_of
from tests.core.test_things_seen import BOX, EYE, RED, SHADOW, block, drawn, found_from, seen, sides_of, thrown
from tideflat.core.vision import dark_sides, solids_found
from tideflat.core.vision.another_shape import is_more
from tideflat.core.vision.dark_sides import with_sides_below
from tideflat.core.vision.edge_doubts import SHADOW_TAKEN
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.first_look import first_look
from tideflat.core.vision.met_boxes import met_boxes
from tideflat.core.vision.running_on import has_pointed_ends
from tideflat.core.vision.solid_curves import seen_of
from tideflat.core.vision.solid_edges import SolidSeen
from tideflat.core.vision.solids_chosen import _holds, _is_shade, _may_be_shaded, chosen


def box(x, y, wide, deep, turn=0.0, seen_=0.95) -> SolidSeen:
    values = np.array([x, y, wide, deep, turn])
    return SolidSeen("rectangle", values, seen_of("rectangle", values, found_from().pose, 0.0), seen_, 1.0, 1.0, 0.1)


def as_polygon(values: np.ndarray) -> shapely.Polygon:
    return block(*values)


# -- what two rectangles have in common ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("turn", [0.0, 0.4, -1.3])
@pytest.mark.parametrize("quarters", [0, 1, -1, 2])
def test_what_two_have_in_common_is_their_intersection_however_their_sides_are_told(turn, quarters):
    first = np.array([10.0, -5.0, 60.0, 40.0, turn])
    c, s = np.cos(turn), np.sin(turn)
    aside = np.array([1.5 * c + 2.0 * s, 1.5 * s - 2.0 * c])  # along the first's own axes: 1.5 one way, -2 the other
    size = np.array([57.0, 44.0])
    told_so = size if quarters % 2 == 0 else size[::-1]
    other = np.array([*(first[:2] + aside), *told_so, turn + quarters * np.pi / 2])
    (found,) = met_boxes([box(*first), box(*other)])
    common = as_polygon(first).intersection(as_polygon(other))
    assert as_polygon(found).symmetric_difference(common).area < 0.01 and found[2:4] == pytest.approx([57, 40])


@pytest.mark.parametrize(
    ("first", "second", "how_many"),
    [
        ((0, 0, 60, 40), (0, 0, 57.9, 42.1), 1),  # each larger than both by 2.1
        ((0, 0, 60, 40), (0, 0, 58.1, 42.1), 0),
        ((0, 0, 60, 40), (0, 0, 62, 42), 0),  # one within the other
        ((0, 0, 60, 40), (0, 0, 45, 45), 1),  # longer by 1.33
        ((0, 0, 60, 40), (0, 0, 44, 45), 0),
        ((0, 0, 60, 40), (70, 0, 57, 44), 0),  # elsewhere
        ((0, 0, 60, 40, 0.0), (0, 0, 57, 44, 0.049), 1),
        ((0, 0, 60, 40, 0.0), (0, 0, 57, 44, 0.051), 0),
    ],
)
def test_only_what_lies_in_one_place_and_crosses_meets(first, second, how_many):
    assert len(list(met_boxes([box(*first), box(*second)]))) == how_many


def test_nothing_is_met_twice_nor_what_is_known_and_nothing_but_rectangles():
    crossed = [box(0, 0, 60, 40), box(0, 0, 57, 44), box(0, 0, 57.3, 44)]
    assert len(list(met_boxes(crossed))) == 1
    assert not list(met_boxes([*crossed, box(0, 0, 57, 40)]))
    round_ = replace(crossed[1], kind="oval")
    assert not list(met_boxes([crossed[0], round_]))


@pytest.mark.parametrize("turn", [0.0, 0.5])
def test_a_lid_with_a_black_shadow_along_two_sides_is_told_without(turn):
    """Each side had been drawn in by itself, and on a third no rectangle was told with both: a lid came out 3 mm too long, and sure."""
    c, s = np.cos(turn), np.sin(turn)
    foot, height = block(-190, 40, 104, 68, turn), 9.0
    shade = shapely.union_all([shapely.affinity.translate(foot, k * (4 * c - 4 * s), k * (4 * s + 4 * c)) for k in np.linspace(0, 1, 12)])
    (thing, *_) = seen(
        [(shade.union(foot), SHADOW), (foot.union(thrown(foot, height)).convex_hull, (96, 30, 26)), (thrown(foot, height), RED)], height
    )
    assert thing.doubts or sides_of(thing) == pytest.approx([68, 104], abs=1.0)


@pytest.mark.parametrize("height", [0.0, 9.0])
def test_what_two_have_in_common_is_fitted_with_the_others(monkeypatch, height):
    foot = block(-190, 40, 104, 68)
    monkeypatch.setattr(solids_found, "_starts", lambda *_: iter(()))
    monkeypatch.setattr(solids_found, "met_boxes", lambda found: [np.array([-191.0, 40.5, 102.5, 69.5, 0.0])])
    found = first_look(
        drawn((foot.union(thrown(foot, height)).convex_hull, (96, 30, 26)), (thrown(foot, height), RED)), found_from(), BOX, height
    )
    assert any(s.values == pytest.approx([-190, 40, 104, 68, 0], abs=0.5) for s in found.every)


# -- which of several ---------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("beyond", "is_held"), [(4.2, True), (4.8, False)])
def test_a_smaller_one_may_lie_a_little_outside_of_the_larger(beyond, is_held):
    """A rectangle that was drawn in to within the thing on one side, and holds its shadow on another: a slate was 11 mm too long."""
    thing = box(0, 0, 44, 44)
    assert _holds(box(beyond / 2, 8, 44 - beyond, 60), thing) == is_held


def test_what_holds_its_shadow_and_lacks_a_strip_of_it_gives_way():
    thing, with_shadow = shapely.box(-21, -21, 21, 21), shapely.box(-19.5, -21, 21, 33)
    solids = [replace(_solid(with_shadow), seen=0.96), replace(_solid(thing), seen=0.99)]
    look = _told_look((with_shadow, 0.12, 0.01), (thing, 0.04, 0.2))
    one, doubts = chosen(solids, look, edge_picture(flat_of(drawn((with_shadow, (90, 88, 86)), (thing, (30, 30, 32))))), 14.0)
    assert one is not None and one.silhouette.bounds == pytest.approx((-21, -21, 21, 21), abs=0.1) and not doubts


@pytest.mark.parametrize(
    ("less", "wide", "gives_way", "is_in_doubt"),
    [(0.055, 38, True, False), (0.065, 38, False, True), (0.085, 38, False, True), (0.095, 38, False, False), (0.065, 40.5, False, False)],
)
def test_what_hardly_gives_way_to_a_thing_without_its_shadow_is_in_doubt(less: float, wide: float, gives_way: bool, is_in_doubt: bool):
    """A black tin on paper, whose edge is the fainter toward its shadow: an oval 4 mm too long was sure. Not where either size would do."""
    ovals = [np.array([(x0 + x1) / 2, 0.0, x1 - x0, 42.0, 0.0]) for x0, x1 in ((-21.0, 21.0), (-21.0, wide - 21.0))]
    curves = [seen_of("oval", values, found_from().pose, 0.0) for values in ovals]
    seen_so = zip(ovals, curves, (0.97, 0.97 - less), strict=True)
    solids = [SolidSeen("oval", values, curve, much, 1.0, 1.0, 0.1) for values, curve, much in seen_so]
    with_shadow, thing = (one.silhouette for one in solids)
    look = _told_look((with_shadow, 0.15, 0.45), (thing, 0.04, 0.25))
    one, doubts = chosen(solids, look, edge_picture(flat_of(drawn((with_shadow, (90, 88, 106)), (thing, (30, 30, 32))))), 14.0)
    assert one is not None and bool(one.values[2] == pytest.approx(wide)) is gives_way
    assert (SHADOW_TAKEN in doubts) is is_in_doubt


@pytest.mark.parametrize(("own", "off", "is_shade"), [(0.11, 0.49, True), (0.11, 0.51, False), (0.13, 0.49, False)])
def test_beside_what_is_all_but_black_a_shadow_may_be_tinted(own, off, is_shade):
    """A dark napkin was 2.8 mm too long by a blue shadow: it is hardly stranger itself, for black has no colour."""
    thing, rest = block(0, 0, 60, 40), shapely.box(30, -20, 36, 20)
    assert _is_shade(rest, thing, _told_look((rest, 0.45, off), (thing, own, 0.3)), 6.0) == is_shade


@pytest.mark.parametrize(("left", "may_be"), [(0.84, True), (0.86, False)])
def test_what_leaves_most_of_the_light_may_be_a_shadow_or_not(left, may_be):
    thing, larger = _solid(shapely.box(-40, -20, 40, 20)), _solid(shapely.box(-40, -20, 44, 20))
    look = _told_look((larger.silhouette, left, 0.15), (thing.silhouette, 0.04, 0.4))
    assert _may_be_shaded(larger, thing, look, 10.0) == may_be


# -- a handle -----------------------------------------------------------------------------------------------------------------------------

BODY = shapely.box(-40, -30, 40, 30)


@pytest.mark.parametrize(
    ("long", "light", "off", "own", "is_other"),
    [
        (26, 0.9, 1.0, 1.0, True),
        (17, 0.9, 1.0, 1.0, False),  # 0.03 of it, and less
        (26, 0.6, 1.0, 1.0, False),  # darker
        (26, 0.9, 0.8, 1.0, False),  # its light on the table
        (26, 0.9, 1.25, 1.0, False),
        (26, 0.9, 1.0, 0.85, False),  # an edge that fades
    ],
)
def test_a_handle_is_more_of_a_board_however_small_where_it_is_of_its_stuff(long, light, off, own, is_other):
    """It took less than a tenth of the board, which was sure to be a rectangle, 26 mm too short."""
    handle = shapely.box(39, -5, 40 + long, 5)
    outline = BODY.union(handle)
    places = np.array(shapely.segmentize(outline.exterior, 1.0).coords)[:-1]
    is_own = np.ones(len(places), bool)
    past = np.flatnonzero(~shapely.contains_xy(BODY.buffer(2.0), places))
    is_own[past[: round((1 - own) * len(past))]] = False
    free = SimpleNamespace(outline=outline, doubts=[], edge=SimpleNamespace(places=places, is_own=is_own))
    look = _told_look((handle, light, off), (BODY, 0.9, 1.0))
    solid = replace(_solid(BODY), seen=0.9)
    assert is_more(free, solid, look, edge_picture(flat_of(drawn((outline, RED)))), 9.0) == is_other


@pytest.mark.parametrize(("strange", "is_other"), [(0.31, True), (0.29, False)])
def test_what_is_hardly_strange_has_no_handle_but_a_shadow(strange, is_other):
    handle = shapely.box(39, -5, 66, 5)
    outline = BODY.union(handle)
    places = np.array(shapely.segmentize(outline.exterior, 1.0).coords)[:-1]
    free = SimpleNamespace(outline=outline, doubts=[], edge=SimpleNamespace(places=places, is_own=np.ones(len(places), bool)))
    look = _told_look((handle, 0.6, strange), (BODY, 0.6, strange))
    assert is_more(free, replace(_solid(BODY), seen=0.9), look, edge_picture(flat_of(drawn((outline, RED)))), 9.0) == is_other


# -- points -------------------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("height", "is_told"), [(12.0, True), (14.0, True), (22.0, False)])
@pytest.mark.parametrize("cut", [4, 6])
def test_a_point_of_a_things_face_goes_down_to_its_foot_too(height, is_told, cut, monkeypatch):
    """Of a half-moon the ends of its side were cut off, with them 2 mm of its depth. Its foot lies 0.4 mm off for each of its height: of
    22 mm the ends are left as they are seen."""
    foot = shapely.Point(150, -120).buffer(40, quad_segs=60).intersection(shapely.box(100, -120, 200, -60))
    k = EYE[2] / (EYE[2] - height)
    roof = thrown(foot, height)
    whole = shapely.union_all([shapely.union(thrown(foot, a), thrown(foot, a + 1)).convex_hull for a in np.arange(0, height)])
    picture = edge_picture(flat_of(drawn((whole, (70, 24, 20)), (roof, RED))))
    told = whole.difference(shapely.union_all([shapely.Point(p).buffer(cut) for p in ((110, -120), (190, -120))]).difference(roof))
    with_ends = with_sides_below(told, roof, picture, EYE[:2], k)
    monkeypatch.setattr(dark_sides, "_END_MM", 0.0)
    lost = [whole.difference(one).area for one in (with_sides_below(told, roof, picture, EYE[:2], k), with_ends)]
    assert lost[1] < lost[0] - 7 if is_told else lost[1] == lost[0]


# -- a leaf -------------------------------------------------------------------------------------------------------------------------------


def pointed_oval(by_mm: float, at=(-200.0, 20.0)) -> shapely.Polygon:
    """60 by 28 mm, its ends reaching so much further, in a point."""
    oval = shapely.affinity.scale(shapely.Point(*at).buffer(1, quad_segs=90), 30, 14)
    ends = [
        shapely.Polygon([(at[0] + s * 24, at[1] - 8.4), (at[0] + s * 24, at[1] + 8.4), (at[0] + s * (30 + by_mm), at[1])]) for s in (1, -1)
    ]
    return shapely.union_all([oval, *(end.convex_hull.intersection(oval.buffer(by_mm)) for end in ends)])


@pytest.mark.parametrize(("further", "is_leaf"), [((0.0, 0.0), False), ((1.2, 0.0), False), ((0.9, 0.9), True), ((0.3, 0.3), False)])
@pytest.mark.parametrize("turn", [0.0, 70.0])
def test_a_leaf_whose_ends_lie_further_out_is_no_oval(further, is_leaf, turn):
    oval = shapely.affinity.scale(shapely.Point(-200, 20).buffer(1, quad_segs=90), 30, 14)
    ends = [shapely.affinity.translate(oval, sign * by) for sign, by in zip((1, -1), further, strict=True)]
    leaf = shapely.affinity.rotate(shapely.union_all([oval, *ends]), turn, origin=(-200, 20))
    values = np.array([-200.0, 20.0, 60.0, 28.0, np.radians(turn)])
    for told in (values, np.array([*values[:2], 28.0, 60.0, values[4] - np.pi / 2])):
        one = SolidSeen("oval", told, seen_of("oval", told, found_from().pose, 0.0), 0.9, 0.9, 0.9, 0.1)
        assert has_pointed_ends(one, edge_picture(flat_of(drawn((leaf, RED))))) == is_leaf
        assert not has_pointed_ends(replace(one, kind="disc"), edge_picture(flat_of(drawn((leaf, RED)))))


@pytest.mark.parametrize(("by", "right"), [(0.0, [28, 60]), (3.0, [28, 65])])
def test_a_leaf_is_told_by_its_outline_or_in_doubt(by, right):
    (thing, *_) = seen([(pointed_oval(by), RED)], 0.0)
    assert thing.doubts or sides_of(thing) == pytest.approx(right, abs=1.2)
    assert by or (thing.solid is not None and thing.solid.kind == "oval" and not thing.doubts)
