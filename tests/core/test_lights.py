"""Lights, cards and rig in the scene document, and the acts on them: read, written, refused with their path; a set-up's own; turned with the set."""

from __future__ import annotations

import copy
import json
import math
from typing import Any

import jsonschema
import pytest

from tests.core.test_scene_document import SCHEMA
from tests.support.acts import CARD, LIGHTS, RIG
from tests.support.lit import LAMP, picture, table
from tests.support.scenes import camera_value
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.errors import DocumentError, FieldError
from tideflat.core.formats.scene_reader import read_scene, scene_from_value
from tideflat.core.formats.scene_writer import scene_value, write_scene
from tideflat.core.model import LEFT_OUT

SHEET = {"at": [450, 300, 700], "toward": [0, 0, -1], "width": 600, "height": 600, "transmission": 0.5}
SUN = {"id": "sun", "kind": "sun", "latitude": 54, "longitude": 10, "time": "2026-06-21T16:00:00+02:00", "through": "window"}
ROOM = {"ceiling_height": 2400, "walls": "#efeeea", "north": 200, "x": 450, "y": 300, "width": 4000, "depth": 3500, "ceiling": "#ffffff"}


def full() -> dict[str, Any]:
    lights = [*LIGHTS, {**LAMP, "id": "sheeted", "through": SHEET, "beam": 60, "filter": "#ffcc88"}, SUN]
    value = table(
        copy.deepcopy(lights), cards=[CARD, {**CARD, "id": "tint", "kind": "tint", "colour": "#aabbcc", "bend": 90}], rig=[RIG], room=ROOM
    )
    own = {"name": "dark", "camera": camera_value(), "lights": [LIGHTS[1]], "cards": [], "rig": [{**RIG, "kind": "flag"}]}
    value["setups"].append(own)
    return value


def test_what_is_written_reads_back_and_writes_the_same_bytes_and_the_schema_takes_it() -> None:
    scene = scene_from_value(full())
    written = write_scene(scene)
    assert write_scene(read_scene(written)) == written
    assert read_scene(written) == scene
    jsonschema.Draft202012Validator(SCHEMA).validate(json.loads(written))
    jsonschema.Draft202012Validator(SCHEMA).validate(full())
    lamp = json.loads(written)["lights"][0]
    assert list(lamp)[:2] == ["id", "kind"] and lamp["on"] is True and lamp["kelvin"] == 5500 and lamp["beam"] is None


def test_a_scene_without_light_is_written_as_before() -> None:
    value = scene_value(scene_from_value(table([])))
    assert not {"lights", "cards", "rig"} & (set(value) | set(value["setups"][0]))
    assert set(scene_value(scene_from_value(table([], room={"ceiling_height": 2400})))["room"]) == {"ceiling_height", "walls"}


def test_a_set_up_has_its_own_or_shares() -> None:
    scene = scene_from_value(full())
    shared, dark = scene.setups
    assert shared.lights is LEFT_OUT
    assert [light.id for light in scene.seen_in(dark).lights] == ["window"]
    assert scene.seen_in(dark).cards == () and scene.seen_in(dark).rig[0].kind == "flag"
    assert len(scene.seen_in(shared).lights) == 5


def _set(value: dict[str, Any], *path: Any, to: Any) -> dict[str, Any]:
    value = copy.deepcopy(value)
    target: Any = value
    for step in path[:-1]:
        target = target[step]
    if to is _DROP:
        del target[path[-1]]
    else:
        target[path[-1]] = to
    return value


_DROP = object()


@pytest.mark.parametrize(
    ("path", "to", "says"),
    [
        (("lights",), None, "lights: must be a list"),
        (("lights",), {}, "lights: must be a list"),
        (("lights", 0, "kind"), "candle", r"lights\[0\]\.kind"),
        (("lights", 0, "id"), "window", r"lights\[1\]\.id"),
        (("lights", 0, "at"), [1, 2], r"lights\[0\]\.at"),
        (("lights", 0, "toward"), [0, 0, 0], r"lights\[0\]\.toward"),
        (("lights", 0, "width"), 0, r"lights\[0\]\.width"),
        (("lights", 0, "width"), _DROP, r"lights\[0\]\.width"),
        (("lights", 0, "stops"), 20.1, r"lights\[0\]\.stops"),
        (("lights", 0, "kelvin"), 999, r"lights\[0\]\.kelvin"),
        (("lights", 0, "kelvin"), 40_001, r"lights\[0\]\.kelvin"),
        (("lights", 0, "beam"), 0.5, r"lights\[0\]\.beam"),
        (("lights", 0, "beam"), 181, r"lights\[0\]\.beam"),
        (("lights", 0, "cover"), "sheer", r"lights\[0\]\.cover: must be one of the known"),
        (("lights", 0, "on"), 1, r"lights\[0\]\.on"),
        (("lights", 0, "filter"), "red", r"lights\[0\]\.filter"),
        (("lights", 1, "cover"), "lace", r"lights\[1\]\.cover"),
        (("lights", 2, "at"), [0, 0, 0], r"lights\[2\]\.at"),
        (("lights", 3, "through", "transmission"), 1.1, r"lights\[3\]\.through\.transmission"),
        (("lights", 3, "through", "toward"), _DROP, r"lights\[3\]\.through\.toward"),
        (("lights", 4, "latitude"), 91, r"lights\[4\]\.latitude"),
        (("lights", 4, "time"), "2026-06-21T16:00:00", r"lights\[4\]\.time"),
        (("lights", 4, "time"), "1850-06-21T16:00:00+02:00", r"lights\[4\]\.time"),
        (("lights", 4, "through"), "lamp", r"lights\[4\]\.through"),
        (("room", "north"), None, r"room\.north"),
        (("room",), None, r"room\.north"),
        (("room", "width"), 0, r"room\.width"),
        (("cards", 0, "kind"), "blue", r"cards\[0\]\.kind"),
        (("cards", 0, "bend"), 181, r"cards\[0\]\.bend"),
        (("cards", 0, "held_by"), "tape", r"cards\[0\]\.held_by"),
        (("cards", 1, "colour"), None, r"cards\[1\]\.colour"),
        (("cards", 1, "id"), "card", r"cards\[1\]\.id"),
        (("rig", 0, "kind"), "dog", r"rig\[0\]\.kind"),
        (("rig", 0, "depth"), _DROP, r"rig\[0\]\.depth"),
        (("setups", 1, "lights"), None, r"setups\[1\]\.lights"),
        (("setups", 1, "lights", 0, "height"), -1, r"setups\[1\]\.lights\[0\]\.height"),
    ],
)
def test_what_is_wrong_is_told_with_its_path(path: tuple[Any, ...], to: Any, says: str) -> None:
    value = _set(full(), *path, to=to)
    with pytest.raises(DocumentError, match=says):
        scene_from_value(value)
    seldom = (("lights", 0, "id"), ("lights", 4, "time"), ("lights", 4, "through"), ("room", "north"), ("room",), ("cards", 1, "id"))
    if path not in seldom:  # references and clocks are beyond a schema
        assert not jsonschema.Draft202012Validator(SCHEMA).is_valid(value)


def test_there_are_at_most_so_many() -> None:
    many = [{**LIGHTS[0], "id": f"l{k}"} for k in range(24)]
    assert len(scene_from_value(table(many)).lights) == 24
    with pytest.raises(DocumentError, match="lights: must hold at most 24"):
        scene_from_value(table([*many, {**LIGHTS[0], "id": "one-more"}]))
    scene = scene_from_value(table(many))
    with pytest.raises(FieldError, match="at most 24"):
        perform(scene, act_from_value({"act": "light", "light": LIGHTS[1]}))
    assert len(perform(scene, act_from_value({"act": "light", "light": {**many[3], "stops": 1}})).scene.lights) == 24


def _done(value: dict[str, Any], **act: Any) -> Any:
    return perform(scene_from_value(value), act_from_value(act)).scene


def test_an_act_in_one_set_up_leaves_the_others_alone() -> None:
    value = full()
    only = _done(value, act="light", light={**LIGHTS[0], "stops": 2}, setup="dark", only=True)
    assert [light.id for light in only.seen_in(only.setups[1]).lights] == ["window", "lamp"]
    assert only.lights == scene_from_value(value).lights
    with pytest.raises(FieldError, match="with only"):
        _done(value, act="light", light=LIGHTS[0], setup="dark")
    removed = _done(value, act="remove_light", id="window")
    assert next(light for light in removed.lights if light.id == "sun").through is None  # its window has gone
    with pytest.raises(FieldError, match="must be one that stands there"):
        _done(value, act="remove_light", list="cards", id="lamp")


def test_what_stands_nowhere_cannot_be_moved() -> None:
    with pytest.raises(FieldError, match="stands somewhere"):
        _done(full(), act="move_light", id="sun", at=[1, 2, 3])
    with pytest.raises(FieldError, match="must be given"):
        _done(full(), act="move_light", id="lamp")
    with pytest.raises(FieldError, match="must point somewhere"):
        _done(full(), act="move_light", id="lamp", toward=[0, 0, 0])


def test_a_quarter_turn_of_the_set_and_four_of_them() -> None:
    value = full()
    scene = scene_from_value(value)
    turned = _done(value, act="turn_set", degrees=90)
    x, y = scene.surface.width / 2, scene.surface.depth / 2
    for old, new in ((scene.lights[0], turned.lights[0]), (scene.cards[0], turned.cards[0]), (scene.rig[0], turned.rig[0])):
        dx, dy = old.at[0] - x, old.at[1] - y
        assert new.at == pytest.approx((x + dy, y - dx, old.at[2]), abs=1e-3)
        assert math.hypot(*new.toward) == pytest.approx(math.hypot(*old.toward), abs=1e-4)
    assert turned.room.north == pytest.approx((200 - 90 + 180) % 360 - 180)
    assert (turned.room.width, turned.room.depth) == (3500, 4000)
    dark, was = (s.seen_in(s.setups[1]).lights[0] for s in (turned, scene))
    assert dark.at == pytest.approx((x + was.at[1] - y, y - was.at[0] + x, was.at[2]), abs=1e-3)
    again = scene
    for _ in range(4):
        again = perform(again, act_from_value({"act": "turn_set", "degrees": 90})).scene
    assert again.lights[0].at == pytest.approx(scene.lights[0].at, abs=0.01)
    with pytest.raises(FieldError, match="quarter turn"):
        _done(value, act="turn_set", degrees=45)
    free = _set(value, "room", "width", to=None)
    assert _done(free, act="turn_set", degrees=45).lights[0].at != scene.lights[0].at


def test_the_sun_turns_with_the_set() -> None:
    """What the sun does to the table is the table turned under it: its way goes round the other way."""
    from tideflat.core.light.sources import sun_way

    value = table([{**SUN, "through": None}], room={"north": 30})
    for degrees in (-90, 35, 120):
        before, after = (
            sun_way(s.lights[0], s.room.north)[0] for s in (scene_from_value(value), _done(value, act="turn_set", degrees=degrees))
        )
        a = math.radians(-degrees)
        assert after == pytest.approx(
            [math.cos(a) * before[0] - math.sin(a) * before[1], math.sin(a) * before[0] + math.cos(a) * before[1], before[2]], abs=1e-6
        )


def test_a_larger_surface_goes_under_by_its_middle_and_the_lights_keep_their_places_about_it() -> None:
    value = full()
    larger = _done(value, act="surface", surface={"name": "floor", "width": 1100, "depth": 800})
    was = scene_from_value(value)
    assert larger.lights[0].at == pytest.approx((was.lights[0].at[0] + 100, was.lights[0].at[1] + 100, was.lights[0].at[2]))
    assert larger.lights[3].through.at == pytest.approx((550, 400, 700))
    assert larger.cards[0].at[0] == was.cards[0].at[0] + 100


def test_a_ceiling_that_is_set_keeps_how_the_room_lies() -> None:
    room = _done(full(), act="room", ceiling_height=2600).room
    assert (room.ceiling_height, room.north, room.width, room.ceiling) == (2600, 200, 4000, "#ffffff")
    placed = _done(full(), act="room_place", north=-20, depth=3000).room
    assert (placed.north, placed.depth, placed.ceiling_height) == (-20, 3000, 2400)
    with pytest.raises(FieldError, match="must be given"):
        _done(full(), act="room_place")


def test_evaluate_is_not_changed_by_light() -> None:
    from tideflat.core.report import evaluation

    lit, dark = full(), full()
    for key in ("lights", "cards", "rig"):
        dark.pop(key)
        dark["setups"][1].pop(key)
    assert (
        evaluation(scene_from_value(lit), with_remedies=False)["setups"]["main"]["placements"]
        == evaluation(scene_from_value(dark), with_remedies=False)["setups"]["main"]["placements"]
    )
    assert picture(lit).scene.lights
