"""What of the scene's JSON Schema tells lights, cards, rig and the room: from the bounds that the reader holds them to."""

from __future__ import annotations

from typing import Any

from tideflat.core.bounds import LEAST_SIZE_MM, MOST_PLACE_MM
from tideflat.core.formats import light_reader as reader
from tideflat.core.model import CARD_HOLDERS, CARD_KINDS, COVERS, RIG_KINDS

_ID = {"$ref": "#/$defs/id"}
_SIZE = {"$ref": "#/$defs/size"}
_COLOUR = {"$ref": "#/$defs/colour"}
_POINT = {
    "type": "array",
    "minItems": 3,
    "maxItems": 3,
    "items": {"type": "number", "minimum": -MOST_PLACE_MM, "maximum": MOST_PLACE_MM},
}
_WAY = {**_POINT, "not": {"items": {"const": 0}}}
_MAYBE_COLOUR = {"anyOf": [_COLOUR, {"type": "null"}], "default": None}


def _between(bounds: tuple[float, float], **more: Any) -> dict[str, Any]:
    return {"type": "number", "minimum": _plain(bounds[0]), "maximum": _plain(bounds[1]), **more}


def _plain(value: float) -> Any:
    return int(value) if float(value).is_integer() else value


def _object(properties: dict[str, Any], required: list[str]) -> dict[str, Any]:
    return {"type": "object", "additionalProperties": False, "required": required, "properties": properties}


def light_schema() -> dict[str, Any]:
    """One object schema a kind of light."""
    face = {"at": _POINT, "toward": _WAY, "width": _SIZE, "height": _SIZE, "round": {"type": "boolean", "default": False}}
    faced = ["at", "toward", "width", "height"]
    sheet = _object(
        {"at": _POINT, "toward": _WAY, "width": _SIZE, "height": _SIZE, "transmission": _between((0, 1))}, [*faced, "transmission"]
    )
    beam = {**_between(reader.BEAM), "type": ["number", "null"], "default": None}
    through = {"anyOf": [sheet, {"type": "null"}], "default": None}
    window_id = {"anyOf": [_ID, {"type": "null"}], "default": None}
    sun = {
        "latitude": _between((-90, 90)),
        "longitude": _between((-180, 180)),
        "time": {"$ref": "#/$defs/name"},
        "through": window_id,
    }
    kinds = [
        _of_kind("window", {**face, "cover": {"enum": list(COVERS), "default": "none"}}, faced),
        _of_kind("lamp", {**face, "beam": beam, "through": through}, faced),
        _of_kind("sun", sun, ["latitude", "longitude", "time"]),
        _of_kind("room", {}, []),
    ]
    return {"type": "object", "required": ["id", "kind"], "oneOf": kinds}


def _of_kind(kind: str, own: dict[str, Any], required: list[str]) -> dict[str, Any]:
    shared = {
        "id": _ID,
        "kind": {"const": kind},
        "on": {"type": "boolean", "default": True},
        "kelvin": _between(reader.KELVIN, default=5500),
        "filter": _MAYBE_COLOUR,
        "stops": _between(reader.STOPS, default=0),
    }
    return {"additionalProperties": False, "required": required, "properties": {**shared, **own}}


def card_schema() -> dict[str, Any]:
    """A card; a tint has a colour."""
    own = {
        "id": _ID,
        "kind": {"enum": list(CARD_KINDS)},
        "at": _POINT,
        "toward": _WAY,
        "width": _SIZE,
        "height": _SIZE,
        "colour": _MAYBE_COLOUR,
        "bend": _between((0, reader.MOST_BEND), default=0),
        "held_by": {"enum": list(CARD_HOLDERS), "default": CARD_HOLDERS[0]},
    }
    tint = {"if": {"properties": {"kind": {"const": "tint"}}}, "then": {"required": ["colour"], "properties": {"colour": _COLOUR}}}
    return {**_object(own, ["id", "kind", "at", "toward", "width", "height"]), **tint}


def rig_schema() -> dict[str, Any]:
    """A piece of rig."""
    own = {"id": _ID, "kind": {"enum": list(RIG_KINDS)}, "at": _POINT, "toward": _WAY, "width": _SIZE, "depth": _SIZE, "height": _SIZE}
    return _object(own, list(own))


def lists() -> dict[str, Any]:
    """The keys of a scene or a set-up."""
    found = (("lights", "light", reader.MOST_LIGHTS), ("cards", "card", reader.MOST_CARDS), ("rig", "rig", reader.MOST_RIG))
    return {key: {"type": "array", "maxItems": most, "items": {"$ref": f"#/$defs/{name}"}} for key, name, most in found}


def room_properties() -> dict[str, Any]:
    """Members of a room beside its ceiling's height and its walls."""
    place = {"type": ["number", "null"], "minimum": -MOST_PLACE_MM, "maximum": MOST_PLACE_MM, "default": None}
    size = {"type": ["number", "null"], "minimum": LEAST_SIZE_MM, "maximum": MOST_PLACE_MM, "default": None}
    bearing = {"type": ["number", "null"], "minimum": -360, "maximum": 360, "default": None}
    return {"north": bearing, "x": place, "y": place, "width": size, "depth": size, "ceiling": _MAYBE_COLOUR}
