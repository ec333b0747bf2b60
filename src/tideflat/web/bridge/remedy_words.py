"""The web's own words for remedies, from the core's kinds and figures."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tideflat.core.units import format_length

from .light_words import light_name


def remedy_words(kind: str, figures: dict[str, Any], sentence: str, unit: str) -> str:
    """The remedy as the words on its button. ``figures``: its own, and the name of the thing it moves as ``thing``; ``sentence``: the
    developer's, for a kind that has no words here."""
    words = _words(kind, figures, sentence, unit)
    times = figures.get("times", 1)
    if times > 1:
        return f"{words}, and {times - 1} more like it"
    return "; then ".join([words, *(_lower(_words(then["kind"], then, then["sentence"], unit)) for then in figures.get("then", ()))])


def _lower(words: str) -> str:
    return words[:1].lower() + words[1:]


def _stepped(figures: dict[str, Any], unit: str) -> str:
    if "way" not in figures:  # in histories written before the step was kept beside the carry
        return "step closer"
    return f"step {figures['way']} {format_length(figures['step_mm' if 'step_mm' in figures else 'mm'], unit)}"


def _sized(figures: dict[str, Any], unit: str) -> str:
    return f"of {format_length(figures['width'], unit)} × {format_length(figures['height'], unit)}"


#: What a remedy does with the camera, each alone or several together: "lens_and_step".
_CAMERA: dict[str, Callable[[dict[str, Any], str], str]] = {
    "lens": lambda figures, unit: f"take the {figures['lens']}",
    "elevation": lambda figures, unit: f"look down from {figures['elevation']:g}°",
    "aim": lambda figures, unit: f"carry the camera {format_length(figures['mm'], unit)}",
    "step": _stepped,
}


def _words(kind: str, figures: dict[str, Any], sentence: str, unit: str) -> str:
    camera = [_CAMERA[part](figures, unit) for part in kind.split("_and_") if part in _CAMERA]
    if camera:
        words = " and ".join(filter(None, (", ".join(camera[:-1]), camera[-1])))
        return words[:1].upper() + words[1:]
    name = figures.get("thing", "")
    length = format_length(figures["mm"], unit) if "mm" in figures else ""
    match kind:
        case "move":
            return f"Move the {name} {length}"
        case "arrangement":
            return f"Arrange: {figures['said']}"
        case "exchange":
            return f"Let the {name} and the {figures['other']} change places"
        case "leave_out":
            return f"Leave the {name} out of this set-up"
        case "move_several":
            return f"Move {len(figures['placements'])} things, at most {length}"
        case "turn":
            return f"Turn the {name} by {figures['degrees']:.1f}°"
        case "wedge":
            return f"Wedge the {name} up by {figures['degrees']}°"
        case "riser":
            return f"Raise the {name} {length} on a riser"
        case "crop":
            return f"Shift the {figures['crop']} crop"
        case "slide":
            return f"Slide the backdrop {length} {figures['way']}"
        case "refocus":
            return "Focus through its middle"
        case "aperture":
            return f"Set f/{figures['aperture']:g}"
        case "refocus_and_aperture":
            return f"Focus its middle at f/{figures['aperture']:g}"
        case "lay":
            return f"Lay the {name} on the {figures['onto']}"
        case "hold":
            return f"Hold the {name} with {figures['held_by']}"
        case "lean":
            return f"Lean it {abs(figures['lean']):g}° at most" if figures["lean"] else "Stand it up"
        case "lower":
            return f"Set it down {length}"
        case "swap":
            return f"Take the {figures['name']} instead"
        case "bring":
            return f"Bring in the {figures['name']}" + (" twice" if figures["count"] == 2 else "")
        case "surface":
            return f"Lay it on {figures['name']}"
        case "light_round":
            return f"Carry the {light_name(figures['light'])} {abs(figures['degrees'])}° round"
        case "set_turn":
            return f"Turn the set {abs(figures['degrees'])}° {'clockwise' if figures['degrees'] < 0 else 'counter-clockwise'}"
        case "set_back":
            return f"Move the table {length} away from the {light_name(figures['light'])}"
        case "set_nearer":
            return f"Move the table {length} nearer to the {light_name(figures['light'])}"
        case "light_up":
            return f"Raise the {light_name(figures['light'])} {length}"
        case "light_back":
            return f"Move the {light_name(figures['light'])} back {length}"
        case "light_out":
            return f"Move the {light_name(figures['light'])} out {length}"
        case "light_warmth":
            return f"Set the {light_name(figures['light'])} to {figures['kelvin']:g} K"
        case "light_off":
            return f"Turn the {light_name(figures['light'])} off"
        case "light_larger":
            return f"Make the {light_name(figures['light'])} {figures['times_as']:g} times as large"
        case "card_fill":
            return f"Set a white card {_sized(figures, unit)} to fill"
        case "card_overhead":
            return f"Hang a black card {_sized(figures, unit)} over the set"
        case "card_flag":
            return f"Set a black card {_sized(figures, unit)} before the lens's view of it"
        case "card_mirror":
            return f"Set a white card {_sized(figures, unit)} where it is mirrored"
        case "light_mirror":
            return f"Carry the {light_name(figures['light'])} where it is mirrored"
        case "role":
            return f"Make the {name} the {figures['role']}"
    return sentence[:1].upper() + sentence[1:]
