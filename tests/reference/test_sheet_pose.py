"""The pose of a sheet from four corners, against OpenCV's solvePnP (iterative: the same least squares) and cameras placed by hand."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from scipy.optimize import least_squares

from tideflat.core.vision.pose import pose_of

FOCAL_PX, SIZE = 3000.0, (4000, 3000)
FOCAL_35 = FOCAL_PX / np.hypot(*SIZE) * np.hypot(36, 24)
A4 = (297.0, 210.0)


def corners_seen(tilt, around, distance, aside):
    """(corners in pixels, the eye): looking at a place ``aside`` of the sheet's middle from ``distance``, ``tilt`` from straight above."""
    e, a = np.radians([tilt, around])
    at = np.array([*aside, 0.0])
    eye = at + distance * np.array([np.sin(e) * np.cos(a), np.sin(e) * np.sin(a), np.cos(e)])
    away = (at - eye) / distance
    right = np.cross(away, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    down = np.cross(away, right)
    wide, deep = A4
    points = np.array([[0, deep, 0], [wide, deep, 0], [wide, 0, 0], [0, 0, 0]]) - [wide / 2, deep / 2, 0] - eye
    return np.column_stack([points @ right, points @ down]) / (points @ away)[:, None] * FOCAL_PX + np.array(SIZE) / 2, eye


def cameras(count, seed):
    rng = np.random.default_rng(seed)
    for _ in range(count):
        yield corners_seen(rng.uniform(12, 45), rng.uniform(0, 360), rng.uniform(500, 900), rng.uniform(-60, 60, 2))


@pytest.mark.parametrize("focal", [FOCAL_35, None])
def test_corners_without_error_give_the_eye_back(focal):
    for corners, eye in cameras(20, 1):
        assert pose_of(corners, A4, SIZE, focal).eye == pytest.approx(eye, abs=0.05)


def test_on_whole_pixels_the_eye_is_where_least_squares_puts_it():
    """A whole pixel is up to half a pixel off. Least squares by OpenCV's projection, from the true pose, with the focal length held near what
    was noted (24 mm may be 23.5 to 24.5), end at the same place."""
    wide, deep = A4
    plane = np.array([[0, deep, 0], [wide, deep, 0], [wide, 0, 0], [0, 0, 0]]) - [wide / 2, deep / 2, 0]
    off = []
    for corners, eye in cameras(40, 2):
        whole = np.rint(corners)
        found = pose_of(whole, A4, SIZE, FOCAL_35)
        camera = np.array([[FOCAL_PX, 0, SIZE[0] / 2], [0, FOCAL_PX, SIZE[1] / 2], [0, 0, 1]])
        _, spin, shift = cv2.solvePnP(plane, whole, camera, None, flags=cv2.SOLVEPNP_ITERATIVE)

        def miss(v: np.ndarray, whole: np.ndarray = whole) -> np.ndarray:
            focal = FOCAL_PX * np.exp(v[6])
            inner = np.array([[focal, 0, SIZE[0] / 2], [0, focal, SIZE[1] / 2], [0, 0, 1]])
            there = cv2.projectPoints(plane, v[:3], v[3:6], inner, None)[0][:, 0]
            return np.append((there - whole).ravel(), 0.4 / 0.03 * v[6])

        v = least_squares(miss, [*spin[:, 0], *shift[:, 0], 0.0], x_scale="jac").x
        assert found.eye == pytest.approx((-cv2.Rodrigues(v[:3])[0].T @ v[3:6]).ravel(), abs=0.1)
        off.append(np.linalg.norm(found.eye - eye))
    assert np.median(off) < 3.0


@pytest.mark.parametrize("noted", [FOCAL_35 / 1.028, FOCAL_35 * 1.028])
def test_what_a_camera_notes_is_near_and_the_perspective_settles_it(noted):
    """Phones write whole millimetres: from 24 mm that is up to 2 per cent, which is as much of the lens's height."""
    held, told = [], []
    for corners, eye in cameras(20, 5):
        pose = pose_of(corners, A4, SIZE, noted)
        held.append(abs(pose.eye[2] / eye[2] - 1))
        told.append(abs(pose.focal_px / FOCAL_PX - 1))
        assert pose.focal_from == "camera" and pose.skew < 0.004
    assert np.median(held) < 0.003 and np.median(told) < 0.003
    seen, eye = corners_seen(0.05, 0, 600, (0, 0))
    assert pose_of(seen, A4, SIZE, noted).focal_px == pytest.approx(noted / FOCAL_35 * FOCAL_PX, rel=2e-3)  # from straight above nothing tells


def test_where_the_perspective_tells_the_focal_length_it_is_refined_too():
    off = [np.linalg.norm(pose_of(np.rint(c), A4, SIZE, None).eye - eye) for c, eye in cameras(40, 3)]
    assert np.median(off) < 2.2


def test_a_sheet_of_another_size_is_told_by_its_skew_and_does_no_harm():
    corners, _ = corners_seen(30, 40, 700, (0, 0))
    assert pose_of(corners, (216.0, 279.0), SIZE, FOCAL_35).skew > 0.03 > pose_of(corners, A4, SIZE, FOCAL_35).skew
