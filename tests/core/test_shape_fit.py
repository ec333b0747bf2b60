"""Plain solids fitted to what a lens sees of them: silhouettes by points of the solid thrown on the plane, with shadows hung on them."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tideflat.core.vision.pose import Pose, homography
from tideflat.core.vision.shape_fit import fitted

EYE = np.array([40.0, -230.0, 420.0])


def pose(eye=EYE) -> Pose:
    corners = np.array([[0, 297], [210, 297], [210, 0], [0, 0]], dtype=float)
    return Pose(homography(corners, corners), np.array(eye, dtype=float), 800.0, "camera", 30.0, 0.0, np.eye(3))


def thrown(points: np.ndarray, eye=EYE) -> shapely.Polygon:
    """Where lines from the lens through points (n, 3) meet the plane, their hull."""
    eye = np.array(eye)
    t = eye[2] / (eye[2] - points[:, 2])
    return shapely.MultiPoint(eye[:2] + (points[:, :2] - eye[:2]) * t[:, None]).convex_hull


def ring(x, y, wide, z, deep=None, turn=0.0):
    t = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    p = np.column_stack([np.cos(t) * wide / 2, np.sin(t) * (deep or wide) / 2])
    c, s = np.cos(turn), np.sin(turn)
    return np.column_stack([p @ np.array([[c, s], [-s, c]]) + [x, y], np.full(400, z)])


def box(x, y, wide, deep, turn, high):
    c, s = np.cos(turn), np.sin(turn)
    flat = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * [wide / 2, deep / 2] @ np.array([[c, s], [-s, c]]) + [x, y]
    return np.concatenate([np.column_stack([flat, np.full(4, z)]) for z in (0, high)])


@pytest.mark.parametrize("high", [0, 8, 95])
@pytest.mark.parametrize("eye", [EYE, [0.0, 0, 500], [-180.0, -60, 300]])
def test_a_disc_of_any_height_from_anywhere(high, eye):
    seen = thrown(np.concatenate([ring(120, 60, 76, 0), ring(120, 60, 76, high)]), eye)
    found = fitted(seen, pose(eye), high)
    assert found is not None and found.kind == "disc" and found.values[0] == pytest.approx(76, abs=0.25)
    assert found.footprint.centroid.distance(shapely.Point(120, 60)) < 0.3 and found.on == 1 and found.error_mm < 0.1


@pytest.mark.parametrize("high", [0, 7, 110])
@pytest.mark.parametrize("turn", [0.0, 0.4, 1.2])
def test_a_box(high, turn):
    found = fitted(thrown(box(-60, 80, 112, 72, turn, high)), pose(), high)
    assert found is not None and found.kind == "rectangle"
    assert sorted(found.values) == pytest.approx([72, 112], abs=0.3)


def test_an_oval_a_taper_and_a_ball():
    oval = fitted(thrown(np.concatenate([ring(50, 90, 180, z, 116, 0.5) for z in (0, 30)])), pose(), 30)
    assert oval is not None and oval.kind == "oval" and sorted(oval.values) == pytest.approx([116, 180], abs=0.4)
    cup = fitted(thrown(np.concatenate([ring(90, 40, 58, 0), ring(90, 40, 84, 72)])), pose(), 72)
    assert cup is not None and cup.kind == "taper" and cup.values == pytest.approx((84, 58), abs=0.6)
    assert cup.footprint.area == pytest.approx(np.pi * 42**2, rel=0.02)  # from above its rim is seen
    rng = np.random.default_rng(2)
    d = rng.normal(size=(20_000, 3))
    ball = fitted(thrown(np.array([-40, 120, 37.0]) + 37 * d / np.linalg.norm(d, axis=1)[:, None]), pose(), 74)
    assert ball is not None and ball.kind == "ball" and ball.values[0] == pytest.approx(74, abs=0.8)


def test_a_shadow_on_one_side_is_left_out_of_what_is_round():
    disc = thrown(np.concatenate([ring(120, 60, 76, z) for z in (0, 8)]))
    shadow = shapely.MultiPoint([(140, 36), (166, 20), (172, 34), (150, 52)]).convex_hull
    seen = disc.union(shadow)
    found = fitted(seen, pose(), 8)
    assert found is not None and found.kind == "disc" and found.values[0] == pytest.approx(76, abs=0.6)
    assert found.on < 1 and found.settles_edges == (found.on >= 0.8 and found.error_mm <= 0.4)


def test_what_is_none_of_them_is_none():
    notched = shapely.Polygon([(-60, -45), (60, -45), (60, 0), (5, 0), (5, 45), (-60, 45)])
    assert fitted(notched, pose(), 0) is None
    t = np.linspace(0, np.pi, 40)
    upper = np.column_stack([-np.cos(t) * 48, np.sin(t) ** 1.3 * 21])
    assert fitted(shapely.Polygon(np.concatenate([upper, upper[-2:0:-1] * [1, -1]])), pose(), 0) is None
    knife = shapely.Polygon([(-95, -9), (10, -11), (95, -5), (95, 4), (0, 7), (-95, 7)])
    assert fitted(knife, pose(), 0) is None
