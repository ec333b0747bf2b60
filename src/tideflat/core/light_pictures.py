"""The drawn light as small PNG pictures that lie over both views, blended as hard light: half grey leaves a colour as it is.

Blending as hard light multiplies by 2 v where v is under a half; colours are coded with an exponent of about 1 / 2.2, so a share f of
light is
v = f^(1 / 2.2) / 2. Over a half it is exact for a middle grey.
"""

from __future__ import annotations

import base64
from typing import Any

import cv2
import numpy as np

from .evaluate import Picture
from .light.falling import Lighting
from .light_drawn import light_drawn

_EXPONENT = 1 / 2.2


def light_pictures(picture: Picture, *, share: float = 1.0, before: Lighting | None = None) -> tuple[dict[str, Any], Lighting]:
    """(pictures, what they were worked out with). ``surface``, ``table_things``, ``frame_ground``, ``frame_things``: addresses that hold the pictures; ``table_box``: x0, y0, x1, y1, mm."""
    drawn, lighting = light_drawn(picture, share=share, before=before)
    pictures = {
        "surface": _png(_coded(drawn.surface)),
        "table_things": _png(_coded(drawn.table_things.light)),
        "table_box": [round(v, 1) for v in drawn.table_box],
        "frame_ground": _png(_coded(drawn.frame_ground)),
        "frame_things": _png(_coded(drawn.frame_things.light)),
    }
    return pictures, lighting


def _coded(shares: np.ndarray) -> np.ndarray:
    """(h, w, 3) uint8 of shares of light."""
    return np.rint(np.clip(np.maximum(shares, 0.0) ** _EXPONENT / 2, 0, 1) * 255).astype(np.uint8)  # type: ignore[no-any-return]


def _png(picture: np.ndarray) -> str:
    """A data address."""
    data = cv2.imencode(".png", picture[..., ::-1])[1].tobytes()
    return "data:image/png;base64," + base64.b64encode(data).decode()
