"""The act that goes after the sun: the set turned, and a card moved, so that a shadow falls at another time as it does now."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from ..errors import FieldError
from ..evaluate import Picture
from ..formats.reading import Node
from ..light.keeping import card_that_fills, fill_share, followed, place_of
from ..light.readings import highest_point
from ..light.sources import sources_of
from ..light.sun import moment_of
from ..model import Scene, Sun, Window
from .act import Done, Figures
from .arguments import Kind, arg
from .lights import room_turned, turned_round, turner
from .set_ups import SetupAct


def _moment(node: Node, key: str) -> str:
    text = node.name(key)
    try:
        moment_of(text)
    except FieldError as error:
        raise node.fail(key, error.rule) from None
    return text


MOMENT = Kind(_moment, {"$ref": "#/$defs/name"})


@dataclass(frozen=True, kw_only=True)
class KeepShadow(SetupAct):
    """The set-up's sun at another time, and the whole set turned after it, so that shadows fall over the table as they do now. What stands
    round the set goes along; windows and the room stay. The card that fills the hero most is carried to it or from it, until the hero's
    far side lies as far under the key as it does."""

    act = "keep_shadow"
    time: str = arg(MOMENT)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        seen = scene.seen_in(setup)
        sun = next((light for light in seen.lights if isinstance(light, Sun) and light.on), None)
        if sun is None:
            raise FieldError("setup", "must have a sun that is on", self.setup)
        if place_of(sun).shadow_per_height is None:
            raise FieldError("setup", "must have its sun up now: there is no shadow to keep", self.setup)
        asked = followed(sun, moment_of(self.time))
        if asked is None:
            raise FieldError("time", "must be one when the sun is up", self.time)
        degrees = round(asked.degrees, 1)
        if seen.room is not None and seen.room.width is not None and degrees % 90:
            raise FieldError("time", "must keep the walls square to the table, or the room's walls not be known", self.time)
        after = _turned_after(scene, degrees)
        timed = replace(sun, time=self.time)
        after = _in_its_list(after, setup.name, "lights", lambda light: timed if light == sun else light)
        after, card = _filled(scene, after, setup.name)
        figures: Figures = (("time", self.time), ("degrees", degrees), ("longer", round(asked.longer, 2)), ("stops", round(asked.stops, 2)))
        if card is not None:
            figures = (*figures, ("card", card[0]), ("nearer", card[1]))
        return Done(after, self.act, (*figures, ("reaches", _reaches(after, setup.name))))


def _turned_after(scene: Scene, degrees: float) -> Scene:
    """Windows and the room the other way round the table, in every set-up: it is one table."""
    turned = turner(-degrees, scene.surface.width / 2, scene.surface.depth / 2)

    def changed(of: Any) -> Any:
        if not isinstance(of.lights, tuple):
            return of
        return replace(of, lights=tuple(turned_round(light, turned) if isinstance(light, Window) else light for light in of.lights))

    after = changed(replace(scene, room=room_turned(scene.room, -degrees, turned)))
    return replace(after, setups=tuple(changed(s) for s in after.setups))


def _in_its_list(scene: Scene, name: str, key: str, changed: Callable[[Any], Any]) -> Scene:
    """The scene with the items of a list changed that a set-up sees: its own, where it has one, else what is shared."""
    own = scene.setup(name)
    holder: Any = own if isinstance(getattr(own, key), tuple) else scene
    after = replace(holder, **{key: tuple(changed(item) for item in getattr(holder, key))})
    return scene.with_setup(name, after) if holder is own else after


def _filled(before: Scene, after: Scene, name: str) -> tuple[Scene, tuple[str, float] | None]:
    """The scene with its card moved, and (its id, mm nearer), where one is to be."""
    picture = Picture(before, before.setup(name))
    heroes = picture.hero_ids()
    if not heroes:
        return after, None
    body = picture.bodies[heroes[0]]
    x0, y0, x1, y1 = body.footprint_bounds
    seen = after.seen_in(after.setup(name))
    share = fill_share(picture.scene, body.centroid, picture.scene.cards)
    card = None if share is None else card_that_fills(seen, body.centroid, math.hypot(x1 - x0, y1 - y0) / 2, share)
    if card is None:
        return after, None
    old = next(c for c in seen.cards if c.id == card.id)
    nearer = math.dist(old.at, body.centroid) - math.dist(card.at, body.centroid)
    return _in_its_list(after, name, "cards", lambda c: card if c == old else c), (card.id, round(nearer, 1))


def _reaches(scene: Scene, name: str) -> bool:
    """Whether the sun still comes to the hero through the window that it must pass; what else stands in its way is told by the readings."""
    picture = Picture(scene, scene.setup(name))
    heroes = picture.hero_ids()
    if not heroes:
        return True
    at = highest_point(picture.bodies[heroes[0]])[None]
    suns = [s for s in sources_of(picture.scene.lights, picture.scene.room) if s.to_sun is not None]
    return any(s.opening is None or bool(s.opening.passes(at, s.to_sun)[0]) for s in suns if s.to_sun is not None)
