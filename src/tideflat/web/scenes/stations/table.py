"""The table: everything on it in words, and whether it has a hero."""

from __future__ import annotations

from typing import Any

from tideflat.core import model
from tideflat.core.composition.measures import measures
from tideflat.core.evaluate import Picture
from tideflat.core.units import format_length
from tideflat.core.weight import weigh
from tideflat.web.bridge.act_words import own_words
from tideflat.web.bridge.measure_words import weighed_words
from tideflat.web.bridge.scheme_drawn import scheme_drawn
from tideflat.web.bridge.scheme_words import SCHEME_WORDS

from ..own import own_keys
from .station import Look, Reading, Station

#: From this share of the budget on (core/weight.py) a person is told how much of it the scene takes.
TOLD_WEIGHT = 0.6

#: The list is laid out in so many columns across the drawer, none shorter than this while another is there.
COLUMNS, LEAST_ROWS = 3, 6


def _context(look: Look) -> dict[str, Any]:
    scene = look.picture.scene
    share = weigh(scene).share
    lines = [_line(look.picture, p, look.glance.unit) for p in scene.placements]
    rows = max(LEAST_ROWS, -(-len(lines) // COLUMNS))
    laid_by = scene.scheme
    return {
        "schemes": [(key, words) for key, words in SCHEME_WORDS.items() if key != "any"],
        "scheme_kind": laid_by.kind if isinstance(laid_by, model.Scheme) else "",
        "scheme_drawn": scheme_drawn(look.picture),
        "weighed": weighed_words(measures(look.picture)),
        "lists": [lines[k : k + rows] for k in range(0, len(lines), rows)],
        "weight": round(share * 100) if share >= TOLD_WEIGHT else None,
    }


def _line(picture: Picture, placement: model.Placement, unit: str) -> dict[str, Any]:
    thing = picture.things.get(placement.id)
    return {
        "id": placement.id,
        "name": picture.scene.prop(placement.prop).name,
        "role": placement.role,
        "x": format_length(placement.x, unit),
        "y": format_length(placement.y, unit),
        "own": own_words(list(own_keys(picture, placement.id))),
        "seen": f"{thing.visible_share * thing.inside_frame_share * 100:.0f} % seen" if thing else "left out here",
    }


def _reading(picture: Picture) -> Reading:
    heroes, count = picture.hero_ids(), len(picture.bodies)
    if heroes:
        return Reading(True, f"{count} things, hero: {picture.props[heroes[0]].name}")
    return Reading(False, f"{count} things, no hero yet" if count else "nothing on it yet")


STATION = Station(
    tray="things",
    template="scenes/fragments/tray_things.html",
    context=_context,
    rank=40,
    name="Table",
    reading=_reading,
    verbs=("bend", "scheme"),
)
