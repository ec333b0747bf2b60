"""What the stores offer a scene: props that go with it and are free on its day."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.units import format_length
from tideflat.web.stores.models import StoreProp

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
    place = exchanged(look.picture, asked.get("place", "")[:64])
    if place is not None:
        sides = look.picture.props[place["id"]].shape.sides()
        found = replace(found, offers=[replace(o, reason=_different(o.reason, o.row, sides, look.glance.unit)) for o in found.offers])
    return {"found": found, "q": text, "place": place}


def _different(reason: str, row: StoreProp, sides: tuple[float, float, float], unit: str) -> str:
    """How the prop differs in size from the one whose place it is to take."""
    wide, high = max(row.width_mm, row.depth_mm) - max(sides[:2]), row.height_mm - sides[2]
    said = [
        f"{format_length(abs(by), unit)} {more if by > 0 else less}"
        for by, more, less in ((wide, "wider", "narrower"), (high, "higher", "lower"))
        if abs(by) >= _TOLD_MM
    ]
    return "; ".join(filter(None, (reason, ", ".join(said) or "as large")))


#: A difference that nobody sees is not told, mm.
_TOLD_MM = 0.5


STATION = Station(tray="store", template="scenes/fragments/tray_store.html", context=_context, verbs=("add", "add-found", "again", "swap"))
