"""Harmonic templates on the hue circle.

Source: D. Cohen-Or, O. Sorkine, R. Gal, T. Leyvand, Y.-Q. Xu, "Color harmonization", ACM TOG 25(3), 2006: sectors of the eight
templates (after Tokumaru et al. 2002), and the distance of a hue to the nearest sector's border, weighed here by chroma and area as
their equation 2 weighs it by saturation. The hue is that of OKLCH and not of HSV, so that equal angles look alike.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..tolerances import ROUNDING

#: Sectors as (middle, width) in degrees from the template's own zero: the paper's figure 2, sizes in its appendix (from memory).
TEMPLATES: dict[str, tuple[tuple[float, float], ...]] = {
    "i": ((0, 18.0),),
    "V": ((0, 93.6),),
    "L": ((0, 18.0), (90, 79.2)),
    "I": ((0, 18.0), (180, 18.0)),
    "T": ((0, 180.0),),
    "Y": ((0, 93.6), (180, 18.0)),
    "X": ((0, 93.6), (180, 93.6)),
}
#: The same in words, the plainest first.
WORDS: dict[str, str] = {
    "N": "greys, no hue to speak of",
    "i": "one narrow family of hues",
    "V": "one wide family of hues",
    "I": "two opposite hues",
    "L": "a hue and a family at right angles to it",
    "Y": "a family of hues and one opposite accent",
    "X": "two opposite families of hues",
    "T": "half of the hue circle",
}
#: Under this chroma (OKLCH) a colour is a grey and its hue says nothing [practice].
GREY_CHROMA = 0.02
#: A template fits when the weighed hues are within this many degrees of it on average.
FITS_DEG = 4.0


@dataclass(frozen=True, slots=True)
class Harmony:
    """The plainest template that fits. turn: degrees the template is turned by; off_deg: mean distance, weighed; sectors (from, to)."""

    template: str
    words: str
    turn: float
    off_deg: float
    sectors: tuple[tuple[float, float], ...]


def distance_deg(hues: np.ndarray, template: str, turn: float) -> np.ndarray:
    """Arc (n,), degrees, from each hue to the nearest sector of the template turned by ``turn``; 0 inside one."""
    apart = [np.maximum(np.abs((hues - turn - middle + 180) % 360 - 180) - width / 2, 0) for middle, width in TEMPLATES[template]]
    return np.minimum.reduce(apart)


def harmony(hues: np.ndarray, chromas: np.ndarray, shares: np.ndarray) -> Harmony:
    """The plainest template whose sectors hold the hues (n,) in degrees, weighed by chroma (n,) and visible share (n,)."""
    weight = np.where(chromas < GREY_CHROMA, 0.0, chromas) * shares
    if weight.sum() <= 0:
        return Harmony("N", WORDS["N"], 0.0, 0.0, ())
    best: Harmony | None = None
    for template in ("i", "V", "I", "L", "Y", "X", "T"):
        turns = np.arange(0, 360, 2.0)
        off = np.array([float(weight @ distance_deg(hues, template, t) / weight.sum()) for t in turns])
        lowest = np.flatnonzero(off <= off.min() + ROUNDING)
        turn = float(turns[_middle_of_run(lowest, len(turns))])
        sectors = tuple(((m - w / 2 + turn) % 360, (m + w / 2 + turn) % 360) for m, w in TEMPLATES[template])
        found = Harmony(template, WORDS[template], turn, float(off.min()), sectors)
        if found.off_deg <= FITS_DEG:
            return found
        if best is None or found.off_deg < best.off_deg:
            best = found
    assert best is not None
    return best


def _middle_of_run(indices: np.ndarray, count: int) -> int:
    """The middle of the longest run of neighbouring indices on a circle of ``count``: the template sits centred on its hues."""
    runs = np.split(indices, np.flatnonzero(np.diff(indices) > 1) + 1)
    if len(runs) > 1 and runs[0][0] == 0 and runs[-1][-1] == count - 1:
        runs = [np.concatenate([runs[-1], runs[0] + count]), *runs[1:-1]]
    longest = max(runs, key=len)
    return int(longest[len(longest) // 2]) % count
