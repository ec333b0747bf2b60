"""Props as a table out: CSV that reads back unchanged."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from typing import Any

from ..units import written_number
from .prop_columns import COLUMNS, FURTHER, LENGTHS
from .prop_table import FORMULA, PropRecord
from .scene_writer import prop_value


def write_table(kept: Sequence[PropRecord]) -> str:
    """CSV with every column, comma-parted, lengths in plain mm. Cells that a spreadsheet would run as a formula are guarded by an
    apostrophe."""
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
        **{c: written_number(shape[c]) for c in LENGTHS if c in shape},
        **{c: _field_text(shape[c]) for c in FURTHER if c in shape},
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


def _field_text(value: Any) -> Any:
    return "; ".join(f"{x:.10g} {y:.10g}" for x, y in value) if isinstance(value, list | tuple) else value


def _skin_text(skin: dict[str, Any]) -> str:
    size = f":{skin['width']:g}:{skin['depth']:g}" if skin["width"] else ""
    return f"{skin['face']}:{skin['picture']}{size}"


def _guarded(cell: str) -> str:
    return "'" + cell if cell.startswith(FORMULA) or cell.startswith("'") else cell
