"""What is said of how the light is shared out, what the lens gets of it, where shadows run, and what stands in what: each kind on both sides of
its limit, and what its remedy does."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from tests.core.test_light_findings import CAMERA, HERO, from_the_side
from tests.support.lit import LAMP, picture, table, thing
from tideflat.core.acts.registry import tried
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.lit_balance import _bright
from tideflat.core.findings.registry import findings
from tideflat.core.light.at_once import ceiling_patches, from_cards, from_ceiling, from_surface, straight_lux
from tideflat.core.light.sources import sources_of
from tideflat.core.lit import lighting_of
from tideflat.core.remedies.search import remedy_for

WHITE = {"name": "table", "width": 900, "depth": 600, "colours": [{"hex": "#ffffff", "share": 1.0}]}
BEHIND = from_the_side(170)
CARD: dict[str, Any] = {"id": "card", "kind": "white", "at": [450, 0, 160], "toward": [0, 1, 0], "width": 600, "height": 300}


def seen(lights: list[dict[str, Any]], things: list[Any] | None = None, hero: Any = None, **more: Any) -> dict[str, Finding]:
    return {f.code: f for f in findings(_picture(lights, things, hero, **more)) if f.code.startswith("light.") or f.code == "rig.collides"}


def _picture(lights: list[dict[str, Any]], things: list[Any] | None = None, hero: Any = None, **more: Any) -> Any:
    first = hero or thing(1, HERO, 450, 300, role="hero", colours=[{"hex": "#b0a890", "share": 1.0}])
    return picture(table(lights, [first, *(things or [])], camera={**CAMERA, **more.pop("camera", {})}, **more))


def remedied(lights: list[dict[str, Any]], code: str, *args: Any, **more: Any) -> Any:
    shown = _picture(lights, *args, **more)
    made = remedy_for(shown, next(f for f in findings(shown) if f.code == code))
    assert made is not None
    assert code not in {f.code for f in findings(shown.changed(tried(shown.whole, made.acts)))}
    return made


def test_what_is_worked_out_at_once_is_what_falls() -> None:
    """Straight light and first bounces against all bounces, where there are few: a dark hero, a white card, a lamp that lights it."""
    shown = _picture([{**LAMP, "at": [450, 900, 700], "toward": [0, -1, -0.8]}], cards=[CARD], surface=WHITE)
    lighting = lighting_of(shown)
    points, normals = np.array([[450.0, 250, 40], [300, 200, 60]]), np.tile([0.0, -1.0, 0.0], (2, 1))
    sources = lighting.sources
    quick = straight_lux(sources, points, normals) + from_cards(sources, shown.scene.cards, points, normals)
    quick = quick + from_surface(shown.scene.surface, sources, points, normals)
    whole = (lighting.falling(points, normals, but=lighting.owner("placement", "p1")) @ np.array([0.2126, 0.7152, 0.0722])).sum(axis=0)
    assert np.abs(np.log2(quick / whole)).max() < 0.7


def test_a_key_from_behind_asks_for_fill() -> None:
    """light.no_fill: from behind and from the side; dark and white tables; with a card; who leans to deep shadows."""
    found = seen([BEHIND])["light.no_fill"]
    assert found.placements == ("p1",) and found.measure > 3.5
    assert "light.no_fill" not in seen([from_the_side(60)])
    assert "light.no_fill" not in seen([BEHIND], surface=WHITE)
    assert "light.no_fill" not in seen([BEHIND], cards=[CARD])
    assert "light.no_fill" in seen([BEHIND], cards=[{**CARD, "kind": "black"}])
    assert "light.no_fill" not in seen([BEHIND], brief={"leanings": {"shadow": 1}})
    made = remedied([BEHIND], "light.no_fill")
    assert made.kind == "card_fill" and made.acts[0].act == "card" and made.acts[0].card.kind == "white"


@pytest.mark.parametrize(("degrees", "is_found"), [(112, False), (118, True)])
def test_behind_begins_at_115_degrees(degrees: float, is_found: bool) -> None:
    assert ("light.no_fill" in seen([from_the_side(degrees)])) == is_found


def test_fill_is_asked_for_from_three_and_a_half_stops_on() -> None:
    """A second light from the front: 2 ** -3.5 of the key and a little more or less."""
    front = {**from_the_side(0), "id": "front"}
    assert "light.no_fill" in seen([BEHIND, {**front, "stops": -3.9}])
    assert "light.no_fill" not in seen([BEHIND, {**front, "stops": -3.0}])


def test_a_thing_nearer_to_the_light_outshines_the_hero() -> None:
    """light.elsewhere: the same thing as far off as the hero, and much nearer; darker; in the shade; a plate under the hero."""
    lamp = {**LAMP, "at": [450, 300, 500], "width": 60, "height": 60}
    lamp_aside = {**lamp, "at": [750, 300, 300]}
    twin = {"kind": "cylinder", "diameter": 80, "height": 60}
    pale = [{"hex": "#b0a890", "share": 1.0}]
    near = thing(2, twin, 720, 300, colours=pale)
    found = seen([lamp_aside], [near])["light.elsewhere"]
    assert found.placements == ("p2", "p1") and found.measure > 1.5
    assert "light.elsewhere" not in seen([lamp], [thing(2, twin, 560, 300, colours=pale)])
    assert "light.elsewhere" not in seen([lamp_aside], [thing(2, twin, 720, 300, colours=[{"hex": "#303030", "share": 1.0}])])
    post = thing(3, {"kind": "box", "width": 160, "depth": 120, "height": 5}, 740, 300, z=170, colours=[{"hex": "#101010", "share": 1.0}])
    assert "light.elsewhere" not in seen([lamp_aside], [near, post])
    assert "light.elsewhere" not in seen([lamp_aside], [thing(2, twin, 720, 300, colours=pale, role="accent")])
    whiter = thing(2, twin, 560, 300, colours=[{"hex": "#ffffff", "share": 1.0}])
    assert "light.elsewhere" not in seen([{**lamp, "at": [450, 300, 1500]}], [whiter])  # lighter by its colour alone


@pytest.mark.parametrize(("elevation", "is_top"), [(4, False), (10, True)])
def test_a_lid_that_is_seen_as_a_line_is_not_the_brightest_face(elevation: float, is_top: bool) -> None:
    """The lens 40 mm over the lid at a metre, and 144 mm; the lamp right above lights the lid alone."""
    lamp = {**LAMP, "at": [560, 300, 900]}
    tin = thing(2, {"kind": "cylinder", "diameter": 80, "height": 60}, 560, 300)
    shown = picture(table([lamp], [tin], camera={"elevation": elevation, "distance": 1000, "aim": [560, 300, 30]}))
    (bright,) = _bright(shown, ["p2"], list(sources_of(shown.scene.lights, shown.scene.room)))
    assert bool(bright.place[2] > 60) == is_top


def test_light_on_the_backdrop() -> None:
    """light.spill: a lamp between hero and backdrop that looks at the backdrop, and one that looks at the hero."""
    drop = {"kind": "upright", "y": 700, "x": 450, "width": 2400, "height": 1200}
    low = {"elevation": 10, "distance": 1200}
    lamp = {**LAMP, "at": [-150, 350, 420], "width": 100, "height": 100}
    assert "light.spill" in seen([{**lamp, "toward": [0.5, 1, -0.1]}], backdrop=drop, camera=low)
    assert "light.spill" not in seen([{**lamp, "toward": [1, -0.2, -0.5]}], backdrop=drop, camera=low)
    assert "light.spill" not in seen([{**lamp, "toward": [0.5, 1, -0.1]}], backdrop=drop, camera={"elevation": 90, "distance": 900})


def test_a_white_ceiling_takes_the_direction_away() -> None:
    """light.ceiling: a lamp into a low white ceiling, into a grey one, one that looks down; a black card between."""
    up = {**LAMP, "at": [-400, 300, 300], "toward": [0.1, 0, 1], "width": 300, "height": 300}
    key = {**from_the_side(90), "id": "key", "stops": -4}
    room = {"ceiling_height": 2300, "walls": "#ffffff"}
    assert seen([key, up], room=room)["light.ceiling"].measure > 40
    assert "light.ceiling" not in seen([key, up], room={**room, "ceiling": "#202020"})
    assert "light.ceiling" not in seen([key], room=room)
    assert "light.ceiling" not in seen([key, up])
    assert "light.ceiling" not in seen([key, up], room=room, brief={"leanings": {"shadow": -1}})
    over = {"id": "over", "kind": "black", "at": [450, 300, 560], "toward": [0, 0, -1], "width": 1800, "height": 1400}
    assert "light.ceiling" not in seen([key, up], room=room, cards=[over])
    made = remedied([key, up], "light.ceiling", room=room)
    assert made.kind == "card_overhead" and made.acts[0].card.kind == "black"


def test_the_ceiling_gives_what_a_small_patch_gives_by_the_closed_form() -> None:
    """One small lamp close under the middle of the ceiling: E = rho E_c A / (pi h^2) of a patch seen from straight below, summed over patches."""
    shown = _picture([LAMP], room={"ceiling_height": 3000, "walls": "#ffffff"})
    patches = ceiling_patches(shown.scene)
    assert patches is not None
    middles, area, rho = patches
    assert area * len(middles) == pytest.approx(4000**2) and rho == pytest.approx(1)
    only = np.zeros(len(middles), dtype=bool)
    only[5] = True
    sources = lighting_of(shown).sources
    lux = straight_lux(sources, middles, np.tile([0.0, 0, -1], (len(middles), 1)))
    point = np.array([450.0, 300, 0])
    to = middles[5] - point
    far = float(np.linalg.norm(to))
    assert from_ceiling(shown.scene, sources, point, only) == pytest.approx(lux[5] * area / math.pi * (to[2] / far) ** 2 / far**2, rel=1e-3)


@pytest.mark.parametrize(("off", "is_found"), [(8, True), (16, False)])
def test_a_light_beside_the_frame_shines_into_the_lens(off: float, is_found: bool) -> None:
    """light.glare: a small lamp that looks at the lens, so many degrees over the frame's upper edge, at eye level."""
    low = {"elevation": 0, "aim": [450, 300, 120], "distance": 1200}
    half = math.degrees(math.atan(12 / (50 * (1 + 50 / 1150))))
    up = math.tan(math.radians(half + off)) * 2000
    lamp = {**LAMP, "at": [450, 1100, 120 + up], "toward": [0, -2000, -up], "width": 20, "height": 20}
    found = seen([lamp], camera=low).get("light.glare")
    assert (found is not None) == is_found
    if found is not None:
        assert found.measure == pytest.approx(off, abs=1.2)
        assert "light.glare" not in seen([{**lamp, "toward": [0, 1, 0]}], camera=low)  # its back to the lens
        assert "light.glare" not in seen([{**lamp, "beam": 20, "toward": [0, -1, -3]}], camera=low)
        flag = {**CARD, "kind": "black", "at": [450, -100, 120 + up * 0.4], "toward": [0, -1, 0], "width": 300, "height": 200}
        assert "light.glare" not in seen([lamp], camera=low, cards=[flag])
        drop = {"kind": "upright", "y": 700, "x": 450, "width": 2400, "height": 2400}
        assert "light.glare" not in seen([lamp], camera=low, backdrop=drop)


def test_glare_is_kept_off_by_a_card() -> None:
    low = {"elevation": 20, "aim": [450, 300, 60], "distance": 1200}
    lamp = {**LAMP, "at": [450, 1500, 500], "toward": [0, -1, -0.1], "width": 100, "height": 100}
    assert remedied([lamp, {**from_the_side(60), "id": "key", "stops": 2}], "light.glare", camera=low).kind == "card_flag"


def test_a_blade_that_mirrors_nothing_bright() -> None:
    """light.dull: a flat of metal under a lamp beside it, and under one where it mirrors; of matt steel paint; with a white card there."""
    blade = thing(2, {"kind": "box", "width": 220, "depth": 60, "height": 3}, 450, 180, finish="metal", role="support")
    side = from_the_side(90)
    found = seen([side], [blade])["light.dull"]
    assert found.placements == ("p2",) and 20 < found.measure < 60
    a = math.radians(40)
    place = [450, 180 + 900 * math.cos(a), 3 + 900 * math.sin(a)]
    mirrored = {**LAMP, "id": "over", "at": place, "toward": [0, -math.cos(a), -math.sin(a)], "width": 400, "height": 400, "stops": -2}
    assert "light.dull" not in seen([side, mirrored], [blade])
    assert "light.dull" not in seen([side], [blade], cards=[{**CARD, "at": place, "toward": mirrored["toward"]}])
    assert "light.dull" in seen([side], [blade], cards=[{**CARD, "kind": "black", "at": place, "toward": mirrored["toward"]}])
    assert "light.dull" not in seen([side], [thing(2, {"kind": "box", "width": 220, "depth": 60, "height": 3}, 450, 180)])
    assert "light.dull" not in seen(
        [side], [thing(2, {"kind": "box", "width": 220, "depth": 60, "height": 3}, 450, 180, finish="metal", role="linear")]
    )
    upright = thing(2, {"kind": "cylinder", "diameter": 70, "height": 90}, 450, 180, finish="metal")
    assert "light.dull" not in seen([side], [upright])  # what is round finds a light somewhere
    assert remedied([side], "light.dull", [blade]).kind in ("card_mirror", "light_mirror")


def test_gloss_is_asked_of_a_flat_hero_only() -> None:
    shape = {"kind": "cylinder", "diameter": 200, "height": 20}
    side = from_the_side(90)
    assert "light.dull" in seen([side], hero=thing(1, shape, 450, 300, role="hero", finish="gloss"))
    assert "light.dull" not in seen([side], [thing(2, shape, 200, 300, finish="gloss")])


@pytest.mark.parametrize(("degrees", "is_found"), [(45, False), (-45, True)])
def test_shadows_that_cross_the_diagonal(degrees: float, is_found: bool) -> None:
    """light.across: seen from above, with the key in the line of the diagonal and square to it."""
    above = {"elevation": 90, "aim": [450, 300, 0], "distance": 1000}
    # A diagonal from the top left runs down to the right: a lamp at the top left throws shadows along it.
    a = math.radians(90 + degrees)
    lamp = {**LAMP, "at": [450 + 900 * math.cos(a) * 1.5, 300 + 900 * math.sin(a), 500], "toward": [-math.cos(a) * 1.5, -math.sin(a), -0.5]}
    found = seen([lamp], camera=above, scheme={"kind": "diagonal", "from": "top-left"})
    assert ("light.across" in found) == is_found
    assert "light.across" not in seen([lamp], camera=above)
    assert "light.across" not in seen([lamp], camera=above, scheme={"kind": "centre"})
    assert "light.across" not in seen(
        [{**lamp, "at": [460, 300, 2500], "toward": [0, 0, -1]}], camera=above, scheme={"kind": "diagonal", "from": "top-left"}
    )


def test_the_sun_leaves_its_window() -> None:
    """light.sun_short: half an hour before it sets and an hour before; at night; through a window that it does not pass."""
    sun = {"id": "sun", "kind": "sun", "latitude": 52.0, "longitude": 0.0}
    room = {"ceiling_height": 2600, "walls": "#ffffff", "north": 0}
    # At 52 degrees north the sun sets at about 18:11 UTC on the day of equal day and night.
    for clock, is_found in (("17:20", False), ("17:50", True), ("23:00", True)):
        found = seen([{**sun, "time": f"2026-03-20T{clock}:00+00:00"}], room=room).get("light.sun_short")
        assert (found is not None) == is_found, clock
        if clock == "23:00":
            assert found is not None and found.measure == 0
    window = {"id": "w", "kind": "window", "at": [-1200, 300, 600], "toward": [1, 0, 0], "width": 1000, "height": 1000}
    morning = {**sun, "time": "2026-03-20T09:00:00+00:00", "through": "w"}
    assert seen([window, morning], room=room)["light.sun_short"].measure == 0  # the window looks west
    assert "light.sun_short" not in seen([{**window, "cover": "sheer"}, morning], room=room)


def test_what_stands_in_what() -> None:
    """rig.collides: a card in the hero and one beside it; a lamp in the camera; a lamp on its stand; below the table's top; two cards."""
    side = from_the_side(90)
    into = {**CARD, "at": [450, 275, 40], "toward": [0, 1, 0], "width": 200, "height": 60}
    found = seen([side], cards=[into])["rig.collides"]
    assert found.placements == ("p1",) and dict(found.figures)["light"] == "card"
    assert "rig.collides" not in seen([side], cards=[{**into, "at": [450, 250, 40]}])
    lens = _picture([side]).view.position
    camera = seen([{**side, "at": [float(v) for v in lens + [0, -60, 40]]}])["rig.collides"]
    assert dict(camera.figures)["other"] == "camera"
    stand = {
        "id": "stand",
        "kind": "stand",
        "at": [side["at"][0], side["at"][1], -750],
        "toward": [1, 0, 0],
        "width": 60,
        "depth": 60,
        "height": 2000,
    }
    assert "rig.collides" not in seen([side], rig=[stand])
    assert "rig.collides" in seen([side], rig=[{**stand, "id": "flag", "kind": "flag"}])
    low = {**CARD, "at": [450, 100, 40], "toward": [0, 1, 0], "height": 120}
    assert dict(seen([side], cards=[low])["rig.collides"].figures)["other_list"] == "surface"
    assert "rig.collides" not in seen([side], cards=[{**low, "at": [450, 100, 61]}])
    assert "rig.collides" not in seen([side], cards=[{**low, "at": [450, -20, 40]}])
    crossed = [{**CARD, "at": [450, 50, 200]}, {**CARD, "id": "other", "at": [450, 50, 200], "toward": [1, 0, 0]}]
    assert "rig.collides" in seen([side], cards=crossed)
    assert "rig.collides" not in seen([side], cards=[crossed[0], {**crossed[1], "at": [450, 400, 260], "width": 300}])
