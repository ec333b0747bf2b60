"""The bench: one scene, its stage, its trays, its document."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_safe

from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, member_required
from tideflat.web.ui.fields import whole_from

from ..queries import export_bytes, revision_of
from ..services.history import scene_at
from ..stage import stage, tray_alone
from ..turns import in_turn
from .answers import asked_of, find_scene, glance_of, stage_response
from .remedies import remedy_context


@member_required
@require_safe
@in_turn
def bench(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The page; ``show=frame`` or ``show=table`` begins with that view alone."""
    row = find_scene(request, scene_id)
    show = request.GET.get("show", "both")
    glance = glance_of(request)
    context = stage(row, glance, asked_of(request))
    return render(request, "scenes/bench.html", {**context, "show": show if show in ("both", "table", "frame") else "both"})


@member_required
@require_GET
def stage_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The stage anew; 204 when the window already has the newest revision, which is asked for by itself: many windows ask, few hear of a change."""
    asked = request.GET.get("if_newer_than")
    if asked and asked == str(revision_of(request.membership.studio, scene_id)):
        return HttpResponse(status=204)
    return _newest_stage(request, scene_id)


@in_turn
def _newest_stage(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Only what changed, for a window that says which revision it shows and asked by itself; else everything."""
    shown = whole_from(request.GET.get("if_newer_than", ""))
    return stage_response(
        request, find_scene(request, scene_id), glance_of(request), scene_at(scene_id, shown) if shown is not None else None
    )


@member_required
@require_GET
def tray_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """One tray: the thing in hand, or a station's tools. The two views stay where they are."""
    return tray_response(request, scene_id)


@in_turn
def tray_response(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The tray that is open, as it is now."""
    row = find_scene(request, scene_id)
    return render(request, "scenes/fragments/tray_and_line.html", tray_alone(row, glance_of(request), asked_of(request)))


@member_required
@require_GET
@in_turn
def remedy_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The remedy of one finding, with its ghost, or why there is none."""
    row = find_scene(request, scene_id)
    glance = glance_of(request)
    try:
        context = remedy_context(row, glance, request.GET.get("key", "")[:2000])
    except FieldError:
        return HttpResponse(status=204)  # it was settled meanwhile; the stage says so
    return render(request, "scenes/fragments/remedy.html", {**context, "row": row, "glance": glance})


@member_required
@require_GET
def export_scene(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The scene document, to take away."""
    row = find_scene(request, scene_id)
    response = HttpResponse(export_bytes(row), content_type="application/json; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{slugify(row.title) or "scene"}.tideflat.json"'
    return response
