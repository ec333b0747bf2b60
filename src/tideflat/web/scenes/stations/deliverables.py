"""Deliverables, the other side of the frame: what is asked for, and how the camera is best held for it."""

from __future__ import annotations

from typing import Any

from tideflat.core.camera.orientation import ways_to_hold
from tideflat.core.camera.uses import FORMS
from tideflat.core.evaluate import Picture
from tideflat.core.model import SIDES
from tideflat.web.bridge.crops_told import crops_told

from .station import Look, Station


def _context(look: Look) -> dict[str, Any]:
    return {"held_ways": held_words(look.picture), "crops_told": crops_told(look.picture), "forms": FORMS, "sides": SIDES}


def held_words(picture: Picture) -> dict[str, Any] | None:
    """Which way of holding the camera serves all deliverables best, and what the present way costs."""
    if not picture.setup.deliverables:
        return None
    best, other = ways_to_hold(picture.setup.deliverables, picture.setup.camera)
    now = best if best.orientation == picture.setup.camera.orientation else other
    return {"best": best, "now": now, "is_best": now is best or abs(best.least - other.least) < 0.02}


STATION = Station(
    tray="deliverables",
    template="scenes/fragments/tray_deliverables.html",
    context=_context,
    verbs=("camera", "deliverable", "deliverable-remove", "sequence", "series"),
)
