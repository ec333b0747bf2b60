"""Things of every hue on tables of every kind are told, and to size; what is no lighter in every colour is no mirrored lamp."""

from __future__ import annotations

import colorsys

import cv2
import numpy as np
import pytest
import shapely

from tests.core import test_things_seen as plane
from tests.core.test_things_seen import BOX, disc, drawn, found_from, sides_of
from tideflat.core.vision.reflections import but_reflections
from tideflat.core.vision.things_seen import things_seen

TABLES = {"brown": (124, 92, 66), "slate": (60, 64, 68), "limestone": (196, 190, 177), "green": (108, 122, 92)}
#: Hue, in turns of a circle, vividness and lightness; grey; and a blue whose channels' logarithms on brown wood add up to nothing.
COLOURS = [*((h / 6, 0.75 if k % 2 else 0.45, 0.7 if k % 2 else 0.85) for k, h in enumerate(range(6))), (0.0, 0.0, 0.5), (0.6, 0.6, 0.588)]
LAID = shapely.Polygon([(150, -40), (250, -50), (250, 0), (190, 5), (185, 50), (150, 45)])


LAID_SIDES = sorted(cv2.minAreaRect(np.array(LAID.exterior.coords, dtype=np.float32))[1])
#: Every other one, as on a board of checks; and the blue one on brown.
CASES = [(table, n) for k, table in enumerate(TABLES) for n in range(len(COLOURS)) if (n + k) % 2 == 0 or (table, n) == ("brown", 7)]


@pytest.mark.parametrize(("table", "number"), CASES)
def test_a_thing_of_any_hue_is_told_from_any_table(table: str, number: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(plane, "TABLE", TABLES[table])
    colour = tuple(int(255 * v) for v in colorsys.hsv_to_rgb(*COLOURS[number]))
    shape, sides = (disc(200, 0, 76), [76, 76]) if number % 3 else (LAID, LAID_SIDES)
    (thing, *_) = things_seen(drawn((shape, colour)), found_from(), BOX, 0.0)
    assert sides_of(thing) == pytest.approx(sides, abs=1.0)
    assert not thing.doubts


@pytest.mark.parametrize(("least", "is_kept"), [(0.68, True), (0.72, False)])
def test_what_a_table_mirrors_is_darker_in_no_colour(least: float, is_kept: bool) -> None:
    mask = np.zeros((60, 80), bool)
    mask[20:40, 20:60] = True
    light, step = np.where(mask, 1.6, 1.0).astype(np.float32), np.zeros(mask.shape, np.float32)
    kept = but_reflections(mask, np.ones_like(mask), light, np.where(mask, least, 1.0).astype(np.float32), step, [step] * 3, 2.0)
    assert bool(kept.any()) == is_kept
