"""What the eye weighs in an arrangement, in words."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from tideflat.core.arrange.compare import Changed
from tideflat.core.composition.measures import Measure


@dataclass(frozen=True)
class Weighed:
    """words with its value; what: the definition, with its source."""

    words: str
    value: str
    what: str


def _percent(value: float) -> str:
    return f"{100 * value:.0f} %"


def _plain(value: float) -> str:
    return f"{value:.2g}" if value % 1 else f"{value:.0f}"


def _signed(value: float) -> str:
    return f"{value:.2f}".replace("-", "−")


#: Of each measure: its words, and how its value is written.
_MEASURES: dict[str, tuple[str, Callable[[float], str]]] = {
    "coverage": ("covered of what all crops share", _percent),
    "balance": ("weight off the middle by", _percent),
    "light_balance": ("lighter", lambda v: f"{abs(v):.0f} at the {'left' if v > 0 else 'right'}" if abs(v) >= 0.5 else "neither side"),
    "symmetry": ("like its mirror image by", _percent),
    "evenness": ("spread, 1 as by chance, more is even", lambda v: f"{v:.2f}"),
    "unevenness": ("gaps vary by", _percent),
    "islands": ("things by themselves", _plain),
    "clusters": ("clusters", _plain),
    "hero_share": ("hero takes of it", _percent),
    "hero_clear": ("clear air round the hero", lambda v: f"{100 * v:.1f} % of the height"),
    "falling_away": ("sizes fall away from the hero, −1 wholly", _signed),
    "height_variety": ("heights vary by", _percent),
    "depth_planes": ("planes in depth", _plain),
    "hidden": ("hidden by other things", lambda v: f"{100 * v:.1f} %"),
    "leading_out": ("long things that lead out of the frame", _plain),
}


def measure_words(changed: Changed) -> str | None:
    """One line; None for what reads the same in both."""
    words, write = _MEASURES[changed.measure.key]
    before, after = ("none" if v is None else write(v) for v in (changed.before, changed.after))
    return None if before == after else f"{words} {after}, now {before}"


def weighed_words(measures: Iterable[Measure]) -> tuple[Weighed, ...]:
    """Every measure that there is something of."""
    found = []
    for m in measures:
        if m.value is not None:
            words, write = _MEASURES[m.key]
            found.append(Weighed(words, write(m.value), f"{m.what} ({m.source})"))
    return tuple(found)
