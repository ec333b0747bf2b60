"""What is small and of the table's colours is no thing, nor is a piece of a mirrored lamp that something brighter cuts off."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import shapely

from tests.core.test_things_seen import BOX, RED, TABLE, disc, drawn, found_from, seen, sides_of
from tideflat.core.vision import things_seen as module
from tideflat.core.vision.first_look import first_look
from tideflat.core.vision.ground import Ground
from tideflat.core.vision.grounds_own import is_speck
from tideflat.core.vision.look import Look
from tideflat.core.vision.rectified import Flat
from tideflat.core.vision.reflections import _standing_out, _step_along
from tideflat.core.vision.things_seen import ThingSeen, _but_coming_in

SHAPE = (200, 200)


def look_at(left, off, least_off=0.1) -> Look:
    """A picture of two pixels a mm, 100 mm wide, all of one light and strangeness."""
    none = np.zeros(SHAPE, bool)
    flat = Flat(np.full((*SHAPE, 3), 90, np.uint8), np.ones(SHAPE, bool), 0.0, 100.0, 2.0)
    return Look(flat, Ground(none, none, np.full(SHAPE, left), np.full(SHAPE, off), least_off), none)


@pytest.mark.parametrize(
    ("area", "left", "off", "least_off", "is_one"),
    [
        (199, 0.9, 0.25, 0.1, True),
        (201, 0.9, 0.25, 0.1, False),
        (150, 0.9, 0.29, 0.1, True),
        (150, 0.9, 0.31, 0.1, False),
        (150, 0.61, 0.25, 0.1, True),
        (150, 0.59, 0.25, 0.1, False),  # a raisin
        (150, 1.14, 0.25, 0.1, True),
        (150, 1.16, 0.25, 0.1, False),
        (150, 0.9, 0.38, 0.3, True),  # where colours are noisy
        (150, 0.9, 0.40, 0.3, False),
        (150, 0.9, 0.39, 2.0, True),  # however noisy
        (150, 0.9, 0.41, 2.0, False),
    ],
)
def test_a_speck_is_small_as_light_as_the_ground_and_of_its_colours(area, left, off, least_off, is_one):
    assert is_speck(shapely.box(20, 20, 30, 20 + area / 10), look_at(left, off, least_off)) == is_one


def in_blocks(sigma: float) -> np.ndarray:
    """A table whose colour, not its light, changes from block to block of 8 mm, as a coarse JPEG's does; red is what green is not."""
    random = np.random.default_rng(3)
    change = cv2.resize(random.normal(0, sigma, (63, 82)).astype(np.float32), (1300, 1000), interpolation=cv2.INTER_NEAREST)
    picture = drawn().astype(np.float32)
    on_table = np.ones((1000, 1300), bool)
    on_table[223:817, 450:870] = False
    picture[..., 0] += on_table * change
    picture[..., 2] -= on_table * change
    return np.clip(picture, 0, 255).astype(np.uint8)


def test_the_noisier_the_tables_colours_the_more_is_told_from_them():
    least = [first_look(in_blocks(sigma), found_from(), BOX, 0.0).look.ground.least_off for sigma in (0.0, 6.0)]
    assert least[0] == pytest.approx(0.10) and 0.15 < least[1] < 0.5


@pytest.mark.parametrize(("colour", "is_outlined"), [((115, 92, 72), False), ((70, 92, 120), True)])
def test_a_speck_beside_a_thing_is_not_outlined_and_a_small_thing_is(monkeypatch, colour, is_outlined):
    thing, small = disc(180, 30, 60), shapely.Polygon([(172, -70), (192, -68), (186, -52)])
    begun, asked = module.begun_outline, []
    monkeypatch.setattr(module, "begun_outline", lambda part, *rest: (asked.append(part), begun(part, *rest))[1])
    monkeypatch.setattr(module, "parts_of", lambda mask, flat: [thing, small])
    found = seen([(thing, RED), (small, colour)], 0)
    assert any(part.distance(small) < 1 for part in asked) == is_outlined
    assert any(t.silhouette.intersects(small) for t in found) == is_outlined
    assert sides_of(next(t for t in found if t.silhouette.intersects(thing))) == pytest.approx([60, 60], abs=0.5)


def lamp_by_a_plate(piece_px: int, soft_px: int, by: float = 0.3) -> list[np.ndarray]:
    """Log light, three channels, two pixels a mm: the glow of a lamp, in it a piece a little lighter, ``by`` log, whose edges are so soft, at
    a plate's sharp edge (x = 140); the plate is far brighter."""
    light = np.full(SHAPE, -2.0, np.float32)
    light[60:140, 140 - piece_px : 140] += by
    light = cv2.blur(light, (soft_px, soft_px)) if soft_px > 1 else light
    light[:, 140:] = 0.0
    return [cv2.GaussianBlur(light, (0, 0), 0.6)] * 3


@pytest.mark.parametrize(("soft_px", "is_kept"), [(11, False), (1, True)])
def test_of_a_mirrored_lamp_a_piece_that_ends_softly_but_at_something_brighter_is_none_and_one_with_an_edge_is(soft_px, is_kept):
    part = np.zeros(SHAPE, bool)
    part[30:170, 40:140] = True
    kept = _standing_out(part, lamp_by_a_plate(40, soft_px), 2.0)
    assert bool(kept[70:130, 105:135].mean() > 0.8) == is_kept


#: A piece of 30 by 50 pixels; the sides that are the plate's are sharp, and those of ``sharp``.
PIECE = np.s_[70:120, 100:130]


def along(beyond: float, plates: tuple[str, ...], sharp: tuple[str, ...]) -> float:
    """The middle of its steps: 1 where sharp, else 0. beyond: light past the sides that are a plate's; past the others it is dark."""
    strips = {
        "left": np.s_[70:120, 90:100],
        "right": np.s_[70:120, 130:140],
        "top": np.s_[60:70, 100:130],
        "bottom": np.s_[120:130, 100:130],
    }
    edges = {"left": np.s_[70:120, 100], "right": np.s_[70:120, 129], "top": np.s_[70, 100:130], "bottom": np.s_[119, 100:130]}
    piece, light, step = np.zeros(SHAPE, bool), np.full(SHAPE, 0.1), np.zeros(SHAPE, np.float32)
    piece[PIECE] = True
    light[PIECE] = 1.0
    for side in plates:
        light[strips[side]] = beyond
    for side in (*plates, *sharp):
        step[edges[side]] = 1.0
    return float(np.median(_step_along(piece, light, step)))


@pytest.mark.parametrize(("beyond", "step"), [(1.4, 0.0), (1.2, 1.0)])
def test_a_border_is_that_of_what_is_brighter_just_beyond(beyond, step):
    """Right and top are sharp, half of all its border and a bit; of what is its own, where the plate is the brighter, less than half."""
    assert along(beyond, ("right",), ("top",)) == step


def test_of_a_border_that_is_mostly_anothers_all_is_asked():
    """A crescent between two plates has hardly a border of its own."""
    assert along(2.0, ("left", "right"), ()) == 1.0
    assert along(2.0, ("right",), ()) == 0.0


def thing_at(x, own, doubts=()) -> ThingSeen:
    place = shapely.box(x, 40, x + 20, 60)
    return ThingSeen(place, place, None, doubts, own=own)


def test_what_comes_in_at_the_border_is_the_tables_but_for_what_has_an_edge_or_is_all():
    flat = look_at(1.0, 0.0).flat
    inside, soft, plain = thing_at(40, 0.3), thing_at(-5, 0.89), thing_at(-5, 0.91)
    assert _but_coming_in([inside, soft], flat) == [inside]
    assert _but_coming_in([inside, plain], flat) == [inside, plain]
    assert _but_coming_in([soft], flat) == [soft]


@pytest.mark.parametrize(("at", "is_asked"), [(-300, False), (-200, True)])
def test_no_glass_is_looked_for_where_only_the_tables_corner_is_in_doubt(monkeypatch, at, is_asked):
    asked = []
    monkeypatch.setattr(module, "clear_solid", lambda *_: asked.append(1))
    monkeypatch.setattr(module, "comes_in", lambda *_: False)
    told = {
        id(t): t
        for t in (ThingSeen(disc(180, 30, 60), disc(180, 30, 60), None, ()), ThingSeen(disc(at, 0, 60), disc(at, 0, 60), None, ("soft",)))
    }
    monkeypatch.setattr(module, "_told", lambda *_: (list(told.values()), []))
    module.things_seen(drawn((disc(180, 30, 60), RED), (disc(at, 0, 60), TABLE)), found_from(), BOX, 40.0)
    assert bool(asked) == is_asked
