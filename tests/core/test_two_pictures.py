"""What two measurements of one thing make together."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tideflat.core.vision.measure import Measured
from tideflat.core.vision.two_pictures import _combined

NONE = np.zeros((4, 2))


def told(width: float, depth: float, *why: str, of_camera: tuple[str, ...] = ()) -> Measured:
    skin = np.zeros((2, 2, 4), np.uint8)
    whole = (*why, *of_camera)
    return Measured("a4", width, depth, NONE, (("#808080", 1.0),), whole, skin, NONE, NONE, 20.0, height_mm=9.0, of_camera=of_camera)


@pytest.mark.parametrize(("second", "is_sure"), [(101.4, True), (101.6, False)])
def test_two_doubtful_edges_that_agree_are_an_answer(second, is_sure):
    both = _combined(told(100, 60, "soft"), told(second, 60, "ragged"))
    assert both.is_sure == is_sure and (both.error_mm is not None) == is_sure and both.width_mm == 100


def test_what_is_wrong_with_the_sheet_is_wrong_in_both():
    """A Letter sheet that is taken for A4 makes every picture beside it wrong by the same share."""
    doubt = ("the sheet's corners do not fit its size well",)
    both = _combined(told(100, 60, "soft", of_camera=doubt), told(100, 60, "soft", of_camera=doubt))
    assert both.why == doubt and both.error_mm is None


def test_the_surer_of_the_two_is_taken_and_laid_over_the_first():
    first, second = told(100, 60, "soft"), replace(told(97, 58), traced=NONE + 5)
    both = _combined(first, second)
    assert both.is_sure and both.width_mm == 97 and both.traced is first.traced
    assert _combined(second, first).width_mm == 97 and _combined(first, None) is first
