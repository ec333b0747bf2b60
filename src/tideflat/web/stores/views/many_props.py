"""Many props at once: the starter store into an empty one, one change on all that are ticked."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from tideflat.core.errors import FieldError
from tideflat.core.formats.prop_table import Table, records
from tideflat.web.accounts.access import StudioRequest, stylist_required
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.fields import whole_from

from ..catalogue import catalogue_of
from ..services import BULK, change_many, fill_with_starters, remove_props
from .props import BULK_WORDS


@stylist_required
@require_POST
def fill(request: StudioRequest) -> HttpResponse:
    """The starter store into this studio; what is there already stays."""
    before = len(catalogue_of(request.membership.studio))
    fill_with_starters(request.membership.studio)
    added = len(catalogue_of(request.membership.studio)) - before
    messages.success(
        request, f"{added} made-up props are in your stores, with sizes that are typical, from memory. Change or remove any of them."
    )
    return redirect("stores")


@stylist_required
@require_POST
def bulk(request: StudioRequest) -> HttpResponse:
    """The same change on every prop that is ticked."""
    pks = [pk for text in request.POST.getlist("prop") if (pk := whole_from(text)) is not None]
    field = request.POST.get("field", "")
    back = request.POST.get("back", "")
    if not pks:
        messages.error(request, "Tick the things first, then say what changes.")
        return redirect("stores")
    if field == "remove":
        count = remove_props(request.membership.studio, pks)
        messages.success(request, f"{count} taken out of the stores. Scenes keep their own copies.")
        return redirect("stores")
    try:
        count = change_many(request.membership.studio, pks, field, _bulk_value(field, request.POST.get("value", "").strip()))
    except FieldError as error:
        messages.error(request, error_words(error))
        return redirect("stores")
    messages.success(request, f"{count} changed: they {BULK_WORDS[field]} {request.POST.get('value', '').strip()}.")
    return redirect(f"{request.path_info.removesuffix('bulk/')}{back}" if back.startswith("?") and len(back) < 500 else "stores")


def _bulk_value(field: str, text: str) -> Any:
    """The typed value, read as one cell of a table would be. Raises FieldError."""
    column = {"add_tag": "tags", "drop_tag": "tags", "add_caution": "cautions"}.get(field, field)
    if field not in BULK:
        raise FieldError("field", "must be one of those offered", field)
    if not text and field in ("add_tag", "drop_tag", "add_caution", "count"):
        raise FieldError(column, "must be written", show_got=False)
    sample = {"name": "x", "shape": "sphere", "diameter": "10", column: text}
    kept = records(Table(tuple(sample), ((1, tuple(sample.values())),)), tuple(sample))
    if kept.faults:
        raise FieldError(column, f"must be right: {kept.faults[0].cure}", text)
    record = kept.good[0][1]
    value: Any = record.prop.tags if column == "tags" else getattr(record, column)
    return value[0] if field in ("add_tag", "drop_tag", "add_caution") else value
