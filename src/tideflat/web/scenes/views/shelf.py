"""The shelf: scenes as small true pictures; begin, import, drop one."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from tideflat.core.camera.uses import USES
from tideflat.core.errors import FieldError
from tideflat.core.formats.reading import MAX_BYTES
from tideflat.core.formats.scene_reader import read_scene
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.accounts.throttle import too_many
from tideflat.web.bridge.error_words import error_words
from tideflat.web.ui.fields import Fields, whole_from

from .. import starters
from ..services.beginning import begun, with_pictures
from ..services.history import begin_scene, mark_put_away
from ..shelf import SORTS, ShelfWish, on_shelf, on_the_shelf, put_away
from ..shelf import shelf as shelf_scenes
from ..turns import in_turn
from .answers import find_scene


@member_required
def shelf(request: StudioRequest) -> HttpResponse:
    """The studio's scenes."""
    return _shelf(request)


def _shelf(request: StudioRequest, *, fault: str = "", status: int = 200) -> HttpResponse:
    studio = request.membership.studio
    wish = ShelfWish.of(request.GET.get("q", ""), request.GET.get("sort", ""))
    context = {
        "scenes": shelf_scenes(studio, request.preference.unit, wish),
        "wish": wish,
        "sorts": SORTS.items(),
        "count": on_the_shelf(studio),
        "away": put_away(studio),
        "starters": starters.CHOICES,
        "uses": USES,
        "fault": fault,
    }
    return render(request, "scenes/shelf.html", context, status=status)


@member_required
@require_GET
@in_turn
def shelf_scene(request: StudioRequest, scene_id: int) -> HttpResponse:
    """One scene of the shelf that was too much to be drawn with the others."""
    item = on_shelf(find_scene(request, scene_id), request.preference.unit)
    return render(request, "scenes/fragments/shelf_scene.html", {"item": item})


@stylist_required
@require_POST
def new_scene(request: StudioRequest) -> HttpResponse:
    """Begin with what the picture is for and one sentence, or from one of the demo scenes."""
    kind = request.POST.get("from", "empty")
    if kind not in starters.CHOICES:
        return _shelf(request, fault="Choose what to begin from.", status=400)
    studio = request.membership.studio
    document = starters.starter(kind)
    if kind == "empty":
        try:
            document = begun(studio, document, Fields(request.POST))
        except FieldError as error:
            return _shelf(request, fault=error_words(error), status=400)
    row = begin_scene(studio, with_pictures(studio, document), request.user, "scene begun")
    return redirect(f"{reverse('bench', args=[row.pk])}{'?tray=brief' if kind == 'empty' else ''}")


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
    row = begin_scene(request.membership.studio, with_pictures(request.membership.studio, document), request.user, "scene imported")
    return redirect("bench", scene_id=row.pk)


@stylist_required
@require_POST
def put_away_scene(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Take a scene off the shelf; nothing of it is lost, and it can be brought back."""
    mark_put_away(request.membership.studio, find_scene(request, scene_id).pk, away=True)
    return redirect("shelf")


@stylist_required
@require_POST
def put_away_several(request: StudioRequest) -> HttpResponse:
    """Those that were chosen, off the shelf together; what is not the studio's is passed over."""
    for text in request.POST.getlist("scene")[:200]:
        pk = whole_from(text)
        if pk is not None:
            mark_put_away(request.membership.studio, pk, away=True)
    return redirect("shelf")


@stylist_required
@require_POST
def bring_back_scene(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Put a scene on the shelf again."""
    mark_put_away(request.membership.studio, find_scene(request, scene_id).pk, away=False)
    return redirect("shelf")
