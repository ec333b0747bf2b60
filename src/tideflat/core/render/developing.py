"""Linear light to a picture. By a table: a proof whose lights are mixed anew is developed while a hand waits."""

from __future__ import annotations

from functools import cache

import numpy as np

from ..colour.shoulder import rolled
from ..colour.spaces import rgb_from_linear

#: From so much light on it is white.
_WHITE = 16.0
#: Steps of the table, even in the square root of light, which puts most of them where the eye tells most apart.
_STEPS = 65535


def developed(light: np.ndarray) -> np.ndarray:
    """(..., 3) uint8 sRGB of exposed linear light; what is over white comes to it gently, so that highlights keep a form."""
    steps = np.sqrt(np.clip(light, 0.0, _WHITE, dtype=np.float32))
    steps *= np.float32(_STEPS / np.sqrt(_WHITE))
    return _table()[np.rint(steps, out=steps).astype(np.uint16)]


def shown_of(light: np.ndarray) -> np.ndarray:
    """sRGB (0 to 1) of the same, not rounded."""
    return rgb_from_linear(rolled(light))


@cache
def _table() -> np.ndarray:
    light = _WHITE * (np.arange(_STEPS + 1) / _STEPS) ** 2
    return np.rint(shown_of(light) * 255).astype(np.uint8)  # type: ignore[no-any-return]
