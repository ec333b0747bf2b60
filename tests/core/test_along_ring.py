"""Places along a closed outline."""

import numpy as np
import pytest
import shapely

from tideflat.core.vision.along_ring import counter_clockwise, places_along

SQUARE = shapely.Polygon([(0, 0), (0, 10), (10, 10), (10, 0)])


def test_shares_of_its_length_are_counted_counter_clockwise_from_its_first_corner() -> None:
    places = places_along(counter_clockwise(SQUARE), np.array([0, 0.125, 0.25, 0.5, 0.9, 1]))
    assert places.tolist() == [pytest.approx(p) for p in ([0, 0], [5, 0], [10, 0], [10, 10], [0, 4], [0, 0])]


def test_they_are_those_that_shapely_gives() -> None:
    shape = shapely.Polygon(shapely.Point(3, 4).buffer(20).exterior.coords[:40])
    shares = np.linspace(0, 1, 97, endpoint=False)
    ring = counter_clockwise(shape)
    theirs = shapely.get_coordinates(shapely.line_interpolate_point(shapely.LinearRing(ring), shares, normalized=True))
    assert np.abs(places_along(ring, shares) - theirs).max() == pytest.approx(0, abs=1e-9)


def test_holes_are_left_out() -> None:
    holed = SQUARE.difference(shapely.box(4, 4, 6, 6))
    assert len(counter_clockwise(holed)) == 5
