"""The light that a picture is exposed and balanced for: what falls on its subject."""

from __future__ import annotations

from functools import partial

import numpy as np

from ..tolerances import NO_LIGHT_LUX
from .falling import LUMINANCE, Lighting
from .readings import UP, highest_point


def reference_light(lighting: Lighting, hero_id: str | None, aim: np.ndarray, lens: np.ndarray, *, quick: bool = False) -> np.ndarray:
    """(3,) linear lux: the mean of what falls on a level face at the subject and on one that looks to the lens, as an incident meter held
    there has it. The subject is the hero, or what the camera is aimed at. White where there is no light. quick: bounces from patches."""
    place, own = aim, frozenset[int]()
    if hero_id is not None:
        place, own = highest_point(lighting.bodies[hero_id]), lighting.owner("placement", hero_id)
    way = lens - place
    way = way / np.linalg.norm(way)
    places, faces = np.tile(place, (2, 1)), np.array([UP, way])
    called = f"subject {hero_id} {place.tolist()} {way.tolist()}"
    falling = lighting.bounced(places, faces, but=own, exact=not quick, called=called)
    for k, source in enumerate(lighting.sources):
        if not source.sky_lux:
            lux = lighting.kept(called, partial(lighting.direct, places, faces, source, but=own), source)
            falling[k] += lux[:, None] * source.rgb
    rgb = falling.sum(axis=0).mean(axis=0) if len(falling) else np.zeros(3)
    if float(rgb @ LUMINANCE) <= NO_LIGHT_LUX or rgb.min() <= 0:
        return np.full(3, max(float(rgb @ LUMINANCE), 1.0))
    return rgb
