"""Sign-in with a limit on tries, and a person's own page."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth.views import LoginView, PasswordChangeView
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.views.decorators.http import require_POST

from ..access import StudioRequest, member_required
from ..forms import PreferenceForm
from ..models import Membership
from ..throttle import address, too_many

TRIES, SECONDS = 12, 300


class SignIn(LoginView):
    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        name = request.POST.get("username", "")[:150]
        # Both are counted always, so that a guesser cannot spare one count by failing the other.
        over = [too_many("sign-in-address", address(request), TRIES * 3, SECONDS), too_many("sign-in-name", name, TRIES, SECONDS)]
        if any(over):
            form = self.get_form_class()(request)
            note = "Too many tries. Wait five minutes, then try again."
            return render(request, self.template_name, {"form": form, "note": note, "typed_name": name}, status=429)
        return super().post(request, *args, **kwargs)


class ChangePassword(PasswordChangeView):
    template_name = "accounts/password.html"
    success_url = reverse_lazy("shelf")

    def form_valid(self, form: Any) -> HttpResponse:
        messages.success(self.request, "Your password is changed.")
        return super().form_valid(form)


@member_required
def preferences(request: StudioRequest) -> HttpResponse:
    """Units and ground."""
    form = PreferenceForm(request.POST or None, instance=request.preference)
    if request.method == "POST" and form.is_valid():
        form.instance.person = request.user
        form.save()
        messages.success(request, "Saved.")
        return redirect("preferences")
    mine = Membership.objects.filter(person=request.user).select_related("studio")
    return render(request, "accounts/preferences.html", {"form": form, "mine": mine})


@member_required
@require_POST
def choose_studio(request: StudioRequest, studio_id: int) -> HttpResponse:
    """Work in another studio one belongs to; 404 for any other."""
    if not Membership.objects.filter(person=request.user, studio_id=studio_id).exists():
        raise Http404
    request.session["studio"] = studio_id
    return redirect("shelf")
