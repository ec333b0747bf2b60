"""Where shadows run, against the line of the arrangement; and how long the sun stays."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import timedelta

import numpy as np

from ..evaluate import Picture
from ..facts.practice import ACROSS_SCHEME, SUN_MINUTES
from ..light.readings import highest_point
from ..light.sources import sources_of, way_of
from ..light.sun import moment_of, sun_at
from ..model import Sun
from ..tolerances import NEAR_DEPTH_MM
from .finding import Finding
from .kind import Kind, Rule
from .lit import lit_hero
from .scheme_kept import follows

ACROSS_KIND = Kind(
    code="light.across", rank=193, severity="taste", unit="degrees", measure="angle in the frame between the hero's shadow and the scheme's diagonal",
    limit=ACROSS_SCHEME, gives="another diagonal would have to give", makers=("round the hero",),
)  # fmt: skip
SUN_KIND = Kind(
    code="light.sun_short", rank=178, severity="mend", unit="minutes", measure="how long the sun still reaches the hero from its time on",
    limit=SUN_MINUTES, limit_note="things that shade it not counted", gives="an earlier hour, or another place at the window, would have to give",
)  # fmt: skip
_DIAGONALS = ("diagonal", "depth-diagonal")
#: A key that looks so much down (cosine) throws no shadow to a side.
_STEEP = 0.25
#: The sun is looked at every so many minutes, so far ahead.
_STEP_MIN, _AHEAD_MIN = 2, 40
_SHADOW_MM = 100.0


def find_across(picture: Picture) -> Iterator[Finding]:
    """Only where the scheme is a diagonal."""
    lit, scheme = lit_hero(picture), picture.scene.scheme
    if lit is None or scheme is None or scheme.kind not in _DIAGONALS:
        return
    away = -lit.to_key[:2]
    if float(np.hypot(*away)) < _STEEP * float(np.linalg.norm(lit.to_key)):
        return
    curve = follows(picture)
    if curve is None or len(curve.points) < 2:
        return
    foot = np.array([*picture.bodies[lit.hero].centroid[:2], 0.0])
    end = foot + np.array([*(_SHADOW_MM * away / np.hypot(*away)), 0.0])
    seen = picture.view.straight(np.array([foot, end]))
    if (seen[:, 2] <= NEAR_DEPTH_MM).any():
        return
    scale = np.array([picture.view.aspect, 1.0])
    shadow, line = (seen[1, :2] - seen[0, :2]) * scale, (curve.points[-1] - curve.points[0]) * scale
    size = float(np.linalg.norm(shadow) * np.linalg.norm(line))
    if size == 0:
        return
    angle = math.degrees(math.acos(min(1.0, abs(float(shadow @ line)) / size)))
    if angle > ACROSS_SCHEME.value:
        words = f"shadows cross the diagonal at {angle:.0f} degrees instead of running with it"
        yield ACROSS_KIND.found((lit.hero,), round(angle, 1), ACROSS_SCHEME.value, words, figures=(("light", lit.key.id),))


def find_short(picture: Picture) -> Iterator[Finding]:
    """Of each sun that is on and not spread by a cover: until it sets, or leaves its window."""
    heroes = picture.hero_ids()
    if not heroes:
        return
    place = highest_point(picture.bodies[heroes[0]])
    room = picture.scene.room
    north = 0.0 if room is None or room.north is None else room.north
    suns = {light.id: light for light in picture.scene.lights if isinstance(light, Sun)}
    for source in sources_of(picture.scene.lights, room):
        if source.id not in suns or source.is_spread:
            continue
        sun = suns[source.id]
        begun, stays = moment_of(sun.time), 0
        for minutes in range(0, _AHEAD_MIN + 1, _STEP_MIN):
            at = sun_at(sun.latitude, sun.longitude, begun + timedelta(minutes=minutes))
            way = way_of(at.elevation, at.azimuth, north)
            if way[2] <= 0 or (source.opening is not None and not source.opening.passes(place[None], way)[0]):
                break
            stays = minutes
        else:
            continue
        if stays < SUN_MINUTES.value:
            words = f"the {sun.id} reaches the hero for {stays} minutes more" if stays else f"the {sun.id} does not reach the hero"
            yield SUN_KIND.found((heroes[0],), stays, SUN_MINUTES.value, words, figures=(("light", sun.id),))


RULES = (Rule(find_across, (ACROSS_KIND,), cost=1), Rule(find_short, (SUN_KIND,), cost=1))
