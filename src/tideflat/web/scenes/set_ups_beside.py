"""Set-ups of a scene beside each other, with what it costs to go from one to the next; and one laid over another."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from tideflat.core.arrange.compare import compare
from tideflat.core.evaluate import Picture
from tideflat.core.frame.between import between, loops
from tideflat.core.frame.series import series_of
from tideflat.web.bridge.between_words import between_words, series_words
from tideflat.web.bridge.compare_words import compare_words
from tideflat.web.bridge.crops_drawn import crop_view
from tideflat.web.bridge.drawing import frame_drawing, table_drawing
from tideflat.web.bridge.readings import frame_caption

from .models import Scene
from .queries import picture_of
from .versions import Laid

#: More set-ups than this are not drawn on one page.
MOST_DRAWN = 12


@dataclass(frozen=True)
class Shown:
    """One set-up. cost: lines of what it takes to come here from the one before; none for the first."""

    name: str
    caption: str
    frame: dict[str, Any]
    crops: list[dict[str, Any]]
    cost: tuple[str, ...]
    is_first: bool


def beside(row: Scene, first: str, unit: str) -> tuple[list[Shown], list[list[str]], str]:
    """(the set-ups in their order, runs of them that can be played as a loop, how alike they are framed)."""
    now = picture_of(row, first)
    pictures = [Picture(now.whole, s, now.skins) for s in now.whole.setups[:MOST_DRAWN]]
    shown = []
    for k, picture in enumerate(pictures):
        frame = frame_drawing(picture, prefix=f"s{k}", live=False)
        crops = [crop_view(c, frame["sheet"], False) for c in picture.crops]
        cost = between_words(between(pictures[k - 1], picture), unit) if k else ()
        shown.append(Shown(picture.setup.name, frame_caption(picture.setup), frame, crops, cost, k == 0))
    return shown, [list(run) for run in loops(pictures)], series_words(series_of(pictures), unit)


def laid_over(row: Scene, name: str, setup: str, unit: str) -> Laid | None:
    """Another set-up as both views show it, and what it has otherwise; None where there is none of that name."""
    now = picture_of(row, setup)
    there = next((s for s in now.whole.setups if s.name == name), None)
    if there is None:
        return None
    picture = Picture(now.whole, there, now.skins)
    told = compare_words(compare(now, picture), picture, unit)
    return Laid(name, frame_drawing(picture, prefix="w", live=False), table_drawing(picture, prefix="x", live=False), told)
