"""Lit tables for tests: a surface, a few matt things, lights; and what `tideflat light` would print of them."""

from __future__ import annotations

from typing import Any

from tests.support.scenes import camera_value
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.light.falling import Lighting
from tideflat.core.lit import light_value, lighting_of

LAMP: dict[str, Any] = {"id": "lamp", "kind": "lamp", "at": [450, 300, 1000], "toward": [0, 0, -1], "width": 200, "height": 200}
CYLINDER = {"kind": "cylinder", "diameter": 80, "height": 100}


def thing(k: int, shape: dict[str, Any], x: float, y: float, **more: Any) -> tuple[dict[str, Any], dict[str, Any]]:
    """(prop, placement)."""
    own = {key: more.pop(key) for key in ("finish", "colours") if key in more}
    prop = {"id": f"t{k}", "name": f"thing {k}", "shape": shape, "colours": [{"hex": "#8b8f8c", "share": 1.0}], **own}
    return prop, {"id": f"p{k}", "prop": f"t{k}", "x": x, "y": y, **more}


def table(lights: list[dict[str, Any]], things: list[tuple[dict[str, Any], dict[str, Any]]] | None = None, **more: Any) -> dict[str, Any]:
    """A document. more: its keys, and ``camera``."""
    camera = more.pop("camera", {})
    pairs = things or []
    return {
        "format": "tideflat-scene",
        "version": 1,
        "surface": {"name": "table", "width": 900, "depth": 600, "colours": [{"hex": "#000000", "share": 1.0}]},
        "props": [prop for prop, _ in pairs],
        "placements": [placement for _, placement in pairs],
        "lights": lights,
        "setups": [{"name": "main", "camera": camera_value(**camera)}],
        **more,
    }


def picture(value: dict[str, Any]) -> Picture:
    scene = scene_from_value(value)
    return Picture(scene, scene.setups[0])


def lighting(value: dict[str, Any]) -> Lighting:
    return lighting_of(picture(value))


def printed(value: dict[str, Any]) -> dict[str, Any]:
    """What is printed of its first set-up."""
    return light_value(picture(value))
