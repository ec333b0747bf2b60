"""Colours as the set-up's light shows them: against every bounce where little stands about, and what merging, lighter and words make of it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from tests.support.lit import LAMP, lighting, picture, table, thing
from tideflat.core.colour.mix import luminance
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.light.falling import LUMINANCE
from tideflat.core.light.mirrors import faces_of
from tideflat.core.model import Colour
from tideflat.core.palette.behind_words import legibility
from tideflat.core.palette.in_light import PARTS, as_lit, in_light
from tideflat.core.palette.seen import against, lightness
from tideflat.core.report import evaluation

BALL = {"kind": "sphere", "diameter": 60}
TALL = {"kind": "cylinder", "diameter": 80, "height": 160}
BACKDROP = {"kind": "upright", "y": 560, "x": 450, "width": 1600, "height": 1200, "colour": "#8b8f8c"}


def lamp(at, toward, **more):
    return {**LAMP, "at": at, "toward": toward, **more}


def two(second: dict[str, Any] | None = None, lights: list[dict[str, Any]] | None = None, **more: Any) -> dict[str, Any]:
    things = [thing(1, TALL, 450, 250, role="hero"), thing(2, TALL, 700, 420, **(second or {}))]
    return table(lights if lights is not None else [lamp([-600, 250, 300], [1, 0, -0.2])], things, **more)


def test_undecided_or_dark_or_without_a_hero_is_as_under_even_light():
    assert in_light(picture(two(lights=[]))) is None
    assert in_light(picture(two(lights=[{**LAMP, "on": False}]))) is None
    value = two()
    value["placements"][0]["role"] = "support"
    assert in_light(picture(value)) is None


@pytest.mark.parametrize("at", [([-600, 250, 500]), ([450, 900, 700]), ([1300, -200, 600])])
def test_it_is_near_what_every_bounce_gives_where_nothing_stands_between(at):
    value = two(lights=[lamp(at, [450 - at[0], 250 - at[1], -at[2]], width=300, height=300)], second={"role": "support"})
    value["surface"]["colours"] = [{"hex": "#9a9a9a", "share": 1}]
    shown = picture(value)
    lit = in_light(shown)
    assert lit is not None
    full = lighting(value)
    for i, body in shown.bodies.items():
        places, weights = [], []
        for face, place, normal in faces_of(body, shown.view.position):
            looks = float((shown.view.position - place) @ normal) / float(np.linalg.norm(shown.view.position - place))
            if looks > 0:
                places.append((place, normal))
                weights.append(looks * 80 * (80 if face == "top" else 160))
        at_faces, normals = np.array([p for p, _ in places]), np.array([n for _, n in places])
        lux = (full.falling(at_faces, normals, but=full.owner("placement", i)) @ LUMINANCE).sum(axis=0)
        true = math.log2(np.average(lux, weights=weights) / lit.reference)
        assert lit.things[i] / PARTS == pytest.approx(true, abs=0.5)


def test_what_is_nearer_to_a_near_lamp_is_lighter_than_what_is_far():
    for sign in (1, -1):
        value = two()
        for prop in value["props"]:
            prop["shape"] = {"kind": "cylinder", "diameter": 120, "height": 6}
        value["placements"][1] |= {"x": 200 if sign > 0 else 800, "y": 250}
        lit = in_light(picture(value))
        assert lit is not None and sign * (lit.things["p2"] - lit.things["p1"]) >= 2


def test_metal_and_glass_are_left_as_they_are():
    for finish in ("metal", "glass"):
        lit = in_light(picture(two({"finish": finish})))
        assert lit is not None and set(lit.things) == {"p1"}


def test_a_hero_of_the_backdrops_colour_merges_or_stands_clear_by_the_light():
    """The key on both, or on the hero alone."""
    flat = two(lights=[{"id": "r", "kind": "room", "stops": 3}], backdrop=BACKDROP, camera={"elevation": 4})
    alone = two(lights=[lamp([450, -500, 500], [0, 750, -420], beam=16)], backdrop=BACKDROP, camera={"elevation": 4})
    rims = {name: against(picture(value))["p1"] for name, value in (("flat", flat), ("alone", alone))}
    assert rims["alone"].behind == "backdrop" and rims["alone"].delta_e > 20
    found = evaluation(scene_from_value(alone))["setups"]["main"]["findings"]
    assert not [f for f in found if f["code"] == "colour.merge" and f["placements"] == ["p1"]]
    unlit = against(picture(two(lights=[], backdrop=BACKDROP, camera={"elevation": 4})))["p1"]
    assert unlit.delta_e < 1 and rims["flat"].delta_e < rims["alone"].delta_e


def test_a_light_ground_in_little_light_is_as_dark_as_a_grey_thing():
    """A grey hero stands clear of a backdrop that is white in the hand, and merges with it two stops under the key."""
    value = two(lights=[], backdrop={**BACKDROP, "colour": "#ffffff"}, camera={"elevation": 4})
    value["props"][0]["colours"] = [{"hex": "#808080", "share": 1}]
    even = against(picture(value))["p1"]
    lit = [lamp([450, -300, 600], [0, 550, -500], width=60, height=60)]
    rims = []
    for y in (560, 900, 1400, 2400):  # the further off, the less of the lamp's light
        value["backdrop"]["y"] = y
        value["surface"]["depth"] = 600
        rims.append(against(picture({**value, "lights": lit}))["p1"].delta_e)
    assert even.delta_e > 25 and min(rims) < 12 and rims[0] > 1.5 * min(rims)


def test_light_may_hold_a_light_thing_down_and_what_it_makes_brighter_is_told_as_lights() -> None:
    def codes(value):
        return [f["code"] for f in evaluation(scene_from_value(value))["setups"]["main"]["findings"]]

    near = two({"role": "support"}, lights=[lamp([1000, 250, 300], [-1, 0, -0.2])])
    assert "colour.lighter" not in codes(near) and "light.elsewhere" in codes(near)
    light = two({"role": "support"}, lights=[{"id": "r", "kind": "room", "stops": 2}])
    light["props"][1]["colours"] = [{"hex": "#c4c8c5", "share": 1.0}]
    assert "colour.lighter" in codes(light)
    light["placements"][1]["prop"] = "t1"
    assert "colour.lighter" not in codes(light)


def test_words_on_a_backdrop_read_by_its_light():
    value = two(backdrop={**BACKDROP, "colour": "#6e6e6e"}, camera={"elevation": 4})
    value["setups"][0]["deliverables"] = [{"name": "card", "ratio": "3:2", "copy_space": {"side": "top", "share": 0.2}}]

    def read(lights):
        shown = picture({**value, "lights": lights})
        return legibility(shown, shown.crops[0].copy_box)

    plain = read([])
    both = lamp([450, -900, 700], [0, 1150, -400])
    behind = {**lamp([450, 300, 500], [0, 1, 0]), "id": "back", "stops": 1.5, "width": 900}
    bright = read([both, behind])
    assert plain.ink == "#ffffff" and bright.ink == "#000000"
    assert bright.ratio != pytest.approx(plain.ratio, abs=0.5)


def test_parts_of_a_stop_are_light():
    grey = (Colour("#808080", 1.0),)
    assert as_lit(grey, 0) == grey
    assert luminance(as_lit(grey, -PARTS)[0].hex) == pytest.approx(luminance("#808080") / 2, rel=0.03)
    assert luminance(as_lit(grey, PARTS)[0].hex) == pytest.approx(luminance("#808080") * 2, rel=0.03)
    assert lightness(as_lit((Colour("#f0f0f0", 1.0),), 2 * PARTS)) <= 100
