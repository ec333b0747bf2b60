"""Values as people type them, from a posted form: lengths with units, angles, choices. Faults name the field."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping

from tideflat.core.errors import FieldError
from tideflat.core.units import parse_angle_deg, parse_length_mm

#: No length in mm and no other number that is typed is larger, either way.
MOST_NUMBER = 1e6
#: The largest whole number that a float tells from its neighbours, and that any database holds.
MOST_WHOLE = 2**53
#: A whole number with its thousands parted, whatever by.
_GROUPED = re.compile(r"\d{1,3}(?:[ \u00a0\u2009\u202f.,]\d{3}){1,4}")


def whole_from(text: str) -> int | None:
    """The plain whole number that an address or a list holds; None for anything else, such as raised digits or hundreds of them."""
    return int(text) if text.isascii() and text.isdigit() and len(text) < 16 else None


class Fields:
    """A posted form, read in the person's unit."""

    def __init__(self, data: Mapping[str, str], unit: str = "mm") -> None:
        self._data = data
        self.unit = unit

    def has(self, name: str) -> bool:
        return bool(self._data.get(name, "").strip())

    def given(self, name: str) -> bool:
        """Whether it was sent at all, be it empty."""
        return name in self._data

    def text(self, name: str, most: int = 2000) -> str:
        value = self._data.get(name, "").strip()
        if len(value) > most:
            raise FieldError(name, f"must be at most {most} characters", value)
        return value

    def length(self, name: str, stood_mm: float | None = None) -> float:
        """mm; a bare number is in the person's unit. With ``stood_mm``, what stood there, +20 and -20 mean so much more or less: wherever a
        negative length cannot be meant."""
        return self._bounded(name, self._named(name, lambda text: parse_length_mm(text, self.unit, None, stood_mm)))

    def mm(self, name: str) -> float:
        """mm, as scripts send it, whatever the person's unit."""
        return round(self.number(name), 3)

    def angle(self, name: str) -> float:
        return self._named(name, parse_angle_deg)

    def number(self, name: str) -> float:
        return self._bounded(name, self._number(name))

    def _bounded(self, name: str, value: float) -> float:
        if abs(value) > MOST_NUMBER:
            raise FieldError(name, f"must be at least {-MOST_NUMBER:g} and at most {MOST_NUMBER:g}", self._data.get(name, ""))
        return value

    def _number(self, name: str) -> float:
        text = self._data.get(name, "").strip().lower().removeprefix("f/").replace(",", ".").removesuffix("%")
        try:
            value = float(text)
        except ValueError:
            value = math.nan
        if not math.isfinite(value):
            raise FieldError(name, "must be a number", self._data.get(name, ""))
        return value

    def whole(self, name: str) -> int:
        text = self._data.get(name, "").strip()
        value = float(re.sub(r"\D", "", text)) if _GROUPED.fullmatch(text) else self._number(name)
        if abs(value) > MOST_WHOLE or value != int(value):
            raise FieldError(name, "must be a whole number", self._data.get(name, ""))
        return int(value)

    def choice(self, name: str, choices: tuple[str, ...]) -> str:
        value = self._data.get(name, "")
        if value not in choices:
            raise FieldError(name, "must be one of " + ", ".join(choices), value)
        return value

    def _named(self, name: str, parse: object) -> float:
        text = self._data.get(name, "")
        try:
            return parse(text)  # type: ignore[operator, no-any-return]
        except FieldError as error:
            raise FieldError(name, error.rule, text) from None
