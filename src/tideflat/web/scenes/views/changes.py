"""Every change of a scene comes through here: one verb, one act, one step to undo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from tideflat.core import model
from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, stylist_required
from tideflat.web.accounts.models import Studio
from tideflat.web.bridge.sentences import error_words
from tideflat.web.stores.pictures import SkinBook
from tideflat.web.stores.queries import NotInStores, backdrop_in, body_in, core_stores, lens_in, prop_in, surface_in
from tideflat.web.ui.fields import Fields

from ..models import Scene
from ..queries import Glance
from ..services import brief, brief_fields, frame, judgement, palette, placements
from ..services.history import Edit, StaleRevision, change_scene, redo, undo
from ..services.references import facts_from
from ..turns import in_turn
from .parts import find_scene, glance_of, is_over_limit, notice, stage_response

Act = Callable[[model.Scene, Fields], Edit]

ACTS: dict[str, Act] = {
    "move": placements.move,
    "turn": placements.turn,
    "lean": placements.lean,
    "raise": placements.raise_to,
    "rest": placements.rest,
    "role": placements.role,
    "hold": placements.hold,
    "lock": placements.lock,
    "duplicate": placements.duplicate,
    "remove": placements.remove,
    "hide": placements.hide,
    "preset": frame.preset,
    "camera": frame.camera,
    "pan": frame.pan,
    "deliverable": frame.deliverable,
    "crop": frame.crop_move,
    "deliverable-remove": frame.deliverable_remove,
    "setup-add": frame.setup_add,
    "setup-rename": frame.setup_rename,
    "setup-remove": frame.setup_remove,
    "title": brief.title,
    "leaning": brief.leaning,
    "begin": brief_fields.begin,
    "brief": brief_fields.brief_field,
    "palette-subject": palette.from_subject,
    "palette-read": palette.from_file,
    "palette-colour": palette.colour,
    "palette-drop": palette.drop,
    "backdrop-place": brief.backdrop_place,
    "room": brief.room,
}
JUDGEMENTS = {"accept": judgement.accept, "reconsider": judgement.reconsider}


def _add(studio: Studio, fields: Fields) -> Act:
    item = prop_in(studio, fields.whole("item"))
    return lambda scene, f: placements.add_prop(
        scene, item.prop, item.role, *placements.free_place(scene, f.text("setup", 120), item.prop.shape)
    )


def _surface(studio: Studio, fields: Fields) -> Act:
    surface = surface_in(studio, fields.whole("item"))
    return lambda scene, f: brief.use_surface(scene, surface)


def _backdrop(studio: Studio, fields: Fields) -> Act:
    if not fields.has("item"):
        return lambda scene, f: brief.use_backdrop(scene, None, "none")
    backdrop, name = backdrop_in(studio, fields.whole("item"))
    return lambda scene, f: brief.use_backdrop(scene, backdrop, name)


def _lens(studio: Studio, fields: Fields) -> Act:
    lens, name = lens_in(studio, fields.text("item", 40))
    return lambda scene, f: frame.use_lens(scene, f.text("setup", 120), lens, name)


def _body(studio: Studio, fields: Fields) -> Act:
    sensor, name, own = body_in(studio, fields.whole("item"))
    return lambda scene, f: frame.use_body(scene, f.text("setup", 120), sensor, name, own)


def _remedy(studio: Studio, fields: Fields) -> Act:
    stores = core_stores(studio)
    return lambda scene, f: judgement.apply_remedy(scene, f, stores, studio.pk)


def _from_references(row: Scene) -> Act:
    shares = [facts_from(r.facts).colours for r in row.references.all()]
    return lambda scene, f: palette.from_references(scene, shares)


#: Verbs that may take something out of the stores.
FROM_STORES: dict[str, Callable[[Studio, Fields], Act]] = {
    "add": _add,
    "surface": _surface,
    "backdrop": _backdrop,
    "lens": _lens,
    "body": _body,
    "remedy": _remedy,
}
#: Verbs that take what is kept beside the scene's document.
BESIDE: dict[str, Callable[[Scene], Act]] = {"palette-references": _from_references}
VERBS: tuple[str, ...] = (*ACTS, *JUDGEMENTS, *FROM_STORES, *BESIDE)


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
    try:
        act = FROM_STORES[verb](studio, fields) if verb in FROM_STORES else BESIDE[verb](found) if verb in BESIDE else ACTS.get(verb)

        def make(scene: model.Scene, accepted: list[dict[str, Any]]) -> Edit:
            if act is None:
                return JUDGEMENTS[verb](scene, accepted, fields, SkinBook(studio.pk))
            edit = act(scene, fields)
            if verb == "setup-rename":
                return replace(edit, accepted=judgement.follow_setup(accepted, glance.setup, fields.text("name", 120)))
            return edit

        row, edit, before = change_scene(studio, scene_id, fields.whole("revision"), request.user, make, found)
    except NotInStores:
        raise Http404 from None
    except StaleRevision as stale:
        return _stale(request, scene_id, stale)
    except FieldError as error:
        return notice(request, error_words(error))
    return stage_response(request, row, _after(glance, edit, verb, fields), before, around=(edit.label[:200], None))


def _after(glance: Glance, edit: Edit, verb: str, fields: Fields) -> Glance:
    """What the person has before them after the act: a new thing is in hand, a removed one is not, a new set-up is shown."""
    if verb in ("add", "duplicate") and edit.selected:
        return replace(glance, selected=edit.selected, tray="held")
    if verb == "remove":
        return replace(glance, selected="", tray="things")
    if verb == "setup-add":
        return replace(glance, setup=edit.scene.setups[-1].name)
    if verb == "setup-rename":
        return replace(glance, setup=fields.text("name", 120))
    if verb == "deliverable":
        return replace(glance, crop=fields.text("name", 120) or glance.crop)
    return glance


def _stale(request: StudioRequest, scene_id: int, stale: StaleRevision) -> HttpResponse:
    row = find_scene(request, scene_id)
    text = f"This scene was changed in another window ({stale.latest}). What you see now is the newest; your last step was not applied."
    return stage_response(request, row, glance_of(request), notice_text=text, status=409)


@stylist_required
@require_POST
def undo_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    return _travel(request, scene_id, undo)


@stylist_required
@require_POST
def redo_view(request: StudioRequest, scene_id: int) -> HttpResponse:
    return _travel(request, scene_id, redo)


@in_turn
def _travel(request: StudioRequest, scene_id: int, go: Callable[[Studio, int, int], tuple[Scene, str]]) -> HttpResponse:
    find_scene(request, scene_id)
    try:
        revision = Fields(request.POST).whole("revision")
        row, _ = go(request.membership.studio, scene_id, revision)
    except StaleRevision as stale:
        return _stale(request, scene_id, stale)
    except FieldError as error:
        return notice(request, error_words(error))
    if request.POST.get("then") == "bench":  # from the page of a scene that could not be shown
        return redirect("bench", scene_id=scene_id)
    return stage_response(request, row, glance_of(request))
