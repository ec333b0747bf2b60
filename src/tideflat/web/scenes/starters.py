"""Scenes to begin from: an empty table, and the three demo scenes, composed by hand in millimetres."""

from __future__ import annotations

from typing import Any

from tideflat.core.formats.scene_reader import FORMAT, VERSION, scene_from_value
from tideflat.core.formats.scene_writer import prop_value
from tideflat.core.model import Scene
from tideflat.web.stores.starter import starter_prop, starter_surface

CHOICES: dict[str, str] = {
    "empty": "an empty table", "marmalade": "the marmalade, from above", "supper": "the supper, at the diner's angle", "tea": "the tea tins, at eye level",
}

FULL_FRAME = {"width": 36.0, "height": 24.0, "pixels_wide": 6000, "pixels_high": 4000}
FIFTY = {"focal_length": 50, "max_aperture": 1.8, "min_aperture": 22, "min_focus": 450}
EIGHTY_FIVE = {"focal_length": 85, "max_aperture": 1.8, "min_aperture": 22, "min_focus": 800}


def starter(kind: str) -> Scene:
    """The scene of one of CHOICES."""
    return scene_from_value({"empty": _empty, "marmalade": _marmalade, "supper": _supper, "tea": _tea}[kind]())


def _document(title: str, story: str, tags: list[str], surface: str, placements: list[dict[str, Any]], setups: list[dict[str, Any]],
              backdrop: dict[str, Any] | None = None, leanings: dict[str, float] | None = None) -> dict[str, Any]:
    props = list(dict.fromkeys(p["prop"] for p in placements))
    return {
        "format": FORMAT, "version": VERSION, "title": title, "brief": {"story": story, "tags": tags, "leanings": leanings or {}},
        "surface": starter_surface(surface), "backdrop": backdrop, "room": {"ceiling_height": 2500, "walls": "#e4e2dc"},
        "props": [prop_value(starter_prop(key)) for key in props], "placements": placements, "scheme": None, "setups": setups,
    }


def _at(placement_id: str, prop: str, x: float, y: float, turn: float = 0, role: str = "support", **more: Any) -> dict[str, Any]:
    return {"id": placement_id, "prop": prop, "x": x, "y": y, "turn": turn, "role": role, **more}


def _empty() -> dict[str, Any]:
    camera = {"sensor": FULL_FRAME, "orientation": "landscape", "lens": FIFTY, "aperture": 5.6, "aim": [500, 350, 0], "distance": 1200, "elevation": 45}
    backdrop = {"kind": "upright", "y": 700, "x": 500, "width": 1400, "height": 900, "colour": "#7d7870"}
    return _document("Untitled scene", "", [], "pale oak boards", [], [{"name": "main", "camera": camera}], backdrop)


def _marmalade() -> dict[str, Any]:
    placements = [
        _at("towel", "tea-towel", 770, 165, -16, "cloth"),
        _at("board", "chopping-board", 262, 455, 14),
        _at("pan", "preserving-pan", 545, 372, 0, "hero"),
        _at("half-1", "orange-half", 218, 482, 20, "accent", z=18, on="board"),
        _at("half-2", "orange-half", 318, 503, 65, "accent", z=18, on="board"),
        _at("slice-1", "orange-slice", 236, 392, 10, "filler", z=18, on="board"),
        _at("slice-2", "orange-slice", 300, 405, 40, "filler", z=18, on="board"),
        _at("knife", "paring-knife", 330, 300, 38, "linear"),
        _at("sugar", "sugar-bowl", 400, 186),
        _at("orange-1", "orange", 236, 232, 0, "accent"),
        _at("orange-2", "orange", 296, 156, 50, "accent"),
        _at("spoon", "wooden-spoon", 668, 208, 128, "linear", z=1.5, on="towel"),
        _at("jar-1", "marmalade-jar", 752, 508, 0),
        _at("jar-2", "marmalade-jar", 838, 446, 0),
        _at("jar-3", "jar-lid-off", 748, 400, 0),
        _at("peel", "orange-peel", 520, 140, 12, "scatter"),
    ]
    camera = {"sensor": FULL_FRAME, "orientation": "landscape", "lens": FIFTY, "aperture": 8, "aim": [512, 345, 0], "distance": 1250, "elevation": 90}
    setups = [
        {"name": "from above", "camera": camera, "deliverables": [
            {"name": "feed", "ratio": "4:5", "pixels": [1080, 1350], "centre": [0.52, 0.5]},
            {"name": "banner", "ratio": "16:9", "pixels": [1920, 1080], "centre": [0.5, 0.5], "copy_space": {"side": "bottom", "share": 0.16}},
        ]},
        {"name": "upright with words", "camera": {**camera, "orientation": "portrait", "aim": [545, 360, 0], "distance": 1300}, "deliverables": [
            {"name": "story", "ratio": "9:16", "pixels": [1080, 1920], "copy_space": {"side": "top", "share": 0.2}},
        ]},
    ]
    return _document("Marmalade morning", "The pan is off the heat, the jars are warm, nobody has tasted it yet.", ["preserve", "orange", "winter"],
                     "blue-grey plaster", placements, setups, leanings={"order": 1, "edges": 1})


def _supper() -> dict[str, Any]:
    placements = [
        _at("napkin", "napkin", 690, 300, 14, "cloth"),
        _at("plate", "dinner-plate", 520, 330, 0),
        _at("fish", "smoked-fish", 520, 332, 22, "hero", z=4.8, on="plate"),
        _at("board", "chopping-board", 250, 470, 12),
        _at("bread-1", "bread-slice", 200, 470, 30, "support", z=18, on="board"),
        _at("bread-2", "bread-slice", 292, 500, -15, "support", z=18, on="board"),
        _at("beet", "beetroot-bowl", 700, 530, 0),
        _at("cream", "cream-pot", 586, 560, 0),
        _at("bottle", "ale-bottle", 838, 600, 0),
        _at("tumbler", "tumbler", 392, 622, 0),
        _at("lemon-1", "lemon-half", 392, 200, 0, "accent"),
        _at("lemon-2", "lemon-half", 458, 152, 40, "accent"),
        _at("fork", "fork", 742, 312, 104, "linear", z=1.5, on="napkin"),
        _at("knife", "paring-knife", 322, 300, -62, "linear"),
        _at("dill-1", "dill", 584, 262, 200, "filler", z=24, on="plate"),
        _at("dill-2", "dill", 620, 148, 160, "filler"),
        _at("pepper", "peppercorns", 545, 130, 0, "scatter"),
    ]
    camera = {"sensor": FULL_FRAME, "orientation": "landscape", "lens": FIFTY, "aperture": 5.6, "aim": [525, 340, 20], "distance": 1180, "elevation": 44,
              "focus": {"point": [520, 332, 18]}}
    setups = [
        {"name": "plate at 44", "camera": camera, "deliverables": [
            {"name": "feed", "ratio": "4:5", "pixels": [1080, 1350], "centre": [0.5, 0.5]},
            {"name": "menu card", "ratio": "3:2", "pixels": [1800, 1200], "copy_space": {"side": "left", "share": 0.2}},
        ]},
        {"name": "low and close", "camera": {**camera, "elevation": 26, "distance": 900, "aim": [520, 330, 30], "aperture": 4}, "deliverables": [
            {"name": "detail", "ratio": "1:1", "pixels": [1600, 1600]},
        ]},
    ]
    backdrop = {"kind": "upright", "y": 760, "x": 550, "width": 1400, "height": 900, "colour": "#6f6a62"}
    return _document("Supper at the harbour inn", "The boats are in, the lamp is lit, one plate is waiting.", ["supper", "fish", "autumn"],
                     "walnut boards", placements, setups, backdrop, leanings={"shadow": 1, "spacing": 1})


def _tea() -> dict[str, Any]:
    placements = [
        _at("tall", "tea-tin-tall", 560, 330, 0, "hero"),
        _at("riser", "riser", 395, 420, 0, "riser"),
        _at("square", "tea-tin-square", 400, 420, 24, "support", z=36, on="riser"),
        _at("low-1", "tea-tin-low", 690, 375, 0),
        _at("low-2", "tea-tin-low", 300, 300, 0),
        _at("bowl", "tea-bowl", 796, 268, 0, "accent"),
        _at("scoop", "tea-scoop", 430, 205, 18, "linear"),
        _at("leaves", "loose-tea", 520, 180, 4, "scatter"),
        _at("plate", "side-plate", 800, 460, 0),
        _at("orange", "orange", 800, 460, 0, "accent", z=3.6, on="plate"),
    ]
    camera = {"sensor": FULL_FRAME, "orientation": "landscape", "lens": EIGHTY_FIVE, "aperture": 8, "aim": [550, 330, 78], "distance": 1750, "elevation": 6}
    setups = [
        {"name": "line-up", "camera": camera, "deliverables": [
            {"name": "shop banner", "ratio": "2:1", "pixels": [2400, 1200], "centre": [0.5, 0.55], "copy_space": {"side": "top", "share": 0.22}},
            {"name": "feed", "ratio": "1:1", "pixels": [1080, 1080], "centre": [0.52, 0.5]},
        ]},
    ]
    backdrop = {"kind": "sweep", "y": 600, "x": 550, "width": 1350, "height": 1100, "colour": "#b9b4a8"}
    return _document("Four teas, one shelf", "Rain at the window; which tin will it be?", ["tea", "tin"],
                     "limestone", placements, setups, backdrop, leanings={"order": -1})
