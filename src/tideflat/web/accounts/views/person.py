"""Sign-in with a pace for failures, and a person's own pages."""

from __future__ import annotations

import math
from typing import Any

from django.contrib import messages
from django.contrib.auth.views import LoginView, PasswordChangeView, PasswordResetConfirmView
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.views.decorators.http import require_POST

from ..access import StudioRequest, member_required, signed_in_required
from ..forms import PreferenceForm
from ..guessing import begin_try, remember_browser, succeeded
from ..models import Invitation, Membership
from ..names import known_as
from ..services import answer_invitation


class SignIn(LoginView):
    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        name = request.POST.get("username", "")
        self.tried = begin_try(request, name)
        if self.tried.wait_s > 0:
            wait = math.ceil(self.tried.wait_s)
            note = f"Too many tries that failed. Wait {_duration(wait)}, then try again."
            context = {"form": self.get_form_class()(request), "note": note, "typed_name": known_as(name)}
            response = render(request, self.template_name, context, status=429)
            response["Retry-After"] = str(wait)
            return response
        return super().post(request, *args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        response = super().form_valid(form)
        succeeded(self.tried)
        remember_browser(self.request, response, form.get_user())
        return response


def _duration(seconds: int) -> str:
    if seconds < 90:
        return f"{seconds} second{'s' if seconds > 1 else ''}"
    return f"{math.ceil(seconds / 60)} minutes"


class ChangePassword(PasswordChangeView):
    template_name = "accounts/password.html"
    success_url = reverse_lazy("shelf")

    def form_valid(self, form: Any) -> HttpResponse:
        messages.success(self.request, "Your password is changed.")
        return super().form_valid(form)


class SetPassword(PasswordResetConfirmView):
    """By a link that an owner handed over; it works once."""

    template_name = "accounts/set_password.html"
    success_url = reverse_lazy("sign_in")

    def form_valid(self, form: Any) -> HttpResponse:
        messages.success(self.request, "Your password is set. Sign in with it.")
        return super().form_valid(form)


@signed_in_required
def preferences(request: StudioRequest) -> HttpResponse:
    """Units and ground; which studio; who asks one to join."""
    form = PreferenceForm(request.POST or None, instance=request.preference)
    if request.method == "POST" and form.is_valid():
        form.instance.person = request.user
        form.save()
        messages.success(request, "Saved.")
        return redirect("preferences")
    mine = Membership.objects.filter(person=request.user).select_related("studio").order_by("pk")
    asked = Invitation.objects.filter(person=request.user).select_related("studio").order_by("pk")
    return render(request, "accounts/preferences.html", {"form": form, "mine": mine, "asked": asked})


@member_required
@require_POST
def choose_studio(request: StudioRequest, studio_id: int) -> HttpResponse:
    """Work in another studio one belongs to; 404 for any other."""
    if not Membership.objects.filter(person=request.user, studio_id=studio_id).exists():
        raise Http404
    request.session["studio"] = studio_id
    return redirect("shelf")


@signed_in_required
@require_POST
def answer(request: StudioRequest, invitation_id: int) -> HttpResponse:
    """Yes or no to a studio that asks."""
    invitation = Invitation.objects.filter(pk=invitation_id, person=request.user).select_related("studio").first()
    if invitation is None:
        raise Http404
    studio = invitation.studio
    yes = request.POST.get("answer") == "yes"
    answer_invitation(invitation, yes=yes)
    if yes:
        request.session["studio"] = studio.pk
        messages.success(request, f"You are of {studio.name} now, and work in it at present.")
        return redirect("shelf")
    return redirect("preferences")
