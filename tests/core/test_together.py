"""Arrangements for all set-ups that share the table: none of them is harmed; what a set-up has for itself is its own affair."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.support.arranged import table_of
from tideflat.core.arrange.checked import NEVER, harmed_elsewhere
from tideflat.core.arrange.elsewhere import set_ups_beside
from tideflat.core.arrange.energy import Judge
from tideflat.core.arrange.problem import problem_of
from tideflat.core.arrange.propose import propose
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings
from tideflat.core.model import Difference, Scene


def two(**second) -> Scene:
    """The table of fourteen, and a second camera that looks from the side at 50 degrees at a part of it."""
    scene = table_of(14, 90)
    main = scene.setups[0]
    camera = replace(main.camera, elevation=50.0, azimuth=30.0, distance=1300.0)
    return replace(scene, setups=(main, replace(main, name="aside", camera=camera, **second)))


def first(scene: Scene) -> Picture:
    return Picture(scene, scene.setups[0])


def test_a_problem_knows_the_others_only_where_that_is_asked_for():
    scene = two()
    assert problem_of(first(scene)).beside == ()
    (beside,) = problem_of(first(scene), together=True).beside
    assert beside.picture.setup.name == "aside" and beside.shown == {p.id for p in scene.placements}
    own = two(differs=(Difference("t1", (("x", 100.0),)),), hidden=("t2",))
    (beside,) = problem_of(first(own), together=True).beside
    assert beside.shown == {p.id for p in scene.placements} - {"t1", "t2"}
    units = problem_of(first(scene)).units
    assert set_ups_beside(first(table_of(14, 90)), units) == ()


def test_where_a_hero_stands_costs_what_the_other_set_up_loses_of_it():
    picture = first(two())
    alone, both = (Judge(problem_of(picture, together=t), ()) for t in (False, True))
    view = picture.changed(picture.whole, "aside").view
    inside = view.on_plane(0.45, 0.5, 15.0)
    outside = view.on_plane(0.02, 0.5, 15.0)
    x, y = (np.array([inside[k], outside[k]]) for k in (0, 1))
    more = both.looks(0, x, y, np.zeros(2)).wrong - alone.looks(0, x, y, np.zeros(2)).wrong
    assert more[0] == pytest.approx(0, abs=1e-9) and more[1] > 0.5


def test_none_is_harmed_and_alone_some_are():
    scene = two()
    picture = first(scene)
    beside = problem_of(picture, together=True).beside
    wish = {"scheme": "any", "count": 4, "seed": 4, "effort": 0.5, "is_polished": False}
    alone, both = propose(picture, **wish).proposals, propose(picture, **wish, together=True).proposals
    assert both and not any(harmed_elsewhere(picture, beside, p.leads) for p in both)
    assert any(harmed_elsewhere(picture, beside, p.leads) for p in alone)
    had = {f.key for f in findings(picture.changed(scene, "aside"))}
    placed = {p.id: p for p in both[0].moved}
    moved = replace(scene, placements=tuple(placed.get(p.id, p) for p in scene.placements))
    assert not [f for f in findings(Picture(moved, moved.setup("aside"))) if f.code in NEVER and f.key not in had]
