"""The surface at its own size, cut into sheets of paper that are laid edge to edge: where each sheet lies, and what is drawn on it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import FieldError
from ..evaluate import Picture
from ..model import Surface
from ..plane.hull import hull_of

#: Width and height, mm (ISO 216; ANSI/ASME Y14.1 for Letter).
PAPERS: dict[str, tuple[float, float]] = {"a4": (210.0, 297.0), "a3": (297.0, 420.0), "letter": (215.9, 279.4)}
#: No printer reaches nearer to the paper's edge; neighbouring sheets overlap by so much, to be glued.
MARGIN_MM, OVERLAP_MM = 12.0, 10.0
#: Sheets in one document.
MOST_SHEETS = 120


@dataclass(frozen=True, slots=True)
class Tile:
    """One sheet: its column from the left and row from the front, from 1; x, y: the place on the surface of its printed area's front left corner,
    mm; wide, deep: of that area."""

    column: int
    row: int
    x: float
    y: float
    wide: float
    deep: float


@dataclass(frozen=True, slots=True)
class Foot:
    """What a thing covers from above: its outline (x, y), mm, its middle, and which way its front looks (degrees, 0 to the right)."""

    id: str
    name: str
    outline: tuple[tuple[float, float], ...]
    middle: tuple[float, float]
    turn: float
    is_round: bool


def tiles_of(surface: Surface, paper: str) -> tuple[Tile, ...]:
    """Sheets that cover the surface, row by row from the front left; held upright or lying, whichever takes fewer. Raises FieldError.

    >>> len(tiles_of(Surface("board", 186.0, 273.0, 740, (), "matte", None), "a4"))
    1
    """
    if paper not in PAPERS:
        raise FieldError("paper", "must be one of " + ", ".join(PAPERS), paper)
    wide, high = PAPERS[paper]
    ways = [_tiled(surface, *way) for way in ((wide, high), (high, wide))]
    best = min(ways, key=len)
    if len(best) > MOST_SHEETS:
        raise FieldError("paper", f"must be larger: the surface would take {len(best)} sheets, and {MOST_SHEETS} are the most", paper)
    return best


def _tiled(surface: Surface, wide: float, high: float) -> tuple[Tile, ...]:
    across, down = wide - 2 * MARGIN_MM, high - 2 * MARGIN_MM
    columns, rows = _count(surface.width, across), _count(surface.depth, down)
    step_x, step_y = across - OVERLAP_MM, down - OVERLAP_MM
    return tuple(Tile(c + 1, r + 1, c * step_x, r * step_y, across, down) for r in range(rows) for c in range(columns))


def _count(length: float, printed: float) -> int:
    return max(1, math.ceil(round((length - OVERLAP_MM) / (printed - OVERLAP_MM), 9)))


def feet_of(picture: Picture) -> tuple[Foot, ...]:
    """What each thing of the set-up that stands on something covers from above, by its whole body; cloth and what is strewn as they lie."""
    found = []
    for i, body in picture.bodies.items():
        points = np.concatenate([*body.parts, body.spheres[:, :3]]) if len(body.spheres) else np.concatenate(body.parts)
        if len(body.spheres):
            around = np.linspace(0, 2 * np.pi, 24, endpoint=False)
            ring = np.column_stack([np.cos(around), np.sin(around), np.zeros(24)])
            points = (body.spheres[:, None, :3] + body.spheres[:, None, 3:] * ring).reshape(-1, 3)
        outline = tuple((float(x), float(y)) for x, y in np.array(hull_of(points[:, :2]).exterior.coords)[:-1])
        x, y = float(body.base[0]), float(body.base[1])
        is_round = body.shape.form in ("turned", "ball")
        found.append(Foot(i, picture.props[i].name, outline, (x, y), body.placement.turn - 90, is_round))
    return tuple(found)
