"""What two measurements of one thing make together."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest

from tests.support.photographs import Shot, Thing, disc, photograph
from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision.edge_doubts import ONLY_DARKER, SOFT_EDGE
from tideflat.core.vision.measure import Measured, measure_all
from tideflat.core.vision.two_pictures import _NO_SHEET, _combined, measure_both

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


# -- one lens for both ----------------------------------------------------------------------------------------------------------------------

JAR = Thing(disc(70), (10, 30), height=90, colour=(150, 70, 30))


@lru_cache(maxsize=8)
def taken(tilt: float, walked: float, focal: float = 34.0, size: tuple[int, int] = (1200, 900)) -> Photograph:
    return Photograph(photograph(Shot(JAR, tilt=tilt, walked=walked, focal=focal, size=size, distance=700)))


def size_of(things: tuple[Measured, ...]) -> tuple[float, float]:
    return things[0].width_mm, things[0].depth_mm


def test_a_level_picture_borrows_the_focal_length_that_a_tilted_one_tells() -> None:
    level, tilted = taken(2, 20), taken(32, 80)
    alone = measure_all(level, "a4", 90.0)
    assert not alone[0].is_sure and "focal length" in " ".join(alone[0].why)
    both = measure_both(level, tilted, "a4", 90.0)
    assert both[0].is_sure and size_of(both) == pytest.approx((70, 70), abs=1.0)
    assert max(abs(a - 70) for a in size_of(alone)) > 1.5  # what a guess comes to


@pytest.mark.parametrize("other", [{"focal": 46.0}, {"size": (1280, 960)}])
def test_of_another_lens_or_zoomed_between_nothing_is_sure(other) -> None:
    level = taken(2, 20, **other)
    found = measure_both(level, taken(32, 80), "a4", 90.0)
    assert not found[0].is_sure or size_of(found) == pytest.approx((70, 70), abs=1.5)


def test_a_second_photograph_without_the_sheet_takes_nothing_from_the_first() -> None:
    level, tilted, bare = taken(2, 20), taken(32, 80), Photograph(np.full((900, 1200, 3), 90, np.uint8))
    doubtful, alone = measure_both(level, bare, "a4", 90.0), measure_all(level, "a4", 90.0)
    assert size_of(doubtful) == size_of(alone) and doubtful[0].why == (*alone[0].why, _NO_SHEET)
    sure = measure_both(tilted, bare, "a4", 90.0)
    assert sure[0].is_sure and sure[0].error_mm is not None
    with pytest.raises(FieldError, match="sheet"):
        measure_both(bare, tilted, "a4", 90.0)


def test_a_shadow_that_both_show_alike_is_no_answer() -> None:
    shadowed = told(100, 60, SOFT_EDGE)
    assert not _combined(shadowed, told(100.4, 60.2, ONLY_DARKER)).is_sure
    assert _combined(shadowed, told(100.4, 60.2, "ragged")).is_sure  # where only one doubts for a shadow's sake, the other has looked elsewhere


@pytest.mark.parametrize(("width", "depth", "is_sure"), [(76, 60, True), (74, 60, False), (100, 46, True), (100, 44, False), (140, 60, True)])
def test_what_may_be_a_piece_of_what_the_first_shows_is_not_taken_for_it(width, depth, is_sure) -> None:
    """A spoon whose handle the second lost, all the rest of it plain: the two do not agree."""
    both = _combined(told(100, 60, "soft"), replace(told(width, depth), error_mm=0.4))
    assert both.is_sure == is_sure and both.width_mm == (width if is_sure else 100)
    assert is_sure or (both.error_mm is None and "do not agree" in both.why[-1])


def test_a_borrowed_focal_length_holds_where_both_come_out_alike() -> None:
    sure, twin = replace(told(100, 60), error_mm=0.4), told(102, 60)
    assert _combined(sure, twin, lent=0) is sure
    by_its_own = _combined(sure, replace(told(102.1, 60), error_mm=0.7), lent=0)
    assert by_its_own.is_sure and by_its_own.width_mm == 102.1 and by_its_own.error_mm == 0.7
    for other in (told(102.1, 60, "ragged"), told(74.9, 60), None):
        doubted = _combined(sure, other, lent=0)
        assert not doubted.is_sure and doubted.error_mm is None and ("zooming" in doubted.why[-1] or other.width_mm < 75)
        assert _combined(sure, other, lent=1) is sure  # it was the second that borrowed
    unsure = told(100, 60, "ragged")
    assert not _combined(unsure, replace(told(110, 60), error_mm=0.4), lent=1).is_sure
