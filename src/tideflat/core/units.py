"""Read and write lengths as people type them: mm, cm, m, inches and fractions of an inch."""

from __future__ import annotations

import re
from fractions import Fraction

from .errors import FieldError
from .remember import counted

MM_PER_INCH = 25.4  # exact, by the international yard and pound agreement of 1959

#: Of every way to write a unit.
MM_PER_UNIT = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "″": MM_PER_INCH,
    "''": MM_PER_INCH,
    "ft": 12 * MM_PER_INCH,
    "'": 12 * MM_PER_INCH,
}
_NUMBER = r"(?:\d+\s+\d+\s*/\s*\d+|\d+\s*/\s*\d+|\d+(?:[.,]\d+)?|[.,]\d+)"
_LENGTH = re.compile(rf"^\s*([+-−]?)\s*({_NUMBER})\s*([a-zA-Z\"″']*)\s*$".replace("+-−", "+\\-−"))


@counted(4096)  # a table says the same few lengths again and again
def parse_length_mm(text: str, default_unit: str = "mm") -> float:
    """The length ``text`` names, in mm.

    Understands ``30 cm``, ``12in``, ``1/4"``, ``1 1/2 in``, ``12,5`` (decimal comma); a bare number is in ``default_unit``.
    Raises FieldError with the path ``length`` when the text is no length.

    >>> parse_length_mm('1 1/2 in')
    38.1
    """
    match = _LENGTH.match(text) if len(text) <= 40 else None
    unit = (match.group(3).lower() if match else "") or default_unit
    if match is None or unit not in MM_PER_UNIT:
        raise FieldError("length", 'must be a number with mm, cm, m or in, such as 30 cm or 1/4"', text)
    sign = -1.0 if match.group(1) in ("-", "−") else 1.0
    return round(sign * _parse_number(match.group(2)) * MM_PER_UNIT[unit], 6)


def _parse_number(text: str) -> float:
    total = Fraction(0)
    for piece in re.sub(r"\s*/\s*", "/", text.replace(",", ".")).split():
        try:
            total += Fraction(piece)
        except ZeroDivisionError:
            raise FieldError("length", "must not divide by nought", text) from None
    return float(total)


def parse_angle_deg(text: str) -> float:
    """The angle ``text`` names, in degrees: ``45``, ``45°``, ``-5.5 deg``. Raises FieldError with the path ``angle``."""
    match = re.match(r"^\s*([+\-−]?\d{1,4}(?:[.,]\d{1,6})?)\s*(?:°|deg|degrees)?\s*$", text)
    if match is None:
        raise FieldError("angle", "must be a number of degrees, such as 45", text)
    return float(match.group(1).replace("−", "-").replace(",", "."))


def format_length(length_mm: float, unit: str = "mm") -> str:
    """``length_mm`` in the unit the person prefers: whole mm, tenths of a cm, or sixteenths of an inch.

    >>> format_length(1148.2), format_length(1148.2, "cm"), format_length(31.75, "in")
    ('1,148 mm', '114.8 cm', '1 1/4 in')
    """
    if unit == "cm":
        return f"{length_mm / 10:,.1f} cm"
    if unit == "in":
        return f"{_sixteenths(length_mm / MM_PER_INCH)} in"
    if abs(length_mm) < 10 and round(length_mm, 1) != round(length_mm):
        return f"{length_mm:.1f} mm"
    return f"{length_mm:,.0f} mm".replace("-0 mm", "0 mm")


def _sixteenths(inches: float) -> str:
    sixteenths = round(abs(inches) * 16)
    whole, rest = divmod(sixteenths, 16)
    sign = "-" if inches < 0 and sixteenths else ""
    if rest == 0:
        return f"{sign}{whole:,}"
    part = Fraction(rest, 16)
    fraction = f"{part.numerator}/{part.denominator}"
    return f"{sign}{whole:,} {fraction}" if whole else f"{sign}{fraction}"
