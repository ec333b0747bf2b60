"""Work that is left out of the first look at a photograph changes nothing that is told of it."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import shapely

from tests.core.test_outlines_in_doubt import flat_of
from tests.core.test_things_seen import disc, drawn
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.first_look import _bridged
from tideflat.core.vision.rectified import Flat, _shrink
from tideflat.core.vision.solid_starts import faces


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
