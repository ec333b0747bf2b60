"""What goes on past its picture, coloured shadows along an outline, one stuff across the sheet's edge, cards under prints, ground seen through
a thing: in plane pictures drawn from a known lens, on both sides of each limit."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, translate

from tests.core.test_outlines_in_doubt import NOTCHED, SHEET, flat_of
from tests.core.test_things_seen import PAPER, RED, block, drawn, found_from, seen, sides_of, standing, thrown
from tideflat.core.vision import things_seen
from tideflat.core.vision.edge_doubts import HARDLY_DIFFERS, Shade, edge_seen
from tideflat.core.vision.ground import Ground, tell_apart
from tideflat.core.vision.outlined import _ground_within, free_outline
from tideflat.core.vision.things_seen import PRINTED

BROWN = (92, 58, 34)
#: Shadow of a lamp's key that a window's light fills: three quarters of the light, and blue.
BLUE_SHADE = tuple(int(p * s) for p, s in zip(PAPER, (0.66, 0.74, 0.9), strict=True))


# -- past the picture -----------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kept", [40.0, 60.0, 100.0])
def test_what_was_lost_of_a_long_thing_is_found_however_far_it_goes_on(kept: float):
    """Found is the part beside the sheet; the fine picture round it ends twelve millimetres on."""
    handle = rotate(block(105, 0, 190, 18), 25, origin=(105, 0))
    rgb = drawn((handle, BROWN))
    flat = flat_of(rgb)
    part = handle.intersection(rotate(shapely.box(200 - kept, -50, 300, 50), 25, origin=(105, 0)))
    nothing = np.zeros(flat.known.shape, bool)
    ground = Ground(flat.inside(part), flat.inside(part), np.ones(nothing.shape, np.float32), np.ones(nothing.shape, np.float32))
    free = free_outline(part, ground, flat, rgb, found_from(), 0.0)
    sides = sorted(cv2.minAreaRect(np.array(free.foot.exterior.coords, dtype=np.float32))[1])
    assert sides == pytest.approx([18, 190], abs=1.5)


# -- a shadow of any colour -----------------------------------------------------------------------------------------------------------------


def _shade(flat, thing, off_within: float, left_within: float) -> tuple[shapely.Polygon, Shade]:
    """The thing with a strip along its right side that is so strange, and leaves so much light."""
    strip = translate(thing, 7, 0).difference(thing)
    whole = thing.union(strip.buffer(0.01))
    left, off = np.ones(flat.known.shape, np.float32), np.zeros(flat.known.shape, np.float32)
    off[flat.inside(thing)], left[flat.inside(thing)] = 1.0, 0.2
    off[flat.inside(strip)], left[flat.inside(strip)] = off_within, left_within
    return whole, Shade.about(whole, flat, left, off, shapely.Polygon())


@pytest.mark.parametrize(
    ("off", "left", "is_shade"),
    [(0.1, 0.7, True), (0.48, 0.7, True), (0.52, 0.7, False), (0.1, 0.91, True), (0.1, 0.94, False), (0.1, 0.27, True), (0.1, 0.23, False)],
)
def test_along_an_outline_a_shadow_is_what_is_far_less_strange_than_the_thing(off: float, left: float, is_shade: bool):
    thing = block(0, 0, 80, 60)
    flat = flat_of(drawn((translate(thing, 7, 0), BLUE_SHADE), (thing, BROWN)))
    whole, shade = _shade(flat, thing, off, left)
    with_it, without = edge_seen(whole, flat, shade), edge_seen(whole, flat)
    assert without.shadowy < 0.05  # blue: by its colour it is no shadow of paper
    assert (with_it.shadowy > 0.15) == is_shade
    assert (with_it.is_own.mean() < 0.85) == is_shade


def test_of_a_thing_hardly_stranger_than_its_ground_nothing_is_said():
    thing = block(0, 0, 80, 60)
    flat = flat_of(drawn((translate(thing, 7, 0), BLUE_SHADE), (thing, BROWN)))
    whole, shade = _shade(flat, thing, 0.1, 0.7)
    for usual, is_any in ((0.34, False), (0.36, True)):
        assert (edge_seen(whole, flat, replace(shade, usual=np.full(shade.left.shape, usual))).shadowy > 0.15) == is_any


# -- one stuff across the edge --------------------------------------------------------------------------------------------------------------


def test_a_brown_thing_over_the_edge_is_told_on_the_paper_as_on_the_table():
    """Drawn without a grain it is told either way; what needs the rule is photograph 46, in test_measuring_by_light."""
    board = translate(rotate(NOTCHED, 15), 105, 0)
    ground = tell_apart(flat_of(drawn((board, (66, 44, 26)))), SHEET)
    flat = flat_of(drawn())
    on_paper = flat.inside(board.intersection(shapely.box(-100, -140, 100, 140)).buffer(-2))
    assert ground.mask[on_paper].mean() > 0.97


@pytest.mark.parametrize(("gap", "goes_on"), [(0.0, True), (30.0, False)])
def test_only_what_goes_on_from_the_thing_beside_the_sheet_is_of_its_stuff(gap: float, goes_on: bool, monkeypatch: pytest.MonkeyPatch):
    """A strip of the very colour further in on the paper may be anything."""
    from tideflat.core.vision import ground as told

    stuff = (66, 44, 26)
    outer, inner = shapely.box(108, -30, 160, 30), shapely.box(40, -30, 102 - gap, 30)
    flat = flat_of(drawn((outer, stuff), (inner, stuff), *([(shapely.box(101, -30, 109, 30), stuff)] if goes_on else [])))
    found: list[np.ndarray] = []
    original = told._across_the_edge

    def kept(*arguments):
        found.append(original(*arguments))
        return found[-1]

    monkeypatch.setattr(told, "_across_the_edge", kept)
    tell_apart(flat, SHEET)
    assert bool(found[0][flat.inside(inner.buffer(-3))].mean() > 0.9) == goes_on
    assert not found[0][flat.inside(shapely.box(-100, -140, 30, 140))].any()


# -- cards ----------------------------------------------------------------------------------------------------------------------------------

CARD, INK = (133, 99, 71), (40, 70, 120)  # a little lighter than the table: of its colour, in a little more light


def _card(height: float = 0.0) -> list:
    return [*standing(block(205, 20, 100, 140), height, CARD, (96, 70, 50)), (thrown(block(212, 30, 46, 60), height), INK)]


def _tiled() -> list:
    """Joints all over the table, the same on both sides; something lies in the middle of a tile."""
    joints = [shapely.box(x - 1.6, -260, x + 1.6, 260) for x in range(-345, 330, 100)]
    joints += [shapely.box(-330, y - 1.6, 330, y + 1.6) for y in range(-250, 260, 140)]
    paper = shapely.box(-105, -148.5, 105, 148.5)
    return [(joint.difference(paper), (104, 77, 55)) for joint in joints] + [(block(212, 100, 46, 60), INK)]


def test_a_card_is_the_thing_and_not_what_is_printed_on_it():
    (thing,) = seen(_card(1.0), 1.0)
    assert sides_of(thing) == pytest.approx([100, 140], abs=1.5) and not thing.doubts


@pytest.mark.parametrize(("limit", "is_doubt"), [(1.0, False), (0.9, True)])
def test_on_what_is_higher_than_a_card_something_may_lie_instead(limit: float, is_doubt: bool, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(things_seen, "_CARD_MM", limit)
    (thing, *_) = seen(_card(1.0), 1.0)
    assert sides_of(thing) == pytest.approx([100, 140], abs=1.5)
    assert (PRINTED in thing.doubts) == is_doubt


def test_where_a_card_is_seen_half_the_print_is_not_sure():
    (thing, *_) = seen(_card(3.5), 3.5)
    assert sides_of(thing) == pytest.approx([46, 60], abs=2.5) and PRINTED in thing.doubts


def test_a_tile_with_its_joints_is_no_card():
    (thing, *_) = seen(_tiled(), 1.0)
    assert sides_of(thing) == pytest.approx([46, 60], abs=1.0)


def test_the_sheet_is_no_card():
    (thing,) = seen([(block(10, 10, 90, 70), RED)], 1.0)
    assert sides_of(thing) == pytest.approx([70, 90], abs=0.8) and not thing.doubts


# -- ground within --------------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("hole", "is_doubt"), [(8.0, False), (14.0, True)])
def test_ground_in_full_light_within_an_outline_is_a_doubt(hole: float, is_doubt: bool):
    """A dark thing of 80 x 80 mm with a place in it that shows the paper: 0.6, and 2.5 hundredths of what lies within, its edge being blurred."""
    thing, paper = block(0, 0, 80, 80), block(10, 5, hole, hole)
    flat = flat_of(drawn((thing, (30, 30, 34)), (paper, PAPER)))
    ground = tell_apart(flat, SHEET)
    inner = thing.buffer(-2)
    assert _ground_within(thing, ground, flat) == pytest.approx((hole - 2) ** 2 / inner.area, abs=0.003)
    free = free_outline(thing, ground, flat, drawn((thing, (30, 30, 34)), (paper, PAPER)), found_from(), 0.0)
    assert (HARDLY_DIFFERS in free.doubts) == is_doubt
