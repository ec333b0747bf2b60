"""Grids and guide lines over the frame, worked in its real proportions and given as fractions of a rectangle.

Right angles are right on the sensor, not in fractions: diagonals, reciprocals and rabatments depend on the aspect.
"""

from __future__ import annotations

import math

import numpy as np

from ..model import Surface
from ..plane.clip import clip_line
from ..tolerances import NEAR_DEPTH_MM
from .crops import Rect
from .view import View

Line = tuple[tuple[float, float], tuple[float, float]]

GRIDS: dict[str, str] = {
    "thirds": "thirds",
    "centre": "centre lines",
    "golden": "golden section",
    "spiral": "golden spiral, to the frame's shape",
    "diagonals": "diagonals and their square partners (reciprocals)",
    "rabatment": "squares folded into the frame (rabatment)",
}


def grid_lines(kind: str, box: Rect, frame_aspect: float) -> tuple[Line, ...]:
    """Lines of a grid inside ``box``, as pairs of (u, v). ``frame_aspect``: the whole frame's width over height.

    >>> grid_lines("centre", (0, 0, 1, 1), 1.5)
    (((0.5, 0.0), (0.5, 1.0)), ((0.0, 0.5), (1.0, 0.5)))
    """
    aspect = (box[2] - box[0]) / (box[3] - box[1]) * frame_aspect
    unit = {
        "thirds": lambda: _crossing((1 / 3, 2 / 3)),
        "centre": lambda: _crossing((0.5,)),
        "golden": lambda: _crossing((1 - 1 / _GOLDEN, 1 / _GOLDEN)),
        "spiral": _spiral,
        "diagonals": lambda: _diagonals(aspect),
        "rabatment": lambda: _rabatment(aspect),
    }[kind]()
    wide, high = box[2] - box[0], box[3] - box[1]
    return tuple(tuple((box[0] + x * wide, box[1] + y * high) for x, y in line) for line in unit)  # type: ignore[misc]


_GOLDEN = (1 + math.sqrt(5)) / 2


#: Quarter turns of the spiral, and steps of each.
_TURNS, _STEPS = 8, 12


def _spiral() -> tuple[Line, ...]:
    """Quarter circles in the squares that are cut off a golden rectangle one after the other, brought to the frame's shape."""
    x0, y0, x1, y1 = 0.0, 0.0, _GOLDEN, 1.0
    places: list[tuple[float, float]] = []
    for k in range(_TURNS):
        way = k % 4
        side = (y1 - y0) if way in (0, 2) else (x1 - x0)
        if way == 0:  # a square off the left: from its foot at the left to its head at the right
            centre, start, x0 = (x0 + side, y1), np.pi, x0 + side
        elif way == 1:
            centre, start, y0 = (x0, y0 + side), 1.5 * np.pi, y0 + side
        elif way == 2:
            centre, start, x1 = (x1 - side, y0), 0.0, x1 - side
        else:
            centre, start, y1 = (x1, y1 - side), 0.5 * np.pi, y1 - side
        turn = start + np.linspace(0, np.pi / 2, _STEPS + 1)
        places += [(centre[0] + side * float(np.cos(t)), centre[1] + side * float(np.sin(t))) for t in turn]
    shaped = [(x / _GOLDEN, y) for x, y in places]
    return tuple((a, b) for a, b in zip(shaped, shaped[1:], strict=False) if a != b)


def _crossing(places: tuple[float, ...]) -> tuple[Line, ...]:
    return tuple(((p, 0.0), (p, 1.0)) for p in places) + tuple(((0.0, p), (1.0, p)) for p in places)


def _diagonals(aspect: float) -> tuple[Line, ...]:
    """Both diagonals, and from each corner the line square to the diagonal it is not on."""
    lines: list[Line] = [((0.0, 0.0), (1.0, 1.0)), ((0.0, 1.0), (1.0, 0.0))]
    # A rectangle a wide and 1 high: the reciprocal from a corner meets the long side 1/a from it, so 1/a^2 in fractions.
    if aspect >= 1:
        reach = 1 / aspect**2
        lines += [((0, 1), (reach, 0)), ((0, 0), (reach, 1)), ((1, 1), (1 - reach, 0)), ((1, 0), (1 - reach, 1))]
    else:
        reach = aspect**2
        lines += [((0, 0), (1, reach)), ((1, 0), (0, reach)), ((0, 1), (1, 1 - reach)), ((1, 1), (0, 1 - reach))]
    return tuple(lines)


def _rabatment(aspect: float) -> tuple[Line, ...]:
    """The inner side of the square on each short side."""
    if aspect >= 1:
        return tuple(((x, 0.0), (x, 1.0)) for x in (1 / aspect, 1 - 1 / aspect))
    return tuple(((0.0, y), (1.0, y)) for y in (aspect, 1 - aspect))


def surface_thirds(surface: Surface) -> tuple[Line, ...]:
    """The surface divided in nine, as lines on the table in mm."""
    across = tuple(((surface.width * k / 3, 0.0), (surface.width * k / 3, surface.depth)) for k in (1, 2))
    along = tuple(((0.0, surface.depth * k / 3), (surface.width, surface.depth * k / 3)) for k in (1, 2))
    return across + along


def projected_line(view: View, start: tuple[float, float, float], end: tuple[float, float, float]) -> Line | None:
    """A straight line of the table, as the frame sees it; None when it lies wholly behind the lens."""
    clipped = clip_line(
        np.array(start, dtype=float), np.array(end, dtype=float), view.forward, float(-view.forward @ view.position) - NEAR_DEPTH_MM
    )
    if clipped is None:
        return None
    a, b = view.project(np.stack(clipped))
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))
