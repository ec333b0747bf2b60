"""A card's difference picture against a new render with the other card: Mitsuba both times, so what is held is the radiosity of the card."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from tests.support.lit import CYLINDER, LAMP, picture, table, thing
from tideflat.core.light.falling import LUMINANCE
from tideflat.core.light.surroundings import card_rgb
from tideflat.core.render.carded import card_lights, card_picture, share_of
from tideflat.core.render.proof import exposure_of, proof_of, size_of

WIDTH, SAMPLES = 96, 64
CARD: dict[str, Any] = {"id": "card", "kind": "white", "at": [800, 300, 150], "toward": [-1, 0, 0], "width": 400, "height": 300}
SIDE_LAMP = {**LAMP, "at": [-500, 300, 500], "toward": [1, 0, -0.4], "width": 300}


def lit(kind: str, **more: Any) -> Any:
    things = [thing(1, CYLINDER, 450, 300, role="hero", colours=[{"hex": "#c9c2b8", "share": 1.0}])]
    surface = {"name": "table", "width": 900, "depth": 600, "colours": [{"hex": "#6b6259", "share": 1.0}]}
    return picture(table([SIDE_LAMP], things, surface=surface, cards=[{**CARD, "kind": kind, **more}]))


@pytest.mark.parametrize(("stands", "becomes"), [("white", "black"), ("black", "white"), ("tint", "white")])
def test_swapped_it_is_what_a_new_render_shows(stands, becomes):
    pytest.importorskip("mitsuba")
    here = lit(stands, **({"colour": "#3a7d2c"} if stands == "tint" else {}))
    exposure = exposure_of(here)
    whole = proof_of(here, WIDTH, SAMPLES, exposure=exposure)
    (light,) = card_lights(here)
    given = card_picture(here, light, size_of(here, WIDTH), SAMPLES, exposure, whole.guides, lambda share: True)
    assert given is not None
    other = card_rgb(replace(light.card, kind=becomes, colour=None))
    swapped = whole.light["all"] + share_of(light.rgb, light.lux, other, {}) * given
    true = proof_of(lit(becomes), WIDTH, SAMPLES, exposure=exposure).light["all"]
    off, unswapped = (
        np.abs(np.log2(np.maximum(p @ LUMINANCE, 0.01) / np.maximum(true @ LUMINANCE, 0.01))) for p in (swapped, whole.light["all"])
    )
    assert np.percentile(unswapped, 90) > 0.2  # the card matters here
    assert np.median(off) < 0.02 and np.percentile(off, 90) < 0.05


def test_foil_and_a_card_in_the_dark_have_no_such_picture():
    assert card_lights(lit("silver")) == ()
    dark = table([], [thing(1, CYLINDER, 450, 300, role="hero")], cards=[CARD])
    assert card_lights(picture(dark)) == ()


def test_it_follows_the_lights_that_reach_it():
    lux = {"a": np.array([60.0, 60, 60]), "b": np.array([20.0, 20, 20])}
    was, black = np.full(3, 0.8), np.zeros(3)
    assert share_of(was, lux, black, {}) == pytest.approx(-0.8)
    assert share_of(was, lux, black, {"a": 1.0}) == pytest.approx(-0.8 * 140 / 80)
    assert share_of(was, lux, black, {"a": -np.inf}) == pytest.approx(-0.8 * 20 / 80)
    assert share_of(was, lux, was, {"b": 2.0}) == pytest.approx(0)
