"""Candidates that set up a card: to fill, to take the ceiling's light, to keep a light off the lens, or for metal to mirror."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np

from ..acts.lights import MoveLight, PutCard
from ..evaluate import Picture
from ..facts.practice import UNFILLED
from ..findings.finding import Finding
from ..findings.lit import faced_in, lit_hero
from ..findings.lit_balance import under_the_key
from ..light.mirrors import faces_of, mirrored
from ..light.readings import highest_point
from ..light.sources import sources_of
from ..light.surroundings import card_strips
from ..model import LEFT_OUT, Card, Window
from ..tolerances import NEAR_DEPTH_MM
from .candidate import Candidate, Stores, where_own

#: Cards of two usual sizes, mm; how far from the hero a fill card stands, and how far round from opposite the key, degrees (common
#: practice).
_SIZES = ((420, 300), (600, 420), (900, 600), (1200, 900))
_FILL_AWAY, _FILL_ROUND = (350.0, 450.0, 600.0, 800.0, 1000.0), (0, 25, -25, 50, -50, 75, -75)
#: How high over the hero a black card hangs, and its sizes, mm.
_OVER, _OVER_SIZES = (500.0, 700.0, 900.0), ((900, 700), (1300, 1000), (1800, 1400))
#: A card between lens and light stands at these shares of the way, and is so much larger than the light looks there, mm.
_BETWEEN, _LARGER_MM = (0.15, 0.25, 0.4), 60.0
#: What metal mirrors stands so far from it, mm.
_MIRRORED = (400.0, 550.0, 700.0, 900.0, 1200.0)


def _id(picture: Picture, name: str) -> str:
    """The name, or the first of name-2, name-3, ... that nothing has."""
    items: tuple[Any, ...] = (*picture.scene.lights, *picture.scene.cards, *picture.scene.rig)
    taken = {i.id for i in items}
    return next(i for i in (name, *(f"{name}-{k}" for k in range(2, 99))) if i not in taken)


def _put(picture: Picture, card: Card, kind: str, words: str) -> Candidate:
    act = PutCard(card=card, **where_own(picture, picture.setup.cards is not LEFT_OUT))
    return Candidate(kind, (("card", card.id), ("card_kind", card.kind), ("width", card.width), ("height", card.height)), words, (act,))


def _card(card_id: str, kind: str, at: np.ndarray, toward: np.ndarray, size: tuple[float, float]) -> Card:
    x, y, z = (round(float(v), 1) for v in at)
    tx, ty, tz = (round(float(v), 4) for v in toward)
    return Card(card_id, kind, (x, y, z), (tx, ty, tz), float(size[0]), float(size[1]))


def _is_seen(picture: Picture, card: Card) -> bool:
    """Whether a corner of it is in the frame."""
    corners = np.concatenate([[m + a * along + b * up for a in (-1, 1) for b in (-1, 1)] for m, along, up in card_strips(card)])
    seen = picture.view.straight(corners)
    return bool(((seen[:, 2] > NEAR_DEPTH_MM) & (seen[:, :2] >= 0).all(axis=1) & (seen[:, :2] <= 1).all(axis=1)).any())


def fill_with_a_card(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A white card on the lens's side, across from the key, as near and as small as will do."""
    lit = lit_hero(picture)
    if lit is None:
        return
    away = -lit.to_key[:2] / math.hypot(*lit.to_key[:2])
    middle = picture.bodies[lit.hero].centroid
    name = _id(picture, "fill-card")
    for size in _SIZES:
        for far in _FILL_AWAY:
            for degrees in _FILL_ROUND:
                c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
                way = np.array([c * away[0] - s * away[1], s * away[0] + c * away[1], 0.0])
                at = np.array([*(middle[:2] + far * way[:2]), size[1] / 2 + 5])
                card = _card(name, "white", at, -way, size)
                stops = None if _is_seen(picture, card) else under_the_key(picture, lit, (*picture.scene.cards, card))
                if stops is None or stops > UNFILLED.value:
                    continue  # not worth a try
                yield _put(picture, card, "card_fill", f"set a white card of {size[0]} x {size[1]} mm across from the {lit.key.id}")


def black_overhead(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A black card between hero and ceiling, looking down."""
    lit = lit_hero(picture)
    if lit is None:
        return
    name = _id(picture, "black-overhead")
    for size in _OVER_SIZES:
        for up in _OVER:
            card = _card(name, "black", lit.place + [0, 0, up], np.array([0.0, 0.0, -1.0]), size)
            yield _put(picture, card, "card_overhead", f"hang a black card of {size[0]} x {size[1]} mm over the set")


def keep_it_off_the_lens(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A black card between lens and light, just outside the frame, as large as the light looks there."""
    light_id, lens = str(dict(finding.figures)["light"]), picture.view.position
    source = next((s for s in sources_of(picture.scene.lights, picture.scene.room) if s.id == light_id), None)
    if source is None or source.outline is None:
        return
    middle = source.outline.mean(axis=0)
    way = (middle - lens) / np.linalg.norm(middle - lens)
    wide, high = np.ptp(source.outline @ _across(way), axis=0), np.ptp(source.outline @ np.cross(way, _across(way)), axis=0)
    name = _id(picture, "black-flag")
    for share in _BETWEEN:
        size = round(share * float(wide) + _LARGER_MM), round(share * float(high) + _LARGER_MM)
        card = _card(name, "black", lens + share * (middle - lens), -way, size)
        yield _put(picture, card, "card_flag", f"set a black card of {size[0]} x {size[1]} mm between the {light_id} and the lens")


def _across(way: np.ndarray) -> np.ndarray:
    level = np.array([-way[1], way[0], 0.0])
    size = float(np.linalg.norm(level))
    return level / size if size > 1 / 512 else np.array([1.0, 0.0, 0.0])


def a_light_where_it_mirrors(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A white card, or the lamp, along the way that the lens looks after the mirror."""
    body, lens = picture.bodies[finding.placements[0]], picture.view.position
    at, normal = next((at, normal) for name, at, normal in faces_of(body, lens) if name == "top")
    way = (at - lens) / np.linalg.norm(at - lens)
    on = mirrored(way, normal)
    name = _id(picture, "mirror-card")
    for size in _SIZES[:2]:
        for far in _MIRRORED:
            card = _card(name, "white", at + far * on, -on, size)
            yield _put(picture, card, "card_mirror", f"set a white card of {size[0]} x {size[1]} mm where it is mirrored")
    light = faced_in(picture, str(dict(finding.figures)["light"]))
    if light is None or isinstance(light, Window):
        return
    far = math.dist(light.at, tuple(at))
    place = at + far * on
    x, y, z = (round(float(v), 1) for v in place)
    tx, ty, tz = (round(float(v), 4) for v in highest_point(body) - place)
    act = MoveLight(id=light.id, at=(x, y, z), toward=(tx, ty, tz), **where_own(picture, picture.setup.lights is not LEFT_OUT))
    figures = (("light", light.id), ("mm", round(math.dist(light.at, (x, y, z)))))
    yield Candidate("light_mirror", figures, f"carry the {light.id} where it is mirrored", (act,))


MAKERS = {
    "fill with a card": fill_with_a_card,
    "black overhead": black_overhead,
    "keep it off the lens": keep_it_off_the_lens,
    "a light where it mirrors": a_light_where_it_mirrors,
}
