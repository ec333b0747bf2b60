"""Scenes with set-ups that differ, and any act on them, drawn by chance for tests of what holds whatever is done."""

from __future__ import annotations

import copy
import random
from typing import Any

from tests.support.scenes import camera_value, scene_value
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import prop_value, surface_value
from tideflat.core.model import HOLDERS, LEANINGS, ROLES, Scene

LIGHTS: list[dict[str, Any]] = [
    {"id": "lamp", "kind": "lamp", "at": [100, 900, 700], "toward": [1, -1, -1], "width": 300, "height": 300},
    {"id": "window", "kind": "window", "at": [-900, 300, 500], "toward": [1, 0, 0], "width": 900, "height": 1200, "cover": "sheer"},
    {"id": "room-light", "kind": "room", "stops": -1},
]
CARD = {"id": "card", "kind": "white", "at": [900, 200, 200], "toward": [-1, 0, 0], "width": 300, "height": 400}
RIG = {"id": "stand", "kind": "stand", "at": [1100, 500, -740], "toward": [-1, 0, 0], "width": 60, "depth": 60, "height": 1800}
SETUPS = ("main", "upright", "detail")


def stacked_value(**more: Any) -> dict[str, Any]:
    """A board that carries a dish that carries a spoon, a leaf beside it, and a jar; three set-ups, in which nothing differs yet."""
    value = scene_value()
    keep = {"board", "dish", "spoon", "leaf", "jar", "orange", "bowl"}
    value["props"] = [p for p in value["props"] if p["id"] in keep]
    value["placements"] = [
        {"id": "board", "prop": "board", "x": 300, "y": 300, "turn": 20},
        {"id": "dish", "prop": "dish", "x": 330, "y": 310, "z": 18, "turn": 5, "on": "board"},
        {
            "id": "spoon",
            "prop": "spoon",
            "x": 340,
            "y": 315,
            "z": 43,
            "turn": -30,
            "lean": 8,
            "lean_toward": 40,
            "on": "dish",
            "role": "linear",
        },
        {"id": "leaf", "prop": "leaf", "x": 240, "y": 280, "z": 18, "on": "board", "role": "filler"},
        {"id": "jar", "prop": "jar", "x": 600, "y": 300, "role": "hero"},
        {"id": "orange", "prop": "orange", "x": 640, "y": 400},
        {"id": "bowl", "prop": "bowl", "x": 480, "y": 450},
    ]
    setups = [
        {"name": name, "camera": camera_value(), "deliverables": copy.deepcopy(value["setups"][0]["deliverables"])} for name in SETUPS
    ]
    value["setups"] = setups
    value.update(more)
    return value


def chance_scene(rng: random.Random) -> Scene:
    """The stacked table with things locked, grouped, hidden, swapped and otherwise here and there."""
    value = stacked_value()
    ids = [p["id"] for p in value["placements"]]
    for p in value["placements"]:
        p["locked"] = rng.random() < 0.06
    if rng.random() < 0.6:
        value["groups"] = [{"id": "g", "name": "together", "placements": rng.sample(ids, rng.randint(2, 3))}]
    for setup in value["setups"][1:]:
        differs = {}
        for i in rng.sample(ids, rng.randint(0, 3)):
            differs[i] = {key: some for key, some in _some_values(rng).items() if rng.random() < 0.4}
        setup["differs"] = {i: keys for i, keys in differs.items() if keys}
        setup["hidden"] = rng.sample(ids, rng.randint(0, 1))
        setup["swap"] = {rng.choice(ids): rng.choice(["jar", "bowl", "orange"])} if rng.random() < 0.4 else {}
        if rng.random() < 0.3:
            setup["surface"] = {"name": "oak", "width": 1000, "depth": 700}
    return scene_from_value(value)


def _some_values(rng: random.Random) -> dict[str, Any]:
    return {
        "x": rng.randint(100, 800),
        "y": rng.randint(100, 500),
        "z": rng.choice([0, 0, 18, 40]),
        "turn": rng.randint(-180, 180),
        "lean": rng.choice([0, 0, 12, 30]),
        "lean_toward": rng.randint(0, 360),
        "role": rng.choice(ROLES),
    }


def chance_act(rng: random.Random, scene: Scene) -> dict[str, Any]:
    """Any act there is, with arguments that are mostly good."""
    ids = [p.id for p in scene.placements] or ["nothing"]
    i, other = rng.choice(ids), rng.choice(ids)
    setup = rng.choice(scene.setups).name
    where: dict[str, Any] = rng.choice([{}, {"setup": setup}, {"setup": setup, "only": True}])
    some = _some_values(rng)
    prop = rng.choice([p.id for p in scene.props] or ["jar"])
    own = prop_value(scene.prop(prop)) if scene.props else "jar"
    of_thing = {"placement": i, **where}
    surface = surface_value(scene.surface)
    deliverables = [d.name for s in scene.setups if s.name == setup for d in s.deliverables] or ["feed"]
    some_ids = rng.sample(ids, min(len(ids), rng.randint(1, 4)))
    several: dict[str, Any] = {"placements": some_ids, **where}
    through = {"through": rng.choice(["frame", "table"])}
    colours = {"colours": [{"hex": "#c4621a", "part": "accent", "share": 0.2}]}
    acts: list[dict[str, Any]] = [
        {"act": "move", **of_thing, "x": some["x"], "y": some["y"]}, {"act": "move", **of_thing, "x": some["x"], "z": some["z"], "alone": rng.random() < 0.5},
        {"act": "turn", **of_thing, "turn": some["turn"]}, {"act": "lean", **of_thing, "lean": some["lean"], "lean_toward": some["lean_toward"]},
        {"act": "raise", **of_thing, "z": some["z"]}, {"act": "rest", **of_thing, "on": rng.choice([other, None])}, {"act": "role", **of_thing, "role": some["role"]},
        {"act": "role", **of_thing, "role": "hero"}, {"act": "hold", **of_thing, "held_by": rng.choice([*HOLDERS, None])}, {"act": "lock", "placement": i, "locked": rng.random() < 0.3},
        {"act": "duplicate", "placement": i}, {"act": "remove", "placement": i}, {"act": "hide", "placement": i, "setup": setup, "hidden": rng.random() < 0.6},
        {"act": "add", "prop": rng.choice([prop, own]), **where, **rng.choice([{}, {"x": some["x"], "y": some["y"]}])}, {"act": "swap", **of_thing, "prop": prop},
        {"act": "group", "name": "together", "placements": [i, other, rng.choice(ids)]}, {"act": "ungroup", "group": rng.choice([g.id for g in scene.groups] or ["g"])},
        {"act": "camera", "setup": setup, "elevation": rng.randint(5, 90), "azimuth": rng.randint(-40, 40)}, {"act": "camera", "setup": setup, "orientation": rng.choice(["portrait", "landscape"])},
        {"act": "preset", "setup": setup, "preset": rng.choice(["overhead", "diner", "eye"])}, {"act": "lens_height", "setup": setup, "height": rng.randint(700, 1500)},
        {"act": "pan", "setup": setup, "dx": rng.randint(-50, 50), "dy": rng.randint(-50, 50)}, {"act": "focus_on", "setup": setup, "placement": rng.choice([i, None])},
        {"act": "deliverable", "setup": setup, "name": rng.choice(["tall", "feed"]), "ratio": rng.choice(["9:16", "1:1"])}, {"act": "crop", "setup": setup, "name": rng.choice(deliverables), "centre": [rng.random(), rng.random()]},
        {"act": "details", "setup": setup, "placement": i}, {"act": "frame_all", "setup": setup, "aim": [450, 300, 0], "distance": 1150, "centres": [[rng.random(), 0.5]]}, {"act": "tilt", "setup": setup, "tilt": rng.choice([0, 3.5]), "toward": 270}, {"act": "exposure", "setup": setup, "exposure": rng.choice([None, {"iso": 200, "time_s": 0.02, "handheld": True}])}, {"act": "series", "setup": setup, "others": [s.name for s in scene.setups]}, {"act": "sequence", "setup": setup}, {"act": "support", "setup": setup, "support": rng.choice([None, {"name": "arm", "kind": "arm", "lowest": 500, "highest": 2000, "inverts": True, "reach": 600}])}, {"act": "motion", "placement": i, "motion": rng.choice([None, {"speed": 900, "toward": [0, 0, -1]}])},
        {"act": "remove_deliverable", "setup": setup, "name": rng.choice(deliverables)}, {"act": "add_setup", "setup": setup}, {"act": "rename_setup", "setup": setup, "name": rng.choice(["first light", "detail"])},
        {"act": "remove_setup", "setup": setup}, {"act": "give_back", "setup": setup, "placement": i}, {"act": "take_over", "setup": setup, "placement": i}, {"act": "give_back", "setup": setup}, {"act": "take_over", "setup": setup},
        {"act": "surface", **where, "surface": {**surface, "name": rng.choice(["slate", "oak"])}}, {"act": "backdrop", **where, "backdrop": rng.choice([None, {"y": 700, "x": 400, "width": 900, "height": 500}])},
        {"act": "place_backdrop", **where, "x": some["x"]}, {"act": "table_height", **where, "height_above_floor": 700}, {"act": "scheme", **where, "scheme": rng.choice([None, {"kind": "crescent", "opens": "left"}])},
        {"act": "light", **where, "light": rng.choice(LIGHTS)}, {"act": "card", **where, "card": CARD}, {"act": "rig", **where, "rig": RIG},
        {"act": "move_light", **where, "id": "lamp", "at": [some["x"], 900, 500]}, {"act": "move_light", **where, "list": "cards", "id": "card", "toward": [-1, 0.5, 0]},
        {"act": "remove_light", **where, "id": "lamp"}, {"act": "only_light", **where, "id": rng.choice(["lamp", None])}, {"act": "turn_set", "degrees": rng.choice([30, -90])}, {"act": "room_place", "north": 120}, {"act": "keep_shadow", "setup": setup, "time": rng.choice(["2026-06-21T10:20:00+02:00", "2026-06-21T17:45:00+02:00"])},
        {"act": "room", "ceiling_height": rng.choice([None, 2600])}, {"act": "title", "title": "Evening"}, {"act": "leaning", "leaning": rng.choice(LEANINGS), "value": rng.choice([-1, 0, 1])},
        {"act": "brief", "mood": "bright", "tags": ["orange"]}, {"act": "begin", "use": "feed", "story": "One line."}, {"act": "palette", "palette": rng.choice([None, colours])},
        {"act": "palette_from_subject", "setup": setup}, {"act": "palette_colour", "hex": "#536068"}, {"act": "remove_palette_colour", "at": 0},
        {"act": "mean", "setup": setup, "code": "spacing.tight", "placements": [i], "reason": "so it is"}, {"act": "reconsider", "setup": setup, "code": "spacing.tight", "placements": [i]},
        {"act": "name_feature", "placement": i, "feature": {"id": "label", "name": "label", "at": [0, -30, 40], "facing": [0, -1, 0], "width": 40, "height": 20}, "must_show": rng.random() < 0.5},
        {"act": "drop_feature", "placement": i, "feature": "label"}, {"act": "ask_feature", "placement": i, "feature": "label", "must_show": rng.random() < 0.5},
        {"act": "shift", **several, "dx": rng.randint(-90, 90), "dy": rng.randint(-90, 90)}, {"act": "spin", **several, "by": rng.randint(-180, 180)},
        {"act": "line_up", **several, **through}, {"act": "share_out", **several, **through, "what": rng.choice(["gaps", "middles"])}, {"act": "square_up", **several, **through},
        {"act": "mirror", **several, **through}, {"act": "face_lens", **several}, {"act": "turn_toward", **several, "at": rng.choice([None, *ids])},
        {"act": "lock_all", "placements": some_ids, "locked": rng.random() < 0.2}, {"act": "remove_all", "placements": some_ids}, {"act": "duplicate_all", "placements": some_ids},
        {"act": "let_go", **of_thing, "x": some["x"], "y": some["y"], "level": rng.random() < 0.2}, {"act": "let_go", **of_thing, "x": some["x"], "y": some["y"], "making_room": [{"placement": other, "x": rng.randint(50, 800), "y": rng.randint(50, 500)}]}, {"act": "guides", "setup": setup, "guides": [{"axis": "u", "at": rng.random()}]},
        {"act": "repeat", **of_thing, **through, "count": rng.randint(2, 5), "form": rng.choice(["line", "arc", "circle", "strewn"]), "step": rng.randint(20, 90), "turned": rng.random() < 0.5},
        {"act": "arrange", **several, "places": [{"x": rng.randint(50, 800), "y": rng.randint(50, 500), "turn": rng.randint(-90, 90)} for _ in some_ids], "scheme": rng.choice([None, "arc"])},
        {"act": "lay_dish", **of_thing, "way": rng.choice(["level", "heap", "crescent"]), "toward": rng.randint(-180, 180)},
        {"act": "lens", "setup": setup, "lens": {"focal_length": 85, "min_focus": 800, "max_aperture": 1.8}}, {"act": "body", "setup": setup, "sensor": {"width": 23.5, "height": 15.6}},
    ]  # fmt: skip
    return rng.choice(acts)
