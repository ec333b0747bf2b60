"""A stroke of the finger over a drawn picture: what it says belongs to the thing or not, and what it leaves alone."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import shapely

from tideflat.core.errors import FieldError
from tideflat.core.vision.stroked import Stroke, outline_after

TABLE, KNIFE, PLANK, LEAF = (190, 150, 100), (96, 66, 52), (170, 120, 70), (70, 110, 60)


def picture() -> np.ndarray:
    """A knife lying on a table beside a darker plank, and a leaf whose other half is of another green."""
    rgb = np.full((600, 800, 3), TABLE, np.float32)
    rgb[280:330, 100:300] = PLANK
    rgb[150:500, 300:340] = KNIFE
    cv2.ellipse(rgb, (600, 300), (110, 60), 0, 90, 270, LEAF, -1)
    cv2.ellipse(rgb, (600, 300), (110, 60), 0, -90, 90, (150, 170, 90), -1)
    rgb = cv2.GaussianBlur(rgb, (0, 0), 0.8) + np.random.default_rng(2).normal(0, 3, rgb.shape)
    return np.clip(rgb, 0, 255).astype(np.uint8)


WITH_PLANK = np.array([[300, 150], [340, 150], [340, 500], [300, 500], [300, 330], [180, 330], [180, 280], [300, 280]], dtype=float)
KNIFE_ALONE = shapely.box(300, 150, 340, 500)


def likeness(ring: np.ndarray, other: shapely.Polygon) -> float:
    one = shapely.Polygon(ring).buffer(0)
    return one.intersection(other).area / one.union(other).area


def test_what_is_not_the_thing_goes_and_the_rest_stays_where_it_was():
    after = outline_after(picture(), WITH_PLANK, [Stroke(np.array([[200.0, 305], [280, 305]]), takes=False)])
    assert likeness(WITH_PLANK, KNIFE_ALONE) < 0.75 < 0.92 < likeness(after, KNIFE_ALONE)


def test_what_belongs_to_it_comes_with_all_that_is_like_it():
    half = np.array([[600 + 110 * np.cos(t), 300 + 60 * np.sin(t)] for t in np.linspace(np.pi / 2, 3 * np.pi / 2, 30)])
    whole = shapely.Polygon([[600 + 110 * np.cos(t), 300 + 60 * np.sin(t)] for t in np.linspace(0, 2 * np.pi, 80)])
    after = outline_after(picture(), half, [Stroke(np.array([[620.0, 300], [680, 300]]), takes=True)])
    assert likeness(half, whole) < 0.55 and likeness(after, whole) > 0.93


def test_a_stroke_elsewhere_changes_only_what_it_touches():
    ring = np.array(KNIFE_ALONE.exterior.coords)[:-1]
    after = outline_after(picture(), ring, [Stroke(np.array([[420.0, 200], [440, 210]]), takes=False)])
    assert likeness(after, KNIFE_ALONE) > 0.96
    same = [outline_after(picture(), WITH_PLANK, [Stroke(np.array([[200.0, 305], [280, 305]]), takes=False)]) for _ in range(2)]
    assert np.array_equal(*same)


@pytest.mark.parametrize("strokes", [[[[300.0, 150], [340, 500]], [[320.0, 150], [320, 500]], [[305.0, 150], [305, 500]], [[335.0, 150], [335, 500]]]])
def test_a_thing_stroked_away_is_said(strokes):
    ring = np.array([[310.0, 200], [330, 200], [330, 260], [310, 260]])
    try:
        after = outline_after(picture(), ring, [Stroke(np.array(points), takes=False) for points in strokes])
    except FieldError as error:
        assert error.path == "strokes"
    else:
        assert shapely.Polygon(after).area < 1200


@pytest.mark.parametrize("points", [[[-500.0, -500]], [[5000.0, 5000], [6000, 5000]], [[0.0, 0], [0, 0]]])
def test_strokes_past_the_picture_do_no_harm(points):
    ring = np.array(KNIFE_ALONE.exterior.coords)[:-1]
    for takes in (True, False):
        after = outline_after(picture(), ring, [Stroke(np.array(points), takes)])
        assert likeness(after, KNIFE_ALONE) > 0.9
