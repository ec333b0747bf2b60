"""A store prop as a small drawing, for lists."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_GET

from tideflat.web.accounts.access import StudioRequest, member_required
from tideflat.web.bridge.portrait import portrait_svg

from ..queries import NotInStores, prop_in


@member_required
@require_GET
def prop_picture(request: StudioRequest, prop_id: int) -> HttpResponse:
    """The prop through a lens from 35 degrees, as SVG."""
    try:
        found = prop_in(request.membership.studio, prop_id)
    except NotInStores:
        raise Http404 from None
    response = HttpResponse(portrait_svg(found.prop), content_type="image/svg+xml")
    response["Cache-Control"] = "private, max-age=600"
    return response
