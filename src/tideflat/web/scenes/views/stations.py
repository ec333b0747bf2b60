"""What the brief and the palette need beside the scene's document: references, the day, reservations, usual leanings, palettes out."""

from __future__ import annotations

from datetime import date

from django.http import Http404, HttpResponse
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from tideflat.core.errors import FieldError
from tideflat.core.formats.palettes import KINDS, write_palette
from tideflat.web.accounts.access import StudioRequest, member_required, owner_required, stylist_required
from tideflat.web.accounts.services import set_usual_leanings
from tideflat.web.accounts.throttle import too_many
from tideflat.web.bridge.error_words import error_words
from tideflat.web.stores.image_turn import TooBusy, image_turn
from tideflat.web.stores.images import photograph_from

from ..models import Reference
from ..services.history import core_scene
from ..services.references import MOST_REFERENCES, add_references, change_reference, prepared
from ..services.reservations import reserve_table, set_day
from .answers import find_scene, notice
from .bench import tray_response

_TYPES = {"gpl": "text/plain", "json": "application/json", "css": "text/css"}
_PICTURES_A_MINUTE = 40


@stylist_required
@require_POST
def send_reference(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Reference pictures, all of them or none; the tray answers with what they are like."""
    row = find_scene(request, scene_id)
    if too_many("reference", str(request.user.pk), _PICTURES_A_MINUTE, 60):
        return notice(request, "Too many pictures in a minute. Wait a little, then send the rest.", 429)
    uploads: list[object] = list(request.FILES.getlist("picture")) or [None]
    try:
        if len(uploads) > MOST_REFERENCES:
            raise FieldError("references", f"must be at most {MOST_REFERENCES} in all", show_got=False)
        with image_turn():
            pictures = [prepared(photograph_from(upload, "picture")) for upload in uploads]
        add_references(request.membership.studio, row.pk, pictures, request.POST.get("note", ""))
    except FieldError as error:
        return notice(request, error_words(error), 503 if isinstance(error, TooBusy) else 400)
    return tray_response(request, scene_id)


@stylist_required
@require_POST
def one_reference(request: StudioRequest, scene_id: int, reference_id: int) -> HttpResponse:
    """Its note, its place in the order, or away with it."""
    find_scene(request, scene_id)
    way = {"earlier": -1, "later": 1}.get(request.POST.get("way", ""), 0)
    note = request.POST.get("note")
    try:
        change_reference(request.membership.studio, scene_id, reference_id, note=note, way=way, drop=request.POST.get("way") == "drop")
    except Reference.DoesNotExist:
        raise Http404 from None
    except FieldError as error:
        return notice(request, error_words(error))
    return tray_response(request, scene_id)


@stylist_required
@require_POST
def shoot_day(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The day the scene is shot; empty takes it back."""
    find_scene(request, scene_id)
    text = request.POST.get("day", "").strip()
    try:
        day = date.fromisoformat(text) if text else None
    except ValueError:
        return notice(request, "The day must be written as 2026-12-01.")
    set_day(request.membership.studio, scene_id, day)
    return tray_response(request, scene_id)


@stylist_required
@require_POST
def reserve(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Reserve what stands on the table for the scene's day."""
    row = find_scene(request, scene_id)
    if row.shoot_on is None:
        return notice(request, "Say first on which day it is shot.")
    reserve_table(request.membership.studio, scene_id)
    return tray_response(request, scene_id)


@owner_required
@require_POST
def usual_leanings(request: StudioRequest, scene_id: int) -> HttpResponse:
    """This scene's leanings become what the studio's new scenes begin with."""
    row = find_scene(request, scene_id)
    set_usual_leanings(request.membership.studio, dict(core_scene(row).brief.leanings))
    return notice(request, "New scenes of the studio begin with these leanings.", 200)


@member_required
@require_GET
def palette_file(request: StudioRequest, scene_id: int, palette_kind: str) -> HttpResponse:
    """The palette as a palette file (.gpl), JSON, or CSS custom properties."""
    row = find_scene(request, scene_id)
    scene = core_scene(row)
    if palette_kind not in KINDS or scene.palette is None:
        raise Http404
    response = HttpResponse(write_palette(scene.palette, palette_kind, row.title), content_type=f"{_TYPES[palette_kind]}; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{slugify(row.title) or "palette"}.{palette_kind}"'
    return response
