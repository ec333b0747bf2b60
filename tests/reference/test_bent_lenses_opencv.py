"""Shifted and distorting lenses against OpenCV's camera model (cv2.projectPoints, cv2.undistortPoints), which states the same terms."""

from __future__ import annotations

import copy

import cv2
import numpy as np
import pytest
import shapely

from tests.support.scenes import bare_value, camera_value, picture, scene, scene_value
from tideflat.core.camera.coverage import seen_on_table
from tideflat.core.camera.distortion import Distortion
from tideflat.core.camera.view import view_of
from tideflat.core.drawing.pieces import frame_path
from tideflat.core.drawing.props import prop_pieces
from tideflat.core.errors import FieldError

#: Terms as lenses have them: barrel, pincushion, a moustache, and elements off their axis.
BENDS = [
    (-0.12, 0.03, 0.0, 0.0, 0.0),
    (0.09, 0.0, 0.0, 0.0, 0.0),
    (-0.2, 0.25, 0.001, -0.002, -0.05),
    (0.0, 0.0, 0.004, 0.003, 0.0),
    (-0.15, 0.02, 0.0, 0.0, 0.01),
]
SHIFTS = [(0.0, 0.0), (5.0, -3.0), (-8.0, 11.0)]


def _opencv(camera, view) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """(rotation vector, translation, camera matrix, terms) in OpenCV's axes, x right, y down, and in fractions of the frame."""
    rotation = np.stack([view.right, -view.up, view.forward])
    right, up = camera.lens.shift
    matrix = np.array(
        [
            [view.principal_distance / view.frame_width, 0, 0.5 - right / view.frame_width],
            [0, view.principal_distance / view.frame_height, 0.5 + up / view.frame_height],
            [0, 0, 1],
        ]
    )
    return cv2.Rodrigues(rotation)[0], -rotation @ view.position, matrix, np.array(camera.lens.distortion or np.zeros(5))


def _camera(bend, shift, **changes):
    value = bare_value(lens={"distortion": list(bend), "shift": list(shift), "focal_length": 35, "min_focus": None}, **changes)
    return scene(value).setups[0].camera


@pytest.mark.parametrize("bend", [(), *BENDS])
@pytest.mark.parametrize("shift", SHIFTS)
@pytest.mark.parametrize(
    "changes", [{}, {"elevation": 40, "azimuth": 25, "roll": 4}, {"elevation": 3, "orientation": "portrait", "distance": 900}]
)
def test_points_of_the_table_fall_where_opencv_puts_them(bend, shift, changes):
    camera = _camera(bend, shift, **changes)
    view = view_of(camera)
    random = np.random.default_rng(5)
    points = np.column_stack([random.uniform(0, 900, 400), random.uniform(0, 600, 400), random.uniform(0, 200, 400)])
    found = view.project(points)
    rvec, tvec, matrix, terms = _opencv(camera, view)
    expected = cv2.projectPoints(points, rvec, tvec, matrix, terms)[0][:, 0]
    inside = (found[:, 2] > 1) & (np.abs(found[:, :2] - 0.5).max(axis=1) < 0.5)
    assert inside.sum() > 40
    assert found[inside, :2] == pytest.approx(expected[inside], abs=1e-9)


@pytest.mark.parametrize("bend", BENDS)
@pytest.mark.parametrize("shift", SHIFTS)
def test_rays_go_back_to_where_the_points_were(bend, shift):
    camera = _camera(bend, shift, elevation=50, azimuth=-20)
    view = view_of(camera)
    places = np.stack(np.meshgrid(np.linspace(0, 1, 9), np.linspace(0, 1, 7)), axis=-1).reshape(-1, 2)
    rays = view.rays(places)
    assert view.project(view.position + 700 * rays)[:, :2] == pytest.approx(places, abs=1e-8)
    _, _, matrix, terms = _opencv(camera, view)
    many = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 200, 1e-12)
    expected = cv2.undistortPoints(places[:, None], matrix, terms, None, None, None, many)[:, 0]
    in_axes = np.stack([rays @ view.right, -rays @ view.up], axis=1)
    assert in_axes == pytest.approx(expected, abs=1e-6)
    assert np.array([view.ray(*p) for p in places]) == pytest.approx(rays)


@pytest.mark.parametrize("bend", BENDS)
def test_a_silhouette_is_the_hull_of_the_thing_as_the_lens_bends_it(bend):
    value = scene_value(lens={"distortion": list(bend), "focal_length": 35, "min_focus": None}, elevation=35, distance=800)
    seen = picture(value)
    rvec, tvec, matrix, terms = _opencv(seen.setup.camera, seen.view)
    for i, body in seen.bodies.items():
        silhouette = seen.silhouettes[i]
        if not body.parts or body.local.outline is not None or not shapely.box(0.02, 0.02, 0.98, 0.98).covers(silhouette.outline):
            continue
        dense = []
        for part in body.parts:  # points all over the edges between corners
            few = part[:: max(1, len(part) // 48)]
            a, b = few[:, None], few[None]
            dense.append((a + np.linspace(0, 1, 9)[:, None, None, None] * (b - a)).reshape(-1, 3))
        outline = shapely.union_all(
            [shapely.convex_hull(shapely.multipoints(cv2.projectPoints(p, rvec, tvec, matrix, terms)[0][:, 0])) for p in dense]
        )
        apart = shapely.symmetric_difference(outline, silhouette.outline).area / outline.area
        assert apart < 0.03, (i, apart)  # a hull of bent points fills what a bent edge leaves hollow
        assert silhouette.box == pytest.approx(outline.bounds, abs=2e-3)


@pytest.mark.parametrize("bend", [(-0.15, 0.0, 0.0, 0.0, 0.0), (0.12, 0.0, 0.0, 0.0, 0.0)])
def test_what_is_seen_of_the_table_is_bounded_by_the_rays_of_the_frames_border(bend):
    seen = picture(bare_value(lens={"distortion": list(bend), "focal_length": 35, "min_focus": None}))
    border = [(u, v) for u in np.linspace(0, 1, 33) for v in (0.0, 1.0)] + [(u, v) for u in (0.0, 1.0) for v in np.linspace(0, 1, 33)]
    met = np.array([seen.view.on_plane(u, v) for u, v in border])
    polygon = seen_on_table(seen.view)
    assert polygon.min(axis=0) == pytest.approx(met.min(axis=0), abs=0.5)
    assert polygon.max(axis=0) == pytest.approx(met.max(axis=0), abs=0.5)


@pytest.mark.parametrize("k1", [-0.15, 0.12])
def test_what_a_bent_frame_sees_of_the_table_ends_where_it_is_told_to_and_at_the_horizon_nowhere(k1):
    lens = {"distortion": [k1, 0, 0, 0, 0], "focal_length": 35, "min_focus": None}
    above = picture(bare_value(lens=lens)).view
    whole, cut = seen_on_table(above), seen_on_table(above, y_max=400.0)
    assert cut[:, 1].max() == pytest.approx(400.0) and cut[:, 0].min() == pytest.approx(whole[:, 0].min(), abs=0.5)
    assert cut[:, 1].min() == pytest.approx(whole[:, 1].min())
    low = picture(bare_value(lens=lens, elevation=8, distance=900)).view
    assert seen_on_table(low)[:, 1].max() > 1e5
    plain = picture(bare_value(lens={"focal_length": 35, "min_focus": None}, elevation=8, distance=900)).view
    near, near_plain = (seen_on_table(v, y_max=600.0)[:, 1].min() for v in (low, plain))
    assert near == pytest.approx(near_plain, rel=0.2) and seen_on_table(low, y_max=600.0)[:, 1].max() == pytest.approx(600.0)


def test_a_lens_shifted_up_shows_more_of_what_is_above_and_right_of_what_is_right():
    plain, shifted = (view_of(_camera((), shift)) for shift in ((0.0, 0.0), (6.0, 4.0)))
    (left, top), (other_left, other_top) = plain.on_plane(0, 0), shifted.on_plane(0, 0)
    per_mm = (1100 - 35) / 35  # of the table for one mm on the sensor
    assert other_left - left == pytest.approx(6 * per_mm) and other_top - top == pytest.approx(4 * per_mm)
    assert (shifted.position == plain.position).all()


def test_a_drawn_edge_bows_with_the_lens():
    value = scene_value(lens={"distortion": [-0.15, 0, 0, 0, 0], "focal_length": 35, "min_focus": None}, distance=700)
    value["placements"] = [{"id": "p2", "prop": "board", "x": 200, "y": 150}]
    seen = picture(value)
    (path,) = frame_path(prop_pieces(seen.bodies["p2"], seen.props["p2"], (0.0, 0.0, 700.0))[0], seen.view)
    assert len(path) > 20
    drawn = shapely.Polygon(path)
    assert shapely.symmetric_difference(drawn, seen.silhouettes["p2"].outline).area < 1e-4 * drawn.area


def test_far_outside_the_reach_of_the_terms_nothing_comes_back_into_the_frame():
    bend = Distortion((-0.3, 0.0, 0.0, 0.0, 0.0))
    assert bend.reach == pytest.approx((1 / 0.9) ** 0.5)
    out = np.array([[r, 0.0] for r in np.linspace(0.01, 50, 4000)])
    assert (np.diff(bend.bent(out)[:, 0]) > 0).all()


@pytest.mark.parametrize(
    ("terms", "is_read"),
    [
        ([-0.3, 0, 0, 0, 0], True),
        ([-6, 0, 0, 0, 0], False),
        ([0.1, 0.2], False),
        ([1, 2, 3, 4, "5"], False),
        ([-101, 0, 0, 0, 0], False),
        ([], True),
    ],
)
def test_terms_that_fold_the_frame_or_are_none_are_refused_by_path(terms, is_read):
    value = bare_value(lens={"distortion": terms, "focal_length": 35, "min_focus": None})
    if is_read:
        assert scene(value).setups[0].camera.lens.distortion == tuple(terms)
    else:
        with pytest.raises(FieldError, match=r"setups\[0\]\.camera\.lens\.distortion"):
            scene(value)


@pytest.mark.parametrize(
    ("key", "value"), [("tilt", 45.5), ("tilt", -1), ("tilt_toward", 361), ("shift", [1]), ("shift", [101, 0]), ("image_circle", 0.5), ("image_circle", -3)]
)
def test_what_a_lens_cannot_be_is_refused_by_path(key, value):
    with pytest.raises(FieldError, match=rf"lens\.{key}"):
        scene(bare_value(lens={key: value}))


def test_by_default_a_lens_bends_and_moves_nothing():
    lens = scene(bare_value()).setups[0].camera.lens
    assert (lens.distortion, lens.tilt, lens.tilt_toward, lens.shift, lens.image_circle) == ((), 0, 0, (0, 0), None)
    view = view_of(scene(bare_value()).setups[0].camera)
    assert view.centre == (0.5, 0.5) and view.distortion is None
    all_nought = copy.deepcopy(camera_value())
    all_nought["lens"]["distortion"] = [0, 0, 0, 0, 0]
    assert view_of(scene({**bare_value(), "setups": [{"name": "main", "camera": all_nought}]}).setups[0].camera).distortion is None
