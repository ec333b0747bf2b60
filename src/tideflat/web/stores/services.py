"""Fill a studio's stores."""

from __future__ import annotations

from django.db import transaction

from tideflat.web.accounts.models import Studio

from .models import CameraBody, StoreBackdrop, StoreLens, StoreProp, StoreSurface
from .starter import BACKDROPS, BODIES, LENSES, SURFACES, surface_colours
from .starter_props import PROPS


@transaction.atomic
def fill_with_starters(studio: Studio) -> None:
    """The starter store's props, surfaces, backdrops, bodies and lenses, as the studio's own rows."""
    StoreProp.objects.bulk_create(StoreProp(studio=studio, **row) for row in PROPS)
    StoreSurface.objects.bulk_create(
        StoreSurface(
            studio=studio, name=r["name"], width_mm=r["width_mm"], depth_mm=r["depth_mm"], colours=surface_colours(r), lines=r["lines"]
        )
        for r in SURFACES
    )
    StoreBackdrop.objects.bulk_create(StoreBackdrop(studio=studio, **row) for row in BACKDROPS)
    for row in BODIES:
        body = CameraBody.objects.create(
            studio=studio,
            name=row["name"],
            sensor_width_mm=row["sensor"][0],
            sensor_height_mm=row["sensor"][1],
            pixels_wide=row["pixels"][0],
            pixels_high=row["pixels"][1],
            is_phone="own" in row,
        )
        if "own" in row:
            StoreLens.objects.create(studio=studio, fixed_on=body, **row["own"])
    StoreLens.objects.bulk_create(StoreLens(studio=studio, **row) for row in LENSES)
