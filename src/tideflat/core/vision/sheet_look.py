"""A photograph laid ready for a sheet to be looked for in it, of whichever kind."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from copy import copy
from dataclasses import dataclass
from itertools import tee

import cv2
import numpy as np

from .rectified import shrunk
from .sheet_lines import quadrilaterals_of_lines
from .sheet_masks import quadrilaterals_of_masks
from .sheet_regions import quadrilaterals_of_regions

#: Long side, pixels, of the small picture that sheets are looked for in.
_LOOK_PX = 1000
#: A sheet of which more than this is plainly edged, and its light along its edges as even, need not be looked for by regions.
_PLAINLY = 0.85

#: Quadrilaterals (4, 2), and how plainly edged one must be for the rest not to be asked.
Way = tuple[list[np.ndarray], float]


@dataclass(frozen=True, eq=False)
class SheetLook:
    """small (h, w, 3), light (h, w) uint8, and palest, the least of each place's three channels; full: the photograph as it is, grey, and
    the scale of the others against it; begun: the ways that quadrilaterals are found in it, as far as they have been gone."""

    small: np.ndarray
    light: np.ndarray
    palest: np.ndarray
    full: np.ndarray
    scale: float
    begun: Iterator[Way]

    def ways(self) -> Iterator[Way]:
        """Each way takes a while, and finds what those before it do not; whoever asks again finds it gone."""
        return copy(self.begun)


def sheet_look(rgb: np.ndarray) -> SheetLook:
    """Of (h, w, 3) uint8."""
    scale = min(1.0, _LOOK_PX / max(rgb.shape[:2]))
    halves = int(1 / scale) & -int(1 / scale)  # the largest power of two that divides it
    rough = shrunk(rgb, halves)
    rest = scale * halves
    small = cv2.resize(rough, None, fx=rest, fy=rest, interpolation=cv2.INTER_AREA) if rest < 1 else rough
    light = cv2.GaussianBlur(cv2.cvtColor(small, cv2.COLOR_RGB2GRAY), (0, 0), 1.0)
    red, green, blue = cv2.split(small)
    palest = cv2.GaussianBlur(cv2.min(cv2.min(red, green), blue), (0, 0), 1.0)
    return SheetLook(small, light, palest, cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), scale, tee(_ways(small, light), 1)[0])


def _ways(small: np.ndarray, light: np.ndarray) -> Iterator[Way]:
    """Quadrilaterals of masks, of lines, and of regions. Where the first mask does not tell, lines and regions are begun beside the others,
    for most of all three is OpenCV's; what is not asked for is dropped."""
    masks = quadrilaterals_of_masks(small, light)
    found, enough = next(masks)
    yield list(found), enough
    beside = ThreadPoolExecutor(max_workers=1)
    lines = beside.submit(lambda: list(quadrilaterals_of_lines(light)))
    regions = beside.submit(lambda: list(quadrilaterals_of_regions(light)))
    beside.shutdown(wait=False)
    yield from ((list(found), enough) for found, enough in masks)
    yield lines.result(), _PLAINLY
    yield regions.result(), 0.0
