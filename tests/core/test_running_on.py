"""Rectangles whose last part is as pale as what they lie on: their sides run on past what is seen of them, to where they end."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tests.core.test_things_seen import BOX, EYE, block, drawn, found_from, seen, sides_of, standing
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.running_on import _followed, continued, goes_on_to, runs_on
from tideflat.core.vision.solid_curves import seen_of
from tideflat.core.vision.solid_edges import SolidSeen
from tideflat.core.vision.solids_chosen import _has_ground_for_a_side, _where_it_ends

PALE, RED = (232, 222, 206), (150, 40, 50)
#: A board, red from LEFT to BREAK, and from there to its end as pale as every other check of the table.
LEFT, BREAK, NEAR, FAR = -230.0, -190.0, -40.0, 70.0


def board(end: float) -> list:
    """On large checks, brown and pale, one pale square of which its pale end is not told from."""
    beside = shapely.box(-105, -148.5, 105, 148.5).buffer(2)
    corners = [(x, y) for i, x in enumerate(range(-325, 330, 60)) for j, y in enumerate(range(-260, 280, 60)) if (i + j) % 2 == 0]
    squares = [shapely.box(x, y, x + 60, y + 60) for x, y in corners]
    checks = [(square.difference(beside), PALE) for square in squares if not beside.covers(square)]
    return [*checks, (shapely.box(LEFT, NEAR, end, FAR), PALE), (shapely.box(LEFT, NEAR, BREAK, FAR), RED)]


def rectangle(left: float, near: float, right: float, far: float, seen: float = 0.98) -> SolidSeen:
    values = np.array([(left + right) / 2, (near + far) / 2, right - left, far - near, 0.0])
    return SolidSeen("rectangle", values, seen_of("rectangle", values, found_from().pose, 0.0), seen, seen, seen, 0.1)


def pictured(shapes: list):
    return edge_picture(flatten(drawn(*shapes), found_from().pose.plane_to_pixel, BOX, 2.0))


RED_PART = rectangle(LEFT, NEAR, BREAK, FAR)


@pytest.mark.parametrize("end", [-150.0, -165.0])
def test_the_sides_are_followed_to_where_both_end(end: float):
    picture = pictured(board(end))
    assert runs_on(RED_PART, picture)
    far = [v[2] for v in continued(RED_PART, picture, 0.0)]
    assert min(abs(wide - (end - LEFT)) for wide in far) < 4.0


@pytest.mark.parametrize(("more", "height", "is_asked"), [(14.0, 0.0, True), (4.0, 0.0, False), (30.0, 10.0, True), (30.0, 25.0, False)])
def test_less_than_a_shadow_may_be_is_not_followed(more: float, height: float, is_asked: bool):
    picture = pictured(board(BREAK + more))
    assert any(True for _ in continued(RED_PART, picture, height)) == is_asked


@pytest.mark.parametrize(
    ("plain", "far"),
    [
        ("1111111110000000000000", 10.0),
        ("1111100011110000000000", 13.0),  # three missing are none
        ("1111100001110000000000", 6.0),  # four are its end
        ("0001111110000000000000", 10.0),
        ("0000111110000000000000", 0.0),  # it begins too far from the corner
        ("1111111111111111111111", 19.0),  # the last four see the first
        ("0000000000000000000000", 0.0),
    ],
)
def test_an_edge_is_followed_over_short_gaps(plain: str, far: float):
    assert _followed(np.array([float(c) for c in plain])) == far


def test_what_ends_at_its_corners_does_not_run_on():
    picture = pictured(board(BREAK))
    assert not runs_on(RED_PART, picture) and not list(continued(RED_PART, picture, 0.0))


@pytest.mark.parametrize("height", [0.0, 14.0, 40.0])
def test_the_edges_of_a_boxs_own_side_are_none_of_its_tops(height: float):
    """Narrow, and in line with the lens: the edges of the side that it shows go on from the corners of its top."""
    values = np.array([EYE[0], 90.0, 14.0, 60.0, 0.0])
    shown = standing(block(EYE[0], 90, 14, 60), height, RED, (90, 24, 30))
    solid = SolidSeen("rectangle", values, seen_of("rectangle", values, found_from().pose, height), 0.98, 0.98, 0.98, 0.1)
    assert not runs_on(solid, pictured(shown))
    longer = standing(block(EYE[0], 70, 14, 100), height, RED, (90, 24, 30))  # 20 mm more at both ends of it
    assert runs_on(solid, pictured(longer))


@pytest.mark.parametrize(
    ("sides", "is_so"),
    [
        ((LEFT, NEAR, BREAK + 30, FAR), True),
        ((LEFT, NEAR, BREAK + 35, FAR), False),  # no side of it goes so far
        ((LEFT, NEAR, BREAK + 24, FAR), False),  # both go further
        ((LEFT, NEAR, BREAK + 30, FAR + 1.0), True),
        ((LEFT, NEAR, BREAK + 30, FAR + 1.6), False),  # another side is elsewhere too
        ((LEFT, NEAR, BREAK + 4.0, FAR), False),  # nearly the same
        ((LEFT - 30, NEAR, BREAK + 30, FAR), False),  # more at both ends
    ],
)
def test_three_sides_are_one_and_the_fourth_is_further(sides: tuple[float, float, float, float], is_so: bool):
    assert goes_on_to(RED_PART, rectangle(*sides), pictured(board(BREAK + 30))) == is_so


@pytest.mark.parametrize("end", [-156.0, -165.0, -172.0])
def test_a_board_as_pale_as_the_checks_at_one_end_is_told_whole(end: float):
    things = seen(board(end), 0.0)
    assert sides_of(things[0]) == pytest.approx(sorted([end - LEFT, FAR - NEAR]), abs=1.0)
    assert not things[0].doubts


@pytest.mark.parametrize("end", [-148.0, -150.0, -152.0])
def test_a_line_of_checks_close_past_its_end_is_not_taken_for_it(end: float):
    (thing, *_) = seen(board(end), 0.0)
    assert thing.doubts or sides_of(thing) == pytest.approx(sorted([end - LEFT, FAR - NEAR]), abs=1.5)


def test_a_shadow_that_goes_on_from_it_is_no_part_of_it():
    """Dark along one end, as a low lamp's shadow: what its sides run on to is not taken."""
    shade = [(shapely.box(BREAK, NEAR, BREAK + 15, FAR), (46, 36, 28))]
    (thing, *_) = seen([*shade, *standing(block(-210, 15, 40, 110), 4.0, (200, 170, 60), (90, 76, 30))], 4.0)
    assert thing.doubts or sides_of(thing) == pytest.approx([40, 110], abs=2.0)


def test_it_is_taken_only_where_it_is_seen_well_enough():
    picture = pictured(board(-150.0))
    look = _Bright()
    for seen_so, is_taken in ((0.76, True), (0.74, False)):
        larger = rectangle(LEFT, NEAR, -150.0, FAR, seen_so)
        assert (_where_it_ends(RED_PART, [RED_PART, larger], look, picture, 0.0) is not RED_PART) == is_taken


class _Bright:
    """A look at what is nowhere a shadow."""

    def light(self, region: shapely.Polygon) -> tuple[float, float]:
        return 1.0, 0.0


class _Told:
    """A look at which a place has so much of the light, is so strange, and is told from the ground so far."""

    def __init__(self, left: float, off: float, covered: float):
        self.answer, self.share = (left, off), covered

    def light(self, region: shapely.Polygon) -> tuple[float, float]:
        return self.answer

    def covered(self, region: shapely.Polygon) -> float:
        return self.share


def box(height: float, x: float = -230.0) -> SolidSeen:
    values = np.array([x, 60.0, 60.0, 40.0, 0.3])
    return SolidSeen("rectangle", values, seen_of("rectangle", values, found_from().pose, height), 0.9, 0.9, 0.9, 0.1)


@pytest.mark.parametrize(
    ("height", "told", "is_so"),
    [
        (8.0, (1.0, 0.05, 0.05), True),
        (8.0, (0.94, 0.05, 0.05), True),
        (8.0, (0.92, 0.05, 0.05), False),  # in its own shadow
        (8.0, (1.12, 0.05, 0.05), False),  # brighter than the table
        (8.0, (1.0, 0.11, 0.05), False),  # of another colour
        (8.0, (1.0, 0.05, 0.11), False),  # told from the ground
        (2.0, (1.0, 0.05, 0.05), False),  # too low to show a side
        (0.0, (1.0, 0.05, 0.05), False),
    ],
)
def test_a_box_whose_side_is_the_table_in_full_light_is_none(height: float, told: tuple[float, float, float], is_so: bool):
    assert _has_ground_for_a_side(box(height), _Told(*told)) == is_so


def test_what_is_all_of_a_box_is_not_taken_for_its_top():
    """A low box seen far aslant, its side of its top's colour: the top's near edge is not seen, and all of it looks like a larger top."""
    (thing, *_) = seen(standing(block(-230, 60, 60, 100, 0.3), 9.0, (150, 104, 30), (146, 100, 28)), 9.0)
    assert thing.doubts or sides_of(thing) == pytest.approx([60, 100], abs=2.0)
