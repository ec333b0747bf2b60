"""What the stores offer a scene: props that go with it and are free on its day."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from tideflat.core.colour.words import told_apart
from tideflat.core.evaluate import Picture
from tideflat.core.findings.room_beside import room_beside
from tideflat.web.stores.catalogue import catalogue_of
from tideflat.web.stores.models import StoreProp
from tideflat.web.stores.queries import props_by_pk
from tideflat.web.stores.searching import Wish, search

from ..models import Scene
from ..services.reservations import taken_elsewhere
from .station import Look, Station

#: Props shown in the bench's tray at once.
TRAY_PROPS = 36


@dataclass(frozen=True)
class Offer:
    """A prop of the stores, why it is offered, and how many are free on the scene's day (None when no day is set)."""

    row: StoreProp
    reason: str
    free: int | None


def store_tray(row: Scene, picture: Picture, text: str, want: str, selected: str) -> dict[str, Any]:
    """Props that hold every word of ``text``. ``want``: ``goes`` for those that go with the scene first, ``fits`` for those that fit
    beside what is in hand, ``#rrggbb`` for those near a colour of the palette, ``any``."""
    catalogue, scene = catalogue_of(row.studio), picture.scene
    colours = [c.hex for c in scene.palette.colours] if scene.palette else []
    room = room_beside(picture, selected)
    wants = [("goes", "what goes with this scene"), ("any", "everything, by name")]
    wants += [(h, f"near the palette's {words}") for h, words in zip(colours, told_apart(colours), strict=True)]
    if room is not None:
        wants.append(("fits", f"what fits between {picture.props[selected].name} and {picture.props[room.neighbour].name}"))
    if want not in dict(wants):
        want = "goes"
    wish = Wish(text=text, colour=want if want in colours else "", most_mm=room.fits_mm if room is not None and want == "fits" else None)
    found = search(catalogue, wish, scene if want in ("goes", "fits") else None)
    rows = found.rows[:TRAY_PROPS]
    reasons = {int(catalogue.pk[i]): found.reasons.get(int(i), "") for i in rows}
    props = props_by_pk(row.studio, [int(catalogue.pk[i]) for i in rows])
    taken = taken_elsewhere(row, [p.pk for p in props])
    offers = [Offer(p, reasons.get(p.pk, ""), max(0, p.count - taken.get(p.pk, 0)) if row.shoot_on else None) for p in props]
    return {
        "offers": offers,
        "q": text,
        "wants": [(key, words, key == want) for key, words in wants],
        "room": room if want == "fits" else None,
        "store_count": len(catalogue),
    }


def exchanged(picture: Picture, placement_id: str) -> dict[str, str] | None:
    """The thing that another is to take the place of, by id and name; None where it is not in the picture."""
    prop = picture.props.get(placement_id)
    return None if prop is None else {"id": placement_id, "name": prop.name}


def _context(look: Look) -> dict[str, Any]:
    asked = look.asked
    offers = store_tray(look.row, look.picture, asked.get("q", "")[:80], asked.get("want", "goes")[:10], look.glance.selected)
    return {**offers, "place": exchanged(look.picture, asked.get("place", "")[:64])}


STATION = Station(tray="store", template="scenes/fragments/tray_store.html", context=_context, verbs=("add", "swap"))
