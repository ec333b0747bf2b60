"""What the kit can do, on the body that is meant and over a zoom's whole range: by hand."""

from __future__ import annotations

import pytest

from tideflat.core.model import Sensor
from tideflat.web.stores.kit_facts import TABLE_MM, reach
from tideflat.web.stores.models import StoreLens, StoreSupport

FULL, HALF = Sensor(36, 24, 6000, 4000), Sensor(23.5, 15.6, 6240, 4160)


def lens(**more):
    return StoreLens(**{"name": "l", "focal_length_mm": 50, "max_aperture": 2, "min_aperture": 22, "min_focus_mm": 450, **more})


def test_the_nearest_frame_is_of_the_body_that_is_meant():
    """At D = 450, f = 50: u = 392.705, m = 50 / 342.705 = 0.14590: 36 / m = 246.7 mm, and 23.5 / m = 161.1 mm."""
    assert reach(lens(), FULL, ()).nearest_mm == pytest.approx(246.75, abs=0.05)
    assert reach(lens(), HALF, ()).nearest_mm == pytest.approx(161.07, abs=0.05)


def test_a_set_of_600_by_400_needs_a_height_by_the_sensor():
    """m = 0.06: u = 50 (1 + 1 / 0.06) = 883.3; on 23.5 by 15.6 m = 0.039: 1332.1."""
    assert reach(lens(), FULL, ()).above_mm == (pytest.approx(883.33, abs=0.01),) * 2
    assert reach(lens(), HALF, ()).above_mm[0] == pytest.approx(1332.05, abs=0.01)


def test_a_zoom_is_told_over_its_whole_range():
    """24 to 70 at D = 380, M = 0.25 at 70: there f(0.06) = 70 - 36.8 x 0.06 = 67.79, u = 1197.7; at 24 the lens moves as a whole: 424."""
    zoom = reach(lens(focal_length_mm=24, longest_mm=70, min_focus_mm=380, max_magnification=0.25), FULL, ())
    assert zoom.above_mm == (pytest.approx(424, abs=0.1), pytest.approx(1197.66, abs=0.1))
    assert (zoom.nearest_mm, zoom.nearest_at) == (pytest.approx(144), 70)


@pytest.mark.parametrize(("low", "high", "holds"), [(1000, 1100, False), (1000, 1165, True), (1900, 2400, True), (1939, 2400, False)])
def test_a_support_holds_it_where_one_of_its_lengths_reaches(low, high, holds):
    """The lens of that zoom stands 424 to 1197.7 over a table of 740: 1164 to 1937.7 over the floor."""
    assert TABLE_MM == 740
    support = StoreSupport(name="arm", lowest_mm=low, highest_mm=high, inverts=True)
    zoom = lens(focal_length_mm=24, longest_mm=70, min_focus_mm=380, max_magnification=0.25)
    assert bool(reach(zoom, FULL, (support,)).reached_by) is holds


def test_the_page_tells_it_of_the_body_that_is_chosen(ada, studio):
    from tideflat.web.stores.models import CameraBody

    half = CameraBody.objects.get(studio=studio, name="half-frame body")
    full, other = ada.get("/stores/kit/").content.decode(), ada.get("/stores/kit/", {"body": half.pk}).content.decode()
    assert "883 mm" in full and "1\u202f332 mm" in other and "1\u202f332 mm" not in full
