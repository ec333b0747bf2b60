"""Read what gives light and what turns it: lights, cards, rig."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..errors import DocumentError, FieldError
from ..light.sun import moment_of, sun_at
from ..model import (
    CARD_HOLDERS,
    CARD_KINDS,
    COVERS,
    LIGHT_KINDS,
    RIG_KINDS,
    Card,
    Lamp,
    LeftOut,
    Light,
    Rig,
    RoomLight,
    Scene,
    Sheet,
    Sun,
    Window,
)
from .reading import Node, point, unique

#: Of each in one list.
MOST_LIGHTS, MOST_CARDS, MOST_RIG = 24, 24, 40
#: Colour temperatures of what gives light, K: a candle has 1 900, blue sky in shade may have 20 000.
KELVIN = (1000.0, 40_000.0)
#: Strength over or under what 0 stands for, stops.
STOPS = (-20.0, 20.0)
#: The whole angle that a lamp shines in, degrees.
BEAM = (1.0, 180.0)
#: The most that a card is bent: a half circle.
MOST_BEND = 180.0


def lights_of(node: Node) -> tuple[Light, ...]:
    """The lights of a scene or a set-up. Raises DocumentError."""
    found = _listed(node, "lights", light_of, MOST_LIGHTS)
    windows = {light.id for light in found if isinstance(light, Window)}
    for i, light in enumerate(found):
        if isinstance(light, Sun) and light.through is not None and light.through not in windows:
            raise DocumentError(f"{node.where('lights')}[{i}].through", "must name one of the windows of this list", light.through)
    return found


def cards_of(node: Node) -> tuple[Card, ...]:
    return _listed(node, "cards", card_of, MOST_CARDS)


def rig_of(node: Node) -> tuple[Rig, ...]:
    return _listed(node, "rig", rig_piece_of, MOST_RIG)


def _listed(node: Node, key: str, read: Callable[[Node], Any], most: int) -> tuple[Any, ...]:
    found = tuple(read(Node(item, path)) for item, path in node.items(key, most=most))
    unique(node.where(key), "id", [item.id for item in found])
    return found


def light_of(node: Node) -> Light:
    """One light. Raises DocumentError."""
    kind = node.choice("kind", LIGHT_KINDS)
    shared = {
        "id": node.ident("id"),
        "on": node.flag("on", True),
        "kelvin": node.number("kelvin", *KELVIN, 5500),
        "filter": node.colour("filter") if node.has("filter") else None,
        "stops": node.number("stops", *STOPS, 0),
    }
    light = {"window": _window, "lamp": _lamp, "sun": _sun, "room": lambda _, shared: RoomLight(**shared)}[kind](node, shared)
    node.close()
    return light


def _faced(node: Node) -> dict[str, Any]:
    return {
        "at": point(node.get("at"), node.where("at")),
        "toward": _way(node, "toward"),
        "width": node.size("width"),
        "height": node.size("height"),
        "round": node.flag("round", False),
    }


def _window(node: Node, shared: dict[str, Any]) -> Light:
    return Window(**shared, **_faced(node), cover=node.choice("cover", tuple(COVERS), "none"))


def _lamp(node: Node, shared: dict[str, Any]) -> Light:
    through = sheet_of(node.child("through")) if node.has("through") else None
    return Lamp(**shared, **_faced(node), beam=node.maybe("beam", *BEAM), through=through)


def sheet_of(node: Node) -> Sheet:
    """A sheet before a lamp. Raises DocumentError."""
    at, toward = point(node.get("at"), node.where("at")), _way(node, "toward")
    sheet = Sheet(at, toward, node.size("width"), node.size("height"), node.number("transmission", 0, 1))
    node.close()
    return sheet


def _sun(node: Node, shared: dict[str, Any]) -> Light:
    latitude, longitude, time = node.number("latitude", -90, 90), node.number("longitude", -180, 180), node.name("time")
    try:
        sun_at(latitude, longitude, moment_of(time))
    except FieldError as error:
        raise DocumentError(node.where(error.path), error.rule, error.got) from None
    through = node.ident("through") if node.has("through") else None
    return Sun(**shared, latitude=latitude, longitude=longitude, time=time, through=through)


def card_of(node: Node) -> Card:
    """One card. Raises DocumentError."""
    kind = node.choice("kind", CARD_KINDS)
    colour = node.colour("colour") if node.has("colour") else None
    if kind == "tint" and colour is None:
        raise node.fail("colour", "must be given for a tint")
    card = Card(
        node.ident("id"),
        kind,
        point(node.get("at"), node.where("at")),
        _way(node, "toward"),
        node.size("width"),
        node.size("height"),
        colour,
        node.number("bend", 0, MOST_BEND, 0),
        node.choice("held_by", CARD_HOLDERS, "stand"),
    )
    node.close()
    return card


def rig_piece_of(node: Node) -> Rig:
    """One piece of rig. Raises DocumentError."""
    piece = Rig(
        node.ident("id"),
        node.choice("kind", RIG_KINDS),
        point(node.get("at"), node.where("at")),
        _way(node, "toward"),
        node.size("width"),
        node.size("depth"),
        node.size("height"),
    )
    node.close()
    return piece


def _way(node: Node, key: str) -> tuple[float, float, float]:
    found = point(node.get(key), node.where(key))
    if not any(found):
        raise node.fail(key, "must point somewhere")
    return found


def check_suns(scene: Scene) -> None:
    """Without the compass nobody knows where the sun comes from. Raises DocumentError."""
    own = [setup.lights for setup in scene.setups if not isinstance(setup.lights, LeftOut)]
    shines = any(isinstance(light, Sun) for lights in (scene.lights, *own) for light in lights)
    if shines and (scene.room is None or scene.room.north is None):
        raise DocumentError("room.north", "must be given where there is a sun: the compass bearing of the table's +y", show_got=False)
