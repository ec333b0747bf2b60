"""Copies: of a scene, and of things into another scene."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, stylist_required
from tideflat.web.accounts.throttle import too_many
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.fields import Fields

from ..services.copying import copy_scene, copy_things
from ..services.history import StaleRevision
from .answers import find_scene, notice

_COPIES_A_MINUTE = 40


@stylist_required
@require_POST
def copy_scene_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Another scene that begins as this one stands now; its history is its own."""
    row = find_scene(request, scene_id)
    if too_many("copy", str(request.user.pk), _COPIES_A_MINUTE, 60):
        return notice(request, "Too many copies in a minute. Wait a little; nothing is lost.", 429)
    return redirect("bench", scene_id=copy_scene(request.membership.studio, row, request.user).pk)


@stylist_required
@require_POST
def copy_things_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The things in hand, with what they carry, put into another scene of the studio; one step there."""
    row = find_scene(request, scene_id)
    fields = Fields(request.POST)
    if too_many("copy", str(request.user.pk), _COPIES_A_MINUTE, 60):
        return notice(request, "Too many copies in a minute. Wait a little; nothing is lost.", 429)
    try:
        other = fields.whole("to")
        goal = find_scene(request, other) if other != row.pk else None
        if goal is None:
            raise Http404
        ids = fields.text("ids", 33_000).split()
        count = copy_things(request.membership.studio, row, goal, fields.text("setup", 120), ids, request.user)
    except StaleRevision:
        return notice(request, "That scene was changed in this moment. Try once more.", 409)
    except FieldError as error:
        return notice(request, error_words(error))
    return notice(request, f"{count} {'thing' if count == 1 else 'things'} copied into {goal.title}.", 200)
