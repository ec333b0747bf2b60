"""The catalogue school, by hand: crooked, off the middle, uneven margins; both sides of each limit, and silence everywhere else.

Overhead with 50 mm at 1,050 mm over the things' tops the frame covers 720 by 480 mm: 7.2 mm are 1 % of its width, 2.4 mm are 0.5 % of its short
side, and 6,000 pixels over 720 mm are 8.333 a mm.
"""

from __future__ import annotations

import pytest

from tests.support.scenes import picture, scene_value
from tideflat.core.acts.registry import tried
from tideflat.core.findings.registry import findings
from tideflat.core.remedies.search import remedy_for

FLAT = {"kind": "box", "width": 120, "depth": 80, "height": 0.1}


def table(*things, use="catalogue", leaning=0, **camera):
    value = scene_value(distance=1050.1, **camera)
    value["brief"] = {"use": use, "leanings": {"order": leaning}}
    value["props"] = [{"id": "a", "name": "tin", "shape": FLAT}]
    value["placements"] = [
        {"id": f"p{k}", "prop": "a", "y": 300, "role": "hero" if k == 0 else "support", **t} for k, t in enumerate(things)
    ]
    value["setups"][0]["deliverables"] = [{"name": "shop", "ratio": "3:2", "pixels": [3000, 2000]}]
    return picture(value)


def said(seen):
    return {f.code: f for f in findings(seen) if f.code.startswith("order.")}


@pytest.mark.parametrize(
    ("turn", "told"),
    [(0, False), (0.25, False), (0.35, True), (-1.2, True), (5.9, True), (6.1, False), (24, False), (91.2, True), (180, False)],
)
def test_a_thing_a_little_off_square_is_crooked(turn, told):
    found = said(table({"x": 450, "turn": turn})).get("order.crooked")
    assert (found is not None) is told
    if found is not None:
        assert found.measure == pytest.approx(abs((turn + 45) % 90 - 45), abs=0.01) and found.unit == "degrees"


def test_a_round_thing_is_never_crooked_and_a_rolled_camera_makes_all_so():
    value = table({"x": 450, "turn": 1.5})
    assert "order.crooked" in said(value)
    assert "order.crooked" in said(table({"x": 450}, roll=2))
    rolled = (
        said(table({"x": 450, "turn": 2}, roll=2)).get("order.crooked"),
        said(table({"x": 450, "turn": -2}, roll=2)).get("order.crooked"),
    )
    assert (rolled[0] is None) != (rolled[1] is None)  # turned with the camera it is square


@pytest.mark.parametrize(
    ("x", "y", "told"),
    [(452.3, 300, None), (452.5, 300, "right"), (447, 300, "left"), (450, 306, "top"), (450, 297.4, "bottom"), (500, 300, "right")],
)
def test_an_article_by_itself_stands_in_the_middle(x, y, told):
    found = said(table({"x": x, "y": y})).get("order.off_centre")
    assert (found.sides[0] if found else None) == told
    if found:
        off = max(abs(x - 450), abs(y - 300))
        assert found.measure == pytest.approx(off / 480 * 100, abs=0.02)
        assert dict(found.figures)["mm"] == pytest.approx(off, abs=0.06)
        assert dict(found.figures)["px"] == pytest.approx(off / 720 * 3000, abs=0.3)


def test_among_other_things_a_hero_well_off_the_middle_stands_so_on_purpose():
    assert "order.off_centre" not in said(_with_a_board(x=500))
    assert "order.off_centre" in said(_with_a_board(x=455))


def _with_a_board(x):
    seen = scene_value(distance=1050.1)
    seen["brief"] = {"leanings": {"order": -1}}
    seen["props"] = [
        {"id": "a", "name": "tin", "shape": FLAT},
        {"id": "b", "name": "board", "shape": {"kind": "box", "width": 300, "depth": 60, "height": 10}},
    ]
    seen["placements"] = [{"id": "p0", "prop": "a", "x": x, "y": 330, "role": "hero"}, {"id": "p1", "prop": "b", "x": 450, "y": 150}]
    seen["placements"][0]["y"] = 300
    seen["setups"][0]["deliverables"] = []
    return picture(seen)


@pytest.mark.parametrize(
    ("xs", "which"),
    [
        ((250, 450, 650), None),
        ((250, 452.3, 652), "gaps"),  # gaps of 82.3 and 79.7: 2.6 mm
        ((250, 451.1, 650), None),  # 2.2 mm
        ((250, 456, 650), "gaps"),
        ((252.6, 452.6, 652.6), "margins"),  # all 2.6 to the right: margins differ by 5.2
        ((251.1, 451.1, 651.1), None),
    ],
)
def test_a_range_has_even_gaps_and_margins(xs, which):
    found = said(table(*({"x": x} for x in xs)))
    assert "order.off_centre" not in found  # one cause is said once
    assert (found["order.margins"].sides[0] if "order.margins" in found else None) == which


@pytest.mark.parametrize(
    ("use", "leaning", "asked"),
    [("catalogue", 0, True), ("shop catalogue", 0, True), ("feed", -1, True), ("feed", 0, False), ("feed", 1, False)],
)
def test_only_the_catalogue_school_is_asked(use, leaning, asked):
    assert bool(said(table({"x": 458, "turn": 1.2}, use=use, leaning=leaning))) is asked


@pytest.mark.parametrize(
    ("things", "code"),
    [
        ([{"x": 450, "turn": 1.2}], "order.crooked"),
        ([{"x": 458}], "order.off_centre"),
        ([{"x": 250}, {"x": 460}, {"x": 650}], "order.margins"),
    ],
)
def test_its_remedy_clears_it(things, code):
    seen = table(*things)
    remedy = remedy_for(seen, said(seen)[code])
    assert remedy is not None
    assert code not in said(seen.changed(tried(seen.whole, remedy.acts)))
