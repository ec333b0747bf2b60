"""Names of people and studios: one rule, the core's own, for every form and command that takes one."""

from __future__ import annotations

from django.contrib.auth.forms import UsernameField
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError

from tideflat.core.formats.reading import name


def plain_name(text: str, path: str) -> str:
    """One line of plain text without markup, as the core takes it; raises FieldError."""
    return name(text.strip(), path)


def faults_of_sign_in_name(username: str) -> list[str]:
    """What keeps ``username`` from being signed in by; nothing when it may be."""
    if not username:
        return ["The name must be written."]
    try:
        User.username_validator(username)
    except ValidationError:
        return ["The name must be letters, digits and @ . + - _ only."]
    if len(username) > 150:
        return ["The name must have at most 150 letters."]
    return []


def known_as(typed: str) -> str:
    """The account that Django looks up for what was typed: trimmed, and wide or composed letters as plain ones."""
    return str(UsernameField().to_python(typed) or "")[:150]
