"""Make studios and people."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db import transaction

from .models import Membership, Studio


@transaction.atomic
def make_studio(name: str) -> Studio:
    return Studio.objects.create(name=name)


@transaction.atomic
def add_person(studio: Studio, username: str, password: str, role: str, first_name: str = "") -> User:
    """A person who may sign in, with a role in the studio."""
    person = User.objects.create_user(username=username, password=password, first_name=first_name or username)
    Membership.objects.create(studio=studio, person=person, role=role)
    return person
