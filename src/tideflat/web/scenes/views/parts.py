"""What the scene views share: who looks, at what, and how the stage is answered."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django_htmx.http import reswap

from tideflat.core import model
from tideflat.core.evaluate import Picture
from tideflat.web.accounts.access import StudioRequest
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.stores.queries import bodies_and_lenses, lens_choices, materials

from ..brief_reads import brief_tray, held_words
from ..from_stores import exchanged, store_tray, supports_for
from ..models import Scene
from ..palette_reads import palette_tray
from ..queries import Glance, chosen_crop, scene_in, stage

CHANGES_A_MINUTE = 900


def glance_of(request: StudioRequest) -> Glance:
    """What the person has before them, from the request's parameters."""
    data = request.POST if request.method == "POST" else request.GET
    return Glance(
        setup=data.get("setup", "")[:120],
        selected=data.get("selected", "")[:64],
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


def beside_tray(request: StudioRequest, row: Scene, picture: Picture, glance: Glance) -> dict[str, Any]:
    """What the open tray shows beside the scene itself: of the stores, the references, the day. ``picture``: the set-up that is shown."""
    studio = request.membership.studio
    data = request.POST if request.method == "POST" else request.GET
    match glance.tray:
        case "store":
            place = data.get("place", "")[:64]
            return {
                **store_tray(row, picture, data.get("q", "")[:80], data.get("want", "goes")[:10], glance.selected),
                "place": exchanged(picture, place),
            }
        case "brief":
            return brief_tray(row, picture, data.get("ask", "")[:20])
        case "palette":
            shown = palette_tray(picture, chosen_crop(picture, glance.crop))
            return {"palette": shown, "has_references": row.references.exists()}
        case "deliverables":
            return {"held_ways": held_words(picture)}
        case "camera":
            bodies, lenses = bodies_and_lenses(studio)
            return {"bodies": bodies, "lenses": lens_choices(lenses), "supports": supports_for(row, picture)}
        case "materials":
            surfaces, backdrops = materials(studio)
            return {"surfaces": surfaces, "backdrops": backdrops}
    return {}


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
    """``shown``, ``around``: as for ``queries.stage``."""
    drawn = stage(row, glance, shown, around)
    context = {**drawn, **beside_tray(request, row, drawn["picture"], glance), **extra}
    return render(request, "scenes/fragments/stage.html", context, status=status)


def notice(request: StudioRequest, text: str, status: int = 400) -> HttpResponse:
    """One line to the person; what is on the page, typed values too, stays as it is."""
    return reswap(render(request, "ui/fragments/notice.html", {"text": text, "swap": True}, status=status), "none")


def is_over_limit(request: StudioRequest) -> bool:
    return too_many_here("change", str(request.user.pk), CHANGES_A_MINUTE, 60)
