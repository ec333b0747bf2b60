"""The bench: one scene, its stage, its trays, its document."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_safe

from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, member_required

from ..queries import export_bytes, picture_of, stage, tray
from .parts import beside_tray, find_scene, glance_of, stage_response
from .remedies import remedy_context


@member_required
@require_safe
def bench(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The page; ``show=frame`` or ``show=table`` begins with that view alone."""
    row = find_scene(request, scene_id)
    show = request.GET.get("show", "both")
    glance = glance_of(request)
    drawn = stage(row, glance)
    context = {**drawn, **beside_tray(request, row, drawn["picture"], glance)}
    return render(request, "scenes/bench.html", {**context, "show": show if show in ("both", "table", "frame") else "both"})


@member_required
@require_GET
def stage_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The stage anew; 204 when the window already has ``revision``."""
    row = find_scene(request, scene_id)
    if request.GET.get("if_newer_than") == str(row.revision):
        return HttpResponse(status=204)
    return stage_response(request, row, glance_of(request))


@member_required
@require_GET
def tray_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """One tray: the thing in hand, or a station's tools. The two views stay where they are."""
    return tray_response(request, scene_id)


def tray_response(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The tray that is open, as it is now."""
    row = find_scene(request, scene_id)
    glance = glance_of(request)
    picture = picture_of(row, glance.setup)
    context = {
        "row": row,
        "scene": picture.scene,
        "setup": picture.setup,
        "picture": picture,
        "glance": glance,
        "tray": tray(picture, glance),
    }
    context |= beside_tray(request, row, picture, glance)
    return render(request, "scenes/fragments/tray.html", context)


@member_required
@require_GET
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
