"""Glasses: two faint circles where a lens sees them, and what two photographs make of them."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import cv2
import numpy as np
import pytest
import shapely

from tests.core.test_things_seen import BOX, EYE, PAPER, TABLE, disc, drawn, found_from, seen, thrown
from tests.core.test_two_pictures import told
from tideflat.core.errors import FieldError
from tideflat.core.vision import clear_solids
from tideflat.core.vision import things_seen as things_seen_module
from tideflat.core.vision.clear_solids import _about, _round_of, clear_solid, is_straight_from_rim_to_foot
from tideflat.core.vision.edge_doubts import CLEAR
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.solid_curves import seen_of
from tideflat.core.vision.solid_edges import SolidSeen, rated_clear
from tideflat.core.vision.things_seen import ThingSeen, _or_clear
from tideflat.core.vision.two_pictures import _combined


def fading(circle: shapely.Polygon, darkest: float, turn: float, over: float = 0.0, ground=PAPER) -> list:
    """A circle that is darker than what it is on to one side and fades into it to the other, in narrow slices; over: as dark everywhere
    besides."""
    middle, slices = np.array(circle.centroid.coords[0]), []
    for a in np.linspace(0, 2 * np.pi, 48, endpoint=False):
        way = [middle + 200 * np.array([np.cos(t), np.sin(t)]) for t in (a - 0.07, a + 0.07)]
        left = darkest * max(0.0, 0.35 + 0.65 * np.cos(a - turn)) + over
        slices.append((circle.intersection(shapely.Polygon([middle, *way])), tuple(c - left for c in ground)))
    return slices


def glass(x, y, rim, foot, height, eye=EYE, faint=1.0):
    """What paper seen through it loses within its rim, to one side, and in its foot, to the other."""
    return [*fading(thrown(disc(x, y, rim), height, eye), 14 * faint, 0.4), *fading(disc(x, y, foot), 16 * faint, 2.9, 4.0 * faint)]


@pytest.mark.parametrize(("rim", "foot"), [(72, 72), (80, 58)])
@pytest.mark.parametrize("at", [(0, -40), (25, -10), (-20, 5)])
@pytest.mark.parametrize("faint", [1.0, 0.5])
def test_a_glass_is_found_by_its_circles_and_is_not_sure(rim, foot, at, faint):
    (thing,) = seen(glass(*at, rim, foot, 90, faint=faint), 90)
    assert thing.doubts == (CLEAR,) and thing.solid.kind == ("disc" if rim == foot else "taper")
    assert thing.solid.values[:3] == pytest.approx([*at, rim], abs=1.6)
    assert rim == foot or thing.solid.values[3] == pytest.approx(foot, abs=1.6)


@pytest.mark.parametrize("height", [0.0, 90.0])
@pytest.mark.parametrize("at", [(-55, 33), (70, -110), (-190, 20)])
def test_of_all_circles_the_one_that_is_drawn_is_all_edge(at, height):
    """Of every middle and size, on the plane and where a rim is seen; the edges are read at the middles' own places."""
    wide, rows, columns = 28.0 * 1.08**11, 7, 9
    circle = thrown(disc(*at, wide), height).exterior
    flat = flatten(drawn(), found_from().pose.plane_to_pixel, BOX, 1.0)
    ring = np.rint(flat.pixels(np.array(shapely.segmentize(circle, 0.5).coords)) - 0.5).astype(np.int32)
    edges = np.zeros((8, *flat.known.shape), np.uint8)
    for way in edges:
        cv2.polylines(way, [ring], True, 255, 3)
    k = EYE[2] / (EYE[2] - height)
    middles = np.stack(np.meshgrid(at[0] + 4.0 * np.arange(-3, columns - 3), at[1] + 4.0 * np.arange(2, 2 - rows, -1)), axis=-1)
    there = _about(edges, flat, *middles[0, 0], middles.reshape(-1, 2), k, (float(EYE[0]), float(EYE[1])))
    seen_so = {size: _round_of(there, rows, columns, size) for size in (wide / 1.08, wide, wide * 1.08)}
    assert seen_so[wide].shape == (rows, columns) and seen_so[wide][2, 3] == 1.0
    assert sorted(seen_so[wide].ravel())[-2] < 0.7 and max(seen_so[size][2, 3] for size in seen_so if size != wide) < 0.7


def test_a_straight_glass_is_as_plain_as_the_taper_that_it_was_found_as():
    """Of foot and rim as one wide, less is seen where the one is a millimetre wider: what was seen of the taper counts."""
    found, picture = found_from(), drawn(*glass(0, -40, 72.6, 71.4, 90))
    edges = edge_picture(flatten(picture, found.pose.plane_to_pixel, BOX, 2.0))
    one = clear_solid(picture, found, BOX, edges, 90)
    (alone,) = rated_clear(edges, [("disc", one.values)], found.pose, 90)
    (taper,) = rated_clear(edges, [("taper", np.array([0, -40, 72.6, 71.4]))], found.pose, 90)
    assert one.kind == "disc" and one.values == pytest.approx([0, -40, 72], abs=1.0)
    assert alone.seen < one.seen - 0.02 and one.seen == pytest.approx(taper.seen, abs=0.06)


@pytest.mark.parametrize("at", [(-190, 20), (185, -60)])
def test_a_glass_is_found_on_the_table_beside_the_sheet(at):
    rim, foot = (fading(thrown(disc(*at, 72), 90), 14, 0.4, ground=TABLE), fading(disc(*at, 72), 16, 2.9, 4.0, ground=TABLE))
    (thing, *_) = seen([*rim, *foot], 90)
    assert thing.doubts == (CLEAR,) and thing.solid.values[:3] == pytest.approx([*at, 72], abs=1.6)


def test_what_shows_through_a_glass_is_not_the_thing():
    """A spot of its light on the paper, which the other ways take for a thing, in doubt."""
    spot = (disc(14, -22, 26), (252, 251, 250))
    things = seen([*glass(0, -40, 80, 80, 90), spot], 90)
    assert things[0].solid.values[:3] == pytest.approx([0, -40, 80], abs=1.6)


def circles(seen_so: float) -> SolidSeen:
    values = np.array([0.0, 0.0, 70.0])
    return SolidSeen("disc", values, seen_of("disc", values, found_from().pose, 90.0), seen_so, seen_so, seen_so, 0.1)


def stain(x: float, doubts: tuple[str, ...]) -> ThingSeen:
    return ThingSeen(disc(x, 0, 20), disc(x, 0, 20), None, doubts)


@pytest.mark.parametrize(
    ("found", "height", "others", "told"),
    [
        (0.51, 90, [stain(0, ("soft",))], [(CLEAR,)]),
        (0.49, 90, [stain(0, ("soft",))], [("soft",)]),  # too faint to stand for what is there
        (0.49, 90, [], [(CLEAR,)]),
        (0.6, 24, [stain(0, ("soft",))], [("soft",)]),  # no glass is so low
        (0.6, 26, [stain(0, ("soft",))], [(CLEAR,)]),
        (0.6, 90, [stain(0, ())], [()]),  # what is sure there is no glass
        (0.6, 90, [stain(90, ("soft",)), stain(-90, ())], [(CLEAR,), ("soft",), ()]),  # others lie elsewhere
        (0.6, 90, [stain(36, ("soft",)), stain(-20, ())], [("soft",), ()]),
    ],
)
def test_a_glass_stands_for_what_is_in_doubt_about_it(monkeypatch, found, height, others, told):
    monkeypatch.setattr(things_seen_module, "clear_solid", lambda *a: circles(found))
    monkeypatch.setattr(things_seen_module, "is_straight_from_rim_to_foot", lambda *a: False)
    things = _or_clear(others, np.zeros((9, 9, 3), np.uint8), found_from(), BOX, None, float(height))
    assert [t.doubts for t in things] == told


def lines(at: tuple[float, float], wide: float, out: float) -> list:
    """The sides of a glass, so far out of the lines that join its circles."""
    foot = disc(*at, wide)
    hull = foot.union(thrown(foot, 90)).convex_hull.buffer(out)
    between = hull.difference(foot.buffer(2 + out)).difference(thrown(foot, 90).buffer(2 + out))
    seam = hull.difference(hull.buffer(-1.8)).intersection(between.buffer(2))
    return [(part, (206, 204, 200)) for part in getattr(seam, "geoms", [seam])]


@pytest.mark.parametrize(("out", "is_sure"), [(0.0, True), (None, False), (4.0, False)], ids=["straight", "not seen", "bulging"])
def test_a_glass_is_sure_where_it_goes_straight_from_rim_to_foot(out: float | None, is_sure: bool):
    at = (-40, 20)
    (thing, *_) = seen([*glass(*at, 60, 60, 90), *([] if out is None else lines(at, 60, out))], 90)
    assert thing.solid is not None and thing.solid.values == pytest.approx([*at, 60], abs=1.6)
    assert (thing.doubts == ()) == is_sure


@pytest.mark.parametrize(("found", "is_sure"), [(0.51, True), (0.49, False)])
def test_a_glass_whose_circles_are_hardly_seen_is_not_sure(found: float, is_sure: bool, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(things_seen_module, "clear_solid", lambda *a: circles(found))
    monkeypatch.setattr(things_seen_module, "is_straight_from_rim_to_foot", lambda *a: True)
    (thing,) = _or_clear([], np.zeros((9, 9, 3), np.uint8), found_from(), BOX, None, 90.0)
    assert (thing.doubts == ()) == is_sure


def test_one_circle_alone_is_no_glass_nor_is_one_of_another_height():
    shade = tuple(c - 14 for c in PAPER)
    with pytest.raises(FieldError, match="nothing was found"):
        seen([(shapely.box(-40, -60, 50, -56), shade)], 90)
    try:  # the foot alone: nothing, or nothing sure
        things = seen(glass(0, 0, 72, 72, 90)[48:], 90)
    except FieldError:
        return
    assert all(t.doubts for t in things)


@pytest.mark.parametrize(("off", "is_sure"), [(3.8, True), (4.2, False)])
def test_two_photographs_settle_it_where_both_show_it_in_one_place(off, is_sure):
    first, second = told(72, 72, CLEAR), replace(told(72.6, 72.4, CLEAR), place_mm=(off, 0.0))
    assert _combined(first, second).is_sure == is_sure
    # a sheet laid the other way round: places are turned with it
    turned = replace(second, place_mm=(-60.0 - off, 20.0))
    assert _combined(replace(first, place_mm=(60.0, -20.0)), turned, turn=180.0).is_sure == is_sure


def test_another_doubt_in_the_second_is_no_second_sight_of_a_glass():
    first = told(72, 72, CLEAR)
    assert not _combined(first, told(72.2, 72, "ragged")).is_sure and _combined(first, None) is first
    assert _combined(first, told(71, 71)).is_sure  # there it was plain


@pytest.mark.parametrize(("seen_of_sides", "is_straight"), [(0.44, False), (0.46, True)])
def test_a_glass_is_straight_where_nearly_half_of_its_sides_is_seen(
    monkeypatch: pytest.MonkeyPatch, seen_of_sides: float, is_straight: bool
):
    one = SolidSeen("disc", np.array([0.0, 0, 70]), seen_of("disc", np.array([0.0, 0, 70]), found_from().pose, 90.0), 0.6, 0.6, 0.6, 0.1)
    asked: list[int] = []

    def told_so(picture, places, *_):
        asked.append(len(places))
        return SimpleNamespace(plain_within=lambda near: np.full(len(places), seen_of_sides))

    monkeypatch.setattr(clear_solids, "asked", told_so)
    picture = edge_picture(flatten(drawn(), found_from().pose.plane_to_pixel, BOX, 1.0))
    assert is_straight_from_rim_to_foot(one, picture) == is_straight and asked[0] >= 12
