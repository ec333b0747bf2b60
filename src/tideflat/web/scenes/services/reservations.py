"""Keeping props for a scene on its day, so that two shoots do not count on the same six glasses."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date

from django.db import transaction
from django.db.models import QuerySet, Sum

from tideflat.core.table.ids import stem_of
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
    wanted = _wanted(row)
    row.reservations.exclude(prop__in=[prop for prop, _ in wanted]).delete()
    short = falls_short(row)
    free = {s.prop.pk: s.free for s in short}
    for prop, count in wanted:
        kept = min(count, free.get(prop.pk, count))
        if kept > 0:
            Reservation.objects.update_or_create(scene=row, prop=prop, defaults={"day": row.shoot_on, "count": kept})
        else:
            row.reservations.filter(prop=prop).delete()
    return row.reservations.count(), short


def falls_short(row: Scene) -> list[Short]:
    """What the table wants more of than is free on the scene's day."""
    if row.shoot_on is None:
        return []
    wanted = _wanted(row)
    taken = taken_elsewhere(row, [prop.pk for prop, _ in wanted])
    lacking = [(prop, count, max(0, prop.count - taken.get(prop.pk, 0))) for prop, count in wanted]
    lacking = [(prop, count, free) for prop, count, free in lacking if free < count]
    who: dict[int, list[str]] = {}
    for reservation in _of_others(row, row.shoot_on, [prop.pk for prop, _, _ in lacking]).select_related("scene"):
        who.setdefault(reservation.prop_id, []).append(reservation.scene.title)
    return [Short(prop, count, free, tuple(who.get(prop.pk, ()))) for prop, count, free in lacking]


def taken_elsewhere(row: Scene, prop_pks: list[int]) -> dict[int, int]:
    """How many of each prop other scenes have reserved for the scene's day; nothing without a day."""
    if row.shoot_on is None:
        return {}
    return dict(_of_others(row, row.shoot_on, prop_pks).values_list("prop_id").annotate(Sum("count")).order_by())


def _of_others(row: Scene, day: date, prop_pks: list[int]) -> QuerySet[Reservation]:
    return Reservation.objects.filter(scene__studio_id=row.studio_id, day=day, prop_id__in=prop_pks).exclude(scene=row)


def _wanted(row: Scene) -> list[tuple[StoreProp, int]]:
    """Props of the stores that stand on the table, and how many of each.

    A scene keeps its own copy of a prop, under the prop's key; a second copy, taken after the prop was changed, has a number after it.
    """
    scene = core_scene(row)
    # A set-up may have another prop in a place: it is wanted beside the shared one, but no more of it than stand there at once.
    tables = [Counter(p.prop for p in seen.placements) for seen in (scene, *(scene.seen_in(s) for s in scene.setups))]
    ids = [prop for prop, count in _most(tables).items() for _ in range(count)]
    known = {p.key: p for p in StoreProp.objects.filter(studio=row.studio, key__in={*ids, *(stem_of(i) for i in ids)})}
    counted = Counter(i if i in known else stem_of(i) for i in ids)
    return [(known[key], count) for key, count in counted.items() if key in known]


def _most(tables: list[Counter[str]]) -> Counter[str]:
    most: Counter[str] = Counter()
    for table in tables:
        most |= table
    return most
