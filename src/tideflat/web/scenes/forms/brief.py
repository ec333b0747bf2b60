"""Forms for what the picture is for."""

from __future__ import annotations

import re
from typing import Any

from tideflat.core.errors import FieldError
from tideflat.core.formats.scene_writer import must_show_value
from tideflat.core.model import LEANINGS

from .asked import Asked, Form, Value

#: Fields of the brief that are typed one at a time.
TYPED = ("mood", "season", "finals", "tags", "must_show")


def title(asked: Asked) -> Value:
    return {"act": "title", "title": asked.fields.text("title", 120)}


def leaning(asked: Asked) -> Value:
    """-1, 0 or 1: the first school, none, the second."""
    value = float(asked.fields.choice("value", ("-1", "0", "1")))
    return {"act": "leaning", "leaning": asked.fields.choice("leaning", LEANINGS), "value": value}


def begin(asked: Asked) -> Value:
    return {"act": "begin", "use": asked.fields.text("use", 120), "story": asked.fields.text("story", 2000)}


def brief(asked: Asked) -> Value:
    """``field`` gets what is typed as ``value``; lists are parted by commas or semicolons; empty takes it back."""
    fields = asked.fields
    which = fields.choice("field", TYPED)
    text = fields.text("value", 600)
    value: Any = text
    if which == "finals":
        value = fields.whole("value") if text else None
        if value is not None and not 1 <= value <= 999:
            raise FieldError("finals", "must be from 1 to 999", value)
    elif which in ("tags", "must_show"):
        value = list(dict.fromkeys(part.strip() for part in re.split(r"[,;]", text) if part.strip()))
    if which == "must_show":  # features of things are not typed: they stay
        value += [must_show_value(item) for item in asked.scene.brief.must_show if not isinstance(item, str)]
    return {"act": "brief", which: value}


FORMS: dict[str, Form] = {"title": title, "leaning": leaning, "begin": begin, "brief": brief}
