"""Read and write lengths as people type them: mm, cm, m, inches and fractions of an inch; sums, and what is doubtful."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Literal

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
#: Parts thousands when a number is printed: narrow, and no line breaks there.
THIN_SPACE = "\u202f"
_SPACES = " \u00a0\u2009\u202f"
_UNITS = r"[a-zA-Z\"″']*"
_NUMBER = (
    rf"(?:(?:\d{{1,3}}(?:[{_SPACES}]\d{{3}})+|\d+)\s+\d+\s*/\s*\d+|\d+\s*/\s*\d+|\d{{1,3}}(?:[{_SPACES}]\d{{3}})+(?:[.,]\d+)?(?!\d)"
    r"|\d{1,3}(?:,\d{3}){2,}(?:\.\d+)?|\d{1,3}(?:\.\d{3}){2,}(?:,\d+)?|\d{1,3}(?:,\d{3})+\.\d+|\d{1,3}(?:\.\d{3})+,\d+"
    r"|\d+(?:[.,]\d+)?|[.,]\d+)"
)
_TERM = re.compile(rf"\s*([+\-−]?)\s*({_NUMBER})\s*({_UNITS})\s*")
_DOUBTFUL = re.compile(r"0*[1-9]\d{0,2}[.,]\d{3}")
_LONGEST = 40

#: How a mark before three digits is read: it parts thousands, or it is the decimal point.
Marks = Literal["thousands", "decimal"]


class DoubtfulLength(FieldError):
    """A number that can be read in two ways, a thousand times apart. as_thousands_mm, as_decimal_mm: both, for the whole of what was
    typed."""

    def __init__(self, text: str, term: str, as_thousands_mm: float, as_decimal_mm: float) -> None:
        self.as_thousands_mm, self.as_decimal_mm = as_thousands_mm, as_decimal_mm
        digits = re.sub(r"\D", "", term)
        whole = f"{int(digits):,}".replace(",", THIN_SPACE)
        point = re.sub(r"[.,]", ".", term)
        super().__init__(
            "length", f"must say which is meant, {whole} or {point}: write {int(digits)} for the one, {point}0 for the other", text
        )


@counted(4096)  # a table says the same few lengths again and again
def parse_length_mm(text: str, default_unit: str = "mm", marks: Marks | None = None, stood_mm: float | None = None) -> float:
    """The length ``text`` names, in mm.

    Understands ``30 cm``, ``12in``, ``1/4"``, ``1 1/2 in``, ``12,5`` (decimal comma), ``1 148``, and sums: ``300+45``.
    A bare number is in the unit
    of the next that has one, else in ``default_unit``. One mark before just three digits may part thousands or be a decimal point: in mm,
    or where no unit is written and none of inches or metres is meant, that is DoubtfulLength unless ``marks`` says which. With
    ``stood_mm``, what stood there before, a leading sign means so much more or less than that. Raises FieldError with the path ``length``
    when the text is no length.

    >>> parse_length_mm('1 1/2 in'), parse_length_mm('300+45'), parse_length_mm('-20', stood_mm=120.0)
    (38.1, 345.0, 100.0)
    """
    terms = _terms(text, default_unit)
    doubtful = next((number for _, number, unit, is_bare in terms if _is_doubtful(number, unit, is_bare)), None)
    if doubtful is not None and marks is None:
        raise DoubtfulLength(text, doubtful, _sum(terms, "thousands"), _sum(terms, "decimal"))
    is_relative = stood_mm is not None and terms[0][0] != ""
    return round((stood_mm or 0.0 if is_relative else 0.0) + _sum(terms, marks), 6)


_Term = tuple[str, str, str, bool]


def _terms(text: str, default_unit: str) -> list[_Term]:
    """(sign as written, number, unit, whether no unit was written) of each part of a sum. Raises FieldError."""
    found: list[tuple[str, str, str]] = []
    at = 0
    while at < len(text) and len(text) <= _LONGEST:
        match = _TERM.match(text, at)
        if match is None or (found and not match.group(1)):
            break
        found.append((match.group(1), match.group(2), match.group(3).lower()))
        at = match.end()
    if not found or at < len(text) or any(unit and unit not in MM_PER_UNIT for _, _, unit in found):
        raise FieldError("length", 'must be a number with mm, cm, m or in, such as 30 cm or 1/4"', text)
    terms: list[_Term] = []
    following = default_unit
    for sign, number, unit in reversed(found):
        following = unit or following
        terms.insert(0, (sign, number, unit or following, unit == "" and following == default_unit))
    return terms


def _is_doubtful(number: str, unit: str, is_bare: bool) -> bool:
    asked = unit in ("mm", "cm") if is_bare else unit == "mm"
    return asked and _DOUBTFUL.fullmatch(number) is not None


def _sum(terms: list[_Term], marks: Marks | None) -> float:
    total = 0.0
    for sign, number, unit, is_bare in terms:
        how = marks if _is_doubtful(number, unit, is_bare) else None
        total += (-1.0 if sign in ("-", "−") else 1.0) * _parse_number(number, how) * MM_PER_UNIT[unit]
    return round(total, 6)


def _parse_number(text: str, marks: Marks | None = None) -> float:
    plain = re.sub(rf"(?<=\d)[{_SPACES}](?=\d{{3}}(?:\D|$))(?!\d+\s*/)", "", text)
    count = {mark: plain.count(mark) for mark in ".,"}
    if marks == "thousands" or max(count.values()) > 1 or min(count.values()) > 0:
        last = max(plain.rfind("."), plain.rfind(","))
        point = plain[last] if marks is None and min(count.values()) > 0 else ""
        plain = "".join(ch for ch in plain if ch not in ".," or ch == point)
    total = Fraction(0)
    for piece in re.sub(r"\s*/\s*", "/", plain.replace(",", ".")).split():
        try:
            total += Fraction(piece)
        except ZeroDivisionError:
            raise FieldError("length", "must not divide by nought", text) from None
    return float(total)


def marks_shown(text: str) -> tuple[Marks, str] | None:
    """What a clear length tells of the marks of whoever wrote it: (``decimal``, the mark that is their decimal point), or (``thousands``,
    the mark that parts their thousands); None when it tells nothing."""
    number = next((m.group(2) for m in [_TERM.match(text)] if m), "")
    found = re.findall(r"[.,]", number)
    if len(found) > 1:
        return "thousands", found[0]
    if len(found) == 1 and "/" not in number and not _DOUBTFUL.fullmatch(number):
        return "decimal", found[0]
    return None


def written_number(value: float, digits: int = 10) -> str:
    """A number as it is written into a field or a table, so that it reads back as it is: never three digits after the point, which would be
    doubtful.

    >>> written_number(17.345), written_number(17.3), written_number(1148)
    ('17.3450', '17.3', '1148')
    """
    text = f"{value:.{digits}g}"
    return text + "0" if _DOUBTFUL.fullmatch(text.removeprefix("-")) else text


def parse_angle_deg(text: str) -> float:
    """The angle ``text`` names, in degrees: ``45``, ``45°``, ``-5.5 deg``. Raises FieldError with the path ``angle``."""
    match = re.match(r"^\s*([+\-−]?\d{1,4}(?:[.,]\d{1,6})?)\s*(?:°|deg|degrees)?\s*$", text)
    if match is None:
        raise FieldError("angle", "must be a number of degrees, such as 45", text)
    return float(match.group(1).replace("−", "-").replace(",", "."))


def format_length(length_mm: float, unit: str = "mm") -> str:
    """``length_mm`` in the unit the person prefers: whole mm, tenths of a cm, or sixteenths of an inch; thousands parted by a thin space.

    >>> format_length(1148.2).replace(THIN_SPACE, "_"), format_length(1148.2, "cm"), format_length(31.75, "in")
    ('1_148 mm', '114.8 cm', '1 1/4 in')
    """
    if unit == "cm":
        return f"{parted(length_mm / 10, 1)} cm"
    if unit == "in":
        return f"{_sixteenths(length_mm / MM_PER_INCH)} in"
    return f"{parted(length_mm, 1 if abs(length_mm) < 10 and round(length_mm, 1) != round(length_mm) else 0)} mm"


def parted(value: float, digits: int = 0) -> str:
    """A number with thousands parted by a thin space, and so many digits after the point; nought has no sign."""
    text = f"{value:,.{digits}f}".replace(",", THIN_SPACE)
    return text.removeprefix("-") if not re.search("[1-9]", text) else text


def _sixteenths(inches: float) -> str:
    sixteenths = round(abs(inches) * 16)
    whole, rest = divmod(sixteenths, 16)
    sign = "-" if inches < 0 and sixteenths else ""
    if rest == 0:
        return f"{sign}{parted(whole)}"
    part = Fraction(rest, 16)
    fraction = f"{part.numerator}/{part.denominator}"
    return f"{sign}{parted(whole)} {fraction}" if whole else f"{sign}{fraction}"
