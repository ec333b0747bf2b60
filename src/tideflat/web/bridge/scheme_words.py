"""Schemes in words."""

from __future__ import annotations

#: A scheme as people read it.
SCHEME_WORDS: dict[str, str] = {
    "any": "any scheme", "crescent": "crescent", "diagonal": "diagonal", "depth-diagonal": "diagonal in depth",
    "centre": "centre and surround", "off-centre": "hero off centre", "s-curve": "S-curve", "triangle": "triangle", "arc": "line-up arc", "border": "border",
    "squared": "squared grid", "stagger": "planes in depth",
}  # fmt: skip
