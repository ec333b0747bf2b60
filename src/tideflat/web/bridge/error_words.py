"""The core's errors as sentences for people."""

from __future__ import annotations

from tideflat.core.errors import FieldError, LockedError

_FIELD_NAMES = {
    "aim_x": "aim",
    "aim_y": "aim",
    "aim_z": "aim height",
    "pixels_wide": "pixels",
    "pixels_high": "pixels",
    "copy_share": "room for words",
    "lean_toward": "lean direction",
    "z": "height",
    "x": "from the left",
    "y": "from the front",
    "value": "value",
}


def error_words(error: FieldError) -> str:
    """A core error as a sentence: what, the rule, what was got."""
    if isinstance(error, LockedError):
        return f"{error.name[:1].upper()}{error.name[1:]} must be unlocked before it can be moved."
    last = error.path.split(".")[-1]
    name = _FIELD_NAMES.get(last, last.replace("_", " "))
    name = name[:1].upper() + name[1:]
    text = str(error)
    got = text[text.rindex("(got ") :] if "(got " in text else ""
    return f"{name} {error.rule}. {got}".strip()
