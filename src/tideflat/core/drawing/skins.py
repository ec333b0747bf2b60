"""The photographs that things wear, laid on their faces in flat cells small enough that each is drawn by one affine map."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..model import Prop, Skin, Surface
from ..shapes.shape import Top
from ..solids.body import Body
from .detail import MOST_SIDE
from .pieces import Paint, Piece, SkinCell

#: Side of a cell, mm, and how many of those a face has along one side before they are made larger, up to LARGEST_CELL_MM. Within a cell of
#: side s, seen at 45 degrees from D mm, an affine map is off by about 0.18 s^2 / D: under a millimetre at 600 mm, 1.5 mm for the largest
#: at 1 m.
CELL_MM, MOST_CELLS, LARGEST_CELL_MM = 56.0, 5, 90.0
#: Neighbouring cells overlap by this share of a face's side, so that no seam shows.
OVERLAP = 0.006
#: Cells along a side of the surface at the most: coarser on a floor of twenty metres than on a table, but drawn.
_MOST_GROUND = 40
BOTH_VIEWS = frozenset({"frame", "table"})


def skin_of(prop: Prop, *faces: str) -> Skin | None:
    """The prop's skin on the first of ``faces`` that it has one for."""
    return next((s for face in faces for s in prop.skins if s.face == face), None)


def top_pieces(body: Body, prop: Prop, top: Top | None, outline: Piece | None, most_cells: int = MOST_SIDE) -> list[Piece]:
    """The picture on the level face ``top``, and light over it. ``outline``: the drawn top, which the light keeps to."""
    skin = skin_of(prop, "top", "tile")
    if skin is None or top is None:
        return []
    wide, deep = top.right - top.left, top.back - top.front
    across, down = (wide / skin.width, deep / skin.depth) if skin.width and skin.depth else (1.0, 1.0)
    face = body.placed_point(
        np.array(
            [[x, y, top.height] for x, y in ((top.left, top.back), (top.left, top.front), (top.right, top.front), (top.right, top.back))]
        )
    )
    uv = (0.0, 0.0, across, down)
    pieces = [_cell(skin.picture, face, uv, (0, 0, 1, 1), frozenset({"table"}))]
    pieces += cells(skin.picture, face, uv, (wide, deep), frozenset({"frame"}), most_cells)
    if outline is not None:
        pieces.append(replace(outline, paint=Paint("#000000", 1.0, "skinlight")))
    return pieces


def cells(
    picture: str,
    face: np.ndarray,
    uv: tuple[float, float, float, float],
    size_mm: tuple[float, float],
    views: frozenset[str],
    most: int,
    longest_mm: float = CELL_MM,
    usual: int = MOST_CELLS,
) -> list[Piece]:
    """The face (4, 3), corners top left, bottom left, bottom right, top right as the picture has them, in a grid of cells."""
    columns, rows = (min(most, _count(s, longest_mm, usual)) for s in size_mm)
    return [
        _cell(picture, face, uv, (i / columns, j / rows, min(1, (i + 1) / columns + OVERLAP), min(1, (j + 1) / rows + OVERLAP)), views)
        for j in range(rows)
        for i in range(columns)
    ]


def _count(size_mm: float, longest_mm: float, usual: int) -> int:
    """Cells along a side: of the size wished, or of up to LARGEST_CELL_MM where those would be many."""
    wished = max(1, int(np.ceil(size_mm / longest_mm)))
    return wished if wished <= usual else max(usual, int(np.ceil(size_mm / max(longest_mm, LARGEST_CELL_MM))))


def _cell(
    picture: str, face: np.ndarray, uv: tuple[float, float, float, float], part: tuple[float, float, float, float], views: frozenset[str]
) -> Piece:
    s0, t0, s1, t1 = part
    shares = np.array([[s0, t0], [s0, t1], [s1, t1], [s1, t0]])
    right, down = face[3] - face[0], face[1] - face[0]
    points = face[0] + shares[:, :1] * right + shares[:, 1:] * down
    at = np.array(uv[:2]) + shares * (np.array(uv[2:]) - uv[:2])
    return skin_piece(points, picture, at, views)


def skin_piece(points: np.ndarray, picture: str, uv: np.ndarray, views: frozenset[str]) -> Piece:
    """One flat cell: its four corners (4, 3), and where they lie in the picture (4, 2)."""
    return Piece("ring", Paint(None), points=points, one_sided=True, views=views, skin=SkinCell(picture, uv))


def ground_cells(surface: Surface, longest_mm: float) -> list[Piece]:
    """The surface's skin over its whole top."""
    skin = surface.skin
    if skin is None or not skin.width or not skin.depth:
        return []
    w, d = surface.width, surface.depth
    face = np.array([[0, d, 0], [0, 0, 0], [w, 0, 0], [w, d, 0]], dtype=float)
    # The tile's lower left corner lies on the surface's front left corner.
    rows = d / skin.depth
    uv = (0.0, float(np.ceil(rows) - rows), w / skin.width, float(np.ceil(rows)))
    return cells(skin.picture, face, uv, (w, d), BOTH_VIEWS, _MOST_GROUND, longest_mm, 24)
