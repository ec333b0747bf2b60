"""How light over white is shown: it comes to white gently, so that highlights keep a form. Proof and drawn light share it."""

from __future__ import annotations

import numpy as np

#: From here on light comes to white gently.
KNEE = 0.8


def rolled(light: np.ndarray) -> np.ndarray:
    """(...) linear light, under 1: unchanged to the knee, then nearer and nearer to 1.

    >>> float(rolled(np.array(0.5))), float(rolled(np.array(1.0)))
    (0.5, 0.9)
    """
    over = np.maximum(light - KNEE, 0.0)
    return np.where(light > KNEE, KNEE + (1 - KNEE) * over / (over + 1 - KNEE), light)
