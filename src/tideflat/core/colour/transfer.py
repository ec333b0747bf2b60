"""The transfer curve of sRGB (IEC 61966-2-1), there and back: the one place where it is written down.

A value up to the foot of the curve is a straight line's; above it a power's. Arrays keep their kind of number; what lies outside 0..1 is
not clipped here.
"""

from __future__ import annotations

import numpy as np

#: Where the straight part ends, as encoded and as light; its slope; and the power's offset and exponent.
_FOOT, _FOOT_LIGHT, _SLOPE, _OFFSET, _GAMMA = 0.04045, 0.0031308, 12.92, 0.055, 2.4


def decoded(value: float) -> float:
    """Light, 0..1, of one encoded value."""
    return value / _SLOPE if value <= _FOOT else ((value + _OFFSET) / (1 + _OFFSET)) ** _GAMMA


def encoded(light: float) -> float:
    """The encoded value of light."""
    return light * _SLOPE if light <= _FOOT_LIGHT else (1 + _OFFSET) * light ** (1 / _GAMMA) - _OFFSET


def decoded_array(values: np.ndarray) -> np.ndarray:
    """Light of encoded values, any shape."""
    return np.where(values <= _FOOT, values / _SLOPE, ((np.maximum(values, _FOOT) + _OFFSET) / (1 + _OFFSET)) ** _GAMMA)


def encoded_array(light: np.ndarray) -> np.ndarray:
    """Encoded values of light, any shape."""
    return np.where(light <= _FOOT_LIGHT, light * _SLOPE, (1 + _OFFSET) * np.maximum(light, _FOOT_LIGHT) ** (1 / _GAMMA) - _OFFSET)
