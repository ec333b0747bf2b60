"""The kinds of argument an act may take: how each is read from JSON, written back, and said in a JSON Schema.

Schemas refer to the definitions of the published scene schema, so that an argument is bounded as the document's own key is.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..bounds import MOST_PLACE_MM
from ..formats.camera_reader import lens_of, sensor_of
from ..formats.ground_reader import backdrop_of, surface_of
from ..formats.prop_reader import prop_of
from ..formats.reading import Node, ident, name, numbers, text
from ..formats.scene_writer import backdrop_value, lens_value, prop_value, scheme_value, sensor_value, surface_value
from ..formats.scheme_reader import scheme_of


def _plain(value: Any) -> Any:
    if isinstance(value, float) and value.is_integer():
        return int(value)
    return [_plain(v) for v in value] if isinstance(value, tuple) else value


@dataclass(frozen=True)
class Kind:
    """One kind of argument. ``read``: from an object's key, raising DocumentError; ``write``: back to JSON; ``schema``: what JSON Schema says."""

    read: Callable[[Node, str], Any]
    schema: dict[str, Any]
    write: Callable[[Any], Any] = _plain


def arg(kind: Kind, default: Any = dataclasses.MISSING) -> Any:
    """A dataclass field that is such an argument; without ``default`` it must be given."""
    return dataclasses.field(default=default, metadata={"kind": kind})


def _ref(of: str) -> dict[str, Any]:
    return {"$ref": f"#/$defs/{of}"}


ID = Kind(lambda node, key: node.ident(key), _ref("id"))
NAME = Kind(lambda node, key: node.name(key), _ref("name"))
TEXT = Kind(lambda node, key: node.text(key), _ref("text"))
FLAG = Kind(lambda node, key: node.flag(key, False), {"type": "boolean"})
PLACE = Kind(lambda node, key: node.length(key), _ref("length"))
HEIGHT = Kind(lambda node, key: node.number(key, 0, MOST_PLACE_MM), _ref("z"))
REACH = Kind(lambda node, key: node.reach(key), _ref("reach"))
COLOUR = Kind(lambda node, key: node.colour(key), _ref("colour"))
FRACTION = Kind(lambda node, key: node.number(key, 0, 1), _ref("fraction"))


def numbered(low: float, high: float) -> Kind:
    """A number from ``low`` to ``high``."""
    return Kind(lambda node, key: node.number(key, low, high), {"type": "number", "minimum": low, "maximum": high})


def whole(low: int, high: int) -> Kind:
    """A whole number from ``low`` to ``high``."""
    return Kind(lambda node, key: node.whole(key, low, high), {"type": "integer", "minimum": low, "maximum": high})


def one_of(choices: tuple[str, ...]) -> Kind:
    """One of these words."""
    return Kind(lambda node, key: node.choice(key, choices), {"enum": list(choices)})


def texted(most: int) -> Kind:
    """Text of at most so many characters."""
    return Kind(lambda node, key: text(node.get(key), node.where(key), most), {"type": "string", "maxLength": most})


def maybe(kind: Kind) -> Kind:
    """The same, or null."""
    return Kind(
        lambda node, key: kind.read(node, key) if node.has(key) else None,
        {"anyOf": [kind.schema, {"type": "null"}]},
        lambda value: None if value is None else kind.write(value),
    )


def listed(item: Callable[[Any, str], Any], schema: dict[str, Any], most: int) -> Kind:
    """A list of at most so many items, each read by ``item``."""
    return Kind(
        lambda node, key: tuple(item(value, path) for value, path in node.items(key, most=most)),
        {"type": "array", "items": schema, "maxItems": most},
    )


def valued(read: Callable[[Node], Any], write: Callable[[Any], Any], schema: dict[str, Any]) -> Kind:
    """An object of the document."""
    return Kind(lambda node, key: read(node.child(key)), schema, write)


POINT = Kind(lambda node, key: numbers(node.get(key), node.where(key), 3, -MOST_PLACE_MM, MOST_PLACE_MM), _ref("point3"))
PAIR = Kind(
    lambda node, key: numbers(node.get(key), node.where(key), 2, 0, 1),
    {"type": "array", "items": _ref("fraction"), "minItems": 2, "maxItems": 2},
)
IDS = listed(ident, _ref("id"), 500)
NAMES = listed(name, _ref("name"), 40)
SURFACE = valued(surface_of, surface_value, _ref("surface"))
BACKDROP = valued(backdrop_of, backdrop_value, _ref("backdrop"))
SCHEME = valued(scheme_of, scheme_value, _ref("scheme"))
LENS = valued(lens_of, lens_value, {"$ref": "#/$defs/camera/properties/lens"})
SENSOR = valued(sensor_of, sensor_value, {"$ref": "#/$defs/camera/properties/sensor"})


def _focus(node: Node) -> tuple[float, float, float]:
    point = POINT.read(node, "point")
    node.close()
    return point  # type: ignore[no-any-return]


FOCUS = valued(_focus, lambda point: {"point": _plain(point)}, {"$ref": "#/$defs/camera/properties/focus"})


def _prop(node: Node, key: str) -> Any:
    return ident(node.get(key), node.where(key)) if isinstance(node.get(key), str) else prop_of(node.child(key))


#: A prop as an object of its own, or the id of one that is in the scene.
PROP = Kind(_prop, {"anyOf": [_ref("id"), _ref("prop")]}, lambda value: value if isinstance(value, str) else prop_value(value))
