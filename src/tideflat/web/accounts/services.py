"""Make studios and people, and say who may do what."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction

from .models import Membership, Studio


class NameTaken(ValueError):
    """Someone signs in by that name already."""


class LastOwner(ValueError):
    """The studio would be left without an owner."""


@transaction.atomic
def make_studio(name: str) -> Studio:
    return Studio.objects.create(name=name)


def set_usual_leanings(studio: Studio, leanings: dict[str, float]) -> None:
    """What the studio's new scenes lean to."""
    studio.leanings = {name: value for name, value in leanings.items() if value}
    studio.save(update_fields=["leanings"])


def add_person(studio: Studio, username: str, password: str, role: str, first_name: str = "") -> User:
    """A person who may sign in, with a role in the studio. Raises NameTaken."""
    try:
        with transaction.atomic():
            person = User.objects.create_user(username=username, password=password, first_name=first_name or username)
            Membership.objects.create(studio=studio, person=person, role=role)
    except IntegrityError:
        raise NameTaken(username) from None
    return person


@transaction.atomic
def change_role(member: Membership, role: str) -> None:
    """Another role in the same studio. Raises LastOwner."""
    if role != Membership.OWNER:
        _keep_an_owner(member)
    member.role = role
    member.save(update_fields=["role"])


@transaction.atomic
def leave_studio(member: Membership) -> None:
    """Out of the studio; what the person made there stays. Raises LastOwner."""
    _keep_an_owner(member)
    member.delete()


def _keep_an_owner(member: Membership) -> None:
    others = Membership.objects.filter(studio_id=member.studio_id, role=Membership.OWNER).exclude(pk=member.pk)
    if member.role == Membership.OWNER and not others.exists():
        raise LastOwner(member.pk)
