"""The light of a set-up in the few plain values that people decide by."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .evaluate import Picture
from .light.exposing import reference_light, subject_of
from .light.falling import LUMINANCE, Lighting
from .light.metering import aperture_asked, time_asked_s
from .light.mirrors import mirrors_of
from .light.readings import at_hero, falloff_stops, highest_point, softness_deg
from .lit import sun_value
from .model import Exposure
from .tolerances import NO_LIGHT_LUX

#: Mirrors that are told at the most, and a turn that is worth telling, degrees.
_MOST_MIRRORS, _LEAST_TURN, _MOST_TURN = 4, 1.0, 40.0


def light_told(picture: Picture, lighting: Lighting) -> dict[str, Any]:
    """``hero``: key, softness (degrees across), key_to_fill (stops), kelvin; ``falloff`` in stops; ``sun``; ``mirrors``, each with the turn
    of its face that would show the key, where it shows no light; ``exposure``: what a meter asks for."""
    heroes = picture.hero_ids()
    hero = at_hero(lighting, heroes[0]) if heroes and lighting.sources else None
    told: dict[str, Any] = {
        "hero": None,
        "falloff": falloff_stops(lighting) if lighting.sources else None,
        "sun": sun_value(lighting, picture),
    }
    told["exposure"] = _exposure(picture, lighting)
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


def _exposure(picture: Picture, lighting: Lighting) -> dict[str, Any] | None:
    """What a meter at the subject asks for at the set-up's aperture, a near lens's loss and filters counted: ``time_s``, or with a flash the ``aperture``
    to set; ``off``: stops that what is set is over it, None where none is set. None in the dark."""
    subject = subject_of(lighting, next(iter(picture.hero_ids()), None), np.array(picture.setup.camera.aim), picture.view.position)
    lux = float(reference_light(lighting, subject) @ LUMINANCE) if lighting.sources else 0.0
    if lux <= NO_LIGHT_LUX:
        return None
    own = picture.setup.exposure if isinstance(picture.setup.exposure, Exposure) else None
    iso, marked, effective = 100.0 if own is None else own.iso, picture.setup.camera.aperture, picture.depth_of_field.effective_aperture
    filtered = 0.0 if own is None else own.filter_stops
    found = {
        "iso": iso, "marked": marked, "bellows": 2 * math.log2(effective / marked), "filter": filtered,
        "flash": own is not None and own.flash, "off": None,
    }  # fmt: skip
    lux /= 2**filtered  # as much as comes through
    if own is not None and own.flash:
        asked = aperture_asked(lux, iso) * marked / effective
        return found | {"aperture": asked, "off": 2 * math.log2(asked / marked)}
    time = time_asked_s(lux, iso, effective)
    return found | {"time_s": time, "off": None if own is None else math.log2(own.time_s / time)}


def turn_to_show(at: np.ndarray, normal: np.ndarray, lens: np.ndarray, place: np.ndarray) -> float:
    """Degrees by which a face is to be turned to mirror a place to the lens: the face that does is square to the bisector of both ways."""
    ways = [(p - at) / np.linalg.norm(p - at) for p in (lens, place)]
    wanted = ways[0] + ways[1]
    return math.degrees(math.acos(max(-1.0, min(1.0, float(wanted @ normal / np.linalg.norm(wanted))))))
