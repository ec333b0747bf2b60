"""The page by which a scene is built: numbered steps, a plan with numbers, and how far each thing may drift."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST

from tideflat.core.arrange.drift import FAR
from tideflat.core.errors import FieldError
from tideflat.core.units import format_length
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.fields import Fields
from tideflat.web.work import services as work

from ..building import KIND, about, ask, lines, plan, wanted_words
from ..queries import picture_of
from ..turns import in_turn
from .answers import find_scene, glance_of, notice

ASKED_A_MINUTE = 12


@member_required
@require_GET
@in_turn
def build(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The page; with ``part`` only its list, which asks for itself while drifts are worked out."""
    return _shown(request, scene_id, "scenes/fragments/build_steps.html" if request.GET.get("part") else "scenes/build.html")


@stylist_required
@require_POST
def work_out_drift(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Begin; the list says by itself how it goes on."""
    row = find_scene(request, scene_id)
    if too_many_here("drift", str(request.user.pk), ASKED_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    ask(row.studio, row, picture_of(row, glance_of(request).setup))
    return _in_turn(request, scene_id)


@in_turn
def _in_turn(request: StudioRequest, scene_id: int) -> HttpResponse:
    return _shown(request, scene_id, "scenes/fragments/build_steps.html")


def _shown(request: StudioRequest, scene_id: int, template: str) -> HttpResponse:
    row, glance = find_scene(request, scene_id), glance_of(request)
    data = request.POST if request.method == "POST" else request.GET
    fields = Fields(data, glance.unit)
    cross, fault = None, ""
    try:
        if fields.has("cross_x") or fields.has("cross_y"):
            cross = fields.length("cross_x"), fields.length("cross_y")
    except FieldError as error:
        fault = error_words(error)
    picture = picture_of(row, glance.setup)
    found = work.newest(row.studio, KIND, about(row, picture))
    return render(
        request,
        template,
        {
            "row": row,
            "scene": picture.scene,
            "setup": picture.setup,
            "glance": glance,
            "wanted": wanted_words(picture, glance.unit),
            "lines": lines(picture, cross, found, glance.unit),
            "work": found,
            "percent": 0 if found is None else round(found.share * 100),
            "cross": cross,
            "cross_x": data.get("cross_x", "")[:40],
            "cross_y": data.get("cross_y", "")[:40],
            "fault": fault,
            "table": plan(picture),
            "looked": format_length(FAR * picture.size_at_aim[0], glance.unit),
            "cross_from_back": picture.scene.surface.depth - cross[1] if cross is not None else 0.0,
            "radius": 0.016 * picture.scene.surface.width,
            "text": 0.019 * picture.scene.surface.width,
        },
    )
