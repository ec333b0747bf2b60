"""A sheet on tables that are as light as it is in places, or that have long lines of their own."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision import measure
from tideflat.core.vision import sheet_look as sheet_look_module
from tideflat.core.vision.measure import _doubts_of_camera, sheet_in
from tideflat.core.vision.sheet import FoundSheet, _first_that_fits, _is_plainly_one, _looked, find_hidden_sheet, find_sheet
from tideflat.core.vision.sheet_lines import quadrilaterals_of_lines
from tideflat.core.vision.sheet_regions import quadrilaterals_of_regions
from tideflat.core.vision.solid_starts import _of_pattern


def a4_corners(tilt: float, turn: float) -> np.ndarray:
    """Where a pinhole camera 620 mm off sees A4 (ISO 216), pixels of 1 200 x 900."""
    return pixels_of(np.array([[-105, 148.5], [105, 148.5], [105, -148.5], [-105, -148.5]]), tilt, turn)


def pixels_of(points: np.ndarray, tilt: float, turn: float) -> np.ndarray:
    """Of places (n, 2), mm from the sheet's middle along its sides."""
    t, r = np.radians(tilt), np.radians(turn)
    x, y = (points @ np.array([[np.cos(r), np.sin(r)], [-np.sin(r), np.cos(r)]])).T
    depth = 620 + y * np.sin(t)
    return np.column_stack([600 + 900 * x / depth, 450 - 900 * y * np.cos(t) / depth])


def laid(table: np.ndarray, corners: np.ndarray, seed: int = 1) -> np.ndarray:
    """The picture of a sheet on a table (h, w, 3), blurred and noisy as a photograph is."""
    mask = np.zeros(table.shape[:2], np.uint8)
    cv2.fillPoly(mask, [np.rint((corners - 0.5) * 256).astype(np.int32)], 255, cv2.LINE_AA, 8)
    cover = (mask / 255)[..., None]
    picture = cv2.GaussianBlur((table * (1 - cover) + np.array([243.0, 242, 238]) * cover).astype(np.float32), (0, 0), 0.8)
    return np.clip(picture + np.random.default_rng(seed).normal(0, 2, picture.shape), 0, 255).astype(np.uint8)


def checks(size: int, light: tuple[int, int, int]) -> np.ndarray:
    y, x = np.mgrid[0:900, 0:1200]
    a = np.radians(31)
    is_light = (((x * np.cos(a) + y * np.sin(a)) // size + (y * np.cos(a) - x * np.sin(a)) // size) % 2 == 0)[..., None]
    return np.where(is_light, np.array(light, float), np.array([120.0, 140, 158]))


def boards() -> np.ndarray:
    table = np.full((900, 1200, 3), (176.0, 140, 100))
    table[::90] = table[1::90] = (90, 66, 44)
    return table


@pytest.mark.parametrize("tilt", [0, 20, 38])
@pytest.mark.parametrize(
    "table", [checks(52, (231, 228, 220)), checks(90, (226, 222, 214)), boards()], ids=["checks", "large checks", "boards"]
)
def test_the_sheet_is_found_where_it_lies(table, tilt):
    corners = a4_corners(tilt, 9)
    found = find_sheet(laid(table, corners), "a4")
    assert found is not None
    assert np.abs(found.corners - corners).max() < 1.5 and found.pose.tilt_deg == pytest.approx(tilt, abs=4)


@pytest.mark.parametrize("table", [checks(52, (236, 234, 228)), boards()], ids=["checks", "boards"])
def test_a_table_without_a_sheet_has_none(table):
    nowhere = np.array([[-500.0, -500], [-400, -500], [-400, -400], [-500, -400]])
    assert find_sheet(laid(table, nowhere), "a4") is None and find_hidden_sheet(laid(table, nowhere), "a4") is None


def test_four_lines_that_are_darker_inside_are_no_sheet():
    dark = laid(np.full((900, 1200, 3), 230.0), np.array([[-9.0, -9], [-8, -9], [-8, -8], [-9, -8]]))
    cv2.fillConvexPoly(dark, a4_corners(10, 5).astype(np.int32), (60, 60, 60))
    assert list(quadrilaterals_of_lines(cv2.cvtColor(dark, cv2.COLOR_RGB2GRAY))) == []
    light = 255 - dark
    assert len(list(quadrilaterals_of_lines(cv2.cvtColor(light, cv2.COLOR_RGB2GRAY)))) >= 1


# -- by what no edge runs through -----------------------------------------------------------------------------------------------------------

WHITE_CHECKS = (236.0, 232, 222)  # hardly darker than the paper


def covered(picture: np.ndarray, outline: np.ndarray, colour: tuple[float, float, float]) -> np.ndarray:
    return cv2.fillPoly(picture.copy(), [np.rint(outline).astype(np.int32)], colour, cv2.LINE_AA)


@pytest.mark.parametrize("tilt", [4, 26, 38])
@pytest.mark.parametrize(("size", "turn"), [(70, 14), (52, 25), (44, 40)])
def test_on_white_checks_the_sheet_is_what_no_edge_runs_through(size, turn, tilt):
    corners = a4_corners(tilt, turn)
    found = find_sheet(laid(checks(size, WHITE_CHECKS), corners), "a4")
    assert found is not None and apart(found, corners) < 1.8


def apart(found: FoundSheet, corners: np.ndarray) -> float:
    return min(float(np.abs(np.roll(found.corners, k, axis=0) - corners).max()) for k in range(4))


def with_a_corner_hidden(picture: np.ndarray, corners: np.ndarray, corner: int) -> np.ndarray:
    """A cloth lies over it and nearly half of both its edges."""
    at, before, after = corners[corner], corners[corner - 1], corners[(corner + 1) % 4]
    out = at - corners.mean(axis=0)
    cloth = np.array([at + 0.42 * (before - at), at + 0.42 * (after - at), at + 0.5 * (after - at) + out, at + 0.5 * (before - at) + out])
    return covered(picture, cv2.convexHull(cloth.astype(np.float32))[:, 0], (150, 52, 56))


@pytest.mark.parametrize("corner", [0, 1, 2, 3])
@pytest.mark.parametrize(("size", "turn"), [(52, 5), (52, 14), (52, 40), (60, 14), (60, 25), (70, 14)])
def test_with_a_corner_and_parts_of_two_edges_hidden_it_is_right_or_in_doubt(size, turn, corner):
    """Checks go round quadrilaterals of nearly a sheet's shape: corners that fit it less than exactly are no sure ones."""
    corners = a4_corners(20, turn)
    found = find_sheet(with_a_corner_hidden(laid(checks(size, WHITE_CHECKS), corners), corners, corner), "a4")
    is_doubted = found is not None and any("sheet" in why for why in _doubts_of_camera(found, 0.0, by_hand=False))
    assert found is None or apart(found, corners) < 3.0 or is_doubted
    assert size < 70 or (found is not None and apart(found, corners) < 1.5 and not is_doubted)


def test_a_card_of_the_sheets_own_shape_is_not_the_sheet():
    """A6 has A4's sides at half their length: a cream card with a dark block, plainer edged than white paper on white checks."""
    a6 = np.array([[-52.5, 74.25], [52.5, 74.25], [52.5, -74.25], [-52.5, -74.25]])
    paper, card, block = a4_corners(16, 14), pixels_of(a6 + [200, 40], 16, 14), pixels_of(0.4 * a6 + [200, 40], 16, 14)
    picture = covered(laid(checks(70, WHITE_CHECKS), paper), card, (214, 178, 120))
    picture = covered(picture, block, (40, 84, 80))
    found = find_sheet(picture, "a4")
    assert found is not None and apart(found, paper) < 2.0


def test_regions_without_straight_sides_give_no_quadrilateral_that_is_none():
    round_ = np.full((900, 1200), 90, np.uint8)
    cv2.circle(round_, (600, 450), 300, 240, cv2.FILLED, cv2.LINE_AA)
    assert not list(quadrilaterals_of_regions(np.full((900, 1200), 90, np.uint8)))
    for four in quadrilaterals_of_regions(round_):  # what is left goes round it
        assert cv2.contourArea(four.astype(np.float32)) > 0.9 * np.pi * 300**2


def test_a_dozen_of_one_size_are_a_tables_pattern_and_fewer_are_things():
    def boxes(count: int) -> np.ndarray:
        return np.array([(40.0 * n, 0, 40 * n + 30, 30) for n in range(count)])

    many, few = boxes(42), boxes(41)
    assert _of_pattern(many).all() and not _of_pattern(few).any()
    odd = np.vstack([many, [(0, 500, 60, 560)]])
    assert not _of_pattern(odd)[-1] and _of_pattern(odd)[:-1].all()
    assert not _of_pattern(np.repeat(boxes(1), 60, axis=0)).any()  # one, found sixty times


# -- what lies across its edges -----------------------------------------------------------------------------------------------------------


def shaded(picture: np.ndarray, region: np.ndarray, left: float, blur: float = 0.0) -> np.ndarray:
    """The same with so much of its light left over a region (n, 2), pixels; its border blurred so far."""
    mask = np.zeros(picture.shape[:2], np.float32)
    cv2.fillPoly(mask, [np.rint(region).astype(np.int32)], 1.0)
    mask = cv2.GaussianBlur(mask, (0, 0), blur) if blur else mask
    return np.clip(picture * (1 - (1 - left) * mask[..., None]), 0, 255).astype(np.uint8)


def round_about(middle, radius) -> np.ndarray:
    t = np.linspace(0, 2 * np.pi, 80)
    return np.asarray(middle) + radius * np.column_stack([np.cos(t), np.sin(t)])


@pytest.mark.parametrize("corner", range(4))
@pytest.mark.parametrize("tilt", [0, 25])
def test_a_sheet_is_found_under_a_thing_on_its_corner_and_that_things_hard_shadow(tilt, corner):
    corners = a4_corners(tilt, 14)
    a, b = corners[corner], corners[(corner + 1) % 4]
    picture = laid(np.full((900, 1200, 3), (186.0, 178, 158)), corners)
    picture = shaded(picture, round_about(a + 0.42 * (b - a), 0.3 * np.linalg.norm(b - a)), 0.35)
    cv2.fillPoly(picture, [np.rint(round_about(a, 0.24 * np.linalg.norm(b - a))).astype(np.int32)], (120, 60, 30))
    found = find_sheet(picture, "a4") or find_hidden_sheet(picture, "a4")
    assert found is not None and np.abs(found.corners - corners).max() < 2.5


@pytest.mark.parametrize("corner", range(4))
def test_the_next_likely_one_is_asked_where_the_likeliest_fits_no_sheet(corner):
    """As where a soft shadow darkens a corner, and its bright part ends before."""
    corners = a4_corners(12, 9)
    picture = laid(np.full((900, 1200, 3), (128.0, 124, 110)), corners)
    looked = _looked(picture, "a4", None)
    less, near = corners.copy(), corners + [3.0, -2.0]
    less[corner] += 0.6 * (corners.mean(axis=0) - corners[corner])
    assert _first_that_fits([less * looked.look.scale], looked) is None
    found = _first_that_fits([place * looked.look.scale for place in (less, less + 1.0, near)], looked)
    assert found is not None and np.abs(found.corners - corners).max() < 1.5


@pytest.mark.parametrize("size", [60, 95])
def test_checks_with_a_shadow_and_a_thing_on_them_are_no_sheet(size):
    nowhere = np.array([[-500.0, -500], [-400, -500], [-400, -400], [-500, -400]])
    picture = shaded(laid(checks(size, (236, 234, 228)), nowhere), round_about((560, 430), 200), 0.4)
    cv2.fillPoly(picture, [np.rint(round_about((640, 380), 120)).astype(np.int32)], (120, 60, 30))
    assert all(look(picture, kind) is None for look in (find_sheet, find_hidden_sheet) for kind in ("a4", "letter"))


@pytest.mark.parametrize(("before", "is_found"), [(3, True), (4, False)])
def test_no_more_than_four_likely_ones_are_looked_at_closely(before, is_found):
    corners = a4_corners(12, 9)
    looked = _looked(laid(np.full((900, 1200, 3), (128.0, 124, 110)), corners), "a4", None)
    less = corners + 0.6 * (corners.mean(axis=0) - corners) * [[1], [0], [0], [0]]
    wrong = [(less + 10.0 * n) * looked.look.scale for n in range(before)]
    assert _first_that_fits(wrong, looked) is None
    assert (_first_that_fits([*wrong, wrong[0] + 1.0, corners * looked.look.scale], looked) is not None) == is_found


@pytest.mark.parametrize(("longer", "hidden", "is_one"), [(1.0, 0.0, True), (1.02, 0.0, True), (1.045, 0.0, False), (1.0, 0.9, True), (1.0, 1.9, False)])
def test_what_is_hidden_is_a_sheet_only_by_its_edges_and_its_shape(longer, hidden, is_one):
    """hidden: so many of its edges have something as bright beyond."""
    corners = a4_corners(0, 0)
    middle = corners.mean(axis=0)
    corners = middle + (corners - middle) * [1.0, longer]
    picture = laid(np.full((900, 1200, 3), (128.0, 124, 110)), corners)
    for edge, share in ((0, min(hidden, 1.0)), (1, max(0.0, hidden - 1.0))):
        if share:
            a, b = corners[edge], corners[edge] + share * (corners[edge + 1] - corners[edge])
            out = 40 * ((a + b) / 2 - middle) / np.linalg.norm((a + b) / 2 - middle)
            cv2.fillPoly(picture, [np.rint([a, b, b + out, a + out]).astype(np.int32)], (243, 242, 238))
    looked = _looked(picture, "a4", None)
    assert _is_plainly_one(corners * looked.look.scale, looked) == is_one


# -- where what is likeliest is hardly of a sheet's shape -----------------------------------------------------------------------------------


@pytest.mark.parametrize(("skew", "is_looked_again"), [(0.031, True), (0.029, False)])
def test_what_hardly_fits_a_sheet_gives_way_to_what_plainly_does(skew: float, is_looked_again: bool, monkeypatch: pytest.MonkeyPatch):
    """A tall tin's top hides most of an edge, and an edge of the tin's, with a shadow's, is taken for it."""
    corners = np.array([(341.0, 234), (730, 158), (904, 719), (448, 835)])
    body, top = ([(410, 308), (612, 123), (771, 257), (711, 389), (575, 530), (463, 428)], [(410, 308), (612, 123), (771, 257), (577, 459)])
    picture = laid(np.full((900, 1200, 3), (176.0, 104, 72)), corners)
    picture = covered(covered(picture, np.array(body), (62, 66, 84)), np.array(top), (66, 80, 118))
    photograph = Photograph(picture, None)
    found = find_sheet(picture, "a4")
    assert found is not None
    ill = replace(found, corners=found.corners + [[0, 0], [-22, -80], [0, 0], [0, 0]], pose=replace(found.pose, skew=skew))
    monkeypatch.setattr(measure, "find_sheet", lambda *_: ill)
    assert (sheet_in(photograph, "a4") is not ill) == is_looked_again
    if is_looked_again:
        assert apart(sheet_in(photograph, "a4"), corners) < 1.5
    for no_better in (replace(found, pose=replace(found.pose, skew=0.031)), None):
        monkeypatch.setattr(measure, "find_crossed_sheet", lambda *_, other=no_better: other)
        assert sheet_in(photograph, "a4") is ill


def test_a_photograph_is_gone_through_once_whatever_sheets_are_asked_for(monkeypatch: pytest.MonkeyPatch):
    """Of a Letter sheet: no A4 is found by any way, then the Letter by those that have been gone already; and the same as by itself."""
    wide, deep = 279.4, 215.9
    corners = 2.4 * (np.array([[0, 0], [wide, 0], [wide, deep], [0, deep]]) + [110.0, 70.0])
    picture = laid(np.full((900, 1200, 3), (128.0, 124, 110)), corners)
    masks, asked = sheet_look_module.quadrilaterals_of_masks, []
    monkeypatch.setattr(sheet_look_module, "quadrilaterals_of_masks", lambda *given: asked.append(1) or masks(*given))
    ready = sheet_look_module.sheet_look(picture)
    assert find_sheet(ready, "a4") is None and find_hidden_sheet(ready, "a4") is None
    found = find_sheet(ready, "letter")
    assert len(asked) == 1 and np.abs(found.corners - corners).max() < 1.5
    assert np.array_equal(found.corners, find_sheet(picture, "letter").corners) and len(asked) == 2


@pytest.mark.parametrize(("side", "is_asked"), [(47, False), (48, True)])
def test_a_picture_of_a_few_pixels_shows_no_sheet(side: int, is_asked: bool):
    assert (_looked(np.zeros((side, 90, 3), np.uint8), "a4", None) is not None) == is_asked
    assert find_sheet(np.zeros((side, 90, 3), np.uint8), "a4") is None
