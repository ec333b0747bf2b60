"""CIEDE2000, the difference two colours make to the eye.

Source: CIE 142-2001; G. Sharma, W. Wu, E. N. Dalal, "The CIEDE2000 color-difference formula: implementation notes, supplementary
test data, and mathematical observations", Color Res. Appl. 30(1), 2005, whose equation numbers stand beside the steps.
"""

from __future__ import annotations

import numpy as np

from ..remember import counted
from .spaces import lab_of

_POW25_7 = 25.0**7


def delta_e_2000(first: np.ndarray, second: np.ndarray) -> np.ndarray:
    """Difference (...) of CIELAB colours (..., 3) that broadcast; kL = kC = kH = 1. About 1 is just seen, 10 is plain.

    >>> round(float(delta_e_2000(np.array([50, 2.6772, -79.7751]), np.array([50, 0, -82.7485]))), 4)
    2.0425
    """
    first, second = np.asarray(first, dtype=float), np.asarray(second, dtype=float)
    l1, a1, b1 = first[..., 0], first[..., 1], first[..., 2]
    l2, a2, b2 = second[..., 0], second[..., 1], second[..., 2]
    mean_c7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7  # (2), (3)
    g = 0.5 * (1 - np.sqrt(mean_c7 / (mean_c7 + _POW25_7)))  # (4)
    a1, a2 = a1 * (1 + g), a2 * (1 + g)  # (5)
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)  # (6)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360, np.degrees(np.arctan2(b2, a2)) % 360  # (7)
    is_grey = c1 * c2 == 0
    turn = h2 - h1
    dh = np.where(is_grey, 0.0, np.where(turn > 180, turn - 360, np.where(turn < -180, turn + 360, turn)))  # (10)
    big_dh = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(dh) / 2)  # (11)
    mean_l, mean_c = (l1 + l2) / 2, (c1 + c2) / 2  # (12), (13)
    total = h1 + h2
    mean_h = np.where(
        is_grey, total, np.where(np.abs(turn) <= 180, total / 2, np.where(total < 360, (total + 360) / 2, (total - 360) / 2))
    )  # (14)
    t = (
        1
        - 0.17 * np.cos(np.radians(mean_h - 30))
        + 0.24 * np.cos(np.radians(2 * mean_h))
        + 0.32 * np.cos(np.radians(3 * mean_h + 6))
        - 0.20 * np.cos(np.radians(4 * mean_h - 63))
    )  # (15)
    theta = 30 * np.exp(-(((mean_h - 275) / 25) ** 2))  # (16)
    r_c = 2 * np.sqrt(mean_c**7 / (mean_c**7 + _POW25_7))  # (17)
    s_l = 1 + 0.015 * (mean_l - 50) ** 2 / np.sqrt(20 + (mean_l - 50) ** 2)  # (18)
    s_c = 1 + 0.045 * mean_c  # (19)
    s_h = 1 + 0.015 * mean_c * t  # (20)
    r_t = -np.sin(np.radians(2 * theta)) * r_c  # (21)
    lightness, chroma, hue = (l2 - l1) / s_l, (c2 - c1) / s_c, big_dh / s_h
    return np.sqrt(np.maximum(lightness**2 + chroma**2 + hue**2 + r_t * chroma * hue, 0))  # (22)


@counted(65536)
def difference(first: str, second: str) -> float:
    """CIEDE2000 of two ``#rrggbb``."""
    return float(delta_e_2000(np.array(lab_of(first)), np.array(lab_of(second))))
