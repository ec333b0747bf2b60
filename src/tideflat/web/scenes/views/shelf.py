"""The shelf: scenes as small true pictures; begin, import, drop one."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tideflat.core.errors import FieldError
from tideflat.core.formats.reading import MAX_BYTES
from tideflat.core.formats.scene_reader import read_scene
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.throttle import too_many

from .. import starters
from ..queries import shelf as shelf_scenes
from ..services.history import begin_scene
from .parts import find_scene


@member_required
def shelf(request: StudioRequest) -> HttpResponse:
    """The studio's scenes."""
    return _shelf(request)


def _shelf(request: StudioRequest, *, fault: str = "", status: int = 200) -> HttpResponse:
    scenes = shelf_scenes(request.membership.studio, request.preference.unit)
    return render(request, "scenes/shelf.html", {"scenes": scenes, "starters": starters.CHOICES, "fault": fault}, status=status)


@stylist_required
@require_POST
def new_scene(request: StudioRequest) -> HttpResponse:
    """Begin from an empty table or from one of the demo scenes."""
    kind = request.POST.get("from", "empty")
    if kind not in starters.CHOICES:
        return _shelf(request, fault="Choose what to begin from.", status=400)
    row = begin_scene(request.membership.studio, starters.starter(kind), request.user, "scene begun")
    return redirect("bench", scene_id=row.pk)


@stylist_required
@require_POST
def import_scene(request: StudioRequest) -> HttpResponse:
    """A scene from its open document; nothing is taken in when any part of it is wrong."""
    if too_many("import", str(request.user.pk), 60, 60):
        return _shelf(request, fault="Too many imports in a minute. Wait a little, then try again.", status=429)
    upload = request.FILES.get("document")
    if upload is None:
        return _shelf(request, fault="Choose a scene document (.tideflat.json) first.", status=400)
    try:
        document = read_scene(upload.read(MAX_BYTES + 1))
    except FieldError as error:
        return _shelf(request, fault=f"{error}", status=400)
    row = begin_scene(request.membership.studio, document, request.user, "scene imported")
    return redirect("bench", scene_id=row.pk)


@stylist_required
@require_POST
def delete_scene(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Take a scene off the shelf for good; its document can be exported before."""
    row = find_scene(request, scene_id)
    title = row.title
    row.delete()
    messages.success(request, f"{title} is off the shelf.")
    return redirect("shelf")
