"""Forms for light: lamps, windows, cards and rig set up, changed, moved, taken away; the room and the turn of the set."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import time
from typing import Any

from django.utils.text import slugify

from tideflat.core.errors import FieldError
from tideflat.core.formats.light_reader import BEAM, KELVIN, STOPS
from tideflat.core.formats.scene_writer import card_value, light_value, rig_value
from tideflat.core.light.sun import moment_of
from tideflat.core.light.usual import before_backdrop
from tideflat.core.model import CARD_KINDS, COVERS, LIGHTING, Card, Faced, Lamp, Light, Rig, RoomLight, Scene, Sun, Window
from tideflat.web.stores.kit_light import own_cards, own_lights

from .asked import Asked, Form, Value

#: Lamps people have, as the document's keys: width, height, round, beam (degrees), kelvin. Sizes are common practice, no source.
LAMPS: dict[str, dict[str, Any]] = {
    "soft-box": {"width": 600.0, "height": 900.0, "kelvin": 5500.0},
    "strip": {"width": 300.0, "height": 1200.0, "kelvin": 5500.0},
    "lantern": {"width": 500.0, "height": 500.0, "round": True, "kelvin": 5500.0},
    "reflector": {"width": 180.0, "height": 180.0, "round": True, "beam": 110.0, "kelvin": 5500.0},
    "grid": {"width": 180.0, "height": 180.0, "round": True, "beam": 30.0, "kelvin": 5500.0},
    "bare-lamp": {"width": 90.0, "height": 90.0, "round": True, "kelvin": 3200.0},
    "sheeted-lamp": {"width": 180.0, "height": 180.0, "round": True, "beam": 110.0, "kelvin": 5500.0},
}
#: What of the studio's own is asked for by, and the most letters of its name as an id.
_OWN, _MOST_ID = "own-", 60
WINDOW_SIZE = (1100.0, 1300.0)
RIG_SIZES = {"stand": (60.0, 60.0, 1800.0), "arm": (1200.0, 50.0, 50.0), "person": (460.0, 300.0, 1700.0), "flag": (400.0, 10.0, 500.0)}
KINDS = ("window", *LAMPS, "sun", "room", *(f"{kind}-card" for kind in CARD_KINDS), *RIG_SIZES)
#: Where lights are set up first: ways from the surface's middle, so far beyond its edge, and how high, mm: back left, right, back, left.
_PLACES = ((-0.78, 0.62), (0.97, 0.22), (0.2, 0.98), (-1.0, 0.0))
_FURTHER_MM = 550.0
_LAMP_UP, _WINDOW_UP, _CARD_UP = 700.0, 620.0, 220.0
#: A card stands so far beyond the edge of the surface.
_BEYOND_MM = 60.0
_CARD_SIZE = (400.0, 500.0)
_SHEET_BEFORE, _SHEET_SIZE = 300.0, 900.0


def light_add(asked: Asked) -> Value:
    """One more of ``what`` (KINDS, or ``own-light-`` or ``own-card-`` with its number in the studio's kit), where it is of use: lights to the back left first, a card opposite the first light."""
    scene = asked.seen
    if asked.fields.text("what", 40).startswith(_OWN):
        return _own(asked)
    what = asked.fields.choice("what", KINDS)
    if what in RIG_SIZES:
        return {"act": "rig", "rig": rig_value(_new_rig(what, scene)), **asked.where_own("rig")}
    if what.endswith("-card"):
        return {"act": "card", "card": card_value(_new_card(what.removesuffix("-card"), scene)), **asked.where_own("cards")}
    return {"act": "light", "light": light_value(_new_light(what, scene)), **asked.where_own("lights")}


def _own(asked: Asked) -> Value:
    """A light or a card of the studio's kit, with its sizes, under its own name."""
    scene, kind, number = asked.seen, *asked.fields.text("what", 40).removeprefix(_OWN).partition("-")[::2]
    owned: list[tuple[int, str, Lamp | Card]] = []
    if kind == "light":
        owned += own_lights(asked.studio)
    elif kind == "card":
        owned += own_cards(asked.studio)
    found = next((own for own in owned if str(own[0]) == number), None)
    if found is None:
        raise FieldError("what", "must be one of your lights or cards", asked.fields.text("what", 40))
    _, name, item = found
    item_id = fresh_id(slugify(name)[:_MOST_ID] or kind, scene)
    if isinstance(item, Card):
        place = _new_card(item.kind, scene)
        return {"act": "card", "card": card_value(replace(item, id=item_id, at=place.at, toward=place.toward)), **asked.where_own("cards")}
    faced = [light for light in scene.lights if isinstance(light, Faced)]
    at, toward = _place(scene, len(faced) % len(_PLACES), _LAMP_UP)
    return {"act": "light", "light": light_value(replace(item, id=item_id, at=at, toward=toward)), **asked.where_own("lights")}


def fresh_id(wanted: str, scene: Scene) -> str:
    """The name, or with a number where it is taken."""
    taken = {item.id for key in LIGHTING for item in getattr(scene, key)} | {p.id for p in scene.placements}
    name, n = wanted, 2
    while name in taken:
        name, n = f"{wanted}-{n}", n + 1
    return name


def _new_light(what: str, scene: Scene) -> Light:
    name = fresh_id({"room": "room-light"}.get(what, what), scene)
    if what == "room":
        return RoomLight(name)
    if what == "sun":
        windows = [light.id for light in scene.lights if isinstance(light, Window)]
        if scene.room is None or scene.room.north is None:
            raise FieldError("north", "must be told before the sun is: the compass bearing of the table's far side", show_got=False)
        return Sun(name, latitude=51.0, longitude=0.0, time="2026-06-21T16:00:00+01:00", through=windows[0] if windows else None)
    faced = [light for light in scene.lights if isinstance(light, Faced)]
    at, toward = _place(scene, len(faced) % len(_PLACES), _WINDOW_UP if what == "window" else _LAMP_UP)
    if what == "window":
        wide, high = WINDOW_SIZE
        return Window(name, at=at, toward=(toward[0], toward[1], 0.0), width=wide, height=high, cover="sheer")
    lamp = Lamp(name, at=at, toward=toward, **LAMPS[what])
    if what == "sheeted-lamp":
        lamp = replace(lamp, through=_sheet_before(lamp))
    return lamp


def _sheet_before(lamp: Lamp) -> Any:
    from tideflat.core.model import Sheet

    size = math.hypot(*lamp.toward)
    x, y, z = (a + _SHEET_BEFORE * t / size for a, t in zip(lamp.at, lamp.toward, strict=True))
    return Sheet((round(x, 1), round(y, 1), round(z, 1)), lamp.toward, _SHEET_SIZE, _SHEET_SIZE, 0.5)


def _place(scene: Scene, k: int, up: float) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
    """(at, toward) of the k-th place for a light."""
    wide, deep = scene.surface.width, scene.surface.depth
    a, b = _PLACES[k]
    reach = 0.5 * max(wide, deep) + _FURTHER_MM
    at = (round(wide / 2 + a * reach, 1), round(before_backdrop(scene, deep / 2 + b * reach), 1), up)
    return at, (round(wide / 2 - at[0], 1), round(deep / 2 - at[1], 1), round(-up * 0.9, 1))


def _new_card(kind: str, scene: Scene) -> Card:
    """Opposite the first light that stands somewhere, at the edge of the surface, looking over it."""
    surface = scene.surface
    middle = (surface.width / 2, surface.depth / 2)
    first = next((light for light in scene.lights if isinstance(light, Faced) and light.on), None)
    away = (1.0, -0.5) if first is None else (middle[0] - first.at[0], middle[1] - first.at[1])
    if kind == "black" and any(c.kind == "white" for c in scene.cards):
        away = (-away[0], -away[1])
    far = min((half + _BEYOND_MM) / max(abs(way), 1.0) for half, way in ((middle[0], away[0]), (middle[1], away[1])) if abs(way) > 0)
    at = (round(middle[0] + far * away[0], 1), round(middle[1] + far * away[1], 1), _CARD_UP)
    toward = (round(-away[0], 1), round(-away[1], 1), 0.0)
    tint = "#d8e3c8" if kind == "tint" else None
    return Card(fresh_id(f"{kind}-card", scene), kind, at, toward, *_CARD_SIZE, tint)


def _new_rig(what: str, scene: Scene) -> Rig:
    wide, deep, high = RIG_SIZES[what]
    surface = scene.surface
    at = (surface.width + 250.0, surface.depth * 0.75, 0.0 if what == "flag" else -surface.height_above_floor)
    if what == "arm":
        at = (surface.width / 2, surface.depth + 200.0, 1200.0)
    return Rig(fresh_id(what, scene), what, at, (-1.0, 0.0, 0.0), wide, deep, high)


_SIZES = ("width", "height")


def light_set(asked: Asked) -> Value:
    """One key (``field``) of a light (``id``) as typed; place and way are those of ``light-move``."""
    light = _item(asked.seen.lights, asked.fields.text("id", 64))
    fields = asked.fields
    key = fields.choice("field", ("on", "stops", "kelvin", "cover", "beam", *_SIZES, "up", "place", "time", "through", "filter"))
    changed = _changed_light(asked, light, key)
    return {"act": "light", "light": light_value(changed), **asked.where_own("lights")}


def _changed_light(asked: Asked, light: Light, key: str) -> Light:
    fields = asked.fields
    if key == "on":
        return replace(light, on=not light.on)
    if key in ("stops", "kelvin"):
        low, high = STOPS if key == "stops" else KELVIN
        value = fields.number("value")
        if not low <= value <= high:
            raise FieldError(key, f"must be from {low:g} to {high:g}", value)
        return replace(light, **{key: value})  # type: ignore[arg-type]
    if key == "filter":
        return replace(light, filter=fields.text("value", 20) or None)
    if isinstance(light, Faced) and key == "width":
        return replace(light, width=fields.length("value", light.width))
    if isinstance(light, Faced) and key == "height":
        return replace(light, height=fields.length("value", light.height))
    if isinstance(light, Faced) and key == "up":
        return replace(light, at=(light.at[0], light.at[1], fields.length("value", light.at[2])))
    if isinstance(light, Window) and key == "cover":
        return replace(light, cover=fields.choice("value", tuple(COVERS)))
    if isinstance(light, Lamp) and key == "beam":
        beam = fields.angle("value") if fields.has("value") else None
        if beam is not None and not BEAM[0] <= beam <= BEAM[1]:
            raise FieldError("beam", f"must be from {BEAM[0]:g} to {BEAM[1]:g} degrees", beam)
        return replace(light, beam=beam)
    if isinstance(light, Sun) and key == "time":
        return replace(light, time=fields.text("value", 40))
    if isinstance(light, Sun) and key == "place":
        parts = fields.text("value", 40).replace(",", " ").split()
        try:
            latitude, longitude = (float(part) for part in parts)
        except ValueError:
            raise FieldError("place", "must be latitude and longitude in degrees, such as 51.5 -0.1", fields.text("value", 40)) from None
        return replace(light, latitude=latitude, longitude=longitude)
    if isinstance(light, Sun) and key == "through":
        return replace(light, through=fields.text("value", 64) or None)
    raise FieldError("field", f"must be one that a {light.kind} has", key)


def card_set(asked: Asked) -> Value:
    """One key of a card as typed."""
    card = _item(asked.seen.cards, asked.fields.text("id", 64))
    fields = asked.fields
    key = fields.choice("field", ("kind", "bend", *_SIZES, "up", "colour", "held_by"))
    changes: dict[str, Any]
    if key == "kind":
        changes = {"kind": fields.choice("value", CARD_KINDS)}
        if changes["kind"] == "tint" and card.colour is None:
            changes["colour"] = "#d8e3c8"
    elif key == "bend":
        changes = {"bend": fields.angle("value")}
    elif key == "up":
        changes = {"at": (card.at[0], card.at[1], fields.length("value", card.at[2]))}
    elif key in _SIZES:
        changes = {key: fields.length("value", getattr(card, key))}
    else:
        changes = {key: fields.text("value", 20)}
    return {"act": "card", "card": card_value(replace(card, **changes)), **asked.where_own("cards")}


def light_move(asked: Asked) -> Value:
    """A light, card or piece of rig (``key``: its list, ``id``) to x, y, or looking along tx, ty; heights stay."""
    fields = asked.fields
    key = fields.choice("key", LIGHTING)
    item: Any = _item(getattr(asked.seen, key), fields.text("id", 64))
    if not hasattr(item, "at"):
        raise FieldError("id", "must be of something that stands somewhere", item.id)
    value: Value = {"act": "move_light", "list": key, "id": item.id, **asked.where_own(key)}
    if fields.has("x") or fields.has("y") or fields.has("z"):
        value["at"] = [fields.mm(k) if fields.has(k) else old for k, old in zip("xyz", item.at, strict=True)]
    if fields.has("tx"):
        level = math.hypot(item.toward[0], item.toward[1])
        tx, ty = fields.number("tx"), fields.number("ty")
        size = math.hypot(tx, ty) or 1.0
        value["toward"] = [round(tx / size * (level or 1.0), 4), round(ty / size * (level or 1.0), 4), item.toward[2]]
    return value


def light_remove(asked: Asked) -> Value:
    key = asked.fields.choice("key", LIGHTING)
    return {"act": "remove_light", "list": key, "id": asked.fields.text("id", 64), **asked.where_own(key)}


def light_only(asked: Asked) -> Value:
    """One light alone (``id``), or all."""
    return {"act": "only_light", "id": asked.fields.text("id", 64) or None, **asked.where_own("lights")}


def set_turn(asked: Asked) -> Value:
    return {"act": "turn_set", "degrees": asked.fields.angle("value")}


def shadow_keep(asked: Asked) -> Value:
    """The set goes after the sun to another clock time of its day (``value``, such as 16:30)."""
    light = _item(asked.seen.lights, asked.fields.text("id", 64))
    if not isinstance(light, Sun):
        raise FieldError("id", "must be a sun", light.id)
    typed = asked.fields.text("value", 8)
    try:
        clock = time.fromisoformat(typed.zfill(5))
    except ValueError:
        raise FieldError("value", "must be a clock time, such as 16:30", typed) from None
    when = moment_of(light.time).replace(hour=clock.hour, minute=clock.minute, second=0, microsecond=0)
    return {"act": "keep_shadow", "setup": asked.setup.name, "time": when.isoformat()}


def room_lies(asked: Asked) -> Value:
    """How the room lies: the bearing of the table's far side, or its size and middle (``field``)."""
    key = asked.fields.choice("field", ("north", "x", "y", "width", "depth"))
    return {"act": "room_place", key: asked.fields.angle("value") if key == "north" else asked.fields.length("value")}


def _item(items: tuple[Any, ...], item_id: str) -> Any:
    found = next((i for i in items if i.id == item_id), None)
    if found is None:
        raise FieldError("id", "must be one that stands there", item_id)
    return found


FORMS: dict[str, Form] = {
    "light-add": light_add,
    "light-set": light_set,
    "card-set": card_set,
    "light-move": light_move,
    "light-remove": light_remove,
    "light-only": light_only,
    "set-turn": set_turn,
    "room-lies": room_lies,
    "shadow-keep": shadow_keep,
}
