"""Cameras that stand nearer than anybody drew: among the things, tilted past what is sharp, with odd pupils. All is told in plain numbers."""

from __future__ import annotations

import json
import random

import pytest

from tests.support.scenes import picture, scene, scene_value
from tideflat.core.errors import TideflatError
from tideflat.core.evaluate import Picture
from tideflat.core.frame.hold_sharp import hold_sharp
from tideflat.core.report import evaluation

SENSORS = [(36, 24), (23.5, 15.7), (17.3, 13), (7.6, 5.7), (44, 33)]


def odd_camera(rnd: random.Random) -> dict:
    wide, high = rnd.choice(SENSORS)
    f = rnd.choice([6.8, 16, 24, 35, 50, 60, 100, 135, 200])
    lens = {"focal_length": f, "min_focus": None, "max_aperture": 1.4, "min_aperture": 32, "pupil_ratio": rnd.choice([1, 1, 0.5, 2, 0.1, 5])}
    lens["extension"] = rnd.choice([0, 0, 12, 36])
    if rnd.random() < 0.3:
        lens |= {"tilt": rnd.uniform(0, 20), "tilt_toward": rnd.uniform(-180, 180)}
    if rnd.random() < 0.3:
        lens["distortion"] = [rnd.uniform(-0.2, 0.2), 0, 0, 0, 0]
    camera = {
        "sensor": {"width": wide, "height": high, "pixels_wide": 6000, "pixels_high": 4000},
        "lens": lens,
        "distance": f * (1 + 10 ** rnd.uniform(-1, 1.5)),
        "elevation": rnd.choice([90, 80, 45, 20, 0, -10, rnd.uniform(-10, 90)]),
        "azimuth": rnd.uniform(-180, 180),
        "roll": rnd.choice([0, 0, 5, 90]),
        "aim": [rnd.uniform(0, 900), rnd.uniform(0, 600), rnd.uniform(0, 200)],
        "aperture": rnd.choice([1.4, 4, 11, 32]),
    }
    if rnd.random() < 0.3:
        camera["focus"] = {"point": [rnd.uniform(0, 900), rnd.uniform(0, 600), rnd.uniform(0, 100)]}
    return camera


@pytest.mark.parametrize("seed", range(2))
def test_whatever_the_document_allows_is_told_in_finite_numbers(seed: int) -> None:
    rnd, told = random.Random(seed), 0
    for _ in range(60):
        camera = odd_camera(rnd)
        with_remedies = rnd.random() < 0.1
        try:
            read = scene(scene_value(**camera))
        except TideflatError:
            continue
        json.dumps(evaluation(read, with_remedies=with_remedies), allow_nan=False)
        try:
            held = hold_sharp(Picture(read, read.setups[0]), ["p1"])
            assert held.at_once is not None or held.reason
        except TideflatError as error:
            assert "in the picture" in str(error)
        told += 1
    assert told > 20


def test_a_lens_that_focuses_so_near_by_no_setting_says_so() -> None:
    """The bottle's top is nearer than the focal length: no frame and no stack can hold it."""
    held = hold_sharp(picture(lens={"focal_length": 100, "min_focus": None}, distance=260, elevation=90, aim=[560, 190, 0]), ["p4"])
    assert held.at_once is None and held.steps is None
    assert "no setting" in (held.reason or "")


@pytest.mark.parametrize(("distance", "is_taken"), [(79.0, False), (81.0, True)])
def test_the_aim_lies_before_the_pupil(distance: float, is_taken: bool) -> None:
    """P = 5 puts the pupil f (1 - 1/5) = 80 mm before the principal point of a 100 mm lens."""
    lens = {"focal_length": 100, "min_focus": None, "pupil_ratio": 5, "min_aperture": 32}
    value = scene_value(lens=lens, distance=distance, elevation=0, aim=[450, 700, 150], focus={"point": [450, 2000, 150]})
    if is_taken:
        scene(value)
        return
    with pytest.raises(TideflatError, match="before the lens's pupil"):
        scene(value)
