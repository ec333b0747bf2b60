"""Things of any outline are moved to the edges of their tops and feet, and no further than those two can be taken for each other."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from shapely.affinity import scale, translate

from tests.core.test_straight_sided import pictured, upright
from tests.core.test_things_seen import PAPER, RED, block, disc, found_from, thrown
from tideflat.core.vision import bent_sided as module
from tideflat.core.vision.bent_sided import bent_sided

ROUND = np.linspace(0, 2 * np.pi, 90, endpoint=False)
HEART = shapely.Polygon(
    2.8 * np.column_stack([16 * np.sin(ROUND) ** 3, 13 * np.cos(ROUND) - 5 * np.cos(2 * ROUND) - 2 * np.cos(3 * ROUND) - np.cos(4 * ROUND)])
)
PEAR = shapely.Polygon(np.column_stack([48 * np.cos(ROUND), np.sin(ROUND) * (32 - 12 * np.cos(ROUND) - 4 * np.cos(2 * ROUND))]))
KIDNEY = scale(disc(0, 0, 100), 1.0, 0.7).difference(disc(0, 45, 50)).buffer(-4).buffer(8).buffer(-4)
SHAPES = {"heart": HEART, "pear": PEAR, "kidney": KIDNEY}


def moved(foot, begun, height, *more):
    return bent_sided(begun, pictured(*more, *upright(foot, height)), found_from().pose, height)


@pytest.mark.parametrize("name", SHAPES)
@pytest.mark.parametrize("height", [5.0, 7.0])
def test_near_sides_that_end_where_the_top_does_are_moved_to_the_foot(name, height):
    foot = translate(SHAPES[name], -5, 20)
    lit_only = thrown(foot, height).intersection(foot)
    assert lit_only.hausdorff_distance(foot) > 2.0
    found = moved(foot, lit_only, height)
    assert found is not None and found.symmetric_difference(foot).area < 0.4 * foot.length
    assert found.hausdorff_distance(foot) < 0.8 * lit_only.hausdorff_distance(foot)


@pytest.mark.parametrize("name", SHAPES)
@pytest.mark.parametrize(("off", "is_moved"), [(1.2, True), (2.6, False)])
def test_what_lies_flat_is_moved_by_no_more_than_an_outline_is_off(name, off, is_moved):
    foot = translate(SHAPES[name], -5, 20)
    found = moved(foot, foot.buffer(off), 0.0)
    assert (found is not None) == is_moved
    assert found is None or found.symmetric_difference(foot).area < 0.2 * foot.length


def test_a_low_things_hard_shadow_is_no_side_of_it():
    foot = block(0, 20, 180, 16).buffer(3)
    shadow = (translate(foot, 0.5, -2.6), (96, 94, 90))
    assert moved(foot, foot, 1.5, shadow) is None


def test_an_outline_that_is_seen_as_well_or_not_at_all_stays_as_it_is():
    assert moved(HEART, HEART, 0.0) is None
    assert bent_sided(translate(HEART, 230, 0), pictured(), found_from().pose, 0.0) is None
    assert bent_sided(shapely.Polygon(), pictured(), found_from().pose, 0.0) is None


@pytest.mark.parametrize(("more", "is_moved"), [(0.02, True), (0.9, False)])
def test_so_much_more_must_be_seen(monkeypatch, more, is_moved):
    monkeypatch.setattr(module, "_MORE", more)
    assert (moved(PEAR, PEAR.buffer(0.9), 0.0) is not None) == is_moved


def test_what_is_hardly_seen_stays_as_it_is_though_more_is_seen_elsewhere():
    """Half of its outline shows no edge at all."""
    half = PEAR.intersection(shapely.box(-60, -60, 0, 60))
    right = PEAR.difference(half).buffer(0.5)
    picture = pictured((half, RED), (right, PAPER))
    assert bent_sided(PEAR.buffer(1.0), picture, found_from().pose, 0.0) is None
    assert bent_sided(PEAR.buffer(1.0), pictured((PEAR, RED)), found_from().pose, 0.0) is not None


def test_neighbours_lie_alike_unless_much_more_is_seen_otherwise():
    score = np.zeros((40, 5))
    score[:, 2] = 0.3
    score[10, 4] = 1.0  # one place alone says otherwise
    score[20:32, 4] = 1.0
    found = module._agreed(score)
    assert (np.delete(found, np.arange(20, 32)) == 2).all() and (found[20:32] == 4).all()


def test_a_ring_has_no_end():
    score = np.zeros((30, 3))
    score[:, 1] = 0.1
    score[[27, 28, 29, 0, 1, 2, 3], 2] = 0.6
    for turn in range(30):
        assert np.array_equal(module._agreed(np.roll(score, turn, axis=0)), np.roll(module._agreed(score), turn))
    assert (module._agreed(score)[[27, 28, 29, 0, 1, 2, 3]] == 2).all()
