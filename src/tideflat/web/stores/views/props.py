"""Props: find them, see one, write one down, change many."""

from __future__ import annotations

import json
import math
from typing import Any
from urllib.parse import urlencode

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from tideflat.core.colour.spaces import is_hex
from tideflat.core.errors import FieldError
from tideflat.core.facts.cautions import CAUTIONS
from tideflat.core.formats.prop_columns import COLUMNS, FURTHER, LENGTHS, NEEDED
from tideflat.core.formats.prop_reader import shape_from_value
from tideflat.core.formats.prop_table import Fault, PropRecord, Table, records
from tideflat.core.formats.prop_table_out import cells_of
from tideflat.core.model import FINISHES, ROLES
from tideflat.core.remedies.exchanges import SIZE_FACTOR
from tideflat.core.remember import counted
from tideflat.core.shapes import SHAPES
from tideflat.core.units import format_length, parse_length_mm, written_number
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.bridge.error_words import error_words
from tideflat.web.bridge.portrait import portrait_field_mm
from tideflat.web.bridge.shape_words import shape_choices
from tideflat.web.ui.fields import whole_from

from ..balance import balance_of, going_back, on_surfaces
from ..catalogue import catalogue_of, tags_in_use
from ..models import StoreProp
from ..queries import NotInStores, core_stores, prop_row, props_by_pk, record_of
from ..searching import Wish, search
from ..services import BULK, keep_prop, remove_props
from ..starter_props import PROPS

#: Props on a page.
PAGE = 60
#: Width of a picture that fills its own frame, pixels; and the scale of those drawn to one scale, pixels for a millimetre.
_OWN_PX, _ONE_SCALE, _WIDEST_PX = 150, 0.42, 440
#: Where there is no picture.
_NO_FIELD_MM = 100.0
#: What is thinner than this is told by two measures.
THINNEST_MM = 2.0
#: A scale bar is one of these, mm.
_BARS = (10, 20, 50, 100, 200, 500)
#: Words for the fields that can be changed for many at once.
BULK_WORDS = {
    "place": "are kept in",
    "lender": "are lent by",
    "return_on": "go back on",
    "count": "are so many each",
    "add_tag": "get the tag",
    "drop_tag": "lose the tag",
    "add_caution": "get the caution",
}


@member_required
@require_safe
def stores(request: StudioRequest) -> HttpResponse:
    """Everything that is found, with what the stores are like as a whole."""
    catalogue = catalogue_of(request.membership.studio)
    wish, fault = _wish(request)
    found = search(catalogue, wish)
    start = max(0, _whole(request.GET.get("from", "0")))
    rows = found.rows[start : start + PAGE]
    one_scale = request.GET.get("scale") == "one"
    props = props_by_pk(request.membership.studio, [int(catalogue.pk[i]) for i in rows])
    reasons = {int(catalogue.pk[i]): found.reasons.get(int(i), "") for i in rows}
    asked = {k: v for k, v in request.GET.items() if v and k != "from"}
    context = {
        "shown": [_shown(row, reasons.get(row.pk, ""), one_scale, request.preference.unit) for row in props],
        "found_count": len(found.rows),
        "all_count": len(catalogue),
        "fault": fault,
        "wish": {**{k: request.GET.get(k, "") for k in ("q", "tag", "kind", "finish", "least", "most", "colour")}, "scale": one_scale},
        "tags": tags_in_use(catalogue),
        "shapes": shape_choices(),
        "finishes": FINISHES,
        "bulk": [(k, BULK_WORDS[k]) for k in BULK],
        "next": f"?{urlencode({**asked, 'from': start + PAGE})}" if start + PAGE < len(found.rows) else "",
        "unit": request.preference.unit,
    }
    if request.htmx:  # type: ignore[attr-defined]
        return render(request, "stores/fragments/found.html", context)
    going_back_soon = going_back(request.membership.studio, timezone.localdate())
    context |= {"balance": balance_of(catalogue), "going_back": going_back_soon, "starter_count": len(PROPS)}
    return render(request, "stores/stores.html", context)


def _wish(request: StudioRequest) -> tuple[Wish, str]:
    """What is asked for, and the fault of what could not be read (which is then not asked for)."""
    data = request.GET
    fault = ""
    sizes: dict[str, float | None] = {"least": None, "most": None}
    for name in sizes:
        text = data.get(name, "").strip()
        if text:
            try:
                sizes[name] = parse_length_mm(text, request.preference.unit)
            except FieldError as error:
                fault = error_words(FieldError({"least": "shortest", "most": "longest"}[name], error.rule, text))
    colour = data.get("colour", "").strip().lower()
    if colour and not is_hex(colour):
        colour, fault = "", "The colour must be written as #c4621a."
    wish = Wish(
        text=data.get("q", "")[:80],
        tag=data.get("tag", "")[:120],
        kind=data.get("kind", "")[:20],
        finish=data.get("finish", "")[:20],
        least_mm=sizes["least"],
        most_mm=sizes["most"],
        colour=colour,
    )
    return wish, fault


def _whole(text: str) -> int:
    return min(whole_from(text) or 0, 10_000_000)


def _shown(row: StoreProp, reason: str, one_scale: bool, unit: str) -> dict[str, Any]:
    """A prop as it stands in the list: its picture's size in pixels, and a bar that says its scale."""
    field = _field_mm(json.dumps(row.shape))
    wide = min(_WIDEST_PX, max(24.0, field * _ONE_SCALE)) if one_scale else float(_OWN_PX)
    bar = max((b for b in _BARS if b <= field * 0.45), default=_BARS[0])
    return {
        "row": row,
        "reason": reason,
        "width": round(wide),
        "height": round(wide * 0.75),
        "bar": f"M.5 0V5.5H{bar * wide / field:.1f}V0",
        "bar_px": round(bar * wide / field + 1, 1),
        "bar_words": format_length(bar, unit),
        "size": _size_words(row, unit),
    }


@counted(16384)
def _field_mm(shape: str) -> float:
    """How wide the portrait of a thing of this shape (JSON) is, mm."""
    try:
        return portrait_field_mm(shape_from_value(json.loads(shape)))
    except FieldError:  # a row that the core does not take is still listed, to be mended or removed
        return _NO_FIELD_MM


def _size_words(row: StoreProp, unit: str) -> str:
    """Such as ``270 across, 24 mm high`` or ``320 × 220 × 18 mm``."""
    wide, deep, high = (format_length(v, unit).removesuffix(f" {unit}") for v in (row.width_mm, row.depth_mm, row.height_mm))
    form = SHAPES[row.shape["kind"]].form
    if form == "ball":
        return f"{wide} {unit} across"
    if form == "turned" and row.width_mm == row.depth_mm:
        return f"{wide} across, {high} {unit} high"
    return f"{wide} × {deep}{f' × {high}' if row.height_mm > THINNEST_MM else ''} {unit}"


@member_required
def prop_page(request: StudioRequest, prop_id: int = 0) -> HttpResponse:
    """One prop: what is kept of it, and what it does on your surfaces. POST keeps what was typed."""
    studio = request.membership.studio
    try:
        row = prop_row(studio, prop_id) if prop_id else None
    except NotInStores:
        raise Http404 from None
    kept = record_of(row) if row is not None else None
    if request.method == "POST":
        return _keep(request, row, kept)
    cells = _typed_cells(kept)
    kind = request.GET.get("shape", "")
    if kind in SHAPES:
        cells["shape"] = kind
    return _page(request, row, cells, ())


def _typed_cells(kept: PropRecord | None) -> dict[str, str]:
    """What stands in the form: lengths with their unit, so that they mean the same whatever the person's unit."""
    if kept is None:
        return {"shape": "cylinder", "count": "1", "finish": "matte", "role": "support", "colours": "#b0aca4"}
    cells = cells_of(kept)
    for column in cells:
        if column in LENGTHS and cells[column]:
            cells[column] += " mm"
    return cells


@stylist_required
def _keep(request: StudioRequest, row: StoreProp | None, kept: PropRecord | None) -> HttpResponse:
    cells = {c: request.POST.get(c, "").strip()[:4000] for c in COLUMNS}
    cells["cautions"] = "; ".join(request.POST.getlist("cautions"))
    cells["skins"] = cells_of(kept)["skins"] if kept is not None else ""
    cells["key"] = row.key if row is not None else ""
    wanted = (*NEEDED.get(cells["shape"], ()), *FURTHER)
    for column in (*LENGTHS, *FURTHER):
        if column not in wanted:
            cells[column] = ""
    faults = _made_whole(cells, request.preference.unit, cells_of(kept) if kept is not None else {})
    if faults:
        return _page(request, row, cells, faults)
    headings = tuple(f"{c} ({request.preference.unit})" if c in LENGTHS else c for c in COLUMNS)
    read = records(Table(headings, ((1, tuple(cells[c] for c in COLUMNS)),)), COLUMNS)
    if read.faults:
        return _page(request, row, cells, read.faults)
    saved = keep_prop(request.membership.studio, read.good[0][1], row.pk if row is not None else None)
    messages.success(request, f"{saved.name} is kept.")
    return redirect("prop_page", prop_id=saved.pk)


def _made_whole(cells: dict[str, str], unit: str, stood: dict[str, str]) -> tuple[Fault, ...]:
    """So much more or less than what was kept (+20, -20), written out in ``cells``; the faults of what cannot be read."""
    faults = []
    for column in LENGTHS:
        if cells[column].startswith(("+", "-", "\u2212")) and stood.get(column):
            try:
                cells[column] = written_number(parse_length_mm(cells[column], unit, None, float(stood[column]))) + " mm"
            except FieldError as error:
                faults.append(Fault(1, column, error.rule.removeprefix("must "), cells[column]))
    return tuple(faults)


def _page(request: StudioRequest, row: StoreProp | None, cells: dict[str, str], faults: tuple[Fault, ...]) -> HttpResponse:
    studio, unit = request.membership.studio, request.preference.unit
    kind = cells.get("shape", "cylinder")
    stores_now = core_stores(studio)
    prop = record_of(row).prop if row is not None else None
    context = {
        "row": row,
        "cells": cells,
        "faults": faults,
        "sizes": [(c, c.replace("_", " "), cells.get(c, "")) for c in NEEDED.get(kind, ())],
        "kind": kind,
        "shapes": shape_choices(),
        "finishes": FINISHES,
        "roles": ROLES,
        "cautions": [(k, words, k in cells.get("cautions", "")) for k, words in CAUTIONS.items()],
        "unit": unit,
        "surfaces": on_surfaces(prop, stores_now.surfaces) if prop is not None else [],
        "near": _near(request, row) if row is not None else [],
        "size": _size_words(row, unit) if row is not None else "",
        "reserved": list(row.reservations.select_related("scene").order_by("day")[:8]) if row is not None else [],
    }
    return render(request, "stores/prop.html", context, status=400 if faults else 200)


def _near(request: StudioRequest, row: StoreProp) -> list[StoreProp]:
    """What could take its place: of its kind and about its size, the nearest in colour first."""
    catalogue = catalogue_of(request.membership.studio)
    if not row.colours:
        return []
    least, most = row.width_mm / SIZE_FACTOR, row.width_mm * SIZE_FACTOR
    near = search(catalogue, Wish(colour=row.colours[0]["hex"], kind=row.shape["kind"], least_mm=least, most_mm=most)).rows
    own = np.maximum([row.width_mm, row.depth_mm, row.height_mm], 1)
    rows = [i for i in near if np.abs(np.log(np.maximum(catalogue.size[i], 1) / own)).max() < math.log(SIZE_FACTOR)]
    found = [int(catalogue.pk[i]) for i in rows[:7]]
    return props_by_pk(request.membership.studio, [pk for pk in found if pk != row.pk][:5])


@stylist_required
@require_POST
def remove(request: StudioRequest, prop_id: int) -> HttpResponse:
    """Out of the stores. Scenes keep their own copies."""
    try:
        row = prop_row(request.membership.studio, prop_id)
    except NotInStores:
        raise Http404 from None
    remove_props(request.membership.studio, [row.pk])
    messages.success(request, f"{row.name} is out of the stores. Scenes keep their own copies.")
    return redirect("stores")
