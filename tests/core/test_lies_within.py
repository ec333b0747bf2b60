"""Whether two outlines lie within a distance of each other, against Shapely's Hausdorff distance of their edges."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from shapely.affinity import translate

from tideflat.core.vision.along_ring import lies_within


def jagged(seed: int, count: int) -> shapely.Polygon:
    rng = np.random.default_rng(seed)
    at = np.linspace(0, 2 * np.pi, count, endpoint=False)
    far = rng.uniform(30, 50, count)
    return shapely.Polygon(np.column_stack([far * np.cos(at), far * np.sin(at)]))


@pytest.mark.parametrize("seed", range(12))
def test_it_is_hausdorffs_distance_at_both_sides_of_it(seed):
    first, second = jagged(seed, 40), translate(jagged(seed + 100, 17 + seed), 3.0, -2.0)
    apart = first.exterior.hausdorff_distance(second.exterior)
    assert lies_within(first, second, apart + 1e-6) and not lies_within(first, second, apart - 1e-6)
    assert lies_within(second, first, apart + 1e-6) and not lies_within(second, first, apart - 1e-6)


@pytest.mark.parametrize(("apart", "is_within"), [(14.9, False), (15.1, True)])
def test_what_only_one_of_them_has_counts_and_what_lies_inside_is_not_within(apart, is_within):
    """A handle of 15 mm that one has; and how far a smaller outline lies inside of the edge of a larger."""
    plain = shapely.box(0, 0, 60, 40)
    handle = plain.union(shapely.box(60, 18, 75, 22))
    assert lies_within(plain, handle, apart) == lies_within(handle, plain, apart) == is_within
    inner = shapely.box(15, 15, 45, 25)  # each of its corners lies 15 mm from the outer edge, in its inside
    assert lies_within(inner, plain, apart) is False
    assert lies_within(inner, plain, 15 * np.sqrt(2) + 0.1) is True
