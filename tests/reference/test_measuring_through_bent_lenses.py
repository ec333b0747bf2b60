"""Things far beside the sheet, photographed through lenses that bend, by OpenCV's model of them (undistortPoints): they have their own size."""

from __future__ import annotations

from functools import lru_cache

import cv2
import numpy as np
import pytest

from tests.support.photographs import Shot, Thing, block, disc, photograph
from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision.measure import Measured, measure, measure_all, sheet_in
from tideflat.core.vision.sheet import _ILL_SKEW
from tideflat.core.vision.two_pictures import measure_both
from tools.taken_otherwise import through_a_lens

BOX, PLATE = Thing(block(120, 80), (215, 70), turn=25), Thing(disc(130), (-220, -60), height=12, colour=(60, 96, 120))


@lru_cache(maxsize=4)
def straight(thing: int, tilt: float) -> np.ndarray:
    return photograph(Shot((BOX, PLATE)[thing], tilt=tilt, distance=560, aim=(20 if thing == 0 else -20, 0), size=(1600, 1200)))


@lru_cache(maxsize=16)
def seen(thing: int, tilt: float, bend: float, cut: int = 0) -> tuple[Photograph, Measured]:
    through = through_a_lens(straight(thing, tilt), bend) if bend else straight(thing, tilt)
    picture = Photograph(np.ascontiguousarray(through[:, cut:] if thing == 0 else through[:, : through.shape[1] - cut]))
    return picture, measure_all(picture, "a4", (BOX, PLATE)[thing].height)[0]


@pytest.mark.parametrize("bend", [-0.03, -0.012, 0.0, 0.012, 0.03])
@pytest.mark.parametrize(("thing", "tilt", "sides"), [(0, 0.0, (120, 80)), (0, 25.0, (120, 80)), (1, 12.0, (130, 130))])
def test_it_is_as_large_as_it_is_however_the_lens_bends(thing: int, tilt: float, sides: tuple[float, float], bend: float):
    _, found = seen(thing, tilt, bend)
    assert (found.width_mm, found.depth_mm) == pytest.approx(sides, abs=1.0)
    if found.shape is not None:
        assert max(found.shape.values[2:4] if thing == 0 else found.shape.values[2:3]) == pytest.approx(max(sides), abs=1.0)
    assert tilt == 25 or found.shape is not None


@pytest.mark.parametrize("bend", [-0.03, 0.03])
def test_as_if_the_lens_did_not_bend_it_would_be_another_size(bend: float):
    """What the edges of the sheet tell is what makes it right: its corners alone do not."""
    picture, found = seen(0, 0.0, bend)
    sheet = sheet_in(picture, "a4")
    assert sheet.lens is not None and sheet.lens.bend.by == pytest.approx(-bend, abs=0.006)
    middle = np.array(found.place_mm)
    ends = sheet.lens.in_picture(np.vstack([middle - [60, 0], middle + [60, 0]]), 3.0)
    back = np.column_stack([ends, [1, 1]]) @ np.linalg.inv(sheet.pose.plane_to_pixel).T
    long = float(np.linalg.norm(np.subtract(*(back[:, :2] / back[:, 2:]))))
    assert abs(long - 120) > 1.2 and (long < 120) == (bend < 0)


def test_what_was_cut_off_the_picture_does_not_matter():
    """The lens's axis is no longer in the middle then; its bend is hardly another."""
    _, found = seen(0, 0.0, -0.03, 160)
    assert (found.width_mm, found.depth_mm) == pytest.approx((120, 80), rel=0.012)


def test_its_outline_put_by_hand_is_measured_as_it_was_found():
    """In the corners that were found, and in none: a person moves an outline, and nothing else jumps."""
    picture, found = seen(0, 25.0, -0.03)
    assert np.abs(found.traced - picture.rgb.shape[1] / 2).max() > 300
    for corners in (None, found.corners, found.corners.round(1)):
        by_hand = measure(picture, "a4", BOX.height, corners, found.traced)
        assert (by_hand.width_mm, by_hand.depth_mm) == pytest.approx((found.width_mm, found.depth_mm), abs=0.3)


def test_corners_that_a_person_put_elsewhere_are_taken_as_they_were_put():
    picture, found = seen(0, 25.0, -0.03)
    assert sheet_in(picture, "a4", found.corners + [0.5, 0.5]).lens is not None
    assert sheet_in(picture, "a4", found.corners + [2.0, 2.0]).lens is None


def test_corners_that_fit_a_sheet_badly_for_the_lens_alone_are_the_sheets():
    """No edge is told by a part of it for that, and they lie where its edges end, not where straight lines along bent ones meet."""
    picture = photograph(Shot(BOX, tilt=15, distance=560, aim=(110, 60), size=(1600, 1200)))
    sheet = sheet_in(Photograph(through_a_lens(picture, -0.06)), "a4")
    assert sheet.lens is not None and sheet.pose.skew > _ILL_SKEW > 4 * sheet.lens.pose.skew
    camera = np.array([[1000.0, 0, 800], [0, 1000, 600], [0, 0, 1]])
    straight = cv2.undistortPoints(sheet.corners[:, None], camera, np.array([-0.06, 0, 0, 0]), P=camera)[:, 0]
    assert straight == pytest.approx(sheet_in(Photograph(picture), "a4").corners, abs=0.5)


def test_its_cut_out_is_all_thing():
    """The picture that it wears is laid out as its outline is, where the lens shows it."""
    _, found = seen(0, 25.0, 0.03)
    inside = found.skin[..., 3] > 250
    colours = found.skin[inside][:, :3].astype(float)
    assert inside.mean() > 0.9 and np.median(np.abs(colours - np.median(colours, axis=0)).max(axis=1)) < 12
    edge = inside & ~np.roll(inside, 6, axis=0)
    assert np.abs(np.median(found.skin[edge][:, :3], axis=0) - np.median(colours, axis=0)).max() < 30


def test_what_hangs_on_the_bend_by_more_than_two_hundredths_is_in_doubt():
    """A curled sheet looks like that too. Of a phone's usual bend no more is said than of none."""
    strong = seen(0, 0.0, 0.08)[1]
    assert not strong.is_sure and any("curled" in why and "mm then" in why for why in strong.why)
    assert any("curled" in why for why in strong.of_camera)  # in a second photograph it is as curled
    assert not any("curled" in why for why in seen(0, 0.0, 0.012)[1].why)


def test_a_height_is_solved_by_two_pictures_through_it():
    jar = Thing(disc(80), (215, 40), height=60, colour=(150, 70, 30))
    pair = [
        Photograph(through_a_lens(photograph(Shot(jar, tilt=24, walked=walked, distance=640, aim=(30, 0), size=(1600, 1200))), -0.04))
        for walked in (-30.0, 60.0)
    ]
    both = measure_both(*pair)[0]
    assert both.height_mm == pytest.approx(60, abs=1.0) and (both.width_mm, both.depth_mm) == pytest.approx((80, 80), abs=1.0)
