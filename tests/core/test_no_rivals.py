"""What is no rival of the hero, how large letters are, and what a near touch is at the delivered size; camera remedies of two numbers."""

from __future__ import annotations

import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.acts.registry import tried
from tideflat.core.findings.registry import findings
from tideflat.core.palette.choosing import goes_with
from tideflat.core.remedies.exchanges import is_of_one_kind
from tideflat.core.remedies.search import remedy_for
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.cone import Cone
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.shapes.outline import Outline

DARK, PALE = [{"hex": "#5a3a20", "share": 1}], [{"hex": "#efe9dc", "share": 1}]
PLATE = {"id": "plate", "name": "plate", "shape": {"kind": "bowl", "diameter": 260, "base_diameter": 170, "height": 22}, "colours": PALE}
FISH = {"id": "fish", "name": "fish", "shape": {"kind": "box", "width": 140, "depth": 60, "height": 20}, "colours": DARK}
DISH = {"id": "dish", "name": "dish", "shape": {"kind": "cylinder", "diameter": 110, "height": 30}, "colours": PALE}
CLOTH = {"id": "cloth", "name": "cloth", "shape": {"kind": "cloth", "width": 320, "depth": 300, "thickness": 1.5}, "colours": PALE}


def lighter(*placements, **more):
    value = scene_value(distance=900)
    value["props"] = [PLATE, FISH, DISH, CLOTH]
    value["placements"] = [{"id": "h", "prop": "fish", "x": 450, "y": 300, "role": "hero", **more}, *placements]
    value["setups"][0]["deliverables"] = []
    return {i for f in findings(picture(value)) if f.code == "colour.lighter" for i in f.placements}


def test_what_carries_the_hero_is_no_rival_and_what_stands_beside_it_is():
    plate = {"id": "p", "prop": "plate", "x": 450, "y": 300, "z": 1.5, "on": "c"}
    cloth = {"id": "c", "prop": "cloth", "x": 450, "y": 300, "role": "support"}
    beside = {"id": "d", "prop": "dish", "x": 690, "y": 300}
    assert lighter(plate, cloth, beside, z=6, on="p") == {"d"}
    assert "p" in lighter({**plate, "on": None, "x": 700}, z=0)


@pytest.mark.parametrize(("role", "is_rival"), [("support", True), ("accent", False), ("filler", False)])
def test_its_accents_are_not_lighter_than_the_hero(role, is_rival):
    assert bool(lighter({"id": "d", "prop": "dish", "x": 690, "y": 300, "role": role})) is is_rival


def test_what_lies_on_the_hero_is_no_rival():
    on = {"id": "d", "prop": "dish", "x": 450, "y": 300, "z": 20, "on": "h"}
    assert not lighter(on) and lighter({**on, "on": None, "z": 0, "x": 690}) == {"d"}


def test_a_hero_is_its_thing_with_what_lies_on_it():
    """A bowl that covers all of the hero plate: together they fill what the plate's outline fills, not 0.0 %."""
    value = scene_value(distance=900)
    value["props"] = [PLATE, {**DISH, "shape": {"kind": "cylinder", "diameter": 258, "height": 30}}]
    value["placements"] = [
        {"id": "h", "prop": "plate", "x": 450, "y": 300, "role": "hero"},
        {"id": "d", "prop": "dish", "x": 450, "y": 300, "z": 22, "on": "h"},
    ]
    seen = picture(value)
    assert seen.things["h"].frame_area_share < 0.02
    assert not [f for f in findings(seen) if f.code == "hero.small"]


@pytest.mark.parametrize(("letters", "told"), [(None, False), (24.1 / 1350, False), (23.9 / 1350, True), (0.2, False)])
def test_large_letters_read_at_three_to_one_and_small_ones_at_four_and_a_half(letters, told):
    """A surface half #747474, half #8e8e8e: white keeps 1.05 / 0.3203 = 3.3 on all but a twentieth, black 0.2254 / 0.05 = 4.3 (WCAG 2.2). 24 px of 1350
    are where letters become large."""
    value = scene_value()
    value["surface"]["colours"] = [{"hex": "#747474", "share": 0.5}, {"hex": "#8e8e8e", "share": 0.5}]
    value["placements"] = [{"id": "p1", "prop": "jar", "x": 450, "y": 250, "role": "hero"}]
    space = {"side": "top", "share": 0.2} | ({} if letters is None else {"text_share": letters})
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "4:5", "pixels": [1080, 1350], "copy_space": space}]
    found = [f for f in findings(picture(value)) if f.code == "copy.illegible"]
    assert bool(found) is told
    if found:
        assert found[0].limit == 4.5 and found[0].measure == pytest.approx(4.3, abs=0.3)


def test_nothing_is_said_of_words_over_an_empty_table():
    value = scene_value()
    value["surface"]["colours"] = [{"hex": "#101010", "share": 0.5}, {"hex": "#f0f0f0", "share": 0.5}]
    assert [f for f in findings(picture(value)) if f.code == "copy.illegible"]
    value["placements"] = []
    assert not [f for f in findings(picture(value)) if f.code == "copy.illegible"]


@pytest.mark.parametrize(("lost", "code"), [(0.5, "tangent.edge"), (0.95, "tangent.edge"), (1.05, "hero.cut"), (5, "hero.cut")])
def test_a_hero_is_cut_from_one_per_cent_of_its_outline_on(lost, code):
    """A flat tile of 120: so many per cent of it are 1.2 mm each past the frame's left edge at x = 72."""
    value = scene_value()
    value["props"] = [{"id": "t", "name": "tile", "shape": {"kind": "box", "width": 120, "depth": 120, "height": 0.1}}]
    value["placements"] = [{"id": "h", "prop": "t", "x": 72 + 60 - 1.2 * lost, "y": 300, "role": "hero"}]
    value["setups"][0]["deliverables"] = []
    assert {f.code for f in findings(picture(value))} & {"hero.cut", "tangent.edge"} == {code}


def test_twelve_millimetres_of_clear_air_are_no_touch_and_the_gap_is_said_in_mm():
    """At 1.7 m 12 mm are 1.0 % of the frame's 1188 mm: far from half a per cent, which is 5.9 mm."""
    value = scene_value(distance=1700)
    value["props"] = [{"id": "t", "name": "tile", "shape": {"kind": "box", "width": 120, "depth": 120, "height": 0.1}}]
    for gap, told in ((12, False), (6.3, False), (5.5, True)):
        value["placements"] = [
            {"id": "a", "prop": "t", "x": 300, "y": 300, "role": "hero"},
            {"id": "b", "prop": "t", "x": 420 + gap, "y": 300},
        ]
        value["brief"] = {"leanings": {"spacing": 1}}
        value["setups"][0]["deliverables"] = []
        found = [f for f in findings(picture(value)) if f.code == "tangent.pair"]
        assert bool(found) is told
        if found:
            assert dict(found[0].figures)["gap_mm"] == pytest.approx(gap, abs=0.1)


@pytest.mark.parametrize(("things", "rare"), [(3, False), (4, True)])
def test_with_few_things_on_the_table_there_is_no_only_matte_thing(things, rare):
    import numpy as np

    value = scene_value()
    value["props"][0]["finish"] = "gloss"
    value["placements"] = [{"id": f"p{k}", "prop": "jar", "x": 100 + 100 * k, "y": 300} for k in range(things)]
    value["props"] = value["props"][:1]
    scene = picture(value).scene
    answer = goes_with(np.array([[50.0, 0, 0]]), [frozenset()], ["x"], np.array(["matte"]), scene)
    assert bool(answer.is_rare[0]) is rare


def test_seeing_past_the_surface_is_cleared_by_aim_and_distance_together():
    """The frame covers 864 by 576 of a board of 900 by 560: nearer by a few per cent, and carried; neither does alone."""
    value = scene_value(distance=1250, aim=[500, 262, 0])
    value["surface"].update(width=900, depth=560)
    value["backdrop"] = None
    value["placements"] = [{"id": "p1", "prop": "board", "x": 450, "y": 280, "role": "hero"}]
    value["setups"][0]["deliverables"] = []
    seen = picture(value)
    (told,) = [f for f in findings(seen) if f.code == "surface.edge"]
    remedy = remedy_for(seen, told)
    assert remedy is not None and remedy.kind == "aim_and_step"
    after = seen.changed(tried(seen.whole, remedy.acts))
    assert not [f for f in findings(after) if f.code == "surface.edge"]
    assert after.setup.camera.distance > 0.93 * 1250  # the least of it


@pytest.mark.parametrize(
    ("old", "new", "may"),
    [
        (Box(320, 220, 18), Outline(((-150, -20), (150, -20), (150, 20), (-150, 20)), 9), False),  # a spoon for a chopping board
        (Cylinder(76, 95), Cone(60, 80, 90), True),
        (Cylinder(76, 95), Bowl(80, 60, 90), False),
        (Bowl(200, 120, 20), Bowl(180, 110, 20), True),
    ],
)
def test_what_stands_in_is_of_one_kind(old, new, may):
    assert is_of_one_kind(old, new) is may


def test_a_carrier_moves_with_its_load_to_clear_an_edge():
    """Bread on a board, its end just at the frame's edge, both of them hemmed in on the board's other side."""
    value = scene_value()
    value["props"] = [
        {"id": "board", "name": "board", "shape": {"kind": "box", "width": 200, "depth": 150, "height": 10}},
        {"id": "bread", "name": "bread", "shape": {"kind": "box", "width": 100, "depth": 90, "height": 10}},
    ]
    value["placements"] = [
        {"id": "b", "prop": "board", "x": 196, "y": 300, "role": "filler"},
        {"id": "r", "prop": "bread", "x": 130, "y": 300, "z": 10, "on": "b", "locked": False},
    ]
    value["setups"][0]["deliverables"] = []
    seen = picture(value)
    told = [f for f in findings(seen) if f.code == "tangent.edge" and f.placements == ("r",)]
    assert told
    from tideflat.core.remedies.search import candidates

    movers = {dict(c.figures)["placement"] for c in candidates(seen, told[0]) if c.kind == "move"}
    assert movers == {"b", "r"}


@pytest.mark.parametrize(("over", "told"), [(1, True), (3.2, True), (5.6, True), (6.4, False), (30, False)])
def test_outlines_that_overlap_by_less_than_half_a_per_cent_only_just_touch(over, told):
    """At 1.7 m half a per cent is 5.9 mm; the one tile is held 1 mm over the other, so that they overlap for the lens alone."""
    value = scene_value(distance=1700)
    value["props"] = [{"id": "t", "name": "tile", "shape": {"kind": "box", "width": 120, "depth": 120, "height": 0.1}}]
    value["placements"] = [
        {"id": "a", "prop": "t", "x": 300, "y": 300, "role": "hero"},
        {"id": "b", "prop": "t", "x": 420 - over, "y": 300, "z": 1, "held_by": "riser"},
    ]
    value["brief"] = {"leanings": {"spacing": 1}}
    value["setups"][0]["deliverables"] = []
    found = [f for f in findings(picture(value)) if f.code == "tangent.pair"]
    assert bool(found) is told
    if found:
        assert found[0].sides == ("over",) and dict(found[0].figures)["gap_mm"] == pytest.approx(over, abs=0.25)
