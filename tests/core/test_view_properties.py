"""Properties of the projection: back-projection is its inverse on the table, coverage is what projects into the frame."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.support.scenes import SENSORS, picture, scene, scene_value
from tideflat.core.camera.coverage import backdrop_seen, highest_point_mm, seen_on_table
from tideflat.core.camera.view import View, view_of
from tideflat.core.errors import OpticsError
from tideflat.core.model import Backdrop, Camera

cameras = st.builds(
    lambda elevation, azimuth, roll, distance, sensor, orientation, x, y, z: scene(
        scene_value(elevation=elevation, azimuth=azimuth, roll=roll, distance=distance, sensor=SENSORS[sensor], orientation=orientation,
                    aim=[x, y, z], lens={"min_focus": None})
    ).setups[0].camera,
    st.floats(1, 90), st.floats(-180, 180), st.floats(-30, 30), st.floats(300, 4000), st.sampled_from(sorted(SENSORS)),
    st.sampled_from(["landscape", "portrait"]), st.floats(0, 900), st.floats(0, 600), st.floats(0, 200),
)  # fmt: skip


@settings(max_examples=120, deadline=None)
@given(camera=cameras, x=st.floats(-300, 1200), y=st.floats(-300, 900), z=st.floats(0, 250))
def test_projecting_and_back_projecting_is_identity_on_any_level_plane(camera: Camera, x, y, z):
    view = view_of(camera)
    u, v, depth = view.project(np.array([x, y, z]))
    assume(depth > 20 and abs(u) < 5 and abs(v) < 5 and abs(view.position[2] - z) > 20)
    back = view.on_plane(float(u), float(v), z)
    assert back is not None
    assert back == pytest.approx((x, y), abs=0.01 + 1e-5 * depth**2 / abs(view.position[2] - z))


@settings(max_examples=120, deadline=None)
@given(camera=cameras)
def test_the_axes_are_square_and_the_aim_is_in_the_middle(camera: Camera):
    view = view_of(camera)
    axes = np.stack([view.right, view.up, view.forward])
    assert np.abs(axes @ axes.T - np.eye(3)).max() < 1e-12
    assert np.linalg.det(np.stack([view.right, view.forward, view.up])) == pytest.approx(1)  # right-handed: right, forward, up
    u, v, depth = view.project(np.array(camera.aim))
    assert (u, v, depth) == pytest.approx((0.5, 0.5, camera.distance))


@settings(max_examples=120, deadline=None)
@given(camera=cameras, x=st.floats(-1500, 2500), y=st.floats(-1500, 2500))
def test_a_point_of_the_table_is_covered_exactly_when_it_projects_into_the_frame(camera: Camera, x, y):
    view = view_of(camera)
    u, v, depth = view.project(np.array([x, y, 0.0]))
    edge = min(abs(u), abs(1 - u), abs(v), abs(1 - v))
    assume(depth > 5 and edge > 0.003)
    covered = seen_on_table(view)
    inside = len(covered) >= 3 and shapely.contains_xy(shapely.Polygon(covered), x, y)
    assert bool(inside) == bool(0 < u < 1 and 0 < v < 1)


@settings(max_examples=120, deadline=None)
@given(camera=cameras, u=st.floats(0.001, 0.999), v=st.floats(0.001, 0.999))
def test_what_a_ray_of_the_frame_meets_of_the_backdrops_plane_is_within_what_is_said_to_be_seen(camera: Camera, u, v):
    view = view_of(camera)
    ray = view.ray(u, v)
    t = (700.0 - view.position[1]) / ray[1] if abs(ray[1]) > 1e-6 else -1.0
    x, z = (view.position + t * ray)[[0, 2]]
    seen = backdrop_seen(view, Backdrop("upright", 700, 450, 900, 600, "#808080"))
    if t > 0 and z >= 0 and seen.seen is not None:
        assert seen.seen[0] - 1e-3 <= x <= seen.seen[1] + 1e-3
        assert z <= seen.height_needed + 1e-3


@settings(max_examples=80, deadline=None)
@given(camera=cameras)
def test_sliding_the_backdrop_as_told_leaves_the_least_shortfall(camera: Camera):
    view = view_of(camera)
    backdrop = Backdrop("upright", 700, 300, 1400, 900, "#808080")
    told = backdrop_seen(view, backdrop)
    assume(told.seen is not None)

    def shortfall(slide: float) -> float:
        moved = backdrop_seen(view, Backdrop("upright", 700, 300 + slide, 1400, 900, "#808080"))
        return moved.short_left + moved.short_right

    best = min(shortfall(told.slide + step) for step in (-400, -40, -4, 4, 40, 400))
    assert shortfall(told.slide) <= best + 1e-6


@settings(max_examples=60, deadline=None)
@given(camera=cameras)
def test_the_matrix_is_the_projection(camera: Camera):
    view = view_of(camera)
    points = np.array([[0, 0, 0], [900, 600, 50], [450, 300, 200]], dtype=float)
    rows = np.column_stack([points, np.ones(3)]) @ view.matrix.T
    uvd = view.project(points)
    assert rows[:, 2] == pytest.approx(uvd[:, 2])
    assert rows[:, :2] / rows[:, 2:] == pytest.approx(uvd[:, :2], rel=1e-9, abs=1e-9)


def level_view(**changes) -> tuple[Camera, View]:
    camera = picture(scene_value(**changes)).setup.camera
    return camera, view_of(camera)


def test_the_highest_point_of_an_upright_body_by_hand():
    """Level at z = 200: the back plate's centre is at 200, half of 100 above it; turned upright, half of 140; overhead, the plate itself."""
    assert highest_point_mm(*level_view(elevation=0, aim=[450, 300, 200])) == pytest.approx(250)
    assert highest_point_mm(*level_view(elevation=0, aim=[450, 300, 200], orientation="portrait")) == pytest.approx(270)
    assert highest_point_mm(*level_view()) == pytest.approx(1100 + 50 * (1 + 50 / 1050) + 35)


def test_a_focus_behind_the_lens_or_within_its_focal_length_is_refused_by_name():
    camera = picture(scene_value()).setup.camera
    from dataclasses import replace

    with pytest.raises(OpticsError, match=r"focus\.point: must put the plane of focus further"):
        view_of(replace(camera, focus=(450.0, 300.0, 1090.0)))
    with pytest.raises(OpticsError, match="distance: must put the plane of focus further"):
        view_of(replace(camera, distance=49.0))


def test_a_level_ray_meets_no_level_plane():
    _, view = level_view(elevation=0, aim=[450, 300, 100])
    assert view.on_plane(0.5, 0.5, 0.0) is None
    assert view.on_plane(0.5, 0.2, 0.0) is None  # above the horizon
    assert view.on_plane(0.5, 0.8, 0.0) is not None
