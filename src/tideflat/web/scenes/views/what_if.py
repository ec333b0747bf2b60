"""The scene on six surfaces side by side, and taking one of them."""

from __future__ import annotations

from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from tideflat.core.errors import FieldError
from tideflat.web.accounts.access import StudioRequest, member_required, stylist_required
from tideflat.web.stores.queries import NotInStores
from tideflat.web.ui.fields import Fields

from ..services.acting import asked_for, asked_from
from ..services.history import StaleRevision, change_scene
from ..turns import in_turn
from ..what_if import tried_surfaces
from .answers import find_scene


@member_required
@in_turn
def what_if(request: StudioRequest, scene_id: int) -> HttpResponse:
    """The scene on six surfaces side by side; POST takes one of them."""
    row = find_scene(request, scene_id)
    setup = (request.POST if request.method == "POST" else request.GET).get("setup", "")[:120]
    if request.method == "POST":
        return _take(request, scene_id, setup)
    tried = tried_surfaces(row, setup)
    return render(request, "scenes/what_if.html", {"row": row, "tried": tried, "setup_name": setup})


@stylist_required
def _take(request: StudioRequest, scene_id: int, setup: str) -> HttpResponse:
    row = find_scene(request, scene_id)
    fields, studio = Fields(request.POST, request.preference.unit), request.membership.studio
    try:
        change_scene(
            studio,
            scene_id,
            fields.whole("revision"),
            request.user,
            lambda scene: asked_for(asked_from(scene, fields, row, studio), "surface"),
        )
    except NotInStores:
        raise Http404 from None
    except (StaleRevision, FieldError):
        messages.error(request, "The scene was changed meanwhile. Look at the surfaces once more; nothing was lost.")
        return redirect(f"{reverse('what_if', args=[scene_id])}?{urlencode({'setup': setup})}")
    return redirect(f"{reverse('bench', args=[scene_id])}?{urlencode({'setup': setup})}")
