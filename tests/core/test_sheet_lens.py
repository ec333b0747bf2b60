"""How the lens bends, out of places along a sheet's four edges; and what is measured with it."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
import shapely

from tests.core.test_sheet_lines import a4_corners, laid
from tests.core.test_things_seen import found_from
from tests.core.test_two_pictures import told
from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision import measure, sheet
from tideflat.core.vision.pose import pose_of
from tideflat.core.vision.rectified import at_height
from tideflat.core.vision.rectified import through as through_plane
from tideflat.core.vision.sheet_lens import Bend, SheetLens, _moved_inward, bend_along
from tideflat.core.vision.sheet_sides import SheetSide, meeting
from tideflat.core.vision.solid_curves import seen_of_each
from tideflat.core.vision.solid_edges import SolidSeen
from tideflat.core.vision.two_pictures import _height_between, _One
from tideflat.core.vision.without_bend import bent_by, in_picture, seen_from, settled, without_bend

SIZE, A4 = (1600, 1200), (210.0, 297.0)
SHARES = np.linspace(0.03, 0.97, 90)


def seen_through(bend: float, tilt: float = 0.0, turn: float = 0.0, at: tuple[float, float] = (0.0, 0.0), away: float = 480.0, size=SIZE):
    """(sides, corners (4, 2) and a function from mm to pixels) of an A4 sheet through OpenCV's model of a lens; the terms as those of half a
    diagonal."""
    half = float(np.hypot(*size)) / 2
    camera = np.array([[half, 0, size[0] / 2], [0, half, size[1] / 2], [0, 0, 1]])
    lean = cv2.Rodrigues(np.array([np.radians(tilt), 0, 0]))[0] @ np.diag([1.0, -1, -1]) @ cv2.Rodrigues(np.array([0, 0, np.radians(turn)]))[0]

    def pixels(mm: np.ndarray) -> np.ndarray:
        points = np.column_stack([np.asarray(mm, float) + at, np.zeros(len(mm))])
        return cv2.projectPoints(points, cv2.Rodrigues(lean)[0], np.array([0, 0, away]), camera, np.array([bend, 0.0, 0.0, 0.0]))[0][:, 0]

    half_mm = np.array([[-105, 148.5], [105, 148.5], [105, -148.5], [-105, -148.5]])
    corners = pixels(half_mm)
    sides = []
    for k in range(4):
        start, end = corners[k], corners[(k + 1) % 4]
        along = (end - start) / np.linalg.norm(end - start)
        inward = np.array([-along[1], along[0]])
        inward = inward * np.sign(inward @ (corners.mean(axis=0) - start))
        dense = pixels(half_mm[k] + (half_mm[(k + 1) % 4] - half_mm[k]) * np.linspace(0, 1, 2000)[:, None])
        places = (dense - start) @ along / np.linalg.norm(end - start)
        offset = np.interp(SHARES, places, (dense - start) @ inward)
        sides.append(SheetSide(start - 0.5, end - 0.5, inward, SHARES, offset, np.ones(len(SHARES), bool)))
    return sides, corners, pixels


def lens_of(sides: list[SheetSide], corners: np.ndarray, size=SIZE) -> SheetLens | None:
    told = bend_along(sides, corners - 0.5, size)
    return None if told is None else SheetLens(told[0], pose_of(told[1], A4, size, None))


@pytest.mark.parametrize("by", [-0.06, -0.01, 0.0, 0.02, 0.06])
def test_there_and_back(by: float):
    bend = Bend(by, np.array([800.0, 600.0]), 1000.0)
    places = np.random.default_rng(2).uniform([0, 0], SIZE, (200, 2))
    assert bend.straightened(bend.bent(places)) == pytest.approx(places, abs=1e-6)
    corner = bend.straightened(np.array([[0.0, 0.0]]))[0]
    assert np.linalg.norm(corner - bend.middle) == pytest.approx(1000 * (1 + by))


@pytest.mark.parametrize("bend", [-0.05, -0.012, 0.0, 0.012, 0.05])
@pytest.mark.parametrize(("tilt", "turn", "at"), [(0, 0, (0, 0)), (30, 20, (0, 0)), (12, 95, (60, -30))])
def test_what_lies_beside_the_sheet_has_its_own_length(bend: float, tilt: float, turn: float, at: tuple[float, float]):
    sides, corners, pixels = seen_through(bend, tilt, turn, at)
    lens = lens_of(sides, corners)
    assert lens is not None and lens.bend.by == pytest.approx(-bend, abs=0.12 * abs(bend) + 1e-4)
    ends = np.array([[220.0, -90], [220, 90], [-230, 60], [-110, 60], [110, -150], [230, -150]])
    there = lens.on_table(pixels(ends), 0.0)
    lengths = np.linalg.norm(there[1::2] - there[::2], axis=1)
    assert lengths == pytest.approx([180, 120, 120], rel=0.005)
    assert there == pytest.approx(ends, abs=0.01 if bend == 0 else 2.0)
    assert lens.in_picture(there, 0.0) == pytest.approx(pixels(ends), abs=0.01)


def test_a_bend_that_does_not_show_is_not_made_up():
    """Edges to a third of a pixel tell next to nothing of a small sheet: what is usual is believed."""
    for seed in range(6):
        random = np.random.default_rng(seed)
        sides, corners, _ = seen_through(0.0, away=2600.0)
        noisy = [replace(side, offset=side.offset + random.normal(0, 0.2, len(SHARES))) for side in sides]
        lens = lens_of(noisy, corners)
        assert lens is not None and abs(lens.bend.by) < 0.012


def test_a_thing_across_an_edge_does_not_bend_it():
    sides, corners, _ = seen_through(-0.02)
    hidden = SHARES < 0.3
    across = [replace(sides[0], offset=np.where(hidden, 6 + 3 * SHARES, sides[0].offset)), *sides[1:]]
    lens = lens_of(across, corners)
    assert lens is not None and lens.bend.by == pytest.approx(0.02, abs=0.002)


@pytest.mark.parametrize(("seen", "is_told"), [(0.56, True), (0.48, False)])
def test_half_of_each_edge_tells(seen: float, is_told: bool):
    sides, corners, _ = seen_through(-0.02)
    part = [replace(side, plain=0.03 + seen > SHARES) for side in sides[:1]] + sides[1:]
    assert (lens_of(part, corners) is not None) is is_told


@pytest.mark.parametrize(("wave", "is_told"), [(0.2, True), (0.4, False)])
def test_edges_that_waver_tell_nothing(wave: float, is_told: bool):
    sides, corners, _ = seen_through(0.0)
    waving = [replace(side, offset=side.offset + wave * np.sqrt(2) * np.sin(SHARES * 31)) for side in sides]
    assert (lens_of(waving, corners) is not None) is is_told


@pytest.mark.parametrize(("bend", "is_told"), [(-0.12, True), (0.12, True), (-0.17, False), (0.17, False)])
def test_no_lens_bends_by_more(bend: float, is_told: bool):
    """All of it comes back from there: what is further out is seen further out."""
    straight, corners, _ = seen_through(0.0)
    middle, half = np.array(SIZE) / 2 - 0.5, 1000.0
    sides = [replace(side, offset=side.offset - bend * _moved_inward(side, middle, half)) for side in straight]
    lens = lens_of(sides, corners)
    assert (lens is not None) is is_told
    if lens is not None:
        assert lens.bend.by == pytest.approx(bend, rel=0.1)
        places = np.stack(np.meshgrid(np.linspace(0, 1600, 9), np.linspace(0, 1200, 7)), axis=-1).reshape(-1, 2)
        assert lens.bend.bent(lens.bend.straightened(places)) == pytest.approx(places, abs=1e-6)


@pytest.mark.parametrize(("wave", "is_told"), [(0.4, True), (0.6, False)])
def test_in_a_large_picture_edges_may_waver_by_as_large_a_share(wave: float, is_told: bool):
    size = (4000, 3000)
    sides, corners, _ = seen_through(0.0, size=size)
    waving = [replace(side, offset=side.offset + wave * np.sqrt(2) * np.sin(SHARES * 31)) for side in sides]
    assert (lens_of(waving, corners, size) is not None) is is_told


@pytest.mark.parametrize("size", [(1200, 1600), (3000, 4000), (900, 900)])
def test_upright_and_square_pictures_are_as_others(size: tuple[int, int]):
    sides, corners, pixels = seen_through(-0.03, tilt=20, turn=15, size=size)
    lens = lens_of(sides, corners, size)
    ends = np.array([[160.0, 90], [160, -90]])
    assert lens is not None and np.linalg.norm(np.subtract(*lens.on_table(pixels(ends), 0.0))) == pytest.approx(180, rel=0.004)


def test_a_sheet_bent_over_to_one_side_is_no_lens():
    """Two opposite edges that bow the same way, as of paper that was rolled: no lens does that."""
    sides, corners, _ = seen_through(0.0)
    bow = 2.0 * (1 - (2 * SHARES - 1) ** 2)
    rolled = [sides[0], replace(sides[1], offset=sides[1].offset + bow), sides[2], replace(sides[3], offset=sides[3].offset - bow)]
    lens = lens_of(rolled, corners)
    assert lens is None or abs(lens.bend.by) < 0.004


def test_edges_that_do_not_meet_near_the_corners_tell_nothing():
    sides, corners, _ = seen_through(0.0)
    assert bend_along(sides, corners - 0.5, SIZE) is not None
    assert bend_along(sides, corners - 0.5 + [160.0, 0], SIZE) is None
    assert meeting(corners, [None, None, None, None], 3.0) is None


def test_corners_that_a_part_of_an_edge_told_have_no_lens(monkeypatch: pytest.MonkeyPatch):
    """The whole of it follows something else then."""
    picture = laid(np.full((900, 1200, 3), (92.0, 84, 76)), a4_corners(20, 10))
    found = sheet.find_sheet(picture, "a4")
    assert found is not None and found.lens is not None
    monkeypatch.setattr(sheet, "_ILL_SKEW", -1.0)
    by_parts = sheet.find_sheet(picture, "a4")
    assert by_parts is not None and by_parts.lens is None


# -- what was told as if the lens did not bend ------------------------------------------------------------------------------------------------


def through(bend: float, height: float = 0.0):
    """A sheet found in a plane picture, and the lens that it is really seen by."""
    plain = found_from((30.0, -120.0, 520.0))
    pose = replace(plain.pose, eye=np.array([20.0, -130.0, 530.0]))
    return replace(plain, lens=SheetLens(Bend(bend, np.array([650.0, 500.0]), 820.0), pose))


def solid(kind: str, *values: float, height: float) -> SolidSeen:
    (curves,) = seen_of_each(kind, np.array([values]), through(0.0).pose, height)
    return SolidSeen(kind, np.array(values), curves, 0.9, 0.9, 0.9, 0.1)


@pytest.mark.parametrize("height", [0.0, 40.0])
@pytest.mark.parametrize("bend", [-0.04, 0.03])
def test_places_go_where_the_lens_shows_them(bend: float, height: float):
    found = through(bend)
    places = np.array([[200.0, 80], [-250, -100], [0, 0], [60, 140]])
    own = settled(found, places, height)
    assert in_picture(found, own, height) == pytest.approx(through_plane(at_height(found.pose, height), places), abs=1e-6)
    near = own[0] + np.array([[6.0, 0], [0, 6], [-6, -6]])
    by_plane = through_plane(seen_from(found, own[0], height), near)
    assert by_plane == pytest.approx(in_picture(found, near, height), abs=0.05)


@pytest.mark.parametrize(
    ("kind", "values"),
    [("disc", (190.0, 60, 80)), ("rectangle", (-200.0, 70, 120, 60, 0.5)), ("oval", (190.0, -70, 110, 70, 1.1)), ("taper", (-190.0, 0, 90, 60))],
)
def test_a_plain_solid_stays_one_and_is_as_large_as_its_place_makes_it(kind: str, values: tuple[float, ...]):
    found, thing = through(0.04), solid(kind, *values, height=20.0)
    foot, told = without_bend(found, thing.footprint, thing, 20.0)
    assert told is not None and told.kind == kind
    middle, ring = np.array(values[:2]), np.array(foot.exterior.coords)
    assert told.values[:2] == pytest.approx(settled(found, middle[None], 20.0)[0], abs=0.5)
    from_middle = np.linalg.norm(ring - ring[:-1].mean(axis=0), axis=1)
    grown = np.sqrt(foot.area / thing.footprint.area)
    sizes = {"disc": thing.values[2:] * grown, "taper": thing.values[2:] * grown}.get(kind)
    if sizes is not None:
        assert np.ptp(from_middle) < 0.01 * from_middle.mean() and told.values[2 : 2 + len(sizes)] == pytest.approx(sizes, rel=0.002)
    else:
        area = told.values[2] * told.values[3] * (1.0 if kind == "rectangle" else np.pi / 4)
        assert foot.area == pytest.approx(area, rel=0.003) and told.values[4] == pytest.approx(values[4], abs=0.03)
    free = shapely.transform(thing.footprint, lambda places: settled(found, places, 20.0))
    assert foot.symmetric_difference(free).area < 0.03 * foot.area and abs(grown - 1) > 0.005
    assert thing.values[2] == values[2]  # what was told before is as it was


def test_an_outline_goes_place_by_place_and_none_without_a_lens():
    found, leaf = through(-0.03), shapely.Polygon([(150, 20), (230, 70), (250, 120), (180, 90)])
    foot, none = without_bend(found, leaf, None, 5.0)
    assert none is None
    assert np.array(foot.exterior.coords) == pytest.approx(settled(found, np.array(leaf.exterior.coords), 5.0))
    without = replace(found, lens=None)
    assert without_bend(without, leaf, None, 5.0)[0] is leaf and bent_by(without, leaf, 5.0) == 0.0
    assert settled(without, np.ones((2, 2)), 5.0) == pytest.approx(np.ones((2, 2)))
    assert seen_from(without, np.zeros(2), 5.0) == pytest.approx(at_height(found.pose, 5.0))


@pytest.mark.parametrize("bend", [-0.04, 0.04])
def test_by_how_much_a_size_hangs_on_it_is_the_most_of_any_way(bend: float):
    found, there = through(bend), shapely.box(190, 80, 230, 120)
    lengths = [
        np.linalg.norm(np.subtract(*settled(found, np.array([[210 + c, 100 + s], [210 - c, 100 - s]]), 0.0))) / 2 - 1
        for c, s in ((np.cos(t), np.sin(t)) for t in np.linspace(0, np.pi, 90))
    ]
    assert bent_by(found, there, 0.0) == pytest.approx(np.abs(lengths).max(), rel=0.02)


@pytest.mark.parametrize(
    ("long", "by", "is_doubted"), [(200.0, 0.019, False), (200.0, 0.021, True), (90.0, 0.021, False), (97.0, 0.021, True), (90.0, 0.024, True)]
)
def test_what_hangs_on_it_by_more_than_is_held_to_is_in_doubt(monkeypatch: pytest.MonkeyPatch, long: float, by: float, is_doubted: bool):
    monkeypatch.setattr(measure, "bent_by", lambda *_: by)
    doubts = measure._doubts_of_bend(through(0.03), shapely.box(0, 0, long, 40), 0.0)
    assert bool(doubts) is is_doubted
    assert not doubts or f"({long:.0f} x 40 mm then)" in doubts[0]


def test_the_height_between_two_pictures_is_told_by_the_lenses_that_told_the_places():
    """Each took it for flat: its foot by each is where the ray from that lens past its top meets the table."""
    top, eyes, height = np.array([120.0, 60.0]), [np.array([-200.0, -100, 600]), np.array([240.0, -160, 560])], 48.0
    pictures, things = [], []
    for eye in eyes:
        own = through(0.02)
        assert own.lens is not None
        own = replace(own, lens=replace(own.lens, pose=replace(own.lens.pose, eye=eye)))
        pictures.append(_One(Photograph(np.zeros((2, 2, 3), np.uint8)), own))
        place = eye[:2] + (top - eye[:2]) * eye[2] / (eye[2] - height)
        things.append(replace(told(60, 60), height_mm=0.0, place_mm=(float(place[0]), float(place[1]))))
    assert _height_between((pictures[0], pictures[1]), things[0], things[1], 0.0) == pytest.approx((48.0, 0.0), abs=1e-6)
