"""What the stores offer a scene: props that go with it and are free on its day, supports that reach its camera."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db.models import Q, Sum

from tideflat.core.camera.view import view_of
from tideflat.core.colour.words import colour_words
from tideflat.core.facts.practice import GAP_TIGHT
from tideflat.web.accounts.models import Studio
from tideflat.web.stores.catalogue import catalogue_of
from tideflat.web.stores.finding import Wish, find
from tideflat.web.stores.models import StoreProp, StoreSupport
from tideflat.web.stores.queries import props_by_pk

from .models import Reservation, Scene
from .queries import picture_of
from .services.history import core_scene

#: Props shown in the bench's tray at once.
TRAY_PROPS = 36


@dataclass(frozen=True)
class Offer:
    """A prop of the stores, why it is offered, and how many are free on the scene's day (None when no day is set)."""

    row: StoreProp
    reason: str
    free: int | None


def store_tray(row: Scene, text: str, want: str, selected: str, setup_name: str) -> dict[str, Any]:
    """Props that hold every word of ``text``. ``want``: ``goes`` for those that go with the scene first, ``fits`` for those that fit
    beside what is in hand, ``#rrggbb`` for those near a colour, ``any``."""
    catalogue = catalogue_of(row.studio)
    scene = core_scene(row)
    gap = gap_beside(row, selected, setup_name) if selected else None
    colour = want if want.startswith("#") and any(want == c.hex for c in (scene.palette.colours if scene.palette else ())) else ""
    fits = gap is not None and want == "fits"
    wish = Wish(text=text, colour=colour, most_mm=max(0.0, gap.room_mm) if gap is not None and fits else None)
    found = find(catalogue, wish, None if colour or want == "any" else scene)
    rows = found.rows[:TRAY_PROPS]
    reasons = {int(catalogue.pk[i]): found.reasons.get(int(i), "") for i in rows}
    props = props_by_pk(row.studio, [int(catalogue.pk[i]) for i in rows])
    taken = taken_elsewhere(row.studio, row.shoot_on, row.pk, [p.pk for p in props]) if row.shoot_on else {}
    offers = [Offer(p, reasons.get(p.pk, ""), max(0, p.count - taken.get(p.pk, 0)) if row.shoot_on else None) for p in props]
    wants = [("goes", "what goes with this scene"), ("any", "everything, by name")]
    wants += [(c.hex, f"near the palette's {colour_words(c.hex)}") for c in (scene.palette.colours if scene.palette else ())]
    if gap is not None:
        wants.append(("fits", f"what fits between {gap.one} and {gap.other}"))
    return {
        "offers": offers,
        "q": text,
        "wants": [(key, words, key == (colour or ("fits" if fits else want))) for key, words in wants],
        "gap": gap if fits else None,
        "store_count": len(catalogue),
    }


@dataclass(frozen=True)
class Gap:
    """The clear table between the thing in hand and its nearest neighbour, mm; room_mm: what may stand there without crowding either."""

    one: str
    other: str
    mm: float
    room_mm: float


def gap_beside(row: Scene, selected: str, setup_name: str) -> Gap | None:
    """None when nothing is in hand, or it stands alone."""
    picture = picture_of(row, setup_name)
    body = picture.bodies.get(selected)
    if body is None:
        return None
    related = {selected, *picture.scene.carried_by(selected), picture.scene.placement(selected).on}
    others = [b for i, b in picture.bodies.items() if i not in related and not b.is_soft and selected not in picture.scene.carried_by(i)]
    if not others:
        return None
    nearest = min(others, key=lambda b: b.footprint.distance(body.footprint))
    gap = float(nearest.footprint.distance(body.footprint))
    return Gap(picture.props[selected].name, picture.props[nearest.id].name, gap, gap - 2 * GAP_TIGHT.value)


def taken_elsewhere(studio: Studio, day: date, scene_id: int, prop_pks: list[int]) -> dict[int, int]:
    """How many of each prop other scenes have reserved for the day."""
    others = Reservation.objects.filter(scene__studio=studio, day=day, prop_id__in=prop_pks).exclude(scene_id=scene_id)
    return dict(others.values_list("prop_id").annotate(Sum("count")).order_by())


def supports_for(row: Scene, setup_name: str) -> dict[str, Any]:
    """Which of the studio's supports bring the lens to where the set-up has it, and look the way it does."""
    scene = core_scene(row)
    setup = next((s for s in scene.setups if s.name == setup_name), scene.setups[0])
    height = float(view_of(setup.camera).position[2]) + scene.surface.height_above_floor
    owned = StoreSupport.objects.filter(studio=row.studio)
    fits = owned.filter(lowest_mm__lte=height, highest_mm__gte=height)
    if setup.camera.elevation > 70:
        fits = fits.filter(Q(inverts=True))
    return {"height": height, "fits": list(fits), "owned": owned.count(), "overhead": setup.camera.elevation > 70}
