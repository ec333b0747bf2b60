"""Scenes to be arranged: the demo's, and tables of so many things of every kind, from above and at 45 degrees."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np

from tests.support.scenes import scene_value
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Scene
from tideflat.web.scenes.starters import starter

_SHAPES = (
    {"kind": "bowl", "diameter": 230, "base_diameter": 150, "height": 28},
    {"kind": "cylinder", "diameter": 76, "height": 95},
    {"kind": "bowl", "diameter": 120, "base_diameter": 70, "height": 55},
    {"kind": "rod", "length": 200, "width": 22, "height": 6},
    {"kind": "sphere", "diameter": 72},
    {"kind": "box", "width": 150, "depth": 100, "height": 18},
    {"kind": "cylinder", "diameter": 64, "height": 70},
    {"kind": "ellipse", "width": 110, "depth": 60, "height": 22},
    {"kind": "sphere", "diameter": 50},
    {"kind": "rod", "length": 170, "width": 18, "height": 5},
)
_ROLES = ("hero", "support", "support", "linear", "accent", "support", "accent", "filler", "accent", "linear")


def table_of(count: int, elevation: float) -> Scene:
    """So many things on a grid, none in another, one hero among them; two crops, one with room for words."""
    value = scene_value()
    random = np.random.default_rng(count)
    colours = ["#536068", "#d9762a", "#a97a48", "#dcd7cb", "#5d7d46", "#8b2f2a"]
    value["surface"].update(width=1800, depth=1400)
    value["backdrop"] = None
    value["props"], value["placements"] = [], []
    for k in range(count):
        shape = dict(_SHAPES[k % len(_SHAPES)])
        shrink = 1.0 if k == 0 else float(random.uniform(0.7, 1.0))
        shape = {key: v if isinstance(v, str) else round(v * shrink, 1) for key, v in shape.items()}
        value["props"].append({"id": f"q{k}", "name": f"thing {k}", "shape": shape, "colours": [{"hex": colours[k % 6], "share": 1}]})
        role = _ROLES[k % len(_ROLES)] if k else "hero"
        place = {"x": 200 + 250 * (k % 6), "y": 180 + 190 * (k // 6)}
        value["placements"].append({"id": f"t{k}", "prop": f"q{k}", **place, "role": "support" if role == "hero" and k else role})
    value["groups"] = []
    away = {14: 1500, 24: 2000, 40: 2600}.get(count, 1500)
    camera = {**value["setups"][0]["camera"], "aim": [850, 600, 0], "distance": away, "elevation": elevation, "focus": None}
    feed = {"name": "feed", "ratio": "4:5", "pixels": [1080, 1350]}
    banner = {"name": "banner", "ratio": "16:9", "pixels": [1920, 1080], "copy_space": {"side": "right", "share": 0.2}}
    value["setups"] = [{"name": "main", "camera": camera, "deliverables": [feed, banner]}]
    return scene_from_value(value)


PROBLEMS: dict[str, Callable[[], Scene]] = {
    "marmalade": partial(starter, "marmalade"),
    "supper": partial(starter, "supper"),
    "tea": partial(starter, "tea"),
    "14 from above": partial(table_of, 14, 90),
    "14 at 45": partial(table_of, 14, 45),
    "24 from above": partial(table_of, 24, 90),
    "40 at 45": partial(table_of, 40, 45),
}
