"""Projection against OpenCV's projectPoints, with the pose built from the conventions and not from our axes."""

from __future__ import annotations

import itertools

import cv2
import numpy as np
import pytest

from tests.support.scenes import SENSORS, picture, scene_value

POINTS = np.array([[430, 310, 0], [430, 310, 95], [10, 20, 0], [880, 590, 40], [300, 500, 120], [600, 100, 15]], dtype=float)
CASES = list(itertools.product((90, 62, 45, 33, 25, 5), SENSORS, ("landscape", "portrait")))
TWISTS = [(0, 0, None), (30, 0, None), (-20, 4, None), (0, -7, [450, 420, 30]), (75, 0, None)]


def opencv_frame_fractions(camera: dict, points: np.ndarray) -> np.ndarray:
    """OpenCV's own axes: x right, y down, z forward. Roll clockwise seen from behind turns its x and y the same way."""
    a, e, r = np.radians([camera["azimuth"], camera["elevation"], camera["roll"]])
    position = np.array(camera["aim"]) + camera["distance"] * np.array([np.sin(a) * np.cos(e), -np.cos(a) * np.cos(e), np.sin(e)])
    # Walk: turn the table by -azimuth, tip by the elevation, then roll; composed with cv2.Rodrigues only.
    about = lambda axis, angle: cv2.Rodrigues(np.array(axis, dtype=float) * angle)[0]  # noqa: E731
    level = np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]])  # looking to +y, level
    rotation = about([0, 0, 1], -r) @ about([1, 0, 0], e) @ level @ about([0, 0, 1], -a)
    f = camera["lens"]["focal_length"]
    forward = rotation[2]
    u = camera["distance"] if camera["focus"] is None else float((np.array(camera["focus"]["point"]) - position) @ forward)
    c = f * (1 + f / (u - f))
    wide, high = camera["sensor"]["width"], camera["sensor"]["height"]
    if camera["orientation"] == "portrait":
        wide, high = high, wide
    matrix = np.array([[c / wide, 0, 0.5], [0, c / high, 0.5], [0, 0, 1]])
    projected, _ = cv2.projectPoints(points, cv2.Rodrigues(rotation)[0], -rotation @ position, matrix, None)
    return projected[:, 0]


@pytest.mark.parametrize(("elevation", "sensor", "orientation"), CASES)
@pytest.mark.parametrize(("azimuth", "roll", "focus"), TWISTS)
def test_points_agree_with_opencv_to_a_hundred_thousandth(elevation, sensor, orientation, azimuth, roll, focus):
    value = scene_value(
        elevation=elevation,
        sensor=SENSORS[sensor],
        orientation=orientation,
        azimuth=azimuth,
        roll=roll,
        focus=None if focus is None else {"point": focus},
        lens={"focal_length": 35, "min_focus": 200},
        aim=[450, 300, 40],
    )
    ours = picture(value).view.project(POINTS)
    expected = opencv_frame_fractions(value["setups"][0]["camera"], POINTS)
    in_front = ours[:, 2] > 1
    assert in_front.sum() >= 4
    assert np.abs(ours[in_front, :2] - expected[in_front]).max() < 1e-5


@pytest.mark.parametrize("elevation", [90, 62, 45, 25])
def test_box_of_a_cylinder_agrees_with_ten_thousand_points_through_opencv(elevation):
    value = scene_value(elevation=elevation, azimuth=15, roll=3)
    around = np.linspace(0, 2 * np.pi, 10_000)
    rings = [np.column_stack([430 + 38 * np.cos(around), 310 + 38 * np.sin(around), np.full(10_000, z)]) for z in (0, 95)]
    expected = opencv_frame_fractions(value["setups"][0]["camera"], np.concatenate(rings))
    box = picture(value).things["p1"].box
    assert np.abs(np.array(box) - [*expected.min(axis=0), *expected.max(axis=0)]).max() < 1e-6


@pytest.mark.parametrize("elevation", [90, 45, 5])
def test_box_of_a_sphere_agrees_with_points_of_its_skin_through_opencv(elevation):
    value = scene_value(elevation=elevation, aim=[450, 300, 60])
    t, p = np.meshgrid(np.linspace(0, 2 * np.pi, 700), np.linspace(0, np.pi, 700))
    skin = np.array([330, 440, 37]) + 37 * np.stack([np.cos(t) * np.sin(p), np.sin(t) * np.sin(p), np.cos(p)], axis=-1).reshape(-1, 3)
    expected = opencv_frame_fractions(value["setups"][0]["camera"], skin)
    assert np.abs(np.array(picture(value).things["p5"].box) - [*expected.min(axis=0), *expected.max(axis=0)]).max() < 1e-5


def test_coverage_corners_agree_with_findhomography():
    """Four table points seen by OpenCV give the homography; its inverse takes the frame's corners to the table."""
    value = scene_value(elevation=62, azimuth=20, roll=-3)
    table = np.array([[100, 100], [800, 120], [750, 550], [150, 500]], dtype=float)
    seen = opencv_frame_fractions(value["setups"][0]["camera"], np.column_stack([table, np.zeros(4)]))
    homography, _ = cv2.findHomography(seen, table)
    expected = cv2.perspectiveTransform(np.array([[[0.0, 0], [1, 0], [1, 1], [0, 1]]]), homography)[0]
    assert np.abs(np.array(picture(value).coverage_corners) - expected).max() < 0.05


def test_a_corner_above_the_horizon_is_none_not_a_point_behind():
    corners = picture(scene_value(elevation=5, aim=[450, 300, 60])).coverage_corners
    assert corners[0] is None and corners[1] is None
    assert corners[2] is not None and corners[3] is not None


def test_top_projects_above_base_and_positive_azimuth_shows_the_right_side():
    """A flipped handedness passes many numbers; these it cannot."""
    view = picture(scene_value(elevation=45)).view
    base, top = view.project(np.array([[430, 310, 0], [430, 310, 95]]))
    assert top[1] < base[1]
    left, right = view.project(np.array([[300, 300, 0], [600, 300, 0]]))
    assert left[0] < right[0]
    walked = picture(scene_value(elevation=45, azimuth=40)).view
    assert walked.position[0] > 450
    right_face, left_face = walked.project(np.array([[500, 300, 40], [400, 300, 40]]))[:, 2]
    assert right_face < left_face  # the thing's right side is the nearer one


def test_positive_roll_takes_the_right_hand_side_of_the_camera_down():
    view = picture(scene_value(elevation=0, roll=10, aim=[450, 300, 100])).view
    assert view.right[2] < 0
    level = view.project(np.array([[350, 300, 100], [550, 300, 100]]))
    assert level[1, 1] < level[0, 1]  # the picture turns the other way: its right side rises
