"""Light: what gives it and what turns it, and what it does to the set."""

from __future__ import annotations

from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.model import COVERS, Card, Faced, Lamp, Light, Rig, Sun, Window
from tideflat.web.bridge.light_words import light_name
from tideflat.web.stores.kit_light import own_cards, own_lights

from ..forms.lights import LAMPS
from .station import Look, Reading, Station

#: What may be set up, in the order it is offered, and what each is called.
LIGHTS_OFFERED = (
    ("window", "window"),
    *((key, light_name(key)) for key in LAMPS),
    ("sun", "sun"),
    ("room", "room light"),
)
CARDS_OFFERED = (
    ("white-card", "white"),
    ("silver-card", "silver"),
    ("gold-card", "gold"),
    ("black-card", "black"),
    ("tint-card", "tinted"),
)
RIG_OFFERED = (("flag", "flag"), ("stand", "stand"), ("arm", "arm"), ("person", "person"))


def _context(look: Look) -> dict[str, Any]:
    scene = look.picture.scene
    windows = [light.id for light in scene.lights if isinstance(light, Window)]
    return {
        "lights": [_light(light) for light in scene.lights],
        "cards": [_card(card) for card in scene.cards],
        "rig": [_rig(piece) for piece in scene.rig],
        "covers": tuple(COVERS),
        "windows": windows,
        "offered": {
            "own": [(f"own-light-{pk}", name) for pk, name, _ in own_lights(look.row.studio)]
            + [(f"own-card-{pk}", name) for pk, name, _ in own_cards(look.row.studio)],
            "lights": LIGHTS_OFFERED, "cards": CARDS_OFFERED, "rig": RIG_OFFERED,
        },
        "some_off": any(not light.on for light in scene.lights),
        "room": scene.room,
    }


def _light(light: Light) -> dict[str, Any]:
    return {
        "id": light.id,
        "name": light_name(light.id),
        "kind": light.kind,
        "on": light.on,
        "stops": light.stops,
        "kelvin": light.kelvin,
        "item": light,
        "is_faced": isinstance(light, Faced),
        "is_lamp": isinstance(light, Lamp),
        "is_window": isinstance(light, Window),
        "is_sun": isinstance(light, Sun),
    }


def _card(card: Card) -> dict[str, Any]:
    return {"id": card.id, "name": light_name(card.id), "item": card}


def _rig(piece: Rig) -> dict[str, Any]:
    return {"id": piece.id, "name": light_name(piece.id), "item": piece}


def _reading(picture: Picture) -> Reading:
    lights = [light for light in picture.scene.lights if light.on]
    if not picture.scene.lights:
        return Reading(False, "from a window to the back left, until you decide")
    words = ", ".join(light_name(light.id) for light in lights) or "all off"
    cards = len(picture.scene.cards)
    return Reading(True, words + (f"; {cards} card{'' if cards == 1 else 's'}" if cards else ""))


STATION = Station(
    tray="light",
    template="scenes/fragments/tray_light.html",
    context=_context,
    rank=60,
    name="Light",
    reading=_reading,
    verbs=("card-set", "light-add", "light-only", "light-remove", "light-set", "room-lies", "set-turn", "shadow-keep"),
)
