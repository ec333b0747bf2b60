"""Every document that the reader takes is evaluated to the end, in finite numbers, however large or small its values are."""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Iterator
from typing import Any

import pytest

from tests.support.scenes import scene_value
from tideflat.core.errors import DocumentError
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.report import evaluation

EXTREMES = (0, 0.1, 0.2, 0.5, 1, 2, 5, 30, 45, 90, 300, 1000, 5000, 20_000, 1e5, -1e5, -5, 1e-4, -90, 180)


def numbers_in(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    if isinstance(value, dict | list):
        for key, below in value.items() if isinstance(value, dict) else enumerate(value):
            yield from numbers_in(below, (*path, key))
    elif isinstance(value, int | float) and not isinstance(value, bool) and path != ("version",):
        yield path


@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("elevation", [90, 45, 5, -5])
def test_extreme_values_are_refused_by_path_or_computed_in_finite_numbers(elevation):
    hand = random.Random(elevation)
    taken = 0
    for _ in range(70):
        value = copy.deepcopy(scene_value(elevation=elevation))
        for path in hand.sample(list(numbers_in(value)), hand.randint(1, 3)):
            target = value
            for step in path[:-1]:
                target = target[step]
            target[path[-1]] = hand.choice(EXTREMES)
        try:
            scene = scene_from_value(value)
        except DocumentError as error:
            assert ": must " in str(error)
            continue
        json.dumps(evaluation(scene, with_remedies=False), allow_nan=False)
        taken += 1
    assert taken > 20
