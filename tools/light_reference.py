"""Ten made-up tables and the light that falls on points of them, by path tracing: kept beside the tests, which hold the readings to it.

    python -m tools.light_reference            # writes tests/data/light.json (a minute)

The reference is Mitsuba's path tracer (what a proof needs must be installed): every surface matt and of one colour, as readings take them,
paths of up to 12 bounces, 65,536 a point, an irradiance meter a millimetre wide at each point.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import numpy as np

from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.light.falling import LUMINANCE
from tideflat.core.light.readings import highest_point
from tideflat.core.render.mitsuba_scene import mitsuba, scene_of
from tideflat.core.render.staging import stage_of
from tideflat.core.tolerances import LIFTED_MM

PATH = Path(__file__).parents[1] / "tests/data/light.json"
SCENES, POINTS, SAMPLES, DEPTH = 10, 6, 65_536, 12

_SHAPES: tuple[dict[str, Any], ...] = (
    {"kind": "cylinder", "diameter": 76, "height": 95},
    {"kind": "box", "width": 120, "depth": 80, "height": 60},
    {"kind": "bowl", "diameter": 160, "base_diameter": 80, "height": 55},
    {"kind": "sphere", "diameter": 72},
    {"kind": "bottle", "diameter": 80, "height": 240, "neck_diameter": 30, "neck_height": 90},
    {"kind": "rod", "length": 180, "width": 22, "height": 8},
    {"kind": "cone", "base_diameter": 90, "top_diameter": 40, "height": 110},
    {"kind": "outline", "points": [[0, 0], [140, 0], [140, 50], [60, 60], [60, 130], [0, 130]], "height": 30},
)
_COLOURS = ("#c9641b", "#e9dcc4", "#4b5052", "#8a9a6b", "#d8d4cc", "#7a3b2e", "#b9b2a4")


def document(seed: int) -> dict[str, Any]:
    """One table: things by chance, a window or a lamp or both, a white or a black card, a low, a high or no ceiling, a backdrop or none."""
    random = np.random.Generator(np.random.PCG64(seed))

    def pick(items: Any) -> Any:
        return items[int(random.integers(len(items)))]

    places = [(180, 160), (430, 140), (700, 170), (240, 400), (500, 360), (730, 430)]
    props, placements = [], []
    for k, (x, y) in enumerate(places):
        shape = _SHAPES[(seed + k) % len(_SHAPES)]
        props.append(
            {"id": f"t{k}", "name": f"thing {k}", "shape": shape, "colours": [{"hex": pick(_COLOURS), "share": 1.0}], "finish": "matte"}
        )
        x, y = x + int(random.integers(-25, 26)), y + int(random.integers(-25, 26))
        placements.append(
            {"id": f"p{k}", "prop": f"t{k}", "x": x, "y": y, "turn": int(random.integers(0, 360)), "role": "hero" if k == 4 else "support"}
        )
    window = {"id": "window", "kind": "window", "at": [-900 - 80 * (seed % 4), 350, 300 + 60 * (seed % 5)], "toward": [1, 0, -0.05],
              "width": 900, "height": 1100, "cover": pick(["none", "sheer", "paper"])}  # fmt: skip
    lamp = {"id": "lamp", "kind": "lamp", "at": [1150, 850, 700], "toward": [-0.65, -0.5, -0.62], "width": 250, "height": 250,
            "round": bool(seed % 2), "stops": 0.5, "kelvin": 3200}  # fmt: skip
    sheet = {"at": [1000, 700, 560], "toward": [-0.65, -0.5, -0.62], "width": 500, "height": 500, "transmission": 0.5}
    lights = [[window], [lamp], [window, lamp], [{**lamp, "through": sheet}], [window]][seed % 5]
    card = {"id": "card", "kind": ("white", "black")[seed % 2], "at": [1080, 250, 220], "toward": [-1, 0.1, 0], "width": 420, "height": 440,
            "bend": (0, 60)[seed % 3 == 0]}  # fmt: skip
    room = [None, {"ceiling_height": 2300, "walls": "#efeeea"}, {"ceiling_height": 3200, "walls": "#cfd2d4", "x": 450, "y": 300, "width": 3600, "depth": 3200},
            {"ceiling_height": 2250, "walls": "#e8e2d6", "ceiling": "#ffffff", "x": 300, "y": 400, "width": 3000, "depth": 2800}][seed % 4]  # fmt: skip
    camera = {"sensor": {"width": 36, "height": 24, "pixels_wide": 6000, "pixels_high": 4000}, "aim": [450, 300, 0], "distance": 1200, "elevation": 50,
              "lens": {"focal_length": 50, "max_aperture": 1.8, "min_aperture": 16, "min_focus": 450}, "aperture": 8}  # fmt: skip
    return {
        "format": "tideflat-scene", "version": 1, "title": f"table {seed}", "room": room, "props": props, "placements": placements,
        "surface": {"name": "table", "width": 900, "depth": 600, "colours": [{"hex": pick(_COLOURS), "share": 1.0}]},
        "backdrop": {"kind": "upright", "y": 640, "x": 450, "width": 1100, "height": 800, "colour": "#8b8f8c"} if seed % 3 else None,
        "lights": lights, "cards": [card] if seed % 5 != 4 else [], "setups": [{"name": "main", "camera": camera}],
    }  # fmt: skip


def points_of(picture: Picture, seed: int) -> np.ndarray:
    """(POINTS, 3): tops of things, and places on the surface at least 25 mm from what stands there."""
    import shapely

    random = np.random.Generator(np.random.PCG64(1000 + seed))
    tops = [highest_point(b) for b in list(picture.bodies.values())[: POINTS // 2] if b.local.opening is None]
    covered = shapely.union_all([b.footprint for b in picture.bodies.values()]).buffer(25)
    flat: list[np.ndarray] = []
    while len(tops) + len(flat) < POINTS:
        x, y = 60 + random.random() * 780, 60 + random.random() * 480
        if not shapely.contains_xy(covered, x, y):
            flat.append(np.array([x, y, 0.0]))
    return np.round(np.array([*tops, *flat]), 3)


def traced(picture: Picture, points: np.ndarray) -> list[float]:
    """Lux on a level face at each point, by path tracing."""
    mi = mitsuba()
    stage = stage_of(picture, plain=True)
    scene = scene_of(stage)
    integrator = mi.load_dict({"type": "path", "max_depth": DEPTH, "rr_depth": DEPTH})
    found = []
    for k, point in enumerate(points):
        to_world = mi.ScalarTransform4f().translate([float(v) for v in point + [0, 0, LIFTED_MM]]).scale([0.5, 0.5, 1])
        meter = {
            "type": "irradiancemeter",
            "film": {
                "type": "hdrfilm",
                "width": 1,
                "height": 1,
                "rfilter": {"type": "box"},
                "pixel_format": "rgb",
                "component_format": "float32",
            },
            "sampler": {"type": "multijitter", "sample_count": SAMPLES, "seed": k},
        }
        shape = mi.load_dict({"type": "rectangle", "to_world": to_world, "sensor": meter})
        rgb = np.array(mi.render(scene, sensor=shape.sensor(), integrator=integrator, spp=SAMPLES, seed=k)).reshape(-1)[:3]
        found.append(round(float(rgb @ LUMINANCE), 3))
    return found


def main() -> None:
    kept = []
    for seed in range(SCENES):
        value = document(seed)
        scene = scene_from_value(value)
        picture = Picture(scene, scene.setups[0])
        points = points_of(picture, seed)
        kept.append({"document": value, "points": points.tolist(), "lux": traced(picture, points)})
        print(f"table {seed}: {kept[-1]['lux']}", file=sys.stderr)
    PATH.write_text(json.dumps({"samples": SAMPLES, "depth": DEPTH, "scenes": kept}, separators=(",", ":")) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
