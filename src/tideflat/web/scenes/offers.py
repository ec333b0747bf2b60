"""What the stores offer a scene: props used lately, that answer the words, that go with it and are free on its day."""

from __future__ import annotations

from dataclasses import dataclass

from tideflat.core.colour.words import told_apart
from tideflat.core.evaluate import Picture
from tideflat.core.findings.room_beside import Room, room_beside
from tideflat.web.stores.catalogue import catalogue_of
from tideflat.web.stores.models import StoreProp
from tideflat.web.stores.queries import props_by_pk
from tideflat.web.stores.searching import Wish, search

from .models import Scene
from .services.reservations import taken_elsewhere

#: Props shown in the bench's drawer at once.
SHOWN_PROPS = 36
#: So many of those put on this table last come first, as long as nothing is typed.
LATELY = 3


@dataclass(frozen=True)
class Offer:
    """A prop of the stores, why it is offered, and how many are free on the scene's day (None when no day is set)."""

    row: StoreProp
    reason: str
    free: int | None


@dataclass(frozen=True)
class Offered:
    """offers: the best first. wants: (key, words, whether chosen) of what may come first. room: beside what is in hand, where that was
    asked. stored: how many props the studio has."""

    offers: list[Offer]
    wants: list[tuple[str, str, bool]]
    room: Room | None
    stored: int


def offered(row: Scene, picture: Picture, text: str, want: str, selected: str) -> Offered:
    """Props that hold every word of ``text``, those called so first. ``want``: ``goes`` for those that go with the scene first, ``fits``
    for those that fit beside what is in hand, ``#rrggbb`` for those near a colour of the palette, ``any``."""
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
    lately = _lately(picture) if want == "goes" and not text else []
    first = [k for name in lately for k in found.rows.tolist() if catalogue.name[k] == name][:LATELY]
    rows = [*first, *(k for k in found.rows[: SHOWN_PROPS + LATELY].tolist() if k not in first)][:SHOWN_PROPS]
    reasons = {int(catalogue.pk[i]): "put on this table lately" if i in first else found.reasons.get(int(i), "") for i in rows}
    props = props_by_pk(row.studio, [int(catalogue.pk[i]) for i in rows])
    taken = taken_elsewhere(row, [p.pk for p in props])
    offers = [Offer(p, reasons.get(p.pk, ""), max(0, p.count - taken.get(p.pk, 0)) if row.shoot_on else None) for p in props]
    return Offered(offers, [(key, words, key == want) for key, words in wants], room if want == "fits" else None, len(catalogue))


def _lately(picture: Picture) -> list[str]:
    """Names of what was put on the table last, each once."""
    scene = picture.scene
    return list(dict.fromkeys(scene.prop(p.prop).name for p in reversed(scene.placements)))[:LATELY]
