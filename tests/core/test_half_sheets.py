"""A sheet that the picture's border cuts through: half of A4 is of A4's own shape, and is no sheet."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.test_sheet_lines import a4_corners, boards, laid
from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision import sheet
from tideflat.core.vision.measure import _doubts_of_camera, sheet_in
from tideflat.core.vision.sheet import _is_plainly_one, _looked, _rated
from tideflat.core.vision.sheet_edges import least_within
from tideflat.core.vision.sheet_look import sheet_look

DARK = np.full((900, 1200, 3), (92.0, 84, 76))


def halves(picture: np.ndarray, corners: np.ndarray) -> dict[str, np.ndarray]:
    x, y = (int(at) for at in corners.mean(axis=0))
    return {"left": picture[:, :x], "right": picture[:, x:], "far": picture[:y], "near": picture[y:]}


@pytest.mark.parametrize("side", ["left", "right", "far", "near"])
@pytest.mark.parametrize(("tilt", "turn"), [(0, 0), (0, 90), (25, 0), (25, 90)])
@pytest.mark.parametrize("table", [DARK, boards()], ids=["dark", "boards"])
def test_half_a_sheet_is_not_measured_by(table: np.ndarray, tilt: float, turn: float, side: str):
    corners = a4_corners(tilt, turn)
    half = np.ascontiguousarray(halves(laid(table, corners), corners)[side])
    try:
        found = sheet_in(Photograph(half), "a4")
    except FieldError as error:
        assert error.path == "sheet" and "all four edges" in str(error) and "by hand" in str(error)
    else:  # where it is seen aslant a line beside the border may pass for its edge
        assert tilt and _doubts_of_camera(found, 0.0, by_hand=False)


@pytest.mark.parametrize(("outside", "is_one"), [(0.35, True), (0.65, False)])
def test_a_sheets_edge_lies_in_the_picture_along_half_of_it(outside: float, is_one: bool):
    """All else of it is plainly seen: corners beyond the border are told by where its edges lead."""
    corners = a4_corners(0, 10) - [0, a4_corners(0, 10)[:, 1].min()]
    far, right = corners[0], corners[1]
    corners -= [0, (far[1] + (right[1] - far[1]) * outside) if far[1] < right[1] else (right[1] + (far[1] - right[1]) * outside)]
    picture = laid(DARK, corners)
    within = least_within((corners - 0.5) * 1000 / 1200, sheet_look(picture).light)
    assert within == pytest.approx(1 - outside, abs=0.2)
    look = _looked(picture, "a4", None)
    assert look is not None
    assert (_rated((corners - 0.5) * look.look.scale, look) is not None) is is_one


@pytest.mark.parametrize(
    ("edge", "skew", "is_one"),
    [(0.71, 0.029, True), (0.70, 0.029, False), (0.71, 0.031, False), (0.61, 0.009, True), (0.61, 0.011, False), (0.59, 0.0, False)],
)
def test_the_better_it_fits_the_less_is_seen_of_what_things_lie_across(monkeypatch: pytest.MonkeyPatch, edge: float, skew: float, is_one: bool):
    corners = a4_corners(20, 10)
    look = _looked(laid(DARK, corners), "a4", None)
    assert look is not None
    size, pose = sheet._lies(corners, "a4", (1200, 900), None)
    object.__setattr__(pose, "skew", skew)
    monkeypatch.setattr(sheet, "edge_share", lambda *_: edge)
    monkeypatch.setattr(sheet, "_lies", lambda *_: (size, pose))
    assert _is_plainly_one(corners, look) is is_one
