"""What a browser draws moved light by, against the core's own: its places give what the light gives, and what is left without it is the rest."""

from __future__ import annotations

import base64
from typing import Any

import numpy as np
import pytest
import shapely

from tests.support.lit import LAMP, picture, table, thing
from tideflat.core.light.falling import LUMINANCE, Lighting
from tideflat.core.light.lobes import METAL
from tideflat.core.light.shadows import shadow_of
from tideflat.core.light_drawn import THINGS_IN_FRAME, light_drawn, seen_through_lens
from tideflat.core.light_live import UNIT, live_value
from tideflat.core.lit import lit_picture

UP = np.array([0.0, 0, 1])
WINDOW = {"id": "window", "kind": "window", "at": [-700, 300, 400], "toward": [1, 0, -0.2], "width": 800, "height": 900}
SHEET = {"at": [450, 300, 700], "toward": [0, 0, -1], "width": 900, "height": 900, "transmission": 0.5}
SOURCES: dict[str, dict[str, Any]] = {
    "window": WINDOW,
    "lamp": LAMP,
    "beam": {**LAMP, "beam": 70},
    "round": {**LAMP, "round": True},
    "through a sheet": {**LAMP, "width": 80, "height": 80, "through": SHEET},
}


def live(value: dict[str, Any]) -> tuple[dict[str, Any], Lighting, float]:
    seen = picture(value)
    drawn, lighting = light_drawn(seen)
    return live_value(lit_picture(seen), drawn, lighting), lighting, float(drawn.exposed @ LUMINANCE)


def summed(light: dict[str, Any], point: np.ndarray, normal: np.ndarray, places: str = "places") -> float:
    """What the browser sums."""
    found = 0.0
    for x, y, z, weight in light[places]:
        to = np.array([x, y, z]) - point
        cos, leaves, far = float(to @ normal), -float(to @ np.array(light["out"])), float(np.linalg.norm(to))
        if cos > 0 and leaves > 0 and (light["cosine"] is None or leaves >= light["cosine"] * far):
            found += weight * cos * leaves / far**4
    return found


def read(text: str, kind: str) -> np.ndarray:
    return np.frombuffer(base64.b64decode(text), kind)


@pytest.mark.parametrize(("places", "count"), [("places", 16), ("finer", 36)])
@pytest.mark.parametrize("name", SOURCES)
def test_the_places_of_a_light_give_what_it_gives(name: str, places: str, count: int) -> None:
    value, lighting, one = live(table([SOURCES[name]]))
    (light,) = value["sources"].values()
    assert len(light[places]) == count
    points = np.array([[x, y, z] for x in (150.0, 450, 800) for y in (100.0, 500) for z in (0.0, 60)])
    for normal in (UP, np.array([-1.0, 0, 0])):
        exact = lighting.direct(points, np.tile(normal, (len(points), 1)), lighting.sources[0], hindered=False) / one
        here = np.array([summed(light, point, normal, places) for point in points])
        lit = exact > 0.05 * exact.max()
        assert lit.any() or normal is not UP
        assert np.abs(here[lit] - exact[lit]).max(initial=0) < 0.15 * exact.max(initial=1)
        assert here[~lit].max(initial=0) < 0.2 * max(exact.max(initial=0), 0.1)


def test_what_is_left_without_a_light_is_what_the_others_give() -> None:
    things = [
        thing(1, {"kind": "box", "width": 90, "depth": 90, "height": 60}, 450, 300, role="hero"),
        thing(2, {"kind": "sphere", "diameter": 60}, 620, 200),
    ]
    both, _, one = live(table([WINDOW, {**LAMP, "stops": 1}], things, camera={"elevation": 50, "distance": 1200}))
    assert set(both["sources"]) == {"window", "lamp"} == set(both["frame"]["straight"])
    light = read(both["frame"]["light"], "<u2").reshape(-1, 3) / UNIT
    left = light.copy()
    for name, source in both["sources"].items():
        left -= (read(both["frame"]["straight"][name], "<u2") / UNIT)[:, None] * np.array(source["rgb"])
    assert left.min() > -0.01  # what is given back
    assert np.median(left @ LUMINANCE) < 0.5 * np.median(light @ LUMINANCE)
    assert sum(s["back"] for s in both["sources"].values()) == pytest.approx(1, abs=0.01)
    alone, _, _ = live(table([WINDOW], things, camera={"elevation": 50, "distance": 1200}))
    assert alone["sources"]["window"]["back"] == pytest.approx(1)


def test_what_is_of_metal_has_nothing_straight() -> None:
    value = table([LAMP], [thing(1, {"kind": "box", "width": 200, "depth": 200, "height": 5}, 450, 300, finish="metal")])
    found, lighting, _ = live(value)
    seen = seen_through_lens(lighting, lit_picture(picture(value)), THINGS_IN_FRAME)
    metal = seen.finish == METAL
    assert metal.any()
    assert (read(found["frame"]["metal"], "u1") == metal).all()
    assert read(found["frame"]["straight"]["lamp"], "<u2")[metal].max() == 0


def test_shadows_fall_on_a_level_top_only_where_something_stands_over_it() -> None:
    board = thing(1, {"kind": "box", "width": 300, "depth": 200, "height": 20}, 450, 300)
    far, near = (thing(2, {"kind": "cylinder", "diameter": 50, "height": 60}, x, 300, z=z) for x, z in ((800.0, 0.0), (500.0, 20.0)))
    assert [p["of"] for p in live(table([LAMP], [board, far]))[0]["planes"]] == [""]
    value, _, _ = live(table([LAMP], [board, near]))
    assert [p["of"] for p in value["planes"]] == ["", "placement p1"]
    assert value["planes"][1]["z"] == pytest.approx(20, abs=0.5)
    plane, at = read(value["table"]["plane"], "u1"), read(value["table"]["at"], "<f4").reshape(-1, 3)
    assert (plane == 1).any() and at[plane == 1, 2] == pytest.approx(20, abs=1)


def test_the_parts_throw_the_shadows_that_the_things_throw() -> None:
    """Each part's hull, thrown from a far small lamp, against the shadow by tangent rays."""
    lamp = {**LAMP, "at": [-300, 900, 900], "toward": [1, -0.8, -1], "width": 4, "height": 4}
    things = [
        thing(1, {"kind": "cylinder", "diameter": 90, "height": 120}, 450, 300),
        thing(2, {"kind": "box", "width": 80, "depth": 50, "height": 40}, 650, 200, turn=30),
    ]
    value, lighting, _ = live(table([lamp], things))
    place = np.array([-300.0, 900, 900])
    for placement in ("p1", "p2"):
        thrown = []
        for part in value["parts"]["parts"]:
            points = np.array(part["points"]).reshape(-1, 3)
            assert len(points) in (part["ring"], 2 * part["ring"])
            if part["of"] == f"placement {placement}":
                share = points[:, 2:] / (place[2] - points[:, 2:])
                thrown.append(shapely.MultiPoint(points[:, :2] + share * (points[:, :2] - place[:2])).convex_hull)
        exact = shadow_of(lighting.bodies[placement], lighting.sources[0]).edge
        here = shapely.union_all(thrown)
        assert here.symmetric_difference(exact).area < 0.06 * exact.area


def test_a_card_gives_on_what_it_gets_and_a_black_one_hardly() -> None:
    card = {"id": "card", "kind": "white", "at": [800, 300, 200], "toward": [-1, 0, 0], "width": 300, "height": 400}
    white, black = (live(table([WINDOW], cards=[{**card, "kind": kind}]))[0]["cards"]["card"] for kind in ("white", "black"))
    bright, dark = (sum(sum(place[6:]) for place in places if place[3] < 0) for places in (white, black))
    assert bright > 10 * dark > 0
