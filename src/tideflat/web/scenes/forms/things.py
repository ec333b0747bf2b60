"""Forms for things on the table."""

from __future__ import annotations

import re

from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.arrange.giving_way import make_room
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.features.drawn import drawn_place
from tideflat.core.formats.prop_table import slug
from tideflat.core.model import HOLDERS, ROLES, Prop
from tideflat.core.table.ids import free_id

from .asked import Asked, Form, Value


def move(asked: Asked) -> Value:
    """To x, y (and z when given): mm from a script, in the person's unit when typed."""
    fields = asked.fields
    is_typed = fields.has("typed")
    place = {
        key: fields.length(key, getattr(asked.thing, key)) if is_typed else fields.mm(key) for key in ("x", "y", "z") if fields.has(key)
    }
    if "z" in place:
        _height(place["z"])
    if not place:
        raise FieldError("x", "must be given", show_got=False)
    return asked.of_thing("move", *place, **place)


def let_go(asked: Asked) -> Value:
    """Let go at x, y, mm, as a script sends them; ``level`` keeps it on the table whatever is there; with ``room`` the others make room."""
    place = {key: asked.fields.mm(key) for key in ("x", "y")}
    level = {"level": True} if asked.fields.text("level", 5) == "1" else {}
    value = asked.of_thing("let_go", "x", "y", "z", "on", "lean", **place, **level)
    return {**value, **_making_room(asked, value)} if asked.fields.text("room", 5) == "1" else value


def _making_room(asked: Asked, value: Value) -> Value:
    """What stands in its way, and where it would stand; what it would come to lie on stays under it."""
    after = tried(asked.scene, [act_from_value(value)]).seen_in(asked.setup)
    below, apart = after.placement(asked.thing.id).on, set[str]()
    while below is not None and below not in apart:
        apart.add(below)
        below = after.placement(below).on
    room = make_room(asked.picture, asked.thing.id, value["x"], value["y"], apart)
    return {"making_room": [{"placement": i, "x": x, "y": y} for i, (x, y) in room.items()]} if room else {}


def lay_dish(asked: Asked) -> Value:
    """What lies in the thing laid anew: ``way``, and ``toward``, degrees."""
    fields = asked.fields
    toward = round(fields.angle("toward"), 1) if fields.has("toward") else 90.0
    return asked.of_thing("lay_dish", way=fields.text("way", 20) or "level", toward=toward)


def turn(asked: Asked) -> Value:
    return asked.of_thing("turn", "turn", turn=round((asked.fields.angle("turn") + 180) % 360 - 180, 1))


def lean(asked: Asked) -> Value:
    lean_deg = round(asked.fields.angle("lean"), 1)
    if not -90 <= lean_deg <= 90:
        raise FieldError("lean", "must be from -90 to 90 degrees", lean_deg)
    if not asked.fields.has("lean_toward"):
        return asked.of_thing("lean", "lean", lean=lean_deg)
    return asked.of_thing("lean", "lean", "lean_toward", lean=lean_deg, lean_toward=round(asked.fields.angle("lean_toward") % 360, 1))


def raise_to(asked: Asked) -> Value:
    return asked.of_thing("raise", "z", z=_height(asked.fields.length("z", asked.thing.z)))


def _height(z: float) -> float:
    if z < 0:
        raise FieldError("z", "must be at or above the table's top", z)
    return z


def rest(asked: Asked) -> Value:
    """On another thing, or back on the table (``on`` empty)."""
    return asked.of_thing("rest", "on", "z", on=asked.fields.text("on", 64) or None)


def role(asked: Asked) -> Value:
    return asked.of_thing("role", "role", role=asked.fields.choice("role", ROLES))


def hold(asked: Asked) -> Value:
    by = asked.fields.choice("held_by", HOLDERS) if asked.fields.has("held_by") else None
    return asked.of_thing("hold", "held_by", held_by=by)


def lock(asked: Asked) -> Value:
    """Locked when it is free, free when it is locked."""
    return {"act": "lock", "placement": asked.thing.id, "locked": not asked.thing.locked}


def duplicate(asked: Asked) -> Value:
    return {"act": "duplicate", "placement": asked.thing.id}


def remove(asked: Asked) -> Value:
    return {"act": "remove", "placement": asked.thing.id}


def hide(asked: Asked) -> Value:
    """Left out of the set-up, or back in it."""
    return asked.of_setup("hide", placement=asked.thing.id, hidden=asked.thing.id not in asked.setup.hidden)


def move_with(asked: Asked) -> Value:
    """It moves with the thing ``other``: in its group, or in a new one of the two; with nothing when ``other`` is empty."""
    thing, other = asked.thing, asked.fields.text("other", 64)
    if not other:
        own = asked.scene.group_of(thing.id)
        if own is None:
            raise FieldError("other", "must be another thing; this one moves with none", show_got=False)
        return {"act": "ungroup", "group": own.id, "placement": thing.id}
    group = asked.scene.group_of(other)
    if group is None:
        name = f"{_name(asked, other)} and {_name(asked, thing.id)}"[:120]
        return {"act": "group", "name": name, "placements": [other, thing.id]}
    return {"act": "group", "group": group.id, "name": group.name, "placements": [*group.placements, thing.id]}


def _name(asked: Asked, placement_id: str) -> str:
    return asked.seen.prop(asked.seen.placement(placement_id).prop).name


#: Where a feature may be told to be, and the way it faces there: over the sides of the box that the thing stands in.
FEATURE_SIDES: dict[str, tuple[float, float, float]] = {
    "front": (0.0, -1.0, 0.0),
    "right": (1.0, 0.0, 0.0),
    "back": (0.0, 1.0, 0.0),
    "left": (-1.0, 0.0, 0.0),
    "top": (0.0, 0.0, 1.0),
}


def name_feature(asked: Asked) -> Value:
    """A named place on the thing, as drawn over the frame or as told; the place of that name again is put there anew."""
    fields, thing = asked.fields, asked.thing
    prop = asked.scene.prop_in(thing, asked.setup)
    name = fields.text("name", 60)
    if not name:
        raise FieldError("name", "must be written, such as label or rim", show_got=False)
    place = _drawn(asked) if fields.has("stroke") else _told(asked, prop)
    known = next((f.id for f in prop.features if f.name.casefold() == name.casefold()), None)
    own = known or free_id(slug(name) or "feature", {f.id for f in prop.features})
    return {
        "act": "name_feature",
        "placement": thing.id,
        "setup": asked.setup.name,
        "feature": {"id": own, "name": name, **place},
        "must_show": True,
    }


def _drawn(asked: Asked) -> Value:
    """The place under a box drawn over the frame: left, top, right, bottom in its fractions."""
    numbers = [n for n in asked.fields.text("stroke", 80).split() if re.fullmatch(r"-?[0-9]{1,3}([.][0-9]{1,9})?", n)]
    if len(numbers) != 4:
        raise FieldError("box", "must be a box: left, top, right, bottom, in fractions of the frame", show_got=False)
    left, top, right, bottom = (float(n) for n in numbers)
    place = drawn_place(Picture(asked.scene, asked.setup), asked.thing.id, (left, top, right, bottom))
    return {"at": list(place.at), "facing": list(place.facing), "width": place.width, "height": place.height}


def _told(asked: Asked, prop: Prop) -> Value:
    """A place on a side of the thing: its size, and how high its middle is over the foot (the middle of the side when not told)."""
    fields = asked.fields
    wide, deep, high = prop.shape.sides()
    facing = FEATURE_SIDES[fields.choice("side", tuple(FEATURE_SIDES))]
    up = fields.length("up") if fields.has("up") else high / 2
    if facing[2]:
        up = prop.shape.floor_mm or high
    at = [facing[0] * wide / 2, facing[1] * deep / 2, up]
    return {"at": at, "facing": list(facing), "width": fields.length("width"), "height": fields.length("height")}


def drop_feature(asked: Asked) -> Value:
    return {"act": "drop_feature", "placement": asked.thing.id, "setup": asked.setup.name, "feature": asked.fields.text("feature", 64)}


def ask_feature(asked: Asked) -> Value:
    must = asked.fields.has("must")
    return {
        "act": "ask_feature",
        "placement": asked.thing.id,
        "setup": asked.setup.name,
        "feature": asked.fields.text("feature", 64),
        "must_show": must,
    }


FORMS: dict[str, Form] = {
    "feature": name_feature,
    "feature-drop": drop_feature,
    "feature-ask": ask_feature,
    "move": move,
    "let-go": let_go,
    "lay-dish": lay_dish,
    "turn": turn,
    "lean": lean,
    "raise": raise_to,
    "rest": rest,
    "role": role,
    "hold": hold,
    "lock": lock,
    "duplicate": duplicate,
    "remove": remove,
    "hide": hide,
    "move-with": move_with,
}
