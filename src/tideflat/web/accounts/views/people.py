"""An owner's page: who is in the studio, who may change things there, who was here, who is asked, and new passwords."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST

from ..access import StudioRequest, owner_required
from ..models import Former, Invitation, Membership
from ..names import faults_of_sign_in_name, known_as
from ..services import LastOwner, NameTaken, NotYours, add_again, add_person, change_role, invite, leave_studio, password_link


@owner_required
def people(request: StudioRequest) -> HttpResponse:
    """List, and add a person: new with a first password, back again, or of another studio by asking them."""
    typed = {"username": "", "role": Membership.STYLIST}
    faults: list[str] = []
    if request.method == "POST":
        typed = {"username": known_as(request.POST.get("username", "")), "role": request.POST.get("role", "")}
        said, faults = _added(request, typed["username"], request.POST.get("password", ""), typed["role"])
        if not faults:
            messages.success(request, said)
            return redirect("people")
    return _page(request, status=400 if faults else 200, typed=typed, faults=faults)


def _page(request: StudioRequest, *, status: int = 200, **more: Any) -> HttpResponse:
    studio = request.membership.studio
    context = {
        "members": Membership.objects.filter(studio=studio).select_related("person").order_by("pk"),
        "formers": Former.objects.filter(studio=studio).select_related("person").order_by("-left_at"),
        "asked": Invitation.objects.filter(studio=studio).select_related("person").order_by("pk"),
        "roles": Membership.ROLES,
        "typed": {"username": "", "role": Membership.STYLIST},
        "faults": [],
        **more,
    }
    return render(request, "accounts/people.html", context, status=status)


def _added(request: StudioRequest, username: str, password: str, role: str) -> tuple[str, list[str]]:
    """Add the person; returns what to say, and what is wrong with what was typed, or nothing."""
    studio = request.membership.studio
    faults = faults_of_sign_in_name(username)
    if role not in dict(Membership.ROLES):
        faults.append("The role must be owner, stylist or viewer.")
    known = User.objects.filter(username=username).first() if not faults else None
    if known is not None and not Membership.objects.filter(studio=studio, person=known).exists():
        former = Former.objects.filter(studio=studio, person=known).first()
        if former is not None:
            add_again(former, role)
            return f"{username} is back, with the password they had.", []
        invite(studio, known, role)
        return f"{username} signs in for another studio already, and was asked to join. They say yes under Preferences.", []
    try:
        validate_password(password, User(username=username))
    except ValidationError as error:
        faults += error.messages
    if not faults:
        try:
            add_person(studio, username, password, role)
        except NameTaken:
            faults.append(f"The name {username} is taken. Choose another.")
    return f"{username} may sign in now. Tell them the password, and to change it.", faults


@owner_required
@require_POST
def set_role(request: StudioRequest, member_id: int) -> HttpResponse:
    """Another role for a member of this studio, or out of it; a studio keeps at least one owner."""
    member = Membership.objects.filter(pk=member_id, studio=request.membership.studio).select_related("person").first()
    role = request.POST.get("role", "")
    if member is None or role not in {"none", *dict(Membership.ROLES)}:
        raise Http404
    try:
        if role == "none":
            leave_studio(member)
        else:
            change_role(member, role)
    except LastOwner:
        messages.error(request, "A studio needs an owner. Make someone else one first.")
    return redirect("people")


@owner_required
@require_POST
def bring_back(request: StudioRequest, former_id: int) -> HttpResponse:
    """Add somebody again who was of this studio."""
    former = Former.objects.filter(pk=former_id, studio=request.membership.studio).select_related("person").first()
    if former is None:
        raise Http404
    name = former.person.username
    add_again(former, former.role)
    messages.success(request, f"{name} is back, with the password they had.")
    return redirect("people")


@owner_required
@require_POST
def withdraw(request: StudioRequest, invitation_id: int) -> HttpResponse:
    """Ask no longer."""
    Invitation.objects.filter(pk=invitation_id, studio=request.membership.studio).delete()
    return redirect("people")


@owner_required
@require_POST
@never_cache
def new_password(request: StudioRequest, member_id: int) -> HttpResponse:
    """A link, shown once, by which a member sets a new password."""
    member = Membership.objects.filter(pk=member_id, studio=request.membership.studio).select_related("person").first()
    if member is None:
        raise Http404
    try:
        person, token = password_link(request.user, member.person)
    except NotYours:
        fault = (
            f"{member.person.username} is or was of another studio too, so the password is not yours to set. "
            "Whoever looks after this computer can: tideflat password NAME."
        )
        return _page(request, status=400, faults=[fault])
    link = request.build_absolute_uri(reverse("set_password", args=[person, token]))
    return _page(request, link=link, link_for=member.person.username)
