"""Props as a table in: CSV, with every fault named by row and column."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from functools import partial
from typing import Any

from ..errors import FieldError
from ..facts.cautions import CAUTIONS
from ..model import FINISHES, ROLES, Prop
from ..shapes import SHAPES
from ..shapes.fields import Corners, Length, Whole, fields_of
from ..units import DoubtfulLength, Marks
from .prop_cells import (
    PLAIN_CURE,
    cautions_of,
    colours_of_cell,
    corners_of,
    count_of,
    day_of,
    key_of,
    one_of,
    plain_line,
    size_mm,
    skins_of,
)
from .prop_columns import COLUMNS, LENGTHS, NEEDED, default_unit
from .prop_marks import doubts
from .prop_reader import prop_from_value
from .reading import text as text_of

#: A table of so many rows is read in under two seconds; a longer one comes in in turns.
MOST_ROWS, MOST_COLUMNS, MOST_BYTES = 10_000, 120, 3_000_000
FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True)
class PropRecord:
    """A prop of the stores with all that is kept of it."""

    prop: Prop
    role: str = "support"
    count: int = 1
    place: str = ""
    lender: str = ""
    return_on: date | None = None
    cautions: tuple[str, ...] = ()
    notes: str = ""
    size_source: str = ""


@dataclass(frozen=True)
class Fault:
    """row: as a spreadsheet counts it, the heading being 1. cure: what to write instead."""

    row: int
    column: str
    cure: str
    got: str


@dataclass(frozen=True)
class Table:
    """A file as it was read: headings, and rows with the line each stands on."""

    headings: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]


@dataclass(frozen=True)
class Records:
    good: tuple[tuple[int, PropRecord], ...]
    faults: tuple[Fault, ...] = field(default=())

    @property
    def faulty_rows(self) -> tuple[int, ...]:
        return tuple(sorted({f.row for f in self.faults}))


def read_table(raw: bytes) -> Table:
    """Headings and rows of a CSV in UTF-8 (with or without a mark) or Windows-1252, parted by commas, semicolons or tabs.

    Raises FieldError when it is too large, no text, or has no rows.
    """
    if len(raw) > MOST_BYTES:
        raise FieldError("table", f"must be at most {MOST_BYTES // 10**6} MB", show_got=False)
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = raw.decode("cp1252", errors="replace")
    if "\0" in text:
        raise FieldError("table", "must be a CSV text; save the sheet as CSV first", show_got=False)
    first = next((line for line in text.splitlines() if line.strip()), "")
    delimiter = max(",;\t", key=lambda d: _outside_quotes(first, d))
    rows = []
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=False)
    headings: tuple[str, ...] | None = None
    line = 1
    try:
        for cells in reader:
            at, line = line, line + 1
            if not any(c.strip() for c in cells):
                continue
            if headings is None:
                headings = tuple(c.strip() for c in cells)
                if len(headings) > MOST_COLUMNS:
                    raise FieldError("table", f"must have at most {MOST_COLUMNS} columns", len(headings))
            else:
                rows.append((at, tuple(_unguarded(c.strip()) for c in cells)))
            if len(rows) > MOST_ROWS:
                raise FieldError("table", f"must have at most {MOST_ROWS} rows; bring it in in two or more parts", show_got=False)
    except csv.Error as error:
        raise FieldError(f"row {line}", f"must be CSV that can be read ({error})", show_got=False) from None
    if headings is None or not rows:
        raise FieldError("table", "must have a row of headings and at least one row under it", show_got=False)
    return Table(headings, tuple(rows))


def _outside_quotes(line: str, delimiter: str) -> int:
    return re.sub(r'"[^"]*"', "", line).count(delimiter)


def records(table: Table, columns: Sequence[str], chosen: Mapping[str, Marks] | None = None) -> Records:
    """Every row as a prop, or as the faults that keep it from being one: each names row, column and cure.

    ``chosen``: how marks before three digits are read in a column, where a person says so; else what else stands in the column settles it.
    """
    good: list[tuple[int, PropRecord]] = []
    faults: list[Fault] = []
    keys: dict[str, int] = {}
    units = {c: default_unit(h) for c, h in zip(columns, table.headings, strict=True) if c}
    marks = {d.column: d.settled for d in doubts(table.headings, table.rows, columns)} | dict(chosen or {})
    for row, cells in table.rows:
        values = {c: cell for c, cell in zip(columns, cells, strict=False) if c}
        found, wrong = _record(_Row(row, values, units, marks))
        if len(cells) > len(table.headings) and any(cells[len(table.headings) :]):
            # its cells stand under the wrong headings, so nothing else that is said of it would help
            wrong = [Fault(row, table.headings[-1], "put quotes round a cell that holds the separator", cells[len(table.headings)])]
        if found is not None and found.prop.id in keys and values.get("key"):
            wrong.append(Fault(row, "key", f"give it a key of its own; row {keys[found.prop.id]} has this one", found.prop.id))
        if wrong or found is None:
            faults += wrong
            continue
        keys[found.prop.id] = row
        good.append((row, found))
    return Records(tuple(good), tuple(faults))


@dataclass
class _Row:
    """One row while it is read: its cells by column, the units of its lengths, and the faults found so far."""

    number: int
    values: dict[str, str]
    units: dict[str, str]
    marks: dict[str, Marks | None]
    faults: list[Fault] = field(default_factory=list)

    def take(self, column: str, read: Callable[[str], Any], default: Any, cure: str) -> Any:
        """What the cell says; ``default`` where it is empty, or cannot be read, which is a fault with that cure."""
        text = self.values.get(column, "")
        if not text:
            return default
        try:
            return read(text)
        except DoubtfulLength as doubt:
            self.fault(column, doubt.rule.removeprefix("must "), text[:80])
            return default
        except (ValueError, FieldError):
            self.fault(column, cure, text[:80])
            return default

    def fault(self, column: str, cure: str, got: str) -> None:
        self.faults.append(Fault(self.number, column, cure, got))

    def is_faulty(self, column: str) -> bool:
        return any(f.column == column for f in self.faults)


def _record(row: _Row) -> tuple[PropRecord | None, list[Fault]]:
    value, kept = _prop_value(row), _kept(row)
    if row.faults or value["shape"] is None:
        return None, row.faults
    try:
        prop = prop_from_value(value)
    except FieldError as error:
        column = next((c for c in COLUMNS if f".{c}" in f".{error.path}".replace(".shape.", ".").replace("prop.id", "prop.key")), "shape")
        row.fault(column, error.rule.removeprefix("must "), str(row.values.get(column, ""))[:80])
        return None, row.faults
    return PropRecord(prop, **kept), row.faults


def _prop_value(row: _Row) -> dict[str, Any]:
    """The prop as the scene document writes it; its shape is None where that is faulty."""
    name = row.values.get("name", "")
    if not name:
        row.fault("name", "write what it is called", "")
    shape = _shape(row, _lengths(row))
    plain = [{"hex": "#b0aca4", "share": 1}]
    colours = row.take("colours", colours_of_cell, plain, "write colours as #c4621a 70%; #efe3c8 30%, or a plain name such as brown")
    return {
        "id": row.take("key", key_of, slug(name) or "prop", "write a key of at most 60 letters a to z, digits, hyphens and underscores"),
        "name": name[:120],
        "shape": shape,
        "colours": colours,
        "finish": row.take("finish", lambda t: one_of(t, FINISHES), "matte", "write one of " + ", ".join(FINISHES)),
        "texture": row.values.get("texture", "smooth") or "smooth",
        "material": row.values.get("material", ""),
        "tags": [t.strip() for t in re.split(r"[;,|]", row.values.get("tags", "")) if t.strip()],
        "skins": row.take("skins", skins_of, [], "write as face:picture, such as top:3f2a"),
    }


def _kept(row: _Row) -> dict[str, Any]:
    """What the stores keep beside the prop."""
    return {
        "role": row.take("role", lambda t: one_of(t, ROLES), "support", "write one of " + ", ".join(ROLES)),
        "count": row.take("count", count_of, 1, "write a whole number from 0 to 9999"),
        "place": row.take("place", partial(plain_line, path="place"), "", PLAIN_CURE),
        "lender": row.take("lender", partial(plain_line, path="lender"), "", PLAIN_CURE),
        "return_on": row.take("return_on", day_of, None, "write a day as 2026-11-25 or 25.11.2026"),
        "cautions": row.take("cautions", cautions_of, (), "write any of " + ", ".join(CAUTIONS)),
        "notes": row.take("notes", lambda t: text_of(t[:600], "notes", 600), "", "write plain text"),
        "size_source": row.take("size_source", partial(plain_line, path="size_source"), "", PLAIN_CURE),
    }


def _lengths(row: _Row) -> dict[str, float]:
    cure = "write a length above 0, such as 120, 12 cm or 4 3/4 in"
    read = {c: row.take(c, partial(size_mm, unit=row.units.get(c, "mm"), marks=row.marks.get(c)), None, cure) for c in LENGTHS}
    return {c: size for c, size in read.items() if size is not None}


def _shape(row: _Row, lengths: dict[str, float]) -> dict[str, Any] | None:
    named = row.values.get("shape", "").lower()
    if named and named not in SHAPES:
        row.fault("shape", "write one of " + ", ".join(SHAPES), row.values["shape"][:80])
        return None
    kind = named or ("cylinder" if "diameter" in lengths and "height" in lengths else "sphere" if "diameter" in lengths else "box")
    missing = [c for c in NEEDED[kind] if c not in lengths]
    for column in missing:
        if not row.is_faulty(column):
            row.fault(column, f"write its {column.replace('_', ' ')}; a {kind} needs it", row.values.get(column, ""))
    if missing:
        return None
    shape: dict[str, Any] = {"kind": kind}
    for name, described in fields_of(SHAPES[kind]).items():
        shape[name] = lengths[name] if isinstance(described, Length) else _further(row, name, described)
    return None if None in shape.values() else shape


def _further(row: _Row, column: str, described: Whole | Corners) -> Any:
    """What is no length: a count, which may be left out, or corners, which may not (None, and a fault)."""
    if isinstance(described, Whole):
        of_what = f" of {described.counted}" if described.counted else ""
        return row.take(column, int, described.in_a_table, f"write a whole number{of_what}")
    corners = row.take(column, corners_of, None, "write corners in mm as 0 0; 80 0; 80 30")
    if corners is None and not row.is_faulty(column):
        row.fault(column, "write its corners in mm as 0 0; 80 0; 80 30", "")
    return corners


def slug(text: str) -> str:
    """A key out of a name: lower case, words joined by hyphens.

    >>> slug("Tea tin, large (No. 2)")
    'tea-tin-large-no-2'
    """
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")[:60]


def _unguarded(cell: str) -> str:
    return cell[1:] if cell.startswith("'") and (cell[1:].startswith(FORMULA) or cell[1:].startswith("'")) else cell
