"""The columns of a table of props, and which of them a heading seems to name."""

from __future__ import annotations

import re
from collections.abc import Sequence

from ..shapes import SHAPES
from ..shapes.fields import Length, fields_of

#: Lengths that each shape needs.
NEEDED: dict[str, tuple[str, ...]] = {
    kind: tuple(name for name, field in fields_of(cls).items() if isinstance(field, Length)) for kind, cls in SHAPES.items()
}
#: The first columns for sizes, as people look for them; those of any other shape follow.
_FIRST = ("diameter", "width", "depth", "height", "length", "base_diameter", "top_diameter", "neck_diameter", "neck_height", "thickness", "piece_diameter")  # fmt: skip
#: Lengths, in mm when no unit is given.
LENGTHS = tuple(dict.fromkeys((*_FIRST, *(name for needed in NEEDED.values() for name in needed))))
#: What else describes a shape.
FURTHER = tuple(dict.fromkeys(("pieces", "seed", "points", *(n for cls in SHAPES.values() for n in fields_of(cls) if n not in LENGTHS))))
COLUMNS: tuple[str, ...] = (
    "key", "name", "shape", *LENGTHS, *FURTHER, "colours", "finish", "texture", "material", "tags", "skins",
    "role", "count", "place", "lender", "return_on", "cautions", "notes", "size_source",
)  # fmt: skip
#: Other headings that people give these columns.
_ALSO: dict[str, str] = {
    "id": "key", "title": "name", "prop": "name", "item": "name", "kind": "shape", "form": "shape", "dia": "diameter", "w": "width", "d": "depth",
    "h": "height", "l": "length", "deep": "depth", "wide": "width", "high": "height", "colour": "colours", "color": "colours", "colors": "colours",
    "tag": "tags", "keywords": "tags", "qty": "count", "quantity": "count", "number": "count", "how many": "count", "box": "place", "where": "place",
    "location": "place", "shelf": "place", "owner": "lender", "lent by": "lender", "return": "return_on", "return date": "return_on",
    "due": "return_on", "caution": "cautions", "note": "notes", "remarks": "notes", "surface": "finish", "made of": "material",
}  # fmt: skip


def guessed_columns(headings: Sequence[str]) -> tuple[str, ...]:
    """For each heading the column it seems to be, "" for none; none is guessed twice. ``width (mm)`` and ``Width in mm`` are ``width``."""
    found: list[str] = []
    for heading in headings:
        plain = re.sub(r"\(.*?\)|\bin (mm|cm|inches)\b|\bmm\b|\bcm\b", " ", heading.lower())
        plain = re.sub(r"[^a-z]+", " ", plain).strip()
        name = plain.replace(" ", "_")
        guess = name if name in COLUMNS else _ALSO.get(plain, "")
        found.append(guess if guess and guess not in found else "")
    return tuple(found)


def default_unit(heading: str) -> str:
    """The unit that a heading names, for bare numbers under it."""
    match = re.search(r"\b(mm|cm|m|in|inch|inches)\b\)?\s*$", heading.lower().strip())
    unit = match.group(1) if match else "mm"
    return "in" if unit.startswith("in") else unit
