"""Skins come out evenly lit and with paper as white, on the sheet and beside it, in light that falls off."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.test_things_seen import LEFT, PER_MM, block, drawn, found_from
from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision.cut_out import paper_over
from tideflat.core.vision.measure import measure_in

THING = (60, 96, 150)


def _lit(picture: np.ndarray, fall_off: float) -> np.ndarray:
    """The same in light that falls off along +x, log a metre, and is as drawn over the sheet's middle."""
    x = (np.arange(picture.shape[1]) / PER_MM + LEFT) / 1000
    light = (picture / 255.0) ** 2.2 * np.exp(-fall_off * x)[None, :, None]
    return np.clip(np.rint(255 * np.clip(light, 0, 1) ** (1 / 2.2)), 0, 255).astype(np.uint8)


def _colour(at_x: float, fall_off: float) -> str:
    rgb = _lit(drawn((block(at_x, 0, 80, 60), THING)), fall_off)
    return measure_in(Photograph(rgb), found_from(), "a4", 0.0)[0].colours[0][0]


@pytest.mark.parametrize("at_x", [0.0, -220.0, 220.0])
@pytest.mark.parametrize("fall_off", [0.0, 1.5, -1.5])
def test_a_thing_has_its_colour_wherever_it_lies_in_the_light(at_x: float, fall_off: float) -> None:
    assert difference(_colour(at_x, fall_off), _colour(0.0, 0.0)) < 2.5


def test_over_the_sheet_light_is_the_sheets_and_beside_it_goes_on_as_the_tables() -> None:
    paper = paper_over(_lit(drawn(), 1.5), found_from())
    places = np.array([[0.0, 0.0], [60.0, 100.0], [200.0, 0.0], [-200.0, 50.0]])
    light = np.log(paper(places)).mean(axis=1)
    assert light[1] - light[0] == pytest.approx(-1.5 * 0.06, abs=0.02)
    assert light[2] - light[0] == pytest.approx(-1.5 * 0.2, abs=0.06)
    assert light[3] - light[0] == pytest.approx(1.5 * 0.2, abs=0.06)


@pytest.mark.parametrize(("fall_off", "told"), [(1.2, 1.2), (8.0, 0.7 / 0.2)])
def test_a_table_that_shines_is_not_believed_beyond_a_factor_of_two(fall_off: float, told: float) -> None:
    """The sheet lit as ever, the table beside it ever brighter, as by a mirrored window."""
    even, lit = drawn(), _lit(drawn(), -fall_off)
    left, right = (int((x - LEFT) * PER_MM) for x in (-105, 105))
    lit[:, left:right] = even[:, left:right]
    light = np.log(paper_over(lit, found_from())(np.array([[105.0, 0.0], [305.0, 0.0]]))).mean(axis=1)
    assert light[1] - light[0] == pytest.approx(0.2 * told, abs=0.08)
