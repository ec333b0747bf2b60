"""The light of one set-up: what `tideflat light` prints, and where findings and drawings ask for it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from .colour.spaces import linear_from_rgb
from .evaluate import Picture
from .light.falling import Lighting
from .light.keeping import as_high_again
from .light.mirrors import mirrors_of
from .light.readings import at_hero, at_points, falloff_stops, highest_point
from .light.shadows import rings_of, shadow_of
from .light.sun_hours import sun_hours
from .light.usual import usual_lights
from .model import Sun
from .remember import Pixels, counted
from .tolerances import SAME_NUMBER


def lighting_of(picture: Picture, worn: Mapping[str, np.ndarray] | None = None) -> Lighting:
    """Sources and casters of the picture's table. worn: as ``worn_colours`` gives it, where things are to count as what they wear."""
    return Lighting(picture.scene, picture.bodies, picture.props, worn or {})


def worn_colours(picture: Picture) -> dict[str, np.ndarray]:
    """(3,) linear, the mean of the picture that each thing wears on its top, or else on its front; of things that wear one."""
    found = {}
    for placement_id, prop in picture.props.items():
        skin = next((s for face in ("top", "tile", "front") for s in prop.skins if s.face == face), None)
        pixels = None if skin is None else picture.skins.get(skin.picture)
        if pixels is not None:
            found[placement_id] = _mean_of(Pixels(pixels))
    return found


@counted(256)
def _mean_of(pixels: Pixels) -> np.ndarray:
    return linear_from_rgb(pixels.values[..., :3].reshape(-1, 3) / 255).mean(axis=0)  # type: ignore[no-any-return]


def lit_picture(picture: Picture) -> Picture:
    """The picture with its lights, or with the usual window where none is decided."""
    if picture.scene.lights:
        return picture
    lit = picture.changed(replace(picture.whole, lights=usual_lights(picture.scene)))
    if not lit.scene.lights:  # the set-up has none of its own, and says so
        setup = replace(picture.setup, lights=usual_lights(picture.scene))
        lit = Picture(picture.whole.with_setup(setup.name, setup), setup, picture.skins)
    return lit


def light_value(picture: Picture, asked: np.ndarray | None = None) -> dict[str, Any]:
    """What one set-up's light does, as plain JSON values. asked: (n, 3) points, mm; by default the highest of every thing."""
    lighting = lighting_of(picture)
    points = asked if asked is not None else np.array([highest_point(b) for b in picture.bodies.values()]).reshape(-1, 3)
    if not lighting.sources:
        dark: list[dict[str, Any]] = [{"at": _plain(p), "stops": None, "by": {}} for p in points]
        empty = {"falloff_stops": None, "key": None, "key_to_fill_stops": None, "kelvin_at_hero": None}
        return {"points": dark, **empty, "shadows": [], "mirrors": _mirrors(lighting, picture), "sun": sun_value(lighting, picture)}
    heroes = picture.hero_ids()
    hero = at_hero(lighting, heroes[0]) if heroes else None
    found = at_points(lighting, points)
    return {
        "points": [
            {"at": _plain(p.at), "stops": _rounded(p.stops), "by": {light: _rounded(stops) for light, stops in p.by.items()}} for p in found
        ],
        "falloff_stops": _rounded(falloff_stops(lighting)),
        "key": None if hero is None else hero.key,
        "key_to_fill_stops": None if hero is None else _rounded(hero.key_to_fill_stops),
        "kelvin_at_hero": None if hero is None or hero.kelvin is None else round(hero.kelvin, 1),
        "shadows": _shadows(lighting),
        "mirrors": _mirrors(lighting, picture),
        "sun": sun_value(lighting, picture),
    }


def _shadows(lighting: Lighting) -> list[dict[str, Any]]:
    found = []
    for source in lighting.sources:
        if source.sky_lux:
            continue
        for placement_id, body in lighting.bodies.items():
            clear = lighting.props[placement_id].finish == "glass"
            shadow = shadow_of(body, source)
            core = [] if clear else rings_of(shadow.core)
            found.append({"light": source.id, "placement": placement_id, "core": core, "edge": rings_of(shadow.edge)})
    return found


def _mirrors(lighting: Lighting, picture: Picture) -> list[dict[str, Any]]:
    return [
        {
            "placement": m.placement,
            "face": m.face,
            "at": _plain(m.at),
            "normal": _unit(m.normal),
            "direction": _unit(m.direction),
            "meets": m.meets,
        }
        for m in mirrors_of(lighting, picture.view.position)
    ]


def sun_value(lighting: Lighting, picture: Picture) -> dict[str, Any] | None:
    """Where the first sun stands, and when it reaches the hero; of a sun that a cover spreads, never."""
    from .light.sun import moment_of, sun_at

    suns = {light.id: light for light in picture.scene.lights if isinstance(light, Sun)}
    source = next((s for s in lighting.sources if s.id in suns), None)
    if source is None:
        return None
    sun = suns[source.id]
    place = sun_at(sun.latitude, sun.longitude, moment_of(sun.time))
    heroes = picture.hero_ids()
    hours: list[tuple[str, str]] = []
    if heroes and not source.is_spread:
        hero = picture.bodies[heroes[0]]
        hours = sun_hours(lighting, sun, source.opening, highest_point(hero), lighting.owner("placement", hero.id))
    again = as_high_again(sun)
    return {
        "elevation": round(place.elevation, 4),
        "azimuth": round(place.azimuth, 4),
        "hours": [list(h) for h in hours],
        "as_high_again": None if again is None else again.strftime("%H:%M"),
    }


def _plain(vector: Any) -> list[float]:
    return [round(float(v), 3) for v in vector]


def _unit(vector: Any) -> list[float]:
    return [0.0 if abs(v) < SAME_NUMBER else round(float(v), 6) for v in vector]


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 4) + 0.0
