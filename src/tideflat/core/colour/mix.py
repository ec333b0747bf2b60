"""Mix colours in linear light (IEC 61966-2-1), for shading drawn things."""

from __future__ import annotations

from ..remember import counted
from .transfer import decoded, encoded


def linear_from_hex(colour: str) -> tuple[float, float, float]:
    """``#rrggbb`` to linear light, 0..1 each."""
    r, g, b = (decoded(int(colour[i : i + 2], 16) / 255) for i in (1, 3, 5))
    return r, g, b


def hex_from_linear(light: tuple[float, float, float]) -> str:
    """Linear light, clipped to 0..1, to ``#rrggbb``."""
    return "#" + "".join(f"{round(encoded(min(max(c, 0.0), 1.0)) * 255):02x}" for c in light)


@counted(4096)
def mixed(first: str, second: str, share: float) -> str:
    """``share`` of the second colour in the first.

    >>> mixed("#000000", "#ffffff", 0.5)
    '#bcbcbc'
    """
    a, b = linear_from_hex(first), linear_from_hex(second)
    return hex_from_linear(tuple(x + (y - x) * share for x, y in zip(a, b, strict=True)))  # type: ignore[arg-type]


def lighter(colour: str, share: float) -> str:
    return mixed(colour, "#ffffff", share)


def darker(colour: str, share: float) -> str:
    """Toward black, as shade does: the light that falls on it is cut by ``share``."""
    return mixed(colour, "#000000", share)


def luminance(colour: str) -> float:
    """Relative luminance, 0..1 (WCAG 2.2: 0.2126 R + 0.7152 G + 0.0722 B)."""
    r, g, b = linear_from_hex(colour)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b
