"""Core pieces as SVG: the table from above and the frame through the lens."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import shapely
from django.utils.html import escape
from django.utils.safestring import mark_safe

from tideflat.core.camera.coverage import seen_on_table
from tideflat.core.camera.crops import FULL_FRAME, Rect
from tideflat.core.camera.guides import GRIDS, grid_lines, projected_line, surface_thirds
from tideflat.core.camera.hiding import painting_order
from tideflat.core.camera.silhouette import silhouette_of
from tideflat.core.camera.view import View
from tideflat.core.colour.mix import darker
from tideflat.core.evaluate import Picture
from tideflat.core.model import Backdrop, Prop, Surface
from tideflat.core.picture.ground import Patch, backdrop_patches, front_edge, seen_patch, surface_patches
from tideflat.core.picture.pieces import Paint, Paths, Piece, frame_path, table_path
from tideflat.core.picture.props import prop_pieces, shadow_pieces
from tideflat.core.solids.body import Body

from .shades import Key, definitions, gradient_key, painted

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
    steps = np.diff(put, axis=0).tolist()
    start = f"M{put[0, 0] / 10:g} {put[0, 1] / 10:g}"
    return start + "l" + " ".join(f"{_tenths(x)} {_tenths(y)}" for x, y in steps) + ("z" if closed else "")


def _tenths(value: int) -> str:
    whole, rest = divmod(abs(value), 10)
    text = f"{whole or ''}.{rest}" if rest else str(whole)
    return f"-{text}" if value < 0 else text


@lru_cache(maxsize=4096)
def thing_pieces(body: Body, prop: Prop, eye_height_mm: float) -> tuple[Piece, ...]:
    return shadow_pieces(body) + prop_pieces(body, prop, eye_height_mm)


def eye_height(view: View) -> float:
    """Height of the lens above the table, mm, to a tenth: it decides the order in which walls are painted."""
    return round(float(view.position[2]), 1)


def _data(outlines: Paths | None, piece: Piece, sheet: Sheet) -> str:
    return "" if outlines is None else "".join(path_data(points, sheet, closed=piece.kind != "line") for points in outlines)


@dataclass(frozen=True)
class Markup:
    """One thing's group, and the gradients it needs."""

    text: str
    gradients: tuple[Key, ...]


@lru_cache(maxsize=8192)  # while one thing is moved, all others keep their markup
def _frame_group(body: Body, prop: Prop, view: View, sheet: Sheet, line_scale: float, live: bool) -> Markup:
    silhouette = silhouette_of(body, view)
    if silhouette is None:  # only what has one is painted
        return Markup("", ())
    pieces = thing_pieces(body, prop, eye_height(view))
    paths = [_data(frame_path(p, view), p, sheet) for p in pieces]
    outline = _outline_data(shapely.simplify(silhouette.outline, 0.0002), sheet)
    return _group(body, prop, pieces, paths, outline, sheet.prefix, line_scale, live=live)


@lru_cache(maxsize=8192)
def _table_group(body: Body, prop: Prop, eye: float, sheet: Sheet, live: bool) -> Markup:
    pieces = thing_pieces(body, prop, eye)
    paths = [_data(table_path(p), p, sheet) for p in pieces]
    outline = _outline_data(shapely.simplify(body.footprint, 0.05), sheet)
    return _group(body, prop, pieces, paths, outline, sheet.prefix, 1.0, live=live)


def _group(
    body: Body, prop: Prop, pieces: tuple[Piece, ...], paths: list[str], outline: str, prefix: str, line_scale: float, *, live: bool
) -> Markup:
    shown = [(d, p) for d, p in zip(paths, pieces, strict=True) if d or live]
    rule = ' fill-rule="evenodd"'
    drawn = "".join(f'<path d="{d}"{painted(p.paint, prefix, line_scale)}{rule if p.kind == "wall" else ""}/>' for d, p in shown)
    keys = tuple(key for _, p in shown if (key := gradient_key(p.paint.shade, p.paint.fill)))
    if not live:
        return Markup(f"<g>{drawn}</g>", keys)
    role = body.placement.role
    hero = f'<path class="hero-line" d="{outline}"/><path class="hero-line inner" d="{outline}"/>' if role == "hero" else ""
    held = "locked" if body.placement.locked else "free"
    name = escape(body.id)
    return Markup(
        f'<g id="{prefix}-{name}" class="thing {held}" data-id="{name}"><title>{escape(prop.name)}, {role}</title>'
        f'{drawn}{hero}<path class="outline" d="{outline}"/></g>',
        keys,
    )


def _outline_data(geometry: Any, sheet: Sheet) -> str:
    polygons = geometry.geoms if hasattr(geometry, "geoms") else [geometry]
    return "".join(path_data(np.array(p.exterior.coords)[:-1], sheet) for p in polygons if p.geom_type == "Polygon" and not p.is_empty)


# ---- the frame


def frame_drawing(picture: Picture, *, prefix: str = "f", live: bool = True, known: Picture | None = None) -> dict[str, Any]:
    """Everything the frame's SVG is made of: sheet, defs, ground and things as safe markup.

    ``known``: what the window shows now; parts that are still the same are named only, as kept.
    """
    ground, groups = _frame_parts(picture, prefix, live)
    depth = {i: s.depth[0] + s.depth[1] for i, s in picture.silhouettes.items()}
    order = painting_order(tuple(groups), picture.hiding.in_front, depth)
    return _drawn(frame_sheet(picture.view, prefix), ground, groups, order, None if known is None else _frame_parts(known, prefix, live))


Parts = tuple[Markup, dict[str, Markup]]


def _frame_parts(picture: Picture, prefix: str, live: bool) -> Parts:
    view, scene = picture.view, picture.scene
    sheet = frame_sheet(view, prefix)
    walls = scene.room.walls if scene.room else "#d9d9d9"
    line_scale = sheet.scale_x * view.principal_distance / view.frame_width / picture.setup.camera.distance
    groups = {i: _frame_group(picture.bodies[i], picture.props[i], view, sheet, line_scale, live) for i in picture.silhouettes}
    return _ground(scene.surface, scene.backdrop, darker(walls, 0.35), view, sheet), groups


def _drawn(sheet: Sheet, ground: Markup, groups: dict[str, Markup], order: Iterable[str], known: Parts | None) -> dict[str, Any]:
    keys = (key for part in (ground, *groups.values()) for key in part.gradients)
    old_ground, old = known if known is not None else (None, {})
    is_ground_kept = old_ground is ground
    return {
        "sheet": sheet,
        "ground": mark_safe("" if is_ground_kept else ground.text),
        "ground_kept": is_ground_kept,
        "things": mark_safe("".join(_kept(sheet.prefix, i) if old.get(i) is groups[i] else groups[i].text for i in order)),
        "defs": mark_safe(definitions(sheet.prefix, keys)),
    }


def _kept(prefix: str, placement_id: str) -> str:
    """Stands for a group that the window has already."""
    return f'<g id="{prefix}-{escape(placement_id)}" data-kept=""></g>'


@lru_cache(maxsize=256)
def _ground(surface: Surface, backdrop: Backdrop | None, wall: str, view: View, sheet: Sheet) -> Markup:
    """Wall, then backdrop, then surface; the surface first where the backdrop stands in the front half of it."""
    behind = list(backdrop_patches(backdrop)) if backdrop is not None else []
    top = [front_edge(surface), *surface_patches(surface)]
    patches = behind + top if backdrop is None or backdrop.y >= surface.depth * 0.5 else top + behind
    seen = ((patch, seen_patch(patch, view)) for patch in patches)
    shown = [(path_data(points, sheet), patch) for patch, points in seen if points is not None]
    room = f'<rect width="{sheet.width:g}" height="{sheet.height:g}" fill="{wall}"/>'
    return Markup(room + _patched(shown, sheet), _patch_keys(shown))


def _patched(shown: list[tuple[str, Patch]], sheet: Sheet) -> str:
    return "".join(f'<path d="{d}"{painted(Paint(p.fill, p.opacity, p.shade), sheet.prefix, 1.0)}/>' for d, p in shown)


def _patch_keys(shown: list[tuple[str, Patch]]) -> tuple[Key, ...]:
    return tuple(key for _, p in shown if (key := gradient_key(p.shade, p.fill)))


# ---- the table


def table_drawing(picture: Picture, *, prefix: str = "t", live: bool = True, known: Picture | None = None) -> dict[str, Any]:
    """Everything the table's SVG is made of, with the frame's coverage on it. ``known``: as for the frame."""
    sheet = table_sheet(picture.scene.surface, prefix)
    ground, groups = _table_parts(picture, prefix, live)
    order = sorted(groups, key=lambda i: (picture.bodies[i].z_min, picture.bodies[i].z_max, i))
    return {
        **_drawn(sheet, ground, groups, order, None if known is None else _table_parts(known, prefix, live)),
        "coverage": [{"name": name, "d": d} for name, d in _coverage(picture, sheet)],
        "backdrop": _backdrop_line(picture.scene.backdrop, sheet),
    }


def _table_parts(picture: Picture, prefix: str, live: bool) -> Parts:
    surface, eye = picture.scene.surface, eye_height(picture.view)
    sheet = table_sheet(surface, prefix)
    return _table_ground(surface, sheet), {i: _table_group(body, picture.props[i], eye, sheet, live) for i, body in picture.bodies.items()}


@lru_cache(maxsize=64)
def _table_ground(surface: Surface, sheet: Sheet) -> Markup:
    shown = [(path_data(p.points[:, :2], sheet), p) for p in surface_patches(surface)]
    return Markup(_patched(shown, sheet), _patch_keys(shown))


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
