"""Reads of the stores, always inside one studio, as core values where the scene takes them."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Q, QuerySet

from tideflat.core.formats.scene_reader import prop_from_value, surface_from_value
from tideflat.core.model import Backdrop, Lens, Prop, Sensor, Surface
from tideflat.web.accounts.models import Studio

from .models import CameraBody, StoreBackdrop, StoreLens, StoreProp, StoreSurface


class NotInStores(LookupError):
    """The studio has no such thing."""


@dataclass(frozen=True)
class FoundProp:
    prop: Prop
    role: str


def props_found(studio: Studio, text: str) -> QuerySet[StoreProp]:
    """Props whose name, material or tags hold every word of ``text``."""
    found = StoreProp.objects.filter(studio=studio)
    for word in text.split()[:6]:
        found = found.filter(
            Q(name__icontains=word) | Q(material__icontains=word) | Q(tags__icontains=word) | Q(shape__kind__icontains=word)
        )
    return found


def prop_in(studio: Studio, prop_pk: int) -> FoundProp:
    row = StoreProp.objects.filter(studio=studio, pk=prop_pk).first()
    if row is None:
        raise NotInStores
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
        }
    )


def materials(studio: Studio) -> tuple[QuerySet[StoreSurface], QuerySet[StoreBackdrop]]:
    return StoreSurface.objects.filter(studio=studio), StoreBackdrop.objects.filter(studio=studio)


def surface_in(studio: Studio, pk: int) -> Surface:
    row = StoreSurface.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    return surface_from_value(
        {"name": row.name, "width": row.width_mm, "depth": row.depth_mm, "colours": row.colours, "finish": row.finish, "lines": row.lines}
    )


def backdrop_in(studio: Studio, pk: int) -> tuple[Backdrop, str]:
    row = StoreBackdrop.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    return Backdrop(row.kind, 0.0, 0.0, row.width_mm, row.height_mm, row.colour), row.name


def bodies_and_lenses(studio: Studio) -> tuple[QuerySet[CameraBody], QuerySet[StoreLens]]:
    return CameraBody.objects.filter(studio=studio), StoreLens.objects.filter(studio=studio, fixed_on=None)


def lens_in(studio: Studio, pk: int) -> tuple[Lens, str]:
    row = StoreLens.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    return _lens(row), row.name


def body_in(studio: Studio, pk: int) -> tuple[Sensor, str, Lens | None]:
    """The sensor, the body's name, and its own lens when it can take no other."""
    row = CameraBody.objects.filter(studio=studio, pk=pk).first()
    if row is None:
        raise NotInStores
    own = row.own_lenses.first()
    sensor = Sensor(row.sensor_width_mm, row.sensor_height_mm, row.pixels_wide, row.pixels_high)
    return sensor, row.name, _lens(own) if own else None


def _lens(row: StoreLens) -> Lens:
    return Lens(row.focal_length_mm, row.max_aperture, row.min_aperture, row.min_focus_mm, row.max_magnification, 0.0, row.pupil_ratio)
