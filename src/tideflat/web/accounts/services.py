"""Make studios and people, and say who may do what."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.contrib.auth.tokens import default_token_generator
from django.db import IntegrityError, transaction
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_encode

from .models import Former, Invitation, Membership, Studio
from .names import plain_name


class NameTaken(ValueError):
    """Someone signs in by that name already."""


class LastOwner(ValueError):
    """The studio would be left without an owner."""


class NotYours(ValueError):
    """The person is or was of a studio that the owner does not own: their password is not this owner's to set."""


@transaction.atomic
def make_studio(name: str) -> Studio:
    """Raises FieldError when the core would not take the name."""
    return Studio.objects.create(name=plain_name(name, "studio"))


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
    """Out of the studio; what the person made there stays, and they may be added again. Raises LastOwner."""
    _keep_an_owner(member)
    Former.objects.update_or_create(studio_id=member.studio_id, person_id=member.person_id, defaults={"role": member.role})
    member.delete()


@transaction.atomic
def add_again(former: Former, role: str) -> Membership:
    """Back in the studio, with the password they have."""
    member, _ = Membership.objects.get_or_create(studio_id=former.studio_id, person_id=former.person_id, defaults={"role": role})
    former.delete()
    return member


def invite(studio: Studio, person: User, role: str) -> None:
    """Ask somebody of another studio to join. Nothing is theirs or ours until they say yes."""
    Invitation.objects.update_or_create(studio=studio, person=person, defaults={"role": role})


@transaction.atomic
def answer_invitation(invitation: Invitation, *, yes: bool) -> None:
    """The person's own yes or no."""
    if yes:
        Membership.objects.get_or_create(studio_id=invitation.studio_id, person_id=invitation.person_id, defaults={"role": invitation.role})
        Former.objects.filter(studio_id=invitation.studio_id, person_id=invitation.person_id).delete()
    invitation.delete()


def password_link(owner: User, person: User) -> tuple[str, str]:
    """(person, token) of a link by which the person sets a new password once. Raises NotYours.

    Only for who is and was of no studio but the owner's own: else one studio's owner could sign in to another's.
    """
    owned = set(Membership.objects.filter(person=owner, role=Membership.OWNER).values_list("studio_id", flat=True))
    of = set(Membership.objects.filter(person=person).values_list("studio_id", flat=True))
    was_of = set(Former.objects.filter(person=person).values_list("studio_id", flat=True))
    if not of | was_of <= owned:
        raise NotYours(person.pk)
    return urlsafe_base64_encode(force_bytes(person.pk)), default_token_generator.make_token(person)


def _keep_an_owner(member: Membership) -> None:
    others = Membership.objects.filter(studio_id=member.studio_id, role=Membership.OWNER).exclude(pk=member.pk)
    if member.role == Membership.OWNER and not others.exists():
        raise LastOwner(member.pk)
