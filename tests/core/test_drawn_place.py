"""A box drawn over the frame, as a place on the thing: by hand on a box and a jar, and there and back on any shape, pose and lens."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.support.scenes import picture, scene_value
from tideflat.core.errors import FieldError
from tideflat.core.features.drawn import drawn_place
from tideflat.core.features.seen import in_frame
from tideflat.core.model import Feature

BOX = {"kind": "box", "width": 80, "depth": 60, "height": 100}
JAR = {"kind": "cylinder", "diameter": 80, "height": 100}
SHAPES = [
    BOX,
    JAR,
    {"kind": "bottle", "diameter": 70, "height": 240, "neck_diameter": 28, "neck_height": 80},
    {"kind": "cone", "base_diameter": 60, "top_diameter": 90, "height": 110},
    {"kind": "sphere", "diameter": 84},
    {"kind": "ellipse", "width": 120, "depth": 70, "height": 60},
    {"kind": "rod", "length": 180, "width": 26, "height": 14},
    {"kind": "outline", "points": [[-60, -40], [60, -40], [60, 0], [10, 0], [10, 50], [-60, 50]], "height": 40},
    {"kind": "bowl", "diameter": 160, "base_diameter": 90, "height": 70},
]


def shown(shape, at=(450.0, 300.0), turn=0.0, lean=0.0, toward=0.0, **camera):
    value = scene_value(**{"elevation": 0, "aim": [450, 300, 50], "aperture": 11, **camera})
    value["props"] = [{"id": "thing", "name": "thing", "shape": shape}]
    value["placements"] = [
        {"id": "p1", "prop": "thing", "x": at[0], "y": at[1], "role": "hero", "turn": turn, "lean": lean, "lean_toward": toward}
    ]
    return picture(value)


def box_of(seen, corners):
    """The box in the frame around places on the table."""
    uv = seen.view.project(np.array(corners, dtype=float))
    return float(uv[:, 0].min()), float(uv[:, 1].min()), float(uv[:, 0].max()), float(uv[:, 1].max())


def test_a_box_over_the_front_is_that_part_of_the_front():
    seen = shown(BOX)
    front = [[x, 270, z] for x in (430, 460) for z in (40, 60)]
    place = drawn_place(seen, "p1", box_of(seen, front))
    assert place.at == pytest.approx((-5, -30, 50), abs=0.1) and place.facing == (0, -1, 0)
    assert (place.width, place.height) == pytest.approx((30, 20), abs=0.1)


def test_over_the_lid_from_above_its_width_is_along_x():
    seen = shown(BOX, elevation=90)
    lid = [[x, y, 100] for x in (440, 470) for y in (305, 315)]
    place = drawn_place(seen, "p1", box_of(seen, lid))
    assert place.at == pytest.approx((5, 10, 100), abs=0.1) and place.facing == (0, 0, 1)
    assert (place.width, place.height) == pytest.approx((30, 10), abs=0.1)


def test_on_a_turned_lid_a_square_keeps_its_area():
    seen = shown(BOX, turn=45, elevation=90)
    square = [[x, y, 100] for x in (440, 460) for y in (290, 310)]
    place = drawn_place(seen, "p1", box_of(seen, square))
    assert place.width * place.height == pytest.approx(400, abs=5)


def test_a_turned_leaning_box_gives_the_place_in_its_own_axes():
    seen = shown(BOX, turn=30, lean=20, toward=110, azimuth=-15)
    feature = Feature("label", "label", (10, -30, 40), (0, -1, 0), 12, 8)
    patch = in_frame(seen, "p1", feature)
    assert patch is not None and patch.angle_deg < 60
    place = drawn_place(seen, "p1", box_of(seen, patch.patch.corners))
    assert place.at == pytest.approx((10, -30, 40), abs=0.5) and place.facing == (0, -1, 0)


def test_on_a_jar_it_faces_outward_where_it_is():
    seen = shown(JAR, distance=2000)
    at = 40 * math.sin(math.radians(30)), -40 * math.cos(math.radians(30))
    u, v, _ = seen.view.project(np.array([450 + at[0], 300 + at[1], 50.0]))
    place = drawn_place(seen, "p1", (u - 0.002, v - 0.002, u + 0.002, v + 0.002))
    assert place.at == pytest.approx((*at, 50), abs=0.4)
    assert math.degrees(math.atan2(place.facing[0], -place.facing[1])) == pytest.approx(30, abs=1.5)
    assert place.facing[2] == pytest.approx(0, abs=1e-6)


def test_in_a_bowl_from_above_the_floor_is_met_and_from_the_side_the_wall():
    bowl = SHAPES[-1]
    above = shown(bowl, elevation=90)
    floor = drawn_place(above, "p1", box_of(above, [[440, 290, 2], [460, 310, 2]]))
    assert floor.facing == (0, 0, 1) and floor.at[2] < 10
    side = shown(bowl)
    wall = drawn_place(side, "p1", box_of(side, [[440, 230, 30], [460, 230, 40]]))
    assert wall.facing[1] < -0.8 and wall.at[1] < -45


def test_the_nearest_face_is_the_one_that_is_meant():
    """Of the four faces that a ray through a notched board meets, the first."""
    seen = shown(SHAPES[7], elevation=0, aim=[450, 300, 20])
    place = drawn_place(seen, "p1", box_of(seen, [[410, 260, 15], [420, 260, 25]]))
    assert place.facing == (0, -1, 0)


def test_a_box_whose_middle_is_beside_the_thing_is_refused():
    seen = shown(BOX)
    edge = seen.view.project(np.array([450 + 40.0, 270, 50]))[0]
    assert drawn_place(seen, "p1", (edge - 0.011, 0.45, edge + 0.009, 0.55)).facing == (0, -1, 0)
    with pytest.raises(FieldError, match="middle on the thing"):
        drawn_place(seen, "p1", (edge - 0.009, 0.45, edge + 0.011, 0.55))


def test_a_thing_behind_the_lens_has_no_places():
    seen = shown(BOX, at=(450.0, -2000.0))
    with pytest.raises(FieldError, match="not in front of the lens"):
        drawn_place(seen, "p1", (0.4, 0.4, 0.6, 0.6))


def test_no_place_is_larger_than_its_thing_nor_smaller_than_half_a_millimetre():
    seen = shown(BOX)
    u, v, _ = seen.view.project(np.array([450.0, 270, 50]))
    largest = math.sqrt(80**2 + 60**2 + 100**2)
    place = drawn_place(seen, "p1", (u - 5, v - 5, u + 5, v + 5))
    assert (place.width, place.height) == pytest.approx((largest, largest), abs=0.06)
    point = drawn_place(seen, "p1", (u, v, u, v))
    assert (point.width, point.height) == (0.5, 0.5)


@settings(max_examples=150, deadline=None)
@given(
    shape=st.sampled_from(SHAPES),
    turn=st.floats(-180, 180),
    lean=st.floats(0, 50),
    toward=st.floats(0, 360),
    elevation=st.floats(0, 90),
    azimuth=st.floats(-60, 60),
    roll=st.floats(-20, 20),
    du=st.floats(-0.5, 0.5),
    dv=st.floats(-0.5, 0.5),
    bend=st.sampled_from([[], [-0.12, 0.02, 0.001, -0.002, 0.0]]),
)
def test_the_place_that_is_drawn_is_seen_where_it_was_drawn(shape, turn, lean, toward, elevation, azimuth, roll, du, dv, bend):
    """Projecting the place again gives the middle of the stroke, faces the lens, and is what the thing shows first along that ray."""
    lens = {"focal_length": 50, "max_aperture": 1.8, "min_aperture": 16, "min_focus": 450, "distortion": bend}
    seen = shown(shape, turn=turn, lean=lean, toward=toward, elevation=elevation, azimuth=azimuth, roll=roll, lens=lens)
    left, top, right, bottom = seen.silhouettes["p1"].box
    u, v = (left + right) / 2 + du * (right - left), (top + bottom) / 2 + dv * (bottom - top)
    try:
        place = drawn_place(seen, "p1", (u - 0.004, v - 0.004, u + 0.004, v + 0.004))
    except FieldError:
        assume(False)
        return
    found = in_frame(seen, "p1", Feature("f", "f", place.at, place.facing, place.width, place.height))
    assert found is not None and found.angle_deg < 90.5
    middle = seen.view.project(found.patch.centre)
    assert (middle[0], middle[1]) == pytest.approx((u, v), abs=2e-4)  # a tenth of a millimetre is kept
