"""Who may see and who may change: the one place where views ask."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any
from urllib.parse import urlencode

from django.conf import settings
from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.core.exceptions import PermissionDenied
from django.http import HttpRequest, HttpResponse
from django.urls import reverse
from django_htmx.http import HttpResponseClientRedirect
from django_htmx.middleware import HtmxDetails

from .models import Membership, Preference


class StudioRequest(HttpRequest):
    """A request of someone who is signed in and belongs to a studio, as the decorators below make sure."""

    user: User
    membership: Membership
    preference: Preference


View = Callable[..., HttpResponse]


def signed_in_required(view: View) -> View:
    """Signed in, of whatever studio or none."""
    signed_in = login_required(view)

    @wraps(view)
    def asked(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        htmx: HtmxDetails = request.htmx  # type: ignore[attr-defined]
        if htmx and not request.user.is_authenticated:
            # A part of a page must not be filled with the sign-in page: the whole page goes there.
            back = urlencode({"next": htmx.current_url_abs_path or "/"})
            return HttpResponseClientRedirect(f"{reverse(settings.LOGIN_URL)}?{back}")
        return signed_in(request, *args, **kwargs)

    return asked


def member_required(view: View) -> View:
    """Signed in, and of some studio."""

    @wraps(view)
    def checked(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if not request.membership:  # type: ignore[attr-defined]
            raise PermissionDenied(
                "you are in no studio yet; ask an owner to add you, and look under Preferences whether one has asked you"
            )
        return view(request, *args, **kwargs)

    return signed_in_required(checked)


def stylist_required(view: View) -> View:
    """Of some studio, with a role that may change things there."""

    @wraps(view)
    def checked(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if not request.membership.may_change:  # type: ignore[attr-defined]
            raise PermissionDenied("a viewer sees and cannot change; ask an owner for the role of stylist")
        return view(request, *args, **kwargs)

    return member_required(checked)


def owner_required(view: View) -> View:
    """An owner of the studio."""

    @wraps(view)
    def checked(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if request.membership.role != Membership.OWNER:  # type: ignore[attr-defined]
            raise PermissionDenied("only an owner of the studio may do this")
        return view(request, *args, **kwargs)

    return member_required(checked)
