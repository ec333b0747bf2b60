"""What the stores offer a scene: props that go with it and are free on its day."""

from __future__ import annotations

from typing import Any

from tideflat.core.evaluate import Picture

from ..offers import offered
from .station import Look, Station


def exchanged(picture: Picture, placement_id: str) -> dict[str, str] | None:
    """The thing that another is to take the place of, by id and name; None where it is not in the picture."""
    prop = picture.props.get(placement_id)
    return None if prop is None else {"id": placement_id, "name": prop.name}


def _context(look: Look) -> dict[str, Any]:
    asked = look.asked
    text = asked.get("q", "")[:80]
    found = offered(look.row, look.picture, text, asked.get("want", "goes")[:10], look.glance.selected)
    return {"found": found, "q": text, "place": exchanged(look.picture, asked.get("place", "")[:64])}


STATION = Station(tray="store", template="scenes/fragments/tray_store.html", context=_context, verbs=("add", "add-found", "again", "swap"))
