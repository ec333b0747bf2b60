"""What the stores offer a scene: props that go with it and are free on its day, supports that reach its camera."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db.models import Q, Sum

from tideflat.core.camera.view import view_of
from tideflat.web.accounts.models import Studio
from tideflat.web.stores.catalogue import catalogue_of
from tideflat.web.stores.finding import Wish, find
from tideflat.web.stores.models import StoreProp, StoreSupport
from tideflat.web.stores.queries import props_by_pk

from .models import Reservation, Scene
from .services.history import core_scene

#: Props shown in the bench's tray at once.
TRAY_PROPS = 36


@dataclass(frozen=True)
class Offer:
    """A prop of the stores, why it is offered, and how many are free on the scene's day (None when no day is set)."""

    row: StoreProp
    reason: str
    free: int | None


def store_tray(row: Scene, text: str, goes_with: bool) -> dict[str, Any]:
    """Props that hold every word of ``text``; with ``goes_with`` those that go with the scene first, each with the reason."""
    catalogue = catalogue_of(row.studio)
    found = find(catalogue, Wish(text=text), core_scene(row) if goes_with else None)
    rows = found.rows[:TRAY_PROPS]
    reasons = {int(catalogue.pk[i]): found.reasons.get(int(i), "") for i in rows}
    props = props_by_pk(row.studio, [int(catalogue.pk[i]) for i in rows])
    taken = taken_elsewhere(row.studio, row.shoot_on, row.pk, [p.pk for p in props]) if row.shoot_on else {}
    offers = [Offer(p, reasons.get(p.pk, ""), max(0, p.count - taken.get(p.pk, 0)) if row.shoot_on else None) for p in props]
    return {"offers": offers, "q": text, "goes": goes_with, "store_count": len(catalogue), "found_count": len(found.rows)}


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
