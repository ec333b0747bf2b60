"""The surface at its own size on sheets of paper: what each thing covers, where it stands, and marks to cut and join by. Made by typst."""

from __future__ import annotations

import math
from collections.abc import Sequence
from pathlib import Path

from tideflat.core.evaluate import Picture
from tideflat.core.frame.tiles import MARGIN_MM, OVERLAP_MM, Foot, Tile, feet_of, tiles_of
from tideflat.core.units import format_length

#: The scale that is checked with a ruler before anything is cut, mm.
CHECK_MM = 100.0
_FONTS = Path(__file__).parents[1] / "ui/print"
_MARK_MM = 4.0


def plan_pdf(picture: Picture, paper: str, unit: str) -> bytes:
    """The PDF. Raises FieldError for a paper there is not, or too small."""
    import typst

    tiles = tiles_of(picture.scene.surface, paper)
    pages = "\n".join(_page(tile, tiles, picture, feet_of(picture), unit) for tile in tiles)
    source = f'#set text(font: "Tideflat Print", size: 7.5pt, lang: "en")\n#set page(margin: 0mm)\n{pages}'
    fonts = typst.Fonts(include_system_fonts=False, font_paths=[_FONTS])
    return typst.compile(source.encode(), format="pdf", font_paths=fonts, timestamp=_TIMESTAMP)


#: Same bytes for the same plan.
_TIMESTAMP = 0


def _page(tile: Tile, tiles: Sequence[Tile], picture: Picture, feet: Sequence[Foot], unit: str) -> str:
    wide, high = tile.wide + 2 * MARGIN_MM, tile.deep + 2 * MARGIN_MM
    columns, rows = max(t.column for t in tiles), max(t.row for t in tiles)
    inside = [_surface(tile, picture), *(_foot(tile, f, unit) for f in feet), *_joins(tile, columns, rows)]
    title = _text(
        f"{picture.whole.title}, {picture.setup.name}: column {tile.column} of {columns} from the left, row {tile.row} of {rows} from the front"
    )
    check = _text("100 mm when the printer kept the size: print at 100 %, without fitting to the page")
    foot = high - MARGIN_MM / 2
    return "\n".join(
        [
            f"#page(width: {wide:g}mm, height: {high:g}mm)[",
            f"#place(top + left, dx: {MARGIN_MM:g}mm, dy: {MARGIN_MM:g}mm, box(width: {tile.wide:g}mm, height: {tile.deep:g}mm, clip: true)[",
            *inside,
            "])",
            *_cuts(tile),
            f"#place(top + left, dx: {MARGIN_MM + 8:g}mm, dy: 4mm)[{title}]",
            _line((MARGIN_MM, foot), (MARGIN_MM + CHECK_MM, foot), "0.4pt"),
            *(_line((MARGIN_MM + k, foot), (MARGIN_MM + k, foot - (3 if k % 50 == 0 else 1.6)), "0.4pt") for k in range(0, 101, 10)),
            f"#place(top + left, dx: {MARGIN_MM + CHECK_MM + 3:g}mm, dy: {foot - 2.4:g}mm, box(width: {tile.wide - CHECK_MM:g}mm)[#text(size: 6pt)[{check}]])",
            "]",
        ]
    )


def _at(tile: Tile, x: float, y: float) -> tuple[float, float]:
    """A place on the surface in the printed area of a sheet, from its top left."""
    return x - tile.x, tile.deep - (y - tile.y)


def _surface(tile: Tile, picture: Picture) -> str:
    surface = picture.scene.surface
    corners = ((0.0, 0.0), (surface.width, 0.0), (surface.width, surface.depth), (0.0, surface.depth))
    return _ring([_at(tile, *c) for c in corners], "0.9pt")


def _foot(tile: Tile, foot: Foot, unit: str) -> str:
    """Its outline, a cross where its middle stands, a tick toward its front, and its name with its measures."""
    x, y = _at(tile, *foot.middle)
    parts = [
        _ring([_at(tile, *p) for p in foot.outline], "0.6pt"),
        _line((x - 5, y), (x + 5, y), "0.5pt"),
        _line((x, y - 5), (x, y + 5), "0.5pt"),
    ]
    if not foot.is_round:
        a = math.radians(foot.turn)
        parts.append(_line((x, y), (x + 14 * math.cos(a), y - 14 * math.sin(a)), "0.5pt"))
    words = f"{foot.name}: {format_length(foot.middle[0], unit)} from the left, {format_length(foot.middle[1], unit)} from the front"
    parts.append(f"#place(top + left, dx: {x + 6.5:.3f}mm, dy: {y + 1.5:.3f}mm)[{_text(words)}]")
    return "\n".join(parts)


def _joins(tile: Tile, columns: int, rows: int) -> list[str]:
    """A dashed line where the next sheet's edge is laid, and crosses that both sheets have."""
    found = []
    if tile.column < columns:
        x = tile.wide - OVERLAP_MM
        found.append(_line((x, 0), (x, tile.deep), '(thickness: 0.4pt, dash: "dashed")'))
    if tile.row < rows:
        found.append(_line((0, OVERLAP_MM), (tile.wide, OVERLAP_MM), '(thickness: 0.4pt, dash: "dashed")'))
    half = OVERLAP_MM / 2
    beside = [half] * (tile.column > 1) + [tile.wide - half] * (tile.column < columns)
    before = [tile.deep - half] * (tile.row > 1) + [half] * (tile.row < rows)
    places = [(x, tile.deep * share) for x in beside for share in (0.25, 0.75)] + [
        (tile.wide * share, y) for y in before for share in (0.25, 0.75)
    ]
    for x, y in places:
        found += [_line((x - _MARK_MM, y), (x + _MARK_MM, y), "0.5pt"), _line((x, y - _MARK_MM), (x, y + _MARK_MM), "0.5pt")]
    return found


def _cuts(tile: Tile) -> list[str]:
    """Marks in the margin on which the sheet is cut."""
    low, right, bottom = MARGIN_MM, MARGIN_MM + tile.wide, MARGIN_MM + tile.deep
    found = []
    for x in (low, right):
        for y, way in ((low, -1), (bottom, 1)):
            found.append(_line((x, y + 2 * way), (x, y + 6 * way), "0.4pt"))
            found.append(_line((x + (-2 if x == low else 2), y), (x + (-6 if x == low else 6), y), "0.4pt"))
    return found


def _line(start: tuple[float, float], end: tuple[float, float], stroke: str) -> str:
    return f"#place(top + left, curve(stroke: {stroke}, curve.move({_pair(start)}), curve.line({_pair(end)})))"


def _ring(points: list[tuple[float, float]], stroke: str) -> str:
    steps = "".join(f", curve.line({_pair(p)})" for p in points[1:])
    return f"#place(top + left, curve(stroke: {stroke}, curve.move({_pair(points[0])}){steps}, curve.close()))"


def _pair(place: tuple[float, float]) -> str:
    return f"({place[0]:.3f}mm, {place[1]:.3f}mm)"


def _text(words: str) -> str:
    """Words as typst takes them literally."""
    quoted = words.replace("\\", "\\\\").replace('"', '\\"')
    return f'#"{quoted}"'
