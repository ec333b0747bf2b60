"""Core pieces as SVG: the table from above and the frame through the lens."""

from __future__ import annotations

import math
import zlib
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import shapely
from django.utils.html import escape
from django.utils.safestring import mark_safe

from tideflat.core.camera.coverage import seen_on_table
from tideflat.core.camera.crops import FULL_FRAME
from tideflat.core.camera.framing import magnification_at_aim
from tideflat.core.camera.hiding import painting_order
from tideflat.core.camera.silhouette import silhouette_of
from tideflat.core.camera.view import View
from tideflat.core.colour.mix import darker
from tideflat.core.drawing.detail import Detail, detail_for
from tideflat.core.drawing.ground import Patch, backdrop_patches, front_edge, seen_patch, surface_patches
from tideflat.core.drawing.pieces import Paint, Paths, Piece, frame_path, table_path
from tideflat.core.drawing.props import CAST, FROM_LIGHT, Eye, eye_for, prop_pieces, shadow_pieces
from tideflat.core.drawing.skins import ground_cells
from tideflat.core.evaluate import Picture
from tideflat.core.model import Backdrop, Prop, Surface
from tideflat.core.remember import remembered
from tideflat.core.solids.body import Body

from .shades import Key, cast_shade, definitions, gradient_key, painted
from .sheets import Sheet, frame_sheet, path_data, table_sheet
from .worn import Address, Worn, picture_address, picture_definitions

#: How far, in mm on the table, the surface's skin may lie off within one of its cells, at the distance of the plane of focus.
GROUND_OFF_MM = 1.0


@remembered(5)
def thing_pieces(body: Body, prop: Prop, eye: Eye, detail: Detail) -> tuple[Piece, ...]:
    return shadow_pieces(body) + prop_pieces(body, prop, eye, detail)


def _data(outlines: Paths | None, piece: Piece, sheet: Sheet) -> str:
    return "" if outlines is None else "".join(path_data(points, sheet, closed=piece.kind != "line") for points in outlines)


@dataclass(frozen=True)
class Markup:
    """Markup, the gradients it needs, and the pictures it shows."""

    text: str
    gradients: tuple[Key, ...]
    pictures: tuple[str, ...] = ()


@remembered(8)  # while one thing is moved, all others keep their markup
def _frame_group(body: Body, prop: Prop, view: View, sheet: Sheet, line_scale: float, live: bool, detail: Detail) -> Markup:
    silhouette = silhouette_of(body, view)
    if silhouette is None:  # only what has one is painted
        return Markup("", ())
    pieces = _cast(thing_pieces(body, prop, eye_for(body, view.position), detail), *_cast_way(body, view))
    drawn = [(p, frame_path(p, view)) for p in pieces]
    outline = _outline_data(shapely.simplify(silhouette.outline, 0.0002), sheet)
    return _group(body, prop, drawn, outline, sheet, line_scale, live=live)


def _cast(pieces: tuple[Piece, ...], x: float, y: float) -> list[Piece]:
    """The pieces with their shadow fading the way it falls in the drawing, x to the right and y down."""
    shade = cast_shade(x, y)
    return [replace(p, paint=replace(p.paint, shade=shade)) if p.paint.shade == CAST else p for p in pieces]


def _cast_way(body: Body, view: View) -> tuple[float, float]:
    """Which way the light's shadow falls in the frame, beside the thing."""
    x, y = body.placement.x, body.placement.y
    near, far = view.straight(np.array([[x, y, 0.0], [x + FROM_LIGHT[0], y + FROM_LIGHT[1], 0.0]]))
    return float(far[0] - near[0]) * view.aspect, float(far[1] - near[1])


@remembered(4)
def _table_group(body: Body, prop: Prop, eye: Eye, sheet: Sheet, live: bool, detail: Detail) -> Markup:
    pieces = _cast(thing_pieces(body, prop, eye, detail), FROM_LIGHT[0], -FROM_LIGHT[1])
    drawn = [(p, table_path(p)) for p in pieces]
    return _group(body, prop, drawn, _outline_data(shapely.simplify(body.footprint, 0.05), sheet), sheet, 1.0, live=live)


def _group(
    body: Body, prop: Prop, pieces: list[tuple[Piece, Paths | None]], outline: str, sheet: Sheet, line_scale: float, *, live: bool
) -> Markup:
    """One thing's paths. While live, pieces turned away keep an empty path, so that the browser finds each by its number."""
    shown = [(p, paths) for p, paths in pieces if paths is not None or live]
    own = f"{sheet.prefix}k{zlib.crc32(body.id.encode()):x}"  # an id may hold what an address in a fill may not
    drawn, worn = [], Worn(sheet)
    for k, (p, paths) in enumerate(shown):
        if p.skin is not None:
            drawn.append(worn.path(f"{own}-{k}", p.skin, paths))
            continue
        rule = ' fill-rule="evenodd"' if p.kind == "wall" else ""
        drawn.append(f'<path d="{_data(paths, p, sheet)}"{painted(p.paint, sheet.prefix, line_scale)}{rule}/>')
    keys = tuple(key for p, _ in shown if (key := gradient_key(p.paint.shade, p.paint.fill)))
    if not live:
        return Markup(f"<g>{worn.defs}{''.join(drawn)}</g>", keys, worn.pictures)
    role = body.placement.role
    hero = f'<path class="hero-line" d="{outline}"/><path class="hero-line inner" d="{outline}"/>' if role == "hero" else ""
    held = "locked" if body.placement.locked else "free"
    name = escape(body.id)
    return Markup(
        f'<g id="{sheet.prefix}-{name}" class="thing {held}" data-id="{name}"><title>{escape(prop.name)}, {role}</title>'
        f'{worn.defs}{"".join(drawn)}{hero}<path class="outline" d="{outline}"/></g>',
        keys,
        worn.pictures,
    )


def _outline_data(geometry: Any, sheet: Sheet) -> str:
    polygons = geometry.geoms if hasattr(geometry, "geoms") else [geometry]
    return "".join(path_data(np.array(p.exterior.coords)[:-1], sheet) for p in polygons if p.geom_type == "Polygon" and not p.is_empty)


# ---- the frame


def frame_drawing(
    picture: Picture,
    *,
    prefix: str = "f",
    live: bool = True,
    known: Picture | None = None,
    address: Address = picture_address,
    detail: Detail | None = None,
) -> dict[str, Any]:
    """Everything the frame's SVG is made of: sheet, defs, ground and things as safe markup.

    ``known``: what the window shows now; parts that are still the same are named only, as kept. ``address``: of a skin's picture.
    ``detail``: how finely at the most, for what is shown small.
    """
    ground, groups = _frame_parts(picture, prefix, live, detail)
    depth = {i: s.depth[0] + s.depth[1] for i, s in picture.silhouettes.items()}
    order = painting_order(tuple(groups), picture.hiding.in_front, depth)
    kept = None if known is None else _frame_parts(known, prefix, live)
    return _drawn(frame_sheet(picture.view, prefix), ground, groups, order, kept, address)


Parts = tuple[Markup, dict[str, Markup]]


def _frame_parts(picture: Picture, prefix: str, live: bool, asked: Detail | None = None) -> Parts:
    view, scene = picture.view, picture.scene
    sheet = frame_sheet(view, prefix)
    walls = scene.room.walls if scene.room else "#d9d9d9"
    line_scale = sheet.scale_x / view.frame_width * magnification_at_aim(picture.setup.camera, view)
    detail = asked or detail_for(picture.props.values())
    groups = {i: _frame_group(picture.bodies[i], picture.props[i], view, sheet, line_scale, live, detail) for i in picture.silhouettes}
    return _ground(scene.surface, scene.backdrop, darker(walls, 0.35), view, sheet), groups


def _drawn(
    sheet: Sheet, ground: Markup, groups: dict[str, Markup], order: Iterable[str], known: Parts | None, address: Address
) -> dict[str, Any]:
    keys = (key for part in (ground, *groups.values()) for key in part.gradients)
    pictures = (key for part in (ground, *groups.values()) for key in part.pictures)
    old_ground, old = known if known is not None else (None, {})
    is_ground_kept = old_ground is ground
    return {
        "sheet": sheet,
        "ground": mark_safe("" if is_ground_kept else ground.text),
        "ground_kept": is_ground_kept,
        "things": mark_safe("".join(_kept(sheet.prefix, i) if old.get(i) is groups[i] else groups[i].text for i in order)),
        "defs": mark_safe(definitions(sheet.prefix, keys) + picture_definitions(sheet.prefix, pictures, address)),
    }


def _kept(prefix: str, placement_id: str) -> str:
    """Stands for a group that the window has already."""
    return f'<g id="{prefix}-{escape(placement_id)}" data-kept=""></g>'


@remembered(2)
def _ground(surface: Surface, backdrop: Backdrop | None, wall: str, view: View, sheet: Sheet) -> Markup:
    """Wall, then backdrop, then surface; the surface first where the backdrop stands in the front half of it."""
    behind = _patched(list(backdrop_patches(backdrop, surface)) if backdrop is not None else [], view, sheet)
    edge = _patched([front_edge(surface)], view, sheet)
    flat, *lit = surface_patches(surface)
    worn = Worn(sheet)
    laid = "".join(
        worn.path(f"{sheet.prefix}g{k}", cell.skin, paths)
        for k, cell in enumerate(ground_cells(surface, ground_cell_mm(view)))
        if cell.skin is not None and (paths := frame_path(cell, view)) is not None and _meets_frame(paths[0])
    )
    base, light = _patched([flat], view, sheet), _patched(lit, view, sheet)
    top = Markup(f"{edge.text}{base.text}{worn.defs}{laid}{light.text}", edge.gradients + base.gradients + light.gradients, worn.pictures)
    parts = (behind, top) if backdrop is None or backdrop.y >= surface.depth * 0.5 else (top, behind)
    room = f'<rect width="{sheet.width:g}" height="{sheet.height:g}" fill="{wall}"/>'
    return Markup(room + "".join(p.text for p in parts), behind.gradients + top.gradients, top.pictures)


def ground_cell_mm(view: View) -> float:
    """Side of a cell in which an affine map is off by GROUND_OFF_MM: (s / 2)^2 cos(elevation) / distance; endless from straight above."""
    level = math.hypot(float(view.forward[0]), float(view.forward[1]))
    return 2 * math.sqrt(GROUND_OFF_MM * view.lens.pupil_distance / level) if level > 0.01 else math.inf


def _meets_frame(flat: np.ndarray) -> bool:
    low, high = flat.min(axis=0), flat.max(axis=0)
    return bool((low < 1).all() and (high > 0).all())


def _patched(patches: list[Patch], view: View | None, sheet: Sheet) -> Markup:
    """Patches through the lens, or from above when ``view`` is None."""
    seen = ((p, p.points[:, :2] if view is None else seen_patch(p, view)) for p in patches)
    shown = [(path_data(points, sheet), p) for p, points in seen if points is not None]
    text = "".join(f'<path d="{d}"{painted(Paint(p.fill, p.opacity, p.shade), sheet.prefix, 1.0)}/>' for d, p in shown)
    return Markup(text, tuple(key for _, p in shown if (key := gradient_key(p.shade, p.fill))))


# ---- the table


def table_drawing(
    picture: Picture, *, prefix: str = "t", live: bool = True, known: Picture | None = None, address: Address = picture_address
) -> dict[str, Any]:
    """Everything the table's SVG is made of, with the frame's coverage on it. ``known``, ``address``: as for the frame."""
    sheet = table_sheet(picture.scene.surface, prefix)
    ground, groups = _table_parts(picture, prefix, live)
    order = sorted(groups, key=lambda i: (picture.bodies[i].z_min, picture.bodies[i].z_max, i))
    return {
        **_drawn(sheet, ground, groups, order, None if known is None else _table_parts(known, prefix, live), address),
        "coverage": [{"name": name, "d": d} for name, d in _coverage(picture, sheet)],
        "backdrop": _backdrop_line(picture.scene.backdrop, sheet),
    }


def _table_parts(picture: Picture, prefix: str, live: bool) -> Parts:
    surface, lens = picture.scene.surface, picture.view.position
    sheet = table_sheet(surface, prefix)
    detail = detail_for(picture.props.values())
    groups = {i: _table_group(body, picture.props[i], eye_for(body, lens), sheet, live, detail) for i, body in picture.bodies.items()}
    return _table_ground(surface, sheet), groups


@remembered(1)
def _table_ground(surface: Surface, sheet: Sheet) -> Markup:
    worn = Worn(sheet)
    laid = "".join(
        worn.path(f"{sheet.prefix}g", cell.skin, table_path(cell)) for cell in ground_cells(surface, 1e9) if cell.skin is not None
    )
    flat, *lit = surface_patches(surface)
    base, light = _patched([flat], None, sheet), _patched(lit, None, sheet)
    return Markup(f"{base.text}{worn.defs}{laid}{light.text}", base.gradients + light.gradients, worn.pictures)


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
