"""Props as a table: CSV in, with every fault named by row and column, and CSV out that reads back unchanged."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date
from functools import partial
from typing import Any

from ..errors import FieldError
from ..facts.cautions import CAUTIONS
from ..model import FINISHES, ROLES, Prop
from ..shapes import SHAPES
from ..units import parse_length_mm
from .prop_reader import prop_from_value
from .reading import MOST_SIZE_MM
from .reading import name as line_of
from .reading import text as text_of
from .scene_writer import prop_value

#: A table of so many rows is read in under two seconds; a longer one comes in in turns.
MOST_ROWS, MOST_COLUMNS, MOST_BYTES = 10_000, 120, 3_000_000
#: Lengths, in mm when no unit is given.
LENGTHS = ("diameter", "width", "depth", "height", "length", "base_diameter", "top_diameter", "neck_diameter", "neck_height", "thickness", "piece_diameter")  # fmt: skip
COLUMNS: tuple[str, ...] = (
    "key", "name", "shape", *LENGTHS, "pieces", "seed", "points", "colours", "finish", "texture", "material", "tags", "skins",
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
#: Plain names of colours, for who has no hex at hand; values from memory.
COLOUR_NAMES: dict[str, str] = {
    "white": "#f4f2ec", "cream": "#efe5cf", "ivory": "#eee6d0", "black": "#1c1c1c", "grey": "#808080", "gray": "#808080", "silver": "#b8bcbe", "brown": "#6b4a32",
    "wood": "#a87e52", "oak": "#b9945f", "walnut": "#54412f", "red": "#b22a26", "pink": "#d9949c", "orange": "#dd7a22", "yellow": "#e3b93a", "gold": "#b8953f",
    "brass": "#b08d4a", "copper": "#b87345", "green": "#5d7d46", "olive": "#76793f", "blue": "#3f6a9a", "navy": "#27374f", "teal": "#2b6a6c", "purple": "#6d4a86",
    "clear": "#dfe7e6", "glass": "#dfe7e6", "terracotta": "#b5653f", "beige": "#d3c3a3", "slate": "#4b5052",
}  # fmt: skip
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
#: Lengths that each shape needs.
NEEDED: dict[str, tuple[str, ...]] = {
    "cylinder": ("diameter", "height"), "box": ("width", "depth", "height"), "bowl": ("diameter", "base_diameter", "height"),
    "bottle": ("diameter", "height", "neck_diameter", "neck_height"), "cone": ("base_diameter", "top_diameter", "height"), "sphere": ("diameter",),
    "ellipse": ("width", "depth", "height"), "rod": ("length", "width", "height"), "outline": ("height",),
    "cloth": ("width", "depth", "thickness"), "scatter": ("width", "depth", "piece_diameter"),
}  # fmt: skip


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


def guessed_columns(table: Table) -> tuple[str, ...]:
    """For each heading the column it seems to be, "" for none; none is guessed twice. ``width (mm)`` and ``Width in mm`` are ``width``."""
    found: list[str] = []
    for heading in table.headings:
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


def records(table: Table, columns: Sequence[str]) -> Records:
    """Every row as a prop, or as the faults that keep it from being one: each names row, column and cure."""
    good: list[tuple[int, PropRecord]] = []
    faults: list[Fault] = []
    keys: dict[str, int] = {}
    units = {c: default_unit(h) for c, h in zip(columns, table.headings, strict=True) if c}
    for row, cells in table.rows:
        values = {c: cell for c, cell in zip(columns, cells, strict=False) if c}
        found, wrong = _record(row, values, units)
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


def _record(row: int, values: dict[str, str], units: dict[str, str]) -> tuple[PropRecord | None, list[Fault]]:
    faults: list[Fault] = []

    def take(column: str, read: Callable[[str], Any], default: Any, cure: str) -> Any:
        text = values.get(column, "")
        if not text:
            return default
        try:
            return read(text)
        except (ValueError, FieldError):
            faults.append(Fault(row, column, cure, text[:80]))
            return default

    name = values.get("name", "")
    if not name:
        faults.append(Fault(row, "name", "write what it is called", ""))
    lengths = {}
    for column in LENGTHS:
        read = partial(_size, unit=units.get(column, "mm"))
        size = take(column, read, None, "write a length above 0, such as 120, 12 cm or 4 3/4 in")
        if size is not None:
            lengths[column] = size
    shape = _shape(row, values, lengths, take, faults)
    colours = take(
        "colours", _colours, [{"hex": "#b0aca4", "share": 1}], "write colours as #c4621a 70%; #efe3c8 30%, or a plain name such as brown"
    )
    value = {
        "id": take("key", _key, slug(name) or "prop", "write a key of at most 60 letters a to z, digits, hyphens and underscores"),
        "name": name[:120],
        "shape": shape,
        "colours": colours,
        "finish": take("finish", lambda t: _one_of(t, FINISHES), "matte", "write one of " + ", ".join(FINISHES)),
        "texture": values.get("texture", "smooth") or "smooth",
        "material": values.get("material", ""),
        "tags": [t.strip() for t in re.split(r"[;,|]", values.get("tags", "")) if t.strip()],
        "skins": take("skins", _skins, [], "write as face:picture, such as top:3f2a"),
    }
    record = PropRecord(
        prop=None,  # type: ignore[arg-type]
        role=take("role", lambda t: _one_of(t, ROLES), "support", "write one of " + ", ".join(ROLES)),
        count=take("count", _count, 1, "write a whole number from 0 to 9999"),
        place=take("place", partial(_line, path="place"), "", _PLAIN),
        lender=take("lender", partial(_line, path="lender"), "", _PLAIN),
        return_on=take("return_on", _day, None, "write a day as 2026-11-25 or 25.11.2026"),
        cautions=take("cautions", _cautions, (), "write any of " + ", ".join(CAUTIONS)),
        notes=take("notes", lambda t: text_of(t[:600], "notes", 600), "", "write plain text"),
        size_source=take("size_source", partial(_line, path="size_source"), "", _PLAIN),
    )
    if faults or shape is None:
        return None, faults
    try:
        prop = prop_from_value(value)
    except FieldError as error:
        column = next((c for c in COLUMNS if f".{c}" in f".{error.path}".replace(".shape.", ".").replace("prop.id", "prop.key")), "shape")
        faults.append(Fault(row, column, error.rule.removeprefix("must "), str(values.get(column, ""))[:80]))
        return None, faults
    return PropRecord(**{**record.__dict__, "prop": prop}), faults


def _shape(
    row: int, values: dict[str, str], lengths: dict[str, float], take: Callable[..., Any], faults: list[Fault]
) -> dict[str, Any] | None:
    named = values.get("shape", "").lower()
    if named and named not in SHAPES:
        faults.append(Fault(row, "shape", "write one of " + ", ".join(SHAPES), values["shape"][:80]))
        return None
    kind = named or ("cylinder" if "diameter" in lengths and "height" in lengths else "sphere" if "diameter" in lengths else "box")
    missing = [c for c in NEEDED[kind] if c not in lengths]
    already = {f.column for f in faults}
    for column in missing:
        if column not in already:
            faults.append(Fault(row, column, f"write its {column.replace('_', ' ')}; a {kind} needs it", values.get(column, "")))
    if missing:
        return None
    shape: dict[str, Any] = {"kind": kind, **{c: lengths[c] for c in NEEDED[kind]}}
    if kind == "outline":
        points = take("points", _points, None, "write corners in mm as 0 0; 80 0; 80 30")
        if points is None:
            if not any(f.column == "points" for f in faults):
                faults.append(Fault(row, "points", "write its corners in mm as 0 0; 80 0; 80 30", ""))
            return None
        shape["points"] = points
    if kind == "scatter":
        shape["pieces"] = take("pieces", _count, 20, "write a whole number of pieces")
        shape["seed"] = take("seed", int, 0, "write a whole number")
    return shape


def _key(text: str) -> str:
    if not re.fullmatch(r"[A-Za-z0-9_-]{1,60}", text):
        raise ValueError(text)
    return text


#: The cure for what is no plain text on one line.
_PLAIN = "write plain text on one line, without < or >"


def _line(text: str, path: str) -> str:
    return line_of(text[:120], path, empty=True)


def _size(text: str, unit: str) -> float:
    value = parse_length_mm(text, unit)
    if not 0 <= value <= MOST_SIZE_MM:
        raise ValueError(text)
    return value


def _one_of(text: str, choices: Sequence[str]) -> str:
    if text.lower() not in choices:
        raise ValueError(text)
    return text.lower()


def _count(text: str) -> int:
    value = int(text)
    if not 0 <= value <= 9999:
        raise ValueError(text)
    return value


def _day(text: str) -> date:
    match = re.fullmatch(r"(\d{1,2})[./](\d{1,2})[./](\d{4})", text)
    return date(int(match.group(3)), int(match.group(2)), int(match.group(1))) if match else date.fromisoformat(text)


def _cautions(text: str) -> tuple[str, ...]:
    return tuple(_one_of(part.strip().replace(" ", "-"), tuple(CAUTIONS)) for part in re.split(r"[;,|]", text) if part.strip())


def _colours(text: str) -> list[dict[str, Any]]:
    found = []
    for part in re.split(r"[;|]|,(?!\d)", text):
        match = re.fullmatch(r"\s*(#[0-9a-fA-F]{6}|[a-zA-Z]+)\s*(?:(\d{1,3}(?:[.,]\d+)?)\s*%)?\s*", part)
        if match is None:
            raise ValueError(part)
        colour = match.group(1).lower()
        found.append((COLOUR_NAMES[colour] if not colour.startswith("#") and colour in COLOUR_NAMES else colour, match.group(2)))
        if not found[-1][0].startswith("#"):
            raise ValueError(part)
    given = [float(s.replace(",", ".")) / 100 for _, s in found if s]
    left = max(0.0, 1 - sum(given)) / max(1, len(found) - len(given))
    return [{"hex": c, "share": round(float(s.replace(",", ".")) / 100, 6) if s else round(left, 6)} for c, s in found]


def _points(text: str) -> list[list[float]]:
    return [[float(v.replace(",", ".")) for v in pair.split()] for pair in text.split(";") if pair.strip()]


def _skins(text: str) -> list[dict[str, Any]]:
    found = []
    for part in text.split(";"):
        face, picture, *size = part.strip().split(":")
        entry: dict[str, Any] = {"picture": picture, "face": face}
        if size:
            width, depth = size
            entry |= {"width": float(width), "depth": float(depth)}
        found.append(entry)
    return found


def slug(text: str) -> str:
    """A key out of a name: lower case, words joined by hyphens.

    >>> slug("Tea tin, large (No. 2)")
    'tea-tin-large-no-2'
    """
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")[:60]


def write_table(kept: Sequence[PropRecord]) -> str:
    """CSV with every column, comma-parted, lengths in plain mm. Cells that a spreadsheet would run as a formula are guarded by an apostrophe."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for record in kept:
        cells = cells_of(record)
        writer.writerow([_guarded(cells.get(c, "")) for c in COLUMNS])
    return out.getvalue()


def cells_of(record: PropRecord) -> dict[str, str]:
    """Column and text of one prop's row, as ``records`` reads them back; lengths in plain mm."""
    value = prop_value(record.prop)
    shape = value["shape"]
    cells = {
        "key": value["id"],
        "name": value["name"],
        "shape": shape["kind"],
        **{c: f"{shape[c]:.10g}" for c in LENGTHS if c in shape},
        "pieces": shape.get("pieces", ""),
        "seed": shape.get("seed", ""),
        "points": "; ".join(f"{x:.10g} {y:.10g}" for x, y in shape.get("points", ())),
        "colours": "; ".join(f"{c['hex']} {c['share'] * 100:.6g}%" for c in value["colours"]),
        "finish": value["finish"],
        "texture": value["texture"],
        "material": value["material"],
        "tags": "; ".join(value["tags"]),
        "skins": "; ".join(_skin_text(s) for s in value["skins"]),
        "role": record.role,
        "count": record.count,
        "place": record.place,
        "lender": record.lender,
        "return_on": record.return_on.isoformat() if record.return_on else "",
        "cautions": "; ".join(record.cautions),
        "notes": record.notes,
        "size_source": record.size_source,
    }
    return {c: str(v) for c, v in cells.items()}


def _skin_text(skin: dict[str, Any]) -> str:
    size = f":{skin['width']:g}:{skin['depth']:g}" if skin["width"] else ""
    return f"{skin['face']}:{skin['picture']}{size}"


def _guarded(cell: str) -> str:
    return "'" + cell if cell.startswith(_FORMULA) or cell.startswith("'") else cell


def _unguarded(cell: str) -> str:
    return cell[1:] if cell.startswith("'") and (cell[1:].startswith(_FORMULA) or cell[1:].startswith("'")) else cell
