"""Readings against path tracing (Mitsuba 3), kept in tests/data/light.json by tools/light_reference.py: ten tables with window, lamp, sheet, cards
white and black, low, high and no ceiling; sixty points, shadowed and not, every bounce."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from tests.support.lit import lighting
from tideflat.core.light.falling import LUMINANCE

KEPT = json.loads((Path(__file__).parents[1] / "data/light.json").read_text())["scenes"]


def off_stops() -> np.ndarray:
    found = []
    for kept in KEPT:
        points = np.array(kept["points"])
        lux = (lighting(kept["document"]).falling(points, np.tile([0.0, 0, 1], (len(points), 1))) @ LUMINANCE).sum(axis=0)
        found.append(np.log2(lux / np.array(kept["lux"])))
    return np.concatenate(found)


def test_sixty_points_on_ten_tables() -> None:
    off = np.abs(off_stops())
    assert len(off) == 60
    assert np.median(off) < 0.05  # the issue asks for 0.15
    assert off.max() < 0.4  # and for 0.5
    assert np.percentile(off, 90) < 0.12


def test_one_small_scene_is_rendered_here_too() -> None:
    """The renderer itself, with the first table's points at fewer samples: the kept numbers are its own."""
    pytest.importorskip("mitsuba")
    from tests.support.lit import picture
    from tools import light_reference

    kept = KEPT[0]
    points = np.array(kept["points"])
    usual, light_reference.SAMPLES = light_reference.SAMPLES, 4096
    try:
        lux = light_reference.traced(picture(kept["document"]), points)
    finally:
        light_reference.SAMPLES = usual
    assert np.abs(np.log2(np.array(lux) / np.array(kept["lux"]))).max() < 0.12
