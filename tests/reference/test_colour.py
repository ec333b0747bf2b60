"""Colour against what is published: CIE and IEC formulas in colour-science and scikit-image, Sharma's pairs, WCAG's definition."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from skimage.color import deltaE_ciede2000

from tideflat.core.colour.contrast import contrast_over, contrast_ratio
from tideflat.core.colour.delta_e_2000 import delta_e_2000
from tideflat.core.colour.spaces import lab_from_rgb, oklch_from_rgb, rgb_from_lab, rgb_from_oklch, xyz_from_rgb

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

#: Sharma, Wu & Dalal 2005, table 1 (from memory): Lab of both colours, CIEDE2000.
PAIRS = [
    (50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425),
    (50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615),
    (50, 2.8361, -74.0200, 50, 0, -82.7485, 3.4412),
    (50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0000),
    (50, -1.1848, -84.8006, 50, 0, -82.7485, 1.0000),
    (50, -0.9009, -85.5211, 50, 0, -82.7485, 1.0000),
    (50, 0, 0, 50, -1, 2, 2.3669),
    (50, -1, 2, 50, 0, 0, 2.3669),
    (50, 2.4900, -0.0010, 50, -2.4900, 0.0009, 7.1792),
    (50, 2.4900, -0.0010, 50, -2.4900, 0.0010, 7.1792),
    (50, 2.4900, -0.0010, 50, -2.4900, 0.0011, 7.2195),
    (50, 2.4900, -0.0010, 50, -2.4900, 0.0012, 7.2195),
    (50, -0.0010, 2.4900, 50, 0.0009, -2.4900, 4.8045),
    (50, -0.0010, 2.4900, 50, 0.0010, -2.4900, 4.8045),
    (50, -0.0010, 2.4900, 50, 0.0011, -2.4900, 4.7461),
    (50, 2.5, 0, 50, 0, -2.5, 4.3065),
    (50, 2.5, 0, 73, 25, -18, 27.1492),
    (50, 2.5, 0, 61, -5, 29, 22.8977),
    (50, 2.5, 0, 56, -27, -3, 31.9030),
    (50, 2.5, 0, 58, 24, 15, 19.4535),
    (50, 2.5, 0, 50, 3.1736, 0.5854, 1.0000),
    (50, 2.5, 0, 50, 3.2972, 0, 1.0000),
    (50, 2.5, 0, 50, 1.8634, 0.5757, 1.0000),
    (50, 2.5, 0, 50, 3.2592, 0.3350, 1.0000),
    (60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644),
    (63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630),
    (61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731),
    (35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645),
    (22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373),
    (36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146),
    (90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441),
    (90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381),
    (6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377),
    (2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082),
]


@pytest.mark.parametrize("pair", PAIRS)
def test_ciede2000_reproduces_sharmas_pairs_to_four_figures(pair: tuple[float, ...]) -> None:
    first, second, expected = np.array(pair[:3]), np.array(pair[3:6]), pair[6]
    assert float(delta_e_2000(first, second)) == pytest.approx(expected, abs=1e-4)
    assert float(delta_e_2000(second, first)) == pytest.approx(expected, abs=1e-4)


def test_ciede2000_agrees_with_scikit_image_everywhere() -> None:
    random = np.random.default_rng(5)
    lab = random.random((2, 4000, 3)) * [100, 200, 200] - [0, 100, 100]
    assert np.allclose(delta_e_2000(lab[0], lab[1]), deltaE_ciede2000(lab[0], lab[1]), atol=1e-7)


@pytest.fixture(scope="module")
def cube() -> np.ndarray:
    steps = np.linspace(0, 1, 14)
    return np.stack(np.meshgrid(steps, steps, steps), axis=-1).reshape(-1, 3)


def test_xyz_and_lab_agree_with_colour_science(cube: np.ndarray) -> None:
    """Its sRGB matrix is the standard's, rounded to four figures: 0.03 in Lab is allowed for it."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        xyz = colour.sRGB_to_XYZ(cube)
        lab = colour.XYZ_to_Lab(xyz, colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"])
    assert np.abs(xyz_from_rgb(cube) - xyz).max() < 3e-4
    assert np.abs(lab_from_rgb(cube) - lab).max() < 0.03


def test_oklch_agrees_with_colour_science(cube: np.ndarray) -> None:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        oklab = colour.XYZ_to_Oklab(colour.sRGB_to_XYZ(cube))
    ours = oklch_from_rgb(cube)
    hue = np.radians(ours[:, 2])
    back = np.stack([ours[:, 0], ours[:, 1] * np.cos(hue), ours[:, 1] * np.sin(hue)], axis=1)
    assert np.abs(back - oklab).max() < 1e-3


def test_each_space_comes_back_to_where_it_left(cube: np.ndarray) -> None:
    assert np.allclose(rgb_from_lab(lab_from_rgb(cube)), cube, atol=1e-9)
    assert np.allclose(rgb_from_oklch(oklch_from_rgb(cube)), cube, atol=2e-6)


def test_contrast_is_wcags() -> None:
    """WCAG 2.2: black on white 21, equal colours 1; #767676 is the palest grey that passes 4.5 on white, #777777 fails."""
    assert contrast_ratio("#000000", "#ffffff") == pytest.approx(21)
    assert contrast_ratio("#8a5c4a", "#8a5c4a") == 1
    assert contrast_ratio("#767676", "#ffffff") == pytest.approx(4.54, abs=0.005)
    assert contrast_ratio("#ffffff", "#777777") == pytest.approx(4.48, abs=0.005)
    # pure red: 0.2126 relative luminance, so (1.05) / (0.2626)
    assert contrast_ratio("#ff0000", "#ffffff") == pytest.approx(1.05 / 0.2626, abs=1e-3)


def test_contrast_over_a_ground_forgives_only_the_worst_twentieth() -> None:
    behind = np.array([0.0, 1.0])
    assert contrast_over("#ffffff", behind, np.array([0.96, 0.04])) == pytest.approx(21)
    assert contrast_over("#ffffff", behind, np.array([0.90, 0.10])) == pytest.approx(1)
