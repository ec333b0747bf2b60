"""A proof while the bench goes on: begun, asked about, stopped, mixed anew."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST

from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.fields import Fields
from tideflat.web.work import services as work
from tideflat.web.work.models import Work

from ..models import Scene
from ..proofs import KIND, ask, kept_here, may_prove, mixed_anew, newest, told_of
from ..queries import picture_of
from .answers import find_scene, glance_of, notice

PROOFS_A_MINUTE = 12
MIXED_A_MINUTE = 600
#: A light is made stronger or weaker by so many stops at the most.
_MOST_STOPS = 6.0


@stylist_required
@require_POST
def begin_proof(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Begin; the strip says by itself how it goes on."""
    row = find_scene(request, scene_id)
    if too_many_here("proof", str(request.user.pk), PROOFS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    if not may_prove():
        return _answer(request, row, None)
    return _answer(request, row, ask(row, picture_of(row, glance_of(request).setup)))


@member_required
@require_GET
def proof(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The newest of what stands now, as far as it is."""
    row = find_scene(request, scene_id)
    found = newest(row, picture_of(row, glance_of(request).setup))
    if request.membership.may_change and may_prove() and (found is None or not found.is_under_way):
        work.prepare(KIND)
    return _answer(request, row, found)


@stylist_required
@require_POST
def stop_proof(request: StudioRequest, scene_id: int, work_id: int) -> HttpResponse:
    """What there is by now stays."""
    row = find_scene(request, scene_id)
    found = _one(row, work_id)
    work.stop(found)
    return _answer(request, row, found)


@member_required
@require_GET
def proof_mixed(request: StudioRequest, scene_id: int, work_id: int) -> HttpResponse:
    """Its lights together, each so many stops stronger (``s-ID``), with cards swapped (``c-ID``: what for)."""
    row = find_scene(request, scene_id)
    found = _one(row, work_id)
    if too_many_here("mixed", str(request.user.pk), MIXED_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    strengths: dict[str, float] = {}
    fields = Fields(request.GET)
    for key in request.GET:
        if key.startswith("s-"):
            try:
                strengths[key[2:]] = min(_MOST_STOPS, max(-_MOST_STOPS, fields.number(key)))
            except FieldError as error:
                return notice(request, error_words(error))
    picture = mixed_anew(found, strengths, {key[2:]: request.GET[key] for key in request.GET if key.startswith("c-")})
    if picture is None:
        raise Http404
    return HttpResponse(picture, content_type="image/jpeg")


def _one(row: Scene, work_id: int) -> Work:
    found = Work.objects.filter(studio=row.studio, kind=KIND, pk=work_id).first()
    if found is None:
        raise Http404
    return found


def _answer(request: StudioRequest, row: Scene, found: Work | None) -> HttpResponse:
    context = {
        "row": row,
        "work": found,
        "proof": told_of(found),
        "percent": 0 if found is None else round(found.share * 100),
        "may_prove": may_prove(),
        "kept": kept_here(row, glance_of(request).setup),
        "glance": glance_of(request),
    }
    return render(request, "scenes/fragments/proof.html", context)
