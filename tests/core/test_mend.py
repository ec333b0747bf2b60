"""Mended by small moves: what is told as cleared is gone, nothing as grave is new, nothing locked or kept moves; and what is read as a scheme."""

from __future__ import annotations

import random
from dataclasses import replace

import numpy as np
import pytest

from tests.core.test_compare import flat
from tests.support.acts import chance_scene
from tests.support.arranged import table_of
from tideflat.core.arrange.mend import mend
from tideflat.core.arrange.polish import POLISHED_AWAY, polished
from tideflat.core.arrange.problem import problem_of
from tideflat.core.arrange.propose import propose
from tideflat.core.arrange.reading import clarity, distances, reads_as
from tideflat.core.composition.schemes import curves
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings
from tideflat.core.findings.spacing import tight_limit_mm
from tideflat.core.remedies.proof import judged
from tideflat.web.scenes.starters import starter


def first_of(kind):
    scene = starter(kind)
    return Picture(scene, scene.setups[0])


def kinds(picture):
    return {(f.code, f.placements, f.crop) for f in judged(picture.whole, picture)[picture.setup.name] if f.severity != "taste"}


def test_two_that_crowd_each_other_are_parted_by_little_more_than_is_missing():
    limit = tight_limit_mm(0)
    picture = flat((300, 300), (380 + limit - 5, 300))
    found = mend(picture)
    assert [f.code for f in found.cleared] == ["spacing.tight"] and [f.code for f in found.left] == ["hero.small"]
    assert len(found.leads) == 1 and 5 <= found.total_mm <= 8
    kept = mend(picture, keep=[found.leads[0].id])
    assert [p.id for p in kept.leads] != [found.leads[0].id]
    assert mend(picture, keep=["t0", "t1"]).leads == ()


@pytest.mark.parametrize("kind", ["marmalade", "supper", "tea", "fig"])
def test_the_demo_scenes_are_mended_and_nothing_as_grave_is_new_in_any_set_up(kind):
    picture = first_of(kind)
    found = mend(picture)
    before, after = kinds(picture), kinds(found.picture)
    assert all(any(k[0] == w[0] and k[2] == w[2] and set(k[1]) <= set(w[1]) for w in before) for k in after)
    assert sum(len(k[1]) for k in after) < sum(len(k[1]) for k in before)
    for f in found.cleared:
        assert not any(k[0] == f.code and set(k[1]) <= set(f.placements) for k in after)
    for setup in picture.whole.setups[1:]:
        assert kinds(found.picture.changed(found.picture.whole, setup.name)) <= kinds(picture.changed(picture.whole, setup.name))
    still = {m.id for m in found.moved}
    for p in picture.whole.placements:
        if p.locked:
            assert p.id not in still


@pytest.mark.parametrize("seed", range(2))
def test_scenes_by_chance_are_never_made_worse_and_what_is_locked_stays(seed):
    whole = chance_scene(random.Random(seed))
    lock = {p.id for k, p in enumerate(whole.placements) if k % 3 == 0}
    whole = replace(whole, placements=tuple(replace(p, locked=p.id in lock) for p in whole.placements))
    picture = Picture(whole, whole.setups[0])
    found = mend(picture)
    assert kinds(found.picture) <= kinds(picture)
    for i in lock:
        a, b = whole.placement(i), found.picture.whole.placement(i)
        assert (a.x, a.y, a.z, a.turn) == (b.x, b.y, b.z, b.turn)
    assert {p.id: p.locked for p in found.leads} == {p.id: whole.placement(p.id).locked for p in found.leads}


def test_it_can_be_stopped():
    assert mend(first_of("marmalade"), goes_on=lambda share: False).leads == ()


def test_a_polish_takes_weaknesses_away_and_moves_little():
    picture = first_of("marmalade")
    rough = [p for seed in (5, 8) for p in propose(picture, scheme="any", count=3, seed=seed, is_first_look=True).proposals]
    before = frozenset(f.code for f in findings(picture))
    better = polished(rough, before, 1)
    assert sum(len(p.weaknesses) for p in better) < sum(len(p.weaknesses) for p in rough)
    for a, b in zip(rough, better, strict=True):
        far = [
            np.hypot((b.picture.things[i].centre[0] - t.centre[0]) * picture.view.aspect, b.picture.things[i].centre[1] - t.centre[1])
            for u in a.problem.mobile
            if (i := a.problem.units[u].lead) and (t := a.picture.things[i]).centre and b.picture.things[i].centre
        ]
        assert np.mean(far) / np.hypot(picture.view.aspect, 1) <= POLISHED_AWAY + 0.001


@pytest.mark.parametrize("elevation", [90, 45])
def test_nine_of_ten_read_as_the_scheme_that_they_are_named_after(elevation):
    scene = table_of(14, elevation)
    picture = Picture(scene, scene.setups[0])
    problem = problem_of(picture)
    every = curves(problem.layout)
    found = propose(picture, scheme="any", count=8, seed=11, effort=0.2, is_polished=False).proposals
    from tests.core.test_arrange import where

    right = sum(reads_as(problem, where(problem, p), every).kind == p.scheme.kind for p in found)
    assert len(found) == 8 and right >= 7 and len({p.scheme.kind for p in found}) >= 4


def test_things_along_a_line_read_as_it_and_clearly():
    scene = table_of(14, 90)
    problem = problem_of(Picture(scene, scene.setups[0]))
    every = curves(problem.layout)
    scale = np.array([problem.view.aspect, 1.0])
    for wanted in ("s-curve", "border", "diagonal", "squared"):
        curve = next(c for c in every if c.kind == wanted)
        at = np.linspace(0, len(curve.points) - 1, len(problem.units)).round().astype(int)
        middles = curve.points[at] * scale
        middles[problem.heroes[0]] = np.array(curve.hero) * scale
        far = distances(problem, middles, every)
        assert reads_as(problem, middles, every).kind == wanted
        assert clarity(far, [c.kind for c in every], wanted) > 0
        other = next(c.kind for c in every if c.kind != wanted)
        assert clarity(far, [c.kind for c in every], other) < 0
