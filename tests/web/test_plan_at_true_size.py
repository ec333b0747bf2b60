"""The tiled plan measures true: lengths read out of the PDF's own drawing operators, in points of 1/72 inch."""

from __future__ import annotations

import re
import zlib

import numpy as np
import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.errors import FieldError
from tideflat.core.frame.tiles import MARGIN_MM, OVERLAP_MM, PAPERS, feet_of, tiles_of
from tideflat.web.scenes.plan_sheets import CHECK_MM, plan_pdf

MM = 25.4 / 72


def drawn(pdf: bytes) -> list[list[np.ndarray]]:
    """Of each page, every path as its points (n, 2) in mm from the page's lower left, its transformations worked out."""
    pages = []
    for raw in re.findall(rb"stream\r?\n(.*?)\r?\nendstream", pdf, re.S):
        try:
            text = zlib.decompress(raw).decode("latin-1")
        except zlib.error:
            continue
        if text.startswith("q ") and "BDC" in text:
            pages.append(_paths(text))
    return [paths for paths in pages if paths]  # what draws no line is no page


def _paths(text: str) -> list[np.ndarray]:
    text = re.sub(r"BT.*?ET", "", text, flags=re.S)  # what is written
    matrix, stack, numbers, path, found = np.eye(3), [], [], [], []
    for token in re.findall(r"/[^\s/<>\[\]()]+|[A-Za-z*]+|-?\d*\.?\d+", text):
        if re.fullmatch(r"-?\d*\.?\d+", token):
            numbers.append(float(token))
            continue
        if token == "q":
            stack.append(matrix)
        elif token == "Q":
            matrix = stack.pop()
        elif token == "cm":
            a, b, c, d, e, f = numbers[-6:]
            matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ matrix
        elif token in ("m", "l") and len(numbers) >= 2:
            if token == "m" and path:
                path = []
            path.append((np.array([*numbers[-2:], 1.0]) @ matrix)[:2] * MM)
        elif token in ("S", "s") and path:
            found.append(np.array(path))
            path = []
        elif token in ("f", "n", "W"):
            path = []
        numbers = []
    return found


def lone_jar():
    value = scene_value()
    value["placements"] = [{**value["placements"][0], "x": 100, "y": 150}]
    return picture(value)


def test_the_pages_are_of_the_papers_size_and_as_many_as_there_are_tiles():
    now = picture(scene_value())
    pdf = plan_pdf(now, "a4", "mm")
    boxes = [tuple(float(n) * MM for n in found) for found in re.findall(rb"/MediaBox ?\[0 0 ([\d.]+) ([\d.]+)\]", pdf)]
    assert len(boxes) == len(tiles_of(now.scene.surface, "a4")) == len(drawn(pdf))
    assert all(sorted(box) == pytest.approx(sorted(PAPERS["a4"]), abs=0.05) for box in boxes)


def test_lengths_and_places_are_true_to_a_fifth_of_a_millimetre():
    """The check line is 100 mm; the jar, 76 mm across, stands with its middle 100 from the left and 150 from the front of the surface."""
    pages = drawn(plan_pdf(lone_jar(), "a3", "mm"))
    paths = pages[0]
    levels = [p for p in paths if len(p) == 2 and abs(p[0, 1] - p[1, 1]) < 0.01]
    assert any(abs(float(np.ptp(p[:, 0])) - CHECK_MM) < 0.05 for p in levels)
    rings = [p for p in paths if len(p) > 30]
    jar = next(p for p in rings if abs(float(np.ptp(p[:, 0])) - 76) < 1)
    assert np.ptp(jar, axis=0) == pytest.approx([76, 76], abs=0.2)
    middle = (jar.min(axis=0) + jar.max(axis=0)) / 2
    assert middle == pytest.approx([MARGIN_MM + 100, MARGIN_MM + 150], abs=0.2)  # the first sheet begins at the surface's front left corner


def test_neighbouring_sheets_share_their_crosses():
    now = lone_jar()
    tiles = tiles_of(now.scene.surface, "a4")
    pages = drawn(plan_pdf(now, "a4", "mm"))
    crosses = []
    for tile, paths in zip(tiles, pages, strict=True):
        short = [p for p in paths if len(p) == 2 and np.ptp(p, axis=0).max() == pytest.approx(8, abs=0.02)]
        places = [(p.mean(axis=0) - MARGIN_MM) + [tile.x, tile.y] for p in short]
        crosses.append({tuple(np.round(q, 1)) for q in places})
    first, second = (crosses[k] for k in (0, 1))
    shared = [a for a in first for b in second if np.hypot(a[0] - b[0], a[1] - b[1]) < 0.2]
    assert len(shared) == 2


@pytest.mark.parametrize(("wide", "deep", "paper", "count"), [(186, 273, "a4", 1), (186.1, 273, "a4", 2), (362, 273, "a4", 2), (362.2, 273, "a4", 3), (900, 600, "a3", 8)])
def test_as_few_sheets_as_cover_the_surface(wide, deep, paper, count):
    value = scene_value()
    value["surface"].update(width=wide, depth=deep)
    tiles = tiles_of(picture(value).scene.surface, paper)
    assert len(tiles) == count
    assert max(t.x + t.wide for t in tiles) >= wide and max(t.y + t.deep for t in tiles) >= deep
    if len(tiles) > 1 and tiles[1].row == 1:
        assert tiles[0].x + tiles[0].wide - tiles[1].x == pytest.approx(OVERLAP_MM)


def test_what_cannot_be_printed_says_why():
    value = scene_value()
    with pytest.raises(FieldError, match="paper: must be one of a4"):
        tiles_of(picture(value).scene.surface, "napkin")
    value["surface"].update(width=9000, depth=9000)
    with pytest.raises(FieldError, match="would take"):
        tiles_of(picture(value).scene.surface, "a4")


def test_names_are_taken_literally():
    value = scene_value()
    value["props"][0]["name"] = 'jar "#panic()" \\ $x$ *bold*'
    value["title"] = "#include [x] \\\\"
    assert plan_pdf(picture(value), "a4", "cm").startswith(b"%PDF")


def test_every_thing_has_its_foot():
    now = picture(scene_value())
    feet = {f.id: f for f in feet_of(now)}
    assert set(feet) == set(now.bodies)
    xs = [x for x, _ in feet["p1"].outline]
    assert max(xs) - min(xs) == pytest.approx(76, abs=0.2)


def test_the_plan_is_taken_from_the_bench(hand, ada):
    answer = ada.get(f"/scenes/{hand.pk}/plan/", {"setup": "main", "paper": "letter"})
    assert answer.status_code == 200 and answer["Content-Type"] == "application/pdf" and answer.content.startswith(b"%PDF")
    assert ada.get(f"/scenes/{hand.pk}/plan/", {"paper": "napkin"}).status_code == 400
