"""Optics against hand-worked cases (Ray, *Applied Photographic Optics*; Kingslake, *Optics in Photography*: the formulas)."""

from __future__ import annotations

import math

import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.camera import lens as lenses
from tideflat.core.camera import optics
from tideflat.core.camera.lens import thin
from tideflat.core.errors import OpticsError
from tideflat.core.model import Lens, MeasuredField, Sensor

FULL = Sensor(36.0, 24.0, 6000, 4000)


def test_fifty_millimetres_at_1100():
    """m = 50/1050 = 0.047619; c = 52.381; field 36/m = 756; near 1027.5, far 1183.5 for f/5.6 and 0.030005 mm."""
    computed = picture(scene_value())
    assert computed.view.lens.magnification == pytest.approx(0.047619, rel=1e-4)
    assert computed.view.principal_distance == pytest.approx(52.38095, rel=1e-6)
    assert computed.size_at_aim == pytest.approx((756.0, 504.0), rel=1e-9)
    sharp = computed.depth_of_field
    assert (sharp.near, sharp.far) == pytest.approx((1027.49, 1183.52), rel=1e-4)
    assert sharp.circle_of_confusion == pytest.approx(math.sqrt(36**2 + 24**2) / 1442)


def test_one_to_one_with_a_hundred_macro():
    """u = 2 f: m = 1, c = 2 f = 200. Depth at f/16, c 0.03: 2 N c (1+m)/m^2 = 1.92 mm. Effective f/32, Airy 2.44 x 0.00055 x 32."""
    assert lenses.magnification(100, 200) == 1.0
    assert lenses.focused(Lens(100), FULL, 200).principal_distance == 200
    sharp = optics.depth_of_field(thin(100, 200), 16, 0.03)
    assert sharp.total == pytest.approx(1.92, rel=1e-4)
    assert sharp.effective_aperture == 32
    assert sharp.airy_diameter == pytest.approx(0.042944, rel=1e-9)


def test_a_telephoto_pupil_makes_the_bellows_factor_larger():
    """P = 0.5: N (1 + m / P) = 8 (1 + 0.5 / 0.5) = 16."""
    assert optics.effective_aperture(8, 0.5, 0.5) == 16


def test_sharpness_reaches_infinity_from_the_hyperfocal_distance_on():
    """H = f^2/(N c) + f = 24^2/(8 x 0.03) + 24 = 2424; focused there, near = H/2."""
    sharp = optics.depth_of_field(thin(24, 2424.0000001), 8, 0.03)
    assert sharp.far is None and sharp.total is None
    assert sharp.near == pytest.approx(1212, rel=1e-6)


def test_blur_of_a_point_twice_as_far_as_the_focus():
    """Aperture 50/2 = 25 mm, m = 1/19, z = 2 u: 25 x (1/19) x 1/2 = 0.65789 mm."""
    assert optics.blur_mm(thin(50, 1000), 2, 2000) == pytest.approx(0.657895, rel=1e-5)
    assert optics.blur_mm(thin(50, 1000), 2, 1000) == 0


def test_subject_distance_from_the_sensor_plane():
    """D = 450, f = 50: u = 225 + sqrt(50625 - 22500) = 392.705; u + c must give D back."""
    u = lenses.object_distance_mm(50, 450)
    assert u == pytest.approx(392.7051, rel=1e-6)
    assert u + lenses.focused(Lens(50), FULL, u).principal_distance == pytest.approx(450)


def test_internal_focusing_asks_for_the_largest_magnification():
    with pytest.raises(OpticsError, match="max_magnification"):
        lenses.object_distance_mm(100, 300)


def test_measured_field_replaces_the_focal_length():
    """36 mm cover 360 at D = 1331: m = 0.1, f' = 1331 x 0.1 / 1.21 = 110."""
    lens = Lens(focal_length=105, measured=MeasuredField(1331, 360))
    assert lenses.travel_of(lens, FULL).at_infinity == pytest.approx(110)


def test_extension_shifts_both_ends_of_the_focus_reach():
    """50 mm, closest m = 0.146 at D = 450, 12 mm tube: nearest image 62 + 7.295; nothing beyond 50 x 62 / 12 = 258.33 comes sharp."""
    nearest, furthest = lenses.focus_reach_mm(Lens(focal_length=50, min_focus=450, extension=12), FULL)
    assert furthest == pytest.approx(258.3333, rel=1e-5)
    m_closest = 50 / (392.70509831 - 50)
    image = 62 + 50 * m_closest
    assert nearest == pytest.approx(50 * image / (image - 50), rel=1e-6)


def test_field_of_view_and_heights_of_the_demo_camera():
    """atan(18 / 52.381) x 2 = 37.929 degrees; the ceiling at 2400 leaves 2400 - 740 - (1100 + 52.381 + 35) = 472.62."""
    computed = picture(scene_value())
    assert computed.field_of_view_deg()[0] == pytest.approx(37.9292, abs=1e-3)
    assert computed.ceiling_clearance == pytest.approx(472.619, abs=1e-3)


def test_backdrop_at_eye_level_by_similar_triangles():
    """Camera 1100 before y = 300 looks level at z = 200; the backdrop plane is 1400 away: half width 1400 x 18 / 52.381 = 481.09."""
    computed = picture(scene_value(elevation=0, aim=[450, 300, 200]))
    seen = computed.backdrop_seen
    assert seen.seen == pytest.approx((450 - 481.09, 450 + 481.09), abs=0.01)
    assert seen.height_needed == pytest.approx(200 + 1400 * 12 / 52.38095, abs=0.01)
    assert (seen.short_left, seen.short_right) == pytest.approx((31.09, 31.09), abs=0.01)
    assert seen.slide == pytest.approx(0, abs=1e-9)


def test_a_wide_backdrop_off_centre_asks_for_the_shortest_slide():
    value = scene_value(elevation=0, aim=[450, 300, 200])
    value["backdrop"].update(width=1000, x=520)
    seen = picture(value).backdrop_seen
    assert seen.short_left == pytest.approx(51.09, abs=0.01)
    assert seen.slide == pytest.approx(-51.09, abs=0.01)
    value["backdrop"]["x"] = 520 - 51.1
    assert picture(value).backdrop_seen.short_left == 0
