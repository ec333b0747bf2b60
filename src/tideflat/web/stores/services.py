"""Acts on the stores. Each is one transaction, and moves the stores' revision on, so that what is kept in memory follows."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Sequence
from datetime import timedelta
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import BigIntegerField, F, Value
from django.db.models.functions import Greatest
from django.utils import timezone

from tideflat.core.errors import FieldError
from tideflat.core.formats.kit_reader import starter_kit
from tideflat.core.formats.prop_table import PropRecord, slug
from tideflat.core.formats.scene_writer import prop_value
from tideflat.core.model import Readout
from tideflat.core.shapes.shape import extent_mm
from tideflat.web.accounts.models import Studio

from .models import (
    CameraBody,
    StoreBackdrop,
    StoreCard,
    StoreConverter,
    StoreImage,
    StoreLens,
    StoreLight,
    StoreProp,
    StoresState,
    StoreSupport,
    StoreSurface,
    WaitingTable,
)
from .queries import record_of
from .starter import BACKDROPS, CARDS, LIGHTS, SURFACES, surface_colours
from .starter_props import PROPS
from .starter_skins import entries_of_prop, entries_of_surface, manifest, picture_bytes, skin_of_entry

#: How many props one act of bulk may change.
MOST_AT_ONCE = 2000


def next_stamp(studio: Studio) -> int:
    """The stores' next revision; to be called inside the transaction that changes props.

    It is the time in microseconds, or one more than the last: a number that a restored database can never have for other props.
    """
    StoresState.objects.get_or_create(studio=studio)
    now = Value(time.time_ns() // 1000, output_field=BigIntegerField())
    StoresState.objects.filter(studio=studio).update(revision=Greatest(F("revision") + 1, now))
    return StoresState.objects.get(studio=studio).revision


def columns_of(record: PropRecord) -> dict[str, Any]:
    """The row's columns for a prop with all that is kept of it."""
    value = prop_value(record.prop)
    wide, deep, high = extent_mm(record.prop.shape)
    return {
        "name": value["name"],
        "shape": value["shape"],
        "colours": value["colours"],
        "finish": value["finish"],
        "texture": value["texture"],
        "material": value["material"],
        "tags": value["tags"],
        "skins": value["skins"],
        "usual_role": record.role,
        "count": record.count,
        "place": record.place,
        "lender": record.lender,
        "return_on": record.return_on,
        "cautions": list(record.cautions),
        "notes": record.notes,
        "size_source": record.size_source,
        "width_mm": wide,
        "depth_mm": deep,
        "height_mm": high,
    }


@transaction.atomic
def keep_prop(studio: Studio, record: PropRecord, pk: int | None = None) -> StoreProp:
    """A new prop, its key made free; or the prop ``pk`` changed, its key kept. Raises StoreProp.DoesNotExist outside the studio."""
    stamp = next_stamp(studio)
    if pk is None:
        row = StoreProp(studio=studio, key=free_key(studio, record.prop.id))
    else:
        row = StoreProp.objects.get(pk=pk, studio=studio)
    for name, value in columns_of(record).items():
        setattr(row, name, value)
    row.stamp = stamp
    row.save()
    return row


def free_key(studio: Studio, wish: str) -> str:
    """``wish``, or with the first number that makes it free in the studio."""
    stem = slug(wish)[:52] or "prop"
    taken = set(StoreProp.objects.filter(studio=studio, key__startswith=stem).values_list("key", flat=True))
    if stem not in taken:
        return stem
    return next(f"{stem}-{n}" for n in range(2, 100_000) if f"{stem}-{n}" not in taken)


@transaction.atomic
def remove_props(studio: Studio, pks: Iterable[int]) -> int:
    """Out of the stores; scenes keep their own copies. Returns how many."""
    next_stamp(studio)
    count, _ = StoreProp.objects.filter(studio=studio, pk__in=list(pks)).delete()
    return count


#: What can be changed for many at once: how the field reads a typed text.
BULK: dict[str, Callable[[StoreProp, Any], None]] = {
    "place": lambda row, v: setattr(row, "place", v),
    "lender": lambda row, v: setattr(row, "lender", v),
    "return_on": lambda row, v: setattr(row, "return_on", v),
    "count": lambda row, v: setattr(row, "count", v),
    "add_tag": lambda row, v: setattr(row, "tags", row.tags if v in row.tags else [*row.tags, v]),
    "drop_tag": lambda row, v: setattr(row, "tags", [t for t in row.tags if t != v]),
    "add_caution": lambda row, v: setattr(row, "cautions", row.cautions if v in row.cautions else [*row.cautions, v]),
}


@transaction.atomic
def change_many(studio: Studio, pks: Sequence[int], field: str, value: Any) -> int:
    """The same change on every one of ``pks``; returns how many. Raises FieldError for a field that is not changed in bulk."""
    if field not in BULK:
        raise FieldError("field", "must be one of " + ", ".join(BULK), field)
    if len(pks) > MOST_AT_ONCE:
        raise FieldError("props", f"must be at most {MOST_AT_ONCE} at once", len(pks))
    stamp = next_stamp(studio)
    rows = list(StoreProp.objects.filter(studio=studio, pk__in=pks))
    for row in rows:
        BULK[field](row, value)
        row.stamp = stamp
    StoreProp.objects.bulk_update(rows, ["place", "lender", "return_on", "count", "tags", "cautions", "stamp"], batch_size=200)
    return len(rows)


@transaction.atomic
def keep_table(studio: Studio, person: User, raw: bytes) -> WaitingTable:
    """Let a table wait for its person to decide; what waited a day is thrown away."""
    WaitingTable.objects.filter(made_at__lt=timezone.now() - timedelta(days=1)).delete()
    return WaitingTable.objects.create(studio=studio, person=person, data=raw)


@transaction.atomic
def import_records(studio: Studio, kept: Sequence[PropRecord]) -> tuple[int, int]:
    """Every record as a prop: one whose key is there already is changed, the others are new. Returns (new, changed); all or nothing."""
    stamp = next_stamp(studio)
    known = {row.key: row for row in StoreProp.objects.filter(studio=studio, key__in=[r.prop.id for r in kept])}
    taken = set(StoreProp.objects.filter(studio=studio).values_list("key", flat=True))
    new, changed = [], []
    next_number: dict[str, int] = {}
    for record in kept:
        row = known.pop(record.prop.id, None)
        if row is None:
            key, stem = record.prop.id, record.prop.id[:52]
            while key in taken:
                number = next_number.get(stem, 2)
                key, next_number[stem] = f"{stem}-{number}", number + 1
            taken.add(key)
            row = StoreProp(studio=studio, key=key)
            new.append(row)
        else:
            changed.append(row)
        for name, value in columns_of(record).items():
            setattr(row, name, value)
        row.stamp = stamp
    StoreProp.objects.bulk_create(new, batch_size=200)
    if changed:
        StoreProp.objects.bulk_update(changed, [*columns_of(kept[0]), "stamp"], batch_size=200)
    return len(new), len(changed)


@transaction.atomic
def fill_with_starters(studio: Studio) -> None:
    """The starter store's props, surfaces, backdrops, cards and cameras, as the studio's own rows; what is there already stays."""
    stamp = next_stamp(studio)
    taken = set(StoreProp.objects.filter(studio=studio).values_list("key", flat=True))
    rows: list[StoreProp] = []
    worn: list[dict[str, Any]] = []
    for values in PROPS:
        if values["key"] in taken:
            continue
        row = StoreProp(studio=studio, stamp=stamp, **{k: v for k, v in values.items()})
        entries = entries_of_prop(values["key"])
        worn += entries
        row.skins = [skin_of_entry(entry) for entry in entries]
        row.width_mm, row.depth_mm, row.height_mm = extent_mm(record_of(row).prop.shape)
        rows.append(row)
    StoreProp.objects.bulk_create(rows)
    if not StoreSurface.objects.filter(studio=studio).exists():
        sides: dict[str, StoreSurface] = {}
        for r in SURFACES:
            entries = entries_of_surface(r["name"])
            worn += entries
            sides[r["name"]] = StoreSurface.objects.create(
                studio=studio,
                name=r["name"],
                width_mm=r["width_mm"],
                depth_mm=r["depth_mm"],
                colours=surface_colours(r),
                lines=r["lines"],
                other_side_of=sides.get(r.get("other_side_of", "")),
                skin=next((skin_of_entry(entry) for entry in entries), None),
            )
    _keep_pictures(studio, worn)
    if not StoreBackdrop.objects.filter(studio=studio).exists():
        StoreBackdrop.objects.bulk_create(StoreBackdrop(studio=studio, **row) for row in BACKDROPS)
    if not StoreCard.objects.filter(studio=studio).exists():
        StoreCard.objects.bulk_create(StoreCard(studio=studio, **row) for row in CARDS)
    if not StoreLight.objects.filter(studio=studio).exists():
        StoreLight.objects.bulk_create(StoreLight(studio=studio, **row) for row in LIGHTS)
    if not StoreSupport.objects.filter(studio=studio).exists():
        _supports(studio)
    if not CameraBody.objects.filter(studio=studio).exists():
        _cameras(studio)


def keep_starter_pictures(studio: Studio, keys: set[str]) -> None:
    """Of the pictures with these keys, keep those that ship with the program."""
    if keys - set(StoreImage.objects.filter(studio=studio, key__in=keys).values_list("key", flat=True)):
        every = [e for found in manifest()["props"].values() for e in found] + list(manifest()["surfaces"].values())
        _keep_pictures(studio, [entry for entry in every if picture_bytes(entry["file"])[0] in keys])


def _keep_pictures(studio: Studio, entries: list[dict[str, Any]]) -> None:
    """The pictures of these entries kept for the studio, those that it does not keep yet."""
    known = set(StoreImage.objects.filter(studio=studio).values_list("key", flat=True))
    missing = {key: (data, *entry["pixels"]) for entry in entries for key, data in [picture_bytes(entry["file"])] if key not in known}
    StoreImage.objects.bulk_create(
        (StoreImage(studio=studio, key=key, data=data, width_px=width, height_px=height) for key, (data, width, height) in missing.items()),
        ignore_conflicts=True,
    )


def _cameras(studio: Studio) -> None:
    """Bodies, their own lenses, and lenses for any body."""
    kit = starter_kit()
    bodies = {}
    for body in kit.bodies:
        bodies[body.name] = CameraBody.objects.create(
            studio=studio,
            name=body.name,
            sensor_width_mm=body.sensor.width,
            sensor_height_mm=body.sensor.height,
            pixels_wide=body.sensor.pixels_wide,
            pixels_high=body.sensor.pixels_high,
            is_phone=body.is_phone,
            **_moving(body.sensor.moving),
        )
    StoreLens.objects.bulk_create(
        StoreLens(
            studio=studio,
            name=kept.name,
            fixed_on=None if kept.fixed_on is None else bodies[kept.fixed_on],
            focal_length_mm=kept.lens.focal_length,
            longest_mm=kept.longest,
            max_aperture=kept.lens.max_aperture,
            max_aperture_long=kept.widest_long,
            min_aperture=kept.lens.min_aperture,
            min_focus_mm=kept.lens.min_focus,
            max_magnification=kept.lens.max_magnification,
        )
        for kept in kit.lenses
    )


def _moving(readout: Readout | None) -> dict[str, float]:
    if readout is None:
        return {}
    size = {"moving_width_mm": readout.width, "moving_height_mm": readout.height}
    return size | {"moving_pixels_wide": readout.pixels_wide, "moving_pixels_high": readout.pixels_high}


def _supports(studio: Studio) -> None:
    StoreSupport.objects.bulk_create(
        StoreSupport(studio=studio, name=s.name, kind=s.kind, lowest_mm=s.lowest, highest_mm=s.highest, inverts=s.inverts, reach_mm=s.reach)
        for s in starter_kit().supports
    )
    StoreConverter.objects.bulk_create(
        StoreConverter(studio=studio, name=c.name, factor=c.converter.factor, length_mm=c.converter.length, shortest_mm=c.shortest)
        for c in starter_kit().converters
    )
