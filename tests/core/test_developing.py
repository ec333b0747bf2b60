"""Linear light to a picture: by its table as by its formula."""

from __future__ import annotations

import numpy as np
import pytest

from tideflat.core.render.developing import developed, shown_of


def test_the_table_says_what_the_formula_says() -> None:
    light = np.concatenate([np.linspace(0, 0.01, 2001), np.linspace(0, 1.2, 4001), np.geomspace(1, 100, 2001)])
    off = np.abs(developed(light) - shown_of(light) * 255)
    assert off.max() < 0.6  # half a step is the rounding
    assert developed(np.array([-1.0, 0.0])).tolist() == [0, 0]
    assert developed(np.array([1e9])).tolist() == [255]


@pytest.mark.parametrize(("light", "byte"), [(0.0021404, 7), (0.3185468, 153), (0.6038274, 204)])
def test_under_the_knee_it_is_srgb(light: float, byte: int) -> None:
    """IEC 61966-2-1: 0.6 and 0.8 of the encoded range lie at linear 0.3185468 and 0.6038274; below 0.0031308 it is 12.92 times."""
    assert developed(np.full((2, 3, 3), light)).tolist() == np.full((2, 3, 3), byte).tolist()


def test_over_white_there_is_still_form() -> None:
    steps = developed(np.array([0.8, 1.0, 1.5, 2.5, 5.0])).astype(int)
    assert (np.diff(steps) > 0).all() and steps[-1] < 255
