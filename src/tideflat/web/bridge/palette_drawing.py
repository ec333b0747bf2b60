"""The palette's two readings as SVG: hues on a circle with the harmonic template, and lightness against chroma."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from tideflat.core.colour.harmony import Harmony
from tideflat.core.colour.spaces import hex_from_rgb, lab_of, oklch_of, rgb_from_oklch
from tideflat.core.remember import counted

#: Chroma (OKLCH) at the rim of the circle and at the right end of the plot: hardly anything on a table is more vivid.
FULL_CHROMA = 0.22
_SIZE, _RING = 120.0, 6.0
_PLOT = (150.0, 108.0)


@dataclass(frozen=True)
class Spot:
    """A colour as it is seen: whose (its name, and its placement's id), how much of the picture, and whether it is the hero's or only wanted."""

    name: str
    hex: str
    share: float
    is_hero: bool = False
    is_wanted: bool = False
    owner: str = ""


def hue_circle(spots: Sequence[Spot], harmony: Harmony) -> SafeString:
    """Hue round the circle, chroma from its middle outward; discs as large as they are seen; the template's sectors lightly filled."""
    middle, outer = _SIZE / 2, _SIZE / 2 - 1
    drawn = [_hue_ring(middle, outer)]
    for start, end in harmony.sectors:
        drawn.append(f'<path class="sector" d="{_sector(middle, outer - _RING - 1, start, end)}"/>')
    drawn.append(f'<circle class="axis" cx="{middle:g}" cy="{middle:g}" r="{(outer - _RING) / 2:g}"/>')
    for spot in sorted(spots, key=lambda s: -s.share):
        _, chroma, hue = oklch_of(spot.hex)
        reach = min(1.0, chroma / FULL_CHROMA) * (outer - _RING - 5)
        t = math.radians(hue)
        drawn.append(_dot(spot, middle + reach * math.cos(t), middle - reach * math.sin(t)))
    return _svg("".join(drawn), _SIZE, _SIZE, "Hues of the scene on a circle: " + harmony.words)


@counted(1)
def _hue_ring(middle: float, outer: float) -> str:
    """Every hue at one lightness and chroma, in 48 steps."""
    starts = np.arange(48) * 7.5
    colours = hex_from_rgb(rgb_from_oklch(np.column_stack([np.full(48, 0.68), np.full(48, 0.1), starts + 3.75])))
    return "".join(
        f'<path d="{_band(middle, outer, outer - _RING + 2, a, a + 7.9)}" fill="{colour}"/>'
        for a, colour in zip(starts.tolist(), colours, strict=True)
    )


def _at(middle: float, radius: float, degrees: float) -> str:
    t = math.radians(degrees)
    return f"{middle + radius * math.cos(t):.1f} {middle - radius * math.sin(t):.1f}"


def _band(middle: float, outer: float, inner: float, a: float, b: float) -> str:
    return f"M{_at(middle, outer, a)}A{outer:g} {outer:g} 0 0 0 {_at(middle, outer, b)}L{_at(middle, inner, b)}A{inner:g} {inner:g} 0 0 1 {_at(middle, inner, a)}Z"


def _sector(middle: float, radius: float, start: float, end: float) -> str:
    sweep = (end - start) % 360
    return f"M{middle:g} {middle:g}L{_at(middle, radius, start)}A{radius:g} {radius:g} 0 {int(sweep > 180)} 0 {_at(middle, radius, end)}Z"


def lightness_plot(spots: Sequence[Spot]) -> SafeString:
    """Lightness upward, chroma to the right: what is light, what is vivid, and how far the hero stands from the rest."""
    wide, high = _PLOT
    drawn = [f'<path class="axis" d="M14 2V{high - 12:g}H{wide - 2:g}"/>']
    for at in (25, 50, 75):
        y = high - 12 - (high - 14) * at / 100
        drawn.append(f'<path class="rule" d="M14 {y:.1f}H{wide - 2:g}"/>')
    for spot in sorted(spots, key=lambda s: -s.share):
        lightness, (_, chroma, _) = float(lab_of(spot.hex)[0]), oklch_of(spot.hex)
        x = 14 + (wide - 22) * min(1.0, chroma / FULL_CHROMA) + 4
        drawn.append(_dot(spot, x, high - 12 - (high - 14) * lightness / 100))
    drawn.append(f'<text x="16" y="{high - 2:g}">grey</text><text x="{wide - 2:g}" y="{high - 2:g}" text-anchor="end">vivid</text>')
    drawn.append(
        f'<text transform="translate(9 {high - 14:g}) rotate(-90)">dark</text><text transform="translate(9 22) rotate(-90)">light</text>'
    )
    return _svg("".join(drawn), wide, high, "Lightness against how vivid each colour is")


def _dot(spot: Spot, x: float, y: float) -> str:
    size = 2.2 + 15 * math.sqrt(min(spot.share, 0.35))
    title = f"<title>{escape(spot.name)}: {spot.hex}, {spot.share * 100:.1f} % of the picture</title>"
    if spot.is_wanted:
        return f'<rect x="{x - 3.2:.1f}" y="{y - 3.2:.1f}" width="6.4" height="6.4" fill="{spot.hex}" class="wanted"><title>wanted: {spot.hex}</title></rect>'
    ring = f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{size + 2.2:.1f}" class="hero-ring"/>' if spot.is_hero else ""
    carrier = f' data-carriers="{escape(spot.owner)}"'
    return f'{ring}<circle cx="{x:.1f}" cy="{y:.1f}" r="{size:.1f}" fill="{spot.hex}" class="spot"{carrier}>{title}</circle>'


def _svg(inside: str, wide: float, high: float, label: str) -> SafeString:
    return mark_safe(
        f'<svg class="reading-plot" viewBox="0 0 {wide:g} {high:g}" width="{wide:g}" height="{high:g}" role="img" aria-label="{escape(label)}">{inside}</svg>'
    )
