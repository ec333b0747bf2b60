"""The drawn light of both views and its readings, for a window that shows a scene."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpResponse, JsonResponse
from django.template.loader import render_to_string
from django.views.decorators.http import require_GET

from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.light.sun import moment_of
from tideflat.core.model import Sun
from tideflat.web.accounts.access import StudioRequest, member_required
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.bridge.light_drawn import clips
from tideflat.web.bridge.light_words import day_line, told_words
from tideflat.web.bridge.lights_drawn import mirrors_drawn
from tideflat.web.ui.fields import Fields
from tideflat.web.work.light_keeper import KEEPER

from ..forms.lights import light_move
from ..light_asked import question
from ..proofs import keep_exposed
from ..queries import picture_of
from ..services.acting import asked_from
from .answers import find_scene, glance_of, notice

LIGHTS_A_MINUTE = 600
#: Of the places of a view so many are looked at while a light is held.
QUICK_SHARE = 0.5


@member_required
@require_GET
def light_drawn(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Pictures of the light, and the outlines that the things' light keeps to; while a light is held (``key``, ``id``, where it is), as it
    would be there. Where ``told`` is asked, instead, what the light does in words, and what a browser draws it by. 204 where a newer
    question overtook this one."""
    row = find_scene(request, scene_id)
    if too_many_here("light", str(request.user.pk), LIGHTS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    if not settings.DRAWS_LIGHT:
        return HttpResponse(status=204)
    fields, glance = Fields(request.GET), glance_of(request)
    picture = picture_of(row, glance.setup)
    is_held = fields.has("key")
    if is_held:
        try:
            moved = light_move(asked_from(picture.whole, fields, row, request.membership.studio))
            picture = picture.changed(tried(picture.whole, [act_from_value(moved)]))
        except FieldError:
            return HttpResponse(status=204)
    wants_words = fields.has("told") and not is_held
    found = KEEPER.ask(row.pk, question(picture, told=wants_words, share=QUICK_SHARE if is_held else 1.0))
    if found is None or "fault" in found:
        return HttpResponse(status=204)
    told, exposed = found.pop("told", None), found.pop("exposed")
    if not is_held:
        keep_exposed(row, picture, exposed)
    more = clips(picture) if told is None and not is_held else {}
    words = {} if told is None else {"told": _told(picture, told)}
    answer = {"revision": row.revision, "setup": picture.setup.name, **found, **words, **more}
    return JsonResponse(answer, json_dumps_params={"separators": (",", ":")})


@member_required
@require_GET
def light_mirrored(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Where gloss and metal show lights, cards, rig and the lens, as outlines in the frame. 204 where a newer question overtook this one."""
    row = find_scene(request, scene_id)
    if too_many_here("light", str(request.user.pk), LIGHTS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    if not settings.DRAWS_LIGHT:
        return HttpResponse(status=204)
    picture = picture_of(row, glance_of(request).setup)
    found = KEEPER.ask(row.pk, {**question(picture), "mirrors": True})
    if found is None or "fault" in found:
        return HttpResponse(status=204)
    return JsonResponse({"revision": row.revision, "setup": picture.setup.name, "shown": mirrors_drawn(found["mirrors"], picture)})


def _told(picture: Picture, told: dict[str, object]) -> str:
    names = {i: prop.name for i, prop in picture.props.items()}
    sun = next((light for light in picture.scene.lights if isinstance(light, Sun) and light.on), None)
    day = None if sun is None else day_line(told, moment_of(sun.time).strftime("%H:%M"))
    context = {"lines": told_words(told, names), "is_usual": not picture.scene.lights, "day": day}
    return render_to_string("scenes/fragments/light_told.html", context)
