"""Several things put in order at once: what is promised of the frame is measured in the frame, whatever camera looks."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from tests.support.acts import stacked_value
from tests.support.scenes import camera_value
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.camera.view import view_of
from tideflat.core.errors import FieldError
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Scene
from tideflat.core.solids.body import pose

THINGS = ["jar", "orange", "bowl", "board"]
CAMERAS = {
    "from above": {"elevation": 90, "distance": 1100},
    "diner": {"elevation": 45, "distance": 1000},
    "walked round and rolled": {"elevation": 38, "distance": 1200, "azimuth": 35, "roll": 8},
    "low": {"elevation": 16, "distance": 1300},
    "bent": {"elevation": 50, "distance": 900, "lens": {"focal_length": 35, "distortion": [-0.12, 0.02, 0.001, -0.001, 0]}},
}


def scene_through(name: str) -> Scene:
    value = stacked_value()
    for setup in value["setups"]:
        setup["camera"] = camera_value(**{"aim": [450, 330, 0], **CAMERAS[name]})
    return scene_from_value(value)


def done(scene: Scene, **value: object) -> Scene:
    return perform(scene, act_from_value(value)).scene


def bodies_of(scene: Scene, ids=THINGS):
    seen = scene.seen_in(scene.setups[0])
    return {i: pose(seen.placement(i), seen.prop(seen.placement(i).prop).shape) for i in ids}


def in_frame(scene: Scene, points: np.ndarray) -> np.ndarray:
    """In heights of the frame."""
    view = view_of(scene.setups[0].camera)
    return view.project(np.asarray(points, dtype=float))[:, :2] * [view.aspect, 1.0]


def feet(scene: Scene, ids=THINGS) -> np.ndarray:
    return np.array([[scene.placement(i).x, scene.placement(i).y, scene.placement(i).z] for i in ids])


def off_line(places: np.ndarray) -> float:
    spread = places - places.mean(axis=0)
    return float(np.abs(np.linalg.svd(spread)[1][1]))


@pytest.mark.parametrize("name", CAMERAS)
def test_on_one_line_is_one_line_in_the_frame(name):
    scene = scene_through(name)
    after = done(scene, act="line_up", placements=THINGS)
    assert off_line(in_frame(scene, feet(scene))) > 0.02
    assert off_line(in_frame(after, feet(after))) < 3e-4  # places are kept to a tenth of a millimetre


def test_on_the_table_it_is_one_line_there_and_level_where_it_nearly_is():
    scene = scene_through("diner")
    after = feet(done(scene, act="line_up", placements=["jar", "orange"], through="table"), ["jar", "orange"])
    assert off_line(after[:, :2]) < 0.2
    flat = done(scene, act="shift", placements=["orange"], dx=200, dy=-85)  # 15 mm further back over 240 mm
    level = feet(done(flat, act="line_up", placements=["jar", "orange"], through="table"), ["jar", "orange"])
    assert level[0, 1] == level[1, 1]


@pytest.mark.parametrize("through", ["frame", "table"])
@pytest.mark.parametrize("name", CAMERAS)
def test_gaps_are_shared_out_between_outlines_and_the_ends_stay(name, through):
    scene = done(scene_through(name), act="line_up", placements=["board", "bowl", "jar", "orange"], through=through)
    scene = done(scene, act="shift", placements=["orange"], dx=130, dy=0)
    before, after = bodies_of(scene), bodies_of(done(scene, act="share_out", placements=THINGS, through=through))

    def spans(bodies):
        found = []
        for body in bodies.values():
            corners = (
                np.concatenate(body.parts)
                if len(body.parts)
                else body.spheres[:, :3] + np.array([[body.spheres[0, 3], 0, 0], [-body.spheres[0, 3], 0, 0]])
            )
            places = in_frame(scene, corners) if through == "frame" else corners[:, :2]
            found.append(places @ way)
        return [(a.min(), a.max()) for a in found]

    places = in_frame(scene, feet(scene)) if through == "frame" else feet(scene)[:, :2]
    way = np.linalg.svd(places - places.mean(axis=0))[2][0]
    way = np.array([1.0, 0.0]) if abs(way[0]) > np.cos(np.radians(15)) else way
    row = sorted(spans(after))
    gaps = [b[0] - a[1] for a, b in itertools.pairwise(row)]
    scale = 0.012 if through == "frame" else 1.0  # a ball reaches a little further in the frame than six places on it say
    assert max(gaps) - min(gaps) < scale
    moved = [i for i in THINGS if (before[i].placement.x, before[i].placement.y) != (after[i].placement.x, after[i].placement.y)]
    assert 1 <= len(moved) <= 2  # the ends stay


@pytest.mark.parametrize("name", CAMERAS)
def test_square_to_the_frame_has_its_sides_level_there(name):
    scene = scene_through(name)
    after = done(scene, act="square_up", placements=["board"])
    body = bodies_of(after, ["board"])["board"]
    corners = in_frame(after, body.placed_point(np.array([[-1.0, 0, 0], [1.0, 0, 0], [0, -1.0, 0], [0, 1.0, 0]])))
    tilt = [abs(np.degrees(np.arctan2(*(corners[b] - corners[a])[::-1]))) for a, b in ((0, 1), (2, 3))]
    off = min(min(t, 180 - t) for t in tilt)
    assert off < 0.5
    assert abs((after.placement("board").turn - scene.placement("board").turn + 180) % 360 - 180) <= 45.1


def test_facing_the_lens_points_the_front_at_it_and_from_above_at_the_foot_of_the_picture():
    scene = scene_through("walked round and rolled")
    after, position = done(scene, act="face_lens", placements=["jar"]), view_of(scene.setups[0].camera).position
    p = after.placement("jar")
    front = np.radians(p.turn - 90)
    to_lens = position[:2] - [p.x, p.y]
    assert [np.cos(front), np.sin(front)] == pytest.approx(list(to_lens / np.hypot(*to_lens)), abs=2e-3)
    assert done(scene_through("from above"), act="face_lens", placements=["board"]).placement("board").turn == 0


def test_turned_toward_a_thing_the_front_or_the_end_of_what_is_long_points_at_it():
    scene = scene_through("diner")
    after = done(scene, act="turn_toward", placements=["bowl"], at="jar")
    bowl, jar = after.placement("bowl"), after.placement("jar")
    front = np.radians(bowl.turn - 90)
    assert np.degrees(np.arctan2(jar.y - bowl.y, jar.x - bowl.x)) == pytest.approx(np.degrees(front), abs=0.1)
    spoon = done(scene, act="turn_toward", placements=["spoon"], at="jar").placement("spoon")
    way = np.degrees(np.arctan2(jar.y - spoon.y, jar.x - spoon.x))
    assert min(abs((spoon.turn - way + 180) % 360 - 180), abs((spoon.turn - way) % 360 - 180)) < 0.2
    assert abs((spoon.turn - scene.placement("spoon").turn + 180) % 360 - 180) <= 90.1
    with pytest.raises(FieldError, match="at: must be another"):
        done(scene, act="turn_toward", placements=["bowl"], at="bowl")


@pytest.mark.parametrize("name", CAMERAS)
def test_mirrored_twice_is_as_it_was_and_once_left_is_right(name):
    scene = scene_through(name)
    once = done(scene, act="mirror", placements=THINGS)
    twice = done(once, act="mirror", placements=THINGS)
    before, after = in_frame(scene, feet(scene)), in_frame(once, feet(once))
    middle = (before[:, 0].min() + before[:, 0].max()) / 2
    assert after == pytest.approx(np.column_stack([2 * middle - before[:, 0], before[:, 1]]), abs=4e-4)
    assert feet(twice) == pytest.approx(feet(scene), abs=0.6)
    turns = [(scene.placement(i).turn - twice.placement(i).turn + 180) % 360 - 180 for i in THINGS]
    assert turns == pytest.approx([0] * 4, abs=1.5)


def test_turned_about_their_middle_all_distances_stay_and_what_is_carried_goes_along():
    scene = scene_through("diner")
    ids = ["board", "jar", "dish"]  # the dish is on the board: it is not turned a second time
    after = done(scene, act="spin", placements=ids, by=73)
    far = lambda s: [float(np.hypot(*(feet(s)[a] - feet(s)[b])[:2])) for a, b in itertools.combinations(range(4), 2)]  # noqa: E731
    apart = lambda s, a, b: float(np.hypot(s.placement(a).x - s.placement(b).x, s.placement(a).y - s.placement(b).y))  # noqa: E731
    for a, b in itertools.combinations(["board", "jar", "dish", "spoon", "leaf"], 2):
        assert apart(after, a, b) == pytest.approx(apart(scene, a, b), abs=0.2)
    assert after.placement("dish").turn == pytest.approx(scene.placement("dish").turn + 73, abs=0.1)
    assert far(after)[5] != pytest.approx(far(scene)[5], abs=1)  # the bowl stayed where it was
    mean = lambda s: ((s.placement("board").x + s.placement("jar").x) / 2, (s.placement("board").y + s.placement("jar").y) / 2)  # noqa: E731
    assert mean(after) == pytest.approx(mean(scene), abs=0.1)


def test_what_is_locked_stops_all_of_them_and_is_named():
    scene = done(scene_through("diner"), act="lock_all", placements=["bowl"])
    for act in ({"act": "line_up"}, {"act": "shift", "dx": 5, "dy": 0}, {"act": "spin", "by": 5}, {"act": "remove_all"}):
        with pytest.raises(FieldError, match="bowl"):
            done(scene, placements=["orange", "jar", "bowl"], **act)


def test_in_one_set_up_alone_the_others_stay():
    scene = scene_through("diner")
    after = done(scene, act="shift", placements=["jar", "orange"], dx=30, dy=-10, setup="detail", only=True)
    assert after.placements == scene.placements
    here = after.seen_in(after.setup("detail"))
    assert (here.placement("jar").x, here.placement("orange").y) == (630, 390)
    # and what has its own place there is moved there, not on the shared table
    again = done(after, act="shift", placements=["jar", "bowl"], dx=1, dy=0, setup="detail")
    assert again.placement("jar").x == 600 and again.seen_in(again.setup("detail")).placement("jar").x == 631
    assert again.placement("bowl").x == 481


@pytest.mark.parametrize(("act", "most"), [("line_up", 1), ("share_out", 2), ("mirror", 1)])
def test_too_few_are_told(act, most):
    scene = scene_through("diner")
    with pytest.raises(FieldError, match="things or more"):
        done(scene, act=act, placements=THINGS[:most])
    done(scene, act=act, placements=THINGS[: most + 1])


def test_what_is_behind_the_lens_is_told_and_ordered_on_the_table():
    value = stacked_value()
    value["placements"][4]["y"] = -3000
    value["setups"][0]["camera"] = camera_value(elevation=20, distance=700, aim=[450, 330, 0])
    scene = scene_from_value(value)
    with pytest.raises(FieldError, match="in front of the lens"):
        done(scene, act="line_up", placements=["jar", "orange"])
    done(scene, act="line_up", placements=["jar", "orange"], through="table")


def test_duplicated_they_stand_to_each_other_as_the_first_do():
    scene = scene_through("diner")
    after = done(scene, act="duplicate_all", placements=["board", "jar"])
    fresh = [p for p in after.placements if p.id not in {q.id for q in scene.placements}]
    assert len(fresh) == 5  # the board carries three
    moved = {(round(p.x - scene.placement(p.id.rsplit("-", 1)[0]).x, 1), p.y - scene.placement(p.id.rsplit("-", 1)[0]).y) for p in fresh}
    assert len(moved) == 1
    assert [p.role for p in fresh if p.id == "jar-2"] == ["support"]
