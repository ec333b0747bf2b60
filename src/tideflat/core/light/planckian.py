"""The colour of light by its temperature, and the temperature of mixed light.

Source: M. P. Krystek, "An algorithm to calculate correlated colour temperature", Color Research & Application 10(1), 1985: u and v (CIE
1960) of a black body as ratios of polynomials, within 9e-5 from 1000 to 15 000 K, and smooth beyond; coefficients from memory, held to
colour-science in tests/reference. Light adds in XYZ.
"""

from __future__ import annotations

import numpy as np

from ..colour.spaces import RGB_TO_XYZ, XYZ_TO_RGB
from ..remember import counted
from ..tolerances import SAME_NUMBER

#: Between these temperatures (K) mixed light is told one.
COLDEST, HOTTEST = 1000.0, 40_000.0


def uv_of_kelvin(kelvin: np.ndarray) -> np.ndarray:
    """(..., 2) CIE 1960 u, v of a black body of ``kelvin`` (...)."""
    t = np.asarray(kelvin, dtype=float)
    u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t**2) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t**2)
    v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t**2) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t**2)
    return np.stack([u, v], axis=-1)


@counted(256)
def rgb_of_kelvin(kelvin: float) -> tuple[float, float, float]:
    """Linear sRGB, of luminance 1, of light of a colour temperature. What lies outside the primaries (under 1 900 K) keeps a negative blue.

    >>> [round(c, 1) for c in rgb_of_kelvin(6500.0)]
    [1.0, 1.0, 1.0]
    """
    u, v = (float(c) for c in uv_of_kelvin(np.array(kelvin)))
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    r, g, b = XYZ_TO_RGB @ np.array([x / y, 1.0, (1 - x - y) / y])
    return float(r), float(g), float(b)


def kelvin_of_rgb(rgb: np.ndarray) -> float | None:
    """The temperature of the black body whose colour is nearest (CIE 1960) to that of the light (3,), linear sRGB; None of no light."""
    x, y, z = RGB_TO_XYZ @ np.asarray(rgb, dtype=float)
    whole = x + 15 * y + 3 * z
    if y <= SAME_NUMBER or whole <= SAME_NUMBER:
        return None
    place = np.array([4 * x / whole, 6 * y / whole])
    # Evenly in mireds, where a step is about as far everywhere; then again between the neighbours of the nearest.
    low, high = 1e6 / HOTTEST, 1e6 / COLDEST
    for _ in range(4):
        mireds = np.linspace(low, high, 64)
        nearest = int(np.argmin(((uv_of_kelvin(1e6 / mireds) - place) ** 2).sum(axis=1)))
        low, high = float(mireds[max(0, nearest - 1)]), float(mireds[min(63, nearest + 1)])
    return 2e6 / (low + high)
