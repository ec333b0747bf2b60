"""What is said of light: each kind on both sides of its limit, and what its remedy does."""

from __future__ import annotations

import math
from typing import Any

import pytest

from tests.support.lit import LAMP, picture, table, thing
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import findings
from tideflat.core.remedies import lighting
from tideflat.core.remedies.candidate import NO_STORES
from tideflat.core.remedies.search import remedy_for

HERO = {"kind": "cylinder", "diameter": 80, "height": 60}
CAMERA = {"elevation": 40, "aim": [450, 300, 30], "distance": 1100}


def seen(lights: list[dict[str, Any]], things: list[Any] | None = None, **more: Any) -> dict[str, Finding]:
    value = table(lights, [thing(1, HERO, 450, 300, role="hero"), *(things or [])], camera={**CAMERA, **more.pop("camera", {})}, **more)
    return {f.code: f for f in findings(picture(value)) if f.code.startswith("light.")}


def remedied(lights: list[dict[str, Any]], code: str, things: list[Any] | None = None, **more: Any) -> Any:
    value = table(lights, [thing(1, HERO, 450, 300, role="hero"), *(things or [])], camera={**CAMERA, **more.pop("camera", {})}, **more)
    shown = picture(value)
    found = next(f for f in findings(shown) if f.code == code)
    made = remedy_for(shown, found)
    assert made is not None
    from tideflat.core.acts.registry import tried

    after = shown.changed(tried(shown.whole, made.acts))
    assert not any(f.code == code and f.placements == found.placements and f.figures[0] == found.figures[0] for f in findings(after))
    return made


def from_the_side(degrees: float, far: float = 1100) -> dict[str, Any]:
    """A lamp as high as the lens, so many degrees round from it."""
    a, e = math.radians(degrees), math.radians(40)
    at = [450 + far * math.sin(a) * math.cos(e), 300 - far * math.cos(a) * math.cos(e), 60 + far * math.sin(e)]
    return {**LAMP, "at": at, "toward": [450 - at[0], 300 - at[1], 60 - at[2]]}


def test_without_lights_nothing_is_said() -> None:
    assert seen([]) == {}
    assert seen([{**from_the_side(5), "on": False}]) == {}


def test_light_from_the_front_is_flat() -> None:
    """light.flat: at 30 degrees between the ways."""
    between = [seen([from_the_side(d)]).get("light.flat") for d in (25, 38, 45)]
    assert between[0] is not None and between[0].measure < 30
    assert between[1] is not None and 28 < between[1].measure < 30
    assert between[2] is None
    made = remedied([from_the_side(20)], "light.flat")
    assert made.kind == "light_round" and made.acts[0].act == "move_light"


def test_a_taller_thing_before_the_key_shades_the_hero() -> None:
    """light.shaded: a post between, and one that stands beside the way."""
    low = {**LAMP, "at": [-300, 300, 200], "toward": [1, 0, -0.2]}
    post = {"kind": "box", "width": 30, "depth": 220, "height": 160}
    found = seen([low], [thing(2, post, 300, 300)])["light.shaded"]
    assert found.placements == ("p2", "p1") and found.measure > 90
    assert "light.shaded" not in seen([low], [thing(2, post, 300, 520)])
    assert "light.shaded" not in seen([low], [thing(2, {**post, "height": 50}, 300, 300)])
    assert "light.shaded" not in seen([low], [thing(2, post, 300, 300, finish="glass")])
    half = {**post, "depth": 60}  # 60 x 750 / 135 of 800
    assert "light.shaded" not in seen([{**low, "width": 800}], [thing(2, half, 300, 300)])  # less than half of it is hidden
    made = remedied([low], "light.shaded", [thing(2, post, 300, 300)])
    assert made.kind in ("light_round", "light_up")


def test_the_camera_over_the_table_throws_its_shadow() -> None:
    """light.camera_shadow: with the lamp over it, and with the lamp aside by so much that the way passes 70 mm beside it."""
    overhead = {"elevation": 90, "aim": [450, 300, 0], "distance": 1100}
    assert "light.camera_shadow" in seen([{**LAMP, "at": [450, 300, 2200]}], camera=overhead)
    for aside, is_found in ((100, True), (230, False)):
        found = seen([{**LAMP, "at": [450 + aside, 300, 2200]}], camera=overhead).get("light.camera_shadow")
        assert (found is not None) == is_found, (aside, found)
    assert "light.camera_shadow" not in seen([{**LAMP, "at": [450, 300, 900]}], camera=overhead)  # the lamp is before the camera


def test_what_stands_in_the_picture() -> None:
    """light.in_picture: a card beside the hero, one outside the frame, one behind the backdrop; a flag and a lamp."""
    card = {"id": "card", "kind": "white", "at": [600, 300, 60], "toward": [-1, 0, 0], "width": 100, "height": 120}
    lamp = from_the_side(90)
    assert dict(seen([lamp], cards=[card])["light.in_picture"].figures) == {"light": "card", "list": "cards"}
    assert "light.in_picture" not in seen([lamp], cards=[{**card, "at": [1500, 300, 60]}])
    behind = {**card, "at": [450, 800, 60], "toward": [0, -1, 0]}
    drop = {"kind": "upright", "y": 700, "x": 450, "width": 2000, "height": 900}
    assert "light.in_picture" in seen([lamp], cards=[behind])
    assert "light.in_picture" not in seen([lamp], cards=[behind], backdrop=drop)
    flag = {"id": "flag", "kind": "flag", "at": [300, 300, 0], "toward": [1, 0, 0], "width": 100, "depth": 5, "height": 100}
    assert "light.in_picture" in seen([lamp], rig=[flag])
    assert "light.in_picture" in seen([{**LAMP, "at": [450, 500, 100], "toward": [0, -1, 0], "width": 80, "height": 80}])
    assert remedied([lamp], "light.in_picture", cards=[card]).kind == "light_out"


def test_two_colours_of_light() -> None:
    """light.mixed: 60 mired apart are 3 200 and 3 960 K; what gives less than an eighth is not seen."""
    left, right = from_the_side(100), {**from_the_side(-100), "id": "other"}
    for kelvin, is_found in ((3950, False), (4000, True)):
        assert ("light.mixed" in seen([{**left, "kelvin": 3200}, {**right, "kelvin": kelvin}])) == is_found
    weak = {**right, "kelvin": 6500}
    for stops, is_found in ((-2.7, True), (-3.1, False)):
        assert ("light.mixed" in seen([{**left, "kelvin": 3200}, {**weak, "stops": stops}])) == is_found
    made = remedied([{**left, "kelvin": 3200}, {**right, "kelvin": 5500, "stops": -1}], "light.mixed")
    assert made.kind == "light_warmth" and made.acts[0].light.kelvin == 3200
    filtered = seen([{**left, "kelvin": 5500, "filter": "#ff9040"}, {**right, "kelvin": 5500}])
    assert "light.mixed" in filtered  # a filter colours too


@pytest.mark.parametrize(("far", "is_found"), [(400, True), (2500, False)])
def test_falloff_over_a_stop(far: float, is_found: bool) -> None:
    """light.falloff: a lamp over one end of things 700 mm apart gives (r / h)^4: over a stop up to about 1 090 mm."""
    lamp = {**LAMP, "at": [100, 300, far]}
    ends = [thing(k, {"kind": "box", "width": 4, "depth": 4, "height": 4}, x, 300) for k, x in ((2, 100), (3, 800))]
    assert ("light.falloff" in seen([lamp], ends)) == is_found
    assert "light.falloff" not in seen([lamp], ends, brief={"leanings": {"shadow": 1}})  # deep shadows are meant


def test_falloff_is_one_stop_where_arithmetic_says() -> None:
    h = 700 / math.sqrt(math.sqrt(2) - 1)  # (1 + (700 / h)^2)^2 = 2
    ends = [thing(k, {"kind": "box", "width": 1, "depth": 1, "height": 1}, x, 300) for k, x in ((2, 100.5), (3, 799.5))]
    small = {**LAMP, "width": 4, "height": 4}
    assert "light.falloff" in seen([{**small, "at": [100, 300, h * 0.97]}], ends)
    assert "light.falloff" not in seen([{**small, "at": [100, 300, h * 1.03]}], ends)
    assert remedied([{**small, "at": [100, 300, h * 0.9]}], "light.falloff", ends).kind == "light_back"


@pytest.mark.parametrize(("width", "is_found"), [(145, True), (165, False)])
def test_a_hard_light_for_who_wants_open_shadows(width: float, is_found: bool) -> None:
    """light.harsh: 8 degrees at 1 100 mm are 154 mm across."""
    lamp = {**from_the_side(100), "width": width / math.sqrt(2), "height": width / math.sqrt(2)}
    assert ("light.harsh" in seen([lamp], brief={"leanings": {"shadow": -1}})) == is_found
    assert "light.harsh" not in seen([lamp])
    assert "light.harsh" not in seen([lamp], brief={"leanings": {"shadow": 1}})
    if is_found:
        assert remedied([lamp], "light.harsh", brief={"leanings": {"shadow": -1}}).kind == "light_larger"


WINDOW: dict[str, Any] = {"id": "window", "kind": "window", "width": 900, "height": 900}


def test_before_a_window_the_set_is_turned() -> None:
    """light.flat and light.shaded: no window is carried; between walls that are known only quarter turns are offered."""
    flat = {**WINDOW, **{key: from_the_side(12, far=2400)[key] for key in ("at", "toward")}}
    made = remedied([flat], "light.flat")
    assert made.kind == "set_turn" and [act.act for act in made.acts] == ["turn_set"]
    walls = {"ceiling_height": None, "walls": "#ffffff", "width": 7000, "depth": 7000}
    within = remedied([flat], "light.flat", room=walls)
    assert within.kind == "set_turn" and dict(within.figures)["degrees"] in (90, -90, 180)
    low = {**WINDOW, "at": [-600, 300, 250], "toward": [1, 0, -0.2], "width": 300, "height": 300}
    post = {"kind": "box", "width": 30, "depth": 220, "height": 160}
    assert remedied([low], "light.shaded", [thing(2, post, 300, 300)]).kind == "set_turn"


def test_the_table_goes_away_from_a_window_and_nearer() -> None:
    """light.falloff and light.harsh: all windows and the walls go, a lamp stays beside the table; never through the other wall."""
    near = {**WINDOW, "at": [-150, 300, 350], "toward": [1, 0, 0], "width": 600, "height": 500}
    other = {**WINDOW, "id": "other", "at": [450, 2300, 900], "toward": [0, -1, 0], "width": 300, "height": 300}
    room = {"ceiling_height": None, "walls": "#ffffff", "x": 1850, "y": 300, "width": 4000, "depth": 4000}
    small = {"kind": "cylinder", "diameter": 60, "height": 10}
    ends = [thing(2, small, 250, 300), thing(3, small, 650, 300)]
    made = remedied([near, other, {**LAMP, "stops": -9}], "light.falloff", ends, room=room)
    assert made.kind == "set_back"
    by = dict(made.figures)["mm"]
    assert by > 0 and [act.act for act in made.acts] == ["move_light", "move_light", "room_place"]
    assert made.acts[0].at == pytest.approx((-150 - by, 300, 350), abs=1) and made.acts[1].at == pytest.approx((450 - by, 2300, 900), abs=1)
    assert made.acts[2].x == pytest.approx(1850 - by, abs=1) and made.acts[2].y == 300
    narrow = picture(table([near], [thing(1, HERO, 450, 300, role="hero"), *ends], camera=CAMERA, room={**room, "x": 425, "width": 1150}))
    found = next(f for f in findings(narrow) if f.code == "light.falloff")
    assert remedy_for(narrow, found) is None  # 100 mm are left beside the table

    wide = picture(table([{**near, "at": [-350, 300, 350]}], [thing(1, HERO, 450, 300, role="hero"), *ends], camera=CAMERA))
    found = next(f for f in findings(wide) if f.code == "light.falloff")
    ways = [dict(c.figures)["mm"] for c in lighting.MAKERS["further off"](wide, found, NO_STORES)]
    assert ways == [120, 240, 400, 600, 800, 1200, 1600]  # 2 400 mm nobody is told

    slit = {**WINDOW, "at": [-2600, 300, 400], "toward": [1, 0, 0], "width": 180, "height": 180}
    made = remedied([slit], "light.harsh", brief={"leanings": {"shadow": -1}})
    assert made.kind == "set_nearer" and made.acts[0].at[0] > -2600
