"""Work that is left out of the first look at a photograph changes nothing that is told of it."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import shapely
from shapely.affinity import affine_transform, scale

from tests.core.test_outlines_in_doubt import SHEET, flat_of
from tests.core.test_straight_sided import STAR, pictured, upright
from tests.core.test_things_seen import PAPER, RED, block, disc, drawn, found_from
from tideflat.core.vision import prism_edges, sheet, sheet_sides, zone_told
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.first_look import _bridged
from tideflat.core.vision.ground import tell_apart
from tideflat.core.vision.prism_edges import look_at, sides_seen
from tideflat.core.vision.rectified import Flat, _shrink, flatten
from tideflat.core.vision.solid_starts import faces
from tideflat.core.vision.straight_sided import _sides


def flat_with(rgb: np.ndarray, known: np.ndarray | None = None, per_mm: float = 2.0) -> Flat:
    return Flat(rgb, np.ones(rgb.shape[:2], bool) if known is None else known, 0.0, 0.0, per_mm)


@pytest.mark.parametrize(("fall", "shrink"), [(0.4, 1), (1.0, 1), (1.9, 1), (2.0, 2), (3.9, 2), (4.0, 4), (7.9, 4), (8.0, 8)])
def test_a_photograph_is_made_smaller_by_halves_as_long_as_none_of_its_pixels_is_skipped_over(fall: float, shrink: int):
    assert _shrink(np.diag([fall, fall + 0.01, 1.0]), 100, 80) == shrink


@pytest.mark.parametrize("per_mm", [0.5, 1.1, 2.2])
def test_edges_are_asked_in_the_smoothed_picture(per_mm: float):
    """Oracle: OpenCV's GaussianBlur."""
    rgb = np.random.Generator(np.random.PCG64(1)).integers(0, 256, (90, 130, 3)).astype(np.uint8)
    smooth = cv2.GaussianBlur(rgb.astype(np.float32), (0, 0), max(0.5, 0.3 * per_mm))
    assert np.abs(edge_picture(flat_with(rgb, per_mm=per_mm)).levels - smooth).max() < 1e-2


@pytest.mark.parametrize("high", [20, 96, 100, 400])
def test_noise_is_told_by_bands_as_by_all_of_a_picture(high: int):
    random = np.random.Generator(np.random.PCG64(high))
    rgb = np.clip(120 + random.normal(0, 6.0, (high, 900, 3)), 0, 255).astype(np.uint8)
    grey = rgb.astype(np.float32).mean(axis=2)
    of_all = 1.48 * float(np.median(np.abs(grey - cv2.GaussianBlur(grey, (0, 0), 1.0))))
    assert edge_picture(flat_with(rgb)).noise == pytest.approx(of_all, rel=0.06)


def test_noise_is_not_asked_where_the_photograph_does_not_reach():
    rgb = np.full((200, 200, 3), 90, np.uint8)
    rgb[:, :100] = np.random.Generator(np.random.PCG64(2)).integers(0, 256, (200, 100, 3))
    known = np.zeros((200, 200), bool)
    assert edge_picture(flat_with(rgb, known)).noise == 1.0  # nothing is known
    known[:, 110:] = True
    assert edge_picture(flat_with(rgb, known)).noise == pytest.approx(0.0, abs=1e-3)


@pytest.mark.parametrize("at", [(0, 0), (60, 40), (170, 150)])
def test_stripes_are_bridged_wherever_they_lie(at: tuple[int, int]):
    """Oracle: the same on the whole of a larger picture."""
    mask = np.zeros((200, 220), bool)
    y, x = at
    mask[y : y + 30, x : x + 6] = mask[y : y + 30, x + 24 : x + 30] = True
    size = int(28.0 * 1.1) | 1
    padded = np.pad(mask.astype(np.uint8), 100)
    closed = cv2.morphologyEx(padded, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    assert np.array_equal(_bridged(mask, 1.1), closed[100:-100, 100:-100].astype(bool))
    assert not _bridged(np.zeros_like(mask), 1.1).any()


@pytest.mark.parametrize("most_mm2", [2000.0, 3100.0])
def test_of_faces_those_that_no_thing_has_are_left_out(most_mm2: float):
    small, large = disc(-120, 0, 40), disc(120, 0, 60)  # 1257 and 2827 mm2
    found = faces(flat_of(drawn((small, (150, 48, 40)), (large, (40, 60, 120)))), most_mm2)
    assert all(face.area <= most_mm2 for face in found)
    middles = shapely.MultiPoint([face.centroid for face in found])
    assert middles.distance(small.centroid) < 2 and (middles.distance(large.centroid) < 2) == (most_mm2 > 2900)


@pytest.mark.parametrize("per_mm", [0.8, 2.0, 4.0])
def test_paper_in_its_window_is_told_as_in_all_of_the_picture(monkeypatch: pytest.MonkeyPatch, per_mm: float):
    """A thing across the sheet's edge with its shadow, and what is as near to the sheet's edge within it, pale, dark and grey; and a glow."""
    shapes = [
        (block(70, 60, 60, 40), (150, 146, 140)),
        (block(80, 70, 60, 40), RED),
        (disc(-90, 100, 26), (250, 214, 120)),
        (block(-60, -138, 50, 16), (34, 34, 36)),
        (block(20, -60, 40, 30), (120, 120, 122)),
    ]
    picture = drawn(*shapes)
    on_paper = cv2.inRange(picture, np.subtract(PAPER, 6.0), np.add(PAPER, 6.0)) > 0
    glow = np.zeros(picture.shape[:2], np.float32)
    picture = (0.7 * picture.astype(np.float32)).astype(np.uint8)
    glow[540:640, 835:880] = 80.0  # a lamp's, which fades, to the sheet's edge
    picture[on_paper] = np.clip(picture[on_paper] + cv2.GaussianBlur(glow, (0, 0), 12)[on_paper][:, None], 0, 255)
    flat = flatten(picture, found_from().pose.plane_to_pixel, (-150.0, -180.0, 150.0, 180.0), per_mm)
    own = tell_apart(flat, SHEET)
    monkeypatch.setattr(zone_told, "_window_of", lambda zone: np.s_[0 : zone.shape[0], 0 : zone.shape[1]])
    every = tell_apart(flat, SHEET)
    assert own.mask.any() and own.least_off == every.least_off
    for name in ("mask", "bare", "left", "off"):
        assert np.array_equal(getattr(own, name), getattr(every, name)), name


@pytest.mark.parametrize("height", [0.0, 8.0])
def test_each_side_is_asked_as_far_in_and_out_as_it_may_lie_and_told_alike(monkeypatch: pytest.MonkeyPatch, height: float):
    asked: list[int] = []
    of_each = prism_edges.asked_of_each
    monkeypatch.setattr(prism_edges, "asked_of_each", lambda picture, curves, *how: asked.append(len(curves)) or of_each(picture, curves, *how))
    shapes = [(standing, RED) for standing, _ in upright(STAR, height)] if height else [(STAR, RED)]
    look = look_at(pictured(*shapes), found_from().pose, height)
    sides = _sides(shapely.get_coordinates(STAR.exterior)[:-1])
    shifts, reach = [-2.0, -1.0, 0.0, 1.0, 2.0], [1.0 + n % 2 for n in range(len(sides))]
    near, every = (sides_seen(STAR, sides, look, 1.0, shifts, most) for most in (reach, []))
    is_near = [abs(by) <= most for by in shifts for most in reach]
    for own, of_all, within in zip(near, every, is_near, strict=True):
        assert own.plain_share == (of_all.plain_share if within else 0.0)
        assert np.array_equal(own.there, of_all.there if within else np.zeros_like(own.there))
    assert asked[0] <= sum(is_near) * (2 if height else 1) and asked[1] <= len(is_near) * (2 if height else 1)
    if height:  # of the far sides, and the near, only that edge is asked that is seen
        tops = sum(bool(one.is_asked[:, 1].any()) for one in every)
        assert 0 < tops < len(every) and asked[1] == tops + sum(bool(one.is_asked[:, 0].any()) for one in every)


@pytest.mark.parametrize("many", [1, 2, 5, 6, 700])
def test_how_pale_a_sheet_is_is_the_median_of_its_pixels(many: int):
    """Oracle: NumPy's median."""
    random = np.random.Generator(np.random.PCG64(many))
    seen = random.integers(0, 256, (30, 40)).astype(np.uint8)
    within = np.zeros(seen.size, np.uint8)
    within[random.permutation(seen.size)[:many]] = 1
    within = within.reshape(seen.shape)
    assert sheet._median_within(seen, within) == np.median(seen[within > 0])


@pytest.mark.parametrize("edge", range(4))
def test_an_edge_that_something_runs_along_is_told_by_a_part_of_it_and_looked_at_once(monkeypatch: pytest.MonkeyPatch, edge: int):
    looked: list[int] = []
    step = sheet_sides.steepest_step
    monkeypatch.setattr(sheet_sides, "steepest_step", lambda *how: looked.append(1) or step(*how))
    beside = shapely.Polygon([(101, -150), (125, -150), (125, -20), (105, -20)])  # its side leads 4 mm into the paper
    far = affine_transform(beside, [0, 210 / 297, 1, 0, 0, 43.5])
    shape = [beside, scale(beside, -1, 1, origin=(0, 0)), far, scale(far, 1, -1, origin=(0, 0))][edge]
    found, plain = (sheet.find_sheet(drawn(*shapes), "a4") for shapes in ([(shape, (60, 60, 62))], []))
    assert found is not None and plain is not None and np.abs(found.corners - plain.corners).max() < 0.3
    assert len(looked) == 3 * 4 + 2 * 4  # twice nearer, once by parts; and the plain one
    monkeypatch.setattr(sheet, "_PARTS", ())
    ill = sheet.find_sheet(drawn((shape, (60, 60, 62))), "a4")
    assert ill is not None and np.abs(ill.corners - plain.corners).max() > 3
