"""An owner's page: who is in the studio, and who may change things there."""

from __future__ import annotations

from django.contrib import messages
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from ..access import StudioRequest, owner_required
from ..models import Membership
from ..services import LastOwner, NameTaken, add_person, change_role, leave_studio


@owner_required
def people(request: StudioRequest) -> HttpResponse:
    """List, and add a person with a first password that they change themselves."""
    typed = {"username": "", "role": Membership.STYLIST}
    faults: list[str] = []
    if request.method == "POST":
        typed = {"username": request.POST.get("username", "").strip()[:150], "role": request.POST.get("role", "")}
        faults = _added(request, typed["username"], request.POST.get("password", ""), typed["role"])
        if not faults:
            messages.success(request, f"{typed['username']} may sign in now. Tell them the password, and to change it.")
            return redirect("people")
    members = Membership.objects.filter(studio=request.membership.studio).select_related("person").order_by("pk")
    context = {"members": members, "typed": typed, "faults": faults, "roles": Membership.ROLES}
    return render(request, "accounts/people.html", context, status=400 if faults else 200)


def _added(request: StudioRequest, username: str, password: str, role: str) -> list[str]:
    """Add the person; returns what is wrong with what was typed, or nothing."""
    faults = []
    try:
        User.username_validator(username)
    except ValidationError:
        faults.append("The name must be letters, digits and @ . + - _ only.")
    if role not in dict(Membership.ROLES):
        faults.append("The role must be owner, stylist or viewer.")
    try:
        validate_password(password, User(username=username))
    except ValidationError as error:
        faults += error.messages
    if not faults:
        try:
            add_person(request.membership.studio, username, password, role)
        except NameTaken:
            faults.append(f"The name {username} is taken. Choose another.")
    return faults


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
