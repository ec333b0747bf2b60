"""What of the documents' JSON Schemas follows from the code: kinds of shapes, a lens, a kit. `make schema`; a test holds the files to it."""

from __future__ import annotations

import json
from dataclasses import MISSING
from pathlib import Path
from typing import Any

from tideflat.core.formats.camera_reader import SUPPORT_KINDS
from tideflat.core.formats.kit_reader import MOST
from tideflat.core.model.lens import Number, default_of_a_lens, numbers_of_a_lens
from tideflat.core.shapes import SHAPES
from tideflat.core.shapes.fields import Corners, Field, Whole, default_of, fields_of

from .schema_light import card_schema, light_schema, lists, rig_schema, room_properties

PATH = Path(__file__).parents[1] / "src/tideflat/core/formats/scene.schema.json"
KIT_PATH = PATH.with_name("kit.schema.json")
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


#: Teleconverter and moving-picture readout are small enough to stand here as they are read.
CONVERTER = {
    "type": ["object", "null"],
    "additionalProperties": False,
    "required": ["factor"],
    "properties": {
        "factor": {"type": "number", "minimum": 1.05, "maximum": 4},
        "length": {"type": "number", "minimum": 0, "maximum": 500, "default": 0},
    },
}


def support_schema() -> dict[str, Any]:
    """What holds a camera."""
    place = {"type": "number", "minimum": 0, "maximum": 100000}
    name = {"type": "string", "minLength": 1, "maxLength": 200}
    return _object(
        {
            "name": name,
            "kind": {"enum": list(SUPPORT_KINDS), "default": SUPPORT_KINDS[0]},
            "lowest": {**place, "default": 0},
            "highest": place,
            "inverts": {"type": "boolean", "default": False},
            "reach": {**place, "type": ["number", "null"], "default": None},
        },
        ["name", "highest"],
    )


def lens_properties(measured: dict[str, Any]) -> dict[str, Any]:
    """The members of a lens; ``measured``, an object of its own, stands where it is written."""
    found = {name: _number_schema(name, number) for name, number in numbers_of_a_lens().items()}
    names = list(found)
    before = names.index("pupil_ratio") + 1
    return {**{n: found[n] for n in names[:before]}, "measured": measured, **{n: found[n] for n in names[before:]}, "converter": CONVERTER}


def _number_schema(name: str, number: Number) -> dict[str, Any]:
    default = default_of_a_lens(name)
    said = {} if default is MISSING else {"default": list(default) if isinstance(default, tuple) else _plain(default)}
    bounds = {"minimum": _plain(number.low), "maximum": _plain(number.high)}
    if number.count:
        least = 0 if number.or_none else number.count
        return {"type": "array", "minItems": least, "maxItems": number.count, "items": {"type": "number", **bounds}, **said}
    return {"type": ["number", "null"] if number.or_none else "number", **bounds, **said}


def _plain(value: Any) -> Any:
    return int(value) if isinstance(value, float) and value.is_integer() else value


def kit_schema(lens: dict[str, Any], sensor: dict[str, Any]) -> dict[str, Any]:
    """A kit: bodies, lenses, supports, converters, the scene document's keys beside a name, or under ``sensor`` and ``lens``."""
    name = {"type": "string", "minLength": 1, "maxLength": 200}
    length = {"type": ["number", "null"], "minimum": 0.5, "maximum": 3000}
    stop = {**length, "maximum": 256}
    zoom = {"longest": length, "max_aperture_long": stop, "measured_at": length, "fixed_on": {"type": ["string", "null"]}}

    def either(own: dict[str, Any], key: str, within: dict[str, Any]) -> dict[str, Any]:
        flat = _object({"name": name, **own, **within["properties"]}, ["name", *within["required"]])
        return {"anyOf": [_object({"name": name, **own, key: within}, ["name", key]), flat]}

    converter: Any = CONVERTER["properties"]
    lists = {
        "bodies": either({"phone": {"type": "boolean"}}, "sensor", sensor),
        "lenses": either(zoom, "lens", lens),
        "supports": support_schema(),
        "converters": _object({"name": name, "shortest": {**length, "type": "number", "minimum": 0}, **converter}, ["name", "factor"]),
    }
    told = {key: {"type": "array", "maxItems": MOST, "default": [], "items": items} for key, items in lists.items()}
    reach = {"type": "number", "minimum": 0.1, "maximum": 100000}
    said = {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Tideflat kit"}
    return {**said, **_object(told, []), "$defs": {"reach": reach}}


def _object(properties: dict[str, Any], required: list[str]) -> dict[str, Any]:
    return {"type": "object", "additionalProperties": False, "required": required, "properties": properties}


def main() -> None:
    schema = json.loads(PATH.read_text(encoding="utf-8"))
    schema["$defs"]["corner"] = {
        "type": "array",
        "minItems": 2,
        "maxItems": 2,
        "items": {"type": "number", "minimum": -20000, "maximum": 20000},
    }
    schema["$defs"]["shape"]["oneOf"] = shape_schemas()
    lens = schema["$defs"]["camera"]["properties"]["lens"]
    lens["properties"] = lens_properties(lens["properties"]["measured"])
    schema["$defs"]["support"] = support_schema()
    schema["$defs"].update(light=light_schema(), card=card_schema(), rig=rig_schema())
    schema["properties"]["room"]["properties"].update(room_properties())
    schema["properties"].update({key: {**of, "default": []} for key, of in lists().items()})
    schema["$defs"]["setup"]["properties"].update(lists())
    PATH.write_text(_laid_out(schema) + "\n", encoding="utf-8")
    kit = kit_schema(lens, schema["$defs"]["camera"]["properties"]["sensor"])
    KIT_PATH.write_text(_laid_out(kit) + "\n", encoding="utf-8")


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
