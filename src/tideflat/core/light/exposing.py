"""The light that a picture is exposed and balanced for: what falls on its subject."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np

from ..tolerances import NO_LIGHT_LUX
from .falling import LUMINANCE, Lighting
from .readings import UP, highest_point
from .sources import Source


@dataclass(frozen=True, eq=False, slots=True)
class Subject:
    """What is exposed for: a place, twice, (2, 3) mm; two ways it looks, (2, 3): up and to the lens; owners that are not in its light."""

    called: str
    places: np.ndarray
    faces: np.ndarray
    own: frozenset[int]

    def straight(self, lighting: Lighting, source: Source) -> np.ndarray:
        """(2,) lux straight from one source."""
        look = partial(lighting.direct, self.places, self.faces, source, but=self.own)
        return lighting.kept(self.called, look, source)


def subject_of(lighting: Lighting, hero_id: str | None, aim: np.ndarray, lens: np.ndarray) -> Subject:
    """The hero's highest point, or what the camera is aimed at."""
    place, own = aim, frozenset[int]()
    if hero_id is not None:
        place, own = highest_point(lighting.bodies[hero_id]), lighting.owner("placement", hero_id)
    way = lens - place
    way = way / np.linalg.norm(way)
    return Subject(f"subject {hero_id} {place.tolist()} {way.tolist()}", np.tile(place, (2, 1)), np.array([UP, way]), own)


def reference_light(lighting: Lighting, subject: Subject, *, quick: bool = False) -> np.ndarray:
    """(3,) linear lux: the mean of what falls on a level face at the subject and on one that looks to the lens, as an incident meter held
    there has it. White where there is no light. quick: bounces from patches."""
    falling = lighting.bounced(subject.places, subject.faces, but=subject.own, exact=not quick, called=subject.called)
    for k, source in enumerate(lighting.sources):
        if not source.sky_lux:
            falling[k] += subject.straight(lighting, source)[:, None] * source.rgb
    rgb = falling.sum(axis=0).mean(axis=0) if len(falling) else np.zeros(3)
    if float(rgb @ LUMINANCE) <= NO_LIGHT_LUX or rgb.min() <= 0:
        return np.full(3, max(float(rgb @ LUMINANCE), 1.0))
    return rgb
