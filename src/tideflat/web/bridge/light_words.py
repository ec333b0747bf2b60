"""Light in plain words: strengths, softness, key and fill, warmth, what mirrors what, when the sun comes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .time_words import time_words


def light_name(light_id: str) -> str:
    """An id as people read it.

    >>> light_name("soft-box_2")
    'soft box 2'
    """
    return light_id.replace("-", " ").replace("_", " ")


def strength_words(stops: float) -> str:
    """Against what 0 stands for."""
    if not stops:
        return "as it comes"
    return f"{abs(stops):g} stop{'' if abs(stops) == 1 else 's'} {'stronger' if stops > 0 else 'weaker'}"


def softness_words(degrees: float | None) -> str:
    """How wide a light looks from the hero, in the trade's words [practice]: the limits are common practice, no source."""
    if degrees is None:
        return "from all round"
    if degrees < 3:
        return "hard, its shadows have edges"
    if degrees < 14:
        return "rather hard"
    return "soft" if degrees < 45 else "very soft"


def fill_words(stops: float | None) -> str:
    """Key against fill [practice]."""
    if stops is None:
        return "nothing fills its other side"
    if stops < 0.7:
        return "its sides are nearly alike: flat"
    if stops < 1.8:
        return "open shadows"
    return "deep shadows" if stops < 3.2 else "very deep shadows"


def warmth_words(kelvin: float) -> str:
    """As photographers say it; common practice, no source."""
    if kelvin < 3600:
        return "warm, as lamps are"
    if kelvin < 4700:
        return "between lamp and day"
    return "as day is" if kelvin < 6600 else "cool, as shade is"


def _exposure_line(asked: Mapping[str, Any]) -> dict[str, str]:
    """What a meter at the hero asks for, and how far what is set is from it."""
    taken = ((round(asked["bellows"], 1), "nearness"), (asked["filter"], "the filter"))
    losses = [f"{stops:g} stop{'' if stops == 1 else 's'} for {what}" for stops, what in taken if stops]
    loss = f", of it {' and '.join(losses)}" if losses else ""
    off = asked["off"]
    is_set = "" if off is None or abs(off) < 0.15 else f"; what is set is {abs(off):.1f} stops {'lighter' if off > 0 else 'darker'}"
    if asked["flash"]:
        return {"figure": f"f/{asked['aperture']:.1f}", "words": f"asks the flash at ISO {asked['iso']:g}, metered at the hero{loss}{is_set}"}
    return {
        "figure": time_words(asked["time_s"]),
        "words": f"asks a meter at the hero, at f/{asked['marked']:g} and ISO {asked['iso']:g}{loss}{is_set}",
    }


def day_line(told: Mapping[str, Any], clock: str) -> dict[str, Any] | None:
    """A day on a line of 360, a minute a quarter: when direct sun reaches the hero, and the hour that is looked at; None without a sun."""
    sun = told.get("sun")
    if sun is None:
        return None
    spans = [{"x": _minutes(a) / 4, "width": (_minutes(b) - _minutes(a)) / 4} for a, b in sun["hours"]]
    hours = [{"x": hour * 15, "label": str(hour)} for hour in (6, 9, 12, 15, 18)]
    words = ", ".join(f"{a} to {b}" for a, b in sun["hours"]) or "not at all"
    return {"spans": spans, "hours": hours, "now": _minutes(clock) / 4, "told": f"direct sun reaches the hero {words}; looked at: {clock}"}


def _minutes(clock: str) -> int:
    hour, minute = clock.split(":")
    return 60 * int(hour) + int(minute)


_FACES = {"top": "top", "front": "side"}
_MEETS = {"dark": "nothing lit", "lens": "the camera itself", "wall": "a wall", "floor": "the floor", "ceiling": "the ceiling",
          "backdrop": "the backdrop", "surface": "the surface"}  # fmt: skip


def told_words(told: Mapping[str, Any], names: Mapping[str, str]) -> list[dict[str, str]]:
    """Lines of the light's readings, big figure and words. told: as the light worker says; names: things by placement id."""
    lines: list[dict[str, str]] = []
    hero = told.get("hero")
    if hero is not None:
        soft = softness_words(hero["softness"])
        wide = "" if hero["softness"] is None else f", {hero['softness']:.0f}° wide from the hero"
        lines.append({"figure": light_name(hero["key"]), "words": f"is the key: {soft}{wide}"})
        ratio = hero["key_to_fill"]
        lines.append({"figure": "" if ratio is None else f"{ratio:.1f} stops", "words": f"from key to fill: {fill_words(ratio)}"})
        if hero["kelvin"]:
            lines.append({"figure": f"{round(hero['kelvin'], -2):.0f} K", "words": f"at the hero: {warmth_words(hero['kelvin'])}"})
    if told.get("falloff") is not None:
        more = ": move the light back, or fill" if told["falloff"] > 1 else ""
        lines.append({"figure": f"{told['falloff']:.1f} stops", "words": f"fall off over the set{more}"})
    if told.get("exposure") is not None:
        lines.append(_exposure_line(told["exposure"]))
    sun = told.get("sun")
    if sun is not None:
        hours = ", ".join(f"{a} to {b}" for a, b in sun["hours"]) or "not at all"
        again = f"; as high again at {sun['as_high_again']}" if sun.get("as_high_again") else ""
        lines.append({"figure": f"{sun['elevation']:.0f}°", "words": f"high stands the sun; direct sun reaches the hero {hours}{again}"})
    for mirror in told.get("mirrors", []):
        meets = names.get(mirror["meets"]) or _MEETS.get(mirror["meets"]) or light_name(mirror["meets"])
        what = meets if mirror["meets"] in _MEETS else f"the {meets}"
        turn = mirror.get("turn")
        advice = f"; turned {turn['degrees']:.0f}° it would mirror the {light_name(turn['to'])}" if turn else ""
        lines.append(
            {"figure": names.get(mirror["placement"], mirror["placement"]), "words": f"mirrors {what} ({_FACES[mirror['face']]}){advice}"}
        )
    return lines
