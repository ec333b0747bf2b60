"""Ten scenes with what a practitioner would want said of each, put down before the judgements were run; and how well they are met.

The four scenes to begin from, and six made for this as a stylist would lay them, each with faults planted on purpose beside things that must
not be called faults. What is wanted stands in tests/data/judgement/wanted.json: ``wanted`` (code, who, where), ``may`` (what one may say or
leave), and whatever else is said is a false alarm. Common practice, no source: nobody else has judged these scenes.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import prop_value
from tideflat.core.model import Scene
from tideflat.web.scenes.starters import starter
from tideflat.web.stores.starter import starter_prop, starter_surface

WANTED = Path(__file__).parents[1] / "data" / "judgement" / "wanted.json"
FULL_FRAME = {"width": 36.0, "height": 24.0, "pixels_wide": 6000, "pixels_high": 4000}
FIFTY = {"focal_length": 50, "max_aperture": 1.8, "min_aperture": 22, "min_focus": 450}
CLOSE_UP = {"focal_length": 100, "max_aperture": 2.8, "min_aperture": 32, "min_focus": 300, "max_magnification": 1.0}


def _at(i: str, prop: str, x: float, y: float, turn: float = 0, role: str = "support", **more: Any) -> dict[str, Any]:
    return {"id": i, "prop": prop, "x": x, "y": y, "turn": turn, "role": role, **more}


def _scene(title: str, surface: Any, placements: list[dict[str, Any]], setups: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    brief, extra = more.pop("brief", {}), more.pop("props", {})
    keys = [k for k in dict.fromkeys(p["prop"] for p in placements) if k not in extra]
    return {
        "format": "tideflat-scene",
        "version": 1,
        "title": title,
        "brief": brief,
        "surface": starter_surface(surface) if isinstance(surface, str) else surface,
        "room": {"ceiling_height": 2600, "walls": "#e4e2dc"},
        "props": [prop_value(starter_prop(key)) for key in keys] + [{"id": k, **v} for k, v in extra.items()],
        "placements": placements,
        "setups": setups,
        **more,
    }


def _camera(aim: list[float], distance: float, elevation: float, aperture: float = 8, **more: Any) -> dict[str, Any]:
    lens = more.pop("lens", FIFTY)
    return {"sensor": FULL_FRAME, "lens": lens, "aperture": aperture, "aim": aim, "distance": distance, "elevation": elevation, **more}


def _breakfast() -> dict[str, Any]:
    """A flat lay of eleven. Planted: a knife's edge 3 mm from the plate's, an orange that peeks into the feed by a few millimetres, and a
    butter dish far lighter than the toast that leads. Not faults: the plate under the toast is lighter still; the dish and the mug run off
    the feed by a part of themselves."""
    placements = [
        _at("napkin", "linen-dark", 560, 330, 8, "cloth"),
        _at("plate", "marmalade-plate", 520, 370, 0, z=1.5, on="napkin"),
        _at("toast", "toast", 515, 372, 24, "hero", z=5.5, on="plate"),
        _at("jar", "jar-lid-off", 392, 525),
        _at("butter", "butter-dish", 700, 520, -12),
        _at("knife", "butter-knife", 403, 372, 90, "linear"),
        _at("mug", "mug", 712, 205),
        _at("orange-1", "orange", 322, 190, 30, "accent"),
        _at("orange-2", "orange", 759, 372, 0, "accent"),
        _at("spoon", "jam-spoon", 560, 560, 28, "linear"),
        _at("peel", "orange-peel", 450, 160, 12, "scatter"),
    ]
    deliverables = [
        {"name": "feed", "ratio": "4:5", "pixels": [1080, 1350]},
        {"name": "banner", "ratio": "16:9", "pixels": [1920, 1080], "copy_space": {"side": "left", "share": 0.2}},
    ]
    return _scene(
        "Toast for one",
        "pale oak boards",
        placements,
        [{"name": "from above", "camera": _camera([500, 350, 0], 1250, 90), "deliverables": deliverables}],
        brief={
            "story": "The second slice is still warm.",
            "tags": ["breakfast", "preserve"],
            "leanings": {"order": 1, "edges": 1},
            "use": "feed",
        },
    )


def _article() -> dict[str, Any]:
    """One flat tin for a catalogue, straight from above on white. Planted: 6 mm off the middle, 1.2 degrees off square."""
    white = {
        "name": "white paper",
        "width": 900,
        "depth": 700,
        "height_above_floor": 740,
        "colours": [{"hex": "#f4f3f0", "share": 1}],
        "finish": "matte",
    }
    label = {"id": "label", "name": "label", "at": [0, 0, 46], "facing": [0, 0, 1], "width": 90, "height": 56}
    tin = {**prop_value(starter_prop("tea-tin-flat")), "features": [label]}
    tin.pop("id")
    return _scene(
        "Flat tin, range picture",
        white,
        [_at("tin", "flat-tin", 456, 350, 1.2, "hero")],
        [
            {
                "name": "article",
                "camera": _camera([450, 350, 23], 700, 90, 11),
                "deliverables": [{"name": "shop", "ratio": "1:1", "pixels": [2000, 2000]}],
            }
        ],
        props={"flat-tin": tin},
        brief={"use": "catalogue", "tags": ["tea"], "leanings": {"order": -1}, "must_show": [{"placement": "tin", "feature": "label"}]},
    )


def _seeds() -> dict[str, Any]:
    """A cut fig close, on its leaf. Planted: f/8 holds a third of it only. Not faults: the leaf under it, the honey dipper soft behind."""
    placements = [
        _at("leaf", "fig-leaf", 450, 300, 30, "filler"),
        _at("fig", "cut-fig", 448, 298, 0, "hero", z=2, on="leaf"),
        _at("almonds", "almonds", 530, 330, 20, "scatter"),
        _at("dipper", "honey-dipper", 420, 420, 12, "linear"),
    ]
    cut = {**prop_value(starter_prop("cut-fig"))}
    cut.pop("id")
    cut["features"] = [{"id": "seeds", "name": "seeds", "at": [0, 0, 26], "facing": [0, 0, 1], "width": 40, "height": 40}]
    return _scene(
        "Seeds",
        "rose-clay tiles",
        placements,
        [
            {
                "name": "close",
                "camera": _camera([448, 300, 20], 360, 52, 8, lens=CLOSE_UP),
                "deliverables": [{"name": "square", "ratio": "1:1", "pixels": [1600, 1600]}],
            }
        ],
        backdrop={"kind": "upright", "y": 900, "x": 450, "width": 1400, "height": 900, "colour": "#39484a"},
        props={"cut-fig": cut},
        brief={"use": "close detail", "tags": ["fig"], "must_show": [{"placement": "fig", "feature": "seeds"}]},
    )


def _pouring() -> dict[str, Any]:
    """Tea poured at a low angle. Planted: a tin that leans 40 degrees on nothing, and a mug's label turned from the lens. Not faults: the pot is
    tilted in the air, held by a hand, over the mug; the lighter saucer carries the mug."""
    mug = {**prop_value(starter_prop("mug"))}
    mug.pop("id")
    mug["features"] = [{"id": "mark", "name": "maker's mark", "at": [0, -42, 46], "facing": [0, -1, 0], "width": 26, "height": 20}]
    placements = [
        _at("saucer", "saucer", 600, 420),
        _at("mug", "mug-marked", 600, 420, 115, "hero", z=3.6, on="saucer"),
        _at("pot", "glass-pot", 690, 430, 0, "support", z=150, lean=58, lean_toward=180, held_by="hand"),
        _at("tin", "tea-tin-black", 380, 560, 0, "support", lean=40, lean_toward=180),
        _at("caddy", "tea-caddy", 830, 580),
        _at("leaves", "green-leaf", 480, 350, 10, "scatter"),
        _at("spoon", "tea-spoon", 440, 430, 160, "linear"),
    ]
    return _scene(
        "Second cup",
        "limestone",
        placements,
        [
            {
                "name": "pour",
                "camera": _camera([600, 430, 100], 1000, 16, 11),
                "deliverables": [{"name": "page", "ratio": "3:2", "pixels": [1800, 1200]}],
            }
        ],
        backdrop={"kind": "sweep", "y": 900, "x": 600, "width": 1350, "height": 1100, "colour": "#8b8f8c"},
        props={"mug-marked": mug},
        brief={
            "story": "Somebody stays for another.",
            "tags": ["tea"],
            "use": "feed",
            "must_show": [{"placement": "mug", "feature": "mark"}],
        },
    )


def _hanging() -> dict[str, Any]:
    """Smoked fish hung to dry, at eye level. Planted: a sprig in the air that nothing holds; a backdrop too narrow at both sides. Not faults:
    two fishes on threads; the rope under the lantern."""
    placements = [
        _at("fish-1", "smoked-fish", 490, 600, 90, "hero", z=160, lean=90, lean_toward=270, held_by="thread"),
        _at("fish-2", "smoked-fish-small", 660, 650, 90, "support", z=220, lean=90, lean_toward=270, held_by="thread"),
        _at("sprig", "thyme", 790, 610, 60, "linear", z=250),
        _at("rope", "rope-coil", 800, 690),
        _at("crate", "fish-slate", 420, 700, 6),
        _at("salt", "salt-cellar", 420, 700, 0, "accent", z=8, on="crate"),
    ]
    return _scene(
        "Hung at the door",
        "walnut boards",
        placements,
        [
            {
                "name": "door",
                "camera": _camera([570, 610, 235], 1150, 4, 11),
                "deliverables": [{"name": "feed", "ratio": "1:1", "pixels": [1080, 1080]}],
            }
        ],
        backdrop={"kind": "upright", "y": 800, "x": 560, "width": 640, "height": 1200, "colour": "#c9c6bd"},
        brief={
            "story": "Smoke in the beams since Tuesday.",
            "tags": ["supper", "fish", "harbour"],
            "use": "menu",
            "leanings": {"shadow": 1},
        },
    )


def _row() -> dict[str, Any]:
    """A range of three at one scale. Planted: one gap 12 mm wider than the other, so the outer margins differ too. Not faults: the same jar in three
    colours; two of them lighter than the one in the middle."""
    placements = [
        _at("lime", "lime-jar", 300, 480),
        _at("orange", "marmalade-jar", 420, 480, 0, "hero"),
        _at("plum", "plum-jar", 552, 480),
    ]
    plum = {**prop_value(starter_prop("marmalade-jar")), "name": "plum jam jar"}
    plum.pop("id")
    plum["colours"] = [{"hex": "#4a2138", "share": 0.7}, {"hex": "#efe3c8", "share": 0.2}, {"hex": "#c9a24e", "share": 0.1}]
    return _scene(
        "Three jars, range picture",
        {
            "name": "white sweep",
            "width": 840,
            "depth": 700,
            "height_above_floor": 740,
            "colours": [{"hex": "#efeeea", "share": 1}],
            "finish": "matte",
        },
        placements,
        [
            {
                "name": "range",
                "camera": _camera([420, 480, 47], 800, 8, 11),
                "deliverables": [{"name": "shop", "ratio": "3:2", "pixels": [2400, 1600]}],
            }
        ],
        backdrop={"kind": "sweep", "y": 700, "x": 420, "width": 1400, "height": 1100, "colour": "#efeeea"},
        props={"plum-jar": plum},
        brief={"use": "catalogue", "tags": ["preserve"], "leanings": {"order": -1, "likeness": -1}},
    )


_MADE = {"breakfast": _breakfast, "article": _article, "seeds": _seeds, "pouring": _pouring, "hanging": _hanging, "row": _row}
NAMES = ("marmalade", "supper", "tea", "fig", *_MADE)


def judged_scene(name: str) -> Scene:
    """The scene of that name."""
    return scene_from_value(_MADE[name]()) if name in _MADE else starter(name)


@dataclass(frozen=True)
class Score:
    """hits, misses: of what is wanted; false_alarms: what was said and neither wanted nor allowed, repeats of what was said included."""

    hits: tuple[str, ...]
    misses: tuple[str, ...]
    false_alarms: tuple[str, ...]


def _answers(wish: dict[str, Any], found: Finding) -> bool:
    return found.code == wish["code"] and set(wish.get("who", ())) <= set(found.placements)


def score(name: str) -> Score:
    """What the judgements say of the scene against what is wanted of it."""
    scene, wished = judged_scene(name), json.loads(WANTED.read_text())[name]
    hits, misses, alarms = [], [], []
    for setup in scene.setups:
        said, wishes = list(findings(Picture(scene, setup))), wished[setup.name]
        for wish in wishes["wanted"]:
            match = next((f for f in said if _answers(wish, f)), None)
            words = f"{name}/{setup.name}: {wish['code']} {', '.join(wish.get('who', ()))}"
            (misses if match is None else hits).append(words)
            if match is not None:
                said.remove(match)
        told: set[str] = set()
        for found in said:
            allowed = next((k for k, wish in enumerate(wishes["may"]) if _answers(wish, found)), None)
            key = f"{found.code} {allowed}"
            if allowed is None or key in told:
                alarms.append(f"{name}/{setup.name}: {found.code} {', '.join(found.placements)} ({found.crop}, {found.measure:g})")
            told.add(key)
    return Score(tuple(hits), tuple(misses), tuple(alarms))
