"""Light after a move: what is taken over from before is what comes out anew; and little is asked again."""

from __future__ import annotations

from copy import deepcopy
from typing import Any

import numpy as np
import pytest

from tests.support.lit import CYLINDER, LAMP, picture, table, thing
from tideflat.core.light import again, through
from tideflat.core.light.boxes import crossing
from tideflat.core.light.falling import Lighting
from tideflat.core.light.forms import Block, forms_of
from tideflat.core.light.mirrored import mirrored_on
from tideflat.core.light.rays import first_met, passing
from tideflat.core.light_drawn import DrawnLight, light_drawn
from tideflat.core.tolerances import SHRUNK_MM

CLOTH = {"kind": "cloth", "width": 300, "depth": 220, "thickness": 1.5}
THINGS = [
    thing(0, {"kind": "box", "width": 160, "depth": 110, "height": 30}, 250, 300, role="support"),
    thing(1, CLOTH, 300, 330, role="cloth", turn=8, z=30, on="p0"),
    thing(2, CYLINDER, 500, 300, role="hero", finish="gloss"),
    thing(3, {"kind": "bowl", "diameter": 110, "base_diameter": 60, "height": 50}, 650, 380, finish="satin"),
    thing(4, {"kind": "sphere", "diameter": 60}, 420, 180, finish="metal"),
    thing(5, {"kind": "bottle", "diameter": 60, "neck_diameter": 24, "neck_height": 40, "height": 160}, 700, 200, finish="glass"),
]
LIGHTS: dict[str, list[dict[str, Any]]] = {
    "lamp and window": [
        {**LAMP, "at": [-200, 500, 600], "toward": [1, -0.2, -0.8]},
        {"id": "window", "kind": "window", "at": [450, 1500, 700], "toward": [0, -1, -0.2], "width": 900, "height": 1100},
    ],
    "a sun and a lamp through a sheet": [
        {"id": "sun", "kind": "sun", "latitude": 52.0, "longitude": 5.0, "time": "2026-06-21T16:00:00+02:00"},
        {**LAMP, "at": [1300, 300, 500], "toward": [-1, 0, -0.4], "through": {"at": [1100, 300, 420], "toward": [-1, 0, -0.4], "width": 500, "height": 500, "transmission": 0.6}},
    ],
}  # fmt: skip
ROOM = {"north": 20, "walls": "#d8d4cc", "ceiling_height": 2500}
CARD = {"id": "card", "kind": "white", "at": [780, 150, 120], "toward": [-1, 0.4, 0], "width": 260, "height": 240}


def scene(lights: str) -> dict[str, Any]:
    return deepcopy(table(LIGHTS[lights], THINGS, cards=[CARD], room=ROOM, camera={"elevation": 35}))


def shown(drawn: DrawnLight) -> list[np.ndarray]:
    return [drawn.surface, drawn.frame_ground, drawn.table_things.light, drawn.frame_things.light, drawn.exposed]


def moved(value: dict[str, Any], name: str, **keys: float) -> dict[str, Any]:
    value = deepcopy(value)
    for listed in ("placements", "cards", "lights"):
        for one in value.get(listed, []):
            if one["id"] == name:
                one.update({key: one.get(key, 0) + by for key, by in keys.items() if key != "at"})
                if "at" in keys:
                    one["at"] = (np.array(one["at"]) + keys["at"]).tolist()
    return value


STEPS: list[tuple[str, dict[str, Any]]] = [
    ("p3", {"x": -40, "y": 12}),
    ("p1", {"turn": 11}),
    ("p2", {"x": 25}),
    ("p5", {"y": 60, "x": -30}),
    ("card", {"at": [-30, 20, 0]}),
    ("p4", {"x": 150, "y": 90}),
    ("lamp", {"at": [10, -40, 30]}),
    ("p3", {"turn": 25}),
]


@pytest.mark.parametrize(
    ("lights", "steps", "share"),
    [
        ("lamp and window", STEPS[:5], 0.4),
        ("a sun and a lamp through a sheet", STEPS[5:], 0.5),
        ("a sun and a lamp through a sheet", STEPS[6:7], 1.0),
    ],
)
def test_what_is_drawn_after_each_of_many_moves_is_what_is_drawn_anew(lights, steps, share):
    value = scene(lights)
    _, before = light_drawn(picture(value), share=share)
    for name, keys in steps:
        value = moved(value, name, **keys)
        look = picture(value)
        drawn, lighting = light_drawn(look, share=share, earlier=before)
        fresh, alone = light_drawn(look, share=share)
        for after, anew in zip(shown(drawn), shown(fresh), strict=True):
            assert np.array_equal(after, anew), (name, float(np.abs(after - anew).max()))
        boxes = [(i, seen.visible.bounds) for i, seen in look.things.items()]
        assert mirrored_on(lighting, look.view, boxes) == mirrored_on(alone, look.view, boxes)
        before = lighting


def test_little_is_asked_again_and_nothing_where_nothing_moved(monkeypatch):
    asked = {"met": 0, "through": 0}

    def count(kind, inner):
        def counted(casters, starts, *rest, **more):
            asked[kind] += len(starts)
            return inner(casters, starts, *rest, **more)

        return counted

    monkeypatch.setattr(again, "first_met", count("met", first_met))
    monkeypatch.setattr(through, "passing", count("through", passing))

    def counted(look, earlier=None) -> tuple[dict[str, int], Lighting]:
        asked.update(met=0, through=0)
        _, lighting = light_drawn(look, share=0.5, earlier=earlier)
        return dict(asked), lighting

    value = scene("lamp and window")
    whole, before = counted(picture(value))
    after, before = counted(picture(moved(value, "p3", x=-8)), before)
    assert 0 < after["met"] < whole["met"] / 4 and 0 < after["through"] < whole["through"] / 4
    same, before = counted(picture(moved(value, "p3", x=-8)), before)
    assert same["met"] == 0
    other = table(LIGHTS["lamp and window"], THINGS[2:], cards=[CARD], room=ROOM, camera={"elevation": 35})
    alone, _ = counted(picture(other))
    after, _ = counted(picture(other), before)
    assert after == alone  # of other things nothing is taken over


@pytest.mark.parametrize("dark", [{"time": "2026-06-21T02:00:00+02:00"}, {"toward": [1, 0, 0]}])
def test_by_a_sun_that_is_down_or_a_lamp_turned_from_its_sheet_things_are_moved_as_by_others(dark):
    value = scene("a sun and a lamp through a sheet")
    value["lights"]["toward" in dark].update(dark)
    _, before = light_drawn(picture(value), share=0.3)
    value = moved(value, "p3", x=-20)
    after, anew = (light_drawn(picture(value), share=0.3, earlier=earlier)[0] for earlier in (before, None))
    assert all(np.array_equal(a, b) for a, b in zip(shown(after), shown(anew), strict=True))


@pytest.mark.parametrize("keys", [{"width": 700}, {"depth": 800}])
def test_another_surface_is_lit_as_what_it_is(keys):
    value = scene("lamp and window")
    _, before = light_drawn(picture(value), share=0.4)
    value["surface"].update(keys)
    after, anew = (light_drawn(picture(value), share=0.4, earlier=earlier)[0] for earlier in (before, None))
    assert all(np.array_equal(a, b) for a, b in zip(shown(after), shown(anew), strict=True))


def test_a_box_is_crossed_by_all_that_meet_it_and_by_no_single_way_that_does_not():
    random = np.random.Generator(np.random.PCG64(3))
    met = missed = 0
    for _ in range(60):
        boxes = np.sort(random.uniform(-100, 100, (2, 2, 3)), axis=1)
        starts = random.uniform(-300, 300, (40, 3))
        ways = random.normal(size=(40, 3))
        ways[:5, random.integers(3)] = 0.0  # along an axis, nothing is divided by
        far = random.uniform(0.1, 400, 40)
        ways[5:30] = random.uniform(-60, 60, (25, 3)) - starts[5:30]  # toward them, the others anywhere
        far[5:30] = random.uniform(0.3, 1.5, 25)
        spread = random.uniform(0, 0.3, (40, 3)) * random.integers(0, 2, (40, 1))
        crossed = crossing(boxes, starts, ways - spread, ways + spread, far)
        t = np.linspace(0, 1, 400)[:, None, None]
        for _ in range(6):
            way = ways + random.uniform(-1, 1, ways.shape) * spread
            places = starts + t * far[:, None] * way
            hits = np.zeros(40, dtype=bool)
            for low, high in boxes:
                hits |= ((places >= low) & (places <= high)).all(axis=2).any(axis=0)
            assert not (hits & ~crossed).any()
            met += int(hits.sum())
        single = spread.max(axis=1) == 0
        near = np.zeros(40, dtype=bool)
        for low, high in boxes:
            step = far * np.abs(ways).max(axis=1) / 399
            near |= ((places >= low - step[:, None]) & (places <= high + step[:, None])).all(axis=2).any(axis=0)
        assert not (single & crossed & ~near).any()
        missed += int((single & ~crossed).sum())
    assert met > 500 and missed > 500


def test_a_block_ends_where_its_thing_does_slivers_too():
    """The middle of a sliver's bounds may lie outside it: its long side was turned inside out, and it reached far over the table."""
    random = np.random.Generator(np.random.PCG64(5))
    blocks = 0
    for turn in (0.0, 6.0, 23.0, 45.0, 81.0):
        value = moved(scene("lamp and window"), "p1", turn=turn)
        value["placements"][1]["y"] += turn
        seen = picture(value)
        for body in seen.bodies.values():
            for block in forms_of(body):
                if not isinstance(block, Block):
                    continue
                blocks += 1
                low, high = block.bounds
                places = random.uniform(low - 80, high + 80, (4000, 3))
                inside = (places @ block.planes[:, :3].T <= block.planes[:, 3] - SHRUNK_MM).all(axis=1)  # as rays meet it
                assert (places[inside] >= low - 0.01).all() and (places[inside] <= high + 0.01).all()
                assert (np.linalg.norm(places[inside] - block.centre, axis=1) <= block.radius + 0.01).all()
    assert blocks > 60
