"""A sheet on tables that are as light as it is in places, or that have long lines of their own."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from tideflat.core.vision.sheet import find_sheet
from tideflat.core.vision.sheet_lines import quadrilaterals_of_lines


def a4_corners(tilt: float, turn: float) -> np.ndarray:
    """Where a pinhole camera 620 mm off sees A4 (ISO 216), pixels of 1 200 x 900."""
    t, r = np.radians(tilt), np.radians(turn)
    sheet = np.array([[-105, 148.5], [105, 148.5], [105, -148.5], [-105, -148.5]]) @ np.array(
        [[np.cos(r), np.sin(r)], [-np.sin(r), np.cos(r)]]
    )
    x, y = sheet[:, 0], sheet[:, 1]
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
    assert find_sheet(laid(table, nowhere), "a4") is None


def test_four_lines_that_are_darker_inside_are_no_sheet():
    dark = laid(np.full((900, 1200, 3), 230.0), np.array([[-9.0, -9], [-8, -9], [-8, -8], [-9, -8]]))
    cv2.fillConvexPoly(dark, a4_corners(10, 5).astype(np.int32), (60, 60, 60))
    assert list(quadrilaterals_of_lines(cv2.cvtColor(dark, cv2.COLOR_RGB2GRAY))) == []
    light = 255 - dark
    assert len(list(quadrilaterals_of_lines(cv2.cvtColor(light, cv2.COLOR_RGB2GRAY)))) >= 1
