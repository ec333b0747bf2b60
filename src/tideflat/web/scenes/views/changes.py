"""Every change of a scene comes through here: one verb, one act of the core, one step that can be undone."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from tideflat.core import model
from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, stylist_required
from tideflat.web.accounts.models import Studio
from tideflat.web.bridge.error_words import error_words
from tideflat.web.stores.queries import NotInStores
from tideflat.web.ui.fields import Fields

from ..glance import Glance
from ..light_asked import ask_ahead
from ..models import Change, Scene
from ..services.acting import FORMS, asked_for, asked_from, remedied
from ..services.history import Edit, StaleRevision, change_scene, go_to, redo, undo
from ..steps import step_words
from ..turns import in_turn
from .answers import find_scene, glance_of, is_over_limit, notice, stage_response

REMEDY = "remedy"
VERBS: tuple[str, ...] = (*FORMS, REMEDY)


@stylist_required
@require_POST
@in_turn
def change(request: StudioRequest, scene_id: int, verb: str) -> HttpResponse:
    """Do one act and answer with the stage as it is then."""
    found = find_scene(request, scene_id)
    if verb not in VERBS:
        raise Http404
    if is_over_limit(request):
        return notice(request, "Too many changes in a minute. Wait a little; nothing is lost.", 429)
    studio = request.membership.studio
    glance = glance_of(request)
    fields = Fields(request.POST, glance.unit)

    def make(scene: model.Scene) -> Edit:
        if verb == REMEDY:
            return remedied(scene, fields.text("seal", 200_000), found, glance.setup)
        return asked_for(asked_from(scene, fields, found, studio), verb)

    try:
        row, step, edit, before = change_scene(studio, scene_id, fields.whole("revision"), request.user, make, found)
    except NotInStores:
        raise Http404 from None
    except StaleRevision as stale:
        return _stale(request, scene_id, stale)
    except FieldError as error:
        return notice(request, error_words(error))
    undo_name = step_words(step, glance.unit, with_setup=len(edit.scene.setups) > 1)
    after = _after(glance, edit, verb, fields, before)
    ask_ahead(row, after.setup)
    return stage_response(request, row, after, before, around=(undo_name, None))


def _after(glance: Glance, edit: Edit, verb: str, fields: Fields, before: model.Scene) -> Glance:
    """What the person has before them after the act: a new thing is in hand, a removed one is not, a new set-up is shown."""
    if verb in ("add", "add-found", "again") and edit.held:
        return replace(glance, selected=edit.held, several=())  # the stores stay open for the next one
    if verb in ("duplicate", "swap") and edit.held:
        return replace(glance, selected=edit.held, several=(), tray="held")
    if verb == "duplicate-all":
        known = {p.id for p in before.placements}
        fresh = tuple(p.id for p in edit.scene.placements if p.id not in known and p.on is None)
        return replace(glance, selected=fresh[0], several=fresh)
    if verb in ("remove", "remove-all"):
        return replace(glance, selected="", several=())
    if verb == "setup-add":
        return replace(glance, setup=edit.scene.setups[-1].name, only=False)
    if verb == "setup-rename":
        return replace(glance, setup=fields.text("name", 120))
    if verb == "deliverable":
        return replace(glance, crop=fields.text("name", 120) or glance.crop)
    return glance


def _stale(request: StudioRequest, scene_id: int, stale: StaleRevision) -> HttpResponse:
    row = find_scene(request, scene_id)
    step = stale.latest
    latest = "another change"
    if step is not None:
        latest = f"{(step.by.first_name if step.by else '') or 'someone'}: {step_words(step, request.preference.unit)}"
    text = f"This scene was changed in another window ({latest}). What you see now is the newest; your last step was not applied."
    return stage_response(request, row, glance_of(request), notice_text=text, status=409)


@stylist_required
@require_POST
def undo_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    return _travel(request, scene_id, undo)


@stylist_required
@require_POST
def redo_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    return _travel(request, scene_id, redo)


@stylist_required
@require_POST
def go_to_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Back, or on, to any step of the history."""
    return _travel(request, scene_id, lambda studio, pk, revision: go_to(studio, pk, revision, Fields(request.POST).whole("number")))


@in_turn
def _travel(request: StudioRequest, scene_id: int, go: Callable[[Studio, int, int], Scene]) -> HttpResponse:
    find_scene(request, scene_id)
    try:
        row = go(request.membership.studio, scene_id, Fields(request.POST).whole("revision"))
    except Change.DoesNotExist:
        raise Http404 from None
    except StaleRevision as stale:
        return _stale(request, scene_id, stale)
    except FieldError as error:
        return notice(request, error_words(error))
    if request.POST.get("then") == "bench":  # from the page of a scene that could not be shown
        return redirect("bench", scene_id=scene_id)
    glance = glance_of(request)
    ask_ahead(row, glance.setup)
    return stage_response(request, row, glance)
