"""Taking an arrangement that was proposed."""

from __future__ import annotations

from ..proposals import act_of
from .asked import Asked, Form, Value


def take(asked: Asked) -> Value:
    """The proposal of that number, of the work that found it, from the set-up that is looked at."""
    found = act_of(asked.studio, asked.row, asked.fields.whole("work"), asked.fields.whole("number"))
    return {**found, "setup": asked.setup.name, "only": asked.only}


FORMS: dict[str, Form] = {"take-proposal": take}
