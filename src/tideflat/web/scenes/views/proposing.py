"""Arrangements that are looked for while the bench goes on: begun, asked about, stopped, put away."""

from __future__ import annotations

import json

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST
from django_htmx.http import reswap, retarget

from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.bridge.error_words import error_words
from tideflat.web.bridge.scheme_words import SCHEME_WORDS
from tideflat.web.ui.fields import whole_from
from tideflat.web.work import services as work
from tideflat.web.work.models import Work

from ..models import Scene
from ..proposals import KIND, ask, strip
from ..services.history import core_scene
from ..turns import in_turn
from .answers import find_scene, glance_of, notice

ASKED_A_MINUTE = 20
_MOST_SEED = 2**31


@stylist_required
@require_POST
def propose(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Begin; the strip says by itself how it goes on."""
    row = find_scene(request, scene_id)
    if too_many_here("propose", str(request.user.pk), ASKED_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    keep = tuple(request.POST.get("keep", "")[:33_000].split())
    seed, way = whole_from(request.POST.get("seed", "")) or 1, request.POST.get("way", "")[:20]
    try:
        setup, scheme = request.POST.get("setup", "")[:120], request.POST.get("scheme", "any")[:20]
        together = request.POST.get("together") == "1"
        found = ask(row, setup, scheme, keep, seed % _MOST_SEED, way, together)
    except FieldError as error:
        return notice(request, error_words(error))
    return _answer(request, row, found, seed)


@member_required
@require_GET
def proposals(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The newest that was looked for, as far as it is; for who says how many it shows, only the line that tells of it while there
    is no more to show."""
    row = find_scene(request, scene_id)
    found = work.newest(row.studio, KIND, row.pk)
    have = whole_from(request.GET.get("have", ""))
    if request.membership.may_change and (found is None or not found.is_under_way):
        work.prepare()
    if found is None or have is None:
        return _answer(request, row, found, 1)
    count = len(json.loads(found.told))
    if not found.is_under_way or count != have:
        return retarget(reswap(_answer(request, row, found, 1), "outerHTML"), "#proposals")
    told = {"row": row, "work": found, "percent": round(found.share * 100), "count": count, "glance": glance_of(request)}
    return render(request, "scenes/fragments/proposal_status.html", told)


@stylist_required
@require_POST
def stop_proposing(request: StudioRequest, scene_id: int, work_id: int) -> HttpResponse:
    """What there is by now stays; with ``away`` it goes too."""
    row = find_scene(request, scene_id)
    found = work.one(row.studio, KIND, row.pk, work_id)
    if found is None:
        raise Http404
    if request.POST.get("away") == "1":
        work.put_away(found)
        return _answer(request, row, None, 1)
    work.stop(found)
    return _answer(request, row, found, 1)


@in_turn
def _answer(request: StudioRequest, row: Scene, found: Work | None, seed: int) -> HttpResponse:
    glance = glance_of(request)
    shown = [] if found is None else strip(row, glance.setup, found, glance.unit)
    return render(
        request,
        "scenes/fragments/proposals.html",
        {
            "row": row,
            "work": found,
            "percent": 0 if found is None else round(found.share * 100),
            "shown": shown,
            "count": len(shown),
            "schemes": SCHEME_WORDS,
            "seed": seed + 1,
            "has_several": len(core_scene(row).setups) > 1,
            "glance": glance,
        },
    )
