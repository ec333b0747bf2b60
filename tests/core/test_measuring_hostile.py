"""Pictures that are none of what was asked for: each is a sentence that says what is missing, or an answer that is not sure; never a fault."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from tests.core.test_things_seen import BLUE, SHADOW, block, disc, drawn, found_from
from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision.measure import measure_all, measure_in
from tideflat.core.vision.two_pictures import measure_both


def noise(seed: int, size=(300, 400)) -> np.ndarray:
    return np.random.default_rng(seed).integers(0, 256, (*size, 3)).astype(np.uint8)


def sheets(*corners: list[list[float]], size=(600, 800), ground=90) -> np.ndarray:
    picture = np.full((*size, 3), ground, np.uint8)
    for ring in corners:
        cv2.fillPoly(picture, [np.array(ring, np.int32)], (240, 240, 236), cv2.LINE_AA)
    return cv2.GaussianBlur(picture, (0, 0), 0.7)


A4 = [[200, 120], [410, 120], [410, 417], [200, 417]]
SCREEN = [[150, 150], [650, 150], [650, 431], [150, 431]]
HOSTILE = {
    "one pixel": np.zeros((1, 1, 3), np.uint8),
    "a line": noise(1, (3, 900)),
    "noise": noise(2),
    "white": np.full((400, 500, 3), 255, np.uint8),
    "black": np.zeros((400, 500, 3), np.uint8),
    "a slope": np.tile(np.linspace(0, 255, 500).astype(np.uint8)[None, :, None], (400, 1, 3)),
    "stripes": np.where(np.arange(500)[None, :, None] // 7 % 2, 230, 20).astype(np.uint8).repeat(400, axis=0).repeat(3, axis=2),
    "half a sheet": sheets([[-150, 120], [60, 120], [60, 417], [-150, 417]]),
    "a screen": sheets(SCREEN),
    "a sheet alone": sheets(A4),
    "two sheets": sheets(A4, [[500, 150], [710, 150], [710, 447], [500, 447]]),
}


@pytest.mark.parametrize("name", HOSTILE)
@pytest.mark.parametrize("height", [None, 0.0, 90.0])
def test_each_is_said_or_not_sure(name, height):
    try:
        things = measure_all(Photograph(HOSTILE[name]), "a4", height)
    except FieldError as error:
        assert error.path in ("sheet", "thing", "height") and len(error.rule) > 20
        return
    # two sheets: the other one is a thing as large as a sheet
    assert name == "two sheets" or not things[0].is_sure


def test_half_a_sheet_a_screen_and_nothing_say_so_and_the_way_by_hand():
    for name in ("half a sheet", "a screen", "noise", "white"):
        with pytest.raises(FieldError, match="by hand"):
            measure_all(Photograph(HOSTILE[name]), "a4", 0)
    with pytest.raises(FieldError, match="nothing was found"):
        measure_all(Photograph(HOSTILE["a sheet alone"]), "a4", 0)


@pytest.mark.parametrize("seed", range(1))
def test_whatever_lies_there_and_however_high_it_is_said_to_be(seed):
    random = np.random.default_rng(seed)
    found = found_from()
    shapes = []
    for _ in range(int(random.integers(1, 7))):
        x, y = random.uniform(-250, 250, 2)
        a, b = random.uniform(1, 300, 2)
        shape = disc(x, y, a) if random.random() < 0.5 else block(x, y, a, b, float(random.uniform(0, 3)))
        shapes.append((shape, tuple(int(c) for c in random.integers(0, 256, 3))))
    picture = Photograph(drawn(*shapes, seed=seed))
    for height in (0.0, float(random.uniform(1, 330)), 0.8 * float(found.pose.eye[2]) - 0.1):
        try:
            for thing in measure_in(picture, found, "a4", height):
                value = thing.as_value()
                assert np.isfinite([value["width_mm"], value["depth_mm"]]).all() and value["sure"] == (value["why"] is None)
        except FieldError as error:
            assert error.path in ("thing", "height")


def test_a_height_that_the_largest_thing_cannot_have_leaves_no_smaller_one_sure():
    """At a height at which its outline would leave no footprint, what else is found there is not taken for what was meant."""
    picture = Photograph(drawn((disc(-180, 40, 90), BLUE), (block(190, -40, 12, 60), SHADOW)))
    try:
        things = measure_in(picture, found_from(), "a4", 300.0)
    except FieldError:
        return
    assert not things[0].is_sure


def test_two_pictures_of_different_sheets_are_not_sure():
    one, other = sheets(A4), sheets([[300, 200], [597, 200], [597, 410], [300, 410]])
    cv2.circle(one, (520, 260), 40, (40, 60, 160), -1, cv2.LINE_AA)
    cv2.rectangle(other, (120, 300), (180, 420), (30, 120, 60), -1)
    try:
        assert not measure_both(Photograph(one), Photograph(other))[0].is_sure
    except FieldError as error:
        assert error.path in ("sheet", "thing")
