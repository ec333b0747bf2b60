"""What is said of an arrangement as a whole: each rule on both sides of its limit, whom it spares, and that its remedies clear it.

From above at 1,100 mm with 50 mm the frame is 756 by 504 mm of the table, from x 72 and y 48: one per cent of its height is 5.04 mm.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from tests.support.scenes import bare_value, camera_value, picture
from tideflat.core.composition.eye import eye_of
from tideflat.core.composition.measures import falling_away, measures
from tideflat.core.facts.practice import CROWDED, CROWDED_ABUNDANT, CROWDED_SPARSE
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import KINDS, findings
from tideflat.core.findings.scheme_kept import follows, stretch
from tideflat.core.remedies.proof import is_there
from tideflat.core.remedies.search import remedy_for

PERCENT = 5.04


def disc(name: str, across: float = 40.0, high: float = 0.2, colour: str = "#9a9c98") -> dict[str, Any]:
    """So flat that it is where its foot is in the frame."""
    shape = {"kind": "cylinder", "diameter": across, "height": high}
    return {"id": name, "name": name, "shape": shape, "colours": [{"hex": colour, "share": 1}]}


def rod(name: str, long: float = 120.0) -> dict[str, Any]:
    return {"id": name, "name": name, "shape": {"kind": "rod", "length": long, "width": 8, "height": 0.2}}


def laid(things: list[tuple[dict[str, Any], float, float, dict[str, Any]]], leanings: dict[str, float] | None = None, **camera: Any) -> dict[str, Any]:
    """A table with a thing of each prop at a place; the first is the hero."""
    value = bare_value()
    value |= {"backdrop": None, "room": None, "props": [t[0] for t in things]}
    roles = [{"role": "hero"}, *({"role": "linear" if t[0]["shape"]["kind"] == "rod" else "support"} for t in things[1:])]
    value["placements"] = [
        {"id": p["id"], "prop": p["id"], "x": x, "y": y, **role, **more} for (p, x, y, more), role in zip(things, roles, strict=True)
    ]
    value["brief"] = {"leanings": leanings or {}}
    value["setups"][0] |= {"camera": camera_value(**camera), "deliverables": []}
    return value


def told(value: dict[str, Any], code: str) -> list[Finding]:
    return [f for f in findings(picture(value)) if f.code == code]


def ring(count: int, radius: float = 150.0, **prop: Any) -> list[tuple[dict[str, Any], float, float, dict[str, Any]]]:
    """The hero in the middle, others round it."""
    places = [(450 + radius * np.cos(a), 300 + radius * np.sin(a)) for a in np.linspace(0, 2 * np.pi, count - 1, endpoint=False)]
    return [(disc("hero", 70), 450.0, 300.0, {}), *((disc(f"d{k}", **prop), float(x), float(y), {}) for k, (x, y) in enumerate(places))]


# ---- the hero's air, islands, evenness


@pytest.mark.parametrize(("gap", "is_told"), [(1.1, True), (1.3, False)])
def test_clear_air_round_the_hero(gap, is_told):
    wide = 35 + 20 + gap * PERCENT
    value = laid([(disc("hero", 70), 400, 300, {}), (disc("cup"), 400 + wide, 300, {}), (disc("far"), 400, 480, {})], {"spacing": 0.0})
    value["placements"][1]["role"] = "accent"
    assert bool([f for f in findings(picture(value)) if f.code in ("hero.crowded", "tangent.pair", "spacing.tight")]) is is_told
    value["brief"]["leanings"] = {"spacing": 0.5}
    assert not told(value, "hero.crowded")


def test_what_a_rule_of_gaps_names_is_not_named_again_and_a_long_thing_may_point_at_the_hero():
    value = laid([(disc("hero", 70, 5), 400, 300, {}), (disc("cup", high=5), 455.5 + 4, 300, {}), (rod("spoon", 100), 400, 390, {"turn": 90})])
    codes = [f.code for f in findings(picture(value)) if set(f.placements) == {"hero", "cup"}]
    assert codes == ["spacing.tight"] and not told(value, "hero.crowded")


@pytest.mark.parametrize(("gap", "is_told"), [(19.5, False), (20.5, True)])
def test_an_island_lies_further_from_all_others_than_a_fifth_of_the_height(gap, is_told):
    things = [(disc("hero", 70), 300, 300, {}), (disc("a"), 380, 300, {}), (disc("b"), 300, 380, {}), (disc("c"), 380 + 40 + gap * PERCENT, 300, {})]
    assert bool(told(laid(things), "spacing.island")) is is_told
    assert not told(laid(things, {"spacing": -0.5}), "spacing.island")
    assert not told(laid(things[1:3] + things[3:]), "spacing.island"), "three things have no island"


def test_gaps_all_alike_are_told_in_a_loose_picture_only():
    things = ring(7, 130)
    assert told(laid(things, {"order": 0.5}), "spacing.even") and not told(laid(things), "spacing.even")
    gathered = [*things[:2], (things[2][0], things[1][1] - 4, things[1][2] + 60, {}), *things[3:]]
    assert not told(laid(gathered, {"order": 0.5}), "spacing.even")


# ---- weight, light, sizes, number, echoes


def test_the_weight_of_a_picture_is_off_past_a_fifth_of_its_height():
    def at(shift: float) -> list[Finding]:
        return told(laid([(disc("hero", 90), 450 + shift, 300, {}), (disc("a", 60), 450 + shift, 420, {}), (disc("b", 60), 450 + shift, 180, {})]), "balance.off")

    assert not at(19.9 * PERCENT) and not at(-19.9 * PERCENT)
    (one,) = at(20.3 * PERCENT)
    assert one.sides == ("right",) and one.measure == pytest.approx(20.3, abs=0.1)
    assert at(-20.3 * PERCENT)[0].sides == ("left",)


def test_weight_balances_beside_what_is_kept_for_words():
    value = laid([(disc("hero", 90), 370, 300, {}), (disc("a", 60), 370, 420, {}), (disc("b", 60), 370, 180, {})])
    value["setups"][0]["deliverables"] = [{"name": "wide", "ratio": "3:2", "copy_space": {"side": "right", "share": 0.3}}]
    assert not told(value, "balance.off")
    value["setups"][0]["deliverables"] = [{"name": "wide", "ratio": "3:2", "copy_space": {"side": "left", "share": 0.2}}]
    assert told(value, "balance.off")


@pytest.mark.parametrize(("dark", "is_told"), [("#8a8a8a", False), ("#4a4a4a", True)])
def test_all_light_at_one_side_and_all_dark_at_the_other(dark, is_told):
    things = [
        (disc("hero", 70, colour="#d8d8d8"), 300, 300, {}), (disc("a", colour="#d8d8d8"), 300, 420, {}),
        (disc("b", colour=dark), 600, 300, {}), (disc("c", 60, colour=dark), 600, 420, {}),
    ]  # fmt: skip
    found = told(laid(things), "balance.light")
    assert bool(found) is is_told and (not found or found[0].sides == ("left", "right"))


def test_sizes_that_grow_away_from_the_hero_are_told_from_above():
    def row(sizes: list[float]) -> dict[str, Any]:
        return laid([(disc("hero", 60), 150, 300, {}), *((disc(f"d{k}", s), 215.0 + 90 * k, 300 + 30 * (k % 2), {}) for k, s in enumerate(sizes))])

    growing, falling = row([20, 30, 40, 50, 60]), row([60, 50, 40, 30, 20])
    assert falling_away(eye_of(picture(growing))) == pytest.approx(1.0) and falling_away(eye_of(picture(falling))) == pytest.approx(-1.0)
    assert told(growing, "size.growing") and not told(falling, "size.growing")
    assert not told(row([20, 30, 40, 50]), "size.growing"), "four round it are too few to tell"
    mixed = row([30, 20, 60, 40, 50])  # ranks 2 1 5 3 4 against 1 2 3 4 5: 1 - 6 (1 + 1 + 4 + 1 + 1) / 120
    assert falling_away(eye_of(picture(mixed))) == pytest.approx(0.6)
    assert not told(mixed, "size.growing")


@pytest.mark.parametrize(("leaning", "limit"), [(0.0, CROWDED), (-0.5, CROWDED_SPARSE), (0.5, CROWDED_ABUNDANT)])
def test_a_flat_lay_is_crowded_past_so_many(leaning, limit):
    most = int(limit.value)
    assert not told(laid(ring(most, 190), {"fullness": leaning}), "fullness.crowded")
    (one,) = told(laid(ring(most + 1, 190), {"fullness": leaning}), "fullness.crowded")
    assert one.measure == most + 1
    assert not told(laid(ring(most + 1, 190), {"fullness": leaning}, elevation=45), "fullness.crowded")


@pytest.mark.parametrize(("gap", "is_told"), [(14.5, True), (15.5, False)])
def test_two_echoes_of_the_accent_are_one_spot_when_they_are_close(gap, is_told):
    orange = "#d9762a"
    things = [(disc("hero", 70), 450, 400, {}), (disc("a", colour=orange), 300, 200, {}), (disc("b", colour=orange), 340 + gap * PERCENT, 200, {})]
    value = laid(things)
    value["palette"] = {"colours": [{"hex": "#4b5052", "part": "base", "share": 0.6}, {"hex": orange, "part": "accent", "share": 0.01}]}
    assert bool(told(value, "echo.close")) is is_told
    value["groups"] = [{"id": "cut", "name": "cut pair", "placements": ["a", "b"]}]
    assert not told(value, "echo.close"), "what stays together is one on purpose"


# ---- the scheme


def crescent(**extra: Any) -> dict[str, Any]:
    """Seven along a crescent open to the right, the hero on its place."""
    value = laid([(disc("hero", 60), 0, 0, {}), *((disc(f"d{k}"), 0, 0, {}) for k in range(6))])
    value["scheme"] = {"kind": "crescent", "opens": "right", "centre": [0.5, 0.5], "radius": 0.36}
    curve = follows(picture({**value, "placements": [{**p, "x": 450, "y": 300} for p in value["placements"]]}))
    assert curve is not None
    along = [0.5, 0.02, 0.18, 0.34, 0.66, 0.82, 0.98]
    for p, a in zip(value["placements"], along, strict=True):
        u, v = curve.hero if p["id"] == "hero" else curve.points[round(a * 63)]
        p |= {"x": round(72 + 756 * float(u), 2), "y": round(48 + 504 * (1 - float(v)), 2), **extra.get(p["id"], {})}
    return value


def test_what_follows_its_scheme_is_not_told_and_what_strays_is():
    value = crescent()
    assert not told(value, "scheme.off") and not told(value, "scheme.gap")
    for shift, is_told in ((14.5, False), (15.5, True)):
        moved = crescent()
        moved["placements"][0]["x"] -= shift * PERCENT
        found = told(moved, "scheme.off")
        assert bool(found) is is_told and (not found or dict(found[0].figures)["hero"])
    moved = crescent()
    moved["placements"][6] |= {"x": 450, "y": 300}
    assert [f.placements for f in told(moved, "scheme.off")] == [("d5",)]
    moved["scheme"] = None
    assert not told(moved, "scheme.off")


def test_an_empty_stretch_of_the_scheme_is_told_by_its_even_shares():
    shown = picture(crescent())
    full = stretch(eye_of(shown), follows(shown))
    assert full is not None and full[0] < 2
    crowded = crescent()
    places = {p["id"]: p for p in crowded["placements"]}
    for mover, to in (("d3", "d0"), ("d4", "d1"), ("d5", "d2")):  # all at the first half
        places[mover] |= {"x": places[to]["x"] + 18, "y": places[to]["y"] + 18}
    (one,) = told(crowded, "scheme.gap")
    assert one.measure > one.limit and dict(one.figures)["along"] == pytest.approx(0.75, abs=0.08)


def test_at_eye_level_no_scheme_is_asked_of():
    value = crescent()
    value["setups"][0]["camera"] = camera_value(elevation=5, aim=[450, 300, 40])
    assert follows(picture(value)) is None


# ---- long things


def test_a_long_thing_points_at_something_or_leads_out():
    def with_rod(turn: float, **more: Any) -> dict[str, Any]:
        return laid([(disc("hero", 90), 300, 300, {}), (rod("spoon"), 600, 300, {"turn": turn, **more}), (disc("cup"), 300, 420, {})])

    aside = float(np.degrees(np.arctan2(45, 300)))
    assert not told(with_rod(aside - 1), "linear.out")
    (one,) = told(with_rod(-aside - 4), "linear.out")
    assert one.placements == ("spoon",) and one.measure == 0
    value = with_rod(90)
    value["groups"] = [{"id": "g", "name": "place", "placements": ["spoon", "cup"]}]
    assert not told(value, "linear.out"), "a place setting is exempt"
    value = with_rod(90)
    value["brief"]["leanings"] = {"order": -0.5}
    assert not told(value, "linear.out")


@pytest.mark.parametrize(("angle", "is_told"), [(7.5, True), (-7.5, True), (8.5, False)])
def test_two_long_things_run_alike_under_eight_degrees_in_a_loose_picture(angle, is_told):
    things = [(disc("hero", 90), 450, 300, {}), (rod("spoon"), 250, 300, {"turn": 20}), (rod("knife"), 650, 300, {"turn": 20 + angle})]
    assert bool(told(laid(things, {"order": 0.5}), "linear.parallel")) is is_told
    assert not told(laid(things), "linear.parallel")


# ---- depth


def upright(name: str, wide: float, high: float) -> dict[str, Any]:
    return {"id": name, "name": name, "shape": {"kind": "box", "width": wide, "depth": 20, "height": high}}


def before_the_hero(across: float, **changes: Any) -> dict[str, Any]:
    """At eye level: a slab of 100 mm before a hero of 100, shifted aside by so much."""
    value = laid([(upright("hero", 100, 80), 450, 400, {}), (upright("slab", 100, 40), 450 + across, 200, {})], elevation=0, aim=[450, 400, 40])
    value["placements"][1] |= changes
    return value


def test_a_hero_is_hidden_by_what_stands_before_it_past_a_twentieth():
    # Far off the two are seen to one scale: what overlaps of the slab's 100 mm hides half of that share of the hero.
    far = {"distance": 6000, "lens": {"focal_length": 300, "min_focus": None}}

    def at(across: float, **changes: Any) -> list[Finding]:
        value = before_the_hero(across, **changes)
        value["setups"][0]["camera"] = camera_value(elevation=0, aim=[450, 400, 40], **far)
        return told(value, "hero.hidden")

    (one,) = at(60)
    assert one.severity == "mend" and one.placements == ("hero", "slab") and 18 < one.measure < 25
    assert at(88) and not at(96)
    assert not at(60, held_by="hand") and not at(60, y=480)
    value = before_the_hero(0)
    value["props"][1] |= upright("slab", 3.4, 40)
    value["props"].append(upright("post", 3.4, 40))
    value["placements"].append({"id": "post", "prop": "post", "x": 480, "y": 200, "role": "support"})
    value["setups"][0]["camera"] = camera_value(elevation=0, aim=[450, 400, 40], **far)
    alone = {**value, "placements": value["placements"][:2]}
    assert not told(alone, "hero.hidden")
    value["placements"] += [{"id": f"post-{k}", "prop": "post", "x": 410 + 12 * k, "y": 200, "role": "support"} for k in range(2)]
    (one,) = told(value, "hero.hidden")
    assert one.measure > one.limit and dict(one.figures)["things"] == 4, "four that hide two in a hundred each"
    value = before_the_hero(60)
    value["props"][1]["finish"] = "glass"
    assert not told(value, "hero.hidden")


def test_what_is_tall_stands_behind_what_is_low():
    def pair(across: float, high: float = 120) -> list[Finding]:
        value = laid(
            [(upright("hero", 60, 60), 200, 400, {}), (upright("tall", 80, high), 600 + across, 200, {}), (upright("low", 80, 60), 600, 420, {})],
            elevation=0, aim=[450, 400, 40], distance=6000, lens={"focal_length": 200, "min_focus": None},
        )  # fmt: skip
        return told(value, "height.before")

    assert [f.placements for f in pair(0)] == [("tall", "low")]
    assert pair(34) and not pair(40), "45 % of the lower one passes: 50.6 and 42.9 are hidden"
    assert not pair(0, 62), "as high as the other is not taller"


def test_things_in_one_plane_are_told_aslant_and_not_of_a_line_up():
    def row(depth: float, **more: Any) -> dict[str, Any]:
        things = [(upright("hero", 50, 60), 200, 300, {}), *((upright(f"u{k}", 50, 60), 300 + 90 * k, 300 + depth * (k % 2), {}) for k in range(3))]
        return laid(things, elevation=30, distance=1000, **more)

    step = 40 / float(np.cos(np.radians(30)))  # a depth of 4 % of the metre
    assert told(row(step - 2), "depth.flat") and not told(row(step + 2), "depth.flat")
    lined = row(0)
    lined["scheme"] = {"kind": "arc"}
    assert not told(lined, "depth.flat")
    lined["scheme"], lined["brief"] = None, {"use": "catalogue"}
    assert not told(lined, "depth.flat")


# ---- remedies


def faulty() -> dict[str, dict[str, Any]]:
    """A table for each kind, with the fault and room to mend it."""
    ring_of = ring(6, 120)
    orange = "#d9762a"
    echo = laid([(disc("hero", 70), 450, 300, {}), (disc("a", colour=orange), 300, 200, {}), (disc("b", colour=orange), 360, 200, {}), (disc("c"), 600, 420, {})])
    echo["palette"] = {"colours": [{"hex": "#4b5052", "part": "base", "share": 0.6}, {"hex": orange, "part": "accent", "share": 0.01}]}
    strayed, crowded = crescent(), crescent()
    strayed["placements"][6] |= {"x": 480, "y": 310}
    places = {p["id"]: p for p in crowded["placements"]}
    for mover, to in (("d3", "d0"), ("d4", "d1"), ("d5", "d2")):
        places[mover] |= {"x": places[to]["x"] + 42, "y": places[to]["y"] + 42}
    light = [(disc("hero", 70, colour="#d8d8d8"), 330, 300, {}), (disc("a", 60, colour="#d8d8d8"), 330, 420, {}), (disc("b", 60, colour="#4a4a4a"), 570, 300, {}), (disc("c", 60, colour="#4a4a4a"), 570, 420, {})]  # fmt: skip
    grows = [(disc("hero", 60), 450, 300, {}), (disc("a", 20), 520, 300, {}), (disc("b", 24), 450, 380, {}), (disc("c", 28), 350, 300, {}), (disc("d", 50), 560, 420, {}), (disc("e", 60), 270, 160, {})]  # fmt: skip
    low = {"elevation": 0, "aim": [450, 400, 40], "distance": 6000, "lens": {"focal_length": 200, "min_focus": None}}
    return {
        "hero.crowded": laid([(disc("hero", 70), 400, 300, {}), (disc("cup"), 400 + 55 + 5, 300, {}), (disc("far"), 400, 420, {})], {"spacing": 0.0}),
        "spacing.island": laid([(disc("hero", 70), 300, 300, {}), (disc("a"), 380, 300, {}), (disc("b"), 300, 380, {}), (disc("c"), 560, 300, {})]),
        "spacing.even": laid(ring_of, {"order": 0.5}),
        "balance.off": laid([(disc("hero", 80), 520, 300, {}), (disc("a", 80), 600, 420, {}), (disc("b", 80), 610, 180, {})]),
        "balance.light": laid(light),
        "size.growing": laid(grows),
        "fullness.crowded": laid(ring(11, 180)),
        "echo.close": echo,
        "scheme.off": strayed,
        "scheme.gap": crowded,
        "linear.out": laid([(disc("hero", 90), 350, 300, {}), (rod("spoon"), 560, 300, {"turn": 70}), (disc("cup"), 350, 420, {})]),
        "linear.parallel": laid([(disc("hero", 90), 450, 300, {}), (rod("spoon"), 300, 300, {"turn": 2}), (rod("knife"), 620, 300, {"turn": 4})], {"order": 0.5}),
        "hero.hidden": before_the_hero(30),
        "height.before": laid([(upright("hero", 60, 60), 300, 400, {}), (upright("tall", 80, 120), 600, 300, {}), (upright("low", 80, 60), 600, 420, {})], **low),
        "depth.flat": laid([(upright("hero", 50, 60), 300, 300, {}), *((upright(f"u{k}", 50, 60), 380.0 + 70 * k, 300, {}) for k in range(3))], elevation=30, distance=1200),
    }  # fmt: skip


FAULTY = faulty()


@pytest.mark.parametrize("code", sorted(FAULTY))
def test_each_has_a_remedy_that_clears_it(code):
    shown = picture(FAULTY[code])
    finding = next(f for f in findings(shown) if f.code == code)
    remedy = remedy_for(shown, finding)
    assert remedy is not None, "no remedy"
    from tests.core.test_remedies import patched

    after = shown.changed(patched(shown.whole, remedy))
    assert not is_there(after, finding)
    before = {f.key for f in findings(shown)}
    assert all(f.key in before or (f.severity == "taste" and KINDS[finding.code].severity == "mend") for f in findings(after))


@pytest.mark.parametrize("code", sorted(FAULTY))
def test_nothing_locked_is_moved_for_it(code):
    value = FAULTY[code]
    value = {**value, "placements": [{**p, "locked": True} for p in value["placements"]]}
    shown = picture(value)
    finding = next(f for f in findings(shown) if f.code == code)
    remedy = remedy_for(shown, finding)
    moving = set() if remedy is None else {getattr(act, "placement", None) for act in remedy.acts}
    assert not moving & {p["id"] for p in value["placements"]} or all(a.act == "hide" for a in remedy.acts)


def test_every_measure_is_a_number_or_nothing_and_names_its_source():
    for value in (FAULTY["spacing.island"], bare_value(), FAULTY["depth.flat"]):
        for m in measures(picture(value)):
            assert (m.value is None or np.isfinite(m.value)) and m.what and m.source
