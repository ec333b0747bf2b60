"""The light of a set-up in the few plain values that people decide by."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .evaluate import Picture
from .light.falling import Lighting
from .light.mirrors import mirrors_of
from .light.readings import at_hero, falloff_stops, highest_point, softness_deg
from .lit import sun_value

#: Mirrors that are told at the most, and a turn that is worth telling, degrees.
_MOST_MIRRORS, _LEAST_TURN, _MOST_TURN = 4, 1.0, 40.0


def light_told(picture: Picture, lighting: Lighting) -> dict[str, Any]:
    """``hero``: key, softness (degrees across), key_to_fill (stops), kelvin; ``falloff`` in stops; ``sun``; ``mirrors``, each with the turn
    of its face that would show the key, where it shows no light."""
    heroes = picture.hero_ids()
    hero = at_hero(lighting, heroes[0]) if heroes and lighting.sources else None
    told: dict[str, Any] = {
        "hero": None,
        "falloff": falloff_stops(lighting) if lighting.sources else None,
        "sun": sun_value(lighting, picture),
    }
    key = None
    if hero is not None:
        key = next(s for s in lighting.sources if s.id == hero.key)
        soft = softness_deg(key, highest_point(lighting.bodies[heroes[0]]))
        told["hero"] = {"key": hero.key, "softness": soft, "key_to_fill": hero.key_to_fill_stops, "kelvin": hero.kelvin}
    lens = picture.view.position
    lights = {s.id for s in lighting.sources}
    told["mirrors"] = []
    for mirror in mirrors_of(lighting, lens)[:_MOST_MIRRORS]:
        turn = None
        if key is not None and key.middle is not None and mirror.meets not in lights:
            turn = turn_to_show(np.array(mirror.at), np.array(mirror.normal), lens, key.middle)
        is_worth = turn is not None and _LEAST_TURN <= turn <= _MOST_TURN
        told["mirrors"].append({
            "placement": mirror.placement, "face": mirror.face, "meets": mirror.meets,
            "turn": {"degrees": turn, "to": key.id} if is_worth and key is not None else None,
        })  # fmt: skip
    return told


def turn_to_show(at: np.ndarray, normal: np.ndarray, lens: np.ndarray, place: np.ndarray) -> float:
    """Degrees by which a face is to be turned to mirror a place to the lens: the face that does is square to the bisector of both ways."""
    ways = [(p - at) / np.linalg.norm(p - at) for p in (lens, place)]
    wanted = ways[0] + ways[1]
    return math.degrees(math.acos(max(-1.0, min(1.0, float(wanted @ normal / np.linalg.norm(wanted))))))
