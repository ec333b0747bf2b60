"""What is not lost of things: their own sides when an outline is told again, and dark or plainly edged things beside others."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest
import shapely

from tests.core.test_things_seen import found_from
from tideflat.core.vision import told_again as module
from tideflat.core.vision.edge_doubts import EdgeSeen, Shade
from tideflat.core.vision.ground import Ground
from tideflat.core.vision.grounds_own import is_the_grounds
from tideflat.core.vision.look import Look
from tideflat.core.vision.outlined import LEAST_MM2, _are_apart
from tideflat.core.vision.rectified import Flat
from tideflat.core.vision.smallest_rectangle import least_sides
from tideflat.core.vision.things_seen import ThingSeen, _or_in_doubt
from tideflat.core.vision.told_again import _is_a_side, told_again

THING, SIDE = shapely.box(-30, -20, 30, 20), shapely.box(-30, -26, 30, -20)


def bare(left: np.ndarray, off: np.ndarray) -> Flat:
    return Flat(np.zeros((*left.shape, 3), np.uint8), np.ones(left.shape, bool), -50.0, 50.0, 1.0)


def shade_of(side: tuple[float, float], thing: tuple[float, float] = (1.5, 0.7)) -> Shade:
    """(share of the light, strangeness) of a thing and of what lies before it, over ground in full light."""
    left, off = np.ones((100, 100)), np.zeros((100, 100))
    flat = bare(left, off)
    for region, (light, strange) in ((THING, thing), (SIDE, side)):
        left[flat.inside(region)], off[flat.inside(region)] = light, strange
    return Shade(flat, left, off, np.full(left.shape, 0.7))


@pytest.mark.parametrize(
    ("side", "is_side"),
    [
        ((0.95, 0.4), True),
        ((0.93, 0.31), True),
        ((0.91, 0.4), False),  # a shadow, whatever its colour
        ((0.95, 0.29), False),  # the ground
        ((1.49, 0.4), True),
        ((1.51, 0.4), False),  # brighter than the thing: what shines on the table
        ((0.95, np.inf), False),  # along the sheet's edge nothing is known
    ],
)
def test_a_side_is_strange_to_the_ground_and_no_darker_than_it(side, is_side):
    assert _is_a_side(SIDE, THING, shade_of(side)) == is_side


@pytest.mark.parametrize(("light", "is_kept"), [(0.95, True), (0.6, False)])
def test_an_outline_told_again_does_not_lose_a_things_own_side(monkeypatch, light, is_kept):
    """As of a wooden spoon, whose side in the lamp's shade is of another colour than its top, and was cut off: 5 mm, and sure."""
    whole = THING.union(SIDE)
    places = np.zeros((10, 2))
    seen = {
        True: EdgeSeen(0, 0, 0, np.zeros(10, bool), places, np.ones(10, bool)),
        False: EdgeSeen(0, 0, 0, np.zeros(10, bool), places, np.zeros(10, bool)),
    }
    shade = shade_of((light, 0.4))
    monkeypatch.setattr(module, "_cut_whole", lambda outline, fine, rgb, found: (THING, fine))
    monkeypatch.setattr(module, "pulled_in", lambda was, *_: was)
    for name in ("pointed", "sharpened"):
        monkeypatch.setattr(module, name, lambda outline, flat: outline)
    monkeypatch.setattr(module, "edge_seen", lambda *_: seen[True])
    monkeypatch.setattr(module, "edge_picture", lambda flat: None)
    outline, _, _, _ = told_again(whole, seen[False], shade.flat, shade, shade.flat.rgb, found_from(), 9.0, is_open=False)
    assert (outline.area > 1.1 * THING.area) == is_kept


@pytest.mark.parametrize(
    ("left", "off", "own", "is_kept", "is_sure"),
    [
        (0.95, 0.05, 0.5, False, False),  # as the table is
        (0.95, 0.05, 0.9, True, False),  # of the table's colour, with an edge all round: a brown tile on brown boards
        (0.95, 0.05, 0.89, False, False),
        (0.29, 0.05, 0.5, True, False),  # all but black, far from what throws a shadow: a steel spoon
        (0.31, 0.05, 0.5, False, False),
        (0.95, 0.21, 0.5, True, True),
        (1.16, 0.05, 0.5, True, True),
    ],
)
def test_what_may_be_the_grounds_is_kept_in_doubt(left, off, own, is_kept, is_sure):
    shape = (100, 100)
    ground = Ground(np.zeros(shape, bool), np.zeros(shape, bool), np.full(shape, left), np.full(shape, off))
    look = Look(bare(np.ones(shape), np.zeros(shape)), ground, ground.mask)
    thing = _or_in_doubt(ThingSeen(THING, THING, None, (), own=own), look)
    assert (thing is not None) == is_kept and (thing is not None and thing.doubts == ()) == is_sure
    if is_kept:  # what is in doubt already says why
        assert _or_in_doubt(ThingSeen(THING, THING, None, ("soft",), own=own), look).doubts == ("soft",)
    assert _or_in_doubt(ThingSeen(THING, THING, SimpleNamespace(kind="disc"), (), own=own), look).doubts == ()


@pytest.mark.parametrize(("area", "is_grounds"), [(199, True), (201, False)])
def test_a_speck_of_the_grounds_colour_is_the_grounds_however_plain_its_edge(area, is_grounds):
    """A rough table's knots and specks have edges all round: eight of them were things, in doubt, about one spoon."""
    shape = (100, 100)
    ground = Ground(np.zeros(shape, bool), np.zeros(shape, bool), np.full(shape, 0.95), np.full(shape, 0.17))
    look = Look(bare(np.ones(shape), np.zeros(shape)), ground, ground.mask)
    speck = shapely.box(0, 0, 10, area / 10)
    assert is_the_grounds(speck, 1.0, look) == is_grounds
    assert is_the_grounds(speck, 0.5, look)
    strange = replace(look, ground=replace(ground, off=np.full(shape, 0.3)))
    assert not is_the_grounds(speck, 0.5, strange)


@pytest.mark.parametrize("by", [0.0, 1.0, 1.4, 1.6, 4.0])
def test_outlines_are_apart_by_the_sides_of_what_goes_round_them(by):
    one, other = shapely.box(0, 0, 60, 20), shapely.box(0, 0, 60 + by, 20)
    assert _are_apart(one, other, 1.5) == _are_apart(other, one, 1.5) == (by > 1.5)
    assert _are_apart(one, shapely.Polygon(), 1.5)


def test_what_may_be_told_straight_two_ways_is_not_apart_from_itself():
    """A slice of cake: of two rectangles that cover the same, either is the smallest by a hair."""
    slice_ = shapely.Polygon([(-60, -38), (62, 0), (-60, 38)])
    hair = shapely.Polygon([(-60, -38), (62, 0), (-60, 38), (-60.3, 0)])
    assert max(abs(a - b) for a, b in zip(*(least_sides(np.array(p.exterior.coords)) for p in (slice_, hair)), strict=True)) > 1.5
    assert not _are_apart(slice_, hair, 1.5) and slice_.area > LEAST_MM2
