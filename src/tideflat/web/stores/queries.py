"""Reads of the stores, always inside one studio, as core values where the scene takes them."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

from django.contrib.auth.models import User

from tideflat.core.camera.zooms import covering_its_own, lengths_of, set_to
from tideflat.core.errors import FieldError
from tideflat.core.formats.camera_reader import lens_from_value, sensor_from_value
from tideflat.core.formats.ground_reader import backdrop_from_value, surface_from_value
from tideflat.core.formats.prop_reader import prop_from_value
from tideflat.core.formats.prop_table import PropRecord
from tideflat.core.formats.reading import name as plain_line
from tideflat.core.model import Backdrop, Camera, Converter, Lens, Prop, Sensor, Support, Surface
from tideflat.core.model.kit import Body, Kit, KitConverter, KitLens
from tideflat.core.remedies.candidate import NamedLens, Stores
from tideflat.core.remember import counted
from tideflat.web.accounts.models import Studio
from tideflat.web.ui.fields import whole_from

from .models import (
    CameraBody,
    StoreBackdrop,
    StoreConverter,
    StoreLens,
    StoreProp,
    StoresState,
    StoreSupport,
    StoreSurface,
    WaitingTable,
)

#: Of very large stores, so many props are tried as remedies.
MOST_FOR_REMEDIES = 3000


log = logging.getLogger("tideflat.stores")
Row = TypeVar("Row")
Value = TypeVar("Value")


class NotInStores(LookupError):
    """The studio has no such thing."""


@dataclass(frozen=True)
class FoundProp:
    prop: Prop
    role: str


def prop_row(studio: Studio, pk: int) -> StoreProp:
    """The row; raises NotInStores outside the studio."""
    row = StoreProp.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    return row


def props_by_pk(studio: Studio, pks: Sequence[int]) -> list[StoreProp]:
    """Rows of the studio in the order of ``pks``."""
    found = StoreProp.objects.filter(studio=studio).in_bulk([int(pk) for pk in pks])
    return [found[int(pk)] for pk in pks if int(pk) in found]


def waiting_table(studio: Studio, person: User, pk: str) -> WaitingTable | None:
    """The table that this person sent in, while it waits."""
    return WaitingTable.objects.filter(studio=studio, person=person, pk=pk).first() if whole_from(pk) is not None else None


def record_of(row: StoreProp) -> PropRecord:
    """The row as a prop with all that is kept of it."""
    return PropRecord(
        core_prop(row),
        row.usual_role,
        row.count,
        row.place,
        row.lender,
        row.return_on,
        tuple(row.cautions),
        row.notes,
        row.size_source,
    )


def core_stores(studio: Studio, camera: Camera | None = None) -> Stores:
    """Props and surfaces as core values, for remedies; kept until the stores change. With a camera, the lenses that could be on it."""
    revision = StoresState.objects.filter(studio=studio).values_list("revision", flat=True).first() or 0
    surfaces = tuple(readable(core_surface, StoreSurface.objects.filter(studio=studio)))
    return Stores(_core_props(studio.pk, revision), surfaces, () if camera is None else _lenses_for(studio, camera))


def _lenses_for(studio: Studio, camera: Camera) -> tuple[NamedLens, ...]:
    """The lenses that fit any body, a zoom at its ends and the usual lengths between; none for a phone, which keeps its own."""
    lens, sensor = camera.lens, camera.sensor
    same_body = StoreLens.objects.filter(
        studio=studio, fixed_on__sensor_width_mm=sensor.width, fixed_on__sensor_height_mm=sensor.height, focal_length_mm=lens.focal_length
    )
    if same_body.exists():
        return ()
    rows = StoreLens.objects.filter(studio=studio, fixed_on=None)
    settings = ((row, name, value.partition("@")[2]) for row in rows for value, name in lens_choices([row]))
    return tuple(readable(lambda s: NamedLens(s[1], core_lens(s[0], float(s[2]) if s[2] else None)), settings))


@counted(8)
def _core_props(studio_id: int, revision: int) -> tuple[Prop, ...]:
    return tuple(readable(core_prop, StoreProp.objects.filter(studio_id=studio_id)[:MOST_FOR_REMEDIES]))


def readable(read: Callable[[Row], Value], rows: Iterable[Row]) -> Iterator[Value]:
    """The rows as core values; one that the core does not take is left out and noted, and takes nothing else down."""
    for row in rows:
        try:
            yield read(row)
        except FieldError as error:
            log.warning("%s is left out: %s", row, error)


def prop_in(studio: Studio, prop_pk: int) -> FoundProp:
    row = prop_row(studio, prop_pk)
    return FoundProp(core_prop(row), row.usual_role)


def core_prop(row: StoreProp) -> Prop:
    return prop_from_value(
        {
            "id": row.key,
            "name": row.name,
            "shape": row.shape,
            "colours": row.colours,
            "finish": row.finish,
            "texture": row.texture,
            "material": row.material,
            "tags": row.tags,
            "skins": row.skins,
        }
    )


def materials(studio: Studio) -> tuple[list[StoreSurface], list[StoreBackdrop]]:
    """The studio's surfaces and backdrops."""
    return list(StoreSurface.objects.filter(studio=studio)), list(StoreBackdrop.objects.filter(studio=studio))


def surface_in(studio: Studio, pk: int) -> Surface:
    row = StoreSurface.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    return core_surface(row)


def core_surface(row: StoreSurface) -> Surface:
    return surface_from_value(
        {
            "name": row.name,
            "width": row.width_mm,
            "depth": row.depth_mm,
            "colours": row.colours,
            "finish": row.finish,
            "lines": row.lines,
            "skin": row.skin,
        }
    )


def backdrop_in(studio: Studio, pk: int) -> tuple[Backdrop, str]:
    row = StoreBackdrop.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    return core_backdrop(row), row.name


def core_backdrop(row: StoreBackdrop) -> Backdrop:
    """The backdrop at no place yet."""
    plain_line(row.name, "backdrop.name")
    return backdrop_from_value({"kind": row.kind, "y": 0, "x": 0, "width": row.width_mm, "height": row.height_mm, "colour": row.colour})


def bodies_and_lenses(studio: Studio) -> tuple[list[CameraBody], list[StoreLens]]:
    """The studio's bodies, and its lenses that are not fixed on one."""
    return list(CameraBody.objects.filter(studio=studio)), list(StoreLens.objects.filter(studio=studio, fixed_on=None))


def lens_choices(lenses: Iterable[StoreLens]) -> list[tuple[str, str]]:
    """(value, words) for a list to choose from: a zoom stands in it at both ends and at the usual lengths between."""
    found = []
    for row in lenses:
        if row.longest_mm is None:
            found.append((str(row.pk), row.name))
            continue
        found += [(f"{row.pk}@{f:g}", f"{row.name} at {f:g}") for f in lengths_of(kit_lens(row))]
    return found


def lens_in(studio: Studio, choice: str) -> tuple[Lens, str]:
    """The lens that a value of ``lens_choices`` names, a zoom at its length there. Raises NotInStores, FieldError past the zoom's ends."""
    pk, _, length = choice.partition("@")
    row = StoreLens.objects.filter(studio=studio, pk=pk).first() if whole_from(pk) is not None else None
    if row is None:
        raise NotInStores
    if row.longest_mm is None:
        return core_lens(row), row.name
    if not length:
        return core_lens(row), f"{row.name} at {row.focal_length_mm:g}"
    try:
        focal = float(length)
    except ValueError:
        focal = 0.0
    if not row.focal_length_mm <= focal <= row.longest_mm:
        raise FieldError("lens", f"must be from {row.focal_length_mm:g} to {row.longest_mm:g} mm", length)
    return core_lens(row, focal), f"{row.name} at {focal:g}"


def body_in(studio: Studio, pk: int) -> tuple[Sensor, str, Lens | None]:
    """The sensor, the body's name, and its own lens when it can take no other."""
    row = CameraBody.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    own = row.own_lenses.first()
    sensor = core_sensor(row)
    if own is None:
        return sensor, row.name, None
    return sensor, row.name, covering_its_own(core_lens(own), sensor)


def core_sensor(row: CameraBody) -> Sensor:
    return sensor_from_value(
        {
            "width": row.sensor_width_mm,
            "height": row.sensor_height_mm,
            "pixels_wide": row.pixels_wide,
            "pixels_high": row.pixels_high,
            "moving": _moving(row),
        }
    )


def _moving(row: CameraBody) -> dict[str, float] | None:
    """What moving pictures have of its sensor, as far as it is told."""
    if row.moving_width_mm is None or row.moving_pixels_wide is None:
        return None
    told = {"width": row.moving_width_mm, "pixels_wide": row.moving_pixels_wide}
    return told | {k: v for k, v in (("height", row.moving_height_mm), ("pixels_high", row.moving_pixels_high)) if v is not None}


def core_lens(row: StoreLens, length_mm: float | None = None) -> Lens:
    """The lens as a scene holds it; a zoom set to ``length_mm``, or to its shortest."""
    return set_to(kit_lens(row), row.focal_length_mm if length_mm is None else length_mm)


def kit_lens(row: StoreLens) -> KitLens:
    """The lens as the kit has it, with its whole range."""
    is_measured = row.measured_distance_mm and row.measured_width_mm
    lens = lens_from_value(
        {
            "focal_length": row.focal_length_mm,
            "max_aperture": row.max_aperture,
            "min_aperture": row.min_aperture,
            "min_focus": row.min_focus_mm,
            "max_magnification": row.max_magnification,
            "pupil_ratio": row.pupil_ratio,
            "measured": {"sensor_distance": row.measured_distance_mm, "width": row.measured_width_mm} if is_measured else None,
            **row.further,
        }
    )
    own = row.fixed_on
    if own is not None:
        lens = covering_its_own(lens, core_sensor(own))
    return KitLens(row.name, lens, row.longest_mm, row.max_aperture_long, row.measured_at_mm, own.name if own is not None else None)


def kit_of(studio: Studio) -> Kit:
    """What the studio owns to take pictures with, as far as it can be read."""
    bodies = [(row, core_sensor) for row in CameraBody.objects.filter(studio=studio)]
    lenses = StoreLens.objects.filter(studio=studio).select_related("fixed_on")
    supports = StoreSupport.objects.filter(studio=studio)
    return Kit(
        tuple(Body(row.name, read(row), row.is_phone) for row, read in bodies),
        tuple(readable(kit_lens, lenses)),
        tuple(Support(s.name, s.kind, s.lowest_mm, s.highest_mm, s.inverts, s.reach_mm) for s in supports),
        tuple(KitConverter(c.name, Converter(c.factor, c.length_mm), c.shortest_mm) for c in StoreConverter.objects.filter(studio=studio)),
    )


def zoom_lengths(row: StoreLens) -> tuple[float, ...]:
    """A zoom's two ends; any other lens's one length."""
    return (row.focal_length_mm,) if row.longest_mm is None else (row.focal_length_mm, row.longest_mm)
