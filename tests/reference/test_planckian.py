"""Colour temperatures against colour-science (Planck's law with the CIE 1931 observer; correlated temperature after Ohno, 2013), and mixed light
against sums in XYZ."""

from __future__ import annotations

import math
import warnings

import numpy as np
import pytest

from tests.support.lit import LAMP, printed, table, thing
from tideflat.core.colour.spaces import RGB_TO_XYZ
from tideflat.core.light.planckian import kelvin_of_rgb, rgb_of_kelvin, uv_of_kelvin

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

KELVIN = (1000, 1500, 1900, 2700, 3200, 4000, 5000, 5500, 6500, 7500, 10_000, 15_000)


def planck_xyz(kelvin: float) -> np.ndarray:
    """XYZ, Y = 1, of a black body."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        shape = colour.SpectralShape(360, 830, 1)
        xyz = colour.sd_to_XYZ(
            colour.sd_blackbody(kelvin, shape), colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].align(shape), method="Integration"
        )
    return np.asarray(xyz / xyz[1])


def uv(xyz: np.ndarray) -> np.ndarray:
    x, y, z = xyz
    return np.array([4 * x, 6 * y]) / (x + 15 * y + 3 * z)


@pytest.mark.parametrize("kelvin", KELVIN)
def test_the_locus_is_that_of_plancks_law(kelvin: float) -> None:
    assert np.abs(uv_of_kelvin(np.array(kelvin)) - uv(planck_xyz(kelvin))).max() < 2e-4


@pytest.mark.parametrize("kelvin", [*KELVIN, 25_000])
def test_there_and_back(kelvin: float) -> None:
    assert kelvin_of_rgb(np.array(rgb_of_kelvin(float(kelvin)))) == pytest.approx(kelvin, rel=2e-3)
    assert float(RGB_TO_XYZ[1] @ np.array(rgb_of_kelvin(float(kelvin)))) == pytest.approx(1)


def test_no_light_has_no_temperature() -> None:
    assert kelvin_of_rgb(np.zeros(3)) is None


@pytest.mark.parametrize(
    ("a", "b", "stops"), [(3200, 5600, 0), (2700, 6500, 1), (3200, 7500, -2), (5000, 5500, 0), (2000, 10_000, 1.5), (4000, 4000, 2)]
)
def test_two_lamps_mix_as_their_xyz_adds(a: float, b: float, stops: float) -> None:
    """Both alike but for kelvin and strength, over a hero on a black table."""
    lamps = [
        {**LAMP, "id": "a", "kelvin": a, "at": [200, 300, 900]},
        {**LAMP, "id": "b", "kelvin": b, "at": [700, 300, 900], "stops": stops},
    ]
    found = printed(table(lamps, [thing(1, {"kind": "cylinder", "diameter": 60, "height": 50}, 450, 300, role="hero")]))
    mixed = planck_xyz(a) + 2**stops * planck_xyz(b)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        expected = float(colour.temperature.uv_to_CCT_Ohno2013(uv(mixed))[0])
    assert found["kelvin_at_hero"] == pytest.approx(expected, abs=60 if expected < 7500 else 120)
    assert found["key"] == ("b" if stops > 0 else "a")


def test_a_filter_colours_and_strength_is_told_with_it_on() -> None:
    lamp = {**LAMP, "width": 10, "height": 10, "filter": "#ff8040"}
    found = printed(table([lamp], [thing(1, {"kind": "cylinder", "diameter": 60, "height": 1}, 450, 300, role="hero")]))
    assert found["kelvin_at_hero"] < 3500
    assert found["points"][0]["stops"] == pytest.approx(0, abs=0.02)


def test_key_to_fill_of_two_lamps_and_the_falloff_of_one() -> None:
    """Two small lamps level with the hero's middle on either side, one two stops weaker; a lamp that stands near lights what is near it more."""
    left = {**LAMP, "id": "left", "at": [-550, 300, 25], "toward": [1, 0, 0], "width": 20, "height": 20}
    right = {**left, "id": "right", "at": [1450, 300, 25], "toward": [-1, 0, 0], "stops": -2}
    hero = thing(1, {"kind": "cylinder", "diameter": 60, "height": 50}, 450, 300, role="hero")
    found = printed(table([left, right], [hero]))
    assert found["key"] == "left"
    assert found["key_to_fill_stops"] == pytest.approx(2, abs=0.03)
    only = printed(table([left], [hero]))
    assert only["key_to_fill_stops"] is None  # nothing fills it: no number says how dark
    lamp = {**LAMP, "at": [100, 300, 500], "width": 10, "height": 10}
    across = printed(
        table([lamp], [thing(k, {"kind": "box", "width": 1, "depth": 1, "height": 1}, x, 300) for k, x in ((1, 100.5), (2, 799.5))])
    )
    # A level face straight under the lamp and one 700 mm off: (r / h)^4.
    assert across["falloff_stops"] == pytest.approx(math.log2((math.hypot(700, 500) / 500) ** 4), abs=0.03)
