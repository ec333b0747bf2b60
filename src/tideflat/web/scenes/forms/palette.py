"""Forms for the palette."""

from __future__ import annotations

from tideflat.core.colour.spaces import is_hex
from tideflat.core.errors import FieldError
from tideflat.core.formats.palettes import MOST_COLOURS, read_palette
from tideflat.core.formats.scene_writer import palette_value
from tideflat.core.model import PARTS
from tideflat.core.palette.sources import in_common, palette_from_shares

from ..services.references import facts_from
from .asked import Asked, Form, Value, whole_share


def from_subject(asked: Asked) -> Value:
    return asked.of_setup("palette_from_subject")


def from_references(asked: Asked) -> Value:
    """A palette of what the reference pictures have in common, by share."""
    shares = [facts_from(r.facts).colours for r in asked.row.references.all()]
    if not shares:
        raise FieldError("references", "must be sent in first, in the brief", show_got=False)
    return {"act": "palette", "palette": palette_value(palette_from_shares(in_common(shares))), "source": "the references"}


def from_file(asked: Asked) -> Value:
    """The palette in the text of a .gpl, JSON or CSS file."""
    return {"act": "palette", "palette": palette_value(read_palette(asked.fields.text("text", 60_000))), "source": "a file"}


def colour(asked: Asked) -> Value:
    """The colour numbered ``at`` changed, or one added: its hex, its part, the share wanted in per cent."""
    fields = asked.fields
    value: Value = {"act": "palette_colour"}
    if fields.has("at"):
        value["at"] = fields.whole("at")
        if not 0 <= value["at"] < MOST_COLOURS:
            raise FieldError("colour", f"must be one of at most {MOST_COLOURS}", value["at"])
    if fields.has("part"):
        value["part"] = fields.choice("part", PARTS)
    if fields.has("share"):
        value["share"] = whole_share(fields, "share")
    if fields.has("hex"):
        value["hex"] = fields.text("hex", 20).lower()
        if not is_hex(value["hex"]):
            raise FieldError("colour", "must be written as #c4621a", value["hex"])
    return value


def drop(asked: Asked) -> Value:
    at = asked.fields.whole("at")
    if not 0 <= at < MOST_COLOURS:
        raise FieldError("colour", "must be one of the palette's", at)
    return {"act": "remove_palette_colour", "at": at}


FORMS: dict[str, Form] = {
    "palette-subject": from_subject,
    "palette-references": from_references,
    "palette-read": from_file,
    "palette-colour": colour,
    "palette-drop": drop,
}
