"""Lengths of a table that can be read in two ways, a thousand times apart: settled by what else stands in their column, or asked once."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..errors import FieldError
from ..units import DoubtfulLength, Marks, marks_shown, parse_length_mm
from .prop_columns import LENGTHS, default_unit

#: A column, its heading's unit, and the texts in it.
_Texts = Mapping[str, tuple[str, tuple[str, ...]]]


@dataclass(frozen=True)
class Doubt:
    """column; example: the first doubtful text in it; both its readings, mm; settled: what the rest of the column tells, None for
    nothing."""

    column: str
    example: str
    as_thousands_mm: float
    as_decimal_mm: float
    settled: Marks | None


def doubts(headings: Sequence[str], rows: Sequence[tuple[int, tuple[str, ...]]], columns: Sequence[str]) -> tuple[Doubt, ...]:
    """The doubt of every column of lengths that has one. rows: with the line each stands on."""
    texts = {
        column: (default_unit(heading), tuple(cells[k] for _, cells in rows if k < len(cells) and cells[k]))
        for k, (heading, column) in enumerate(zip(headings, columns, strict=True))
        if column in LENGTHS
    }
    return tuple(_found(texts))


def _found(texts: _Texts) -> Iterator[Doubt]:
    for column, (unit, cells) in texts.items():
        first: DoubtfulLength | None = None
        marks: set[str] = set()
        for text in cells:
            try:
                parse_length_mm(text, unit)
            except DoubtfulLength as doubt:
                first = first or doubt
                marks |= {ch for ch in text if ch in ".,"}
            except FieldError:
                continue
        if first is not None:
            yield Doubt(column, str(first.got), first.as_thousands_mm, first.as_decimal_mm, _settled(cells, marks))


def _settled(cells: Sequence[str], marks: set[str]) -> Marks | None:
    """What the clear lengths tell of the one mark that is doubtful: its own use elsewhere, or that of the other. None where they
    disagree."""
    if len(marks) != 1:
        return None
    told: set[Marks] = set()
    for shown in filter(None, map(marks_shown, cells)):
        use, mark = shown
        told.add(use if mark in marks else "thousands" if use == "decimal" else "decimal")
    return told.pop() if len(told) == 1 else None
