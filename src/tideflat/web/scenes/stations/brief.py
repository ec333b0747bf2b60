"""The brief: what was said, one leaning at a time, the references and what they have in common, the day and what is kept for it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from tideflat.core.camera.uses import USES
from tideflat.core.evaluate import Picture
from tideflat.core.model import LEANINGS, Brief, MustShow
from tideflat.core.palette.sources import ImageFacts, in_common
from tideflat.web.bridge.leaning_pictures import leaning_pictures

from ..models import Reference
from ..services.references import facts_from
from ..services.reservations import falls_short
from .station import Look, Reading, Station

#: Colours shown of all references together.
MOST_CHIPS = 7
POLES = {
    "hero_place": ("centred, surrounded", "off-centre, on a third"),
    "order": ("squared, parallel, even", "loose, turned, undone"),
    "edges": ("everything whole", "some run off the edge"),
    "spacing": ("airy, nothing touches", "gathered, slight overlaps"),
    "palette": ("muted, tonal", "one or more pops"),
    "shadow": ("open, filled, bright", "deep, negative fill"),
    "focus": ("all sharp", "hero sharp, rest falls away"),
    "likeness": ("props match", "props contrast"),
    "fullness": ("sparse", "abundant"),
}
#: What each leaning decides, as the question.
QUESTIONS = {
    "hero_place": "Where is the hero?",
    "order": "How do things lie?",
    "edges": "May things run off the edge?",
    "spacing": "How close do they stand?",
    "palette": "How do the colours sit?",
    "shadow": "How deep are the shadows?",
    "focus": "What is sharp?",
    "likeness": "How alike are the props?",
    "fullness": "How full is it?",
}


@dataclass(frozen=True)
class ReferenceShown:
    row: Reference
    facts: ImageFacts


def _context(look: Look) -> dict[str, Any]:
    row, picture = look.row, look.picture
    brief = picture.scene.brief
    references = [ReferenceShown(r, facts_from(r.facts)) for r in row.references.select_related("picture")]
    return {
        "brief": brief,
        "uses": USES,
        "must_show": "; ".join(item for item in brief.must_show if isinstance(item, str)),
        "features": [_feature_words(picture, item) for item in brief.must_show if isinstance(item, MustShow)],
        "tags": ", ".join(brief.tags),
        "leaning": leaning_asked(picture, look.asked.get("ask", "")[:20]),
        "references": references,
        "together": _together(references),
        "reserved": row.reservations.count(),
        "short": falls_short(row),
    }


def _feature_words(picture: Picture, item: MustShow) -> str:
    """A feature that must be seen, by the names of its thing and its own."""
    scene = picture.whole
    placed = scene.placement(item.placement)
    props = [scene.prop(placed.prop), *(scene.prop(p) for s in scene.setups for i, p in s.swap if i == placed.id)]
    name = next((f.name for p in props for f in p.features if f.id == item.feature), item.feature)
    return f"the {name} of the {props[0].name}"


def leaning_asked(picture: Picture, asked: str) -> dict[str, Any]:
    """One leaning as a question with its two pictures, and which come before and after it."""
    values = dict(picture.scene.brief.leanings)
    names = list(LEANINGS)
    name = asked if asked in values else next((n for n in names if not values.get(n)), names[0])
    at = names.index(name)
    first, second = leaning_pictures(name)
    return {
        "key": name,
        "question": QUESTIONS[name],
        "value": values.get(name, 0.0),
        "first": POLES[name][0],
        "second": POLES[name][1],
        "first_picture": first,
        "second_picture": second,
        "before": names[at - 1],
        "after": names[(at + 1) % len(names)],
        "number": at + 1,
        "count": len(names),
        "settled": sum(1 for v in values.values() if v),
    }


def _together(references: list[ReferenceShown]) -> ImageFacts | None:
    """What the references have in common: colours with shares, and the means of key, contrast and warmth."""
    if not references:
        return None
    count = len(references)
    return ImageFacts(
        in_common([r.facts.colours for r in references])[:MOST_CHIPS],
        sum(r.facts.key for r in references) / count,
        sum(r.facts.contrast for r in references) / count,
        sum(r.facts.warm for r in references) / count,
    )


def brief_words(brief: Brief) -> str:
    """What it is for, or what is still to be said."""
    if not brief.story.strip():
        return "one sentence of story"
    return f"for {brief.use}" if brief.use else "story told"


def _reading(picture: Picture) -> Reading:
    brief = picture.scene.brief
    return Reading(bool(brief.story.strip()), brief_words(brief))


STATION = Station(
    tray="brief",
    template="scenes/fragments/tray_brief.html",
    context=_context,
    rank=10,
    name="Brief",
    reading=_reading,
    verbs=("begin", "brief", "leaning", "palette-references", "title"),
)
