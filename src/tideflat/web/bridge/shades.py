"""How light plays on drawn things, as SVG gradients. One gradient for a shade and colour, named by both."""

from __future__ import annotations

import math
from collections.abc import Iterable

from tideflat.core.colour.mix import darker, lighter
from tideflat.core.drawing.pieces import Paint

#: The ways a shadow may fall in a drawing: right, right and down, and so on round, in eighths.
CAST_WAYS = ((1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1))


def cast_shade(x: float, y: float) -> str:
    """The shade of a shadow that falls by x to the right and y down.

    >>> cast_shade(1.0, 0.9), cast_shade(-1.0, 0.0)
    ('cast1', 'cast4')
    """
    return f"cast{round(math.degrees(math.atan2(y, x)) / 45) % 8}"


Stops = tuple[tuple[float, str, float], ...]
#: (shade, colour) of a gradient.
Key = tuple[str, str]


def gradient_key(shade: str, fill: str | None) -> Key | None:
    """The gradient a fill needs; None for a flat one or none."""
    return None if fill is None or shade == "flat" else (shade, fill)


def fill(prefix: str, shade: str, colour: str | None) -> str:
    """The value of a fill attribute. ``prefix`` keeps the drawings of one page apart."""
    if colour is None:
        return "none"
    return colour if shade == "flat" else f"url(#{prefix}{shade}{colour[1:]})"


def painted(paint: Paint, prefix: str, line_scale: float) -> str:
    """The attributes that fill and outline a path."""
    parts = [f' fill="{fill(prefix, paint.shade, paint.fill)}"']
    if paint.own is not None:  # ui/styles/drawings.css
        parts.append(' data-own="none"' if paint.own == "none" else f' data-own="" color="{paint.own}"')
    if paint.opacity < 1 and paint.fill:
        parts.append(f' fill-opacity="{paint.opacity:g}"')
    if paint.line:
        parts.append(f' stroke="{paint.line}" stroke-width="{max(0.4, paint.line_width * line_scale):.2g}"')
        if paint.line_opacity < 1:
            parts.append(f' stroke-opacity="{paint.line_opacity:g}"')
    return "".join(parts)


def definitions(prefix: str, keys: Iterable[Key]) -> str:
    """The gradients themselves, each once."""
    return "".join(_gradient(f"{prefix}{shade}{colour[1:]}", shade, colour) for shade, colour in dict.fromkeys(keys))


#: Shades that only say where light falls: over a colour, and as it.
_VEILS = ("falloff", "skinlight", "skinround", "backlight")
_FORMS = ("round", "sheen", "hollow", "ball")


def _gradient(name: str, shade: str, colour: str) -> str:
    across, stops = _stops(shade, colour)
    written = "".join(
        f'<stop offset="{at:g}" stop-color="{tone}"' + (f' stop-opacity="{alpha:g}"' if alpha < 1 else "") + "/>"
        for at, tone, alpha in stops
    )
    # Where the scene's own light lies over the drawing, what only plays at light is its colour, or nothing (ui/styles/drawings.css).
    lit = ' class="veil-light"' if shade in _VEILS else f' class="form-light" color="{colour}"' if shade in _FORMS else ""
    if across.startswith("way"):
        x, y = CAST_WAYS[int(across[3:])]
        return f'<linearGradient id="{name}" x1="{(1 - x) / 2:g}" y1="{(1 - y) / 2:g}" x2="{(1 + x) / 2:g}" y2="{(1 + y) / 2:g}">{written}</linearGradient>'
    if across == "radial":
        return f'<radialGradient id="{name}"{lit} cx="0.5" cy="0.5" r="0.62" fx="0.32" fy="0.28">{written}</radialGradient>'
    x1, y1, x2, y2 = {"across": (0, 0, 1, 0), "slant": (0, 0, 1, 1), "down": (0, 0, 0, 1)}[across]
    return f'<linearGradient id="{name}"{lit} x1="{x1}" y1="{y1}" x2="{x2}" y2="{y2}">{written}</linearGradient>'


def _stops(shade: str, c: str) -> tuple[str, Stops]:
    """How each shade runs over its outline: light comes from the back left."""
    if shade.startswith("cast"):
        return f"way{shade[4:]}", ((0, c, 0.3), (0.45, c, 0.24), (0.75, c, 0.09), (1, c, 0))
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
        case "bottle":
            return "across", (
                (0, darker(c, 0.2), 0.95),
                (0.14, lighter(c, 0.1), 0.72),
                (0.19, lighter(c, 0.75), 0.9),
                (0.26, c, 0.62),
                (0.7, darker(c, 0.1), 0.66),
                (0.92, lighter(c, 0.16), 0.8),
                (1, darker(c, 0.5), 0.97),
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
        case "skinlight":
            return "slant", ((0, "#ffffff", 0.12), (0.5, "#ffffff", 0), (0.55, "#000000", 0), (1, "#000000", 0.16))
        case "skinround":
            return "across", (
                (0, "#ffffff", 0),
                (0.22, "#ffffff", 0.16),
                (0.4, "#000000", 0),
                (0.65, "#000000", 0.14),
                (1, "#000000", 0.46),
            )
        case "rise":
            return "down", ((0, c, 0), (0.45, c, 0.25), (1, c, 0.95))
        case "backlight":
            return "across", ((0, "#ffffff", 0.16), (0.5, "#000000", 0.02), (1, "#000000", 0.24))
    raise AssertionError(f"no shade called {shade}")
