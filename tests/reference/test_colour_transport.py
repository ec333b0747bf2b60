"""The distance of two sets of colours, against cases worked by hand, SciPy's assignment of many equal shares, and the colours themselves."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import linear_sum_assignment, linprog

from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.colour.transport import transport_distance
from tideflat.core.model import Colour
from tideflat.core.palette.seen import colour_distance

LABEL, GLASS, GOLD = "#efe3c8", "#c4621a", "#c9a24e"


def colours(**shares: float) -> tuple[Colour, ...]:
    return tuple(Colour(f"#{key[1:]}", share) for key, share in shares.items())


@pytest.mark.parametrize("count", [2, 3])
def test_a_thing_does_not_differ_from_one_of_the_same_colours(count):
    both = tuple(Colour(h, 1 / count) for h in (LABEL, GLASS, GOLD)[:count])
    assert colour_distance(both, both) == pytest.approx(0, abs=1e-9)
    assert colour_distance(both, both[::-1]) == pytest.approx(0, abs=1e-9)


def test_half_the_share_moved_costs_half_the_difference():
    """75 : 25 against 25 : 75 of the same two: half of the whole changes colour."""
    one, two = colours(cefe3c8=0.75, cc4621a=0.25), colours(cefe3c8=0.25, cc4621a=0.75)
    assert colour_distance(one, two) == pytest.approx(0.5 * difference(LABEL, GLASS))


def test_one_colour_is_as_far_as_the_shares_are_on_the_mean():
    one, two = colours(c4b5052=1.0), colours(cefe3c8=0.3, cc4621a=0.7)
    assert colour_distance(one, two) == pytest.approx(0.3 * difference("#4b5052", LABEL) + 0.7 * difference("#4b5052", GLASS))


def test_no_more_than_the_mean_of_all_pairs_which_it_was():
    one, two = colours(cefe3c8=0.5, cc4621a=0.5), colours(cefe3c8=0.5, c2b241d=0.5)
    assert colour_distance(one, two) == pytest.approx(0.5 * difference(GLASS, "#2b241d"))


@given(st.integers(2, 4), st.integers(2, 4), st.integers(0, 2**31))
def test_it_is_the_cheapest_assignment_of_many_small_equal_shares(n, m, seed):
    """Each set cut in 12 pieces of one colour each: SciPy's Hungarian method pairs the pieces at the least cost."""
    rng = np.random.default_rng(seed)
    costs = rng.uniform(0, 60, (n, m))
    first, second = np.sort(rng.integers(0, n, 12)), np.sort(rng.integers(0, m, 12))
    rows, columns = linear_sum_assignment(costs[first][:, second])
    best = costs[first][:, second][rows, columns].sum() / 12
    shares = [np.bincount(side, minlength=k) / 12 for side, k in ((first, n), (second, m))]
    assert transport_distance(costs, *shares) == pytest.approx(best, abs=1e-9)


@given(st.integers(2, 6), st.integers(2, 6), st.integers(0, 2**31))
def test_it_is_the_least_of_a_linear_programme(n, m, seed):
    """SciPy's solver (HiGHS) of the same transport, with shares of any size, some of them nothing."""
    rng = np.random.default_rng(seed)
    costs = np.round(rng.uniform(0, 60, (n, m)), int(rng.integers(0, 4)))
    first, second = (rng.dirichlet(np.full(k, 0.4)) for k in (n, m))
    constraints = np.vstack([np.kron(np.eye(n), np.ones(m)), np.kron(np.ones(n), np.eye(m))])
    found = linprog(costs.ravel(), A_eq=constraints, b_eq=np.concatenate([first, second]), method="highs")
    assert transport_distance(costs, first, second) == pytest.approx(found.fun, abs=1e-7)
