"""The two schools of each leaning as small drawn pictures, to be chosen between at a glance."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.safestring import SafeString, mark_safe

#: Greys, and the one colour that a picture needs to say "a pop".
_GROUND, _THING, _HERO, _POP = "#8f8f8f", "#d8d8d8", "#f6f6f6", "#b5533c"
Disc = tuple[float, float, float]


def _discs(discs: Sequence[Disc], fill: str = _THING, more: str = "") -> str:
    return "".join(f'<circle cx="{x:g}" cy="{y:g}" r="{r:g}" fill="{fill}"{more}/>' for x, y, r in discs)


def _bars(bars: Sequence[tuple[float, float, float]], fill: str = _THING) -> str:
    return "".join(
        f'<rect x="-14" y="-2" width="28" height="4" fill="{fill}" transform="translate({x:g} {y:g}) rotate({t:g})"/>' for x, y, t in bars
    )


def _shadowed(discs: Sequence[Disc], reach: float, opacity: float) -> str:
    return "".join(
        f'<circle cx="{x + reach:g}" cy="{y + reach * 0.6:g}" r="{r:g}" fill="#000" fill-opacity="{opacity:g}"/>' for x, y, r in discs
    ) + _discs(discs)


_RING = [(40 + 24 * dx, 30 + 19 * dy, 5.0) for dx, dy in ((1, 0), (0.5, 0.87), (-0.5, 0.87), (-1, 0), (-0.5, -0.87), (0.5, -0.87))]
_THREE = [(22.0, 22.0, 9.0), (46.0, 38.0, 11.0), (62.0, 18.0, 6.0)]
_PICTURES: dict[str, tuple[str, str]] = {
    "hero_place": (
        _discs(_RING) + _discs([(40, 30, 10)], _HERO),
        _discs([(54, 38, 12)], _HERO) + _discs([(26, 24, 6), (16, 42, 5), (36, 12, 4), (20, 10, 3)]),
    ),
    "order": (_bars([(26, 16, 0), (26, 30, 0), (26, 44, 0), (56, 16, 0), (56, 30, 0), (56, 44, 0)]), _bars([(22, 18, 25), (30, 40, -40), (56, 16, -12), (52, 42, 63), (66, 28, 100)])),
    "edges": (_discs([(24, 24, 11), (54, 20, 9), (44, 44, 9)]), _discs([(4, 14, 13), (40, 32, 11), (78, 50, 15), (66, 4, 10)])),
    "spacing": (_discs([(18, 18, 8), (44, 42, 8), (64, 16, 8)]), _discs([(34, 26, 12), (50, 24, 9), (43, 40, 10)], _THING, ' stroke="#8f8f8f" stroke-width="1.4"')),
    "palette": (
        _discs([(24, 24, 11)], "#b7a894") + _discs([(50, 20, 9)], "#94836d") + _discs([(46, 43, 10)], "#cfc4b4"),
        _discs([(24, 24, 11)], "#b7a894") + _discs([(50, 20, 9)], _POP) + _discs([(46, 43, 10)], "#cfc4b4"),
    ),
    "shadow": ('<rect width="80" height="60" fill="#c4c4c4"/>' + _shadowed(_THREE, 4, 0.12), '<rect width="80" height="60" fill="#4a4a4a"/>' + _shadowed(_THREE, 9, 0.55)),
    "focus": (_discs(_THREE), _discs([_THREE[1]]) + "".join(_discs([(x, y, r + k)], _THING, ' fill-opacity="0.22"') for x, y, r in (_THREE[0], _THREE[2]) for k in (-3, -1, 1, 3))),
    "likeness": (_discs([(20, 30, 10), (43, 30, 10), (66, 30, 10)]), _discs([(20, 30, 10)]) + '<rect x="34" y="20" width="18" height="20" fill="#b4b4b4"/>' + _bars([(66, 30, 70)], _HERO)),
    "fullness": (_discs([(26, 34, 10), (52, 22, 6)]), _discs([(12 + 14 * k, 14 + 16 * (j + (k % 2) * 0.4), 5.5) for k in range(5) for j in range(3)])),
}  # fmt: skip


def leaning_pictures(name: str) -> tuple[SafeString, SafeString]:
    """(the first school, the other), each an SVG of 80 x 60."""
    first, second = _PICTURES[name]
    return _svg(first), _svg(second)


def _svg(inside: str) -> SafeString:
    return mark_safe(f'<svg viewBox="0 0 80 60" aria-hidden="true"><rect width="80" height="60" fill="{_GROUND}"/>{inside}</svg>')
