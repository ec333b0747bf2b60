"""The part of the scene document's JSON Schema that follows from the code: the kinds of shapes. `make schema`; a test holds the file to it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from tideflat.core.shapes import SHAPES
from tideflat.core.shapes.fields import Corners, Field, Whole, default_of, fields_of

PATH = Path(__file__).parents[1] / "src/tideflat/core/formats/scene.schema.json"
_WIDTH = 120
_SIZE = {"$ref": "#/$defs/size"}


def shape_schemas() -> list[dict[str, Any]]:
    """One object schema a kind, in the order of their names."""
    return [_shape_schema(kind, cls) for kind, cls in SHAPES.items()]


def _shape_schema(kind: str, cls: type) -> dict[str, Any]:
    fields = fields_of(cls)
    return {
        "additionalProperties": False,
        "required": [name for name in fields if default_of(cls, name) is None],
        "properties": {"kind": {"const": kind}, **{name: _field_schema(cls, name, field) for name, field in fields.items()}},
    }


def _field_schema(cls: type, name: str, field: Field) -> dict[str, Any]:
    if isinstance(field, Corners):
        return {"type": "array", "minItems": 3, "maxItems": 500, "items": {"$ref": "#/$defs/corner"}}
    if isinstance(field, Whole):
        default = default_of(cls, name)
        return {"type": "integer", "minimum": field.low, "maximum": field.high, **({} if default is None else {"default": default})}
    return {"anyOf": [{"const": 0}, _SIZE]} if field.or_nothing else _SIZE


def main() -> None:
    schema = json.loads(PATH.read_text(encoding="utf-8"))
    schema["$defs"]["corner"] = {
        "type": "array",
        "minItems": 2,
        "maxItems": 2,
        "items": {"type": "number", "minimum": -20000, "maximum": 20000},
    }
    schema["$defs"]["shape"]["oneOf"] = shape_schemas()
    PATH.write_text(_laid_out(schema) + "\n", encoding="utf-8")


def _laid_out(value: Any, indent: int = 0, used: int = 0) -> str:
    """JSON in which what fits on a line stands on one."""
    flat = json.dumps(value, ensure_ascii=False)
    if not isinstance(value, dict | list) or not value or indent + used + len(flat) <= _WIDTH:
        return flat
    inner = indent + 2
    if isinstance(value, dict):
        items = [f"{json.dumps(k)}: {_laid_out(v, inner, len(k) + 4)}" for k, v in value.items()]
    else:
        items = [_laid_out(v, inner) for v in value]
    opened, closed = "{}" if isinstance(value, dict) else "[]"
    lines = ",\n".join(" " * inner + item for item in items)
    return f"{opened}\n{lines}\n{' ' * indent}{closed}"


if __name__ == "__main__":
    main()
