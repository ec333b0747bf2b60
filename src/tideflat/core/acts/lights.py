"""Acts on light: lights, cards and rig, shared by all set-ups or a set-up's own; the room they stand in; the whole set turned to the light."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, TypeVar

from ..bounds import LEAST_SIZE_MM, MOST_PLACE_MM
from ..errors import FieldError
from ..formats.light_reader import MOST_CARDS, MOST_LIGHTS, MOST_RIG, card_of, light_of, rig_piece_of
from ..formats.scene_writer import card_value, light_value, rig_value
from ..model import LIGHTING, Card, Faced, Lamp, Light, Rig, Room, Scene, Setup, Sun
from .act import Act, Done, Figures
from .arguments import COLOUR, ID, PLACE, POINT, arg, maybe, numbered, one_of, valued
from .ground import WALLS, GroundAct

LIGHT = valued(light_of, light_value, {"$ref": "#/$defs/light"})
CARD = valued(card_of, card_value, {"$ref": "#/$defs/card"})
RIG = valued(rig_piece_of, rig_value, {"$ref": "#/$defs/rig"})
_MOST = {"lights": MOST_LIGHTS, "cards": MOST_CARDS, "rig": MOST_RIG}
Item = TypeVar("Item", Light, Card, Rig)


def _listed(items: tuple[Any, ...], item: Any, key: str, argument: str) -> tuple[tuple[Any, ...], bool]:
    """(the items with this one in the place of that of the same id, or at the end; whether it is new). Raises FieldError."""
    if any(i.id == item.id for i in items):
        return tuple(item if i.id == item.id else i for i in items), False
    if len(items) >= _MOST[key]:
        raise FieldError(argument, f"must be at most {_MOST[key]} of them", len(items) + 1)
    return (*items, item), True


@dataclass(frozen=True, kw_only=True)
class PutLight(GroundAct):
    """A light as it is given: it takes the place of the one with the same id, or is one more."""

    act = "light"
    light: Light = arg(LIGHT)

    def done(self, scene: Scene) -> Done:
        before = self.seen(scene).lights
        lights, is_new = _listed(before, self.light, "lights", "light")
        figures = (("id", self.light.id), ("kind", self.light.kind), ("new", is_new), *changed_of(before, self.light), *self.where())
        return Done(self.put(scene, "lights", lights), self.act, figures)


@dataclass(frozen=True, kw_only=True)
class PutCard(GroundAct):
    """A card as it is given: it takes the place of the one with the same id, or is one more."""

    act = "card"
    card: Card = arg(CARD)

    def done(self, scene: Scene) -> Done:
        before = self.seen(scene).cards
        cards, is_new = _listed(before, self.card, "cards", "card")
        figures = (("id", self.card.id), ("kind", self.card.kind), ("new", is_new), *changed_of(before, self.card), *self.where())
        return Done(self.put(scene, "cards", cards), self.act, figures)


@dataclass(frozen=True, kw_only=True)
class PutRig(GroundAct):
    """A stand, an arm, a person or a flag as it is given: it takes the place of the one with the same id, or is one more."""

    act = "rig"
    rig: Rig = arg(RIG)

    def done(self, scene: Scene) -> Done:
        before = self.seen(scene).rig
        rig, is_new = _listed(before, self.rig, "rig", "rig")
        figures = (("id", self.rig.id), ("kind", self.rig.kind), ("new", is_new), *changed_of(before, self.rig), *self.where())
        return Done(self.put(scene, "rig", rig), self.act, figures)


def changed_of(before: tuple[Any, ...], after: Any) -> Figures:
    """What is otherwise about what stood there: how far it was moved, mm, and the names of its other keys."""
    old = next((i for i in before if i.id == after.id), None)
    if old is None or type(old) is not type(after):
        return ()
    keys = [key for key in after.__dataclass_fields__ if getattr(old, key) != getattr(after, key)]
    moved: Figures = ()
    if "at" in keys:
        moved = (("moved", round(math.dist(old.at, after.at), 1)),)
    return (*moved, ("keys", [key for key in keys if key != "at"]))


@dataclass(frozen=True, kw_only=True)
class MoveLight(GroundAct):
    """A light, card or piece of rig somewhere else: its middle at a place, or looking another way. A lamp's sheet goes and turns along."""

    act = "move_light"
    list: str = arg(one_of(LIGHTING), "lights")
    id: str = arg(ID)
    at: tuple[float, float, float] | None = arg(POINT, None)
    toward: tuple[float, float, float] | None = arg(POINT, None)

    def done(self, scene: Scene) -> Done:
        items = getattr(self.seen(scene), self.list)
        old = _found(items, self.id)
        if self.at is None and self.toward is None:
            raise FieldError("at", "must be given, or toward", show_got=False)
        if not isinstance(old, Faced | Card | Rig):
            raise FieldError("id", "must be of something that stands somewhere", self.id)
        at = old.at if self.at is None else self.at
        toward = old.toward if self.toward is None else self.toward
        if not any(toward):
            raise FieldError("toward", "must point somewhere", list(toward))
        new = replace(old, at=at, toward=toward)
        if isinstance(old, Lamp) and isinstance(new, Lamp) and old.through is not None:
            apart = math.dist(old.at, old.through.at)
            size = math.hypot(*toward)
            place = tuple(a + apart * t / size for a, t in zip(at, toward, strict=True))
            new = replace(new, through=replace(old.through, at=(place[0], place[1], place[2]), toward=toward))
        changed = tuple(new if i.id == self.id else i for i in items)
        kind = (("id", self.id), ("kind", old.kind))
        return Done(self.put(scene, self.list, changed), self.act, (*kind, *changed_of(items, new), *self.where()))


@dataclass(frozen=True, kw_only=True)
class RemoveLight(GroundAct):
    """A light, card or piece of rig is taken away; a sun that came through a window that goes comes straight."""

    act = "remove_light"
    list: str = arg(one_of(LIGHTING), "lights")
    id: str = arg(ID)

    def done(self, scene: Scene) -> Done:
        items = getattr(self.seen(scene), self.list)
        old = _found(items, self.id)
        left = tuple(replace(i, through=None) if isinstance(i, Sun) and i.through == self.id else i for i in items if i.id != self.id)
        return Done(self.put(scene, self.list, left), self.act, (("id", self.id), ("kind", old.kind), *self.where()))


@dataclass(frozen=True, kw_only=True)
class OnlyLight(GroundAct):
    """One light alone is on; with null, all are."""

    act = "only_light"
    id: str | None = arg(maybe(ID))

    def done(self, scene: Scene) -> Done:
        lights = self.seen(scene).lights
        if self.id is not None:
            _found(lights, self.id)
        changed = tuple(replace(i, on=self.id is None or i.id == self.id) for i in lights)
        if changed == lights:
            raise FieldError("id", "must change what is on", self.id)
        return Done(self.put(scene, "lights", changed), self.act, (("id", self.id), *self.where()))


def _found(items: tuple[Item, ...], item_id: str) -> Item:
    found = next((i for i in items if i.id == item_id), None)
    if found is None:
        raise FieldError("id", "must be one that stands there: " + (", ".join(i.id for i in items) or "there is none"), item_id)
    return found


@dataclass(frozen=True, kw_only=True)
class TurnSet(Act):
    """The whole set turned by so many degrees, counter-clockwise seen from above, in a room that stays: windows, lamps, cards, rig and the
    sun go round the middle of the surface the other way. What a set-up has of its own goes along."""

    act = "turn_set"
    degrees: float = arg(numbered(-360, 360))

    def done(self, scene: Scene) -> Done:
        if not self.degrees:
            raise FieldError("degrees", "must not be 0", show_got=False)
        room = scene.room
        if room is not None and room.width is not None and self.degrees % 90:
            raise FieldError(
                "degrees", "must be a quarter turn, or the room's walls not known: they stand square to the table", self.degrees
            )
        x, y = scene.surface.width / 2, scene.surface.depth / 2
        turned = turner(-self.degrees, x, y)
        after = replace(scene, room=room_turned(room, -self.degrees, turned), **_all_turned(scene, turned))
        for setup in scene.setups:
            after = after.with_setup(setup.name, replace(setup, **_all_turned(setup, turned)))
        return Done(after, self.act, (("degrees", self.degrees),))


Turn = Callable[[tuple[float, float, float], bool], tuple[float, float, float]]


def turner(degrees: float, x: float, y: float) -> Turn:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))

    def turned(point: tuple[float, float, float], is_way: bool) -> tuple[float, float, float]:
        px, py = (point[0], point[1]) if is_way else (point[0] - x, point[1] - y)
        qx, qy = round(c * px - s * py, 6), round(s * px + c * py, 6)
        return (qx, qy, point[2]) if is_way else (round(qx + x, 3), round(qy + y, 3), point[2])

    return turned


def _all_turned(of: Scene | Setup, turned: Turn) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key in LIGHTING:
        items = getattr(of, key)
        if isinstance(items, tuple):
            found[key] = tuple(turned_round(i, turned) for i in items)
    return found


def turned_round(item: Any, turned: Turn) -> Any:
    if not isinstance(item, Faced | Card | Rig):
        return item
    moved = replace(item, at=turned(item.at, False), toward=turned(item.toward, True))
    if isinstance(moved, Lamp) and moved.through is not None:
        sheet = moved.through
        moved = replace(moved, through=replace(sheet, at=turned(sheet.at, False), toward=turned(sheet.toward, True)))
    return moved


def room_turned(room: Room | None, degrees: float, turned: Turn) -> Room | None:
    if room is None:
        return None
    north = None if room.north is None else (room.north + degrees + 180) % 360 - 180
    if room.x is None or room.y is None:
        return replace(room, north=north)
    x, y, _ = turned((room.x, room.y, 0.0), False)
    across = round(degrees / 90) % 2 == 1
    wide, deep = (room.depth, room.width) if across else (room.width, room.depth)
    return replace(room, north=north, x=x, y=y, width=wide, depth=deep)


@dataclass(frozen=True, kw_only=True)
class RoomPlace(Act):
    """How the room lies: the compass bearing of the table's +y, the middle of its floor, its width and depth, mm, and the ceiling's colour.
    What is not given stays."""

    act = "room_place"
    north: float | None = arg(numbered(-360, 360), None)
    x: float | None = arg(PLACE, None)
    y: float | None = arg(PLACE, None)
    width: float | None = arg(numbered(LEAST_SIZE_MM, MOST_PLACE_MM), None)
    depth: float | None = arg(numbered(LEAST_SIZE_MM, MOST_PLACE_MM), None)
    ceiling: str | None = arg(COLOUR, None)

    def done(self, scene: Scene) -> Done:
        room = scene.room or Room(None, WALLS)
        given = {key: value for key in ("north", "x", "y", "width", "depth", "ceiling") if (value := getattr(self, key)) is not None}
        if not given:
            raise FieldError("north", "must be given, or x, y, width, depth or ceiling", show_got=False)
        return Done(replace(scene, room=replace(room, **given)), self.act, tuple(given.items()))
