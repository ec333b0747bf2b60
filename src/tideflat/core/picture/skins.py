"""The photographs that things wear, laid on their faces in flat cells small enough that each is drawn by one affine map."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..model import Prop, Skin, Surface
from ..shapes import Bottle, Bowl, Box, Cloth, Cone, Cylinder, Ellipse, Outline, Rod
from ..solids.body import Body
from .detail import MOST_SIDE
from .pieces import Paint, Piece, SkinCell

#: Side of a cell, mm, and how many of those a face has along one side before they are made larger, up to LARGEST_CELL_MM. Within a cell of
#: side s, seen at 45 degrees from D mm, an affine map is off by about 0.18 s^2 / D: under a millimetre at 600 mm, 1.5 mm for the largest at 1 m.
CELL_MM, MOST_CELLS, LARGEST_CELL_MM = 56.0, 5, 90.0
#: Neighbouring cells overlap by this share of a face's side, so that no seam shows.
_OVERLAP = 0.006
#: Cells along a side of the surface at the most: coarser on a floor of twenty metres than on a table, but drawn.
_MOST_GROUND = 40
#: Strips on the half of a round wall that faces the prop's front.
_STRIPS = 10
#: A dish flatter than this share of its rim wears its picture at the rim's height, a deeper one at this share of its height, on what it holds.
_SHALLOW, _LEVEL = 0.2, 0.74


def skin_of(prop: Prop, *faces: str) -> Skin | None:
    """The prop's skin on the first of ``faces`` that it has one for."""
    return next((s for face in faces for s in prop.skins if s.face == face), None)


def top_pieces(body: Body, prop: Prop, outline: Piece | None, most_cells: int = MOST_SIDE) -> list[Piece]:
    """The picture on the level top, and light over it. ``outline``: the drawn top, which the light keeps to."""
    skin = skin_of(prop, "top", "tile")
    rectangle = _top_rectangle(body)
    if skin is None or rectangle is None:
        return []
    (x0, y0, x1, y1), z = rectangle
    wide, deep = x1 - x0, y1 - y0
    across, down = (wide / skin.width, deep / skin.depth) if skin.width and skin.depth else (1.0, 1.0)
    face = np.array([[x0, y1, z], [x0, y0, z], [x1, y0, z], [x1, y1, z]]) @ body.turned.T + body.base
    uv = (0.0, 0.0, across, down)
    pieces = [_cell(skin.picture, face, uv, (0, 0, 1, 1), frozenset({"table"}))]
    pieces += cells(skin.picture, face, uv, (wide, deep), frozenset({"frame"}), most_cells)
    if outline is not None:
        pieces.append(replace(outline, paint=Paint("#000000", 1.0, "skinlight")))
    return pieces


def _top_rectangle(body: Body) -> tuple[tuple[float, float, float, float], float] | None:
    """((x0, y0, x1, y1), z) of the face in the prop's own axes."""
    match body.shape:
        case Box(w, d, h) | Cloth(w, d, h) | Rod(w, d, h) | Ellipse(w, d, h):
            return (-w / 2, -d / 2, w / 2, d / 2), h
        case Cylinder(w, h) | Cone(_, w, h) | Bottle(_, h, w, _):
            return (-w / 2, -w / 2, w / 2, w / 2), h
        case Bowl(rim, base, h):
            level = h if h <= _SHALLOW * rim else _LEVEL * h
            r = (base + (rim - base) * level / h) / 2 * (1.0 if level == h else 0.955)
            return (-r, -r, r, r), level
        case Outline(points, h):
            low, high = np.min(points, axis=0), np.max(points, axis=0)
            return (float(low[0]), float(low[1]), float(high[0]), float(high[1])), h
    return None


def front_pieces(body: Body, prop: Prop, most_cells: int = MOST_SIDE) -> list[Piece]:
    """The picture on the upright face toward the prop's own front (-y): a box's face, or the front half of a round wall, foot to shoulder."""
    skin = skin_of(prop, "front")
    if skin is None:
        return []
    if isinstance(body.shape, Box):
        w, d, h = body.shape.width / 2, body.shape.depth / 2, body.shape.height
        face = np.array([[-w, -d, h], [-w, -d, 0], [w, -d, 0], [w, -d, h]]) @ body.turned.T + body.base
        return cells(skin.picture, face, (0.0, 0.0, 1.0, 1.0), (2 * w, h), frozenset({"frame", "table"}), most_cells)
    if not isinstance(body.shape, Cylinder | Cone | Bottle):
        return []
    (low, high), (foot, shoulder) = body.local.circles[:2, 0, 2], body.local.circles[:2, 1, 0]
    edges = np.radians(np.linspace(180, 360, _STRIPS + 1))
    bit = _OVERLAP * np.pi
    found = []
    for k, (a, b) in enumerate(zip(edges, edges[1:], strict=False)):
        b = min(b + bit, edges[-1])
        corners = [(shoulder, a, high), (foot, a, low), (foot, b, low), (shoulder, b, high)]
        points = np.array([[r * np.cos(t), r * np.sin(t), z] for r, t, z in corners]) @ body.turned.T + body.base
        u0, u1 = k / _STRIPS, float(b - edges[0]) / np.pi
        uv = np.array([[u0, 0], [u0, 1], [u1, 1], [u1, 0]])
        found.append(_piece(points, SkinCell(skin.picture, uv), frozenset({"frame", "table"})))
    wall = Piece(
        "hull",
        Paint("#000000", 1.0, "skinround"),
        circles=tuple(c @ body.turned.T + [body.base, 0 * body.base, 0 * body.base] for c in body.local.circles[:2]),
    )
    return [*found, wall]


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
        _cell(picture, face, uv, (i / columns, j / rows, min(1, (i + 1) / columns + _OVERLAP), min(1, (j + 1) / rows + _OVERLAP)), views)
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
    return _piece(points, SkinCell(picture, at), views)


def _piece(points: np.ndarray, cell: SkinCell, views: frozenset[str]) -> Piece:
    return Piece("ring", Paint(None), points=points, one_sided=True, views=views, skin=cell)


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
    return cells(skin.picture, face, uv, (w, d), frozenset({"table", "frame"}), _MOST_GROUND, longest_mm, 24)
