"""What a lens covers and how it bends, from photographs drawn through OpenCV's camera model (tests/support/sheets.py)."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph
from tideflat.core.model import Sensor
from tideflat.core.vision.lens_from_sheet import MeasuredLens, measure_lens

from ..support.sheets import Taken

FULL, SMALL, FOUR_THIRDS, PHONE = (36.0, 24.0), (23.5, 15.7), (17.3, 13.0), (7.6, 5.7)


def at(sensor: tuple[float, float], covers: float, focal: float, **more: object) -> Taken:
    """The lens so far away that the long side covers that much."""
    m = sensor[0] / covers
    return Taken(sensor, focal, focal * (1 + m) ** 2 / m, **more)  # type: ignore[arg-type]


CASES = [
    at(FULL, 420, 50),
    at(FULL, 460, 28, k=(-0.05, 0.012), tilt=3, about=92, shift=(8, -5)),
    at(FULL, 380, 100, k=(0.4, 0.0), tilt=1.5, about=-89),
    at(FULL, 345, 60, k=(-0.16, 0.0), tilt=4, about=90.6, table=0.2),
    at(SMALL, 400, 35, k=(-0.12, 0.02), tilt=6, about=88, shift=(-12, 9), noise=4, quality=75),
    at(FOUR_THIRDS, 350, 25, k=(0.06, 0.0), tilt=2, about=271, table=0.015),
    at(PHONE, 360, 6.8, k=(-0.03, 0.01), tilt=5, about=90, shift=(5, 5), noise=5),
    at(FULL, 430, 105, pupil_ratio=1.6, tilt=2),
]


@cache
def drawn(taken: Taken) -> np.ndarray:
    return taken.drawn()


def measured(taken: Taken, **more: object) -> MeasuredLens:
    sensor = Sensor(*taken.sensor, 6000, 4000)
    return measure_lens(Photograph(drawn(taken)), sensor, taken.distance, pupil_ratio=taken.pupil_ratio, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize("taken", CASES)
def test_what_the_lens_covers_is_found_to_a_tenth_per_cent_and_its_corners_to_a_fifth(taken: Taken) -> None:
    found = measured(taken)
    assert found.why == ()
    assert found.measured.width == pytest.approx(taken.covers, rel=1e-3)
    assert found.focal_length == pytest.approx(taken.focal, rel=1.5e-3)
    assert found.bend == pytest.approx(taken.corner(), abs=2e-3)
    assert found.tilt_deg == pytest.approx(taken.tilt, abs=0.6)


def test_a_turned_frame_covers_the_same() -> None:
    taken = CASES[1]
    upright = Photograph(np.rot90(drawn(taken)).copy())
    found = measure_lens(upright, Sensor(*taken.sensor, 6000, 4000), taken.distance)
    assert found.measured.width == pytest.approx(taken.covers, rel=1e-3)


def test_a_small_sheet_tells_what_is_covered_but_nothing_of_how_lines_bend() -> None:
    found = measured(at(FULL, 700, 50, k=(-0.1, 0.0)))
    assert found.distortion == ()
    assert "go nearer" in found.why[0]
    assert found.measured.width == pytest.approx(700, rel=0.01)


@pytest.mark.parametrize(("tilt", "is_told"), [(7.0, False), (9.5, True)])
def test_a_camera_off_square_is_told_of(tilt: float, is_told: bool) -> None:
    found = measured(at(FULL, 460, 60, tilt=tilt))
    assert any("square" in why for why in found.why) is is_told


@pytest.mark.parametrize(("marked", "is_told"), [(50.0, False), (44.0, False), (43.0, True), (124.0, False), (126.0, True), (None, False)])
def test_another_lens_than_is_written_is_told_of(marked: float | None, is_told: bool) -> None:
    found = measured(CASES[0], marked_mm=marked)
    assert any("is written" in why for why in found.why) is is_told


def test_a_cut_picture_a_wrong_distance_and_no_sheet_are_refused() -> None:
    taken = CASES[0]
    picture, sensor = drawn(taken), Sensor(36, 24, 6000, 4000)
    with pytest.raises(FieldError, match="whole frame"):
        measure_lens(Photograph(picture[:, 50:]), sensor, taken.distance)
    measure_lens(Photograph(picture[:, 20:]), sensor, taken.distance)  # within the rounding of a picture made smaller
    for distance in (49.0, 20_001.0):
        with pytest.raises(FieldError, match="distance"):
            measure_lens(Photograph(picture), sensor, distance)
    with pytest.raises(FieldError, match="four edges"):
        measure_lens(Photograph(np.full((400, 600, 3), 90, np.uint8)), sensor, 500)
    with pytest.raises(FieldError, match="a4 or letter"):
        measure_lens(Photograph(picture), sensor, 500, "a3")


def test_letter_is_told_from_a4() -> None:
    taken = replace(CASES[0], sheet=(215.9, 279.4))
    found = measure_lens(Photograph(drawn(taken)), Sensor(36, 24, 6000, 4000), taken.distance, "letter")
    assert found.measured.width == pytest.approx(taken.covers, rel=1e-3)
