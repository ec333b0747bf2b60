"""What the scene views share: who looks, at what, and how the stage is answered."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django_htmx.http import reswap

from tideflat.core import model
from tideflat.web.accounts.access import StudioRequest
from tideflat.web.accounts.throttle import too_many_here

from ..glance import Glance
from ..models import Scene
from ..queries import scene_in
from ..stage import stage

CHANGES_A_MINUTE = 900


def glance_of(request: StudioRequest) -> Glance:
    """What the person has before them, from the request's parameters."""
    data = request.POST if request.method == "POST" else request.GET
    return Glance(
        setup=data.get("setup", "")[:120],
        selected=data.get("selected", "")[:64],
        several=tuple(data.get("several", "")[:33_000].split()),
        tray=data.get("tray", "things")[:20],
        crop=data.get("crop", "")[:120],
        unit=request.preference.unit,
        only=data.get("only", "") == "1",
        may_change=request.membership.may_change,
    )


def find_scene(request: StudioRequest, scene_id: int) -> Scene:
    """The scene in the person's studio, else 404."""
    try:
        return scene_in(request.membership.studio, scene_id)
    except Scene.DoesNotExist:
        raise Http404 from None


def asked_of(request: StudioRequest) -> dict[str, str]:
    """What else the request says, for the open tray."""
    return (request.POST if request.method == "POST" else request.GET).dict()  # type: ignore[return-value]


def stage_response(
    request: StudioRequest,
    row: Scene,
    glance: Glance,
    shown: model.Scene | None = None,
    *,
    status: int = 200,
    around: tuple[str | None, str | None] | None = None,
    **extra: Any,
) -> HttpResponse:
    """``shown``, ``around``: as for ``stage.stage``."""
    context = {**stage(row, glance, asked_of(request), shown, around), **extra}
    return render(request, "scenes/fragments/stage.html", context, status=status)


def notice(request: StudioRequest, text: str, status: int = 400) -> HttpResponse:
    """One line to the person; what is on the page, typed values too, stays as it is."""
    return reswap(render(request, "ui/fragments/notice.html", {"text": text, "swap": True}, status=status), "none")


def is_over_limit(request: StudioRequest) -> bool:
    return too_many_here("change", str(request.user.pk), CHANGES_A_MINUTE, 60)
