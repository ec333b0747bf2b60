"""The drawn light as small PNG pictures that lie over both views: one that is multiplied where there is less light than is exposed for, one
that is dodged where there is more.

Colours are coded with an exponent of about 1 / 2.2. So a share f of light under 1 is a multiplication by f^(1 / 2.2), and one over 1 a
dodge by s, which divides by 1 - s: ``s = 1 - f^(-1 / 2.2)``.
"""

from __future__ import annotations

import base64
from typing import Any

import cv2
import numpy as np

from .light_drawn import DrawnLight

_EXPONENT = 1 / 2.2


def light_pictures(drawn: DrawnLight) -> dict[str, Any]:
    """``table_ground``, ``table_things``, ``frame_ground``, ``frame_things``: addresses of what is multiplied; with ``_more`` of what is
    dodged, empty where nothing is; ``table_box``: x0, y0, x1, y1, mm; ``exposed``: linear lux that is exposed for."""
    pictures: dict[str, Any] = {"table_box": [round(v, 1) for v in drawn.table_box], "exposed": drawn.exposed.tolist()}
    for name, shares in (
        ("table_ground", drawn.surface),
        ("table_things", drawn.table_things.light),
        ("frame_ground", drawn.frame_ground),
        ("frame_things", drawn.frame_things.light),
    ):
        pictures[name] = _png(_less(shares))
        pictures[f"{name}_more"] = _png(_more(shares)) if (shares > 1).any() else ""
    return pictures


def _less(shares: np.ndarray) -> np.ndarray:
    """(h, w, 3) uint8 to multiply by."""
    return np.rint(np.clip(np.maximum(shares, 0.0) ** _EXPONENT, 0, 1) * 255).astype(np.uint8)  # type: ignore[no-any-return]


def _more(shares: np.ndarray) -> np.ndarray:
    """(h, w, 3) uint8 to dodge by."""
    return np.rint((1 - np.maximum(shares, 1.0) ** -_EXPONENT) * 255).astype(np.uint8)  # type: ignore[no-any-return]


def _png(picture: np.ndarray) -> str:
    """A data address."""
    data = cv2.imencode(".png", picture[..., ::-1])[1].tobytes()
    return "data:image/png;base64," + base64.b64encode(data).decode()
