"""What is remembered is right, bounded in bytes, and forgotten when it is not asked for."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tideflat.core.remember import bytes_of, counted, forget_all, held_by_caches, remembered


def _held(name: str):
    return next(h for h in held_by_caches() if h.name.endswith(name))


def test_nothing_is_worked_out_twice_while_it_is_held():
    asked = []

    @remembered(1)
    def doubled(value: int) -> int:
        asked.append(value)
        return value * 2

    assert [doubled(3), doubled(3), doubled(4)] == [6, 6, 8] and asked == [3, 4]
    forget_all()
    assert doubled(3) == 6 and asked == [3, 4, 3]


def test_it_never_holds_more_than_its_bound_and_keeps_what_is_asked_for_again_and_again():
    asked = []

    @remembered(1)
    def row(k: int) -> np.ndarray:
        asked.append(k)
        return np.full(2_000, k)  # 16 kB

    for k in range(400):
        assert row(k)[0] == k
        row(0)
        assert _held("row").size <= 1_000_000
    assert asked.count(0) == 1
    assert _held("row").entries < 70
    row(1)
    assert asked.count(1) == 2


def test_a_function_that_gives_nothing_is_remembered_too():
    asked = []

    @remembered(0.01)
    def nothing(k: int) -> None:
        asked.append(k)

    nothing(1), nothing(1)
    assert asked == [1]


def test_an_error_is_not_remembered():
    @remembered(1)
    def failing(k: int) -> int:
        raise ValueError(k)

    for _ in range(2):
        with pytest.raises(ValueError):
            failing(1)
    assert _held("failing").entries == 0


@pytest.mark.parametrize(
    ("value", "low", "high"),
    [
        (np.zeros((100, 3)), 2_400, 2_800),
        (shapely.Point(0, 0).buffer(1, quad_segs=25), 2_000, 4_000),
        ("x" * 5_000, 5_000, 5_200),
        ((np.zeros(1_000), [np.zeros(1_000)], {"a": np.zeros(1_000)}), 24_000, 26_000),
        (None, 1, 100),
        (1.5, 1, 100),
    ],
)
def test_sizes_are_about_what_values_take(value, low, high):
    assert low <= bytes_of(value) <= high


def test_what_another_cache_holds_counts_once():
    class Shared:
        is_remembered = True

    assert bytes_of((Shared(), Shared())) < 300


def test_caches_of_small_values_are_listed_by_count():
    @counted(3)
    def plus(k: int) -> int:
        return k + 1

    for k in range(9):
        plus(k)
    held = _held("plus")
    assert (held.entries, held.most, held.is_in_bytes) == (3, 3, False)


def test_every_cache_of_the_program_has_its_home_here():
    """No other module keeps answers by itself."""
    from pathlib import Path

    root = Path(__file__).parents[2] / "src/tideflat"
    strays = [str(p.relative_to(root)) for p in root.rglob("*.py") if "lru_cache" in p.read_text() and p.name != "remember.py"]
    assert strays == []
