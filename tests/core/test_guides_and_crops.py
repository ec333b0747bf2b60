"""Crops and grids against elementary geometry, worked by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.camera.guides import grid_lines, projected_line
from tideflat.core.errors import FieldError

FRAME = (0.0, 0.0, 1.0, 1.0)


def test_four_to_five_in_three_to_two_is_eight_fifteenths_wide():
    (crop,) = picture(scene_value()).crops
    assert crop.box == pytest.approx((7 / 30, 0, 23 / 30, 1))
    assert crop.pixels == (3200, 4000)
    assert crop.enlargement == pytest.approx(1080 / 3200)


def test_copy_space_is_the_band_of_the_crop():
    (crop,) = picture(scene_value()).crops
    assert crop.copy_box == pytest.approx((7 / 30, 0, 23 / 30, 0.2))


def test_safe_area_is_what_all_crops_share():
    value = scene_value()
    value["setups"][0]["deliverables"].append({"name": "banner", "ratio": "2:1"})
    assert picture(value).safe_area == pytest.approx((7 / 30, 0.125, 23 / 30, 0.875))


def test_a_crop_outside_the_frame_says_where_it_may_be():
    value = scene_value()
    value["setups"][0]["deliverables"][0]["centre"] = [0.1, 0.5]
    with pytest.raises(FieldError, match=r"setups\[0\].deliverables\[0\].centre.*u from 0.2667 to 0.7333"):
        picture(value)


def test_golden_section_divides_in_the_golden_ratio():
    first = grid_lines("golden", FRAME, 1.5)[0][0][0]
    assert (1 - first) / first == pytest.approx((1 + math.sqrt(5)) / 2)


@pytest.mark.parametrize("aspect", [1.5, 0.8, 1.0, 2.0])
def test_reciprocals_meet_the_diagonals_at_right_angles_in_real_proportions(aspect):
    lines = grid_lines("diagonals", FRAME, aspect)
    real = [(np.array(b) - np.array(a)) * [aspect, 1] for a, b in lines]
    for k, reciprocal in enumerate(real[2:]):
        assert min(abs(reciprocal @ diagonal) / np.linalg.norm(reciprocal) / np.linalg.norm(diagonal) for diagonal in real[:2]) < 1e-9, k


@pytest.mark.parametrize("aspect", [1.5, 0.8])
def test_rabatment_cuts_a_true_square(aspect):
    (start, end), _ = grid_lines("rabatment", FRAME, aspect)
    side = (start[0] * aspect, 1.0) if aspect > 1 else (aspect, start[1])
    assert side[0] == pytest.approx(side[1])


def test_grid_in_a_crop_uses_the_proportions_of_the_crop():
    box = (7 / 30, 0.0, 23 / 30, 1.0)
    (start, end), *_ = grid_lines("rabatment", box, 1.5)
    assert start[1] == pytest.approx(0.8)  # 4:5 upright: the square ends four fifths down


def test_a_line_that_passes_behind_the_lens_is_cut_not_flipped():
    view = picture(scene_value(elevation=5, aim=[450, 300, 60])).view
    line = projected_line(view, (450, -5000, 0), (450, 600, 0))
    assert line is not None and line[0][1] > line[1][1]
    assert projected_line(view, (450, -5000, 0), (450, -4000, 0)) is None
