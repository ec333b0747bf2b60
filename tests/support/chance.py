"""Whole tables drawn by chance, so varied that every finding and every maker of remedies has its turn; the same for the same seed."""

from __future__ import annotations

import math
import random
from typing import Any

from tests.support.scenes import SENSORS, camera_value

_COLOURS = ("#c9641b", "#e9dcc4", "#4b5052", "#f4f2ec", "#1c1c1c", "#5d7d46", "#b22a26", "#3f6a9a", "#d9762a", "#8b8f8c", "#a87e52")
_TEXTURES = ("smooth", "smooth", "labelled", "lidded", "grained", "glazed", "woven", "ribbed")
_FINISHES = ("matte", "matte", "satin", "gloss", "metal", "glass")
_TAGS = ("orange", "winter", "preserve", "harbour", "tea", "fig")
_RATIOS = ("4:5", "1:1", "9:16", "16:9", "3:2", None)


def _shape(hand: random.Random) -> dict[str, Any]:
    def size(low: float, high: float) -> float:
        return round(hand.uniform(low, high), 1)

    across, high = size(30, 160), size(5, 190)
    return hand.choice(
        [
            {"kind": "cylinder", "diameter": across, "height": high}, {"kind": "cylinder", "diameter": size(50, 90), "height": size(60, 130)},
            {"kind": "box", "width": size(40, 240), "depth": size(30, 160), "height": size(8, 120)},
            {"kind": "bowl", "diameter": size(90, 230), "base_diameter": size(30, 80), "height": size(12, 90)},
            {"kind": "bottle", "diameter": size(50, 90), "height": size(180, 300), "neck_diameter": size(20, 40), "neck_height": size(40, 120)},
            {"kind": "cone", "base_diameter": size(30, 80), "top_diameter": size(30, 90), "height": size(40, 110)},
            {"kind": "sphere", "diameter": size(20, 90)}, {"kind": "ellipse", "width": size(60, 190), "depth": size(40, 90), "height": size(10, 60)},
            {"kind": "rod", "length": size(110, 240), "width": size(6, 24), "height": size(3, 9)},
            {"kind": "outline", "points": [[-60, -18], [0, -30], [64, 2], [8, 33], [-22, 6]], "height": size(3, 30)},
            {"kind": "cloth", "width": size(160, 420), "depth": size(120, 300), "thickness": 1.6},
            {"kind": "scatter", "width": size(60, 200), "depth": size(40, 120), "piece_diameter": size(3, 9), "pieces": hand.randint(3, 24), "seed": hand.randint(0, 99)},
        ]
    )  # fmt: skip


def _prop(hand: random.Random, k: int) -> dict[str, Any]:
    tones = hand.sample(_COLOURS, hand.randint(1, 3))
    shares = {1: [1.0], 2: [0.7, 0.3], 3: [0.6, 0.3, 0.1]}[len(tones)]
    return {
        "id": f"a{k}",
        "name": f"thing {k}",
        "shape": _shape(hand),
        "colours": [{"hex": h, "share": s} for h, s in zip(tones, shares, strict=True)],
        "finish": hand.choice(_FINISHES),
        "texture": hand.choice(_TEXTURES),
        "tags": hand.sample(_TAGS, hand.randint(0, 2)),
    }


def _all_alike(hand: random.Random, props: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """One thing in several sizes: what a set is when nothing in it wakes it."""
    shape, finish = {"kind": "cylinder", "diameter": 64.0, "height": 70.0}, hand.choice(["gloss", "glass", "matte"])
    sizes = [hand.choice([1.0, 1.0, 1.15, 1.4, 1.85]) for _ in props]
    return [
        {
            **p,
            "name": f"{k} cup",
            "shape": {**shape, **{k: round(shape[k] * s, 1) for k in ("diameter", "height")}},
            "finish": finish,
            "texture": "smooth",
            "tags": ["cup"],
        }
        for k, (p, s) in enumerate(zip(props, sizes, strict=True))
    ]


def _placement(hand: random.Random, k: int, kind: str, spread: float) -> dict[str, Any]:
    role = {"cloth": "cloth", "scatter": "scatter", "rod": "linear"}.get(kind) or hand.choice(["support", "support", "accent", "filler"])
    leans = hand.random() < 0.15
    return {
        "id": f"p{k}",
        "prop": f"a{k}",
        "x": round(450 + hand.uniform(-430, 430) * spread, 1),
        "y": round(300 + hand.uniform(-290, 290) * spread, 1),
        "z": round(hand.uniform(0, 60), 1) if hand.random() < 0.12 else 0,
        "turn": round(hand.uniform(-180, 180), 1),
        "lean": round(hand.uniform(2, 50), 1) if leans else 0,
        "lean_toward": round(hand.uniform(0, 360), 1) if leans else 0,
        "role": role,
        "held_by": hand.choice([None, "tape", "riser"]) if leans else None,
        "locked": hand.random() < 0.1,
    }


def _copy_space(hand: random.Random) -> dict[str, Any] | None:
    if hand.random() < 0.35:
        return None
    if hand.random() < 0.25:
        left, top = round(hand.uniform(0.05, 0.4), 3), round(hand.uniform(0.05, 0.4), 3)
        return {"rect": [left, top, left + 0.4, top + 0.3]}
    return {"side": hand.choice(["top", "bottom", "left", "right"]), "share": round(hand.uniform(0.12, 0.35), 3)}


def _deliverable(hand: random.Random, k: int) -> dict[str, Any]:
    ratio = hand.choice(_RATIOS)
    found: dict[str, Any] = {"name": f"use {k}", "scale": round(hand.uniform(0.45, 1.0), 3), "copy_space": _copy_space(hand)}
    found |= {"pixels": [1200, hand.choice([900, 1500, 2100])]} if ratio is None else {"ratio": ratio}
    return found


def _lens(hand: random.Random) -> dict[str, Any]:
    focal = hand.choice([24, 35, 50, 60, 85, 100])
    lens: dict[str, Any] = {"focal_length": focal, "max_aperture": 1.8, "min_aperture": 22, "min_focus": None}
    kind = hand.random()
    if kind < 0.3:
        lens["min_focus"] = round(focal * hand.uniform(5, 26))
    elif kind < 0.5:
        lens |= {"min_focus": round(focal * 3.4), "max_magnification": 1.0}
    elif kind < 0.65:
        lens |= {"min_focus": round(focal * 6), "extension": hand.choice([12, 25])}
    return lens | ({"pupil_ratio": hand.choice([0.7, 1.4])} if hand.random() < 0.3 else {})


def _camera(hand: random.Random) -> dict[str, Any]:
    lens = _lens(hand)
    wide = SENSORS[size := hand.choice(["full", "full", "aps", "four-thirds"])]["width"]
    distance = round(hand.uniform(500, 1000) / wide * lens["focal_length"] * hand.uniform(0.8, 1.6))
    focus = {"point": [round(hand.uniform(300, 600)), round(hand.uniform(200, 400)), round(hand.uniform(0, 80))]}
    return camera_value(
        sensor=SENSORS[size],
        orientation=hand.choice(["landscape", "landscape", "portrait"]),
        lens=lens,
        aperture=hand.choice([2.0, 2.8, 4, 5.6, 8, 11]),
        aim=[round(hand.uniform(300, 600), 1), round(hand.uniform(180, 420), 1), round(hand.uniform(0, 60), 1)],
        distance=max(distance, 300),
        elevation=hand.choice([90, 90, 75, 60, 44, 30, 18, 8, 2]),
        azimuth=round(hand.uniform(-40, 40), 1) if hand.random() < 0.5 else 0,
        roll=round(hand.uniform(-6, 6), 1) if hand.random() < 0.2 else 0,
        focus=focus if hand.random() < 0.25 else None,
    )


def table_value(seed: int) -> dict[str, Any]:
    """A scene document by chance."""
    hand = random.Random(seed)
    props = [_prop(hand, k) for k in range(hand.randint(3, 11))]
    if hand.random() < 0.25:
        props = _all_alike(hand, props)
    spread = hand.choice([0.35, 0.6, 1.0])
    placements = [_placement(hand, k, p["shape"]["kind"], spread) for k, p in enumerate(props)]
    for k in hand.sample(range(len(props)), hand.choice([0, 1, 1, 1, 1, 2])):
        placements[k]["role"] = "hero"
    board = next((p for p, q in zip(placements, props, strict=True) if q["shape"]["kind"] == "box"), None)
    if board is not None and len(placements) > 3 and not board["lean"]:
        load = next(p for p in placements if p is not board)
        load |= {
            "x": board["x"] + 5,
            "y": board["y"] - 4,
            "z": board["z"] + props[int(board["id"][1:])]["shape"]["height"],
            "on": board["id"],
        }
    leanings = {
        name: round(hand.uniform(-1, 1), 2)
        for name in ("spacing", "palette", "shadow", "focus", "likeness", "edges")
        if hand.random() < 0.4
    }
    setups = [{"name": "main", "camera": _camera(hand), "deliverables": [_deliverable(hand, k) for k in range(hand.randint(0, 3))]}]
    if hand.random() < 0.35:
        setups.append({"name": "second", "camera": _camera(hand), "deliverables": [_deliverable(hand, 0)], "hidden": [placements[0]["id"]]})
        setups[1]["differs"] = {placements[1]["id"]: {"x": round(hand.uniform(100, 800), 1)}}
    accent = hand.choice(props)["colours"][0]["hex"]
    wanted = (*hand.sample([c for c in _COLOURS if c != accent], 2), accent)
    palette = [
        {"hex": h, "part": part, "share": s}
        for h, part, s in zip(wanted, ("base", "second", "accent"), (0.6, 0.3, hand.choice([0.1, 0.02])), strict=True)
    ]
    brief = {"tags": hand.sample(_TAGS, 2) if hand.random() < 0.6 else [], "leanings": leanings}
    if seed % 4 == 0:  # the catalogue school: a range of three
        brief["use"] = "catalogue"
    if seed % 8 == 0 and len(props) > 2:
        for k, (prop, placed) in enumerate(zip(props[:3], placements[:3], strict=True)):
            prop["shape"] = {"kind": "box", "width": 60, "depth": 60, "height": 80}
            placed |= {"x": 330 + 110 * k + 5 * (k == 1), "y": 300, "z": 0, "lean": 0, "turn": 2 * k, "role": "hero" if k == 0 else "support"}
        for placed in placements[3:]:
            placed["role"] = "filler"
    if seed % 8 == 4:  # one article, a little off the middle
        for placed in placements:
            placed["role"] = "filler"
        placements[0] |= {"role": "hero", "x": setups[0]["camera"]["aim"][0] + 14, "y": setups[0]["camera"]["aim"][1], "z": 0}
    if seed % 5 == 0:
        placements[-1] |= {"lean": 70, "z": 0, "on": None, "held_by": None}
    if seed % 3 == 0:
        for prop in props[:3]:
            side = hand.choice([(0, -30, 40, 0, -1, 0), (0, 0, 60, 0, 0, 1), (30, 0, 40, 1, 0, 0)])
            prop["features"] = [{"id": "mark", "name": "mark", "at": side[:3], "facing": side[3:], "width": 24, "height": hand.choice([8, 24])}]
        brief["must_show"] = [{"placement": p["id"], "feature": "mark"} for p in placements[:3]]
    scheme = None
    if seed % 6 == 1:
        scheme = {"kind": ("crescent", "triangle", "diagonal", "squared", "centre", "off-centre")[seed // 6 % 6]}
    if seed % 6 == 2:  # a loose picture with lines that run alike
        leanings["order"] = 0.6
        for k, (prop, placed) in enumerate(zip(props[1:3], placements[1:3], strict=False)):
            prop["shape"] = {"kind": "rod", "length": 140, "width": 10, "height": 4}
            placed |= {"role": "linear", "turn": 20 + 4 * k, "lean": 0, "z": 0, "on": None, "held_by": None}
    if seed % 12 == 7:  # more than a flat lay holds, on a ring
        is_even = seed % 24 == 7
        for placed in placements if is_even else ():
            placed["role"] = "filler"
        for k in range(12):
            wide = 40 if is_even else 20 + 3 * k
            tone = "#f4f2ec" if k % 4 < 2 else "#1c1c1c"
            shape = {"kind": "cylinder", "diameter": wide, "height": 8}
            props.append({"id": f"n{k}", "name": f"dish {k}", "shape": shape, "colours": [{"hex": tone, "share": 1}]})
            placements.append({"id": f"m{k}", "prop": f"n{k}", "x": 330 + 75 * (k % 4), "y": 225 + 75 * (k // 4), "role": "support"})
        leanings |= {"order": 0.6, "spacing": 0.0} if is_even else {}
        setups[0]["camera"] |= {"elevation": 90, "aim": [450, 300, 0], "distance": 1200}
        setups[0]["camera"]["lens"] = {"focal_length": 50, "max_aperture": 1.8, "min_aperture": 22, "min_focus": None}
    if seed % 9 == 4:  # a camera not quite plumb, by hand, a crop that is blown up, and something that moves
        setups[0]["camera"] |= {"elevation": 88, "roll": 1.5, "aperture": 18}
        setups[0]["deliverables"].append({"name": "print", "pixels": [6400, 8000]})
        setups[0]["exposure"] = {"iso": 100, "time_s": 0.25, "handheld": True}
        placements[0]["motion"] = {"speed": 900, "toward": [1, 0, 0]}
    if seed % 13 == 10:  # a moving picture with a rim, exposed for too long, by a flash now and then; the camera on what does not reach
        moving = {"width": 16.0, "height": 9.0, "pixels_wide": 3840, "pixels_high": 2160}
        setups[0]["camera"]["sensor"] = {**setups[0]["camera"]["sensor"], "moving": moving}
        setups[0]["deliverables"] = [{"name": "film", "ratio": "16:9", "moves": 25, "scale": 0.9, "bleed": 0.02, "safe": 0.06}]
        setups[0]["exposure"] = {"iso": 100, "time_s": 0.1, "flash": seed % 26 == 10}
        if is_wide := seed % 26 == 23:  # seen past the table's edges
            setups[0]["camera"] |= {"elevation": 90, "aim": [450, 300, 0], "distance": 1500, "roll": 0, "focus": None}
            setups[0]["camera"]["lens"] = {"focal_length": 24, "max_aperture": 1.8, "min_aperture": 22, "min_focus": None}
        setups[0]["support"] = {"name": "legs", "kind": hand.choice(["tripod", "column"]), "lowest": 400, "highest": 2600 if is_wide else 1400, "inverts": True}
    if seed % 11 == 5:  # near, low and wide
        setups[0]["camera"] |= {"elevation": 6, "azimuth": 0, "roll": 0, "aim": [450, 300, 60], "distance": 620, "focus": None}
        setups[0]["camera"]["lens"] = {"focal_length": 24, "max_aperture": 1.8, "min_aperture": 22, "min_focus": None}
    if seed % 7 == 0:
        setups[0]["camera"].setdefault("lens", {})["image_circle"] = 30
    light: dict[str, Any] = {}
    if seed % 5 == 3:
        light = _light(hand, seed // 5 % 11, setups[0]["camera"], placements)
        leanings |= {"shadow": -0.8} if seed // 5 % 11 == 4 else {}
        if seed // 5 % 11 == 8:  # a large blade, which mirrors nothing bright
            props.append({"id": "blade", "name": "cleaver", "shape": {"kind": "box", "width": 300, "depth": 160, "height": 3}, "colours": [{"hex": "#9fa4a6", "share": 1}], "finish": "metal"})
            placements.append({"id": "blade", "prop": "blade", "x": 450, "y": 300, "z": 0, "role": "support"})
    return {
        "format": "tideflat-scene",
        "version": 1,
        "title": f"Table {seed}",
        "brief": brief,
        "surface": {"name": "slate", "width": hand.choice([900, 1100, 700]), "depth": hand.choice([600, 800]), "height_above_floor": 740, "colours": [{"hex": hand.choice(_COLOURS), "share": 1.0}]},
        "backdrop": {"y": 600, "x": round(hand.uniform(380, 520)), "width": hand.choice([600, 1200]), "height": hand.choice([400, 900])} if hand.random() < 0.6 else None,
        "room": {"ceiling_height": hand.choice([1700, 2100, 2400, 3200])} if hand.random() < 0.6 else None,
        "palette": {"colours": palette} if hand.random() < 0.6 else None,
        "props": props,
        "placements": placements,
        "setups": setups,
        **({} if scheme is None else {"scheme": scheme}),
        **light,
    }  # fmt: skip


def _light(hand: random.Random, kind: int, camera: dict[str, Any], placements: list[dict[str, Any]]) -> dict[str, Any]:
    """From beside the lens; low, behind what stands there; over an overhead camera; two colours and near; hard; into the ceiling; close over one
    thing; at the backdrop; a sun that has set; across a diagonal; or in the picture."""
    lamp = {"id": "lamp", "kind": "lamp", "width": 200, "height": 200, "at": [-300, 900, 700], "toward": [1, -0.8, -0.9]}
    if kind == 0:
        a, e = (math.radians(float(camera.get(key, 0))) for key in ("azimuth", "elevation"))
        x, y, z = (float(v) for v in camera["aim"])
        at = [round(x + 900 * math.sin(a + 0.2) * math.cos(e), 1), round(y - 900 * math.cos(a + 0.2) * math.cos(e), 1), round(z + 900 * math.sin(e) + 30, 1)]
        return {"lights": [{**lamp, "at": at, "toward": [x - at[0], y - at[1], z - at[2]]}]}
    if kind == 1:
        way = hand.uniform(0, 6.28)
        at = [round(450 + 900 * math.cos(way)), round(300 + 900 * math.sin(way)), 130]
        return {"lights": [{**lamp, "at": at, "toward": [450 - at[0], 300 - at[1], -60]}]}
    if kind == 2:
        camera |= {"elevation": 90, "aim": [450, 300, 0]}
        return {"lights": [{**lamp, "at": [450, 300, float(camera["distance"]) + 900], "toward": [0, 0, -1], "width": 120, "height": 120}]}
    if kind == 3:
        return {"lights": [{**lamp, "at": [-60, 500, 300], "kelvin": 2900}, {**lamp, "id": "window", "kind": "window", "at": [1300, 300, 500], "toward": [-1, 0, -0.3], "width": 900, "height": 900, "kelvin": 6500}]}
    if kind == 4:
        return {"lights": [{**lamp, "width": 40, "height": 40, "at": [-700, 1100, 900]}, {"id": "room", "kind": "room", "stops": -2}]}
    if kind == 5:
        up = {**lamp, "id": "up", "at": [-400, 300, 300], "toward": [0.1, 0, 1], "width": 300, "height": 300}
        return {"lights": [up, {**lamp, "stops": -4}], "room": {"ceiling_height": 2200, "walls": "#ffffff"}}
    if kind == 6:
        camera["distance"] = 0.75 * float(camera["distance"])
        under = next((p for p in reversed(placements) if p.get("role") == "support"), placements[-1])
        return {"lights": [{**lamp, "at": [under["x"], under["y"], 260], "toward": [0, 0, -1], "width": 60, "height": 60}]}
    if kind == 7:
        camera |= {"elevation": 10, "azimuth": 0, "roll": 0}
        placements[0]["role"] = "hero"
        return {"lights": [{**lamp, "at": [-150, 350, 420], "toward": [0.5, 1, -0.1], "width": 100, "height": 100}], "backdrop": {"y": 700, "x": 450, "width": 2400, "height": 1200}}
    if kind == 8:
        sun = {"id": "sun", "kind": "sun", "latitude": 52.0, "longitude": 0.0, "time": "2026-03-20T23:00:00+00:00"}
        return {"lights": [lamp, sun], "room": {"ceiling_height": 2600, "walls": "#ffffff", "north": 0}}
    if kind == 9:
        camera |= {"elevation": 90, "azimuth": 0, "roll": 0, "aim": [450, 300, 0]}
        return {"lights": [{**lamp, "at": [700, 1300, 500], "toward": [-0.35, -1, -0.4]}], "scheme": {"kind": "diagonal", "from": "top-left"}}
    x, y, _ = camera["aim"]
    card = {"id": "card", "kind": "white", "at": [x + 180, y + 60, 60], "toward": [-1, 0, 0], "width": 160, "height": 120}
    return {"lights": [lamp], "cards": [card], "rig": [{"id": "flag", "kind": "flag", "at": [x - 190, y + 40, 0], "toward": [1, 0, 0], "width": 120, "depth": 8, "height": 90}]}
