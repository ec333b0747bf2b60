"""The drawn light of both views, for a window that shows a scene."""

from __future__ import annotations


from django.http import HttpResponse, JsonResponse
from django.views.decorators.http import require_GET

from tideflat.core.formats.scene_writer import pack_scene
from tideflat.web.accounts.access import StudioRequest, member_required
from tideflat.web.accounts.throttle import too_many_here
from tideflat.web.bridge.light_drawn import clips
from tideflat.web.work.light_keeper import KEEPER

from ..queries import picture_of
from .answers import find_scene, glance_of, notice

LIGHTS_A_MINUTE = 240


@member_required
@require_GET
def light_drawn(request: StudioRequest, scene_id: int) -> HttpResponse:
    """Pictures of the light, and the outlines that the things' light keeps to; 204 where a newer question overtook this one."""
    row = find_scene(request, scene_id)
    if too_many_here("light", str(request.user.pk), LIGHTS_A_MINUTE, 60):
        return notice(request, "That is asked for very often. Wait a little; nothing is lost.", 429)
    picture = picture_of(row, glance_of(request).setup)
    found = KEEPER.ask(row.pk, {"document": pack_scene(picture.whole), "setup": picture.setup.name})
    if found is None or "fault" in found:
        return HttpResponse(status=204)
    return JsonResponse({"revision": row.revision, "setup": picture.setup.name, **found, **clips(picture)}, json_dumps_params={"separators": (",", ":")})


