"""Taking an arrangement that was proposed."""

from __future__ import annotations

from tideflat.core.errors import FieldError
from tideflat.core.model import Scene
from tideflat.core.table.carrying import moving_with

from ..proposals import act_of
from .asked import Asked, Form, Value


def take(asked: Asked) -> Value:
    """The proposal of that number, of the work that found it, from the set-up that is looked at; with ``part`` only the places of what is
    in hand."""
    found = act_of(asked.studio, asked.row, asked.fields.whole("work"), asked.fields.whole("number"))
    if asked.fields.text("part", 5) == "1":
        held = set((asked.fields.text("several", 33_000) or asked.fields.text("selected", 64)).split())
        found = _only(asked.seen, found, held)
    return {**found, "setup": asked.setup.name, "only": asked.only}


def _only(seen: Scene, found: Value, held: set[str]) -> Value:
    """What of an arrangement is in hand, with all that moves as one with it."""
    leads = list(zip(found["placements"], found["places"], strict=True)) if found["act"] == "arrange" else []
    pairs = [(i, place) for i, place in leads if held & {i, *moving_with(seen, i)}]
    if not pairs:
        raise FieldError("part", "must find in hand something that this arrangement moves", show_got=False)
    return {"act": found["act"], "placements": [i for i, _ in pairs], "places": [place for _, place in pairs]}


FORMS: dict[str, Form] = {"take-proposal": take}
