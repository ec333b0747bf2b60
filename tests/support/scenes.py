"""Named scenes that many tests share: plain, full, empty and impossible ones."""

from __future__ import annotations

import copy
import json
from typing import Any

from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Scene

SENSORS = {
    "full": {"width": 36.0, "height": 24.0, "pixels_wide": 6000, "pixels_high": 4000},
    "aps": {"width": 23.5, "height": 15.6, "pixels_wide": 6000, "pixels_high": 4000},
    "four-thirds": {"width": 17.3, "height": 13.0, "pixels_wide": 5184, "pixels_high": 3888},
    "phone": {"width": 9.8, "height": 7.3, "pixels_wide": 4032, "pixels_high": 3024},
}


def camera_value(**changes: Any) -> dict[str, Any]:
    """A camera object of the document: full frame, 50 mm, overhead at 1100 mm."""
    lens = {
        "focal_length": 50,
        "max_aperture": 1.8,
        "min_aperture": 22,
        "min_focus": 450,
        "max_magnification": None,
        "extension": 0,
        "pupil_ratio": 1.0,
        "measured": None,
        **changes.pop("lens", {}),
    }
    camera = {
        "sensor": SENSORS["full"],
        "orientation": "landscape",
        "lens": lens,
        "aperture": 5.6,
        "aim": [450, 300, 0],
        "distance": 1100,
        "elevation": 90,
        "azimuth": 0,
        "roll": 0,
        "focus": None,
        "circle_of_confusion": None,
    }
    return {**camera, **changes}


def scene_value(**camera: Any) -> dict[str, Any]:
    """A marmalade jar with companions on slate: every shape kind but one in use."""
    return {
        "format": "tideflat-scene",
        "version": 1,
        "title": "Marmalade morning",
        "surface": {
            "name": "slate",
            "width": 900,
            "depth": 600,
            "height_above_floor": 740,
            "colours": [{"hex": "#4b5052", "share": 1.0}],
            "finish": "matte",
            "lines": {"direction": 0, "pitch": 120},
        },
        "backdrop": {"kind": "upright", "y": 600, "x": 450, "width": 900, "height": 600, "colour": "#8b8f8c"},
        "room": {"ceiling_height": 2400, "walls": "#efeeea"},
        "props": [
            {"id": "jar", "name": "jar", "shape": {"kind": "cylinder", "diameter": 76, "height": 95}, "finish": "glass"},
            {"id": "board", "name": "board", "shape": {"kind": "box", "width": 260, "depth": 180, "height": 18}},
            {"id": "bowl", "name": "bowl", "shape": {"kind": "bowl", "diameter": 150, "base_diameter": 70, "height": 60}},
            {
                "id": "bottle",
                "name": "bottle",
                "shape": {"kind": "bottle", "diameter": 70, "height": 240, "neck_diameter": 28, "neck_height": 90},
            },
            {"id": "orange", "name": "orange", "shape": {"kind": "sphere", "diameter": 74}},
            {"id": "spoon", "name": "spoon", "shape": {"kind": "rod", "length": 150, "width": 12, "height": 6}},
            {"id": "cup", "name": "cup", "shape": {"kind": "cone", "base_diameter": 50, "top_diameter": 80, "height": 70}},
            {"id": "dish", "name": "dish", "shape": {"kind": "ellipse", "width": 140, "depth": 90, "height": 25}},
            {
                "id": "leaf",
                "name": "leaf",
                "shape": {"kind": "outline", "points": [[-40, -12], [0, -20], [40, 0], [0, 20], [-10, 4]], "height": 5},
            },
            {
                "id": "peel",
                "name": "peel",
                "shape": {"kind": "scatter", "width": 120, "depth": 80, "piece_diameter": 8, "pieces": 20, "seed": 4},
            },
        ],
        "placements": [
            {"id": "p1", "prop": "jar", "x": 430, "y": 310, "role": "hero"},
            {"id": "p2", "prop": "board", "x": 200, "y": 300, "turn": 20},
            {"id": "p3", "prop": "bowl", "x": 640, "y": 400},
            {"id": "p4", "prop": "bottle", "x": 560, "y": 190, "turn": 10, "lean": 12, "lean_toward": 70, "held_by": "tape"},
            {"id": "p5", "prop": "orange", "x": 330, "y": 440},
            {"id": "p6", "prop": "spoon", "x": 700, "y": 220, "turn": -35, "role": "linear"},
            {"id": "p7", "prop": "cup", "x": 330, "y": 170},
            {"id": "p8", "prop": "dish", "x": 480, "y": 480, "turn": 15},
            {"id": "p9", "prop": "leaf", "x": 180, "y": 320, "z": 18, "on": "p2", "role": "filler"},
            {"id": "p10", "prop": "peel", "x": 450, "y": 100, "role": "scatter"},
        ],
        "setups": [
            {
                "name": "main",
                "camera": camera_value(**camera),
                "deliverables": [{"name": "feed", "ratio": "4:5", "pixels": [1080, 1350], "copy_space": {"side": "top", "share": 0.2}}],
            }
        ],
    }


def bare_value(**camera: Any) -> dict[str, Any]:
    """The jar alone, no deliverables."""
    value = scene_value(**camera)
    value["props"], value["placements"] = value["props"][:1], value["placements"][:1]
    value["setups"][0]["deliverables"] = []
    return value


def scene(value: dict[str, Any] | None = None, **camera: Any) -> Scene:
    return scene_from_value(copy.deepcopy(value) if value is not None else scene_value(**camera))


def picture(value: dict[str, Any] | None = None, **camera: Any) -> Picture:
    read = scene(value, **camera)
    return Picture(read, read.setups[0])


def raw(value: dict[str, Any]) -> bytes:
    return json.dumps(value).encode()


def crowded_value(count: int = 30, **camera: Any) -> dict[str, Any]:
    """``count`` placements in uneven rows, for benchmarks and the browser."""
    value = scene_value(**camera)
    kinds = [p["id"] for p in value["props"]]
    value["placements"] = [
        {
            "id": f"q{i}",
            "prop": kinds[i % len(kinds)],
            "x": 90 + 145 * (i % 6) + 9 * (i % 4),
            "y": 70 + 110 * (i // 6) + 7 * (i % 3),
            "turn": 37 * i % 180,
            "role": "hero" if i == 14 else ("scatter" if kinds[i % len(kinds)] == "peel" else "support"),
        }
        for i in range(count)
    ]
    return value
