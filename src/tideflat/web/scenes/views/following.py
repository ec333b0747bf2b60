"""What follows a hand that has not let go: the act tried on the scene, judged, and thrown away."""

from __future__ import annotations

import json

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from tideflat.core.camera.view import view_of
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.model import Scene
from tideflat.web.accounts.access import StudioRequest, stylist_required
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.bridge.geometry import projection
from tideflat.web.bridge.scheme_drawn import scheme_drawn
from tideflat.web.bridge.sharp_words import things_words, zone_drawn, zone_words
from tideflat.web.bridge.sheets import frame_sheet, table_sheet
from tideflat.web.ui.fields import Fields

from ..glance import Glance
from ..services.acting import asked_for, asked_from
from ..services.history import core_scene
from ..stage import judged_alone
from ..turns import in_turn
from .answers import find_scene, glance_of

#: What a hand does while it holds something.
VERBS = ("let-go", "move", "turn", "shift", "spin", "raise", "stand", "pan", "repeat", "bend", "camera")

#: A window asks a dozen times a second at most, while a hand holds something.
FOLLOWS_A_MINUTE = 1500


@stylist_required
@require_GET
@in_turn
def follow(request: StudioRequest, scene_id: int, verb: str) -> HttpResponse:
    """Readings and findings as they would be after the act, word for word those of a release there; nothing is kept. 204 where the window
    shows another revision, or where the act cannot be done: what is shown then stays."""
    row = find_scene(request, scene_id)
    if verb not in VERBS:
        raise Http404
    glance = glance_of(request)
    fields = Fields(request.GET, glance.unit)
    if fields.text("revision", 20) != str(row.revision) or too_many_here("follow", str(request.user.pk), FOLLOWS_A_MINUTE, 60):
        return HttpResponse(status=204)
    try:
        edit = asked_for(asked_from(core_scene(row), fields, row, request.membership.studio), verb)
    except FieldError:
        return HttpResponse(status=204)
    setup = next((s for s in edit.scene.setups if s.name == glance.setup), edit.scene.setups[0])
    seen, lies = edit.scene.seen_in(setup), dict[str, object]()
    if verb == "stand":
        lies = {"through": json.dumps(projection(view_of(setup.camera)))}
    if verb == "camera":
        lies = {"sharp": json.dumps(_sharp(Picture(edit.scene, setup), glance))}
    if verb == "let-go" and edit.held is not None:
        held = seen.placement(edit.held)
        lies = {"on": seen.prop(seen.placement(held.on).prop).name if held.on else "", "z": held.z}
        lies["room"] = json.dumps(_made_room(core_scene(row).seen_in(setup), seen, fields)) if fields.text("room", 5) else ""
    if verb == "bend":
        lies = {"scheme": json.dumps(_bent(core_scene(row).seen_in(setup), seen, Picture(edit.scene, setup)))}
    if verb == "repeat":
        lies = {"row": json.dumps(_laid(core_scene(row), seen, fields.text("id", 64)))}
    return render(request, "scenes/fragments/follow.html", {**judged_alone(row, glance, edit.scene), "lies": lies})


def _made_room(before: Scene, after: Scene, fields: Fields) -> dict[str, object]:
    """How far what makes room would be from where it stands, mm, by id; not what is in hand, nor what only goes along."""
    held = fields.text("id", 64)
    apart = {held, *before.carried_by(held), *(group.placements if (group := before.group_of(held)) else ())}
    was = {p.id: p for p in before.placements}
    moved = {p.id: p for p in after.placements if p.id in was and p.id not in apart and (p.x, p.y) != (was[p.id].x, was[p.id].y)}
    led = {j for i in moved for j in before.carried_by(i)}
    return {i: (round(p.x - was[i].x, 1), round(p.y - was[i].y, 1)) for i, p in moved.items() if i not in led}


def _sharp(picture: Picture, glance: Glance) -> dict[str, object]:
    """What of the table is sharp in both views, in a sentence, and how each thing is, by id."""
    drawn = zone_drawn(picture, table_sheet(picture.scene.surface), frame_sheet(picture.view))
    things = {t["id"]: (t["state"], t["words"], t["pixels"]) for t in things_words(picture)}
    return {**drawn, "words": zone_words(picture, glance.crop or None, glance.unit), "things": things}


def _bent(before: Scene, after: Scene, picture: Picture) -> dict[str, object]:
    """The scheme's line in both views as it would be, and where what follows it would stand: x, y, mm, turn, by id."""
    drawn = scheme_drawn(picture) or {"frame": "", "table": ""}
    was = {p.id: p for p in before.placements}
    moved = {p.id: (p.x, p.y, p.turn) for p in after.placements if p.id in was and (p.x, p.y) != (was[p.id].x, was[p.id].y)}
    return {"frame": drawn["frame"], "table": drawn["table"], "places": moved}


def _laid(before: Scene, after: Scene, lead_id: str) -> list[list[float]]:
    """Where each new one of a row would stand: how far from the first along x and y, mm, and turned by how much, degrees."""
    lead, had = after.placement(lead_id), {p.id for p in before.placements}
    fresh = [p for p in after.placements if p.id not in had and p.prop == lead.prop and p.on == lead.on]
    return [[round(p.x - lead.x, 1), round(p.y - lead.y, 1), round(p.turn - lead.turn, 1)] for p in fresh]
