"""Optics that must hold for any lens: limits bracket the focus, inverses invert, stopping down never costs depth."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tideflat.core.camera import lens as lenses
from tideflat.core.camera import optics
from tideflat.core.camera.lens import thin
from tideflat.core.model import Lens, Sensor

FULL = Sensor(36.0, 24.0, 6000, 4000)
focals = st.floats(4, 300)
stops = st.floats(1.2, 32)


@given(f=focals, times=st.floats(1.05, 60), n=stops)
def test_sharpness_brackets_the_plane_of_focus_and_its_limits_are_just_sharp(f, times, n):
    u = f * times
    sharp = optics.depth_of_field(thin(f, u), n, 0.03)
    assert sharp.near < u and (sharp.far is None or sharp.far > u)
    assert optics.blur_mm(thin(f, u), n, sharp.near) == pytest.approx(0.03, rel=1e-6)
    if sharp.far is not None and sharp.far < 1e7:
        assert optics.blur_mm(thin(f, u), n, sharp.far) == pytest.approx(0.03, rel=1e-4)


@given(f=focals, times=st.floats(1.05, 60), n=st.floats(1.2, 30))
def test_stopping_down_never_costs_depth(f, times, n):
    wide, narrow = (optics.depth_of_field(thin(f, f * times), stop, 0.03) for stop in (n, n * 1.2))
    assert narrow.near <= wide.near
    assert narrow.far is None or (wide.far is not None and narrow.far >= wide.far)


@given(f=focals, times=st.floats(1.05, 60), before=st.floats(0.001, 0.3), behind=st.floats(0.001, 0.3))
def test_the_aperture_for_a_depth_holds_just_that_depth(f, times, before, behind):
    u = f * times
    near, far = u * (1 - before), u * (1 + behind)
    n = optics.aperture_for_depth(thin(f, u), near, far, 0.03)
    best = optics.best_aperture(thin(f, u), near, far)
    worst = {stop: max(_blur(f, stop, u, near), _blur(f, stop, u, far)) for stop in (best * 0.98, best, best * 1.02)}
    assert worst[best] <= min(worst.values()) + 1e-12
    if n is None:
        assert worst[best] > 0.03 * (1 - 1e-9)  # not even the best stop holds it
        return
    assume(n > 0.2)
    assert n <= best * (1 + 1e-9)
    sharp = optics.sharpness(thin(f, u), n * (1 + 1e-9), 0.03)
    assert sharp.near <= near * (1 + 1e-6) and (sharp.far is None or sharp.far >= far * (1 - 1e-6))
    less = optics.sharpness(thin(f, u), n * 0.98, 0.03)
    assert less.near > near or (less.far is not None and less.far < far)


def _blur(f, stop, u, z):
    """Ray's two blurs by hand: defocus (f / N) m |z - u| / z, and 2.44 lambda N (1 + m), as the root of the sum of squares."""
    m = f / (u - f)
    return math.hypot(f / stop * m * abs(z - u) / z, 2.44 * 0.00055 * stop * (1 + m))


@given(f=focals, times=st.floats(2.0, 60))
def test_subject_distances_from_sensor_and_lens_invert_each_other(f, times):
    u = f * times
    from_sensor = u + lenses.focused(Lens(f), FULL, u).principal_distance
    assert lenses.object_distance_mm(f, from_sensor) == pytest.approx(u, rel=1e-6)


@given(f=focals, times=st.floats(1.05, 60))
def test_the_thin_lens_equation(f, times):
    """1/f = 1/u + 1/v."""
    u = f * times
    assert 1 / u + 1 / lenses.focused(Lens(f), FULL, u).principal_distance == pytest.approx(1 / f)


@given(extension=st.floats(0.5, 60))
def test_extension_brings_both_ends_of_the_reach_nearer(extension):
    plain = lenses.focus_reach_mm(Lens(50, min_focus=450), FULL)
    longer = lenses.focus_reach_mm(Lens(50, min_focus=450, extension=extension), FULL)
    assert longer[0] < plain[0] and plain[1] is None and longer[1] is not None and longer[1] > longer[0]


def test_a_lens_that_does_not_say_how_near_it_focuses_is_not_judged():
    assert lenses.focus_reach_mm(Lens(50), FULL) == (50, None)
