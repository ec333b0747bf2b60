"""A board with a notch is no rectangle, however much of a rectangle's edge it has; a cloth whose end is as pale as the table is one."""

from __future__ import annotations

import pytest
import shapely
from shapely.affinity import rotate, translate

from tests.core.test_more_of_it import _solid, _told_look
from tests.core.test_outlines_in_doubt import flat_of
from tests.core.test_straight_sided import NOTCHED, upright
from tests.core.test_things_seen import RED, TABLE, drawn, seen
from tideflat.core.vision.another_shape import covers_ground
from tideflat.core.vision.edge_support import edge_picture

SLOTTED = shapely.box(-60, -40, 60, 40).difference(shapely.box(-12, -5, 12, 41))


@pytest.mark.parametrize("at", [(0, 20), (-110, 30), (-205, 20)])
@pytest.mark.parametrize("height", [0.0, 4.0, 9.0])
@pytest.mark.parametrize("shape", [NOTCHED, SLOTTED], ids=["notched", "slotted"])
def test_a_board_is_told_with_its_notch(shape: shapely.Polygon, height: float, at: tuple[float, float]):
    foot = translate(rotate(shape, 25, origin=(0, 0)), *at)
    (thing, *_) = seen(upright(foot, height), height)
    assert thing.solid is None and not thing.doubts
    assert thing.foot.hausdorff_distance(foot) < 1.2 and abs(thing.foot.area - foot.area) < 0.02 * foot.area


@pytest.mark.parametrize(("deep", "is_another"), [(8.0, False), (18.0, True)])
def test_a_small_nick_in_it_leaves_it_a_rectangle(deep: float, is_another: bool):
    foot = translate(shapely.box(-60, -40, 60, 40).difference(shapely.box(-16, 40 - deep, 16, 41)), -200, 20)
    (thing, *_) = seen(upright(foot, 6.0), 6.0)
    assert (thing.solid is None) == is_another and not thing.doubts


RED_PART, WHOLE = shapely.box(-250, -70, -190, 70), shapely.box(-250, -70, -150, 70)


@pytest.mark.parametrize(
    ("shapes", "is_ground"),
    [
        ([(RED_PART, RED)], True),
        ([(WHOLE.buffer(1.2), (70, 48, 34)), (WHOLE, TABLE), (RED_PART, RED)], False),  # a darker thread all round
        (
            [(shapely.box(-190, 68, -150, 72).union(shapely.box(-190, -72, -150, -68)), (70, 48, 34)), (RED_PART, RED)],
            True,
        ),  # along two short sides
        ([(shapely.box(-150, -70, -146, 70), (70, 48, 34)), (RED_PART, RED)], False),  # along its end
    ],
)
def test_an_end_as_pale_as_the_table_is_told_by_its_own_edge(shapes: list, is_ground: bool):
    picture = edge_picture(flat_of(drawn(*shapes)))
    assert covers_ground(RED_PART, _solid(WHOLE), _told_look((RED_PART, 0.5, 1.0)), picture) == is_ground


@pytest.mark.parametrize(
    ("left", "off", "is_ground"),
    [(1.0, 0.0, True), (0.94, 0.09, True), (0.92, 0.0, False), (1.09, 0.0, True), (1.11, 0.0, False), (1.0, 0.11, False)],
)
def test_only_ground_in_full_light_is_no_part_of_it(left: float, off: float, is_ground: bool):
    look = _told_look((WHOLE, left, off), (RED_PART, 0.5, 1.0))
    assert covers_ground(RED_PART, _solid(WHOLE), look, edge_picture(flat_of(drawn((RED_PART, RED))))) == is_ground


@pytest.mark.parametrize(("share", "is_ground"), [(0.64, True), (0.72, False)])
def test_its_own_edge_is_seen_along_half_of_what_it_has_more(share: float, is_ground: bool):
    """A darker thread along so much of its end, which is two thirds of what it has more: 0.48 and 0.53 of that."""
    thread = shapely.box(-150, -70, -146, -70 + 140 * share)
    picture = edge_picture(flat_of(drawn((thread, (70, 48, 34)), (RED_PART, RED))))
    assert covers_ground(RED_PART, _solid(WHOLE), _told_look((RED_PART, 0.5, 1.0)), picture) == is_ground
