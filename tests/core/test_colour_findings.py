"""Findings of colour, palette and variety: each found with the right measure, and not on the other side of its limit."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import bare_value, picture, scene
from tideflat.core.colour.contrast import contrast_ratio
from tideflat.core.colour.delta_e_2000 import difference
from tideflat.core.colour.spaces import lab_of
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import KINDS, findings
from tideflat.core.formats.ground_reader import surface_from_value
from tideflat.core.formats.prop_reader import prop_from_value
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.palette.grounds import grounds
from tideflat.core.palette.seen import against, seen_colours
from tideflat.core.palette.wanted import met
from tideflat.core.remedies.candidate import Stores
from tideflat.core.remedies.search import remedy_for

ORANGE, SLATE, CREAM = "#c9641b", "#4b5052", "#e9dcc4"


def found(value, code, skins=None):
    read = scene(value)
    return [f for f in findings(Picture(read, read.setups[0], skins or {})) if f.code == code]


def jar(prop_id, colour, finish="matte", **more):
    return {
        "id": prop_id,
        "name": more.pop("name", prop_id),
        "shape": more.pop("shape", {"kind": "cylinder", "diameter": 76, "height": 95}),
        "colours": [{"hex": colour, "share": 1.0}],
        "finish": finish,
        **more,
    }


def table(*props, surface=SLATE, **brief):
    """Props in a row on one surface, the first the hero, under an overhead camera without deliverables."""
    value = bare_value(distance=900)
    value["surface"]["colours"] = [{"hex": surface, "share": 1.0}]
    value["backdrop"] = None
    value["props"] = list(props)
    value["placements"] = [
        {"id": f"p{i}", "prop": p["id"], "x": 250 + 110 * i, "y": 300, "role": "hero" if i == 0 else "support"} for i, p in enumerate(props)
    ]
    if brief:
        value["brief"] = {"tags": brief.pop("tags", []), "leanings": brief}
    return value


def test_a_thing_as_dark_as_what_is_behind_it_merges():
    dark = "#4f5456"
    (merged,) = found(table(jar("a", ORANGE), jar("b", dark)), "colour.merge")
    assert merged.severity == "taste" and merged.placements == ("p1",) and merged.sides == ("surface",)
    assert merged.measure == pytest.approx(difference(dark, SLATE), abs=0.06)
    assert not found(table(jar("a", ORANGE), jar("b", CREAM)), "colour.merge")
    (hero,) = found(table(jar("a", dark), jar("b", CREAM)), "colour.merge")
    assert hero.severity == "mend"


def test_a_dark_mood_allows_more_merging():
    close = "#62686a"
    assert 6 < difference(close, SLATE) < 10
    assert len(found(table(jar("a", ORANGE), jar("b", close)), "colour.merge")) == 1
    assert not found(table(jar("a", ORANGE), jar("b", close), shadow=1), "colour.merge")


def test_a_thing_merges_with_the_thing_it_lies_on_and_not_with_the_table():
    value = table(
        jar("a", ORANGE), {**jar("board", CREAM), "shape": {"kind": "box", "width": 300, "depth": 250, "height": 18}}, jar("c", "#e6d9c0")
    )
    value["placements"][1].update(x=560)
    value["placements"][2].update(x=560, z=18, on="p1")
    merged = found(value, "colour.merge")
    assert [(f.placements, f.sides) for f in merged] == [(("p2",), ("board",))]


def test_lighter_and_more_colourful_than_the_hero():
    value = table(jar("hero", "#8a7f72"), jar("pale", CREAM), jar("red", "#c01818"))
    (lighter,) = found(value, "colour.lighter")
    assert lighter.placements == ("p1",)
    assert lighter.measure == pytest.approx(lab_of(CREAM)[0] - lab_of("#8a7f72")[0], abs=0.06)
    (louder,) = found(value, "colour.louder")
    assert louder.placements == ("p2",)
    value["placements"][2]["role"] = "accent"
    value["brief"] = {"leanings": {"palette": 1}}
    assert not found(value, "colour.louder")  # a pop is what this school wants


def test_one_dark_thing_is_a_hole_and_two_are_an_echo():
    (hole,) = found(table(jar("a", CREAM), jar("b", "#d8c9b0"), jar("c", "#141414"), surface="#cfc6b6"), "colour.lone_dark")
    assert hole.placements == ("p2",)
    two = table(jar("a", CREAM), jar("b", "#d8c9b0"), jar("c", "#141414"), jar("d", "#1a1a1a"), surface="#cfc6b6")
    assert not found(two, "colour.lone_dark")


def test_one_light_thing_among_dark_ones():
    (lamp,) = found(table(jar("a", "#3a3230"), jar("b", "#332c2a"), jar("c", "#f4f1e8"), surface="#2c2c2c"), "colour.lone_light")
    assert lamp.placements == ("p2",)


def palette(*colours):
    return {"colours": [{"hex": h, "part": part, "share": share} for h, part, share in colours]}


def test_what_is_off_the_palette_and_what_keeps_to_it():
    value = table(jar("a", ORANGE), jar("b", "#2a5fae"))
    assert not found(value, "palette.off")
    value["palette"] = palette((SLATE, "base", 0.6), (ORANGE, "accent", 0.1))
    (off,) = found(value, "palette.off")
    assert off.placements == ("p1",)
    assert off.measure == pytest.approx(min(difference("#2a5fae", SLATE), difference("#2a5fae", ORANGE)), abs=0.06)


def test_a_missing_accent_and_a_lonely_one():
    value = table(jar("a", CREAM), jar("b", ORANGE))
    value["palette"] = palette((SLATE, "base", 0.6), (CREAM, "second", 0.3), ("#2a5fae", "accent", 0.1))
    (missing,) = found(value, "palette.accent_missing")
    assert missing.measure == 0
    value["palette"]["colours"][2] = {"hex": ORANGE, "part": "accent", "share": 0.02}
    (lonely,) = found(value, "palette.accent_lonely")
    assert lonely.placements == ("p1",) and not found(value, "palette.accent_missing")
    value["props"][0]["colours"][0]["hex"] = ORANGE
    assert not found(value, "palette.accent_lonely")


def test_too_many_colours_by_leaning():
    hues = ("#c01818", "#d8c020", "#1f8f3f", "#2050b0", "#e070b0", "#f4f1e8")
    props = [jar(f"c{i}", h) for i, h in enumerate(hues)]
    value = table(*props)
    for i, placement in enumerate(value["placements"]):
        placement.update(x=180 + 105 * i)
    (many,) = found(value, "palette.many")
    assert many.measure == 7 and many.limit == 5  # six jars and the surface
    value["brief"] = {"leanings": {"palette": 1}}
    assert not found(value, "palette.many")


def test_all_of_one_outline_texture_and_gloss():
    props = [jar(f"c{i}", CREAM, "gloss") for i in range(4)]
    value = table(*props)
    assert [len(found(value, f"sameness.{what}")) for what in ("outline", "texture", "gloss")] == [1, 1, 1]
    assert {"sameness.outline", "sameness.texture", "sameness.gloss"} < set(KINDS)
    value["brief"] = {"leanings": {"likeness": -1}}
    assert not found(value, "sameness.outline")
    value["brief"] = {}
    value["props"][3] = jar("c3", CREAM, texture="grained", shape={"kind": "box", "width": 70, "depth": 50, "height": 30})
    assert not any(found(value, f"sameness.{what}") for what in ("outline", "texture", "gloss"))


def test_the_same_piece_in_two_sizes():
    small = jar("small", CREAM, name="small plate", material="stoneware", shape={"kind": "cylinder", "diameter": 90, "height": 12})
    large = jar("large", CREAM, name="large plate", material="stoneware", shape={"kind": "cylinder", "diameter": 120, "height": 12})
    (sizes,) = found(table(small, large), "sameness.sizes")
    assert sizes.measure == pytest.approx(120 / 90, abs=0.01)
    large["shape"]["diameter"] = 180
    assert not found(table(small, large), "sameness.sizes")


def test_what_has_nothing_to_do_with_the_story():
    value = table(jar("a", ORANGE, tags=["preserve"]), jar("b", CREAM, tags=["supper"]), jar("c", CREAM, tags=["kitchen"]), jar("d", CREAM))
    assert not found(value, "story.unrelated")
    value["brief"] = {"tags": ["preserve"]}
    assert [f.placements for f in found(value, "story.unrelated")] == [("p1",)]


def words(surface, skin=None):
    value = table(jar("a", ORANGE), surface=surface)
    value["setups"][0]["deliverables"] = [{"name": "page", "ratio": "3:2", "copy_space": {"side": "top", "share": 0.3}}]
    if skin:
        value["surface"]["skin"] = {"picture": "pic", "face": "tile", "width": 200, "depth": 200}
    return value


def test_words_on_a_plain_surface_keep_wcags_contrast():
    assert not found(words("#777777"), "copy.illegible")
    # half very dark, half very light: neither ink reads on both
    value = words("#202020")
    value["surface"]["colours"] = [{"hex": "#202020", "share": 0.5}, {"hex": "#e0e0e0", "share": 0.5}]
    (hard,) = found(value, "copy.illegible")
    worst = max(min(contrast_ratio(ink, c) for c in ("#202020", "#e0e0e0")) for ink in ("#ffffff", "#000000"))
    assert hard.measure == pytest.approx(worst, abs=0.01) and hard.crop == "page"


def test_words_are_judged_over_the_pixels_of_the_skin():
    stripes = np.zeros((64, 64, 3), np.uint8)
    stripes[:, 32:] = 235
    assert len(found(words("#777777", skin=True), "copy.illegible", {"pic": stripes})) == 1
    assert not found(words("#777777", skin=True), "copy.illegible", {"pic": np.full((64, 64, 3), 30, np.uint8)})
    assert not found(words("#777777", skin=True), "copy.illegible")  # without its pixels, by its colours


def test_grounds_fill_the_frame_and_seen_shares_add_to_one():
    for camera in ({}, {"elevation": 30}, {"elevation": 4, "aim": [450, 300, 60]}, {"distance": 3000}):
        shown = picture(None, **camera)
        regions = grounds(shown.scene, shown.view)
        assert sum(g.region.area for g in regions) == pytest.approx(1, abs=1e-6)
        glass = sum(t.frame_area_share for i, t in shown.things.items() if shown.props[i].finish == "glass")
        assert sum(s.share for s in seen_colours(shown)) == pytest.approx(1 + glass, abs=1e-3)


def test_shares_of_the_palette_are_those_of_the_frame():
    """A board of 260 x 180 mm in a frame of 612 x 408 (900 mm, 50 mm: 36 x (900 - 50) / 50), lifted by 18 mm."""
    value = table(jar("board", ORANGE, shape={"kind": "box", "width": 260, "depth": 180, "height": 0.1}))
    value["placements"][0].update(x=450)
    shown = picture(value)
    (base, accent), rest = met(
        scene({**value, "palette": palette((SLATE, "base", 0.6), (ORANGE, "accent", 0.1))}).palette, seen_colours(shown)
    )
    assert accent.share == pytest.approx(260 * 180 / (612 * 408), rel=1e-3)
    assert base.share + accent.share + rest == pytest.approx(1, abs=1e-3)


def test_what_a_thing_lies_against_is_told_from_its_rim():
    value = table(jar("a", ORANGE), jar("b", CREAM))
    rims = against(picture(value))
    assert rims["p0"].behind == "surface"
    assert rims["p0"].delta_e == pytest.approx(difference(ORANGE, SLATE), abs=0.01)


STORES = Stores(
    props=tuple(
        prop_from_value(jar(f"s{i}", h, name=f"{n} jar", tags=["preserve"]))
        for i, (h, n) in enumerate([("#30343a", "slate"), ("#8c5a30", "brown"), ("#7f7468", "earth"), (CREAM, "cream"), (ORANGE, "orange")])
    ),
    surfaces=(surface_from_value({"name": "chalk", "width": 1200, "depth": 900, "colours": [{"hex": "#dcdad2", "share": 1}]}),),
)


@pytest.mark.parametrize(
    ("value", "code"),
    [
        (table(jar("hero", "#8a7f72"), jar("pale", "#f2eee6"), jar("x", "#857a6e")), "colour.lighter"),
        (table(jar("hero", "#8a7f72"), jar("red", "#c01818"), jar("x", "#857a6e")), "colour.louder"),
        (table(jar("hero", ORANGE), jar("grey", "#4f5456")), "colour.merge"),
        (
            {**table(jar("hero", ORANGE), jar("b", "#2a5fae")), "palette": palette((CREAM, "base", 0.6), (ORANGE, "accent", 0.01))},
            "palette.off",
        ),
        (
            {
                **table(jar("hero", CREAM), jar("b", "#d8c9b0")),
                "palette": palette((SLATE, "base", 0.6), (CREAM, "second", 0.3), (ORANGE, "accent", 0.05)),
            },
            "palette.accent_missing",
        ),
    ],
)
def test_a_remedy_out_of_the_stores_clears_its_finding_and_adds_none_as_grave(value, code):
    before = Picture(scene(value), scene(value).setups[0])
    finding = next(f for f in findings(before) if f.code == code)
    assert remedy_for(before, finding) is None
    remedy = remedy_for(before, finding, None, STORES)
    assert remedy is not None
    from tests.core.test_remedies import patched

    mended = patched(before.scene, remedy)
    after = findings(Picture(mended, mended.setups[0]))
    assert all(f.key != finding.key for f in after)
    old = {f.key for f in findings(before)}
    assert all(f.key in old for f in after)


def test_a_surface_out_of_the_stores_makes_words_legible():
    value = words("#202020")
    value["surface"]["colours"] = [{"hex": "#202020", "share": 0.5}, {"hex": "#e0e0e0", "share": 0.5}]
    before = picture(value)
    finding = next(f for f in findings(before) if f.code == "copy.illegible")
    remedy = remedy_for(before, finding, None, STORES)
    assert remedy is not None and remedy.kind == "surface"


def test_nothing_locked_is_exchanged():
    value = table(jar("hero", "#8a7f72"), jar("pale", "#f2eee6"))
    value["placements"][1]["locked"] = True
    before = picture(value)
    finding = next(f for f in findings(before) if f.code == "colour.lighter")
    assert remedy_for(before, finding, None, STORES) is None


def test_new_keys_of_the_document_round_trip():
    value = words("#777777", skin=True)
    value["brief"] = {"use": "a label", "must_show": ["the peel"], "mood": "calm", "season": "winter", "finals": 3}
    value["palette"] = palette((SLATE, "base", 0.6))
    value["props"][0]["skins"] = [{"picture": "face", "face": "front"}]
    from tideflat.core.formats.scene_writer import scene_value as plain
    from tideflat.core.formats.scene_writer import write_scene

    read = scene_from_value(value)
    assert read.brief.finals == 3 and read.surface.skin.width == 200 and read.props[0].skins[0].face == "front"
    assert scene_from_value(plain(read)) == read
    assert b'"palette"' in write_scene(read)
