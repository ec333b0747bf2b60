"""Where what was taken may be a part: thin ends that run on, black beside a thing, bands along sides. Plane pictures, both sides of each limit."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, translate

from tests.core.test_outlines_in_doubt import SHEET, flat_of
from tests.core.test_things_seen import BOX, PAPER, RED, SIZE, block, disc, drawn, found_from, seen, sides_of, thrown
from tideflat.core.vision import solids_chosen
from tideflat.core.vision.edge_doubts import GOES_ON, SHADOW_TAKEN
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.ground import Ground, tell_apart
from tideflat.core.vision.look import Look
from tideflat.core.vision.more_beside import has_black_beside
from tideflat.core.vision.solid_curves import seen_of
from tideflat.core.vision.solid_edges import SolidSeen
from tideflat.core.vision.solids_chosen import _is_beside_the_point, _is_shade, chosen, is_surely_seen
from tideflat.core.vision.thin_ends import runs_past_an_end
from tideflat.core.vision.things_seen import things_seen as told

STEEL, BRIGHT = (92, 92, 96), (250, 250, 250)


def _spoon(taken: float) -> tuple[shapely.Polygon, shapely.Polygon]:
    """A spoon along +x, and what a highlight shows of it."""
    spoon = disc(-150, 60, 36).union(shapely.box(-140, 55, 20, 65))
    return spoon, spoon.intersection(shapely.box(-400, -400, taken, 400))


@pytest.mark.parametrize("turn", [0.0, 33.0, 90.0])
@pytest.mark.parametrize(("taken", "runs_on"), [(0.0, True), (-20.0, True), (20.0, False)])
def test_a_handle_whose_highlight_ends_before_it_runs_on(turn: float, taken: float, runs_on: bool):
    spoon, bright = (rotate(p, turn, origin=(-60, 30)) for p in _spoon(taken))
    picture = edge_picture(flat_of(drawn((spoon, STEEL), (bright, BRIGHT))))
    assert runs_past_an_end(bright, picture) == runs_on


def test_a_pointed_end_and_a_wide_one_run_on_nowhere():
    leaf = shapely.Polygon([(-60, 0), (-20, 14), (20, 14), (60, 0), (20, -14), (-20, -14)])
    assert not runs_past_an_end(leaf, edge_picture(flat_of(drawn((leaf, RED)))))
    # two boards in a row, the joint between them is an end of both: wider than a handle is
    left, right = block(-50, 0, 90, 40), block(40, 0, 90, 40)
    assert not runs_past_an_end(left, edge_picture(flat_of(drawn((right, STEEL), (left, BRIGHT)))))


def test_of_two_lines_past_an_end_that_go_elsewhere_none_is_its_side():
    spoon, bright = _spoon(0.0)
    bent = [(rotate(shapely.box(0, 55, 30, 65), 28, origin=(0, 60)), STEEL), (bright, BRIGHT)]
    assert not runs_past_an_end(bright, edge_picture(flat_of(drawn(*bent))))
    assert spoon.area > bright.area


# -- black beside a thing -------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("deep", "left", "is_more"), [(30.0, 0.1, True), (30.0, 0.13, False), (12.0, 0.1, False), (20.0, 0.1, True)])
def test_much_that_is_nearly_black_and_hangs_on_a_thing_may_be_more_of_it(deep: float, left: float, is_more: bool):
    thing, beside = shapely.box(0, 0, 60, 40), shapely.box(0, -deep, 60, 0)
    flat = flat_of(drawn())
    light = np.ones(flat.known.shape, np.float32)
    light[flat.inside(beside)] = left
    look = Look(flat, Ground(flat.inside(thing), flat.inside(thing), light, np.zeros_like(light)), flat.inside(thing))
    assert has_black_beside(thing, look) == is_more
    apart = translate(thing, 0, 6)
    assert not has_black_beside(apart, look)


def test_a_strip_of_a_black_slab_is_not_sure_to_be_all_of_it():
    """The slab is no lighter than a shadow may be; a strip of its side is lit."""
    slab, side = block(0, 0, 90, 80), shapely.box(-45, -46, 45, -40)
    black = tuple(int(255 * (0.08 * (c / 255) ** 2.2) ** (1 / 2.2)) for c in PAPER)
    for thing in seen([(slab, black), (side, RED)], 8.0):
        assert GOES_ON in thing.doubts or sides_of(thing)[1] > 80


# -- bands ----------------------------------------------------------------------------------------------------------------------------------


def _in_two_shades(first: float, second: float) -> np.ndarray:
    """A napkin with a shadow along two of its sides, of so much of the light."""
    cloth = block(0, 0, 120, 100)
    shades = [(shapely.box(-60, -54, 60, -50), first), (shapely.box(60, -54, 63, 50), second)]
    return drawn(*[(band, tuple(int(c * s) for c in PAPER)) for band, s in shades], (cloth, (176, 96, 84)))


def test_shadow_along_two_sides_is_taken_off_both():
    (thing,) = told(_in_two_shades(0.72, 0.72), found_from(), BOX, 0.0)
    assert sides_of(thing) == pytest.approx([100, 120], abs=1.0)


@pytest.mark.parametrize(("over", "is_open"), [(0.1, True), (-0.1, False)])
def test_a_band_less_strange_than_a_share_of_the_thing_is_in_doubt(over: float, is_open: bool, monkeypatch: pytest.MonkeyPatch):
    """The share is set just over, and just under, what this band is."""
    cloth, band = block(0, 0, 120, 100), shapely.box(-60, -55, 60, -50)
    rgb = drawn((band, (160, 128, 200)), (cloth, (176, 96, 84)))
    look = _look(rgb)
    own, off = look.light(cloth.buffer(-1.0))[1], look.light(band.difference(cloth.buffer(0.6)))[1]
    assert 0.55 < off / own < 1.0  # below, it is taken for a shadow at once
    monkeypatch.setattr(solids_chosen, "_TINTED", off / own + over)
    (thing, *_) = told(rgb, found_from(), BOX, 0.0)
    assert sides_of(thing) == pytest.approx([105, 120], abs=1.0)
    assert (SHADOW_TAKEN in thing.doubts) == is_open


def _look(rgb: np.ndarray) -> Look:
    assert rgb.shape == (SIZE[1], SIZE[0], 3)
    flat = flat_of(rgb)
    ground = tell_apart(flat, SHEET)
    return Look(flat, ground, ground.mask)


# -- how dark and how strange a shadow is ---------------------------------------------------------------------------------------------------


def _told_look(*places: tuple[shapely.Polygon, float, float]) -> Look:
    """Of each place what it leaves of the light, and how strange it is."""
    flat = flat_of(drawn())
    left, off = np.ones(flat.known.shape, np.float32), np.zeros(flat.known.shape, np.float32)
    told = np.zeros(flat.known.shape, bool)
    for place, light, strange in places:
        inside = flat.inside(place)
        left[inside], off[inside], told[inside] = light, strange, True
    return Look(flat, Ground(told, told, left, off), told)


@pytest.mark.parametrize(
    ("left", "off", "is_shade"),
    [(0.29, 0.78, True), (0.29, 0.82, False), (0.31, 0.23, True), (0.31, 0.27, False), (0.49, 0.2, True), (0.51, 0.2, False)],
)
def test_the_darker_a_shadow_the_stranger_it_may_be(left: float, off: float, is_shade: bool):
    """Beside a thing no stranger than its ground."""
    thing, rest = block(0, 0, 60, 40), shapely.box(30, -20, 36, 20)
    assert _is_shade(rest, thing, _told_look((rest, left, off)), 20.0) == is_shade


@pytest.mark.parametrize(("height", "wide", "is_shade"), [(0.0, 7.8, True), (0.0, 8.4, False), (5.0, 27.8, True), (5.0, 28.4, False)])
def test_no_shadow_is_wider_than_what_throws_it_could_throw(height: float, wide: float, is_shade: bool):
    """A pale card's dark corner is no thing on a shadow: a millimetre throws none of five centimetres."""
    thing, rest = block(0, 0, 60, 40), shapely.box(30, -20, 30 + wide, 20)
    assert _is_shade(rest, thing, _told_look((rest, 0.29, 0.5)), height) == is_shade
    larger = _solid(shapely.box(-30, -20, 30.6 + wide, 20))  # within half a millimetre of the edge all is the edge
    look = _told_look((larger.silhouette, 0.4, 0.05), (thing, 0.9, 1.0))
    assert _is_beside_the_point(larger, _solid(thing), look, height) == is_shade


@pytest.mark.parametrize(("wide", "is_nothing"), [(1.2, True), (1.7, False)])
def test_what_is_narrower_than_an_edges_blur_is_no_shadow(wide: float, is_nothing: bool):
    smaller, larger = (_solid(block(side / 2, 0, 60 + side, 40)) for side in (0.0, wide))
    look = _told_look((larger.silhouette, 0.4, 0.05), (smaller.silhouette, 0.9, 1.0))
    assert _is_beside_the_point(larger, smaller, look, 20.0) == (not is_nothing)


def _solid(foot: shapely.Polygon) -> SolidSeen:
    x0, y0, x1, y1 = foot.bounds
    values = np.array([(x0 + x1) / 2, (y0 + y1) / 2, x1 - x0, y1 - y0, 0.0])
    return SolidSeen("rectangle", values, seen_of("rectangle", values, found_from().pose, 0.0), 1.0, 1.0, 1.0, 0.1)


def test_a_cups_hard_shadow_is_no_part_of_it_though_its_foot_is_lost_in_it(monkeypatch: pytest.MonkeyPatch):
    """Its top tells what it is; the region with the shadow has plain edges all round as well."""
    monkeypatch.setattr(solids_chosen, "SURE", 0.9)  # of all its edges less is seen; of its top's, all
    rim, base = thrown(disc(200, 40, 76), 78), disc(200, 40, 52)
    shadow = base.union(translate(base, -12, -70)).convex_hull
    dark = (44, 30, 18)
    (cup, *_) = seen([(shadow, dark), (rim.union(base).convex_hull, dark), (rim, (158, 108, 48))], 78.0)
    assert cup.solid is not None and cup.solid.kind == "taper" and not cup.doubts
    assert cup.solid.values[2] == pytest.approx(76, abs=1.0)
    assert cup.solid.seen < 0.9 and is_surely_seen(cup.solid)


@pytest.mark.parametrize(
    ("seen_", "top", "outer", "is_sure"),
    [
        (0.85, 0.4, 0.5, True),
        (0.83, 0.5, 0.5, False),
        (0.83, 0.87, 0.69, True),  # by its top: a foot has no edge in its shadow
        (0.83, 0.85, 0.69, False),
        (0.83, 0.87, 0.67, False),
        (0.83, 0.46, 0.87, True),  # by its silhouette: black on black, a top has none at its near sides
        (0.83, 0.44, 0.87, False),
        (0.83, 0.46, 0.85, False),
    ],
)
@pytest.mark.parametrize(("kind", "values", "height"), [("taper", (-220.0, 60.0, 76.0, 52.0), 78.0), ("rectangle", (-220.0, 60.0, 76.0, 52.0, 0.0), 7.0)])
def test_it_is_sure_by_its_top_or_by_its_silhouette(
    kind: str, values: tuple[float, ...], height: float, seen_: float, top: float, outer: float, is_sure: bool
):
    curves = seen_of(kind, np.array(values), found_from().pose, height)
    assert is_surely_seen(SolidSeen(kind, np.array(values), curves, seen_, top, outer, 0.1)) == is_sure


@pytest.mark.parametrize(("last", "wide"), [(0.935, 54), (0.9, 57)])
def test_none_gives_way_by_small_steps_to_what_is_far_less_seen(last: float, wide: float):
    """Three rectangles, each 3 mm narrower on one side and seen a little less, of which only the narrowest is told from the ground."""
    seen_so = zip((60.0, 57.0, 54.0), (0.98, 0.94, last), strict=True)
    three = [replace(_solid(shapely.box(-30, -20, side - 30, 20)), seen=much) for side, much in seen_so]
    look = _told_look((three[-1].silhouette, 0.9, 1.0))
    one, _ = chosen(three, look, edge_picture(flat_of(drawn())), 20.0)
    assert one is not None and one.values[2] == wide


@pytest.mark.parametrize(("end", "seen_", "right"), [(30.0, 0.94, 30.0), (30.0, 0.96, 27.0), (27.0, 0.94, 27.0)])
def test_what_its_sides_go_on_to_is_no_shadow_of_it(end: float, seen_: float, right: float):
    """A dark tin's last strip, as little told from a shadow as the rest of it: not where the shorter one is seen as well, or ends there."""
    shorter, larger = shapely.box(-30, -20, 27, 20), shapely.box(-30, -20, 30, 20)
    solids = [replace(_solid(larger), seen=0.98), replace(_solid(shorter), seen=seen_)]
    look = _told_look((larger, 0.1, 0.18), (shorter, 0.13, 0.34))
    one, _ = chosen(solids, look, edge_picture(flat_of(drawn((shapely.box(-30, -20, end, 20), (34, 52, 76))))), 20.0)
    assert one is not None and one.silhouette.bounds[2] == pytest.approx(right, abs=0.1)
