"""Rows, arcs, circles and what is strewn: counts, steps and evenness, in the frame and on the table."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.test_several import CAMERAS, in_frame, scene_through
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.errors import FieldError


def row_of(scene, thing="jar", **more):
    before = {p.id for p in scene.placements}
    after = perform(scene, act_from_value({"act": "repeat", "placement": thing, **more})).scene
    fresh = [p for p in after.placements if p.id not in before and p.on is None]
    return after, [scene.placement(thing), *fresh]


def places(row):
    return np.array([[p.x, p.y, p.z] for p in row])


@pytest.mark.parametrize("angle", [0, 35, 90, 200])
@pytest.mark.parametrize("name", CAMERAS)
def test_a_line_is_even_in_the_frame_and_its_first_step_is_the_one_asked_for(name, angle):
    scene = scene_through(name)
    _, row = row_of(scene, count=4, step=40, angle=angle)
    seen = in_frame(scene, places(row))
    steps = np.diff(seen, axis=0)
    assert np.hypot(*steps.T) == pytest.approx([np.hypot(*steps[0])] * 3, abs=6e-4)
    assert (
        np.degrees(np.arctan2(-steps[0, 1], steps[0, 0])) % 360 == pytest.approx(angle, abs=0.6) or (angle == 0 and abs(steps[0, 1]) < 1e-3)
    )
    if name != "low" and name != "bent":
        assert float(np.hypot(*(places(row)[1] - places(row)[0])[:2])) == pytest.approx(40, rel=0.12)


def test_on_the_table_a_line_has_equal_steps_there():
    _, row = row_of(scene_through("diner"), count=5, step=60, angle=30, through="table")
    steps = np.diff(places(row)[:, :2], axis=0)
    assert steps == pytest.approx(np.tile([60 * np.cos(np.pi / 6), 30], (4, 1)), abs=0.11)


def test_an_arc_keeps_its_radius_and_turns_along():
    scene = scene_through("diner")
    _, row = row_of(scene, count=4, form="arc", step=50, radius=200, turned=True, through="table")
    middle = np.array([600.0, 500.0])  # left of the way on, which is to the right
    assert np.hypot(*(places(row)[:, :2] - middle).T) == pytest.approx([200] * 4, abs=0.1)
    assert [p.turn for p in row] == pytest.approx([k * np.degrees(0.25) for k in range(4)], abs=0.1)
    _, right = row_of(scene, count=4, form="arc", step=50, radius=-200, turned=True, through="table")
    assert right[3].y < 300 and right[3].turn == pytest.approx(-3 * np.degrees(0.25), abs=0.1)
    with pytest.raises(FieldError, match="radius: must be a third"):
        row_of(scene, count=4, form="arc", step=50, radius=10)


@pytest.mark.parametrize("count", [2, 5, 8])
def test_a_circle_goes_all_the_way_round_in_the_plane_it_is_even_in(count):
    scene = scene_through("diner")
    _, row = row_of(scene, count=count, form="circle", around="bowl", through="table")
    arms = places(row)[:, :2] - [480, 450]
    angles = np.sort(np.degrees(np.arctan2(arms[:, 1], arms[:, 0])) % 360)
    assert np.diff([*angles, angles[0] + 360]) == pytest.approx([360 / count] * count, abs=0.2)
    assert np.hypot(*arms.T) == pytest.approx([np.hypot(120, 150)] * count, abs=0.1)
    _, seen = row_of(scene, count=count, form="circle", around="bowl")
    centre = in_frame(scene, np.array([[480.0, 450.0, 0.0]]))
    radii = np.hypot(*(in_frame(scene, places(seen)) - centre).T)
    assert radii == pytest.approx([radii[0]] * count, abs=5e-4)


def test_strewn_they_keep_apart_are_the_same_again_and_too_many_are_told():
    scene = scene_through("from above")
    _, row = row_of(scene, thing="orange", count=7, form="strewn", step=50, width=300, depth=200)
    at = places(row)[:, :2]
    far = [float(np.hypot(*(at[a] - at[b]))) for a in range(7) for b in range(a)]
    assert min(far) >= 49.8 and np.abs(at - at[0]).max(axis=0) == pytest.approx([150, 100], abs=150)
    assert (np.abs(at - at[0]) <= [150.1, 100.1]).all()
    assert places(row_of(scene, thing="orange", count=7, form="strewn", step=50, width=300, depth=200)[1]) == pytest.approx(places(row))
    with pytest.raises(FieldError, match="count: must be at most"):
        row_of(scene, thing="orange", count=30, form="strewn", step=50, width=100, depth=100)


def test_what_it_carries_is_repeated_with_it():
    after, row = row_of(scene_through("diner"), thing="board", count=2, step=300)
    twin = row[1].id
    assert len(after.carried_by(twin)) == 3
