"""The kit: surfaces, backdrops, cards, cameras, lenses, supports; what they can do, and one form for each."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from tideflat.core.camera.equivalence import equivalent_mm
from tideflat.core.errors import FieldError
from tideflat.core.units import MM_PER_UNIT, format_length, written_number
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.models import Studio
from tideflat.web.accounts.throttle import too_many
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.fields import Fields

from ..image_turn import image_turn
from ..images import photograph_from
from ..kit_facts import SET_MM, TABLE_MM, reach, surface_gaps
from ..kit_forms import KINDS, Asked, Kind, keep_item, read_values, values_of
from ..lens_measured import lens_measured
from ..models import CameraBody, StoreBackdrop, StoreCard, StoreConverter, StoreLens, StoreLight, StoreSupport, StoreSurface
from ..queries import core_sensor
from .measuring import PHOTOGRAPHS_A_MINUTE


@member_required
@require_safe
def kit(request: StudioRequest) -> HttpResponse:
    """Everything in the stores that is no prop."""
    studio, unit = request.membership.studio, request.preference.unit
    surfaces = list(StoreSurface.objects.filter(studio=studio).select_related("other_side"))
    supports = list(StoreSupport.objects.filter(studio=studio))
    bodies = list(CameraBody.objects.filter(studio=studio).prefetch_related("own_lenses"))
    able = [b for b in bodies if not b.is_phone]
    body = next((b for b in able if str(b.pk) == request.GET.get("body")), able[0] if able else None)
    context = {
        "surfaces": [s for s in surfaces if s.other_side_of_id is None],
        "surface_gaps": surface_gaps(surfaces),
        "backdrops": StoreBackdrop.objects.filter(studio=studio),
        "cards": StoreCard.objects.filter(studio=studio),
        "lights": StoreLight.objects.filter(studio=studio),
        "bodies": [_body(b) for b in bodies],
        "lenses": [_lens(row, body, supports, unit) for row in StoreLens.objects.filter(studio=studio, fixed_on=None)],
        "compared_on": body,
        "able": able,
        "set": " × ".join(format_length(v, unit) for v in SET_MM),
        "table_mm": TABLE_MM,
        "supports": supports,
        "converters": StoreConverter.objects.filter(studio=studio),
        "unit": unit,
    }
    return render(request, "stores/kit.html", context)


def _body(row: CameraBody) -> dict[str, Any]:
    own = row.own_lenses.first()
    full = row.sensor_width_mm, row.sensor_height_mm
    return {
        "row": row,
        "own": own,
        "equivalent": equivalent_mm(own.focal_length_mm, *full) if own else 0,
        "factor": equivalent_mm(1.0, *full),
        "megapixels": row.pixels_wide * row.pixels_high / 1e6,
        "pixel_um": 1000 * max(full) / max(row.pixels_wide, row.pixels_high),
    }


def _lens(row: StoreLens, body: CameraBody | None, supports: list[StoreSupport], unit: str) -> dict[str, Any]:
    """A lens and what it does on that body; without one there is nothing to tell."""
    does = reach(row, core_sensor(body), supports) if body else None
    above = near = ""
    if does is not None:
        low, high = (format_length(v, unit) for v in does.above_mm)
        above = low if low == high else f"{low} to {high}"
        if does.nearest_mm is not None:
            near = format_length(does.nearest_mm, unit) + " wide" + (f" at {does.nearest_at:g}" if row.longest_mm else "")
    return {"row": row, "reach": does, "above": above, "closest": near}


@member_required
def kit_item(request: StudioRequest, kind: str, item_id: int = 0) -> HttpResponse:
    """One thing's form; POST keeps it."""
    if kind not in KINDS:
        raise Http404
    found, row = KINDS[kind], _row(request.membership.studio, KINDS[kind], item_id)
    if request.method == "POST":
        return _keep(request, found, row)
    return _form(request, found, row, values_of(found, row))


def _row(studio: Studio, kind: Kind, item_id: int) -> Any:
    if not item_id:
        return None
    row = kind.model._default_manager.filter(studio=studio, pk=item_id).first()
    if row is None or (isinstance(row, StoreLens) and row.fixed_on_id):
        raise Http404
    return row


@stylist_required
def _keep(request: StudioRequest, kind: Kind, row: Any) -> HttpResponse:
    try:
        values = read_values(kind, request.POST.dict(), request.preference.unit, row)
        with transaction.atomic():
            kept = keep_item(request.membership.studio, kind, row, values)
    except FieldError as error:
        return _form(request, kind, row, request.POST.dict(), error_words(error), is_typed=True)
    messages.success(request, f"{kept.name} is kept.")
    return redirect("kit")


def _form(
    request: StudioRequest,
    kind: Kind,
    row: Any,
    values: dict[str, Any],
    fault: str = "",
    told: tuple[str, ...] = (),
    *,
    is_typed: bool = False,
) -> HttpResponse:
    unit = request.preference.unit
    fields = [_drawn(asked, values.get(asked.name), unit, is_typed=is_typed) for asked in kind.asked]
    sides = StoreSurface.objects.filter(studio=request.membership.studio).exclude(pk=row.pk if row else 0) if kind.name == "surface" else []
    context = {"kind": kind, "row": row, "fields": fields, "fault": fault, "unit": unit, "sides": sides, "told": told}
    if isinstance(row, StoreLens):
        context["bodies"] = CameraBody.objects.filter(studio=request.membership.studio, is_phone=False)
    return render(request, "stores/kit_item.html", context, status=400 if fault else 200)


def _drawn(asked: Asked, value: Any, unit: str, *, is_typed: bool) -> dict[str, Any]:
    """A field as the form shows it; what was typed comes back as it was typed."""
    if value is None or value == "":
        text = ""
    elif asked.kind == "numbers" and not is_typed:
        text = ", ".join(f"{v:.6g}" for v in value) if any(value) else ""
    elif is_typed or asked.kind not in ("length", "reach", "number", "angle"):
        text = str(value)
    else:
        # whole: a sensor is known to hundredths
        text = written_number(value / MM_PER_UNIT[unit], 7) if asked.kind in ("length", "reach") else f"{value:.7g}"
    return {"asked": asked, "text": text, "unit": unit if asked.kind in ("length", "reach") else "°" if asked.kind == "angle" else ""}


@stylist_required
@require_POST
def measure_lens(request: StudioRequest, item_id: int) -> HttpResponse:
    """A photograph of a sheet; what it tells of the lens comes into its form, to be kept or not."""
    studio = request.membership.studio
    row = _row(studio, KINDS["lens"], item_id)
    if row is None:
        raise Http404
    stands = values_of(KINDS["lens"], row)
    try:
        if too_many("measure", str(request.user.pk), PHOTOGRAPHS_A_MINUTE, 60):
            raise FieldError("photograph", "must wait: too many came in a minute", show_got=False)
        with image_turn():
            photograph = photograph_from(request.FILES.get("photograph"))
            values, told = lens_measured(studio, row, Fields(request.POST, request.preference.unit), photograph)
    except FieldError as error:
        return _form(request, KINDS["lens"], row, stands, error_words(error))
    return _form(request, KINDS["lens"], row, stands | values, told=told)


@stylist_required
@require_POST
def remove_kit_item(request: StudioRequest, kind: str, item_id: int) -> HttpResponse:
    """Out of the stores. Scenes keep their own copies."""
    row = _row(request.membership.studio, KINDS[kind], item_id) if kind in KINDS else None
    if row is None:
        raise Http404
    name = row.name
    row.delete()
    messages.success(request, f"{name} is out of the stores. Scenes keep their own copies.")
    return redirect("kit")
