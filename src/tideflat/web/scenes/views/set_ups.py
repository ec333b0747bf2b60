"""Set-ups beside each other, laid over each other, and played as a loop."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from tideflat.web.accounts.access import StudioRequest, member_required

from ..set_ups_beside import beside, laid_over
from ..turns import in_turn
from .answers import find_scene, glance_of
from .versions import WAYS


@member_required
@require_GET
@in_turn
def set_ups_beside(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Every set-up's frame, what it costs to go from one to the next, and those that can be played."""
    row, glance = find_scene(request, scene_id), glance_of(request)
    shown, runs, alike = beside(row, glance.setup, glance.unit)
    return render(request, "scenes/set_ups.html", {"row": row, "glance": glance, "shown": shown, "runs": runs, "alike": alike})


@member_required
@require_GET
@in_turn
def set_up_over(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Another set-up (``name``) over the one that is looked at, and what differs."""
    row, glance = find_scene(request, scene_id), glance_of(request)
    laid = laid_over(row, request.GET.get("name", "")[:200], glance.setup, glance.unit)
    if laid is None:
        raise Http404
    return render(request, "scenes/fragments/compared.html", {"laid": laid, "row": row, "glance": glance, "ways": WAYS})
