"""Every number that an act takes: read up to its bounds and not beyond, as the published schema says; and what only acts themselves refuse."""

from __future__ import annotations

import random
from functools import cache
from typing import Any

import pytest

from tests.support.acts import chance_act, chance_scene, stacked_value
from tideflat.core.acts.registry import ACTS, act_from_value, act_value, perform, schemas
from tideflat.core.errors import FieldError
from tideflat.core.formats.scene_reader import scene_from_value

#: act.argument: least, most; for a list also how many. Places and lengths are those of the scene document.
BOUNDS: dict[str, tuple[float, ...]] = {
    "move.x": (-1e5, 1e5), "move.y": (-1e5, 1e5), "move.z": (0, 1e5), "turn.turn": (-3600, 3600), "lean.lean": (-180, 180),
    "lean.lean_toward": (-3600, 3600), "raise.z": (0, 1e5), "add.x": (-1e5, 1e5), "add.y": (-1e5, 1e5), "add.z": (0, 1e5),
    "camera.elevation": (-10, 90), "camera.azimuth": (-360, 360), "camera.roll": (-360, 360), "camera.distance": (0.1, 1e5),
    "camera.aim": (-1e5, 1e5, 3), "camera.aperture": (0.5, 256), "camera.circle_of_confusion": (1e-4, 10), "lens_height.height": (-1e5, 1e5),
    "pan.dx": (-1e5, 1e5), "pan.dy": (-1e5, 1e5), "deliverable.pixels": (1, 1e5, 2), "deliverable.scale": (1e-4, 1), "frame_all.aim": (-1e5, 1e5, 3), "frame_all.distance": (0.1, 1e5), "tilt.tilt": (0, 45), "tilt.toward": (-360, 360), "tilt.aperture": (0.5, 256), "deliverable.bleed": (0, 0.2), "deliverable.safe": (0, 0.2), "deliverable.moves": (1, 1000), "crop.centre": (0, 1, 2),
    "table_height.height_above_floor": (0, 10_000), "place_backdrop.x": (-1e5, 1e5), "place_backdrop.y": (-1e5, 1e5),
    "move_light.at": (-1e5, 1e5, 3), "move_light.toward": (-1e5, 1e5, 3), "turn_set.degrees": (-360, 360), "room_place.north": (-360, 360), "room_place.x": (-1e5, 1e5), "room_place.y": (-1e5, 1e5), "room_place.width": (0.1, 1e5), "room_place.depth": (0.1, 1e5),
    "room.ceiling_height": (0.1, 1e5), "palette_colour.at": (0, 12), "palette_colour.share": (0, 1), "remove_palette_colour.at": (0, 12),
    "shift.dx": (-1e5, 1e5), "shift.dy": (-1e5, 1e5), "spin.by": (-3600, 3600), "let_go.x": (-1e5, 1e5), "let_go.y": (-1e5, 1e5),
    "lay_dish.toward": (-360, 360), "lay_dish.seed": (0, 2**31 - 1), "repeat.count": (2, 60), "repeat.step": (0.1, 1e5), "repeat.angle": (-360, 360), "repeat.radius": (-20_000, 20_000),
    "repeat.width": (0.1, 1e5), "repeat.depth": (0.1, 1e5), "repeat.seed": (0, 2**31 - 1),
    "mean.retouch": (0, 10_000), "leaning.value": (-1, 1), "brief.finals": (1, 999),
}  # fmt: skip
WHOLE = {"deliverable.pixels", "palette_colour.at", "remove_palette_colour.at", "brief.finals", "repeat.count", "repeat.seed", "lay_dish.seed"}


@cache
def samples() -> dict[str, dict[str, Any]]:
    """One good value of every act."""
    hand, found = random.Random(3), {}
    while set(found) != set(ACTS):
        value = chance_act(hand, chance_scene(hand))
        found.setdefault(value["act"], value)
    return found


def _resolved(schema: dict[str, Any]) -> dict[str, Any]:
    while "$ref" in schema:
        target: Any = schemas()
        for step in schema["$ref"].split("/")[1:]:
            target = target[step]
        schema = {**target, **{k: v for k, v in schema.items() if k != "$ref"}}
    return schema


def _bounds(schema: dict[str, Any]) -> tuple[float, ...] | None:
    for option in _resolved(schema).get("anyOf", [schema]):
        option = _resolved(option)
        kinds = option.get("type")
        if kinds in ("number", "integer") or (isinstance(kinds, list) and "number" in kinds):
            return option["minimum"], option["maximum"]
        if kinds == "array" and "minItems" in option and (inner := _bounds(option["items"])) is not None:
            assert option["minItems"] == option["maxItems"]
            return *inner, option["minItems"]
    return None


def test_the_published_schema_states_these_bounds():
    said = {f"{name}.{key}": _bounds(value) for name, schema in schemas()["acts"].items() for key, value in schema["properties"].items()}
    assert {k: v for k, v in said.items() if v is not None} == BOUNDS


def _given(where: str, number: float) -> dict[str, Any]:
    act, key = where.split(".")
    count = BOUNDS[where][2] if len(BOUNDS[where]) > 2 else 0
    return {**samples()[act], key: [number] * int(count) if count else number}


@pytest.mark.parametrize("where", BOUNDS)
def test_a_number_is_read_at_its_bounds_and_refused_beyond(where):
    low, high = BOUNDS[where][:2]
    key, step = where.split(".")[1], 1 if where in WHOLE else max(1e-5, 1e-6 * abs(high))
    for good in (low, high):
        act = act_from_value(_given(where, int(good) if where in WHOLE else good))
        assert act_from_value(act_value(act)) == act
    for wrong in (
        low - min(step, 0.5 * low if low > 0 and where not in WHOLE else step),
        high + step,
        float("nan"),
        None if key not in ("circle_of_confusion", "ceiling_height") else "x",
        True,
        "3",
    ):
        with pytest.raises(FieldError, match=rf"act\.{key}"):
            act_from_value(_given(where, wrong) if wrong is not None else {**samples()[where.split(".")[0]], key: "much"})


@pytest.mark.parametrize("where", [k for k, v in BOUNDS.items() if len(v) > 2])
def test_a_list_holds_just_so_many(where):
    act, key = where.split(".")
    low, high, count = BOUNDS[where]
    for wrong in ([low] * (int(count) - 1), [low] * (int(count) + 1), {"0": low}, low, "12"):
        with pytest.raises(FieldError, match=rf"act\.{key}"):
            act_from_value({**samples()[act], key: wrong})


def _scene(**camera: Any):
    value = stacked_value()
    for setup in value["setups"]:
        setup["camera"] |= camera
    return scene_from_value(value)


def _done(scene: Any, **value: Any):
    return perform(scene, act_from_value(value))


def test_the_lens_is_set_to_a_height_by_its_distance_or_told_why_not():
    scene = _scene(elevation=60, aim=[450, 300, 20], distance=900)
    done = _done(scene, act="lens_height", setup="main", height=1000)
    assert done.scene.setups[0].camera.distance == pytest.approx((1000 - 20) / 0.8660254, abs=0.06)
    with pytest.raises(FieldError, match="above the aim, which is 20 mm"):
        _done(scene, act="lens_height", setup="main", height=20)
    level = _scene(elevation=5, aim=[450, 300, 80], distance=900)
    with pytest.raises(FieldError, match="aim's height"):
        _done(level, act="lens_height", setup="main", height=400)


def test_a_pan_carries_aim_and_focus_and_says_how_far():
    scene = _scene(aim=[450, 300, 0], focus={"point": [440, 310, 10]})
    camera = _done(scene, act="pan", setup="main", dx=12.34, dy=-7.86).scene.setups[0].camera
    assert camera.aim == (462.3, 292.1, 0)


def test_how_far_and_how_high_a_thing_was_moved_is_told_to_a_tenth():
    scene = scene_from_value(stacked_value())
    told = dict(_done(scene, act="move", placement="jar", x=603.0, y=304.0).figures)
    assert told["mm"] == pytest.approx(5.0)
    up = dict(_done(scene, act="move", placement="jar", z=12.34).figures)
    assert up["up"] == 12.3
    raised = dict(_done(scene, act="raise", placement="jar", z=7.46).figures)
    assert (raised["z"], raised["mm"]) == (7.46, 7.5)


def test_a_hero_brought_in_leads_only_where_none_does():
    scene = scene_from_value(stacked_value())
    for with_hero, role in ((True, "support"), (False, "hero")):
        before = scene if with_hero else _done(scene, act="role", placement="jar", role="support").scene
        done = _done(before, act="add", prop="orange", x=100, y=100, role="hero")
        assert done.scene.placement(done.held).role == role


def test_a_deliverable_asked_for_again_is_changed_where_it_stands():
    scene = scene_from_value(stacked_value())
    first = _done(scene, act="deliverable", setup="main", name="tall", ratio="9:16").scene
    again = _done(first, act="deliverable", setup="main", was="feed", name="feed", ratio="1:1", scale=0.5).scene
    assert [(d.name, d.ratio, d.scale) for d in again.setup("main").deliverables] == [("feed", "1:1", 0.5), ("tall", "9:16", 1.0)]
