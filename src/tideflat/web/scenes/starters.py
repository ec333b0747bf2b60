"""Scenes to begin from: an empty table, and the three demo scenes, composed by hand in millimetres."""

from __future__ import annotations

from typing import Any

from tideflat.core.formats.scene_reader import FORMAT, VERSION, scene_from_value
from tideflat.core.formats.scene_writer import prop_value
from tideflat.core.model import Scene
from tideflat.web.stores.starter import starter_prop, starter_surface

CHOICES: dict[str, str] = {
    "empty": "an empty table",
    "marmalade": "the marmalade, from above",
    "supper": "the supper, at the diner's angle",
    "tea": "the tea tins, at eye level",
    "fig": "the cut fig, seen close",
}

FULL_FRAME = {"width": 36.0, "height": 24.0, "pixels_wide": 6000, "pixels_high": 4000}
CLOSE_UP = {"focal_length": 100, "max_aperture": 2.8, "min_aperture": 32, "min_focus": 300, "max_magnification": 1.0}
FIFTY = {"focal_length": 50, "max_aperture": 1.8, "min_aperture": 22, "min_focus": 450}


#: Named places on the props of the demo scenes, which their briefs ask to be seen.
_FEATURES: dict[str, list[dict[str, Any]]] = {
    "cut-fig": [{"id": "seeds", "name": "seeds", "at": [0, 0, 26], "facing": [0, 0, 1], "width": 40, "height": 40}],
    "tea-tin-tall": [{"id": "label", "name": "label", "at": [0, -41, 71], "facing": [0, -1, 0], "width": 50, "height": 44}],
    "tea-tin-square": [{"id": "label", "name": "label", "at": [0, -37, 56], "facing": [0, -1, 0], "width": 52, "height": 40}],
    "tea-tin-low": [{"id": "label", "name": "label", "at": [0, -44, 37], "facing": [0, -1, 0], "width": 56, "height": 34}],
}


#: How each story is lit: a winter morning's window, a lamp in a dark inn, rain at the window, a strip that grazes a wet cut.
_LIGHT: dict[str, dict[str, list[dict[str, Any]]]] = {
    "marmalade": {
        "lights": [
            {"id": "window", "kind": "window", "at": [-620, 780, 560], "toward": [1, -0.26, 0], "width": 1200, "height": 1300,
             "cover": "sheer", "kelvin": 5800},
        ],
        "cards": [{"id": "white-card", "kind": "white", "at": [1270, 330, 190], "toward": [-1, 0.1, 0], "width": 640, "height": 380}],
    },
    "supper": {
        "lights": [
            {"id": "lamp", "kind": "lamp", "at": [-180, 660, 600], "toward": [0.86, -0.34, -0.66], "width": 240, "height": 240, "round": True,
             "beam": 100, "kelvin": 3100, "stops": 0.5},
            {"id": "dusk", "kind": "window", "at": [1900, 520, 520], "toward": [-1, -0.1, 0], "width": 900, "height": 1100, "kelvin": 6800,
             "stops": -2},
        ],
        "cards": [{"id": "black-card", "kind": "black", "at": [1230, 130, 170], "toward": [-0.9, 0.45, 0], "width": 520, "height": 320}],
    },
    "tea": {
        "lights": [
            {"id": "window", "kind": "window", "at": [-1850, 420, 900], "toward": [1, 0.1, -0.3], "width": 1600, "height": 1700,
             "cover": "paper", "kelvin": 6600},
        ],
        "cards": [{"id": "white-card", "kind": "white", "at": [1320, 520, 220], "toward": [-1, 0.15, 0], "width": 500, "height": 520}],
    },
    "fig": {
        "lights": [
            {"id": "strip", "kind": "lamp", "at": [820, 700, 330], "toward": [-0.68, -0.72, -0.52], "width": 260, "height": 900,
             "kelvin": 5200},
        ],
        "cards": [{"id": "silver-card", "kind": "silver", "at": [235, 215, 60], "toward": [0.9, 0.42, 0], "width": 160, "height": 120}],
    },
}  # fmt: skip

#: The fig once more, an hour before the sun leaves the window.
_LATE_SUN: dict[str, list[dict[str, Any]]] = {
    "lights": [
        {"id": "window", "kind": "window", "at": [1250, 640, 500], "toward": [-0.92, -0.39, 0], "width": 480, "height": 700, "kelvin": 6200,
         "stops": 2},
        {"id": "sun", "kind": "sun", "latitude": 50.2, "longitude": -4.6, "time": "2026-09-05T16:40:00+01:00", "through": "window",
         "kelvin": 4600, "stops": -0.5},
    ],
    "cards": [{"id": "white-card", "kind": "white", "at": [150, 130, 110], "toward": [0.86, 0.5, 0.1], "width": 300, "height": 220}],
}  # fmt: skip


def starter(kind: str) -> Scene:
    """The scene of one of CHOICES."""
    return scene_from_value({"empty": _empty, "marmalade": _marmalade, "supper": _supper, "tea": _tea, "fig": _fig}[kind]())


def _document(
    title: str,
    story: str,
    tags: list[str],
    surface: str,
    placements: list[dict[str, Any]],
    setups: list[dict[str, Any]],
    backdrop: dict[str, Any] | None = None,
    leanings: dict[str, float] | None = None,
    brief: dict[str, Any] | None = None,
    palette: list[tuple[str, str, float]] | None = None,
    groups: list[dict[str, Any]] | None = None,
    light: dict[str, list[dict[str, Any]]] | None = None,
    north: float | None = None,
) -> dict[str, Any]:
    swapped = [prop for s in setups for prop in s.get("swap", {}).values()]
    props = list(dict.fromkeys([*(p["prop"] for p in placements), *swapped]))
    return {
        "format": FORMAT,
        "version": VERSION,
        "title": title,
        "brief": {"story": story, "tags": tags, "leanings": leanings or {}, **(brief or {})},
        "surface": starter_surface(surface),
        "backdrop": backdrop,
        "room": {"ceiling_height": 2500, "walls": "#e4e2dc", **({} if north is None else {"north": north})},
        "props": [{**prop_value(starter_prop(key)), "features": _FEATURES.get(key, [])} for key in props],
        "placements": placements,
        "scheme": None,
        "palette": {"colours": [{"hex": h, "part": p, "share": s} for h, p, s in palette]} if palette else None,
        "setups": setups,
        "groups": groups or [],
        **(light or {}),
    }


def _at(placement_id: str, prop: str, x: float, y: float, turn: float = 0, role: str = "support", **more: Any) -> dict[str, Any]:
    return {"id": placement_id, "prop": prop, "x": x, "y": y, "turn": turn, "role": role, **more}


def _empty() -> dict[str, Any]:
    camera: dict[str, Any] = {
        "sensor": FULL_FRAME,
        "orientation": "landscape",
        "lens": FIFTY,
        "aperture": 5.6,
        "aim": [500, 350, 0],
        "distance": 1200,
        "elevation": 45,
    }
    backdrop = {"kind": "upright", "y": 700, "x": 500, "width": 1400, "height": 900, "colour": "#7d7870"}
    return _document("Untitled scene", "", [], "pale oak boards", [], [{"name": "main", "camera": camera}], backdrop)


def _marmalade() -> dict[str, Any]:
    placements = [
        _at("towel", "tea-towel", 880, 290, -16, "cloth"),
        _at("board", "chopping-board", 305, 575, 14),
        _at("pan", "preserving-pan", 620, 470, 0, "hero"),
        _at("half-1", "orange-half", 268, 602, 20, "accent", z=18, on="board"),
        _at("half-2", "orange-half", 362, 628, 65, "accent", z=18, on="board"),
        _at("slice-1", "orange-slice", 290, 524, 10, "filler", z=18, on="board"),
        _at("slice-2", "orange-slice", 376, 546, 40, "filler", z=18, on="board"),
        _at("knife", "paring-knife", 398, 376, 36, "linear"),
        _at("sugar", "sugar-bowl", 492, 282),
        _at("orange-1", "orange", 252, 308, 0, "accent"),
        _at("orange-2", "orange", 330, 236, 50, "accent"),
        _at("spoon", "wooden-spoon", 800, 242, 128, "linear", z=1.5, on="towel"),
        _at("jar-1", "marmalade-jar", 712, 655, 0),
        _at("jar-2", "marmalade-jar", 806, 622, 0),
        _at("jar-3", "jar-lid-off", 796, 528, 0),
        _at("peel", "orange-peel", 628, 268, 12, "scatter"),
    ]
    camera: dict[str, Any] = {
        "sensor": FULL_FRAME,
        "orientation": "landscape",
        "lens": FIFTY,
        "aperture": 11,
        "focus": {"point": [620, 470, 42]},
        "aim": [612, 450, 0],
        "distance": 1250,
        "elevation": 90,
    }
    setups: list[dict[str, Any]] = [
        {
            "name": "from above",
            "camera": camera,
            "deliverables": [
                {"name": "feed", "ratio": "4:5", "pixels": [1080, 1350], "centre": [0.5, 0.5]},
                {
                    "name": "banner",
                    "ratio": "16:9",
                    "pixels": [1920, 1080],
                    "centre": [0.5, 0.5],
                    "copy_space": {"side": "right", "share": 0.2},
                },
            ],
        },
        {
            "name": "upright with words",
            "camera": {**camera, "orientation": "portrait", "aim": [620, 450, 0], "distance": 1183},
            "deliverables": [
                {"name": "story", "ratio": "9:16", "pixels": [1080, 1920], "copy_space": {"side": "top", "share": 0.2}},
            ],
            # A flavour and a look of its own, on the same table: the lime jar in a jar's place, two oranges come into the picture.
            "surface": starter_surface("green-grey canvas"),
            "swap": {"jar-3": "lime-jar"},
            "differs": {"orange-1": {"x": 455, "y": 176}, "orange-2": {"x": 548, "y": 148, "turn": 20}},
        },
    ]
    return _document(
        "Marmalade morning",
        "The pan is off the heat, the jars are warm, nobody has tasted it yet.",
        ["preserve", "orange", "winter"],
        "blue-grey plaster",
        placements,
        setups,
        leanings={"order": 1, "edges": 1},
        brief={
            "use": "campaign",
            "mood": "bright, unhurried",
            "season": "winter",
            "finals": 3,
            "must_show": ["the shine on the marmalade", "the label's face"],
        },
        groups=[{"id": "oranges", "name": "the oranges", "placements": ["orange-1", "orange-2"]}],
        palette=[("#536068", "base", 0.55), ("#dcd7cb", "second", 0.15), ("#d9762a", "accent", 0.2), ("#a97a48", "accent", 0.1)],
        light=_LIGHT["marmalade"],
    )


def _supper() -> dict[str, Any]:
    placements = [
        _at("napkin", "napkin", 712, 318, 14, "cloth"),
        _at("plate", "dinner-plate", 550, 345, 0, z=1.5, on="napkin"),
        _at("fish", "smoked-fish", 558, 350, 20, "hero", z=6.3, on="plate"),
        _at("board", "chopping-board", 262, 520, 10),
        _at("bread-1", "bread-slice", 218, 512, 24, "support", z=18, on="board"),
        _at("bread-2", "bread-slice", 272, 530, -14, "support", z=32, on="bread-1"),
        _at("beet", "beetroot-bowl", 730, 560, 0),
        _at("cream", "cream-pot", 604, 596, 0),
        _at("bottle", "ale-bottle", 856, 640, 0),
        _at("tumbler", "tumbler", 484, 640, 0),
        _at("lemon-1", "lemon-half", 402, 222, 0, "accent"),
        _at("lemon-2", "lemon-half", 474, 168, 40, "accent"),
        _at("fork", "fork", 748, 318, 104, "linear", z=1.5, on="napkin"),
        _at("knife", "paring-knife", 802, 330, 104, "linear", z=1.5, on="napkin"),
        _at("sage-1", "sage", 600, 268, 200, "filler", z=22.5, on="plate"),
        _at("sage-2", "sage", 640, 142, 160, "filler", z=1.5, on="napkin"),
        _at("pepper", "peppercorns", 548, 146, 0, "scatter"),
    ]
    camera: dict[str, Any] = {
        "sensor": FULL_FRAME,
        "orientation": "landscape",
        "lens": FIFTY,
        "aperture": 9,
        "aim": [556, 362, 20],
        "distance": 1060,
        "elevation": 44,
        "focus": {"point": [556, 349, 18]},
    }
    setups: list[dict[str, Any]] = [
        {
            "name": "plate at 44",
            "camera": camera,
            "deliverables": [
                {"name": "feed", "ratio": "4:5", "pixels": [1080, 1350], "centre": [0.5, 0.5]},
                {"name": "menu card", "ratio": "3:2", "pixels": [1800, 1200], "copy_space": {"side": "right", "share": 0.18}},
            ],
        },
        {
            "name": "low and close",
            "camera": {**camera, "elevation": 26, "distance": 900, "aim": [550, 345, 30], "aperture": 4},
            "deliverables": [
                {"name": "detail", "ratio": "1:1", "pixels": [1600, 1600]},
            ],
        },
    ]
    backdrop = {"kind": "upright", "y": 760, "x": 550, "width": 1400, "height": 900, "colour": "#6f6a62"}
    return _document(
        "Supper at the harbour inn",
        "The boats are in, the lamp is lit, one plate is waiting.",
        ["supper", "fish", "autumn"],
        "walnut boards",
        placements,
        setups,
        backdrop,
        leanings={"shadow": 1, "spacing": 1},
        brief={
            "use": "menu",
            "mood": "deep, quiet",
            "season": "autumn",
            "finals": 2,
            "must_show": ["the gold of the skin", "steam has gone, nothing is eaten"],
        },
        palette=[
            ("#4d3a2a", "base", 0.5),
            ("#cfc8b8", "second", 0.3),
            ("#9f6f36", "accent", 0.1),
            ("#dfb52b", "accent", 0.05),
            ("#4f6b35", "accent", 0.05),
        ],
        light=_LIGHT["supper"],
    )


def _tea() -> dict[str, Any]:
    placements = [
        _at("tall", "tea-tin-tall", 590, 680, 0, "hero"),
        _at("riser", "riser", 440, 770, 0, "riser"),
        _at("cloth", "napkin", 446, 792, 6, "cloth", z=36, on="riser"),
        _at("square", "tea-tin-square", 446, 770, 24, "support", z=36, on="cloth"),
        _at("low-1", "tea-tin-low", 722, 726, 0),
        _at("low-2", "tea-tin-low", 305, 660, 0),
        _at("bowl", "tea-bowl", 798, 610, 0, "accent"),
        _at("scoop", "tea-scoop", 476, 560, 18, "linear"),
        _at("leaves", "loose-tea", 600, 540, 4, "scatter"),
        _at("plate", "side-plate", 884, 812, 0),
        _at("orange", "orange", 884, 812, 0, "accent", z=3.6, on="plate"),
    ]
    camera: dict[str, Any] = {
        "sensor": FULL_FRAME,
        "orientation": "landscape",
        "lens": FIFTY,
        "aperture": 11,
        "aim": [598, 680, 84],
        "distance": 1020,
        "elevation": 0,
    }
    setups: list[dict[str, Any]] = [
        {
            "name": "line-up",
            "camera": camera,
            "deliverables": [
                {
                    "name": "shop banner",
                    "ratio": "2:1",
                    "pixels": [2400, 1200],
                    "centre": [0.5, 0.55],
                    "copy_space": {"side": "top", "share": 0.26},
                },
                {"name": "feed", "ratio": "1:1", "pixels": [1080, 1080], "centre": [0.52, 0.5]},
            ],
            "guides": [{"axis": "v", "at": 0.52, "kind": "line"}],  # the tops of the low tins
        },
    ]
    backdrop = {"kind": "sweep", "y": 900, "x": 600, "width": 1350, "height": 1100, "colour": "#b9b4a8"}
    return _document(
        "Four teas, one shelf",
        "Rain at the window; which tin will it be?",
        ["tea", "tin"],
        "limestone",
        placements,
        setups,
        backdrop,
        leanings={"order": -1},
        brief={"use": "site banner", "mood": "calm, grey light", "finals": 1, "must_show": [{"placement": i, "feature": "label"} for i in ("tall", "square", "low-1", "low-2")]},
        palette=[("#c4beb1", "base", 0.6), ("#2d4a4e", "second", 0.25), ("#a5532f", "accent", 0.15)],
        light=_LIGHT["tea"],
    )


def _fig() -> dict[str, Any]:
    placements = [
        _at("half-1", "cut-fig", 450, 300, 20, "hero", lean=28, lean_toward=265, held_by="tape"),
        _at("half-2", "cut-fig", 512, 338, 80, "support"),
        _at("fig-1", "fig", 392, 352, 0, "accent"),
        _at("leaf-1", "bay-leaf", 398, 268, 205, "filler"),
        _at("leaf-2", "bay-leaf", 518, 266, -24, "filler"),
        _at("plate", "side-plate", 560, 480, 0),
        _at("fig-2", "fig", 548, 478, 40, "accent", z=3.6, on="plate"),
        _at("knife", "paring-knife", 318, 420, 62, "linear"),
    ]
    camera: dict[str, Any] = {
        "sensor": FULL_FRAME,
        "orientation": "landscape",
        "lens": CLOSE_UP,
        "aperture": 11,
        "aim": [456, 305, 14],
        "distance": 490,
        "elevation": 34,
        "focus": {"point": [448.9, 287.8, 30.9]},
    }
    setups: list[dict[str, Any]] = [
        {
            "name": "close",
            "camera": camera,
            "deliverables": [
                {"name": "square", "ratio": "1:1", "pixels": [1600, 1600]},
                {"name": "page", "ratio": "3:2", "pixels": [3000, 2000], "copy_space": {"side": "top", "share": 0.18}},
            ],
        },
        {"name": "late sun", "camera": camera, "deliverables": [{"name": "square", "ratio": "1:1", "pixels": [1600, 1600]}], **_LATE_SUN},
    ]
    backdrop = {"kind": "upright", "y": 700, "x": 450, "width": 1100, "height": 800, "colour": "#39484a"}
    story = "One cut, still wet; the knife is not yet put down."
    return _document(
        "A fig, just cut",
        story,
        ["fig", "close"],
        "rose-clay tiles",
        placements,
        setups,
        backdrop,
        leanings={"focus": 1, "shadow": 1},
        brief={"use": "close detail", "mood": "wet, dark", "season": "late summer", "finals": 2, "must_show": [{"placement": "half-1", "feature": "seeds"}]},
        palette=[("#9a6a57", "base", 0.6), ("#4a2b44", "second", 0.25), ("#b04a58", "accent", 0.15)],
        light=_LIGHT["fig"],
        north=176,
    )
