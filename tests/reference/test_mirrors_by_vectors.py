"""What flat and round mirrors show the lens, by vectors worked here: the way after a mirror has the face's normal as the bisector of the ways
back to the lens and on; a flat mirror that is turned by t turns it by 2 t (any optics text)."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from tests.support.lit import picture, printed, table, thing

METAL = {"finish": "metal"}


def rows(value: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {row["face"]: row for row in printed(value)["mirrors"]}


def between(a: Any, b: Any) -> float:
    return math.degrees(math.acos(max(-1.0, min(1.0, float(np.dot(a, b) / np.linalg.norm(a) / np.linalg.norm(b))))))


@pytest.mark.parametrize("lean", [0, 6, 12])
@pytest.mark.parametrize("elevation", [20, 45, 70])
def test_a_blade_turned_by_t_turns_what_it_shows_by_2_t(lean: float, elevation: float) -> None:
    """A thin flat blade on the aim, leaned toward the back: the view comes down at the elevation and leaves it 2 t steeper or flatter."""
    blade = thing(1, {"kind": "box", "width": 60, "depth": 20, "height": 0.2}, 450, 300, lean=lean, lean_toward=90, **METAL)
    camera = {"elevation": elevation, "distance": 1000}
    found = rows(table([], [blade], camera=camera))["top"]
    e = math.radians(elevation)
    way = np.array([0, math.cos(e), -math.sin(e)])
    t = math.radians(lean)
    normal = np.array([0, math.sin(t), math.cos(t)])
    expected = way - 2 * (way @ normal) * normal
    up = math.degrees(math.atan2(expected[2], expected[1]))
    assert up == pytest.approx(elevation - 2 * lean, abs=1e-9)
    assert between(found["direction"], expected) < 0.5


def test_a_ball_and_a_tin_show_by_their_own_normals() -> None:
    camera = {"elevation": 30, "distance": 900, "azimuth": 20}
    ball = thing(1, {"kind": "sphere", "diameter": 80}, 400, 320, **METAL)
    tin = thing(2, {"kind": "cylinder", "diameter": 80, "height": 110}, 620, 250, **METAL)
    value = table([], [ball, tin], camera=camera)
    lens = picture(value).view.position
    for row in printed(value)["mirrors"]:
        at, normal, way = np.array(row["at"]), np.array(row["normal"]), np.array(row["direction"])
        back, on = (lens - at) / np.linalg.norm(lens - at), way / np.linalg.norm(way)
        assert between(back + on, normal) < 0.1  # the bisector
        if row["placement"] == "p1":
            assert between(at - [400, 320, 40], normal) < 0.1
            if row["face"] == "front":
                assert between(way, lens - at) < 0.1  # a ball shows the lens to itself
                assert row["meets"] == "lens"
        elif row["face"] == "front":
            assert normal[2] == 0
            assert between(at[:2] - [620, 250], normal[:2]) < 0.1
            assert between(normal[:2], lens[:2] - [620, 250]) < 0.1
            assert at[2] == pytest.approx(55, abs=0.01)


def test_a_cone_leans_its_mirror() -> None:
    cone = thing(1, {"kind": "cone", "base_diameter": 100, "top_diameter": 40, "height": 90}, 450, 300, **METAL)
    normal = rows(table([], [cone], camera={"elevation": 10, "distance": 900}))["front"]["normal"]
    assert math.degrees(math.atan2(normal[2], -normal[1])) == pytest.approx(math.degrees(math.atan2(30, 90)), abs=0.01)


def test_what_is_met_lamp_card_ceiling_thing_and_nothing() -> None:
    """A mirror on the table under a camera at 45 degrees looks up at 45 degrees toward the back."""
    mirror = thing(1, {"kind": "box", "width": 40, "depth": 40, "height": 1}, 450, 300, **METAL)
    camera = {"elevation": 45, "distance": 1000}
    behind = {"id": "card", "kind": "white", "at": [450, 700, 400], "toward": [0, -1, 0], "width": 300, "height": 300}
    lamp = {"id": "lamp", "kind": "lamp", "at": [450, 800, 500], "toward": [0, -1, -1], "width": 200, "height": 200}
    room = {"ceiling_height": 2400, "walls": "#ffffff", "x": 450, "y": 300, "width": 8000, "depth": 8000}

    def meets(lights: list[dict[str, Any]], things: list[Any] | None = None, **more: Any) -> str:
        return str(rows(table(lights, [mirror, *(things or [])], camera=camera, **more))["top"]["meets"])

    assert meets([]) == "dark"
    assert meets([lamp]) == "lamp"
    assert meets([{**lamp, "on": False}]) == "dark"
    assert meets([{**lamp, "toward": [0, 1, 1]}]) == "dark"  # one looks at its back
    assert meets([lamp], cards=[behind]) == "card"
    assert meets([], room=room) == "ceiling"
    assert meets([], room={**room, "depth": 2000, "width": 2000}) == "wall"
    assert meets([], backdrop={"kind": "upright", "y": 640, "x": 450, "width": 900, "height": 600}) == "backdrop"
    assert meets([lamp], [thing(2, {"kind": "box", "width": 200, "depth": 20, "height": 200}, 450, 420)]) == "p2"
    assert meets([{"id": "room", "kind": "room"}]) == "room"


def test_matt_and_satin_things_mirror_nothing() -> None:
    for finish, count in (("matte", 0), ("satin", 0), ("glass", 0), ("gloss", 2), ("metal", 2)):
        assert len(printed(table([], [thing(1, {"kind": "sphere", "diameter": 80}, 450, 300, finish=finish)]))["mirrors"]) == (
            count if finish in ("gloss", "metal") else 0
        )
