"""What the shelf shows: every scene as a small true frame, with what stands in its way, or with its fault."""

from __future__ import annotations

import logging
import re
import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import Any

from django.db.models import F, Q, QuerySet

from tideflat.core.evaluate import Picture
from tideflat.core.findings.merging import meant_of
from tideflat.core.findings.registry import findings
from tideflat.core.weight import MOST_SHOWN, weigh
from tideflat.web.accounts.models import Studio
from tideflat.web.bridge.drawing import frame_drawing
from tideflat.web.bridge.finding_words import finding_words
from tideflat.web.bridge.readings import frame_caption

from .models import Scene
from .services.history import UnreadableScene, core_scene

log = logging.getLogger("tideflat.scenes")


@dataclass(frozen=True)
class ShelfScene:
    """A scene as it lies on the shelf."""

    row: Scene
    frame: dict[str, Any] | None = None
    caption: str = ""
    story: str = ""
    stops: int = 0
    mends: int = 0
    first: str = ""
    #: Why it cannot be shown; and whether it is drawn by a request of its own, as the page has drawn enough already.
    fault: str = ""
    is_waiting: bool = False


#: How the shelf can be ordered: the words for it, and the fields.
SORTS: dict[str, tuple[str, tuple[str, ...]]] = {
    "changed": ("worked on last", ("-changed_at",)),
    "title": ("by name", ("title", "-changed_at")),
    "day": ("by day of the shoot", ("shoot_on", "-changed_at")),
    "begun": ("begun last", ("-created_at",)),
}


@dataclass(frozen=True)
class ShelfWish:
    """What is looked for on the shelf, and in which order."""

    text: str = ""
    sort: str = "changed"

    @staticmethod
    def of(text: str, sort: str) -> ShelfWish:
        return ShelfWish(" ".join(text.split())[:80], sort if sort in SORTS else "changed")

    def rows(self, studio: Studio) -> QuerySet[Scene]:
        """Those whose name or sentence holds every word; without a day they come last by day."""
        rows = Scene.objects.filter(studio=studio, put_away_at=None)
        for word in self.text.split()[:6]:
            # in what the document calls things and tells, never in its keys
            said = r'"(name|title|story)": ?"[^"]*' + re.escape(word)
            rows = rows.filter(Q(title__icontains=word) | Q(document__iregex=said))
        order: list[Any] = [F("shoot_on").asc(nulls_last=True) if f == "shoot_on" else f for f in SORTS[self.sort][1]]
        return rows.order_by(*order)


def on_the_shelf(studio: Studio) -> int:
    """How many scenes lie there."""
    return Scene.objects.filter(studio=studio, put_away_at=None).count()


_ANYTHING = ShelfWish()


def shelf(studio: Studio, unit: str, wish: ShelfWish = _ANYTHING) -> list[ShelfScene]:
    """The studio's scenes, in the order asked for, each as a true small frame with what stands in its way.

    What is drawn anew for one page is bounded by its weight; the scenes past that wait, to be asked for one by one (``on_shelf``).
    """
    found = []
    points = 0.0
    for row in wish.rows(studio):
        if _is_drawn(row, unit):
            found.append(on_shelf(row, unit))
            continue
        try:
            points += weigh(core_scene(row)).shown
        except UnreadableScene as error:
            found.append(ShelfScene(row, fault=error.fault))
            continue
        found.append(ShelfScene(row, is_waiting=True) if points > MOST_SHOWN else on_shelf(row, unit))
    return found


def put_away(studio: Studio) -> QuerySet[Scene]:
    """Scenes that were taken off the shelf, the latest first."""
    return Scene.objects.filter(studio=studio).exclude(put_away_at=None).order_by("-put_away_at")


_Card = tuple[dict[str, Any], str, str, int, int, str]
#: Cards that were drawn, by everything they are drawn from; the oldest go first.
_cards: OrderedDict[tuple[str, int, str], _Card] = OrderedDict()
_cards_lock = threading.Lock()
_MOST_CARDS = 128


def _card_key(row: Scene, unit: str) -> tuple[str, int, str]:
    return row.document, row.pk, unit


def _is_drawn(row: Scene, unit: str) -> bool:
    with _cards_lock:
        return _card_key(row, unit) in _cards


def on_shelf(row: Scene, unit: str) -> ShelfScene:
    """One scene as it lies on the shelf; with its fault where it cannot be read or drawn."""
    key = _card_key(row, unit)
    with _cards_lock:
        card = _cards.get(key)
        if card is not None:
            _cards.move_to_end(key)
    if card is None:
        try:
            card = _card(row, unit)
        except UnreadableScene as error:
            return ShelfScene(row, fault=error.fault)
        except Exception:  # the one place that catches everything: no scene, whatever is wrong with it, may take the shelf down
            log.exception("scene %s cannot be drawn", row.pk)
            return ShelfScene(row, fault="it cannot be drawn, and the fault is ours")
        with _cards_lock:
            _cards[key] = card
            while len(_cards) > _MOST_CARDS:
                _cards.popitem(last=False)
    return ShelfScene(row, *card)


def _card(row: Scene, unit: str) -> _Card:
    scene = core_scene(row)
    picture = Picture(scene, scene.setups[0])
    left = [f for f in findings(picture) if meant_of(picture, f.code, f.placements) is None]
    first = finding_words(picture, left[0], unit)[0] if left else ""
    stops, mends = (sum(f.severity == severity for f in left) for severity in ("stop", "mend"))
    return frame_drawing(picture, prefix=f"s{row.pk}", live=False), frame_caption(picture.setup), scene.brief.story, stops, mends, first
