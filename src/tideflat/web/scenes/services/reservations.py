"""Keeping props for a scene on its day, so that two shoots do not count on the same six glasses."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date

from django.db import transaction

from tideflat.core import model
from tideflat.web.accounts.models import Studio
from tideflat.web.stores.models import StoreProp

from ..models import Reservation, Scene
from .history import core_scene


@dataclass(frozen=True)
class Short:
    """More are on the table than are free on the day. taken_by: titles of the scenes that have them."""

    prop: StoreProp
    wanted: int
    free: int
    taken_by: tuple[str, ...]


@transaction.atomic
def set_day(studio: Studio, scene_id: int, day: date | None) -> Scene:
    """The day the scene is shot; what is reserved goes along with it, or is let go without one."""
    row = Scene.objects.get(pk=scene_id, studio=studio)
    row.shoot_on = day
    row.save(update_fields=["shoot_on"])
    if day is None:
        row.reservations.all().delete()
    else:
        row.reservations.update(day=day)
    return row


@transaction.atomic
def reserve_table(studio: Studio, scene_id: int) -> tuple[int, list[Short]]:
    """Reserve what stands on the table, as many as are free; returns how many kinds of thing, and what falls short.

    What is no longer on the table is let go. Without a day nothing is reserved.
    """
    row = Scene.objects.get(pk=scene_id, studio=studio)
    if row.shoot_on is None:
        return 0, []
    wanted = on_table(core_scene(row))
    props = {p.key: p for p in StoreProp.objects.filter(studio=studio, key__in=wanted)}
    row.reservations.exclude(prop__in=props.values()).delete()
    short = {s.prop.pk: s for s in falls_short(row)}
    for key, prop in props.items():
        count = min(wanted[key], short[prop.pk].free) if prop.pk in short else wanted[key]
        if count > 0:
            Reservation.objects.update_or_create(scene=row, prop=prop, defaults={"day": row.shoot_on, "count": count})
        else:
            row.reservations.filter(prop=prop).delete()
    return row.reservations.count(), list(short.values())


def falls_short(row: Scene) -> list[Short]:
    """What the table wants more of than is free on the scene's day."""
    if row.shoot_on is None:
        return []
    wanted = on_table(core_scene(row))
    found = []
    for prop in StoreProp.objects.filter(studio=row.studio, key__in=wanted):
        others = Reservation.objects.filter(prop=prop, day=row.shoot_on).exclude(scene=row).select_related("scene")
        free = max(0, prop.count - sum(r.count for r in others))
        if free < wanted[prop.key]:
            found.append(Short(prop, wanted[prop.key], free, tuple(r.scene.title for r in others)))
    return found


def on_table(scene: model.Scene) -> Counter[str]:
    """How many of each prop stand on the table, by the prop's key in the stores."""
    return Counter(p.prop for p in scene.placements)
