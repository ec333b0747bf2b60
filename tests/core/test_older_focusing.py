"""Lenses kept before November 2026 whose closest focus and magnification cannot go together lose the closest focus; all others stay as they are."""

from __future__ import annotations

import pytest

from tests.support.scenes import scene_value
from tideflat.core.formats.older_rules import focusing_mended, without_impossible_focus
from tideflat.core.formats.scene_reader import scene_from_value


@pytest.mark.parametrize(
    ("near", "kept"),
    [(300, True), (161, True), (159, False), (459, True), (461, False), (None, True)],  # 4 x 0.4 x 100 and 4 x 1.15 x 100
)
def test_the_bounds_are_those_of_the_reader(near, kept):
    lens = {"focal_length": 100, "max_magnification": 1, "min_focus": near}
    assert (without_impossible_focus(lens) == lens) is kept
    assert kept or without_impossible_focus(lens)["min_focus"] is None
    assert without_impossible_focus({**lens, "measured": {"sensor_distance": 500, "width": 144}})["min_focus"] == near


def test_a_document_that_could_no_longer_be_read_can_be_read_again():
    value = scene_value(lens={"focal_length": 100, "min_focus": 150, "max_magnification": 1})
    mended = focusing_mended(value)
    assert mended["setups"][0]["camera"]["lens"]["min_focus"] is None and scene_from_value(mended)
    near = scene_value(
        lens={"focal_length": 100, "min_focus": 110 * 1.44 / 0.2, "max_magnification": 0.2}, distance=250, elevation=0, aim=[450, 300, 300]
    )
    assert focusing_mended(near)["setups"][0]["camera"]["lens"]["min_focus"] is None and scene_from_value(focusing_mended(near))


def test_what_was_right_stays_equal():
    value = scene_value(lens={"focal_length": 100, "min_focus": 300, "max_magnification": 1})
    assert focusing_mended(value) == value and focusing_mended({}) == {}
