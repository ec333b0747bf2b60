"""The entrance pupil and the hinge rule against worked cases, and against rays traced through a thin lens and its stop.

Formulas: S. F. Ray, *Applied Photographic Optics* (pupil magnification); H. M. Merklinger, *Focusing the View Camera* (hinge rule). The
traced rays use only the law of the thin lens (slope' = slope - height / f) and straight lines.
"""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.camera import optics
from tideflat.core.camera.lens import focused, thin
from tideflat.core.model import Lens, Sensor
from tideflat.core.report import evaluation

FULL = Sensor(36.0, 24.0, 6000, 4000)


def looking(pupil_ratio: float, **camera):
    """Straight down on the table's middle from 200 mm with 100 mm: life size."""
    lens = {"focal_length": 100, "min_focus": None, "max_aperture": 2.8, "min_aperture": 32, "pupil_ratio": pupil_ratio}
    return picture(scene_value(lens={**lens, **camera.pop("lens", {})}, distance=200, elevation=90, aim=[450, 300, 0], **camera))


@pytest.mark.parametrize(("ratio", "pupil_from_aim", "c"), [(1, 200, 200), (2, 150, 150), (0.5, 300, 300), (0.8, 225, 225)])
def test_the_pupil_stands_off_the_principal_point_by_its_ratio(ratio, pupil_from_aim, c):
    """By hand, f = 100, m = 1: f (1/m + 1/P) from the plane of focus, c = f (1 + m / P); the sensor stays 200 + 200 from the aim."""
    found = looking(ratio)
    told = evaluation(found.whole, with_remedies=False)["setups"]["main"]["camera"]
    assert told["position"] == pytest.approx([450, 300, pupil_from_aim])
    assert told["principal_distance"] == pytest.approx(c)
    assert told["sensor_to_aim"] == pytest.approx(400)
    assert told["coverage"]["width_at_aim"] == pytest.approx(36)


@pytest.mark.parametrize(("ratio", "near", "far"), [(1.0, 199.0446, 200.9646), (2.0, 199.2834, 200.7235), (0.5, 198.5669, 301.4469 - 100)])
def test_depth_of_field_by_hand_at_life_size(ratio, near, far):
    """f 100, N 16, c 0.03, m 1: N c / (f m) = 0.0048; the pupil's 200, 150 or 300 mm over 1 +- 0.0048, told from the principal point."""
    zone = optics.depth_of_field(thin(100, 200, ratio), 16, 0.03)
    assert zone.near == pytest.approx(near, abs=2e-4)
    assert zone.far == pytest.approx(far, abs=2e-3)
    assert zone.effective_aperture == pytest.approx(16 * (1 + 1 / ratio))


def through(points: np.ndarray, f: float, stop: float, at_stop: np.ndarray, sensor: float) -> np.ndarray:
    """Heights (n,) on the sensor of rays from points (n, 2: height, distance before the lens) through heights (n,) of the stop.

    stop: its distance behind the lens, negative before it. The ray's height on the lens is found by what it does there.
    """
    height, distance = points[:, 0], points[:, 1]
    if stop < 0:
        slope = (at_stop - height) / (distance + stop)
        on_lens = height + slope * distance
    else:  # at_stop = on_lens + stop ((on_lens - height) / distance - on_lens / f)
        on_lens = (at_stop + stop * height / distance) / (1 + stop / distance - stop / f)
        slope = (on_lens - height) / distance
    return on_lens + sensor * (slope - on_lens / f)


@pytest.mark.parametrize("stop", [30.0, 12.0, -25.0, -8.0])
@pytest.mark.parametrize(("f", "m"), [(100, 1.0), (60, 0.4), (50, 0.05)])
def test_places_and_blur_agree_with_rays_traced_through_lens_and_stop(f, m, stop):
    """The stop of a thin lens behind it is its exit pupil, before it its entrance pupil; each gives the ratio P."""
    ratio = 1 - stop / f if stop > 0 else f / (f + stop)
    u = f * (1 + 1 / m)
    lens = focused(Lens(f, pupil_ratio=ratio), FULL, u)
    sensor = f * (1 + m)
    points = np.array([(3.0, u), (8.0, u * 0.7), (-12.0, u * 1.8), (5.0, u * 0.93)])
    middle = np.zeros(len(points))
    chief = through(points, f, stop, middle, sensor)
    ours = -points[:, 0] * lens.principal_distance / (points[:, 1] + lens.pupil_behind)
    assert ours == pytest.approx(chief, rel=1e-9)

    n = 5.6
    entrance = f / n
    rim = entrance / 2 * (ratio if stop > 0 else 1.0)  # the stop's own radius
    blurs = np.abs(through(points, f, stop, middle + rim, sensor) - through(points, f, stop, middle - rim, sensor))
    assert [optics.blur_mm(lens, n, z) for z in points[:, 1]] == pytest.approx(list(blurs), rel=1e-9, abs=1e-12)

    zone = optics.depth_of_field(lens, n, 0.03)
    for z in (zone.near, zone.far):
        edges = [through(np.array([(0.0, z)]), f, stop, np.array([r]), sensor)[0] for r in (rim, -rim)]
        assert abs(edges[0] - edges[1]) == pytest.approx(0.03, rel=1e-9)


def test_the_frame_shows_what_the_pupil_sees():
    """A thing 60 mm above the plane of focus, through a pupil at 150 and at 300 mm: larger where the pupil is nearer."""
    sizes = {p: looking(p).view.project(np.array([[455.0, 300.0, 60.0]]))[0, 0] - 0.5 for p in (2.0, 1.0, 0.5)}
    assert sizes[2.0] == pytest.approx(5 * 150 / (150 - 60) / 36)
    assert sizes[1.0] == pytest.approx(5 * 200 / (200 - 60) / 36)
    assert sizes[0.5] == pytest.approx(5 * 300 / (300 - 60) / 36)


def test_a_pupil_leaves_body_and_ceiling_where_they_are():
    clear = {p: looking(p).ceiling_clearance for p in (1.0, 2.0, 0.5)}
    assert clear[1.0] == pytest.approx(2400 - 740 - 200 - 200 - 35)
    assert clear[2.0] == pytest.approx(clear[1.0]) == pytest.approx(clear[0.5])


# -- tilt


@pytest.mark.parametrize(("f", "tilt", "u"), [(90, 6.0, 900.0), (45, 8.0, 500.0), (24, 3.0, 1500.0)])
def test_what_is_sharp_of_a_tilted_lens_goes_through_the_hinge(f, tilt, u):
    """Hinge rule, worked from the thin lens alone: each point of the plane through the focus and the hinge is imaged on the sensor's plane."""
    lens = focused(Lens(f, tilt=tilt), FULL, u)
    t = np.radians(tilt)
    hinge = f / np.sin(t)
    for q in (-200.0, -50.0, 0.0, 30.0, 120.0):
        z = u * (1 - q / hinge)
        along = z * np.cos(t) + q * np.sin(t)  # distance along the lens's own axis
        scale = f / (along - f)  # the image of a point lies so many times as far on its line through the lens
        assert z * scale == pytest.approx(lens.principal_distance, rel=1e-9)


def test_a_lens_tilted_forward_lays_the_sharp_plane_along_the_table():
    """From 400 mm above the table, level, 24 mm: tilted down by asin(24 / 400) the hinge lies in the table, which is sharp all along once the
    plane of focus crosses the axis endlessly far; a camera looking down a little is focused on the table where its axis meets it."""
    lens = {"focal_length": 24, "min_focus": None, "max_aperture": 2.8, "tilt_toward": 270}
    down = np.radians(20.0)
    height = 400.0
    distance = height / np.sin(down)
    # The plane through the lens and square to the axis meets the table at height / cos(down) from the lens: there the hinge must lie.
    tilt = np.degrees(np.arcsin(24 * np.cos(down) / height))
    shown = picture(scene_value(lens={**lens, "tilt": float(tilt)}, elevation=20, distance=float(distance), aim=[450, 300, 0], azimuth=0))
    table = np.array([[450.0, y, 0.0] for y in (-300, 0, 150, 300, 600)] + [[200.0, 450.0, 0.0]])
    assert shown.view.sharp_depths(table) == pytest.approx(np.full(6, distance), rel=1e-9)
    assert all(optics.blur_mm(shown.view.lens, 2.8, float(d)) < 1e-9 for d in shown.view.sharp_depths(table))
    straight = picture(scene_value(lens=lens, elevation=20, distance=float(distance), aim=[450, 300, 0]))
    assert optics.blur_mm(straight.view.lens, 2.8, float(straight.view.sharp_depths(table[:1])[0])) > 0.02


@pytest.mark.parametrize(("tilt", "toward", "offset"), [(5, 90, (0, 0, 1)), (5, 270, (0, 0, -1)), (5, 0, (1, 0, 0)), (5, 180, (-1, 0, 0))])
def test_the_hinge_lies_where_the_lens_leans(tilt, toward, offset):
    lens = {"focal_length": 50, "min_focus": None, "tilt": tilt, "tilt_toward": toward}
    hinge = picture(scene_value(lens=lens, elevation=0, azimuth=0, aim=[450, 300, 100])).view.hinge
    assert hinge is not None
    assert hinge.toward == pytest.approx(np.array(offset, dtype=float), abs=1e-12)
    assert hinge.distance == pytest.approx(50 / np.sin(np.radians(5)), rel=0.02)
