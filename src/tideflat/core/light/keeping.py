"""What keeps a shadow where it falls while the sun goes on: when the sun is as high again, how far the set is turned after it, and where a
card fills as much as it did."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from ..model import Card, Scene, Sun
from ..tolerances import NO_LIGHT_LUX
from .at_once import from_cards, from_surface, straight_lux
from .sources import Source, sources_of
from .sun import SunPlace, moment_of, sun_at

#: The day is looked at in such steps, and a time found to a quarter of a minute.
_STEP_MIN, _FOUND_MIN, _DAY_MIN = 10.0, 0.25, 24 * 60
#: The sun is as high as it was at another time when that is so far off, minutes: before it has hardly moved.
_APART_MIN = 5.0
#: A card is looked for so near the hero's outside, mm, and so many times as far as it stands.
_NEAREST_MM, _FURTHEST = 25.0, 4.0
#: So little more or less fill is left as it is, stops.
_ALIKE_STOPS = 0.1
#: Places of a card that are tried at first.
_TRIED = 24


@dataclass(frozen=True, slots=True)
class Followed:
    """What another time asks. degrees: the set is turned counter-clockwise seen from above. longer: shadows, times what they were. stops:
    more light from the sun on a level face, strength as told."""

    degrees: float
    longer: float
    stops: float


def place_of(sun: Sun, when: datetime | None = None) -> SunPlace:
    """Where it stands, at its own time or another."""
    return sun_at(sun.latitude, sun.longitude, moment_of(sun.time) if when is None else when)


def followed(sun: Sun, when: datetime) -> Followed | None:
    """What keeps the sun's way over the table at another time; None where it is down then, or now."""
    now, then = place_of(sun), place_of(sun, when)
    if now.shadow_per_height is None or then.shadow_per_height is None:
        return None
    turned = (now.azimuth - then.azimuth + 180) % 360 - 180
    stops = math.log2(math.sin(math.radians(then.elevation)) / math.sin(math.radians(now.elevation)))
    return Followed(turned, then.shadow_per_height / now.shadow_per_height, stops)


def as_high_again(sun: Sun) -> datetime | None:
    """The other time of its day when the sun is as high as now; None where it is down, or highest."""
    when = moment_of(sun.time)
    high = place_of(sun).elevation
    if high <= 0:
        return None
    midnight = when.replace(hour=0, minute=0, second=0, microsecond=0)
    own = (when - midnight).total_seconds() / 60

    def above(minutes: float) -> float:
        return place_of(sun, midnight + timedelta(minutes=minutes)).elevation - high

    steps = [k * _STEP_MIN for k in range(int(_DAY_MIN / _STEP_MIN) + 1)]
    signs = [above(m) > 0 for m in steps]
    for low, high_end, a, b in zip(steps, steps[1:], signs, signs[1:], strict=False):
        if a == b or low - _APART_MIN <= own <= high_end + _APART_MIN:
            continue
        return midnight + timedelta(minutes=round(_changing(above, low, high_end)))
    return None


def _changing(value: Callable[[float], float], low: float, high: float) -> float:
    begins = value(low) > 0
    while high - low > _FOUND_MIN:
        middle = (low + high) / 2
        if (value(middle) > 0) == begins:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def fill_share(scene: Scene, hero: np.ndarray, cards: tuple[Card, ...]) -> float | None:
    """Fill against key at the hero's middle (3,), with these cards: on its side turned away from the sun, straight light and first bounces;
    None where no sun comes. The window that the sun must pass is not asked."""
    sources = sources_of(scene.lights, scene.room)
    sun = next((s for s in sources if s.to_sun is not None and not s.is_spread), None)
    if sun is None or sun.to_sun is None or math.hypot(*sun.to_sun[:2]) <= 0:
        return None
    level = np.array([*sun.to_sun[:2], 0.0]) / math.hypot(*sun.to_sun[:2])
    key = sun.sun_lux * float(level @ sun.to_sun)
    others: list[Source] = [s for s in sources if s is not sun]
    middle, away = hero[None], -level[None]
    open_sun = _open(sun)
    fill = straight_lux(others, middle, away) + from_cards([*others, open_sun], cards, middle, away)
    fill = fill + from_surface(scene.surface, [*others, open_sun], middle, away)
    return max(float(fill[0]), NO_LIGHT_LUX) / max(key, NO_LIGHT_LUX)


def _open(sun: Source) -> Source:
    return Source(sun.id, sun.kind, sun.rgb, to_sun=sun.to_sun, sun_lux=sun.sun_lux)


def card_that_fills(scene: Scene, hero: np.ndarray, radius: float, share: float) -> Card | None:
    """The card that fills most, carried to or from the hero (its middle (3,), and how far it reaches, mm) until the fill is this share of
    the key; None where no card does, or where it stands well."""
    now = fill_share(scene, hero, scene.cards)
    if now is None or abs(math.log2(now / share)) <= _ALIKE_STOPS:
        return None
    without = {c.id: fill_share(scene, hero, tuple(o for o in scene.cards if o.id != c.id)) or now for c in scene.cards}
    best = min((c for c in scene.cards if c.kind != "black"), key=lambda c: without[c.id], default=None)
    if best is None or without[best.id] >= now:
        return None
    x, y = best.at[0] - hero[0], best.at[1] - hero[1]
    reach = math.hypot(x, y)
    if reach <= radius + _NEAREST_MM:
        return None

    def at(far: float) -> Card:
        return replace(best, at=(round(float(hero[0]) + x / reach * far, 1), round(float(hero[1]) + y / reach * far, 1), best.at[2]))

    def off(far: float) -> float:
        cards = tuple(at(far) if c.id == best.id else c for c in scene.cards)
        return math.log2((fill_share(scene, hero, cards) or share) / share)

    tried = np.linspace(radius + _NEAREST_MM, _FURTHEST * reach, _TRIED)
    found = [off(float(far)) for far in tried]
    k = int(np.argmin(np.abs(found)))
    for j in sorted(range(_TRIED - 1), key=lambda j: abs((tried[j] + tried[j + 1]) / 2 - reach)):
        if (found[j] > 0) != (found[j + 1] > 0):
            return at(_changing(off, float(tried[j]), float(tried[j + 1])))
    return at(float(tried[k])) if abs(found[k]) < abs(math.log2(now / share)) - _ALIKE_STOPS else None
