"""What a studio's props are like as a whole: what there is plenty of, and what is missing when a story asks for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from tideflat.core.colour.spaces import oklch_of
from tideflat.core.colour.words import hue_word
from tideflat.core.facts.practice import MERGE
from tideflat.core.model import Prop, Surface
from tideflat.core.palette.seen import colour_distance
from tideflat.core.remember import counted
from tideflat.web.accounts.models import Studio

from .catalogue import Catalogue
from .models import StoreProp

_ROUND = ("cylinder", "bowl", "bottle", "cone", "sphere", "ellipse")
_STRAIGHT = ("box", "rod")
_FAMILIES = ("red", "orange", "ochre", "yellow", "green", "sea green", "blue", "violet", "plum", "pink")
#: Less chroma than this is no colour one would ask for by name.
_COLOURFUL = 0.05
#: Things that go back within so many days are told of.
SOON_DAYS = 10


@dataclass(frozen=True)
class Balance:
    """Shares in per cent. families: (name, how many, a colour of it) of every colour family, missing ones with 0 and no colour."""

    count: int
    round: int
    straight: int
    matte: int
    dark: int
    light: int
    families: tuple[tuple[str, int, str], ...]

    @property
    def missing(self) -> tuple[str, ...]:
        return tuple(name for name, count, _ in self.families if count == 0)


@counted(8)  # a catalogue never changes: a change makes another
def balance_of(catalogue: Catalogue) -> Balance | None:
    """None when there is nothing."""
    count = len(catalogue)
    if count == 0:
        return None
    light = catalogue.lab[:, 0, 0]
    families: dict[str, list[str]] = {name: [] for name in _FAMILIES}
    for hexes in catalogue.hexes:
        family = _family(hexes[0]) if hexes else ""
        if family:
            families[family].append(hexes[0])
    return Balance(
        count,
        _per_cent(np.isin(catalogue.kind, _ROUND)),
        _per_cent(np.isin(catalogue.kind, _STRAIGHT)),
        _per_cent(catalogue.finish == "matte"),
        _per_cent(light < 35),
        _per_cent(light > 80),
        tuple((name, len(found), found[len(found) // 2] if found else "") for name, found in families.items()),
    )


@counted(65536)
def _family(colour: str) -> str:
    _, chroma, hue = oklch_of(colour)
    return hue_word(hue) if chroma >= _COLOURFUL else ""


def _per_cent(which: np.ndarray) -> int:
    return round(100 * float(which.mean()))


def going_back(studio: Studio, today: date) -> list[StoreProp]:
    """Borrowed things that are due within SOON_DAYS, or overdue, the earliest first."""
    due = StoreProp.objects.filter(studio=studio, return_on__isnull=False, return_on__lte=today + timedelta(days=SOON_DAYS))
    return list(due.order_by("return_on", "name")[:12])


@dataclass(frozen=True)
class OnSurface:
    """delta_e: CIEDE2000 between a prop and a surface; is_clear: whether it stands out from it."""

    surface: Surface
    delta_e: float
    is_clear: bool


def on_surfaces(prop: Prop, surfaces: Sequence[Surface]) -> list[OnSurface]:
    """How a prop would stand out from each surface, most plainly first."""
    found = [(s, colour_distance(prop.colours, s.colours)) for s in surfaces]
    return [OnSurface(s, d, d >= MERGE.value) for s, d in sorted(found, key=lambda pair: -pair[1])]
