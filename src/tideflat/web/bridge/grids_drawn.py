"""Grids over the frame and the table, as paths."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from tideflat.core.camera.crops import Rect
from tideflat.core.camera.guides import GRIDS, Line, grid_lines, projected_line, surface_thirds
from tideflat.core.camera.straightness import plumb_and_level
from tideflat.core.evaluate import Picture
from tideflat.core.model import Surface

from .sheets import Sheet, path_data


def frame_grids(picture: Picture, box: Rect, sheet: Sheet) -> list[dict[str, Any]]:
    """Each grid as one path inside ``box``, and the surface in nine as the lens sees it."""
    found = []
    for kind, words in GRIDS.items():
        lines = grid_lines(kind, box, picture.view.aspect)
        found.append({"kind": kind, "words": words, "d": "".join(path_data(np.array(run), sheet, closed=False) for run in _runs(lines))})
    true = plumb_and_level(picture.view, picture.setup.camera.aim)
    along = "".join(path_data(np.array(line), sheet, closed=False) for line in true)
    found.append({"kind": "plumb", "words": "plumb and level through the aim", "d": along})
    nine = [projected_line(picture.view, (*a, 0.0), (*b, 0.0)) for a, b in surface_thirds(picture.scene.surface)]
    found.append(
        {
            "kind": "surface",
            "words": "the surface in nine",
            "d": "".join(path_data(np.clip(np.array(line), -3, 4), sheet, closed=False) for line in nine if line),
        }
    )
    return found


def surface_grid(surface: Surface, sheet: Sheet) -> str:
    return "".join(path_data(np.array(line), sheet, closed=False) for line in surface_thirds(surface))


def _runs(lines: Iterable[Line]) -> list[list[tuple[float, float]]]:
    """Lines of which each begins where the one before ends, as one."""
    found: list[list[tuple[float, float]]] = []
    for start, end in lines:
        if found and found[-1][-1] == start:
            found[-1].append(end)
        else:
            found.append([start, end])
    return found
