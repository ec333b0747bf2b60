"""What beside a thing is shown as its shadow: what is darker than the ground and begins at it, no further than a shadow of its height reaches."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tideflat.core.vision.ground import Ground
from tideflat.core.vision.look import Look
from tideflat.core.vision.rectified import Flat
from tideflat.core.vision.shadow_shown import shadows_of

PER_MM = 3.0
WIDE, HIGH = 200, 150
THING = shapely.box(-20, -15, 20, 15)


def look(*shaded: tuple[shapely.Polygon, float]) -> Look:
    """A grey table, 200 by 150 mm about its middle, of which places keep a share of the light."""
    shape = int(HIGH * PER_MM), int(WIDE * PER_MM)
    flat = Flat(np.full((*shape, 3), 128, np.uint8), np.ones(shape, bool), -WIDE / 2, HIGH / 2, PER_MM)
    left = np.ones(shape, np.float32)
    for region, share in shaded:
        left[flat.inside(region)] = share
    none = np.zeros(shape, bool)
    return Look(flat, Ground(none, none, left, np.zeros(shape, np.float32)), none)


def shown(seen: Look, things: list[shapely.Polygon] | None = None, height_mm: float = 10.0) -> list[shapely.geometry.base.BaseGeometry]:
    return [shapely.union_all(parts) for parts in shadows_of(seen, things or [THING], height_mm)]


def test_a_shadow_is_shown_where_it_lies_and_not_under_its_thing():
    true = shapely.box(0, -40, 35, 0)
    (found,) = shown(look((true, 0.5)))
    beside = true.difference(THING)
    assert found.symmetric_difference(beside).area < 0.06 * beside.area
    assert found.intersection(THING).area < 5


@pytest.mark.parametrize(("share", "is_shown"), [(0.82, True), (0.86, False)])
def test_what_is_hardly_darker_is_the_ground(share, is_shown):
    (found,) = shown(look((shapely.box(0, -40, 35, -10), share)))
    assert (found.area > 500) is is_shown


@pytest.mark.parametrize(("gap", "is_shown"), [(2.0, True), (4.5, False)])
def test_it_begins_at_its_thing(gap, is_shown):
    (found,) = shown(look((shapely.box(-10, -50, 10, -15 - gap), 0.5)))
    assert (found.area > 500) is is_shown


@pytest.mark.parametrize(("wide", "is_shown"), [(3.5, True), (1.0, False)])
def test_what_is_narrow_is_the_grain(wide, is_shown):
    (found,) = shown(look((shapely.box(20, -10, 60, -10 + wide), 0.5)))
    assert (found.area > 60) is is_shown


def test_it_ends_where_no_shadow_of_that_height_reaches():
    strip = look((shapely.box(20, -8, 100, 8), 0.4))
    for height, reach in ((2.0, 11.0), (10.0, 43.0), (0.0, 80.0)):
        (found,) = shown(strip, height_mm=height)
        assert found.bounds[2] - 20 == pytest.approx(reach, abs=1.0)


def test_each_thing_has_its_own_and_none_is_told_twice():
    other = shapely.box(40, -15, 70, 15)
    first, second = shown(look((shapely.box(10, -30, 20, -10), 0.5), (shapely.box(50, -35, 60, -10), 0.5)), [THING, other])
    assert first.bounds[2] < 30 < 45 < second.bounds[0]
    between = look((shapely.box(15, -10, 45, 10), 0.5))
    first, second = shown(between, [THING, other])
    assert first.area > 300 and second.area == 0


def test_without_a_shadow_nothing_is_shown():
    assert shadows_of(look(), [THING], 10.0) == [()]
    assert shadows_of(look(), [], 10.0) == []
    assert shadows_of(look((shapely.box(15, -10, 45, 10), 0.5)), [shapely.Polygon()], 10.0) == [()]
