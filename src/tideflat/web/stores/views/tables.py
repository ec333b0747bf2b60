"""Props as a table: CSV out, and CSV in with a preview that names every fault before anything is kept."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_safe

from tideflat.core.errors import FieldError
from tideflat.core.formats.prop_columns import COLUMNS, LENGTHS, guessed_columns
from tideflat.core.formats.prop_marks import doubts
from tideflat.core.formats.prop_table import MOST_BYTES, Records, Table, read_table, records
from tideflat.core.formats.prop_table_out import write_table
from tideflat.core.units import Marks
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.throttle import too_many
from tideflat.web.bridge.error_words import error_words

from ..models import StoreProp, WaitingTable
from ..queries import record_of, waiting_table
from ..services import import_records, keep_table

#: Rows shown in the preview, and faults listed at once.
SAMPLE_ROWS, LISTED_FAULTS = 5, 400


@member_required
@require_safe
def export_table(request: StudioRequest) -> HttpResponse:
    """Every prop of the studio as CSV that imports again unchanged."""
    rows = StoreProp.objects.filter(studio=request.membership.studio)
    response = HttpResponse("\ufeff" + write_table([record_of(row) for row in rows]), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="tideflat-props.csv"'
    return response


@stylist_required
def import_table(request: StudioRequest) -> HttpResponse:
    """Choose a file; then a preview with the columns and every faulty row; then all good rows, or nothing."""
    if request.method != "POST":
        return render(request, "stores/import.html", {"columns": COLUMNS})
    if too_many("table", str(request.user.pk), 60, 60):
        return _refused(request, "Too many tables in a minute. Wait a little, then try again.", 429)
    if not request.POST.get("waiting"):
        return _taken_in(request)
    waiting = waiting_table(request.membership.studio, request.user, request.POST["waiting"])
    if waiting is None:
        return _refused(request, "That table waited too long. Choose the file once more; nothing was imported.", 400)
    table = read_table(bytes(waiting.data))
    columns = _mapped(request, table)
    marks = {c: cast(Marks, m) for c in LENGTHS if (m := request.POST.get(f"marks_{c}")) in ("thousands", "decimal")}
    read = records(table, columns, marks)
    if "import" not in request.POST:
        return _preview(request, waiting, table, columns, read, marks)
    if not read.good or (read.faults and request.POST.get("faulty") != "leave"):
        return _preview(
            request,
            waiting,
            table,
            columns,
            read,
            marks,
            "Nothing was imported. Say below that faulty rows are to be left out, or mend them in the file.",
        )
    new, changed = import_records(request.membership.studio, [record for _, record in read.good])
    waiting.delete()
    left = f"; {len(read.faulty_rows)} faulty rows were left out" if read.faults else ""
    messages.success(request, f"{new} new props and {changed} changed ones are in the stores{left}.")
    return redirect("stores")


def _taken_in(request: StudioRequest) -> HttpResponse:
    upload = request.FILES.get("table")
    if upload is None:
        return _refused(request, "Choose a CSV file first.", 400)
    raw = upload.read(MOST_BYTES + 1)
    try:
        table = read_table(raw)
    except FieldError as error:
        return _refused(request, error_words(error), 400)
    waiting = keep_table(request.membership.studio, request.user, raw)
    columns = guessed_columns(table.headings)
    return _preview(request, waiting, table, columns, records(table, columns), {})


def _refused(request: StudioRequest, fault: str, status: int) -> HttpResponse:
    return render(request, "stores/import.html", {"columns": COLUMNS, "fault": fault}, status=status)


def _mapped(request: StudioRequest, table: Table) -> tuple[str, ...]:
    """The column chosen for each heading; one chosen twice counts the first time."""
    found: list[str] = []
    for k in range(len(table.headings)):
        chosen = request.POST.get(f"column{k}", "")
        found.append(chosen if chosen in COLUMNS and chosen not in found else "")
    return tuple(found)


def _preview(
    request: StudioRequest,
    waiting: WaitingTable,
    table: Table,
    columns: tuple[str, ...],
    read: Records,
    marks: Mapping[str, Marks],
    fault: str = "",
) -> HttpResponse:
    samples = [cells for _, cells in table.rows[:SAMPLE_ROWS]]
    known = set(StoreProp.objects.filter(studio=request.membership.studio).values_list("key", flat=True))
    heads: list[dict[str, Any]] = [
        {
            "name": heading,
            "column": column,
            "samples": [cells[k] for cells in samples if k < len(cells) and cells[k]][:3],
            "field": f"column{k}",
        }
        for k, (heading, column) in enumerate(zip(table.headings, columns, strict=True))
    ]
    context = {
        "waiting": waiting.pk,
        "heads": heads,
        "columns": COLUMNS,
        "rows": len(table.rows),
        "good": len(read.good),
        "changed": sum(record.prop.id in known for _, record in read.good),
        "faulty": len(read.faulty_rows),
        "faults": read.faults[:LISTED_FAULTS],
        "more_faults": max(0, len(read.faults) - LISTED_FAULTS),
        "first": [record for _, record in read.good[:6]],
        "unit": request.preference.unit,
        "fault": fault,
        "doubts": [(d, marks.get(d.column, d.settled)) for d in doubts(table.headings, table.rows, columns)],
    }
    return render(request, "stores/import_preview.html", context, status=400 if fault else 200)
