"""Each request knows the studio it works in, the person's role there, and the person's preferences."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.utils.functional import SimpleLazyObject

from .models import Membership, Preference


class StudioMiddleware:
    """Sets ``request.membership`` (None when signed out or in no studio) and ``request.preference``, each on first use."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        request.membership = SimpleLazyObject(lambda: _membership(request))  # type: ignore[attr-defined]
        request.preference = SimpleLazyObject(lambda: _preference(request))  # type: ignore[attr-defined]
        return self.get_response(request)


def _membership(request: HttpRequest) -> Membership | None:
    if not request.user.is_authenticated:
        return None
    mine = list(Membership.objects.filter(person=request.user).select_related("studio", "person__preference").order_by("pk"))
    chosen = request.session.get("studio")
    found = next((m for m in mine if m.studio_id == chosen), mine[0] if mine else None)
    if found is not None:
        found.is_one_of_several = len(mine) > 1
    return found


def _preference(request: HttpRequest) -> Preference:
    if not request.user.is_authenticated:
        return Preference()
    membership = request.membership  # type: ignore[attr-defined]
    if membership:  # it came with the membership, in one question
        return getattr(membership.person, "preference", None) or Preference(person=request.user)
    return Preference.objects.filter(person=request.user).first() or Preference(person=request.user)
