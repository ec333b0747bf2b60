"""What it costs to go from one set-up to the next, and which of them can be played as a loop."""

from __future__ import annotations

import copy
import itertools

import numpy as np
import pytest

from tests.support.scenes import bare_value, picture
from tideflat.core.evaluate import Picture
from tideflat.core.frame.between import between, loops
from tideflat.web.bridge.between_words import between_words


def pair(**second):
    value = bare_value(elevation=90)
    other = copy.deepcopy(value["setups"][0])
    other["name"] = "second"
    camera = second.pop("camera", {})
    other["camera"] |= camera
    other |= second
    value["setups"].append(other)
    first = picture(value)
    return first, Picture(first.whole, first.whole.setups[1])


def test_nothing_changes_nothing_costs():
    cost = between(*pair())
    assert between_words(cost, "mm") == () and not cost.is_loop


@pytest.mark.parametrize(
    ("camera", "carried", "turned"),
    [
        ({"distance": 1300}, 200, 0),
        ({"elevation": 45}, 2 * 1100 * np.sin(np.radians(22.5)), 45),
        ({"aim": [450, 340, 30]}, 50, 0),
        ({"roll": 10}, 0, 10),
        ({"azimuth": 30}, 0, 30),
    ],
)
def test_the_camera_is_carried_and_turned_by_what_geometry_says(camera, carried, turned):
    cost = between(*pair(camera=camera))
    assert cost.carried == pytest.approx(carried, abs=1e-6)
    assert cost.turned == pytest.approx(turned, abs=1e-5)


def test_lens_things_and_surface_are_told():
    first, second = pair(camera={"lens": {"focal_length": 85, "max_aperture": 1.8}, "aperture": 8}, differs={"p1": {"x": 480, "y": 350}}, hidden=[])
    cost = between(first, second)
    was, now = first.scene.placement("p1"), second.scene.placement("p1")
    assert cost.lens == (50, 85) and cost.moved == 1 and cost.furthest == pytest.approx(np.hypot(now.x - was.x, now.y - was.y))
    said = "; ".join(between_words(cost, "mm"))
    assert "lens 50 mm becomes 85 mm" in said and "f/5.6 becomes f/8" in said and "1 moved, the furthest" in said
    assert between(*pair(hidden=["p1"])).gone == 1
    assert "1 taken off" in between_words(between(*pair(hidden=["p1"])), "mm")


def test_only_swaps_in_one_place_make_a_loop():
    value = bare_value()
    for name in ("ginger", "lemon"):
        value["props"].append({**value["props"][0], "id": name, "name": name, "colours": [{"hex": "#d0b040" if name == "lemon" else "#b07030", "share": 1}]})
        value["setups"].append({**copy.deepcopy(value["setups"][0]), "name": name, "swap": {"p1": name}})
    value["setups"].append({**copy.deepcopy(value["setups"][0]), "name": "close", "swap": {"p1": "lemon"}})
    value["setups"][-1]["camera"]["distance"] = 800
    first = picture(value)
    pictures = [Picture(first.whole, s) for s in first.whole.setups]
    assert loops(pictures) == (("main", "ginger", "lemon"),)
    assert between(pictures[0], pictures[1]).swapped == ("ginger",)
    assert not any(between(pictures[3], p).is_loop for p in pictures[:3])
    for a, b in itertools.permutations(pictures[:3], 2):
        assert between(a, b).is_loop
