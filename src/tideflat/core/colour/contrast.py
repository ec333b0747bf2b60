"""Contrast of words on what is behind them.

Source: WCAG 2.2, "relative luminance" and "contrast ratio": (lighter + 0.05) / (darker + 0.05), 1..21.
"""

from __future__ import annotations

import numpy as np

from .mix import luminance
from .spaces import linear_from_rgb

#: WCAG 2.2, 1.4.3: words of ordinary size; large ones may do with 3.
LEGIBLE, LEGIBLE_LARGE = 4.5, 3.0
#: Letters are large from 18 points on, which are 24 pixels (WCAG 2.2, "large scale"; CSS counts 96 pixels an inch).
LARGE_PX = 24.0
_WEIGHTS = np.array([0.2126, 0.7152, 0.0722])


def contrast_ratio(first: str, second: str) -> float:
    """Of two ``#rrggbb``, in either order.

    >>> round(contrast_ratio("#777777", "#ffffff"), 2)
    4.48
    """
    low, high = sorted((luminance(first), luminance(second)))
    return (high + 0.05) / (low + 0.05)


def luminances(rgb: np.ndarray) -> np.ndarray:
    """Relative luminance (...) of sRGB pixels (..., 3), 0..1."""
    return linear_from_rgb(rgb) @ _WEIGHTS


def contrast_over(words: str, behind: np.ndarray, weights: np.ndarray, share: float = 0.05) -> float:
    """The contrast that ``words`` keep on all but the worst ``share`` of what is behind.

    behind: relative luminances (n,); weights: how much of the area each stands for (n,).
    """
    own = luminance(words)
    ratios = (np.maximum(own, behind) + 0.05) / (np.minimum(own, behind) + 0.05)
    order = np.argsort(ratios)
    covered = np.cumsum(weights[order]) / weights.sum()
    return float(ratios[order][min(int(np.searchsorted(covered, share, side="right")), len(order) - 1)])
