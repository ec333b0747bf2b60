"""The set turned after the sun: its way over the table stays, windows go round, cards go along and are carried until they fill as much."""

from __future__ import annotations

import copy
import math
from typing import Any

import pytest

from tests.support.lit import CYLINDER, LAMP, picture, table, thing
from tests.support.scenes import camera_value
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.errors import DocumentError, FieldError
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.light.keeping import as_high_again, fill_share
from tideflat.core.light.sources import sources_of
from tideflat.core.light.sun import moment_of, sun_at
from tideflat.core.model import Sun, Window

SUN = {"id": "sun", "kind": "sun", "latitude": 54, "longitude": 10, "time": "2026-06-21T16:00:00+02:00"}
WINDOW = {"id": "window", "kind": "window", "at": [-900, 300, 500], "toward": [1, 0, 0], "width": 900, "height": 900, "stops": -6}
CARD = {"id": "card", "kind": "white", "at": [900, 330, 150], "toward": [-1, 0, 0], "width": 500, "height": 300}
ROOM = {"ceiling_height": None, "walls": "#efeeea", "north": 10}


def lit(lights: list[dict[str, Any]], cards: list[dict[str, Any]] = (), room: dict[str, Any] = ROOM) -> dict[str, Any]:  # type: ignore[assignment]
    return table(copy.deepcopy(lights), [thing(1, CYLINDER, 450, 300, role="hero")], cards=list(cards), room=room)


def kept(value: dict[str, Any], time: str, setup: str = "main") -> Any:
    return perform(scene_from_value(value), act_from_value({"act": "keep_shadow", "setup": setup, "time": time}))


def way(scene: Any, setup: str = "main") -> Any:
    seen = scene.seen_in(scene.setup(setup))
    return next(s.to_sun for s in sources_of(seen.lights, seen.room) if s.to_sun is not None)


@pytest.mark.parametrize("clock", ["09:10", "12:40", "14:00", "18:30", "20:15"])
def test_the_suns_way_over_the_table_stays_and_what_stands_round_it_goes_along(clock):
    value = lit([SUN, WINDOW, LAMP], [CARD])
    before = scene_from_value(value)
    done = kept(value, f"2026-06-21T{clock}:00+02:00")
    old, new = way(before), way(done.scene)
    turn = math.degrees(math.atan2(old[1], old[0]) - math.atan2(new[1], new[0]))
    assert abs((turn + 180) % 360 - 180) < 0.06
    longer = (math.hypot(new[0], new[1]) / new[2]) / (math.hypot(old[0], old[1]) / old[2])
    assert dict(done.figures)["longer"] == pytest.approx(longer, abs=0.006)
    assert dict(done.figures)["stops"] == pytest.approx(math.log2(new[2] / old[2]), abs=0.006)
    assert done.scene.lights[2] == before.lights[2]  # a lamp goes along
    degrees = math.radians(-dict(done.figures)["degrees"])
    x, y = before.surface.width / 2, before.surface.depth / 2
    ax, ay = before.lights[1].at[0] - x, before.lights[1].at[1] - y
    assert done.scene.lights[1].at[:2] == pytest.approx(
        (x + ax * math.cos(degrees) - ay * math.sin(degrees), y + ax * math.sin(degrees) + ay * math.cos(degrees)), abs=0.01
    )


def share(scene: Any, setup: str = "main") -> float:
    from tideflat.core.evaluate import Picture

    seen = Picture(scene, scene.setup(setup))
    found = fill_share(seen.scene, seen.bodies[seen.hero_ids()[0]].centroid, seen.scene.cards)
    assert found is not None
    return found


def test_a_card_is_carried_until_it_fills_as_much_again():
    value = lit([SUN], [{**CARD, "at": [-100, 330, 150], "toward": [1, 0, 0]}], {**ROOM, "north": 180})
    value["surface"]["colours"] = [{"hex": "#e0e0e0", "share": 1.0}]  # it fills less from a lower sun
    before = scene_from_value(value)
    done = kept(value, "2026-06-21T19:40:00+02:00")
    figures = dict(done.figures)
    assert figures["card"] == "card" and figures["nearer"] != 0
    assert math.log2(share(done.scene) / share(before)) == pytest.approx(0, abs=0.1)
    unmoved = scene_from_value(
        {**value, "lights": [{**SUN, "time": "2026-06-21T19:40:00+02:00"}], "room": {**value["room"], "north": done.scene.room.north}}
    )
    assert abs(math.log2(share(unmoved) / share(before))) > 0.1
    (ax, ay, az), (bx, by, bz) = before.cards[0].at, done.scene.cards[0].at
    hero = picture(value).bodies[picture(value).hero_ids()[0]].centroid
    assert az == bz and (bx - hero[0]) * (ay - hero[1]) == pytest.approx((by - hero[1]) * (ax - hero[0]), rel=0.01)
    assert figures["nearer"] > 0
    black = kept({**value, "cards": [{**value["cards"][0], "kind": "black"}]}, "2026-06-21T19:40:00+02:00")
    assert "card" not in dict(black.figures)


def test_a_moment_later_nothing_is_carried():
    done = kept(lit([SUN], [CARD]), "2026-06-21T16:04:00+02:00")
    assert "card" not in dict(done.figures) and 0.5 < -dict(done.figures)["degrees"] < 2


def test_a_set_up_with_a_sun_of_its_own():
    value = lit([LAMP, WINDOW])
    value["setups"].append({"name": "sun", "camera": camera_value(), "lights": [SUN, WINDOW], "cards": [CARD]})
    done = kept(value, "2026-06-21T18:00:00+02:00", "sun")
    own = done.scene.setup("sun")
    assert own.lights[0].time.startswith("2026-06-21T18:00") and own.lights[1].at == done.scene.lights[1].at != (-900, 300, 500)
    assert done.scene.cards == () and dict(done.figures).get("reaches") is not False


def test_the_sun_of_another_set_up_keeps_its_time_and_its_card_its_place():
    value = lit([SUN, WINDOW], [CARD])
    value["surface"]["colours"] = [{"hex": "#e0e0e0", "share": 1.0}]
    value["setups"].append({"name": "own", "camera": camera_value(), "lights": [SUN, WINDOW], "cards": [CARD]})
    for changed, other in (("main", "own"), ("own", "main")):
        done = kept(value, "2026-06-21T19:40:00+02:00", changed).scene
        seen, left = (done.seen_in(done.setup(name)) for name in (changed, other))
        assert "T19:40" in seen.lights[0].time and "T16:00" in left.lights[0].time
        assert left.cards[0].at == (900, 330, 150)
        assert seen.lights[1].at == left.lights[1].at != (-900, 300, 500)  # the table is turned for both


def test_whether_it_still_comes_through_its_window():
    through = [{**SUN, "through": "window"}, {**WINDOW, "at": [-900, -600, 900], "toward": [0.7, 0.7, 0], "width": 3000, "height": 3000}]
    room = {**ROOM, "north": 20}
    now = scene_from_value(lit(through, room=room))
    assert next(s for s in sources_of(now.lights, now.room) if s.to_sun is not None).opening is not None
    found = {clock: dict(kept(lit(through, room=room), f"2026-06-21T{clock}:00+02:00").figures)["reaches"] for clock in ("16:10", "09:00")}
    assert found == {"16:10": True, "09:00": False}


@pytest.mark.parametrize(
    ("value", "time", "rule"),
    [
        (lit([LAMP]), "2026-06-21T18:00:00+02:00", "sun that is on"),
        (lit([{**SUN, "on": False}]), "2026-06-21T18:00:00+02:00", "sun that is on"),
        (lit([SUN]), "2026-06-21T01:00:00+02:00", "when the sun is up"),
        (lit([{**SUN, "time": "2026-06-21T01:00:00+02:00"}]), "2026-06-21T12:00:00+02:00", "sun up now"),
        (lit([SUN], room={**ROOM, "x": 450, "y": 300, "width": 4000, "depth": 3500}), "2026-06-21T12:00:00+02:00", "walls"),
    ],
)
def test_what_cannot_be_kept_is_said(value, time, rule):
    with pytest.raises(FieldError, match=rule):
        kept(value, time)


def test_a_time_needs_its_offset():
    with pytest.raises(DocumentError, match="offset"):
        act_from_value({"act": "keep_shadow", "setup": "main", "time": "2026-06-21T18:00:00"})


@pytest.mark.parametrize(
    ("latitude", "time"), [(54, "2026-06-21T16:00:00+02:00"), (-33, "2026-01-10T09:00:00+01:00"), (0, "2026-03-20T15:00:00+00:00")]
)
def test_as_high_again_on_the_other_side_of_noon(latitude, time):
    sun = Sun("sun", latitude=latitude, longitude=10, time=time)
    again = as_high_again(sun)
    assert again is not None
    now, then = (sun_at(latitude, 10, when) for when in (moment_of(time), again))
    assert then.elevation == pytest.approx(now.elevation, abs=0.15)
    assert abs((again - moment_of(time)).total_seconds()) > 600
    # symmetrical about the highest stand, which lies half-way
    half = moment_of(time) + (again - moment_of(time)) / 2
    assert all(sun_at(latitude, 10, half).elevation >= sun_at(latitude, 10, w).elevation for w in (moment_of(time), again))


def test_by_night_never_again():
    assert as_high_again(Sun("sun", latitude=54, longitude=10, time="2026-12-21T01:00:00+01:00")) is None


def test_windows_alone_are_turned():
    done = kept(lit([SUN, WINDOW, LAMP]), "2026-06-21T18:00:00+02:00")
    assert [isinstance(light, Window) for light in done.scene.lights] == [False, True, False]
    assert done.scene.room.north == pytest.approx((10 - dict(done.figures)["degrees"] + 180) % 360 - 180, abs=0.01)
