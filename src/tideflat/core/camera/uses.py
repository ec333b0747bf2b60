"""What pictures are for, and the shapes that are usually asked then. Common practice, no source; pixels are typical, from memory."""

from __future__ import annotations

from dataclasses import dataclass

from ..model import CopySpace, Deliverable


@dataclass(frozen=True, slots=True)
class Use:
    """key: as kept; words: as asked; wanted: the deliverables it usually means."""

    key: str
    words: str
    wanted: tuple[Deliverable, ...]


@dataclass(frozen=True, slots=True)
class Form:
    """A shape in which pictures are asked for: the name a deliverable of it begins with, its ratio, and its words."""

    name: str
    ratio: str
    words: str


#: Every shape that is offered.
FORMS: tuple[Form, ...] = (
    Form("square", "1:1", "square, 1:1"),
    Form("feed", "4:5", "upright, 4:5"),
    Form("story", "9:16", "tall, 9:16"),
    Form("banner", "16:9", "wide, 16:9"),
    Form("strip", "2:1", "very wide, 2:1"),
    Form("whole", "3:2", "as the sensor, 3:2"),
)
_MIDDLE = (0.5, 0.5)
USES: tuple[Use, ...] = (
    Use("site banner", "the top of a site, with room for words", (Deliverable("banner", "16:9", (1920, 1080), _MIDDLE, 1.0, CopySpace("right", 0.3)),)),
    Use("feed", "a feed, square and upright", (Deliverable("square", "1:1", (1080, 1080)), Deliverable("upright", "4:5", (1080, 1350)))),
    Use("story", "a tall story on a phone", (Deliverable("story", "9:16", (1080, 1920), _MIDDLE, 1.0, CopySpace("top", 0.2)),)),
    Use("catalogue", "a catalogue, plain and whole", (Deliverable("catalogue", "1:1", (2000, 2000)),)),
    Use("menu", "a printed menu or card", (Deliverable("card", "3:2", (1800, 1200), _MIDDLE, 1.0, CopySpace("left", 0.25)),)),
    Use("campaign", "a campaign, in several shapes", (
        Deliverable("banner", "16:9", (1920, 1080), _MIDDLE, 1.0, CopySpace("right", 0.25)),
        Deliverable("upright", "4:5", (1080, 1350)), Deliverable("story", "9:16", (1080, 1920)))),
    Use("close detail", "a detail, seen close", (Deliverable("detail", "4:5", (1600, 2000)),)),
)  # fmt: skip


def use_of(key: str) -> Use | None:
    """The use with this key; None for one in a person's own words."""
    return next((use for use in USES if use.key == key), None)
