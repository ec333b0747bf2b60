"""What scenes cost against what they weigh: where the points of core/weight.py come from. ``python -m tools.weigh``.

Prints, for tables sparse, crowded, strewn and outlined, the points and the milliseconds of a first look at the bench's two views.
"""

from __future__ import annotations

import json
import math
import os
import time
from typing import Any
from unittest import mock


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tideflat.web.settings.test")
    import django

    django.setup()
    from tests.support.scenes import crowded_value

    for count in (30, 60, 100):
        show(f"{count} mixed things, apart", spread(crowded_value(count, elevation=45), 300))
        show(f"{count} mixed things, crowded", crowded_value(count, elevation=45))
        show(f"{count} mixed things, in each other, from low", spread(crowded_value(count, elevation=20), 60))
    for count in (10, 30):
        show(f"{count} balls in one place", alike(count, {"kind": "sphere", "diameter": 200}, 1))
        show(f"{count} tins in each other", alike(count, {"kind": "cylinder", "diameter": 200, "height": 200}, 10))
    for count, pitch in ((3, 300), (5, 300), (3, 5)):
        strewn = {"kind": "scatter", "width": 300, "depth": 300, "piece_diameter": 20, "pieces": 400, "seed": 1}
        show(f"{count} times 400 strewn pieces, {pitch} mm apart", alike(count, strewn, pitch))
    for corners, count, pitch in ((50, 30, 200), (500, 10, 200), (500, 8, 10)):
        show(f"{count} outlines of {corners} corners, {pitch} mm apart", alike(count, {"kind": "outline", "points": star(corners), "height": 40}, pitch))


def star(corners: int) -> list[list[float]]:
    turns = [(60 + 20 * (i % 2), 2 * math.pi * i / corners) for i in range(corners)]
    return [[r * math.cos(t), r * math.sin(t)] for r, t in turns]


def spread(value: dict[str, Any], pitch: float) -> dict[str, Any]:
    """The things in rows, ``pitch`` mm apart, and the camera so that it sees them all."""
    columns = math.ceil(math.sqrt(len(value["placements"])))
    for i, p in enumerate(value["placements"]):
        p["x"], p["y"] = 160 + pitch * (i % columns) + 9 * (i % 4), 140 + pitch * (i // columns) + 7 * (i % 3)
    side = min(20_000, pitch * columns + 200)
    value["surface"].update(width=side, depth=side)
    value["setups"][0]["camera"].update(aim=[pitch * columns / 2, pitch * columns / 2, 0], distance=max(900, pitch * columns * 1.6))
    return value


def alike(count: int, shape: dict[str, Any], pitch: float) -> dict[str, Any]:
    from tests.support.scenes import scene_value

    value = scene_value(elevation=45)
    value["props"] = [{"id": "a", "name": "a", "shape": shape}]
    value["placements"] = [{"id": f"q{i}", "prop": "a", "x": 0, "y": 0, "turn": i * 7 % 360} for i in range(count)]
    return spread(value, pitch)


def show(words: str, value: dict[str, Any]) -> None:
    from tideflat.core.evaluate import Picture
    from tideflat.core.findings.registry import findings
    from tideflat.core.formats import scene_reader
    from tideflat.core.weight import MOST_SHOWN, weigh
    from tideflat.web.bridge.drawing import frame_drawing, table_drawing
    from tideflat.web.bridge.geometry import geometry

    with mock.patch.object(scene_reader, "refuse_too_heavy"):
        scene = scene_reader.scene_from_value(json.loads(json.dumps(value)))
    weight = weigh(scene)
    start = time.process_time()
    picture = Picture(scene, scene.setups[0])
    found = len(findings(picture))
    frame_drawing(picture), table_drawing(picture), geometry(picture)
    taken = (time.process_time() - start) * 1000
    refused = "" if weight.share <= 1 else f"  refused: {weight.shown / MOST_SHOWN:.1f} times the budget"
    print(f"{words:<56} {weight.shown:7.0f} points {taken:7.0f} ms   {found} findings{refused}", flush=True)


if __name__ == "__main__":
    main()
