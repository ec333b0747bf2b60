"""What is drawn beside the views: the palette's circle and plot, the schools of a leaning, pictures worn, the starter store's own."""

from __future__ import annotations

import math
import re
import xml.etree.ElementTree as ET
from dataclasses import replace
from importlib.resources import files

import numpy as np
import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.colour.harmony import harmony
from tideflat.core.colour.spaces import lab_of, oklch_of
from tideflat.core.drawing.pieces import frame_path
from tideflat.core.drawing.skins import ground_cells
from tideflat.core.formats.photograph import read_photograph
from tideflat.core.model import LEANINGS, Skin
from tideflat.web.bridge.drawing import frame_drawing, ground_cell_mm, table_drawing
from tideflat.web.bridge.leaning_pictures import leaning_pictures
from tideflat.web.bridge.palette_drawing import FULL_CHROMA, Spot, hue_circle, lightness_plot
from tideflat.web.bridge.portrait import portrait_svg
from tideflat.web.bridge.printed_sheet import SIZES, printed_sheet_svg
from tideflat.web.scenes.stations.brief import POLES, QUESTIONS
from tideflat.web.stores.starter import SURFACES, starter_prop
from tideflat.web.stores.starter_props import PROPS
from tideflat.web.stores.starter_skins import entries_of_prop, manifest, picture_bytes

SVG = "{http://www.w3.org/2000/svg}"


def root_of(markup: str) -> ET.Element:
    return ET.fromstring(markup.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1))


def spots_of(markup: str) -> list[tuple[float, float]]:
    return [(float(n.get("cx")), float(n.get("cy"))) for n in root_of(markup).iter(f"{SVG}circle") if n.get("class") == "spot"]


PLAIN = harmony(np.array([0.0]), np.array([0.0]), np.array([1.0]))


def test_a_grey_lies_in_the_circles_middle_and_a_hue_in_its_own_direction():
    assert spots_of(hue_circle([Spot("stone", "#808080", 0.5)], PLAIN))[0] == pytest.approx((60, 60), abs=0.3)
    for colour in ("#d9762a", "#2a62d9", "#5d7d46"):
        _, chroma, hue = oklch_of(colour)
        ((x, y),) = spots_of(hue_circle([Spot("thing", colour, 0.1)], PLAIN))
        assert math.degrees(math.atan2(60 - y, x - 60)) % 360 == pytest.approx(hue, abs=0.6)
        assert math.hypot(x - 60, y - 60) == pytest.approx(48 * min(1, chroma / FULL_CHROMA), abs=0.2)


def test_the_plot_has_light_above_dark_and_vivid_right_of_grey():
    white, black, vivid = spots_of(lightness_plot([Spot("w", "#ffffff", 0.3), Spot("b", "#000000", 0.2), Spot("v", "#d9762a", 0.1)]))
    assert white[1] == pytest.approx(2, abs=0.1) and black[1] == pytest.approx(96, abs=0.1) and white[0] == pytest.approx(black[0], abs=0.2)
    assert vivid[0] > white[0] + 50 and vivid[1] == pytest.approx(96 - 94 * lab_of("#d9762a")[0] / 100, abs=0.1)


def test_a_colour_says_whose_it_is_and_how_much_and_names_are_text():
    drawn = lightness_plot(
        [Spot('Ann\'s <b> "jar"', "#d9762a", 0.123, is_hero=True, owner="p1"), Spot("wanted", "#808080", 0, is_wanted=True)]
    )
    root = root_of(drawn)
    titles = [n.text for n in root.iter(f"{SVG}title")]
    assert 'Ann\'s <b> "jar": #d9762a, 12.3 % of the picture' in titles and "wanted: #808080" in titles
    assert sum(n.get("class") == "hero-ring" for n in root.iter()) == 1 and 'data-carriers="p1"' in drawn


def test_the_templates_sectors_hold_the_hues_they_were_fitted_to():
    hues = np.array([20.0, 35.0, 200.0])
    fits = harmony(hues, np.full(3, 0.1), np.array([0.4, 0.3, 0.3]))
    root = root_of(hue_circle([], fits))
    sectors = [n.get("d") for n in root.iter(f"{SVG}path") if n.get("class") == "sector"]
    assert len(sectors) == len(fits.sectors) and all(d.startswith("M60 60L") for d in sectors)
    for hue in hues:
        assert any((hue - a) % 360 <= (b - a) % 360 + 4 for a, b in fits.sectors)


def test_every_leaning_is_a_question_between_two_pictures_that_differ():
    assert set(POLES) == set(QUESTIONS) == set(LEANINGS)
    seen = set()
    for name in LEANINGS:
        pictures = leaning_pictures(name)
        for markup in pictures:
            root = root_of(markup)
            assert root.get("viewBox") == "0 0 80 60" and len(list(root)) >= 3
            for n in root.iter(f"{SVG}circle"):
                assert -20 < float(n.get("cx")) < 100 and -20 < float(n.get("cy")) < 80
        seen |= set(pictures)
        assert QUESTIONS[name].endswith("?") and POLES[name][0] != POLES[name][1]
    assert len(seen) == 2 * len(LEANINGS)


# ---- pictures worn


def worn_value():
    value = scene_value(elevation=45)
    value["props"][1]["skins"] = [{"picture": "abc123", "face": "top"}]
    value["surface"]["skin"] = {"picture": "tile9", "face": "tile", "width": 400, "depth": 300}
    return value


def test_each_picture_stands_once_in_a_drawing_and_every_pattern_names_one_of_them():
    computed = picture(worn_value())
    for drawn, prefix in ((frame_drawing(computed), "f"), (table_drawing(computed), "t")):
        ids = re.findall(r'<image id="([^"]+)"', drawn["defs"])
        assert sorted(ids) == [f"{prefix}iabc123", f"{prefix}itile9"]
        body = drawn["ground"] + drawn["things"]
        assert set(re.findall(r'<use href="#([^"]+)"', body)) == set(ids)
        patterns = re.findall(r'<pattern id="([^"]+)"', body)
        assert len(patterns) == len(set(patterns)) and set(re.findall(r'fill="url\(#([^)]+)\)" pointer-events', body)) == set(patterns)
        assert 'href="/stores/pictures/abc123.webp"' in drawn["defs"]


def test_a_thing_that_is_moved_is_sent_with_its_patterns_and_the_others_are_only_named():
    before = picture(worn_value())
    value = worn_value()
    value["placements"][1]["x"] += 12
    drawn = frame_drawing(picture(value), known=before)
    moved = value["placements"][1]["id"]
    group = re.search(rf'<g id="f-{moved}".*?</g>', drawn["things"]).group(0)
    assert "<pattern" in group and drawn["ground_kept"] and 'data-kept=""' in drawn["things"]
    assert "abc123" in drawn["defs"]  # the picture stays in the page


def test_a_portrait_carries_its_pictures_inside_and_asks_for_nothing():
    prop = starter_prop("orange-half")
    key, data = picture_bytes(entries_of_prop("orange-half")[0]["file"])
    drawn = portrait_svg(prop, ((key, data),))
    hrefs = re.findall(r'href="([^"]*)"', drawn)
    assert hrefs and all(h.startswith(("#", "data:image/webp;base64,")) for h in hrefs)
    assert "/stores/" not in portrait_svg(prop)


# ---- what ships


def test_every_picture_that_ships_is_named_once_and_is_as_large_as_it_says():
    folder = files("tideflat.web.stores").joinpath("skins")
    entries = [(k, e) for k, found in manifest()["props"].items() for e in found]
    named = [e["file"] for _, e in entries] + [e["file"] for e in manifest()["surfaces"].values()]
    assert sorted(named) == sorted(f.name for f in folder.iterdir() if f.name.endswith(".webp"))
    assert {k for k, _ in entries} <= {row["key"] for row in PROPS} and set(manifest()["surfaces"]) == {row["name"] for row in SURFACES}
    total = 0
    for entry in [e for _, e in entries] + list(manifest()["surfaces"].values()):
        data = folder.joinpath(entry["file"]).read_bytes()
        total += len(data)
        high, wide = read_photograph(data).rgb.shape[:2]
        assert [wide, high] == entry["pixels"]
    assert total < 400_000  # they are part of the first load of a bench


@pytest.mark.parametrize("name", [row["name"] for row in SURFACES])
def test_a_surfaces_tile_repeats_without_a_seam(name):
    entry = manifest()["surfaces"][name]
    rgb = read_photograph(picture_bytes(entry["file"])[1]).rgb.astype(float)
    for axis in (0, 1):
        across = np.abs(np.diff(rgb, axis=axis)).mean(axis=(1 - axis, 2))
        seam = np.abs(np.take(rgb, 0, axis=axis) - np.take(rgb, -1, axis=axis)).mean()
        # no worse than the sharpest joint inside the tile, with a little for the WebP's own blocks
        assert seam <= max(across.max(), np.percentile(across, 95) * 1.5) + 2.0


def test_labels_say_only_made_up_words_and_every_labelled_thing_has_one():
    labelled = {row["key"] for row in PROPS if row["texture"] == "labelled"}
    fronts = {key for key, found in manifest()["props"].items() if any(e["face"] == "front" for e in found)}
    assert labelled == fronts


@pytest.mark.parametrize(("kind", "area"), [("a4", 1 / 16), ("letter", 8.5 * 11 * 0.0254**2)])
def test_the_printed_sheet_has_its_standards_area_and_a_line_of_100_mm(kind, area):
    """ISO 216: A4 is a sixteenth of a square metre, to the whole millimetre; Letter by its inches."""
    wide, high = SIZES[kind]
    assert wide * high / 1e6 == pytest.approx(area, rel=0.003)
    root = ET.fromstring(printed_sheet_svg(kind))
    assert root.get("width") == f"{wide:g}mm" and any("h100" in (n.get("d") or "") for n in root.iter(f"{SVG}path"))


@pytest.mark.parametrize(("elevation", "distance"), [(90, 1100), (60, 1000), (44, 1060), (26, 900), (8, 1000), (34, 520)])
def test_the_surfaces_skin_lies_where_the_surface_is_at_every_angle_and_close_up(elevation, distance):
    """Within two millimetres on the table, at each cell's own depth, against the projection that OpenCV confirms (tests/reference)."""
    computed = picture(scene_value(elevation=elevation, distance=distance, aim=[450, 300, 10 if elevation > 20 else 80]))
    view = computed.view
    surface = replace(computed.scene.surface, skin=Skin("tile9", "tile", 400, 300))
    cells = [(c, p[0]) for c in ground_cells(surface, ground_cell_mm(view)) if (p := frame_path(c, view)) is not None]
    assert len(cells) == 1 if elevation == 90 else len(cells) > 20
    for cell, flat in cells:
        if flat.min() < 0 or flat.max() > 1:
            continue
        rows = cell.skin.affine(flat)
        laid = cell.skin.uv @ rows[:2] + rows[2]
        depth = view.project(cell.points)[:, 2:]
        off = (laid - flat) * [view.frame_width, view.frame_height] * depth / view.principal_distance
        assert np.linalg.norm(off, axis=1).max() < 2.0
