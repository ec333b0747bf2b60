"""Shadows that pass for things: darker than shadows are, where the table's own pattern is seen in them; and beside what is black."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tests.core.test_things_seen import BOX, FAR, LEFT, PAPER, PER_MM, SIZE, TABLE, block, found_from
from tideflat.core.vision import things_seen as module
from tideflat.core.vision.edge_doubts import SHADOW_TAKEN, Shade
from tideflat.core.vision.ground import Ground
from tideflat.core.vision.grounds_own import shows_its_pattern
from tideflat.core.vision.look import Look, share
from tideflat.core.vision.rectified import Flat
from tideflat.core.vision.things_seen import things_seen

DARK_CHECK = (92, 110, 122)
PLACE = block(180, 0, 60, 90)


def seen(inside: str) -> list:
    """Of what lies beside a sheet on checks, or on one colour: the table at a tenth of its light there, or one black."""
    x, y = np.meshgrid(LEFT + (np.arange(SIZE[0]) + 0.5) / PER_MM, FAR - (np.arange(SIZE[1]) + 0.5) / PER_MM)
    is_dark = (np.floor(x / 26) + np.floor(y / 26)) % 2 == 0
    picture = np.where(is_dark[..., None], np.array(DARK_CHECK, float), np.array((224.0, 216, 200)))
    if inside == "a shadow on one colour":
        picture[:] = TABLE
    picture[(np.abs(x) < 105) & (np.abs(y) < 148.5)] = PAPER
    place = shapely.contains_xy(PLACE, x, y)
    picture[place] = (26, 26, 27) if inside == "a black board" else 255 * (0.1 * (picture[place] / 255) ** 2.2) ** (1 / 2.2)
    noise = np.random.default_rng(3).normal(0, 1.5, picture.shape)
    return things_seen(np.clip(picture + noise, 0, 255).astype(np.uint8), found_from(), BOX, 0.0)


@pytest.mark.parametrize(("inside", "is_thing"), [("a shadow", False), ("a black board", True), ("a shadow on one colour", True)])
def test_checks_seen_in_what_is_dark_are_no_thing_that_is_sure(inside: str, is_thing: bool):
    """On one colour nothing tells it from a black board."""
    there = [thing for thing in seen(inside) if share(thing.silhouette, PLACE) > 0.5]
    assert any(not thing.doubts for thing in there) is is_thing


def test_what_shows_its_grounds_pattern_is_in_doubt(monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(module, "shows_its_pattern", lambda outline, look: True)
    assert [thing.doubts for thing in seen("a black board")] == [(SHADOW_TAKEN,)]


@pytest.mark.parametrize(
    ("pattern", "left", "off", "shows"),
    [
        (0.55, 0.1, 0.05, True),
        (0.45, 0.1, 0.05, False),  # log, of its light: a grain
        (0.55, 0.39, 0.05, True),  # against the table's colours 0.7 of that is left
        (0.55, 0.43, 0.05, False),  # 0.78
        (0.55, 0.1, 0.11, False),  # stranger to the table than its colours are
        (0.55, 0.1, np.inf, False),  # nothing is known of it
    ],
)
def test_a_pattern_is_the_tables_where_its_colours_take_it_away(pattern: float, left: float, off: float, shows: bool):
    """Half of a place is lighter by so much, by itself and against the table."""
    lighter = np.zeros((80, 80), bool)
    lighter[:, ::2] = True
    light = np.where(lighter, 0.08 * np.exp(pattern), 0.08)
    level = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)  # IEC 61966-2-1
    flat = Flat(np.repeat((255 * level).round().astype(np.uint8)[..., None], 3, axis=2), np.ones((80, 80), bool), -40.0, 40.0, 1.0)
    told = np.ones((80, 80), bool)
    ground = Ground(told, told, np.where(lighter, 0.15 * np.exp(left), 0.15), np.full((80, 80), off), 0.1)
    assert shows_its_pattern(block(0, 0, 60, 60), Look(flat, ground, told)) is shows
    on_paper = Look(flat, ground, told, shapely.box(-40, -40, 40, 40))
    assert not shows_its_pattern(block(0, 0, 60, 60), on_paper)  # which has none


@pytest.mark.parametrize(
    ("own", "left", "off", "is_shade"),
    [
        (0.04, 0.13, 0.5, True),  # a steel spoon in a lamp's light, with its blue shadow on paper
        (0.11, 0.25, 0.5, True),
        (0.13, 0.3, 0.5, False),  # no black: its own lit side, as likely
        (0.04, 0.085, 0.5, False),  # hardly lighter than the thing
        (0.04, 0.09, 0.5, True),
        (0.04, 0.13, 0.61, False),  # no light's colour: a stripe
        (0.04, 0.13, 0.59, True),
        (0.04, 0.93, 0.5, False),  # as light as the ground
    ],
)
def test_beside_what_is_all_but_black_what_is_plainly_lighter_may_be_its_shadow(own: float, left: float, off: float, is_shade: bool):
    """Black itself is hardly strange to its ground, so that of it no shadow is told by being less strange."""
    taken, strip = block(0, 0, 60, 40), block(27.5, 0, 5, 40)
    flat = Flat(np.zeros((100, 100, 3), np.uint8), np.ones((100, 100), bool), -50.0, 50.0, 1.0)
    lefts, offs = np.ones((100, 100)), np.zeros((100, 100))
    for place, (light, strange) in ((taken, (own, 0.3)), (strip, (left, off))):
        lefts[flat.inside(place)], offs[flat.inside(place)] = light, strange
    shade = Shade.about(taken, flat, lefts, offs, shapely.Polygon())
    assert shade.own == own
    places = np.array([[30.0, y] for y in (-10, 0, 10)] + [[-30.0, y] for y in (-10, 0, 10)])
    outward = np.array([[1.0, 0]] * 3 + [[-1.0, 0]] * 3)
    assert shade.lies_at(places, outward, taken).tolist() == [is_shade] * 3 + [False] * 3
