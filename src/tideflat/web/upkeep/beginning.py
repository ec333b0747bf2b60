"""The first studio and its owner, and a new password for who lost theirs: what is done at the machine itself."""

from __future__ import annotations

import getpass
import os
import sys

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction

from tideflat.core.errors import FieldError
from tideflat.web.accounts.models import Membership, Studio
from tideflat.web.accounts.names import faults_of_sign_in_name, plain_name
from tideflat.web.accounts.services import add_person, make_studio

from .database import UpkeepFault


def begin(arguments: list[str]) -> str:
    """Make the first studio and its owner in an empty database; returns what to say. Raises UpkeepFault."""
    if arguments:
        raise UpkeepFault("usage: tideflat begin; it asks, or takes TIDEFLAT_STUDIO, TIDEFLAT_NAME and TIDEFLAT_PASSWORD")
    if Studio.objects.exists() or User.objects.exists():
        raise UpkeepFault(
            "there is a studio here already; its owner adds people on the page People, and tideflat password NAME helps who lost theirs"
        )
    try:
        studio = plain_name(_asked("TIDEFLAT_STUDIO", "What is the studio called? "), "studio")
    except FieldError as error:
        raise UpkeepFault(f"the studio's name {error.rule}") from None
    name = _asked("TIDEFLAT_NAME", "By what name do you sign in? ")
    for fault in faults_of_sign_in_name(name):
        raise UpkeepFault(fault)
    password = _secret(name)
    with transaction.atomic():
        add_person(make_studio(studio), name, password, Membership.OWNER)
    return f"{studio} is there; {name} is its owner. Start the server with: tideflat serve"


def new_password(arguments: list[str]) -> str:
    """Another password for a person; returns what to say. Raises UpkeepFault."""
    if len(arguments) != 1:
        raise UpkeepFault("usage: tideflat password NAME; it asks, or takes TIDEFLAT_PASSWORD")
    person = User.objects.filter(username=arguments[0]).first()
    if person is None:
        raise UpkeepFault(f"nobody signs in as {arguments[0]!r} here")
    person.set_password(_secret(person.username))
    person.save(update_fields=["password"])
    return f"{person.username} has a new password and is signed out everywhere."


def _asked(variable: str, question: str) -> str:
    given = os.environ.get(variable)
    if given is not None:
        return given.strip()
    try:
        return input(question).strip()
    except EOFError:
        raise UpkeepFault(f"no answer was given; set {variable}, or run it where it can ask") from None


def _secret(name: str) -> str:
    given = os.environ.get("TIDEFLAT_PASSWORD")
    if given is None:
        if sys.stdin.isatty():
            given = getpass.getpass("Password, at least ten characters: ")
            if getpass.getpass("Once more: ") != given:
                raise UpkeepFault("the two passwords differ")
        else:
            given = _asked("TIDEFLAT_PASSWORD", "Password, at least ten characters: ")
    try:
        validate_password(given, User(username=name))
    except ValidationError as error:
        raise UpkeepFault(" ".join(error.messages)) from None
    return given
