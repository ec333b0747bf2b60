"""Where things are drawn: the scale of each view, and paths in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tideflat.core.camera.view import View
from tideflat.core.model import Surface

#: Width of the frame's long side in drawing units.
FRAME_UNITS = 1200.0


@dataclass(frozen=True)
class Sheet:
    """Where things are drawn: scale and origin, so that both views share one writer. prefix keeps ids apart on a page."""

    prefix: str
    width: float
    height: float
    scale_x: float
    scale_y: float
    origin_x: float = 0.0
    origin_y: float = 0.0

    def put(self, points: np.ndarray) -> np.ndarray:
        return points * [self.scale_x, self.scale_y] + [self.origin_x, self.origin_y]


def frame_sheet(view: View, prefix: str = "f") -> Sheet:
    long_side = max(view.frame_width, view.frame_height)
    width, height = FRAME_UNITS * view.frame_width / long_side, FRAME_UNITS * view.frame_height / long_side
    return Sheet(prefix, round(width, 1), round(height, 1), width, height)


def table_sheet(surface: Surface, prefix: str = "t") -> Sheet:
    return Sheet(prefix, surface.width, surface.depth, 1.0, -1.0, 0.0, surface.depth)


def path_data(points: np.ndarray, sheet: Sheet, *, closed: bool = True) -> str:
    """An SVG path to a tenth of a unit, written as steps from corner to corner, which is half as long as places are."""
    put = np.round(sheet.put(points) * 10).astype(int)
    steps = (put[1:] - put[:-1]).ravel().tolist()
    start = f"M{put[0, 0] / 10:g} {put[0, 1] / 10:g}"
    return start + "l" + " ".join([_WRITTEN.get(step) or _tenths(step) for step in steps]) + ("z" if closed else "")


def _tenths(value: int) -> str:
    whole, rest = divmod(abs(value), 10)
    text = f"{whole or ''}.{rest}" if rest else str(whole)
    return f"-{text}" if value < 0 else text


#: Most steps are short: written once, looked up thousands of times in every answer.
_WRITTEN: dict[int, str] = {value: _tenths(value) for value in range(-1200, 1201)}
