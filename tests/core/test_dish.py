"""Inside a dish: everything within the rim, nothing in anything, the garnish last and on top, what is long pointing one way."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import shapely

from tests.support.arranged import PROBLEMS
from tests.support.scenes import bare_value, scene
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings
from tideflat.core.model import Scene
from tideflat.core.shapes.cloth import Cloth
from tideflat.core.table.carrying import wrapped
from tideflat.core.table.dish import WAYS, contents, laid_in


def plate(*pieces: tuple[dict[str, Any], dict[str, Any]], board: bool = False) -> Scene:
    value = bare_value() | {"backdrop": None, "room": None}
    dish = {"kind": "box", "width": 260, "depth": 200, "height": 18} if board else {"kind": "bowl", "diameter": 240, "base_diameter": 170, "height": 30}
    value["props"] = [{"id": "dish", "name": "dish", "shape": dish}]
    value["placements"] = [{"id": "dish", "prop": "dish", "x": 400, "y": 300, "role": "support"}]
    z = 18 if board else 6
    for k, (shape, more) in enumerate(pieces):
        value["props"].append({"id": f"s{k}", "name": f"piece {k}", "shape": shape})
        value["placements"].append({"id": f"p{k}", "prop": f"s{k}", "x": 360 + 20 * k, "y": 300, "z": z, "on": "dish", "role": "filler", **more})
    return scene(value)


SLICE = {"kind": "cylinder", "diameter": 56, "height": 8}
SPRIG = {"kind": "rod", "length": 90, "width": 8, "height": 4}


def after(there: Scene, way: str, toward: float = 90.0, seed: int = 1) -> Scene:
    laid = {p.id: p for p in laid_in(there, there.setups[0], "dish", way, toward, seed)}
    return replace(there, placements=tuple(laid.get(p.id, p) for p in there.placements))


@pytest.mark.parametrize("board", [False, True])
@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("count", [1, 4])
def test_all_lies_within_the_rim_and_nothing_in_anything(board, way, count):
    there = plate(*[(SLICE, {})] * count, board=board)
    laid = after(there, way)
    shown = Picture(laid, laid.setups[0])
    rim = shown.bodies["dish"].footprint
    pieces = [b for i, b in shown.bodies.items() if i != "dish"]
    assert all(rim.covers(b.footprint) for b in pieces)
    assert not [f for f in findings(shown) if f.code in ("spacing.overlap", "support.floating")]
    if way != "heap":
        gaps = [shapely.distance(a.footprint, b.footprint) for k, a in enumerate(pieces) for b in pieces[:k]]
        assert all(g > 1 for g in gaps) and all(p.on == "dish" for p in laid.placements if p.id != "dish")
    assert after(there, way) == laid, "the same for the same seed"


def test_a_heap_is_lain_close_and_on_each_other_where_the_dish_is_full():
    there = plate(*[(SLICE, {})] * 12)
    laid = after(there, "heap")
    assert {p.on for p in laid.placements if p.id != "dish"} > {"dish"}
    far = lambda s: np.mean([np.hypot(p.x - 400, p.y - 300) for p in s.placements if p.id != "dish"])  # noqa: E731
    assert far(after(plate(*[(SLICE, {})] * 4), "heap")) < far(after(plate(*[(SLICE, {})] * 4), "level"))
    with pytest.raises(FieldError, match=r"piece \d+ finds none so"):
        after(there, "level")


def test_what_leads_lies_over_the_bed_and_the_garnish_comes_last():
    big = {"kind": "cylinder", "diameter": 120, "height": 10}
    there = plate(({**SLICE, "diameter": 18}, {}), (big, {"role": "hero"}), ({**SLICE, "diameter": 90}, {}))
    order = [p.id for p in laid_in(there, there.setups[0], "dish", "heap", 90.0)]
    assert order == ["p2", "p1", "p0"]


@pytest.mark.parametrize("toward", [0.0, 45.0, -120.0])
def test_what_is_long_points_one_way_and_a_crescent_lies_there(toward):
    there = plate((SPRIG, {}), (SPRIG, {}), (SLICE, {"turn": 33}))
    laid = after(there, "heap", toward)
    for i in ("p0", "p1"):
        assert abs(wrapped(laid.placement(i).turn - toward)) < 30
    assert laid.placement("p2").turn == 33
    bent = after(plate(*[(SLICE, {})] * 3), "crescent", toward)
    mean = np.mean([(p.x - 400, p.y - 300) for p in bent.placements if p.id != "dish"], axis=0)
    assert abs(wrapped(float(np.degrees(np.arctan2(mean[1], mean[0]))) - toward)) < 25


def test_what_is_locked_held_or_strewn_stays_and_an_empty_dish_says_so():
    there = plate((SLICE, {"locked": True}), (SLICE, {}))
    assert contents(there, there.setups[0], "dish") == ("p1",)
    laid = after(there, "level")
    assert laid.placement("p0") == there.placement("p0")
    shown = Picture(laid, laid.setups[0])
    assert shapely.distance(shown.bodies["p0"].footprint, shown.bodies["p1"].footprint) > 1
    with pytest.raises(FieldError, match="things in it"):
        laid_in(there, there.setups[0], "p1", "level", 0.0)


def test_a_cloth_what_leans_and_what_is_left_out_is_no_dish():
    there = plate((SLICE, {}), (SLICE, {}))
    setup = there.setups[0]
    left_out = replace(setup, hidden=("dish",))
    leaning = replace(there, placements=tuple(replace(p, lean=8.0) if p.id == "dish" else p for p in there.placements))
    cloth = replace(there, props=tuple(replace(p, shape=Cloth(300, 200, 2)) if p.id == "dish" else p for p in there.props))
    assert contents(there, setup, "dish") and not contents(leaning, setup, "dish") and not contents(cloth, setup, "dish")
    with pytest.raises(FieldError, match="level dish"):
        laid_in(replace(there, setups=(left_out,)), left_out, "dish", "heap", 0.0)


def test_it_is_one_act_on_the_shared_table_or_in_one_set_up():
    there = PROBLEMS["marmalade"]()
    act = {"act": "lay_dish", "placement": "board", "way": "level", "toward": 0}
    done = perform(there, act_from_value(act))
    moved = [p.id for p, q in zip(there.placements, done.scene.placements, strict=True) if p != q]
    assert set(moved) == {"half-1", "half-2", "slice-1", "slice-2"} and dict(done.figures)["count"] == 4
    name = there.setups[1].name
    own = perform(there, act_from_value({**act, "setup": name, "only": True}))
    assert own.scene.placements == there.placements and own.scene.setup(name).differs
