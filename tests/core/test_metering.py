"""What a meter asks for, against a worked exposure and the equation's own ratios; and what the light drawer says of it and of the sun's day."""

from __future__ import annotations

import math

import pytest

from tests.support.lit import LAMP, picture, table, thing
from tideflat.core.light.metering import aperture_asked, time_asked_s
from tideflat.core.light_told import light_told
from tideflat.core.lit import lighting_of
from tideflat.web.bridge.light_words import day_line, told_words

HERO = thing(1, {"kind": "cylinder", "diameter": 100, "height": 2}, 450, 300, role="hero")


def told(lights, exposure=None, **camera):
    value = table(lights, [HERO], camera={"elevation": 90, "aim": [450, 300, 0], "distance": 6000, **camera})
    value["setups"][0]["exposure"] = exposure
    shown = picture(value)
    return light_told(shown, lighting_of(shown))


def test_sunny_sixteen():
    """Common practice: in full sun (about 80 000 lux) 1 / ISO of a second at f/16: within half a stop of the equation."""
    assert abs(math.log2(time_asked_s(80_000, 100, 16) * 100)) < 0.5


def test_a_doubling_is_a_stop():
    base = time_asked_s(1000, 100, 8)
    assert time_asked_s(2000, 100, 8) == pytest.approx(base / 2)
    assert time_asked_s(1000, 200, 8) == pytest.approx(base / 2)
    assert time_asked_s(1000, 100, 8 * math.sqrt(2)) == pytest.approx(base * 2)
    assert aperture_asked(4000, 100) == pytest.approx(2 * aperture_asked(1000, 100))


def test_a_thousand_lux_at_the_hero():
    """A lamp 1 m over a hero seen from straight above gives about 1 000 lux to both of the meter's faces."""
    lamp = {**LAMP, "at": [450, 300, 1002]}
    asked = told([lamp])["exposure"]
    far = told([lamp], distance=12_000)["exposure"]
    assert asked["time_s"] == pytest.approx(time_asked_s(1000, 100, asked["marked"] * 2 ** (asked["bellows"] / 2)), rel=0.06)
    assert asked["off"] is None and 0 < far["bellows"] < asked["bellows"] < 0.1
    near = told([lamp], distance=400)["exposure"]
    assert near["bellows"] > 0.3 and near["time_s"] > 1.2 * asked["time_s"]


def test_what_is_set_against_what_is_asked():
    lamp = {**LAMP, "at": [450, 300, 1002]}
    time = told([lamp])["exposure"]["time_s"]
    set_ = told([lamp], {"iso": 100, "time_s": 2 * time})["exposure"]
    assert set_["off"] == pytest.approx(1)
    flash = told([lamp], {"iso": 100, "time_s": 0.01, "flash": True})["exposure"]
    assert flash["aperture"] == pytest.approx(math.sqrt(10 * 100 / 250), rel=0.05)
    assert flash["off"] == pytest.approx(2 * math.log2(flash["aperture"] / flash["marked"]), abs=0.01)
    assert told([])["exposure"] is None and told([{**LAMP, "on": False}])["exposure"] is None


def test_a_filter_before_the_lens_asks_for_its_stops():
    lamp = {**LAMP, "at": [450, 300, 1002]}
    bare = told([lamp], {"iso": 100, "time_s": 0.01})["exposure"]
    dense = told([lamp], {"iso": 100, "time_s": 0.01, "filter_stops": 3})["exposure"]
    assert dense["time_s"] == pytest.approx(8 * bare["time_s"]) and dense["off"] == pytest.approx(bare["off"] - 3)
    flash = [told([lamp], {"iso": 100, "time_s": 0.01, "flash": True, "filter_stops": s})["exposure"]["aperture"] for s in (0, 2)]
    assert flash[1] == pytest.approx(flash[0] / 2)
    line = told_words({"exposure": {**dense, "bellows": 0.8}}, {})[0]["words"]
    assert "0.8 stops for nearness and 3 stops for the filter" in line
    assert "filter" not in told_words({"exposure": bare}, {})[0]["words"]


def test_words_say_which_way():
    asked = {"iso": 100, "marked": 8, "bellows": 0.0, "filter": 0.0, "flash": False, "off": -1.3, "time_s": 0.16}
    line = told_words({"exposure": asked}, {})[0]
    assert "f/8 and ISO 100" in line["words"] and "1.3 stops darker" in line["words"]
    assert "lighter" in told_words({"exposure": {**asked, "off": 2.0}}, {})[0]["words"]
    assert "what is set" not in told_words({"exposure": {**asked, "off": 0.1}}, {})[0]["words"]
    assert "nearness" in told_words({"exposure": {**asked, "bellows": 0.8}}, {})[0]["words"]
    assert told_words({"exposure": {**asked, "flash": True, "aperture": 5.6}}, {})[0]["figure"] == "f/5.6"


def test_the_day_on_a_line():
    day = day_line({"sun": {"elevation": 20.0, "azimuth": 90.0, "hours": [["06:00", "08:40"], ["12:00", "24:00"]]}}, "07:20")
    assert day is not None
    assert [(s["x"], s["width"]) for s in day["spans"]] == [(90.0, 40.0), (180.0, 180.0)]
    assert day["now"] == 110.0 and "06:00 to 08:40" in day["told"]
    assert day_line({"sun": None}, "07:20") is None
