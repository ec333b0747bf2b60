"""The order of building, measures by a tape, and how far each thing may drift: just inside holds, just outside something is found."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from tests.core.test_compare import flat
from tideflat.core.arrange.building import build_order
from tideflat.core.arrange.drift import FAR, TURN_FAR, WAYS, drift, found_anew, fussiest
from tideflat.core.evaluate import Picture
from tideflat.core.findings.spacing import tight_limit_mm
from tideflat.web.scenes.starters import starter

#: So far outside of what is told something is found, mm and degrees: what halving leaves over, and the hundredth that is told short.
_OUTSIDE = 0.05


def first_of(kind):
    scene = starter(kind)
    return Picture(scene, scene.setups[0])


@pytest.mark.parametrize("kind", ["marmalade", "supper", "tea", "fig"])
def test_what_lies_under_something_comes_before_it_and_what_is_strewn_last(kind):
    picture = first_of(kind)
    steps = build_order(picture)
    at = {s.id: s.number for s in steps}
    assert sorted(at) == sorted(picture.bodies) and [s.number for s in steps] == list(range(1, len(steps) + 1))
    for i, body in picture.bodies.items():
        if body.placement.on in at:
            assert at[body.placement.on] < at[i]
    strewn = [s.number for s in steps if picture.bodies[s.id].shape.is_strewn and picture.bodies[s.id].placement.role == "scatter"]
    free = [s.number for s in steps if picture.bodies[s.id].placement.role in ("hero", "support") and picture.bodies[s.id].placement.on is None]
    assert not strewn or min(strewn) > max(free)


def test_large_comes_before_small_and_measures_are_from_the_nearest_edges_or_a_cross():
    sizes = {k: {"kind": "cylinder", "diameter": d, "height": d} for k, d in enumerate((60, 120, 90))}
    picture = flat((200, 100), (700, 450), (451, 301), shapes=sizes)
    wide, deep = picture.scene.surface.width, picture.scene.surface.depth
    steps = build_order(picture)
    assert [s.id for s in steps] == ["t1", "t2", "t0"]
    by = {s.id: s for s in steps}
    assert (by["t0"].across, by["t0"].across_from, by["t0"].deep, by["t0"].deep_from) == (200, "left", 100, "front")
    assert (by["t1"].across, by["t1"].across_from) == (min(700, wide - 700), "left" if wide / 2 >= 700 else "right")
    assert by["t1"].deep == min(450, deep - 450)
    crossed = {s.id: s for s in build_order(picture, (300, 200))}
    assert (crossed["t0"].across, crossed["t0"].deep, crossed["t0"].across_from) == (-100, -100, "the cross")
    assert by["t0"].turn is None  # it is round


def test_toward_its_neighbour_a_thing_may_drift_by_what_the_gap_leaves():
    limit = tight_limit_mm(0)
    picture = flat((300, 300), (380 + limit + 9, 300))
    found = drift(picture, "t1")
    left = found.ways[WAYS.index(180)]
    assert left.far == pytest.approx(9, abs=0.05) and left.ends_with == "spacing.tight"
    away = found.ways[WAYS.index(0)]
    assert away.ends_with is None and away.far == pytest.approx(FAR * picture.size_at_aim[0], rel=0.1)
    assert found.turns is None and found.least == left.far


@pytest.mark.parametrize(
    ("kind", "things"), [("fig", ("fig-1",)), ("supper", ("fork",)), ("marmalade", ("jar-1",)), ("tea", ("scoop",))]
)
def test_just_inside_holds_and_just_outside_something_is_found(kind, things):
    picture = first_of(kind)
    limited = 0
    for i in things:
        found = drift(picture, i)
        for way, reach in zip(WAYS, found.ways, strict=True):
            t = math.radians(way)
            for share in (0.35, 0.8, 1.0):
                far = reach.far * share
                assert found_anew(picture, i, far * math.cos(t), far * math.sin(t)) is None, (i, way, share)
            if reach.ends_with is not None:
                limited += 1
                far = reach.far + _OUTSIDE
                assert found_anew(picture, i, far * math.cos(t), far * math.sin(t)) is not None, (i, way)
        for sign, turn in zip((1, -1), found.turns or (), strict=False):
            assert found_anew(picture, i, turn=sign * turn.far) is None
            assert turn.ends_with is None or found_anew(picture, i, turn=sign * (turn.far + _OUTSIDE)) is not None
            assert turn.far <= TURN_FAR
    assert limited


def test_what_it_carries_drifts_along_a_lock_hinders_no_hand_and_what_is_meant_is_no_end():
    picture = first_of("supper")
    scene = picture.whole
    locked = picture.changed(replace(scene, placements=tuple(replace(p, locked=True) for p in scene.placements)))
    assert drift(locked, "cream") == drift(picture, "cream")
    plain = flat((300, 300), (380 + tight_limit_mm(0) + 9, 300))
    meant = plain.whole.meant
    assert drift(plain, "t1").ways[WAYS.index(180)].ends_with == "spacing.tight" and not meant


def test_the_fussiest_are_those_that_may_drift_least():
    limit = tight_limit_mm(0)
    picture = flat((150, 300), (230 + limit + 3, 300), (700, 300), (780 + limit + 12, 300), roles=("hero", "support"))
    found = [drift(picture, i) for i in picture.bodies]
    assert {d.id for d in fussiest(found, 2)} == {"t0", "t1"}
    alone = drift(flat((450, 300)), "t0")
    assert fussiest([alone]) == () and np.isfinite(alone.least)
