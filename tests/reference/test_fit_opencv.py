"""The camera that `fit` finds, judged by OpenCV's projection of the solids' own points, with the pose built from the conventions."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from tests.reference.test_projection_opencv import opencv_frame_fractions
from tests.support.scenes import picture, scene_value
from tideflat.core.errors import FieldError
from tideflat.core.formats.scene_writer import camera_value
from tideflat.core.frame.fit import fit, room_in

CASES = [
    ({"elevation": 90}, ("p1", "p2"), "feed", 0.8),
    ({"elevation": 45, "azimuth": 20, "lens": {"focal_length": 35, "min_focus": 280}}, ("p1", "p2", "p4"), "feed", 0.6),
    ({"elevation": 25, "roll": 4}, ("p1",), "feed", 0.5),
    ({"elevation": 5, "aim": [450, 300, 90]}, ("p4", "p1", "p7"), None, 0.9),
    ({"elevation": 60, "orientation": "portrait", "lens": {"focal_length": 35, "min_focus": 200}}, ("p1", "p3", "p8"), "feed", 0.95),
    ({"elevation": 70, "lens": {"focal_length": 40, "min_focus": None, "pupil_ratio": 0.6}}, ("p1", "p2"), "feed", 0.7),
    ({"elevation": 40, "lens": {"focal_length": 24, "min_focus": 200, "distortion": [-0.08, 0.01, 0, 0, 0]}}, ("p2", "p4"), "feed", 0.8),
]


def seen_by_opencv(camera: dict, shown, group) -> np.ndarray:
    """(u0, v0, u1, v1) of finely sampled edges of the things, the pupil put where its formula says."""
    points = []
    around = np.linspace(0, 2 * np.pi, 4000)
    for i in group:
        body = shown.bodies[i]
        points += [body.circles[k, 0] + np.outer(np.cos(around), body.circles[k, 1]) + np.outer(np.sin(around), body.circles[k, 2]) for k in range(len(body.circles))]
        points += list(body.parts) if not len(body.circles) else []
    lens = camera["lens"]
    f, ratio = lens["focal_length"], lens["pupil_ratio"]
    m = f / (camera["distance"] - f)
    # OpenCV is given a camera whose place is the pupil and whose c is f (1 + m / P): that of a P = 1 lens of the same c / depth there.
    pupil = camera["distance"] + f * (1 / ratio - 1)
    c = f * (1 + m / ratio)
    equal = {**camera, "distance": pupil, "lens": {**lens, "focal_length": 1 / (1 / pupil + 1 / c)}}
    uv = opencv_frame_fractions(equal, np.concatenate(points))
    if lens["distortion"]:
        view = shown.view
        straight = (uv - 0.5) / view.scale
        k1, k2 = lens["distortion"][:2]
        r2 = (straight**2).sum(axis=1, keepdims=True)
        uv = straight * (1 + k1 * r2 + k2 * r2**2) * view.scale + 0.5
    return np.array([*uv.min(axis=0), *uv.max(axis=0)])


@pytest.mark.parametrize(("camera", "group", "crop", "share"), CASES)
def test_the_group_is_framed_to_two_thousandths_of_the_frame(camera, group, crop, share):
    now = picture(scene_value(**camera))
    found = fit(now, group, share, crop)
    assert found.reason is None
    assert found.share == pytest.approx(share, abs=1e-5)
    there = now.through(found.camera)
    left, top, right, bottom = room_in(now, crop)
    box = seen_by_opencv(camera_value(found.camera), there, group)
    assert (box[0] + box[2]) / 2 == pytest.approx((left + right) / 2, abs=0.002)
    assert (box[1] + box[3]) / 2 == pytest.approx((top + bottom) / 2, abs=0.002)
    assert max((box[2] - box[0]) / (right - left), (box[3] - box[1]) / (bottom - top)) == pytest.approx(share, abs=0.002)
    kept = ("sensor", "orientation", "lens", "aperture", "elevation", "azimuth", "roll", "focus", "circle_of_confusion")
    assert all(getattr(found.camera, key) == getattr(now.setup.camera, key) for key in kept)
    depths = [d for i in group for d in there.silhouettes[i].depth]
    at = float((np.array(found.camera.aim) - there.view.position) @ there.view.forward)
    assert min(depths) <= at <= max(depths)


def test_a_crop_is_filled_beside_its_words():
    now = picture(scene_value())
    crop = now.crops[0]
    left, top, right, bottom = room_in(now, "feed")
    assert (left, right, bottom) == pytest.approx((crop.box[0], crop.box[2], crop.box[3]))
    assert top == pytest.approx(crop.copy_box[3])


def low_room(ceiling: float, **camera):
    value = scene_value(**camera)
    value["room"]["ceiling_height"] = ceiling
    return picture(value)


def test_a_long_lens_under_a_low_ceiling_says_why_and_the_nearest_answer():
    """200 mm, straight down, 2.3 m: impossible for the whole set; the camera that is told can be, and what is told of it is true."""
    now = low_room(2300, elevation=90, lens={"focal_length": 200, "min_focus": 1200}, distance=1500)
    found = fit(now, ("p1",), 0.5, "feed")
    assert found.code == "rig.ceiling" and "ceiling" in found.reason
    there = now.through(found.camera)
    assert 0 <= there.ceiling_clearance < 5
    assert found.share > 0.5
    assert "floor" in found.reason
    shorter = float(found.reason.split("a lens of ")[1].split(" mm")[0])
    lens = dataclasses.replace(now.setup.camera.lens, min_focus=None)
    for focal, fits in ((shorter - 1, True), (shorter + 3, False)):
        tried = now.through(dataclasses.replace(now.setup.camera, lens=dataclasses.replace(lens, focal_length=focal)))
        assert (fit(tried, ("p1",), 0.5, "feed").reason is None) is fits


def test_too_near_to_focus_says_the_nearest_that_can():
    now = picture(scene_value(elevation=45))
    found = fit(now, ("p1",), 1.0, "feed")
    assert found.code == "lens.min_focus" and found.share < 1
    nearest = now.through(found.camera).view.lens.distance
    assert nearest == pytest.approx(393.3, abs=2)  # D = 450, f = 50: u = D/2 + sqrt(D^2/4 - f D) = 393.2
    box = seen_by_opencv(camera_value(found.camera), now.through(found.camera), ("p1",))
    room = room_in(now, "feed")
    assert (box[0] + box[2]) / 2 == pytest.approx((room[0] + room[2]) / 2, abs=0.002)


@pytest.mark.parametrize(("group", "crop", "path"), [((), "feed", "group"), (("nobody",), "feed", "group"), (("p1",), "banner", "crop")])
def test_what_is_not_there_cannot_be_framed(group, crop, path):
    with pytest.raises(FieldError) as raised:
        fit(picture(scene_value()), group, 0.8, crop)
    assert raised.value.path == path


def test_another_angle_may_be_asked_for():
    found = fit(picture(scene_value()), ("p1", "p2"), 0.7, "feed", elevation=30)
    assert found.camera.elevation == 30 and found.reason is None
