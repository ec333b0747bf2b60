"""Things of shapes that the sixty photographs do not show, for ``tools.measuring_pictures others``: what is learnt from those may be their
twenty shapes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np


@dataclass(frozen=True)
class Made:
    """A thing: its shape as documents write it, finish, colours, and a picture over its top in place of plain colours."""

    name: str
    shape: dict[str, Any]
    colours: tuple[str, ...]
    finish: str = "matte"
    worn: str = ""


def _ring(places: np.ndarray) -> list[list[float]]:
    return [[round(float(x), 2), round(float(y), 2)] for x, y in places]


def _fork(length: float, width: float, handle: float) -> list[list[float]]:
    x, t = length / 2, width / 2
    upper = [
        [-x, -handle / 2], [x - 75, -handle / 2], [x - 62, -t], [x, -t], [x, -t + 3.5], [x - 42, -t + 4], [x - 42, -t + 7.5], [x, -t + 7],
        [x, -t + 10.5], [x - 42, -t + 11],
    ]  # fmt: skip
    return upper + [[a, -b] for a, b in reversed(upper)]


_ROUND = np.linspace(0, 2 * np.pi, 40, endpoint=False)
_SIXTH, _TWELFTH, _HALF = np.arange(6) * np.pi / 3, np.arange(12) * np.pi / 6, np.linspace(-np.pi / 2, np.pi / 2, 16)
_HEXAGON = _ring(68 * np.column_stack([np.cos(_SIXTH), np.sin(_SIXTH)]))
_STAR = _ring(np.column_stack([np.cos(_TWELFTH), np.sin(_TWELFTH)]) * np.where(np.arange(12) % 2, 26, 44)[:, None])
_HEART = _ring(2.8 * np.column_stack([
    16 * np.sin(_ROUND) ** 3, 13 * np.cos(_ROUND) - 5 * np.cos(2 * _ROUND) - 2 * np.cos(3 * _ROUND) - np.cos(4 * _ROUND),
])[::-1])  # fmt: skip
_CRESCENT = _ring(np.concatenate([
    np.column_stack([30 * np.cos(_HALF), 40 * np.sin(_HALF)]), np.column_stack([6 * np.cos(_HALF), 40 * np.sin(_HALF)])[-2:0:-1],
]))  # fmt: skip
_FILLET = _ring(np.column_stack([105 * np.cos(_ROUND), np.sin(_ROUND) * (34 - 14 * np.cos(_ROUND))]))
_PEAR = _ring(np.column_stack([48 * np.cos(_ROUND), np.sin(_ROUND) * (32 - 12 * np.cos(_ROUND) - 4 * np.cos(2 * _ROUND))]))
_PADDLE = [[-130, -14], [-60, -14], [-52, -60], [120, -60], [130, -50], [130, 50], [120, 60], [-52, 60], [-60, 14], [-130, 14]]

#: Pointed, narrow-tined, tapering upward, very tall, deep, as dark at the side as on top, white on white.
OTHERS: tuple[Made, ...] = (
    Made("fork", {"kind": "outline", "points": _fork(190, 24, 8), "height": 3}, ("#8d9396",), "metal"),
    Made("hexagon", {"kind": "outline", "points": _HEXAGON, "height": 14}, ("#8a5f3c",)),
    Made("wedge", {"kind": "outline", "points": [[-60, -38], [62, 0], [-60, 38]], "height": 45}, ("#e3b94f",)),
    Made("heart", {"kind": "outline", "points": _HEART, "height": 18}, ("#b5653a",), "satin"),
    Made("canister", {"kind": "cylinder", "diameter": 62, "height": 165}, ("#23402f",), "gloss"),
    Made("deep bowl", {"kind": "bowl", "diameter": 132, "base_diameter": 62, "height": 62}, ("#9a5638",)),
    Made("star", {"kind": "outline", "points": _STAR, "height": 7}, ("#b98a4e",)),
    Made("paddle board", {"kind": "outline", "points": _PADDLE, "height": 15}, ("#6d4a30",)),
    Made("egg", {"kind": "sphere", "diameter": 46}, ("#e9dcc6",)),
    Made("candle", {"kind": "cylinder", "diameter": 52, "height": 135}, ("#eee6d2",), "satin"),
    Made("lemon wedge", {"kind": "outline", "points": _CRESCENT, "height": 18}, ("#e2c23a",)),
    Made("dark napkin", {"kind": "cloth", "width": 140, "depth": 70, "thickness": 10}, ("#2a3550",)),
    Made("square dish", {"kind": "box", "width": 92, "depth": 92, "height": 34}, ("#e6e0d0",), "gloss"),
    Made("fillet", {"kind": "outline", "points": _FILLET, "height": 14}, ("#a5673f",), "satin"),
    Made("mill", {"kind": "cone", "top_diameter": 40, "base_diameter": 62, "height": 128}, ("#4a2f20",), "satin"),
    Made("tea tin", {"kind": "box", "width": 62, "depth": 62, "height": 92}, ("#8c2f2a",), "satin"),
    Made("pear", {"kind": "outline", "points": _PEAR, "height": 40}, ("#9aa24a",)),
    Made("pale board", {"kind": "box", "width": 210, "depth": 120, "height": 18}, ("#d9c29a",)),
)  # fmt: skip
