"""The sheet to measure by, for those who have no plain one: white, with a check of the printer's scale along one edge."""

from __future__ import annotations

#: width, height, mm: ISO 216 for A4; 8 1/2 by 11 inches for Letter.
SIZES = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}


def printed_sheet_svg(kind: str) -> str:
    """An SVG of true size: it must be printed at 100 %, without "fit to page". The sheet's own edges are what is measured by."""
    wide, high = SIZES[kind]
    left, y = (wide - 100) / 2, high - 14
    marks = "".join(f'<path d="M{left + k * 10:g} {y:g}v{-3 if k % 5 else -5}" stroke="#000" stroke-width="0.2"/>' for k in range(11))
    text = "this line is 100 mm when the printer kept the size; lay the printed side down, the white side up"
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" viewBox="0 0 {wide:g} {high:g}">'
        f'<rect width="{wide:g}" height="{high:g}" fill="#fff"/><path d="M{left:g} {y:g}h100" stroke="#000" stroke-width="0.3"/>{marks}'
        f'<text x="{wide / 2:g}" y="{y + 4.5:g}" font-size="3" font-family="sans-serif" text-anchor="middle">{text}</text></svg>'
    )
