"""Scene documents that must be refused: each a name, its bytes, and what its error's path must begin with."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from .scenes import scene_value


def _changed(change: Callable[[dict[str, Any]], Any]) -> bytes:
    value = scene_value()
    change(value)
    return json.dumps(value).encode()


def _text(old: str, new: str) -> bytes:
    text = json.dumps(scene_value())
    assert old in text
    return text.replace(old, new, 1).encode()


def _set(value: Any, *path: Any) -> Callable[[dict[str, Any]], None]:
    def change(document: dict[str, Any]) -> None:
        target: Any = document
        for step in path[:-1]:
            target = target[step]
        target[path[-1]] = value

    return change


def _drop(*path: Any) -> Callable[[dict[str, Any]], None]:
    def change(document: dict[str, Any]) -> None:
        target: Any = document
        for step in path[:-1]:
            target = target[step]
        del target[path[-1]]

    return change


CAMERA = ("setups", 0, "camera")
MALFORMED: dict[str, tuple[bytes, str]] = {
    "not JSON": (b"{'format': 1", "document"),
    "empty": (b"", "document"),
    "a list": (b"[]", "document"),
    "not UTF-8": (b'{"format": "\xff\xfe"}', "document"),
    "ten megabytes": (b'{"format": "' + b"x" * 10_000_000 + b'"}', "document"),
    "deeply nested": (b"[" * 100_000 + b"]" * 100_000, "document"),
    "deeply nested inside": (_changed(_set(json.loads("[" * 60 + "]" * 60), "placements")), "document"),
    "another format": (_changed(_set("sketch", "format")), "format"),
    "a newer version": (_changed(_set(2, "version")), "version"),
    "true as version": (_changed(_set(True, "version")), "version"),
    "no set-ups": (_changed(_set([], "setups")), "setups"),
    "text for a number": (_changed(_set("430", "placements", 0, "x")), "placements[0].x"),
    "true for a number": (_changed(_set(True, "placements", 0, "x")), "placements[0].x"),
    "null for a number": (_changed(_set(None, "placements", 0, "x")), "placements[0].x"),
    "a list for a number": (_changed(_set([1], "surface", "width")), "surface.width"),
    "a number for text": (_changed(_set(5, "title")), "title"),
    "an object for a list": (_changed(_set({}, "placements")), "placements"),
    "NaN": (_text('"x": 430', '"x": NaN'), "placements[0].x"),
    "infinity": (_text('"distance": 1100', '"distance": Infinity'), "setups[0].camera.distance"),
    "1e300": (_text('"x": 430', '"x": 1e300'), "placements[0].x"),
    "1e999": (_text('"x": 430', '"x": 1e999'), "placements[0].x"),
    "an integer of 5000 digits": (_text('"x": 430', '"x": ' + "9" * 5000), "document"),
    "an integer of 300 digits": (_text('"x": 430', '"x": ' + "9" * 300), "placements[0].x"),
    "a key twice": (_text('"x": 430', '"x": 430, "x": 431'), "placements[0].x"),
    "an unknown key": (_changed(_set(1, "placements", 0, "colour")), "placements[0].colour"),
    "an unknown key at the top": (_changed(_set(1, "lights")), "lights"),
    "an unknown prop": (_changed(_set("kettle", "placements", 0, "prop")), "placements[0].prop"),
    "an id twice": (_changed(_set("p1", "placements", 1, "id")), "placements[1].id"),
    "a prop id twice": (_changed(_set("jar", "props", 1, "id")), "props[1].id"),
    "resting on nothing known": (_changed(_set("p99", "placements", 1, "on")), "placements[1].on"),
    "resting on itself": (_changed(_set("p1", "placements", 0, "on")), "placements[0].on"),
    "hiding what is not there": (_changed(_set(["p99"], "setups", 0, "hidden")), "setups[0].hidden[0]"),
    "swapping in an unknown prop": (_changed(_set({"p1": "kettle"}, "setups", 0, "swap")), "setups[0].swap.p1"),
    "an unknown shape": (_changed(_set("torus", "props", 0, "shape", "kind")), "props[0].shape.kind"),
    "no size": (_changed(_drop("props", 0, "shape", "diameter")), "props[0].shape.diameter"),
    "a negative size": (_changed(_set(-76, "props", 0, "shape", "diameter")), "props[0].shape.diameter"),
    "a neck wider than the bottle": (_changed(_set(90, "props", 3, "shape", "neck_diameter")), "props[3].shape.neck_diameter"),
    "an outline that crosses itself": (
        _changed(_set([[0, 0], [10, 10], [10, 0], [0, 10]], "props", 8, "shape", "points")),
        "props[8].shape.points",
    ),
    "a colour by name": (_changed(_set("orange", "surface", "colours", 0, "hex")), "surface.colours[0].hex"),
    "a lens of no length": (_changed(_set(0, *CAMERA, "lens", "focal_length")), "setups[0].camera.lens.focal_length"),
    "a lens that focuses inside itself": (_changed(_set(120, *CAMERA, "lens", "min_focus")), "setups[0].camera.lens.min_focus"),
    "a lens open at f/22 and closed at f/2": (_changed(_set(64, *CAMERA, "lens", "max_aperture")), "setups[0].camera.lens.max_aperture"),
    "an aperture the lens has not": (_changed(_set(64, *CAMERA, "aperture")), "setups[0].camera.aperture"),
    "a camera nearer than its focal length": (_changed(_set(40, *CAMERA, "distance")), "setups[0].camera.distance"),
    "an aim of two numbers": (_changed(_set([450, 300], *CAMERA, "aim")), "setups[0].camera.aim"),
    "looking from below": (_changed(_set(-45, *CAMERA, "elevation")), "setups[0].camera.elevation"),
    "a ratio that disagrees with its pixels": (
        _changed(_set("1:1", "setups", 0, "deliverables", 0, "ratio")),
        "setups[0].deliverables[0].ratio",
    ),
    "a crop outside the frame": (_changed(_set([0.05, 0.5], "setups", 0, "deliverables", 0, "centre")), "setups[0].deliverables[0].centre"),
    "markup in the title": (_changed(_set("<script>alert(1)</script>", "title")), "title"),
    "markup in a prop's name": (_changed(_set("<img src=x onerror=y>", "props", 0, "name")), "props[0].name"),
    "markup in an id": (_changed(_set("<b>", "placements", 0, "id")), "placements[0].id"),
    "half a character": (_text('"title": "Marmalade morning"', '"title": "\\ud800"'), "title"),
    "a nul in the title": (_text('"title": "Marmalade morning"', '"title": "a\\u0000b"'), "title"),
    "a title of a thousand letters": (_changed(_set("a" * 1000, "title")), "title"),
    "six hundred placements": (
        _changed(_set([{"id": f"q{i}", "prop": "jar", "x": 1, "y": 1} for i in range(600)], "placements")),
        "placements",
    ),
}
