"""Pictures of the stores: a prop drawn small, and the photographs things wear."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_GET

from tideflat.web.accounts.access import StudioRequest, member_required
from tideflat.web.bridge.portrait import portrait_svg

from ..images import worn_by
from ..models import StoreImage
from ..queries import NotInStores, prop_in


@member_required
@require_GET
def prop_picture(request: StudioRequest, prop_id: int) -> HttpResponse:
    """The prop through a lens from 35 degrees, as SVG."""
    try:
        found = prop_in(request.membership.studio, prop_id)
    except NotInStores:
        raise Http404 from None
    response = HttpResponse(portrait_svg(found.prop, worn_by(request.membership.studio, found.prop)), content_type="image/svg+xml")
    response["Cache-Control"] = "private, max-age=600"
    return response


@member_required
@require_GET
def stored_picture(request: StudioRequest, key: str) -> HttpResponse:
    """The pixels, only ever as WebP, or JPEG, that this program encoded itself; the studio's own only."""
    row = StoreImage.objects.filter(studio=request.membership.studio, key=key).first()
    if row is None:
        raise Http404
    is_jpeg = bytes(row.data[:2]) == b"\xff\xd8"  # a photograph that is being measured
    response = HttpResponse(bytes(row.data), content_type="image/jpeg" if is_jpeg else "image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable"  # a key names its pixels for good
    response["Content-Security-Policy"] = "default-src 'none'; sandbox"
    return response
