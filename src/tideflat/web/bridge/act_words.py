"""The web's own words for steps of a scene's history, from the core's codes and figures, in the reader's own unit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tideflat.core.units import format_length

from .light_words import light_name
from .remedy_words import remedy_words
from .time_words import time_words

Figures = dict[str, Any]


class Mm:
    """A length in the reader's unit."""

    def __init__(self, unit: str) -> None:
        self.unit = unit

    def __call__(self, mm: float) -> str:
        return format_length(mm, self.unit)


PRESET_WORDS = {"overhead": "overhead", "high": "60°", "diner": "45°", "low": "25°", "eye": "eye level"}
_BRIEF_WORDS = {"must_show": "what must be seen", "finals": "number of finals"}
#: What a set-up has of its own, in a word for each key.
KEY_WORDS = {
    "x": "place", "y": "place", "z": "place", "on": "place", "turn": "turn", "lean": "lean", "lean_toward": "lean", "role": "role",
    "held_by": "held by", "prop": "prop", "hidden": "left out", "surface": "surface", "backdrop": "backdrop", "scheme": "scheme",
    "lights": "lights", "cards": "cards", "rig": "rig",
}  # fmt: skip


def act_words(code: str, figures: Figures, unit: str) -> str:
    """What was done, in a line of at most 200 characters; one that was done in one set-up alone says so."""
    say = _WORDS.get(code)
    words = say(figures, Mm(unit)) if say else code.replace("_", " ")
    if figures.get("room"):
        words += f"; {figures['room']} made room"
    if figures.get("only"):
        words += f", only in {figures['only']}"
    return words[:200]


def own_words(keys: list[str]) -> str:
    """What of a thing is otherwise in a set-up: place, turn, and so on."""
    return ", ".join(dict.fromkeys(KEY_WORDS[key] for key in keys))


def _angle(f: Figures, key: str) -> str:
    return f"{round((f[key] + 180) % 360 - 180, 1):g}°"


def _move(f: Figures, mm: Mm) -> str:
    if "up" in f:
        return f"{f['name']} {'raised' if f['up'] > 0 else 'lowered'} by {mm(abs(f['up']))}"
    return f"{f['name']} moved {mm(f['mm'])}"


def _camera(f: Figures, mm: Mm) -> str:
    key, value = f["key"], f["value"]
    if key in ("elevation", "azimuth", "roll"):
        return f"{key} {value:g}°"
    if key == "aim":
        return f"aim moved, {f['axis']} {mm(value)}"
    if key == "distance":
        return f"camera {mm(value)} from its aim"
    if key == "aperture":
        return f"aperture f/{value:g}"
    if key == "orientation":
        return f"frame {'upright' if value == 'portrait' else 'lying'}"
    return {"focus": "focus moved", "circle_of_confusion": "what passes as sharp"}[key]


def _exposure(f: Figures, mm: Mm) -> str:
    if not f["decided"]:
        return "exposure left open"
    return f"exposed by flash, ISO {f['iso']:g}" if f["flash"] else f"exposed {time_words(f['time_s'])}, ISO {f['iso']:g}"


def _of(f: Figures) -> str:
    """The thing by its name, or how many."""
    return str(f["name"]) if f["name"] else f"{f['count']} things"


_DISH_WORDS = {"level": "level", "heap": "in a heap", "crescent": "along a crescent"}
_ROW_WORDS = {"line": "in a line", "arc": "in an arc", "circle": "in a circle", "strewn": "strewn"}


def _hold(f: Figures, mm: Mm) -> str:
    return f"{f['name']} held by {f['held_by'] or 'nothing'}"


def _back(f: Figures, mm: Mm) -> str:
    what = own_words(f["keys"])
    return f"{f['name']}: {what} in {f['setup']} as in all" if f["name"] else f"{what} in {f['setup']} as in all"


def _over(f: Figures, mm: Mm) -> str:
    what = own_words(f["keys"])
    return f"{f['name']}: {what} of {f['setup']} taken over by all" if f["name"] else f"{what} of {f['setup']} taken over by all"


def _backdrop_place(f: Figures, mm: Mm) -> str:
    return f"backdrop middle at {mm(f['x'])}" if "x" in f else f"backdrop standing {mm(f['y'])}"


_LIGHT_KEYS = {"on": "switched", "stops": "strength", "kelvin": "colour temperature", "filter": "filter", "width": "size", "height": "size",
               "cover": "cover", "beam": "beam", "through": "sheet", "time": "clock", "toward": "turned", "bend": "bend", "colour": "colour"}  # fmt: skip


def _light(f: Figures, mm: Mm) -> str:
    name = light_name(f["id"])
    if f["new"]:
        return f"{name} set up"
    keys = ", ".join(dict.fromkeys(_LIGHT_KEYS.get(key, key) for key in f.get("keys", ())))
    return f"{name}: {keys}" if keys else f"{name} moved {mm(f['moved'])}" if f.get("moved") else f"{name} as it was"


def _kept_shadow(f: Figures, mm: Mm) -> str:
    """A time, what was turned and carried, and what stays otherwise.

    >>> _kept_shadow({"time": "2026-09-05T17:30:00+01:00", "degrees": -11.1, "longer": 1.39, "reaches": True}, str)
    'shadow kept at 17:30: the whole set turned 11° clockwise, shadows 1.4 times as long'
    """
    parts = []
    if round(f["degrees"]):
        parts.append(f"the whole set turned {abs(f['degrees']):.0f}° {'clockwise' if f['degrees'] < 0 else 'counter-clockwise'}")
    if "card" in f:
        parts.append(f"the {light_name(f['card'])} {mm(abs(f['nearer']))} {'nearer' if f['nearer'] > 0 else 'further'}")
    if abs(f["longer"] - 1) >= 0.05:
        parts.append(f"shadows {f['longer']:.1f} times as long")
    if not f["reaches"]:
        parts.append("the sun does not come through its window then")
    return f"shadow kept at {f['time'][11:16]}: " + (", ".join(parts) or "nothing to turn")


def _brief(f: Figures, mm: Mm) -> str:
    value = f["value"]
    said = ", ".join(value) if isinstance(value, list) else value
    return f"{_BRIEF_WORDS.get(f['key'], f['key'])}: {said or 'open'}"


def _remedy(f: Figures, mm: Mm) -> str:
    words = remedy_words(f["kind"], f, f["sentence"], mm.unit)
    return f"remedy: {words[:1].lower()}{words[1:]}"


def _finding(f: Figures) -> str:
    return str(f["code"]).replace(".", ", ").replace("_", " ")


_WORDS: dict[str, Callable[[Figures, Mm], str]] = {
    "move": _move,
    "turn": lambda f, mm: f"{f['name']} turned to {_angle(f, 'turn')}",
    "lean": lambda f, mm: f"{f['name']} leaned {f['lean']:g}°",
    "raise": lambda f, mm: f"{f['name']} raised to {mm(f['z'])}",
    "let_go": lambda f, mm: f"{f['name']} laid on {f['below']}",
    "lay_dish": lambda f, mm: f"{f['count']} things laid anew in {f['name']}: {_DISH_WORDS[f['way']]}",
    "shift": lambda f, mm: f"{_of(f)} moved",
    "spin": lambda f, mm: f"{_of(f)} turned about their middle",
    "line_up": lambda f, mm: f"{_of(f)} on one line",
    "share_out": lambda f, mm: f"{_of(f)} shared out",
    "square_up": lambda f, mm: f"{_of(f)} squared",
    "mirror": lambda f, mm: f"{_of(f)} mirrored",
    "face_lens": lambda f, mm: f"{_of(f)} facing the lens",
    "turn_toward": lambda f, mm: f"{_of(f)} turned toward one place",
    "lock_all": lambda f, mm: f"{_of(f)} {'locked' if f['locked'] else 'unlocked'}",
    "remove_all": lambda f, mm: f"{_of(f)} taken away",
    "duplicate_all": lambda f, mm: f"{_of(f)} duplicated",
    "repeat": lambda f, mm: f"{f['count']} of {f['name']} {_ROW_WORDS[f['form']]}",
    "arrange": lambda f, mm: f"{_of(f)} arranged" + (f": {f['scheme']}" if f.get("scheme") else ""),
    "bring": lambda f, mm: f"{f['count']} things brought from {f['title']}",
    "rest": lambda f, mm: f"{f['name']} laid on {f['below'] or 'the table'}",
    "role": lambda f, mm: f"{f['name']} made {f['role']}",
    "hold": _hold,
    "name_feature": lambda f, mm: f"{f['feature']} of the {f['name']} named",
    "drop_feature": lambda f, mm: f"{f['feature']} of the {f['name']} no longer named",
    "ask_feature": lambda f, mm: f"{f['feature']} of the {f['name']} {'must be seen' if f['must_show'] else 'need not be seen'}",
    "lock": lambda f, mm: f"{f['name']} {'locked' if f['locked'] else 'unlocked'}",
    "duplicate": lambda f, mm: f"{f['name']} duplicated",
    "remove": lambda f, mm: f"{f['name']} taken away",
    "hide": lambda f, mm: f"{f['name']} {'left out of' if f['hidden'] else 'back in'} {f['setup']}",
    "add": lambda f, mm: f"{f['name']} put on the table",
    "swap": lambda f, mm: f"{f['by']} in the place of {f['name']}",
    "group": lambda f, mm: f"{f['name']} move together",
    "ungroup": lambda f, mm: f"{f['gone']} moves by itself" if f["gone"] else f"{f['name']} no longer move together",
    "camera": _camera,
    "preset": lambda f, mm: f"camera to {PRESET_WORDS[f['preset']]}",
    "lens_height": lambda f, mm: f"lens {mm(f['height'])} above the table",
    "pan": lambda f, mm: f"camera carried {mm(f['mm'])}",
    "focus_on": lambda f, mm: f"focus on {f['name']}" if f["name"] else "focus through the aim",
    "lens": lambda f, mm: f"lens: {f['name']}",
    "body": lambda f, mm: f"camera: {f['name']}",
    "deliverable": lambda f, mm: f"deliverable {f['name']} {'changed' if f['changed'] else 'asked for'}",
    "exposure": _exposure,
    "support": lambda f, mm: f"camera held by {f['name']}" if f["name"] else "what holds the camera left open",
    "tilt": lambda f, mm: f"lens tilted {f['tilt']:g}°" if f["tilt"] else "lens straight",
    "motion": lambda f, mm: f"{f['name']} moves {mm(f['speed'])} a second" if f["speed"] else f"{f['name']} stands still",
    "guides": lambda f, mm: "guide laid" if f["more"] > 0 else "guide taken away" if f["more"] < 0 else "guide moved",
    "crop": lambda f, mm: f"crop {f['name']} moved",
    "series": lambda f, mm: f"{f['count']} set-ups framed as {f['name']}" if f["count"] > 1 else f"another set-up framed as {f['name']}",
    "sequence": lambda f, mm: f"{f['name']} goes on closer, in {f['count']} more",
    "frame_all": lambda f, mm: f"one frame for {f['count']} deliverables",
    "remove_deliverable": lambda f, mm: f"deliverable {f['name']} dropped",
    "details": lambda f, mm: f"{f['count']} detail views of the {f['name']}" if f["count"] > 1 else f"a detail view of the {f['name']}",
    "add_setup": lambda f, mm: f"set-up {f['name']} begun",
    "rename_setup": lambda f, mm: f"set-up {f['setup']} now called {f['name']}",
    "remove_setup": lambda f, mm: f"set-up {f['setup']} dropped",
    "give_back": _back,
    "take_over": _over,
    "surface": lambda f, mm: f"surface: {f['name']}",
    "table_height": lambda f, mm: f"table {mm(f['height'])} high",
    "backdrop": lambda f, mm: f"backdrop: {f['name'] or 'none'}",
    "place_backdrop": _backdrop_place,
    "scheme": lambda f, mm: f"scheme: {f['kind'] or 'none'}",
    "light": _light,
    "card": _light,
    "rig": _light,
    "move_light": lambda f, mm: f"{light_name(f['id'])} moved {mm(f['moved'])}" if f.get("moved") else f"{light_name(f['id'])} turned",
    "remove_light": lambda f, mm: f"{light_name(f['id'])} taken away",
    "only_light": lambda f, mm: f"only the {light_name(f['id'])} on" if f["id"] else "all lights on",
    "keep_shadow": _kept_shadow,
    "turn_set": lambda f, mm: f"the whole set turned {f['degrees']:g}°",
    "room_place": lambda f, mm: "room: " + ", ".join(f),
    "room": lambda f, mm: f"ceiling {mm(f['ceiling'])} high" if f["ceiling"] else "ceiling not known",
    "palette": lambda f, mm: f"palette from {f['source']}" if f["source"] else "palette dropped",
    "palette_from_subject": lambda f, mm: f"palette from the {f['name']}",
    "palette_colour": lambda f, mm: f"palette: {f['part']} {f['hex']}",
    "remove_palette_colour": lambda f, mm: f"palette without {f['hex']}",
    "title": lambda f, mm: f"scene called {f['title']}",
    "leaning": lambda f, mm: f"leaning on {f['leaning'].replace('_', ' ')} {'set' if f['value'] else 'left open'}",
    "brief": _brief,
    "begin": lambda f, mm: f"brief: {f['use'] or 'story told'}",
    "mean": lambda f, mm: f"meant: {_finding(f)}",
    "reconsider": lambda f, mm: f"judged again: {_finding(f)}",
    "remedy": _remedy,
}
