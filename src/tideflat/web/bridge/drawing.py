"""Core pieces as SVG: the table from above and the frame through the lens, and the geometry the browser drags with."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import shapely
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from tideflat.core.camera.coverage import seen_on_table
from tideflat.core.camera.crops import FULL_FRAME, Rect
from tideflat.core.camera.guides import GRIDS, grid_lines, projected_line, surface_thirds
from tideflat.core.camera.hiding import painting_order
from tideflat.core.camera.view import View
from tideflat.core.colour.mix import darker, lighter
from tideflat.core.evaluate import Picture
from tideflat.core.model import Backdrop, Prop, Surface
from tideflat.core.picture.ground import Patch, backdrop_patches, front_edge, seen_patch, surface_patches
from tideflat.core.picture.pieces import Paths, Piece, frame_path, table_path
from tideflat.core.picture.props import prop_pieces, shadow_pieces
from tideflat.core.solids.body import Body

#: Width of the frame's long side in drawing units.
FRAME_UNITS = 1200.0

Stops = tuple[tuple[float, str, float], ...]


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
    """An SVG path with a tenth of a unit."""
    put = np.round(sheet.put(points), 1)
    body = "L".join(f"{x:g} {y:g}" for x, y in put.tolist())
    return f"M{body}{'Z' if closed else ''}"


class Gradients:
    """The gradients one drawing uses, each once."""

    def __init__(self, prefix: str) -> None:
        self._prefix = prefix
        self._used: dict[tuple[str, str], str] = {}

    def fill(self, shade: str, colour: str | None) -> str:
        if colour is None:
            return "none"
        if shade == "flat":
            return colour
        key = (shade, colour)
        name = self._used.setdefault(key, f"{self._prefix}{shade}{colour[1:]}")
        return f"url(#{name})"

    def defs(self) -> str:
        return "".join(_gradient(name, shade, colour) for (shade, colour), name in self._used.items())


def _gradient(name: str, shade: str, colour: str) -> str:
    across, stops = _stops(shade, colour)
    written = "".join(
        f'<stop offset="{at:g}" stop-color="{tone}"' + (f' stop-opacity="{alpha:g}"' if alpha < 1 else "") + "/>"
        for at, tone, alpha in stops
    )
    if across == "radial":
        return f'<radialGradient id="{name}" cx="0.5" cy="0.5" r="0.62" fx="0.32" fy="0.28">{written}</radialGradient>'
    x1, y1, x2, y2 = {"across": (0, 0, 1, 0), "slant": (0, 0, 1, 1), "down": (0, 0, 0, 1)}[across]
    return f'<linearGradient id="{name}" x1="{x1}" y1="{y1}" x2="{x2}" y2="{y2}">{written}</linearGradient>'


def _stops(shade: str, c: str) -> tuple[str, Stops]:
    """How each shade runs over its outline: light comes from the back left."""
    match shade:
        case "round":
            return "across", ((0, lighter(c, 0.05), 1), (0.22, lighter(c, 0.16), 1), (0.6, darker(c, 0.12), 1), (1, darker(c, 0.5), 1))
        case "gloss":
            return "across", (
                (0, c, 1),
                (0.16, lighter(c, 0.12), 1),
                (0.2, lighter(c, 0.7), 1),
                (0.27, lighter(c, 0.1), 1),
                (0.65, darker(c, 0.15), 1),
                (1, darker(c, 0.5), 1),
            )
        case "metal":
            return "across", (
                (0, darker(c, 0.25), 1),
                (0.2, lighter(c, 0.6), 1),
                (0.36, c, 1),
                (0.62, darker(c, 0.5), 1),
                (0.8, darker(c, 0.1), 1),
                (1, darker(c, 0.55), 1),
            )
        case "glass":
            return "across", (
                (0, lighter(c, 0.5), 0.62),
                (0.1, c, 0.3),
                (0.2, "#ffffff", 0.55),
                (0.27, c, 0.24),
                (0.75, c, 0.3),
                (1, darker(c, 0.4), 0.66),
            )
        case "sheen":
            return "slant", ((0, lighter(c, 0.14), 1), (0.5, c, 1), (1, darker(c, 0.14), 1))
        case "hollow":
            return "slant", ((0, darker(c, 0.24), 1), (0.6, c, 1), (1, lighter(c, 0.14), 1))
        case "ball":
            return "radial", ((0, lighter(c, 0.5), 1), (0.35, lighter(c, 0.06), 1), (0.75, darker(c, 0.2), 1), (1, darker(c, 0.5), 1))
        case "falloff":
            return "slant", ((0, "#ffffff", 0.2), (0.45, "#ffffff", 0), (0.55, "#000000", 0), (1, "#000000", 0.3))
        case "backlight":
            return "across", ((0, "#ffffff", 0.16), (0.5, "#000000", 0.02), (1, "#000000", 0.24))
    raise AssertionError(f"no shade called {shade}")


@lru_cache(maxsize=4096)
def thing_pieces(body: Body, prop: Prop, eye_height_mm: float) -> tuple[Piece, ...]:
    return shadow_pieces(body) + prop_pieces(body, prop, eye_height_mm)


@lru_cache(maxsize=8192)
def _frame_paths(body: Body, prop: Prop, view: View, sheet: Sheet) -> tuple[str, ...]:
    return tuple(_data(frame_path(p, view), p, sheet) for p in thing_pieces(body, prop, _eye(view)))


@lru_cache(maxsize=8192)
def _table_paths(body: Body, prop: Prop, eye_height_mm: float, sheet: Sheet) -> tuple[str, ...]:
    return tuple(_data(table_path(p), p, sheet) for p in thing_pieces(body, prop, eye_height_mm))


def _data(outlines: Paths | None, piece: Piece, sheet: Sheet) -> str:
    return "" if outlines is None else "".join(path_data(points, sheet, closed=piece.kind != "line") for points in outlines)


def _eye(view: View) -> float:
    return round(float(view.position[2]), 1)


def _painted(data: str, piece: Piece, gradients: Gradients, line_scale: float) -> str:
    paint = piece.paint
    parts = [f'<path d="{data}" fill="{gradients.fill(paint.shade, paint.fill)}"']
    if piece.kind == "wall":
        parts.append(' fill-rule="evenodd"')
    if paint.opacity < 1 and paint.fill:
        parts.append(f' fill-opacity="{paint.opacity:g}"')
    if paint.line:
        parts.append(f' stroke="{paint.line}" stroke-width="{max(0.4, paint.line_width * line_scale):.2g}"')
        if paint.line_opacity < 1:
            parts.append(f' stroke-opacity="{paint.line_opacity:g}"')
    parts.append("/>")
    return "".join(parts)


def _group(
    view_name: str,
    body: Body,
    prop: Prop,
    pieces: tuple[Piece, ...],
    paths: tuple[str, ...],
    outline: str,
    gradients: Gradients,
    line_scale: float,
    *,
    live: bool,
) -> str:
    drawn = "".join(_painted(d, p, gradients, line_scale) for d, p in zip(paths, pieces, strict=True) if d or live)
    role = body.placement.role
    if not live:
        return f"<g>{drawn}</g>"
    hero = f'<path class="hero-line" d="{outline}"/><path class="hero-line inner" d="{outline}"/>' if role == "hero" else ""
    held = "locked" if body.placement.locked else "free"
    return (
        f'<g id="{view_name}-{escape(body.id)}" class="thing {held}" data-id="{escape(body.id)}" data-n="{len(pieces)}">'
        f'<title>{escape(prop.name)}, {role}</title>{drawn}{hero}<path class="outline" d="{outline}"/></g>'
    )


def _outline_data(geometry: Any, sheet: Sheet) -> str:
    polygons = geometry.geoms if hasattr(geometry, "geoms") else [geometry]
    return "".join(path_data(np.array(p.exterior.coords)[:-1], sheet) for p in polygons if p.geom_type == "Polygon" and not p.is_empty)


@lru_cache(maxsize=8192)
def _silhouette_data(outline: Any, sheet: Sheet) -> str:
    return _outline_data(shapely.simplify(outline, 0.0002), sheet)


@lru_cache(maxsize=4096)
def _footprint_data(body: Body, sheet: Sheet) -> str:
    return _outline_data(shapely.simplify(body.footprint, 0.05), sheet)


# ---- the frame


def frame_drawing(picture: Picture, *, prefix: str = "f", live: bool = True) -> dict[str, Any]:
    """Everything the frame's SVG is made of: sheet, defs, ground and things as safe markup."""
    view = picture.view
    sheet = frame_sheet(view, prefix)
    gradients = Gradients(prefix)
    ground = _frame_ground(picture, sheet, gradients)
    depth = {i: s.depth[0] + s.depth[1] for i, s in picture.silhouettes.items()}
    order = painting_order(tuple(picture.silhouettes), picture.hiding.in_front, depth)
    line_scale = sheet.scale_x * view.principal_distance / view.frame_width / picture.setup.camera.distance
    things = []
    for i in order:
        body, prop = picture.bodies[i], picture.props[i]
        things.append(
            _group(
                prefix,
                body,
                prop,
                thing_pieces(body, prop, _eye(view)),
                _frame_paths(body, prop, view, sheet),
                _silhouette_data(picture.silhouettes[i].outline, sheet),
                gradients,
                line_scale,
                live=live,
            )
        )
    return {"sheet": sheet, "ground": mark_safe(ground), "things": mark_safe("".join(things)), "defs": mark_safe(gradients.defs())}


def _frame_ground(picture: Picture, sheet: Sheet, gradients: Gradients) -> str:
    scene = picture.scene
    walls = scene.room.walls if scene.room else "#d9d9d9"
    drawn = [f'<rect width="{sheet.width:g}" height="{sheet.height:g}" fill="{darker(walls, 0.35)}"/>']
    for d, patch in _ground_paths(scene.surface, scene.backdrop, picture.view, sheet):
        drawn.append(
            f'<path d="{d}" fill="{gradients.fill(patch.shade, patch.fill)}"'
            + (f' fill-opacity="{patch.opacity:g}"' if patch.opacity < 1 else "")
            + "/>"
        )
    return "".join(drawn)


@lru_cache(maxsize=256)
def _ground_paths(surface: Surface, backdrop: Backdrop | None, view: View, sheet: Sheet) -> tuple[tuple[str, Patch], ...]:
    """Painted in this order: backdrop, surface; the surface first where the camera stands behind the backdrop's plane."""
    behind = list(backdrop_patches(backdrop)) if backdrop is not None else []
    top = [front_edge(surface), *surface_patches(surface)]
    patches = behind + top if backdrop is None or backdrop.y >= surface.depth * 0.5 else top + behind
    found = []
    for patch in patches:
        seen = seen_patch(patch, view)
        if seen is not None:
            found.append((path_data(seen, sheet), patch))
    return tuple(found)


# ---- the table


def table_drawing(picture: Picture, *, prefix: str = "t", live: bool = True) -> dict[str, Any]:
    """Everything the table's SVG is made of, with the frame's coverage on it."""
    surface = picture.scene.surface
    sheet = table_sheet(surface, prefix)
    gradients = Gradients(prefix)
    ground = "".join(
        f'<path d="{d}" fill="{gradients.fill(p.shade, p.fill)}"' + (f' fill-opacity="{p.opacity:g}"' if p.opacity < 1 else "") + "/>"
        for d, p in _table_ground(surface, sheet)
    )
    eye = _eye(picture.view)
    things = []
    for i in sorted(picture.bodies, key=lambda i: (picture.bodies[i].z_min, picture.bodies[i].z_max, i)):
        body, prop = picture.bodies[i], picture.props[i]
        things.append(
            _group(
                prefix,
                body,
                prop,
                thing_pieces(body, prop, eye),
                _table_paths(body, prop, eye, sheet),
                _footprint_data(body, sheet),
                gradients,
                1.0,
                live=live,
            )
        )
    return {
        "sheet": sheet,
        "ground": mark_safe(ground),
        "things": mark_safe("".join(things)),
        "defs": mark_safe(gradients.defs()),
        "coverage": [{"name": name, "d": d} for name, d in _coverage(picture, sheet)],
        "backdrop": _backdrop_line(picture.scene.backdrop, sheet),
    }


@lru_cache(maxsize=64)
def _table_ground(surface: Surface, sheet: Sheet) -> tuple[tuple[str, Patch], ...]:
    return tuple((path_data(p.points[:, :2], sheet), p) for p in surface_patches(surface))


def _coverage(picture: Picture, sheet: Sheet) -> list[tuple[str, str]]:
    """Outlines of what the frame and each crop see of the table's plane, cut to a little round the surface."""
    margin = 0.09 * sheet.width
    around = shapely.box(-margin, -margin, sheet.width + margin, sheet.height + margin)
    found = []
    for name, window in (("", FULL_FRAME), *((c.name, c.box) for c in picture.crops)):
        seen = seen_on_table(picture.view, window)
        if len(seen) < 3:
            continue
        cut = shapely.intersection(shapely.Polygon(seen).buffer(0), around)
        if cut.geom_type == "Polygon" and not cut.is_empty:
            found.append((name, path_data(np.array(cut.exterior.coords)[:-1], sheet)))
    return found


def _backdrop_line(backdrop: Backdrop | None, sheet: Sheet) -> dict[str, Any] | None:
    if backdrop is None:
        return None
    ends = sheet.put(np.array([[backdrop.x - backdrop.width / 2, backdrop.y], [backdrop.x + backdrop.width / 2, backdrop.y]]))
    return {"x1": ends[0, 0], "x2": ends[1, 0], "y": ends[0, 1], "colour": backdrop.colour}


# ---- grids


def frame_grids(picture: Picture, box: Rect, sheet: Sheet) -> list[dict[str, Any]]:
    """Each grid as one path inside ``box``, and the surface in nine as the lens sees it."""
    found = []
    for kind, words in GRIDS.items():
        lines = grid_lines(kind, box, picture.view.aspect)
        found.append({"kind": kind, "words": words, "d": "".join(path_data(np.array(line), sheet, closed=False) for line in lines)})
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


# ---- what the browser drags with


def geometry(picture: Picture) -> SafeString:
    """JSON: both projections as matrices, and every thing's pieces in space, mm. The browser holds no rules, only these."""
    view = picture.view
    fsheet, tsheet = frame_sheet(view), table_sheet(picture.scene.surface)
    things = {i: _thing_geometry(picture, i) for i in picture.bodies}
    value = {
        "matrix": [[round(float(v), 9) for v in row] for row in view.matrix],
        "frame": [fsheet.width, fsheet.height],
        "table": [tsheet.width, tsheet.height],
        "camera": {
            "position": [round(float(v), 3) for v in view.position],
            "right": [round(float(v), 6) for v in view.right],
            "elevation": picture.setup.camera.elevation,
            "rays": [[round(float(v), 9) for v in view.ray(*uv)] for uv in ((0, 0), (1, 0), (0, 1))],
        },
        "things": things,
    }
    return mark_safe(json.dumps(value, separators=(",", ":")).replace("&", "\\u0026").replace("<", "\\u003c"))


@lru_cache(maxsize=4096)
def _pieces_value(body: Body, prop: Prop, eye: float) -> tuple[Any, ...]:
    kinds = {"hull": 0, "ring": 1, "line": 2, "wall": 3}
    found = []
    for piece in thing_pieces(body, prop, eye):
        mask = ("table" in piece.views) * 1 + ("frame" in piece.views) * 2
        circles = [[round(float(v), 1) for v in circle.ravel()] for circle in piece.circles]
        points = [[round(float(v), 1) for v in point] for point in piece.points]
        found.append([kinds[piece.kind], mask, int(piece.one_sided), circles, points])
    return tuple(found)


def _thing_geometry(picture: Picture, placement_id: str) -> dict[str, Any]:
    body = picture.bodies[placement_id]
    p = body.placement
    outline = body.footprint_hull
    simple = shapely.simplify(outline, 0.3)
    return {
        "name": picture.props[placement_id].name,
        "x": p.x,
        "y": p.y,
        "z": p.z,
        "turn": p.turn,
        "lean": p.lean,
        "lean_toward": p.lean_toward,
        "top": round(body.z_max, 1),
        "locked": p.locked,
        "carried": [i for i in picture.scene.carried_by(placement_id) if i in picture.bodies],
        "role": p.role,
        "foot": [[round(x, 1), round(y, 1)] for x, y in list(simple.exterior.coords)[:-1]],
        "pieces": _pieces_value(body, picture.props[placement_id], _eye(picture.view)),
    }
