"""Pictures of a surface carried on over gaps and made to repeat, against exhaustive search and patterns of known period."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest

from tideflat.core.vision.quilting import closed_cut, filled, least_cut, repeating


def _checks(height: int, width: int, period: int, turn: bool = False) -> np.ndarray:
    y, x = np.indices((height, width))
    on = ((x % period < period / 2) ^ (y % period < period / 2)) if turn is False else x % period < period / 2
    return np.repeat(np.where(on, 0.8, 0.3)[..., None], 3, axis=2).astype(np.float32)


def _ways(rows: int, columns: int):
    for way in product(range(columns), repeat=rows):
        if all(abs(a - b) <= 1 for a, b in zip(way, way[1:], strict=False)):
            yield way


@pytest.mark.parametrize("seed", range(8))
def test_a_cut_costs_least_of_all_ways(seed: int) -> None:
    cost = np.random.default_rng(seed).random((6, 4))
    least = min(sum(cost[row, column] for row, column in enumerate(way)) for way in _ways(6, 4))
    way = least_cut(cost)
    assert sum(cost[row, column] for row, column in enumerate(way)) == pytest.approx(least)
    assert np.abs(np.diff(way)).max() <= 1


@pytest.mark.parametrize("seed", range(8))
def test_a_closed_cut_ends_where_it_began_and_is_the_best_that_does_so_from_there(seed: int) -> None:
    cost = np.random.default_rng(seed).random((7, 4))
    way = closed_cut(cost)
    assert way[0] == way[-1]
    assert np.abs(np.diff(way)).max() <= 1
    from_there = [w for w in _ways(7, 4) if w[0] == w[-1] == way[0]]
    least = min(sum(cost[row, column] for row, column in enumerate(w)) for w in from_there)
    assert sum(cost[row, column] for row, column in enumerate(way)) == pytest.approx(least)


@pytest.mark.parametrize("period", [37, 48, 61])
def test_a_pattern_repeats_at_whole_periods(period: int) -> None:
    tile = repeating(_checks(300, 420, period))
    assert tile.shape[0] % period in (0, 1, period - 1)
    assert tile.shape[1] % period in (0, 1, period - 1)
    assert min(tile.shape[0] / 300, tile.shape[1] / 420) >= 0.5


@pytest.mark.parametrize("size", [(61, 97), (120, 121), (1041, 317), (200, 120)])
def test_a_picture_of_any_size_repeats(size: tuple[int, int]) -> None:
    rough = np.random.default_rng(2).random((*size, 3)).astype(np.float32)
    tile = repeating(rough)
    assert all(0.5 * whole <= left < whole for whole, left in zip(size, tile.shape[:2], strict=True))


def test_over_both_seams_the_steps_are_those_of_the_grain() -> None:
    random = np.random.default_rng(5)
    rough = random.random((320, 440, 3)).astype(np.float32)
    tile = repeating(rough)
    inside = [np.abs(np.diff(tile, axis=axis)).mean() for axis in (0, 1)]
    over = [np.abs(tile[-1] - tile[0]).mean(), np.abs(tile[:, -1] - tile[:, 0]).mean()]
    assert over[0] == pytest.approx(inside[0], rel=0.15)
    assert over[1] == pytest.approx(inside[1], rel=0.15)
    # and the grain is as strong along the cut as elsewhere: nothing was faded over
    assert tile[:, :40].std() == pytest.approx(tile[:, 80:200].std(), rel=0.1)


def test_a_gap_in_checks_is_filled_with_checks_in_step() -> None:
    whole = _checks(360, 480, 48)
    gap = np.zeros((360, 480), bool)
    gap[110:240, 150:330] = True
    with_gap = np.where(gap[..., None], np.float32(0.0), whole)
    done = filled(with_gap, gap, ~gap)
    assert done is not None
    assert np.array_equal(done[~gap][:100], whole[~gap][:100])
    assert float((np.abs(done - whole).max(axis=2) > 0.1)[gap].mean()) < 0.03


def test_what_is_filled_is_only_taken_from_the_surface() -> None:
    picture = np.full((200, 260, 3), 0.4, np.float32)
    picture[:, 180:] = 0.9  # something else lies there
    gap = np.zeros((200, 260), bool)
    gap[60:120, 60:120] = True
    picture[gap] = 0.0
    surface = np.zeros_like(gap)
    surface[:, :180] = True
    done = filled(picture, gap, surface)
    assert done is not None and done[gap] == pytest.approx(0.4, abs=0.001)


def test_nothing_open_leaves_the_picture_as_it_is() -> None:
    picture = np.random.default_rng(1).random((60, 80, 3)).astype(np.float32)
    assert filled(picture, np.zeros((60, 80), bool), np.ones((60, 80), bool)) is picture


@pytest.mark.parametrize(("apart", "is_filled"), [(20, False), (60, True)])
def test_a_surface_cut_up_into_crumbs_fills_nothing(apart: int, is_filled: bool) -> None:
    picture = np.random.default_rng(1).random((400, 500, 3)).astype(np.float32)
    gap = np.zeros((400, 500), bool)
    gap[::apart, :] = gap[:, ::apart] = gap[100:220, 150:300] = True
    assert (filled(picture, gap, ~gap) is not None) == is_filled
