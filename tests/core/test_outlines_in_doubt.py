"""Outlines that a shadow, a dark side, the sheet's edge or a crumb of the mask had a part in, in plane pictures drawn from a known lens."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, translate

from tests.core.test_things_seen import (
    BLUE,
    BOX,
    EYE,
    PAPER,
    RED,
    SHADOW,
    TABLE,
    block,
    disc,
    drawn,
    found_from,
    seen,
    sides_of,
    standing,
    thrown,
)
from tideflat.core.vision.dark_sides import ring_of, with_dark_sides
from tideflat.core.vision.edge_doubts import GOES_ON, edge_seen
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.graph_cut import cut, cut_again
from tideflat.core.vision.measure import _doubts_of_camera
from tideflat.core.vision.pulled_in import follows_sheet, own_share, pulled_in
from tideflat.core.vision.rectified import Flat, flatten
from tideflat.core.vision.sharpened import without_teeth
from tideflat.core.vision.sheet import find_sheet

SHEET = (210.0, 297.0)
NOTCHED = shapely.Polygon([(-60, -45), (60, -45), (60, 0), (5, 0), (5, 45), (-60, 45)])


def flat_of(rgb: np.ndarray) -> Flat:
    return flatten(rgb, found_from().pose.plane_to_pixel, BOX, 2.0)


def shaded(foot: shapely.Polygon, dx: float, dy: float, over: tuple[int, int, int], steps: int = 36) -> list:
    """A soft shadow thrown so far, mm: strips that fade."""
    share = np.linspace(0.97, 0.62, steps)
    places = [translate(foot, dx * (steps - k) / steps, dy * (steps - k) / steps) for k in range(steps)]
    return [(place, tuple(int(c * s) for c in over)) for place, s in zip(places, share, strict=True)]


def far_apart(one: shapely.Polygon, other: shapely.Polygon) -> float:
    return float(one.symmetric_difference(other).area / other.length)


# -- drawn in -------------------------------------------------------------------------------------------------------------------------------


def test_an_outline_along_a_soft_shadow_is_drawn_in_to_the_things_edge():
    board = block(200, 0, 90, 60)
    flat = flat_of(drawn(*shaded(board, 9, -7, TABLE), (board, (60, 110, 50))))
    loose = board.union(translate(board, 8, -6)).convex_hull
    edge = edge_seen(loose, flat)
    tight = loose
    for _ in range(2):
        tight = pulled_in(tight, edge_seen(tight, flat), edge_picture(flat), 20.0, SHEET)
    assert own_share(edge, SHEET) < 0.75 < own_share(edge_seen(tight, flat), SHEET)
    assert far_apart(tight, board) < 0.35 * far_apart(loose, board)


@pytest.mark.parametrize("turn", [0, 40])
def test_a_thin_things_other_side_is_not_taken_for_its_edge(turn: float):
    """The far side of a dark handle stands out more than the side in its own shadow."""
    handle = rotate(block(0, 0, 120, 9), turn)
    flat = flat_of(drawn(*shaded(handle, 3.5, -3.5, PAPER), (handle, (70, 72, 74))))
    loose = handle.union(translate(handle, 3, -3)).convex_hull
    tight = loose
    for _ in range(2):
        tight = pulled_in(tight, edge_seen(tight, flat), edge_picture(flat), 15.0, SHEET)
    assert far_apart(tight, handle) < 0.35 * far_apart(loose, handle)


def test_where_no_edge_runs_within_nothing_is_drawn_in():
    flat = flat_of(drawn())
    on_table = block(200, 0, 90, 60)
    assert pulled_in(on_table, edge_seen(on_table, flat), edge_picture(flat), 20.0, SHEET) is on_table


def test_a_plain_edge_all_round_stays_as_it_is():
    board = block(200, 0, 90, 60)
    flat = flat_of(drawn((board, RED)))
    assert pulled_in(board, edge_seen(board, flat), edge_picture(flat), 20.0, SHEET) is board


def test_what_is_the_sheets_edge_is_no_things():
    flat = flat_of(drawn((block(130, 0, 90, 60), RED)))
    cut_off = shapely.box(105, -30, 175, 30)
    edge = edge_seen(cut_off, flat)
    assert follows_sheet(edge, SHEET)
    assert own_share(edge, SHEET) < float(edge.is_own.mean())
    beside = edge_seen(shapely.box(112, -30, 175, 30), flat)
    assert not follows_sheet(beside, SHEET) and own_share(beside, SHEET) == float(beside.is_own.mean())


@pytest.mark.parametrize(("places", "is_so"), [(8, True), (7, False)])
def test_a_stretch_of_the_sheets_edge_is_six_places(places: int, is_so: bool):
    """The first and the last of those that lie on it are corners."""
    edge = edge_seen(shapely.box(112, -30, 175, 30), flat_of(drawn()))
    ring = np.array([*((105.0, float(y)) for y in range(places)), (125.0, places), (125.0, -1.0)])
    assert follows_sheet(replace(edge, places=ring), SHEET) == is_so


# -- cut again ------------------------------------------------------------------------------------------------------------------------------


def test_a_piece_that_was_lost_over_the_sheets_edge_is_found_again():
    board = translate(rotate(NOTCHED, 20), 105, 10)
    flat = flat_of(drawn((board, (140, 106, 52))))
    lost = board.intersection(shapely.box(105, -200, 400, 200))
    again = cut_again(max(getattr(lost, "geoms", [lost]), key=lambda g: g.area), flat)
    assert again is not None and far_apart(again, board) < 1.0 < far_apart(lost, board)


def test_of_the_ground_alone_nothing_is_made():
    flat = flat_of(drawn())
    assert cut_again(block(200, 0, 60, 40), flat) is None


def test_a_cut_of_only_one_kind_is_that_kind():
    picture = np.zeros((20, 20, 3), np.uint8)
    assert cut(picture, np.full((20, 20), cv2.GC_PR_FGD, np.uint8)).all()
    assert not cut(picture, np.full((20, 20), cv2.GC_BGD, np.uint8)).any()


# -- dark sides -----------------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("height", [12.0, 28.0])
def test_a_side_as_dark_as_its_shadow_lies_beyond_the_near_edge(height):
    foot = block(150, 40, 90, 60, 0.3)
    k = EYE[2] / (EYE[2] - height)
    roof = thrown(foot, height)
    whole = foot.union(roof).convex_hull
    for side, hidden in ((SHADOW, True), ((120, 40, 32), False)):
        rgb = drawn((whole, side), (roof, RED))
        flat = flat_of(rgb)
        dark = np.where(flat.rgb.max(axis=2) < 60, 0.2, 1.0)
        told = roof if hidden else whole
        sides = with_dark_sides(told, edge_picture(flat), dark, flat, EYE[:2], k)
        assert far_apart(sides, whole) < 0.6, side


def test_straight_from_above_there_is_no_side():
    board = block(0, 0, 90, 60)
    flat = flat_of(drawn((board, RED)))
    assert with_dark_sides(board, edge_picture(flat), np.ones(flat.rgb.shape[:2]), flat, np.zeros(2), 1.0) is board


def test_the_ring_of_an_outline_looks_out():
    places, outward = ring_of(disc(30, 20, 60))
    assert ((places - [30, 20]) * outward).sum(axis=1) == pytest.approx(30, abs=0.2)
    assert np.linalg.norm(outward, axis=1) == pytest.approx(1)


# -- what goes on, and crumbs -----------------------------------------------------------------------------------------------------------------


def test_an_outline_that_ends_in_the_middle_of_a_thing_says_that_it_goes_on():
    stick = block(200, 0, 150, 12, 0.5)
    flat = flat_of(drawn((stick, (186, 140, 90))))
    half = stick.intersection(translate(stick, 40, 22))
    assert GOES_ON in edge_seen(half, flat).doubts
    assert edge_seen(stick, flat).doubts == []


def test_a_crumb_that_sticks_out_is_cut_off_and_a_tip_is_not():
    leaf = shapely.Polygon([(150, 0), (190, 18), (250, 0), (190, -18)])
    flat = flat_of(drawn((leaf, (80, 130, 50))))
    crumb = leaf.union(shapely.Polygon([(205, 12), (208, 17), (211, 11)]))
    assert crumb.area > leaf.area + 3
    assert far_apart(without_teeth(crumb, edge_seen(crumb, flat)), leaf) < 0.12
    assert without_teeth(leaf, edge_seen(leaf, flat)) is leaf


# -- all of it ------------------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("turn", [-0.5, 0.5])
def test_a_spoon_over_the_sheets_edge_with_a_soft_shadow_along_one_side(turn):
    spoon = disc(60, 0, 36).union(shapely.box(-70, -4, 60, 4))
    placed = translate(rotate(spoon, np.degrees(turn), origin=(0, 0)), 110, 0)
    grey = (104, 106, 104)
    (thing, *_) = seen([*shaded(placed, 6, 5, (200, 196, 190)), (placed, grey)], 0)
    assert thing.doubts or sides_of(thing)[1] == pytest.approx(148, abs=2)
    assert sides_of(thing)[1] < 160


@pytest.mark.parametrize(("eye", "wide", "base", "high"), [((98, -304, 296), 107, 74, 77), ((-60, -250, 330), 84, 60, 90)])
def test_a_tall_cup_wider_at_its_rim_seen_from_low(eye, wide, base, high):
    eye = np.array(eye, dtype=float)
    rim, foot = thrown(disc(60, -20, wide), high, eye), disc(60, -20, base)
    (cup, *_) = seen([(rim.union(foot).convex_hull, (120, 84, 24)), (rim, (160, 116, 40))], high, eye)
    assert cup.solid is not None and cup.solid.kind == "taper" and not cup.doubts
    assert cup.solid.values == pytest.approx([60, -20, wide, base], abs=1.0)


def test_a_black_slab_is_all_of_it_though_its_side_is_black_too():
    foot = block(60, -20, 81, 81, 0.4)
    (thing, *_) = seen(standing(foot, 6, (34, 36, 38), (16, 17, 18)), 6)
    assert sides_of(thing) == pytest.approx([81, 81], abs=1.6)


def test_a_patch_of_the_table_at_the_pictures_edge_is_no_thing():
    patch = shapely.Polygon([(250, 150), (340, 150), (340, 270), (270, 270)])
    soft = [(patch.buffer(12 - k), tuple(int(c + 1.8 * k) for c in TABLE)) for k in range(24)]
    (thing, *_) = seen([*soft, (disc(-200, 0, 60), BLUE)], 0)
    assert thing.solid is not None and thing.solid.values == pytest.approx([-200, 0, 60], abs=0.5)


def test_what_is_whole_goes_on_nowhere_however_alike_a_patch_beside_it():
    plate, patch = disc(0, 40, 120), disc(0, -30, 12)
    (thing, *_) = seen([(plate, RED), (translate(patch, 0, -2.5), RED)], 0)
    assert thing.solid is not None and GOES_ON not in thing.doubts


# -- a sheet with a corner cut off ------------------------------------------------------------------------------------------------------------


def photograph_with_a_corner_off(share: float) -> np.ndarray:
    """A sheet turned a little, its lowest corner below the picture by that share of its width."""
    picture = np.full((750, 1000, 3), (70, 84, 64), np.uint8)
    corners = np.array([[-105, -148.5], [105, -148.5], [105, 148.5], [-105, 148.5]]) * 2.0
    spin = np.array([[np.cos(0.6), np.sin(0.6)], [-np.sin(0.6), np.cos(0.6)]])
    ring = corners @ spin
    ring = ring + [500, 750 + share * 1000 - ring[:, 1].max()]
    big = cv2.fillPoly(np.zeros((3000, 4000), np.uint8), [np.rint(ring * 4).astype(np.int32)], 255)
    cover = cv2.resize(big, (1000, 750), interpolation=cv2.INTER_AREA)[..., None] / 255
    return (picture * (1 - cover) + np.array(PAPER) * cover).astype(np.uint8)


def test_a_sheet_with_a_corner_cut_off_is_found_by_its_edges():
    for share, is_found in ((-0.02, True), (0.06, True), (0.2, False)):
        found = find_sheet(photograph_with_a_corner_off(share), "a4")
        assert (found is not None) is is_found, share
        if found is not None:
            sides = np.linalg.norm(np.roll(found.corners, -1, axis=0) - found.corners, axis=1)
            assert sorted(sides) == pytest.approx([420, 420, 594, 594], abs=1.5)


# -- what the camera leaves in doubt --------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("height", "focal_from", "is_doubt"), [(16.5, "usual", False), (17.5, "usual", True), (17.5, "camera", False)])
def test_a_guessed_focal_length_is_a_doubt_from_four_per_cent_of_enlargement_on(height, focal_from, is_doubt):
    """By hand: from 420 mm, 16.5 mm high is seen 1.0409 times as large, 17.5 mm 1.0435 times."""
    found = found_from()
    guessed = replace(found, pose=replace(found.pose, focal_from=focal_from))
    assert any("its focal length" in why for why in _doubts_of_camera(guessed, height, by_hand=False)) is is_doubt


@pytest.mark.parametrize(("by", "is_doubt"), [(1 / (2 * 0.69), False), (1 / (2 * 0.71), True)])
def test_a_pixel_larger_than_seven_tenths_of_a_millimetre_is_a_doubt(by, is_doubt):
    found = found_from()  # two pixels a mm
    smaller = replace(found, corners=found.corners * by)
    assert any("a pixel of the picture" in why for why in _doubts_of_camera(smaller, 0.0, by_hand=False)) is is_doubt
