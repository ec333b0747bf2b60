"""Candidates that move, turn, warm, enlarge or take out a light. A window and the sun stay where they are: there the set goes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from ..acts.act import Act
from ..acts.lights import MoveLight, PutLight, RoomPlace, TurnSet
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.lit import faced_in, light_in
from ..light.readings import highest_point
from ..model import LEFT_OUT, Faced, Room, RoomLight, Surface, Window
from .candidate import Candidate, Stores, where_own

#: Round the hero by so many degrees, further off so many times, raised by so much, mm, out by so much, mm, larger so many times.
_ROUND = (15, -15, 25, -25, 35, -35, 50, -50, 65, -65, 80, -80, 100, -100)
_FURTHER = (1.15, 1.3, 1.5, 1.75, 2.0, 2.4)
_RAISED = (80, 160, 260, 380, 520)
_OUT = (60, 120, 200, 300, 420, 560, 720)
_LARGER = (1.5, 2.0, 3.0, 4.0)
#: The table nearer to a window, or further off: the way from it is so many times what it was.
_NEARER = (0.85, 0.7, 0.55, 0.4)
_AWAY = (1.15, 1.3, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0)
#: A table goes so far at the most, mm (common practice, no source).
_MOST_MOVED = 2000.0


def _where(picture: Picture, key: str = "lights") -> dict[str, Any]:
    return where_own(picture, getattr(picture.setup, key) is not LEFT_OUT)


def _key(picture: Picture, finding: Finding) -> Faced | None:
    return faced_in(picture, str(dict(finding.figures)["light"]))


def _lamp(picture: Picture, finding: Finding) -> Faced | None:
    """The key, where a hand can carry it."""
    found = _key(picture, finding)
    return None if isinstance(found, Window) else found


def _moved(picture: Picture, light: Faced, at: tuple[float, float, float], toward: tuple[float, float, float]) -> Act:
    place = (round(at[0], 1), round(at[1], 1), round(at[2], 1))
    way = (round(toward[0], 4), round(toward[1], 4), round(toward[2], 4))
    return MoveLight(id=light.id, at=place, toward=way, **_where(picture))


def round_the_hero(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The key goes round the hero at its height and keeps looking there; before a window or in the sun the whole set is turned."""
    light = _lamp(picture, finding)
    if light is None:
        yield from _turned_set(picture, finding)
        return
    x, y, _ = highest_point(picture.bodies[finding.placements[-1]])
    for degrees in _ROUND:
        a = math.radians(degrees)
        c, s = math.cos(a), math.sin(a)
        dx, dy = light.at[0] - x, light.at[1] - y
        tx, ty, tz = light.toward
        at = (x + c * dx - s * dy, y + s * dx + c * dy, light.at[2])
        figures = (("light", light.id), ("degrees", degrees), ("mm", round(math.dist(at, light.at))))
        words = f"carry the {light.id} {abs(degrees)} degrees round"
        yield Candidate("light_round", figures, words, (_moved(picture, light, at, (c * tx - s * ty, s * tx + c * ty, tz)),))


def _turned_set(picture: Picture, finding: Finding) -> Iterator[Candidate]:
    light = light_in(picture, str(dict(finding.figures)["light"]))
    if light is None or isinstance(light, RoomLight):
        return
    room = picture.scene.room
    walls = room is not None and room.width is not None
    for degrees in (90, -90, 180) if walls else _ROUND:
        way = "clockwise" if degrees < 0 else "counter-clockwise"
        words = f"turn the set {abs(degrees)} degrees {way}"
        yield Candidate("set_turn", (("degrees", degrees), ("light", light.id)), words, (TurnSet(degrees=degrees),))


def _table_moved(picture: Picture, window: Window, shares: tuple[float, ...]) -> Iterator[Candidate]:
    """The table so much nearer to the window, or further off: all windows and the walls go the other way, what stands round the table
    stays round it."""
    surface, room = picture.scene.surface, picture.scene.room
    across = math.hypot(*window.toward[:2])
    if across == 0:  # in the roof
        return
    ux, uy = window.toward[0] / across, window.toward[1] / across
    x, y = surface.width / 2, surface.depth / 2
    far = (x - window.at[0]) * ux + (y - window.at[1]) * uy
    clear = far - (abs(ux) * x + abs(uy) * y)  # from the window to the table's nearest corner
    for share in shares:
        by = round((share - 1) * far, 1)
        dx, dy = -by * ux, -by * uy
        if abs(by) > _MOST_MOVED or clear + by <= 0 or not _is_in_the_room(surface, room, dx, dy):
            continue
        acts: list[Act] = [
            MoveLight(id=light.id, at=(round(light.at[0] + dx, 1), round(light.at[1] + dy, 1), light.at[2]), **_where(picture))
            for light in picture.scene.lights
            if isinstance(light, Window)
        ]
        if room is not None and (room.x is not None or room.width is not None):
            middle = x if room.x is None else room.x, y if room.y is None else room.y
            acts.append(RoomPlace(x=round(middle[0] + dx, 1), y=round(middle[1] + dy, 1)))
        kind, way = ("set_back", "away from") if by > 0 else ("set_nearer", "nearer to")
        words = f"move the table {abs(by):.0f} mm {way} the {window.id}"
        yield Candidate(kind, (("light", window.id), ("mm", round(abs(by)))), words, tuple(acts))


def _is_in_the_room(surface: Surface, room: Room | None, dx: float, dy: float) -> bool:
    """Whether the table stands between the walls, where they are known, after they went by (dx, dy)."""
    if room is None or room.width is None or room.depth is None:
        return True
    x, y = surface.width / 2, surface.depth / 2
    off_x, off_y = dx + (0 if room.x is None else room.x - x), dy + (0 if room.y is None else room.y - y)
    return abs(off_x) + x <= room.width / 2 and abs(off_y) + y <= room.depth / 2


def raise_the_light(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The key higher, looking at the hero from there."""
    light = _lamp(picture, finding)
    if light is None:
        return
    x, y, z = highest_point(picture.bodies[finding.placements[-1]])
    for up in _RAISED:
        at = (light.at[0], light.at[1], light.at[2] + up)
        words = f"raise the {light.id} by {up} mm"
        figures = (("light", light.id), ("mm", up))
        yield Candidate("light_up", figures, words, (_moved(picture, light, at, (x - at[0], y - at[1], z - at[2])),))


def further_off(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Further from the middle of the surface, and so much stronger that it stays as bright there; from a window the table goes."""
    light = _key(picture, finding)
    if isinstance(light, Window):
        yield from _table_moved(picture, light, _AWAY)
        return
    if light is None:
        return
    x, y = picture.scene.surface.width / 2, picture.scene.surface.depth / 2
    for times in _FURTHER:
        at = (round(x + times * (light.at[0] - x), 1), round(y + times * (light.at[1] - y), 1), round(times * light.at[2], 1))
        stops = round(light.stops + 2 * math.log2(times), 1)
        far = round(math.dist(at, light.at))
        words = f"move the {light.id} back by {far} mm"
        changed = replace(light, at=at, stops=stops)
        yield Candidate("light_back", (("light", light.id), ("mm", far)), words, (PutLight(light=changed, **_where(picture)),))


def out_of_the_picture(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Away from what the camera is aimed at, as little as may be, or up."""
    figures = dict(finding.figures)
    key, item_id = str(figures["list"]), str(figures["light"])
    item: Any = next((i for i in getattr(picture.scene, key) if i.id == item_id), None)
    if item is None or isinstance(item, Window):
        return
    ax, ay, _ = picture.setup.camera.aim
    dx, dy = item.at[0] - ax, item.at[1] - ay
    size = math.hypot(dx, dy) or 1.0
    side = 1.0 if dx >= 0 else -1.0
    for far in _OUT:
        for way in ((dx / size, dy / size, 0.0), (side, 0.0, 0.0), (0.0, 0.0, 1.0)):
            at = (round(item.at[0] + far * way[0], 1), round(item.at[1] + far * way[1], 1), round(item.at[2] + far * way[2], 1))
            words = f"move the {item_id} out by {far} mm"
            act = MoveLight(list=key, id=item_id, at=at, **_where(picture, key))
            yield Candidate("light_out", (("light", item_id), ("mm", far)), words, (act,))


def one_warmth(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The other light as warm as the key; or off."""
    figures = dict(finding.figures)
    key, other = light_in(picture, str(figures["light"])), light_in(picture, str(figures["other"]))
    if key is None or other is None:
        return
    words = f"set the {other.id} to {key.kelvin:g} K as the {key.id}"
    same = replace(other, kelvin=key.kelvin, filter=key.filter)
    yield Candidate("light_warmth", (("light", other.id), ("kelvin", key.kelvin)), words, (PutLight(light=same, **_where(picture)),))
    off = PutLight(light=replace(other, on=False), **_where(picture))
    yield Candidate("light_off", (("light", other.id),), f"turn the {other.id} off", (off,))


def softer(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A larger face in the same place; the table nearer to a window."""
    light = _key(picture, finding)
    if isinstance(light, Window):
        yield from _table_moved(picture, light, _NEARER)
        return
    if light is None:
        return
    for times in _LARGER:
        larger = replace(light, width=round(light.width * times, 1), height=round(light.height * times, 1))
        words = f"make the {light.id} {times:g} times as large"
        yield Candidate("light_larger", (("light", light.id), ("times_as", times)), words, (PutLight(light=larger, **_where(picture)),))


MAKERS = {
    "round the hero": round_the_hero,
    "raise the light": raise_the_light,
    "further off": further_off,
    "out of the picture": out_of_the_picture,
    "one warmth": one_warmth,
    "softer": softer,
}
