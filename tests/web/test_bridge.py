"""Core values as SVG, geometry and sentences."""

from __future__ import annotations

import json
import re
import xml.etree.ElementTree as ET
from dataclasses import replace

import numpy as np
import pytest

from tests.support.scenes import crowded_value, picture, scene_value
from tideflat.core.delivered import sharpness_in
from tideflat.core.errors import DocumentError, FieldError, LockedError
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import KINDS
from tideflat.web.bridge.drawing import frame_drawing, table_drawing
from tideflat.web.bridge.error_words import error_words
from tideflat.web.bridge.finding_words import finding_words, no_remedy_words
from tideflat.web.bridge.geometry import geometry
from tideflat.web.bridge.grids_drawn import frame_grids
from tideflat.web.bridge.portrait import portrait_svg
from tideflat.web.bridge.readings import frame_caption, readings, size_words
from tideflat.web.bridge.remedy_words import remedy_words
from tideflat.web.bridge.ruler import ruler, table_text_size
from tideflat.web.bridge.sheets import frame_sheet, path_data, table_sheet
from tideflat.web.bridge.tideline import finding_view
from tideflat.web.stores.starter import starter_prop
from tideflat.web.ui.templatetags.measures import measure, plain, typed


def svg(drawn) -> ET.Element:
    markup = f'<svg xmlns="http://www.w3.org/2000/svg"><defs>{drawn["defs"]}</defs>{drawn["ground"]}{drawn["things"]}</svg>'
    return ET.fromstring(markup)


def points_of(data: str) -> list[np.ndarray]:
    """Corners of a path made of M, l and z."""
    found = []
    for part in re.findall(r"M[^M]*", data):
        start, _, steps = part.rstrip("z")[1:].partition("l")
        numbers = np.array([float(n) for n in re.findall(r"-?\d*\.?\d+", start + " " + steps)]).reshape(-1, 2)
        found.append(np.cumsum(numbers, axis=0))
    return found


def test_a_path_reads_back_to_a_twentieth_of_a_unit():
    sheet = table_sheet(picture().scene.surface)
    corners = np.array([[0.04, 0.0], [123.46, 10.05], [899.99, 600.0], [-3.333, 250.25]])
    (back,) = points_of(path_data(corners, sheet))
    assert np.abs(back - [[x, 600 - y] for x, y in corners]).max() <= 0.0501


@pytest.mark.parametrize("elevation", [90, 45, 5])
def test_both_views_hold_every_thing_once_and_every_gradient_is_defined(elevation):
    computed = picture(crowded_value(30, elevation=elevation, aim=[450, 300, 40]))
    for drawn in (frame_drawing(computed), table_drawing(computed)):
        root = svg(drawn)
        ids = [g.get("data-id") for g in root.iter("{http://www.w3.org/2000/svg}g") if g.get("data-id")]
        assert sorted(ids) == sorted(computed.silhouettes if drawn["sheet"].prefix == "f" else computed.bodies)
        defined = [n.get("id") for n in root.iter() if n.tag.endswith("Gradient")]
        assert len(defined) == len(set(defined))
        used = set(re.findall(r"url\(#([^)]+)\)", drawn["things"] + drawn["ground"]))
        assert used == set(defined)
        assert "nan" not in drawn["things"] and "inf" not in drawn["things"] and " style=" not in drawn["things"]


def test_the_outline_that_is_drawn_is_the_silhouette_that_is_judged():
    computed = picture(scene_value(elevation=45))
    root = svg(frame_drawing(computed))
    sheet = frame_sheet(computed.view)
    for group in root.iter("{http://www.w3.org/2000/svg}g"):
        if group.get("data-id"):
            outline = group.findall("{http://www.w3.org/2000/svg}path")[-1].get("d")
            corners = np.concatenate(points_of(outline)) / [sheet.width, sheet.height]
            box = computed.things[group.get("data-id")].box
            assert np.abs([*corners.min(axis=0), *corners.max(axis=0)] - np.array(box)).max() < 5e-4


def test_names_are_text_wherever_they_go():
    value = scene_value()
    value["props"][0]["name"] = 'Ann\'s "best" & first'
    computed = picture(value)
    assert "Ann&#x27;s &quot;best&quot; &amp; first, hero" in frame_drawing(computed)["things"]
    written = str(geometry(computed))
    assert "&" not in written and "<" not in written
    assert json.loads(written)["things"]["p1"]["name"] == 'Ann\'s "best" & first'


def test_the_browser_gets_the_cores_own_matrix_and_rays():
    computed = picture(scene_value(elevation=33, azimuth=20, roll=4))
    sent = json.loads(str(geometry(computed)))
    assert np.abs(np.array(sent["matrix"]) - computed.view.matrix).max() < 1e-8
    r00, r10, r01 = (np.array(r) for r in sent["camera"]["rays"])
    ray = r00 + 0.3 * (r10 - r00) + 0.8 * (r01 - r00)
    assert np.abs(ray - computed.view.ray(0.3, 0.8)).max() < 1e-7
    assert sent["things"]["p2"]["carried"] == ["p9"]


def test_grids_are_drawn_in_the_crop_and_the_surface_in_nine_through_the_lens():
    computed = picture(scene_value(elevation=45))
    grids = {g["kind"]: g["d"] for g in frame_grids(computed, computed.crops[0].box, frame_sheet(computed.view))}
    assert set(grids) == {"thirds", "centre", "golden", "spiral", "diagonals", "rabatment", "plumb", "surface"}
    left = computed.crops[0].box[0] * 1200
    wide = (computed.crops[0].box[2] - computed.crops[0].box[0]) * 1200
    assert points_of(grids["thirds"])[0][0, 0] == pytest.approx(left + wide / 3, abs=0.06)
    assert len(points_of(grids["surface"])) == 4


def test_a_portrait_fills_its_frame_for_small_and_large():
    for key in ("fig", "preserving-pan", "tea-towel", "ale-bottle", "peppercorns"):
        svg_text = portrait_svg(starter_prop(key))
        root = ET.fromstring(svg_text)
        width, height = (float(v) for v in root.get("viewBox").split()[2:])
        corners = np.concatenate(
            [
                p
                for n in root.iter("{http://www.w3.org/2000/svg}path")
                if n.get("d") and n.get("fill") != "#000000" and "cast" not in n.get("fill")
                for p in points_of(n.get("d"))
            ]
        )
        low, high = corners.min(axis=0), corners.max(axis=0)
        assert low.min() > -1 and high[0] < width + 1 and high[1] < height + 1, key
        assert ((high - low) / [width, height]).max() > 0.4, key


# ---- sentences


def finding(code: str, **more) -> Finding:
    pair = code.startswith(("spacing", "tangent.pair", "echo")) or code in ("hero.several", "hero.hidden", "hero.crowded", "height.before", "linear.parallel")
    names = (
        ("p1", "p3") if pair else () if code.split(".")[0] in ("rig", "lens", "surface", "backdrop") or code == "hero.missing" else ("p1",)
    )
    two = {"copy.illegible": ("white", "limestone"), "palette.off": ("greyed blue", "#c4621a"), "balance.light": ("left", "right")}
    sides = ("crescent",) if code.startswith("scheme") else two.get(code, ("left",))
    sides = ("#c4621a",) if code.startswith(("palette.accent", "echo")) else sides
    return Finding(code, "mend", names, more.pop("measure", 3.2), 8.0, "mm", "developer's words", sides=sides, crop="feed", figures=(("mm", 3.0), ("px", 12.0), ("gap_mm", 2.0), ("longest_s", 0.004)), **more)


@pytest.mark.parametrize("code", KINDS)
@pytest.mark.parametrize("unit", ["mm", "cm", "in"])
def test_every_finding_has_a_title_and_a_sentence_with_its_figure(code, unit):
    title, sentence = finding_words(picture(), finding(code), unit)
    assert title and len(title) < 60 and not title.endswith(".")
    assert sentence.endswith(".") and "developer" not in sentence and "{" not in sentence
    if code not in ("hero.missing", "hero.several", "palette.accent_lonely", "story.unrelated", "linear.out"):
        assert re.search(r"\d", sentence), sentence


@pytest.mark.parametrize("code", KINDS)
def test_every_finding_can_say_what_would_have_to_give(code):
    assert KINDS[code].gives in no_remedy_words(finding(code))


@pytest.mark.parametrize(
    ("kind", "figures", "words"),
    [
        ("move", {"thing": "jar", "mm": 18.2}, "Move the jar 18 mm"), ("step", {"way": "back", "mm": 40}, "Step back 40 mm"),
        ("aim", {"mm": 12}, "Carry the camera 12 mm"), ("crop", {"crop": "feed"}, "Shift the feed crop"), ("aperture", {"aperture": 11.0}, "Set f/11"),
        ("exchange", {"thing": "jar", "other": "bowl"}, "Let the jar and the bowl change places"), ("leave_out", {"thing": "jar"}, "Leave the jar out of this set-up"),
        ("refocus", {}, "Focus through its middle"), ("refocus_and_aperture", {"aperture": 8.0}, "Focus its middle at f/8"), ("lower", {"mm": 30}, "Set it down 30 mm"),
        ("slide", {"mm": 51, "way": "left"}, "Slide the backdrop 51 mm left"), ("role", {"thing": "bowl", "role": "hero"}, "Make the bowl the hero"),
        ("move_several", {"placements": ["p1", "p2"], "mm": 9}, "Move 2 things, at most 9 mm"), ("aim_and_step", {"mm": 20}, "Carry the camera 20 mm and step closer"),
        ("aim_and_step", {"mm": 20, "way": "back", "step_mm": 55}, "Carry the camera 20 mm and step back 55 mm"), ("elevation", {"elevation": 51.0}, "Look down from 51°"),
        ("lens_and_elevation_and_step", {"lens": "long zoom at 70", "elevation": 45, "way": "back", "step_mm": 310}, "Take the long zoom at 70, look down from 45° and step back 310 mm"),
        ("aim", {"mm": 12, "then": [{"kind": "move", "thing": "jar", "mm": 2, "sentence": ""}, {"kind": "new", "sentence": "something else"}]}, "Carry the camera 12 mm; then move the jar 2 mm; then something else"),
        ("else", {}, "Something new"),
    ],
)  # fmt: skip
def test_remedies_are_said_in_plain_words(kind, figures, words):
    assert remedy_words(kind, figures, "something new", "mm") == words


def test_errors_say_what_which_rule_and_what_was_got():
    assert error_words(FieldError("x", "must be a number", "wide")) == "From the left must be a number. (got 'wide')"
    assert error_words(DocumentError("setups[0].camera.distance", "must be more than 0 and at most 100000", -5)).startswith(
        "Distance must be more than 0"
    )
    assert (
        error_words(LockedError("placement", "jar", "p1"))
        == "Jar must be unlocked before it can be moved."
    )


def test_every_act_has_words_of_its_own_and_says_where_it_was_made():
    from tideflat.core.acts.registry import ACTS
    from tideflat.web.bridge import act_words

    assert set(ACTS) | {"remedy", "bring"} == set(act_words._WORDS)
    assert act_words.act_words("move", {"name": "jar", "mm": 25.4, "only": "upright"}, "in") == "jar moved 1 in, only in upright"
    assert act_words.act_words("raise", {"name": "jar", "z": 30.0, "mm": 30.0}, "cm") == "jar raised to 3.0 cm"
    assert act_words.act_words("move", {"name": "jar", "mm": 5.0, "up": -5.0}, "mm") == "jar lowered by 5 mm"
    remedy = {"kind": "move", "thing": "jar", "mm": 50.8, "sentence": "move jar 51 mm"}
    assert act_words.act_words("remedy", remedy, "in") == "remedy: move the jar 2 in"
    assert act_words.act_words("give_back", {"name": "jar", "keys": ["x", "y", "turn"], "setup": "tall"}, "mm") == "jar: place, turn in tall as in all"
    assert len(act_words.act_words("title", {"title": "t" * 400}, "mm")) == 200


# ---- readings


def test_the_readings_are_the_hand_worked_numbers():
    """50 mm at 1100: height 1100, 756 x 504 covered. A 4:5 crop has 19.2 x 24 of the sensor's 36 x 24: c = 0.0300 x 30.73 / 43.27
    = 0.0213, of which the Airy disc of 2.44 x 0.00055 x 5.6 x 1.0476 = 0.00787 leaves 0.0198: N c (u - f) = 116.4, so 1051.1 to 1153.7: 103
    deep at f/5.6. Of the whole frame 0.02896 is left: 1029.9 to 1180.4.
    """
    shown = readings(picture(), "mm", "feed")
    assert [(r["figure"], r["unit"]) for r in shown[:3]] == [("1\u202f100", "mm"), ("756", "mm"), ("103", "mm")]
    assert (
        "473 mm clear of the ceiling" in shown[0]["words"]
        and "504 mm high" in shown[1]["words"]
        and "f/5.6 in feed" in shown[2]["words"]
        and shown[2]["more"] == "blur up to 0.021 mm on the sensor looks sharp there"
    )
    assert readings(picture(), "mm", None)[2]["figure"] == "151"
    whole = picture().things["p1"].frame_area_share
    assert float(shown[3]["figure"]) == pytest.approx(whole / (8 / 15) * 100, abs=0.06)
    assert shown[3]["words"] == "of feed is the jar"


def test_at_an_angle_sharpness_is_also_told_along_the_table():
    (depth,) = [r for r in readings(picture(scene_value(elevation=45)), "mm", None) if "sharp" in r["words"]]
    zone = sharpness_in(picture(scene_value(elevation=45)))
    total = zone.far - zone.near
    assert f"{total * 2**0.5:,.0f} mm along the table" in depth["words"]


def test_readings_in_inches_and_without_an_end():
    assert readings(picture(), "in", None)[0]["figure"] == "43 5/16"
    far = readings(picture(scene_value(aperture=11, lens={"focal_length": 14, "min_focus": 200})), "mm", None)[2]
    assert far["figure"] == "∞" and far["words"].startswith("sharp from")


def test_captions_say_how_the_camera_stands():
    words = [frame_caption(picture(scene_value(elevation=e)).setup) for e in (90, 44, 0, -5)]
    assert words == ["50 mm, overhead, f/5.6", "50 mm, 44° down, f/5.6", "50 mm, eye level, f/5.6", "50 mm, 5° up, f/5.6"]


def test_the_ruler_counts_in_the_persons_unit():
    surface = picture().scene.surface
    assert [m["label"] for m in ruler(surface, "cm")["x"]] == ["0", "10", "20", "30", "40", "50", "60", "70", "80", "90"]
    assert [m["label"] for m in ruler(surface, "in")["x"]][:3] == ["0", "4", "8"]
    assert ruler(surface, "mm")["y"][0]["at"] == 500  # 100 mm from the front, drawn from the top
    assert table_text_size(surface) > 20


def test_sizes_are_those_at_rest_whatever_the_pose():
    value = scene_value()
    value["placements"][1].update(turn=77, lean=30)
    assert size_words(picture(value), "p2", "mm") == "260 × 180 × 18 mm"
    assert size_words(picture(value), "p5", "cm") == "7.4 × 7.4 × 7.4 cm"


def test_a_marks_ends_are_in_the_units_of_the_drawings():
    value = scene_value(distance=700)
    value["placements"] = [{"id": "p1", "prop": "jar", "x": 400, "y": 300, "role": "hero"}, {"id": "p2", "prop": "jar", "x": 480, "y": 300}]
    computed = picture(value)
    from tideflat.core.findings.registry import findings

    (tight,) = [f for f in findings(computed) if f.code == "spacing.tight"]
    mark = json.loads(finding_view(computed, tight, "mm")["mark"])
    assert mark["things"] == ["p1", "p2"]
    assert mark["table"] == [[438.0, 300.0, 442.0, 300.0]]
    x1, _, x2, _ = mark["frame"][0]
    assert (x2 - x1) / 1200 * 468 == pytest.approx(4, abs=0.05)


@pytest.mark.parametrize(
    ("mm", "unit", "text"), [(254, "in", "10"), (12.34, "mm", "12.3"), (100, "cm", "10"), (0, "mm", "0"), (31.75, "in", "1.25")]
)
def test_values_are_shown_as_they_would_be_typed(mm, unit, text):
    assert typed(mm, unit) == text


def test_small_filters():
    assert plain(36.0) == "36" and plain(5.6) == "5.6"
    assert measure(1148.2, "mm") == "1\u202f148 mm" and measure(10, "") == "10 mm"


@pytest.mark.parametrize(
    ("code", "figures", "said"),
    [
        ("palette.off", {"measure": 18.3, "limit": 18, "sides": ("grey", "#5d7d46")}, "is 18.3 away, and up to 18 belongs"),
        ("palette.off", {"measure": 31.2, "limit": 18, "sides": ("grey", "#5d7d46")}, "is 31 away"),
        ("hero.small", {"measure": 2.4991, "limit": 2.5, "crop": "feed"}, "It fills 2.499 % of the feed crop; from 2.5 %"),
        ("feature.hidden", {"measure": 84.9, "limit": 85, "sides": ("label",)}, "Only 84.9 % of it"),
        ("feature.turned", {"measure": 60.04, "limit": 60, "sides": ("label",)}, "turned 60.04° from"),
        ("copy.occupied", {"measure": 2.04, "limit": 2, "crop": "feed"}, "2.04 % of the room for words"),
        ("edge.sliver", {"measure": 14.98, "limit": 15}, "14.98 % of it peeks into"),
        ("edge.sliver", {"measure": 14.4, "limit": 15}, "14 % of it peeks into"),
        ("spacing.tight", {"measure": 7.96, "limit": 8}, "A shade under 8 mm of table"),
        ("lens.min_focus", {"measure": 449.9, "limit": 450}, "focus at a shade under 450 mm; 450 mm is its nearest"),
    ],
)
def test_a_figure_is_never_printed_as_the_limit_that_it_misses(code, figures, said):
    things = "p1", "p2"
    found = replace(finding(code), placements=things, parts=(), **figures)
    assert said in finding_words(picture(scene_value()), found, "mm")[1]
