"""Tiles of surfaces out of photographs made by light transport, against the colours and patterns that their tables were given."""

from __future__ import annotations

import json
from functools import lru_cache

import cv2
import numpy as np
import pytest

from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph, read_photograph
from tideflat.core.vision.tiling import Tile, tile_beside_sheet, tile_of
from tools.measuring_pictures import FOLDER, TABLES

#: Of each table one, in light of another kind: number in the sixty.
PICTURES = (2, 3, 5, 7, 10, 12)
BOARDS = (3, 5)
#: One pixel of a tile, mm.
PIXEL_MM = 0.5


@lru_cache(maxsize=len(PICTURES))
def _tile(number: int) -> tuple[Tile, str]:
    entry = json.loads((FOLDER / "truth.json").read_text())[number]
    return tile_beside_sheet(read_photograph((FOLDER / entry["file"]).read_bytes()), entry["sheet"]), entry["table"]


def _mean_hex(rgb: np.ndarray) -> str:
    linear = (rgb.reshape(-1, 3) / 255.0) ** 2.2
    return "#" + "".join(f"{round(255 * float(v) ** (1 / 2.2)):02x}" for v in linear.mean(axis=0))


@pytest.mark.parametrize("number", [3, 5, 7, 10, 12])
def test_a_tile_has_its_tables_own_colour_whatever_light_fell_on_it(number: int) -> None:
    tile, table = _tile(number)
    own = next(colour for name, colour, finish in TABLES if table == (name or finish))
    assert difference(_mean_hex(tile.rgb), own) < 8


@pytest.mark.parametrize("number", PICTURES)
def test_no_quarter_of_a_tile_is_lighter_than_another_by_the_lights_fall_off(number: int) -> None:
    rgb = _tile(number)[0].rgb.astype(float)
    h, w = rgb.shape[0] // 2, rgb.shape[1] // 2
    quarters = [part.mean() for part in (rgb[:h, :w], rgb[:h, w:], rgb[h:, :w], rgb[h:, w:])]
    assert quarters[0] / quarters[1] == pytest.approx(1, abs=0.06)
    assert quarters[2] / quarters[3] == pytest.approx(1, abs=0.06)
    if number not in BOARDS:  # of which one is darker than another
        assert quarters[0] / quarters[2] == pytest.approx(1, abs=0.06)


@pytest.mark.parametrize("number", PICTURES)
def test_over_its_seams_a_tile_steps_as_it_does_within(number: int) -> None:
    light = _tile(number)[0].rgb.astype(float)
    for axis in (0, 1):
        steps = np.abs(np.diff(light, axis=axis)).mean(axis=(1 - axis, 2))
        seam = np.abs(np.take(light, 0, axis) - np.take(light, -1, axis)).mean()
        assert seam <= np.percentile(steps, 99) * 1.3 + 1


def test_checks_come_out_in_whole_checks_and_square_to_the_tile() -> None:
    """Checks of 40 mm, drawn so: see the renderer's surface."""
    tile, _ = _tile(2)
    grey = cv2.cvtColor(tile.rgb, cv2.COLOR_RGB2GRAY).astype(float)
    across = np.abs(np.fft.rfft(grey - grey.mean(), axis=1)).mean(axis=0)
    periods = int(across[1:].argmax()) + 1  # whole ones, as it repeats
    side = tile.width_mm / periods / 2
    down = np.abs(np.fft.rfft(grey - grey.mean(), axis=0)).mean(axis=1)
    assert tile.depth_mm / (int(down[1:].argmax()) + 1) / 2 == pytest.approx(side, rel=0.03)
    assert {round(share, 1) for _, share in tile.colours} == {0.5}


def test_boards_run_along_the_tile() -> None:
    """However the sheet lay to them."""
    for number in BOARDS:
        grey = cv2.cvtColor(_tile(number)[0].rgb, cv2.COLOR_RGB2GRAY).astype(float)
        assert np.abs(np.diff(grey.mean(axis=1))).max() > 3 * np.abs(np.diff(grey.mean(axis=0))).max()


def test_grain_stays_as_sharp_as_it_was() -> None:
    random = np.random.default_rng(3)
    rough = random.integers(90, 160, (400, 600, 3)).astype(np.uint8)
    tile = tile_of(rough, 300)
    assert tile.rgb.std() == pytest.approx(rough.std(), rel=0.06)
    assert tile.rgb[:, :60].std() == pytest.approx(tile.rgb[:, 200:260].std(), rel=0.06)
    assert tile.rgb.shape[1] / tile.width_mm == pytest.approx(1 / PIXEL_MM)


def test_a_light_that_falls_off_is_taken_out() -> None:
    y, x = np.indices((400, 600)) / 400
    lit = 150 * np.exp(-0.8 * x - 0.5 * y * y)
    even = tile_of(np.repeat(lit[..., None], 3, axis=2).astype(np.uint8), 300).rgb
    assert even.max() / even.min() < 1.06 < lit.max() / lit.min()


def test_a_picture_that_is_all_sheet_says_what_it_lacks() -> None:
    picture = np.full((900, 1200, 3), 60, np.uint8)
    cv2.fillPoly(picture, [np.array([[30, 45], [1170, 47], [1168, 855], [28, 853]])], (235, 233, 228))
    with pytest.raises(FieldError, match="must show 60 mm or more of it beside the sheet"):
        tile_beside_sheet(Photograph(picture))


@pytest.mark.parametrize("seed", range(6))
def test_whatever_lies_about_the_sheet_is_a_tile_or_a_sentence(seed: int) -> None:
    random = np.random.default_rng(seed)
    picture = np.full((600, 800, 3), random.integers(20, 200, 3), np.uint8)
    for _ in range(int(random.integers(0, 40))):
        x, y, r = (int(v) for v in random.integers([0, 0, 3], [800, 600, 120]))
        cv2.circle(picture, (x, y), r, tuple(int(c) for c in random.integers(0, 255, 3)), -1)
    wide = int(random.integers(180, 390))
    x, y = (int(v) for v in random.integers([5, 5], [795 - wide, 595 - int(wide * 1.414)]))
    cv2.rectangle(picture, (x, y), (x + wide, y + int(wide * 1.414)), (246, 244, 240), -1)
    try:
        tile = tile_beside_sheet(Photograph(np.clip(picture + random.normal(0, 2, picture.shape), 0, 255).astype(np.uint8)))
    except FieldError as error:
        assert error.path in ("sheet", "surface") and len(str(error)) > 30
    else:
        assert min(tile.rgb.shape[:2]) > 30 and np.isfinite([tile.width_mm, tile.depth_mm]).all()
