"""Arrangements proposed: the fast bound is never optimistic, what is proposed holds by every rule, differs, and leaves alone what is kept."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely

from tests.support.scenes import scene_value
from tideflat.core.arrange.checked import NEVER
from tideflat.core.arrange.choose import DISTINCT, middles_of, unlike
from tideflat.core.arrange.energy import Judge
from tideflat.core.arrange.problem import DIRECTIONS, WAYS, problem_of
from tideflat.core.arrange.propose import propose, scheme_named
from tideflat.core.arrange.search import Found
from tideflat.core.composition.schemes import curves, length_of
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import scene_value as written
from tideflat.core.model import SCHEME_KEYS, SCHEMES, Scheme
from tideflat.core.report import evaluation
from tideflat.web.scenes.starters import starter

#: Enough of a search for a test: the whole one takes seconds.
QUICK = 0.3


def picture(kind: str, setup: int = 0) -> Picture:
    scene = starter(kind)
    return Picture(scene, scene.setups[setup])


# ---- what is known of outlines


SHAPES = [
    {"kind": "cylinder", "diameter": 80, "height": 90},
    {"kind": "box", "width": 150, "depth": 60, "height": 40},
    {"kind": "bowl", "diameter": 140, "base_diameter": 80, "height": 50},
    {"kind": "bottle", "diameter": 70, "height": 260, "neck_diameter": 27, "neck_height": 100},
    {"kind": "cone", "base_diameter": 90, "top_diameter": 40, "height": 70},
    {"kind": "sphere", "diameter": 75},
    {"kind": "ellipse", "width": 160, "depth": 70, "height": 20},
    {"kind": "rod", "length": 210, "width": 24, "height": 8},
    {"kind": "outline", "points": [[0, 0], [120, 10], [90, 70], [40, 30], [10, 90]], "height": 15},
]


def two(first: dict, second: dict, x: float, y: float, turn: float):
    value = scene_value()
    colours = [{"hex": "#a97a48", "share": 1}]
    value["props"] = [{"id": f"s{k}", "name": f"s{k}", "shape": s, "colours": colours} for k, s in enumerate((first, second))]
    value["placements"] = [
        {"id": "a", "prop": "s0", "x": 400, "y": 300, "turn": 17, "role": "support"},
        {"id": "b", "prop": "s1", "x": x, "y": y, "turn": turn, "role": "support"},
    ]
    value["groups"] = []
    value["setups"][0] |= {"hidden": [], "swap": {}, "deliverables": []}
    scene = scene_from_value({**value, "setups": value["setups"][:1]})
    return Picture(scene, scene.setups[0])


@pytest.mark.parametrize("seed", range(25))
def test_a_gap_is_never_told_larger_than_it_is_and_hardly_smaller(seed):
    """Against Shapely's distance of the true outlines, 500 pairs of every kind of shape; hulls stand for outlines that are not convex."""
    random = np.random.default_rng(seed)
    for _ in range(20):
        first, second = (SHAPES[int(random.integers(len(SHAPES)))] for _ in range(2))
        x, y = 400 + random.uniform(-260, 260), 300 + random.uniform(-260, 260)
        seen = two(first, second, x, y, float(random.uniform(-180, 180)))
        problem = problem_of(seen)
        judge = Judge(problem, ())
        looks = [judge.looks(k, *(np.array([v]) for v in (u.x, u.y, 0.0))) for k, u in enumerate(problem.units)]
        opposite = (np.arange(WAYS) + WAYS // 2) % WAYS
        told = float((-looks[1].table[0, opposite] - looks[0].table[0]).max())
        hulls = [shapely.convex_hull(seen.bodies[i].footprint) for i in "ab"]
        true = float(shapely.distance(*hulls))
        if true > 0:
            assert told <= true + 0.05
            assert told >= 0.98 * true - 24.0  # long things stand aslant to every direction that is asked
        else:
            assert told <= 0.05


def test_reach_in_the_frame_is_the_outlines_own():
    seen = picture("supper")
    problem = problem_of(seen)
    judge = Judge(problem, ())
    for k, unit in enumerate(problem.units):
        look = judge.looks(k, *(np.array([v]) for v in (unit.x, unit.y, 0.0)))
        outlines = shapely.union_all([seen.silhouettes[i].outline for i in unit.ids])
        points = shapely.get_coordinates(shapely.convex_hull(outlines)) * [seen.view.aspect, 1.0]
        assert np.abs((points @ DIRECTIONS.T).max(axis=0) - look.frame[0]).max() < 0.025, unit.lead


def test_what_is_carried_and_what_is_grouped_moves_as_one_and_what_is_locked_not():
    seen = picture("marmalade")
    problem = problem_of(seen, keep=["jar-1"])
    units = {u.lead: u for u in problem.units}
    assert set(units["board"].ids) == {"board", "half-1", "half-2", "slice-1", "slice-2"}
    assert set(units["orange-1"].ids) == {"orange-1", "orange-2"} and units["orange-1"].turns == 0
    assert units["jar-1"].is_fixed and not units["jar-2"].is_fixed
    locked = replace(seen.scene, placements=tuple(replace(p, locked=p.id == "half-1") for p in seen.scene.placements))
    assert {u.lead for u in problem_of(Picture(locked, locked.setups[0])).units if u.is_fixed} == {"board"}


# ---- schemes


@pytest.mark.parametrize("kind", SCHEMES)
def test_a_scheme_lies_in_the_frame_clear_of_what_is_kept_for_words(kind):
    problem = problem_of(picture("supper"))
    found = curves(problem.layout, Scheme(kind))
    assert found
    for curve in found:
        assert curve.scheme.kind == kind and {k for k, _ in curve.scheme.values} == set(SCHEME_KEYS[kind])
        inside = (curve.points > -0.01) & (curve.points < 1.01)
        assert inside.all() or kind in ("off-centre", "depth-diagonal")
        assert 0 <= curve.hero[0] <= 1 and 0 <= curve.hero[1] <= 1
        again = scene_from_value({**scene_value(), "scheme": {"kind": kind, **{k: v for k, v in curve.scheme.values}}})
        assert written(again)["scheme"]["kind"] == kind  # what the program chose is what a document may say


def test_what_a_document_says_of_its_scheme_is_taken():
    problem = problem_of(picture("marmalade"))
    (one,) = curves(problem.layout, Scheme("crescent", (("opens", "left"), ("centre", (0.4, 0.6)), ("radius", 0.2))))
    off = (one.points - [0.4, 0.6]) * [problem.view.aspect, 1.0]
    assert (np.hypot(*off.T) > 0.19).all() and off[:, 0].max() > 0.15 and off[np.abs(off[:, 1]) < 0.03][:, 0].min() > 0
    assert len(curves(problem.layout, Scheme("triangle", (("points", ((0.1, 0.1), (0.9, 0.1), (0.5, 0.9))),)))) == 1
    assert {c.kind for c in curves(problem.layout)} >= {"crescent", "diagonal", "centre", "off-centre", "s-curve", "triangle", "arc", "border"}
    assert length_of(one, problem.view.aspect) > length_of(one, problem.view.aspect, ((0.0, 0.0, 0.5, 1.0),)) > 0


# ---- proposals


def stands_by_itself(scene, proposal) -> None:
    """Judged anew from the document, with nothing of the search."""
    value = written(scene)
    moved = proposal.value()["placements"]
    for p in value["placements"]:
        p.update(moved.get(p["id"], {}))
    value["setups"] = value["setups"][:1]
    value["setups"][0] = {**value["setups"][0], "differs": {}}
    said = evaluation(scene_from_value(value), with_remedies=False)["setups"][value["setups"][0]["name"]]
    never = {"spacing.overlap", "support.floating", "support.leaning", "hero.cut", "copy.occupied"}
    assert not [f for f in said["findings"] if f["code"] in never]
    for p in value["placements"]:
        if p["id"] in said["placements"] and p["role"] != "off-frame":
            assert said["placements"][p["id"]]["inside_frame_share"] > 0, p["id"]
        if p["role"] == "hero":
            assert said["placements"][p["id"]]["visible_share"] >= 0.9


@pytest.mark.parametrize(("kind", "least"), [("marmalade", 5), ("supper", 3), ("tea", 4)])
def test_what_is_proposed_holds_differs_and_is_the_same_for_a_seed(kind, least):
    seen = picture(kind)
    found = propose(seen, scheme="any", count=6, seed=3, effort=QUICK, is_polished=False)
    assert found.reason is None and len(found.proposals) >= least
    problem = problem_of(seen)
    for p in found.proposals:
        stands_by_itself(seen.scene, p)
        assert p.strengths and p.scheme.kind in SCHEMES
    places = [where(problem, p) for p in found.proposals]
    for k, a in enumerate(places):
        for b in places[k + 1 :]:
            assert unlike(problem, a, b) >= DISTINCT - 0.002
    assert len({p.scheme.kind for p in found.proposals}) >= min(3, least - 1)
    assert [p.energy for p in found.proposals] == sorted(p.energy for p in found.proposals)
    if kind != "marmalade":
        return
    again = propose(seen, scheme="any", count=6, seed=3, effort=QUICK, is_polished=False)
    assert [p.value() for p in again.proposals] == [p.value() for p in found.proposals]
    other = propose(seen, scheme="any", count=6, seed=4, effort=QUICK, is_polished=False)
    assert [p.value() for p in other.proposals] != [p.value() for p in found.proposals]


def where(problem, proposal) -> np.ndarray:
    after = {p.id: p for p in proposal.picture.scene.placements}
    places = []
    for u in problem.units:
        p, before = after[u.lead], problem.picture.scene.placement(u.lead)
        places.append((p.x, p.y, p.turn - before.turn))
    return middles_of(Judge(problem, ()), [Found(np.array(places), 0.0, 0.0, None)])[0]  # type: ignore[arg-type]


def test_what_is_kept_or_locked_stays_where_it_is():
    seen = picture("marmalade")
    scene = replace(seen.scene, placements=tuple(replace(p, locked=p.id == "sugar") for p in seen.scene.placements))
    seen = Picture(scene, scene.setups[0])
    found = propose(seen, scheme=Scheme("diagonal"), count=3, keep=["pan"], effort=QUICK, is_polished=False)
    assert found.proposals
    for p in found.proposals:
        assert not {"pan", "sugar"} & set(p.value()["placements"]) and p.scheme.kind == "diagonal"


def test_a_set_ups_own_scheme_is_followed_where_none_is_asked_for():
    seen = picture("marmalade")
    scene = replace(seen.scene, scheme=Scheme("arc"))
    found = propose(Picture(scene, scene.setups[0]), count=2, effort=QUICK, is_polished=False)
    assert {p.scheme.kind for p in found.proposals} == {"arc"}


def test_it_can_be_stopped_and_says_how_far_it_is():
    shares: list[float] = []

    def watch(share: float, there: tuple) -> bool:
        shares.append(share)
        return len(shares) < 2

    propose(picture("marmalade"), scheme="any", count=4, effort=1.0, watch=watch)
    assert shares == sorted(shares) and shares[1] < 0.6


# ---- what is wrong


def costs(seen: Picture, **moved: tuple[float, float]) -> dict[str, float]:
    """How wrong each unit is, with some of them put elsewhere."""
    problem = problem_of(seen)
    judge = Judge(problem, curves(problem.layout)[:1])
    at = [np.array([[*moved.get(u.lead, (u.x, u.y)), 0.0]]) for u in problem.units]
    looks = [judge.looks(k, *place.T) for k, place in enumerate(at)]
    table, frame, depth = (np.stack([getattr(k, name) for k in looks], axis=1) for name in ("table", "frame", "depth"))
    return {u.lead: float(judge.cost(k, looks[k], table, frame, depth)[1][0]) for k, u in enumerate(problem.units)}


def test_what_is_wrong_is_told_of_whom_it_concerns():
    seen = picture("marmalade")
    free = costs(seen)
    assert {i for i, v in free.items() if v} == {"towel"} and free["towel"] < 1.5  # its spoon, aslant, is taken for its box beside the words
    assert costs(seen, **{"jar-1": (492.0, 282.0)})["sugar"] > 0.5  # in each other
    assert costs(seen, **{"jar-1": (340.0, 200.0)})["sugar"] == 0  # beside it
    assert costs(seen, sugar=(1185.0, 400.0))["sugar"] > 0  # over the table's edge
    assert costs(seen, sugar=(1005.0, 450.0))["sugar"] > 0.3  # in the banner's room for words
    assert costs(seen, pan=(400.0, 470.0))["pan"] > 1  # out of the feed, which must keep the hero whole
    assert free["pan"] < 0.1


def test_a_tall_thing_before_the_hero_is_wrong_and_behind_it_is_not():
    seen = picture("supper")
    assert costs(seen, bottle=(558.0, 160.0))["bottle"] > 0.3
    assert costs(seen, bottle=(558.0, 690.0))["bottle"] < costs(seen, bottle=(558.0, 160.0))["bottle"] - 0.3


# ---- wishes that cannot be met


def changed(kind: str, change) -> Picture:
    value = written(starter(kind))
    change(value)
    scene = scene_from_value(value)
    return Picture(scene, scene.setups[0])


def _words(value):
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "4:5", "copy_space": {"side": "top", "share": 0.95}}]


def _large(value):
    value["setups"][0]["deliverables"] = [{"name": "strip", "ratio": "4:1", "scale": 0.3}]


def _in_each_other(value):
    for p in value["placements"]:
        if p["id"] in ("jar-1", "jar-2"):
            p.update(x=600, y=150, locked=True)


def _all_locked(value):
    for p in value["placements"]:
        p["locked"] = True


def _too_many(value):
    value["surface"].update(width=9000, depth=900)
    value["placements"] += [{"id": f"more-{k}", "prop": "orange", "x": 1300 + 100 * k, "y": 60, "role": "filler"} for k in range(60)]


def _nothing(value):
    value["placements"] = []
    value["groups"] = []
    value["setups"] = [{**value["setups"][0], "hidden": [], "swap": {}, "differs": {}}]
    value["brief"]["must_show"] = []


@pytest.mark.parametrize(
    ("change", "scheme", "said"),
    [
        (_words, "any", "room for words in feed takes 95 %"),
        (_large, "any", "is too large for strip"),
        (_in_each_other, "any", "mm in each other; unlock one"),
        (_all_locked, "any", "everything is locked"),
        (_nothing, "any", "nothing on the table"),
        (_too_many, "any", "too many to arrange at once; lock all but 60"),
        (lambda value: None, Scheme("arc", (("v", 0.5), ("bow", 0.0))), None),
        (lambda value: None, Scheme("crescent", (("radius", 0.02), ("centre", (0.5, 0.5)))), "to lie along and the things need"),
        (lambda value: None, Scheme("squared", (("columns", 2), ("rows", 2))), "a grid of 4 places is asked for"),
    ],
)
def test_a_wish_that_cannot_be_met_is_told_with_what_would_be_nearest(change, scheme, said):
    found = propose(changed("marmalade", change), scheme=scheme, count=2, effort=0.1)
    if said is None:
        assert found.reason is None or "nothing was found" in found.reason
    else:
        assert found.proposals == () and said in found.reason


@pytest.mark.parametrize("count", [0, 25, -1])
def test_a_count_out_of_bounds_and_a_scheme_that_there_is_not_are_refused(count):
    with pytest.raises(FieldError, match="count"):
        propose(picture("marmalade"), count=count)
    with pytest.raises(FieldError, match="scheme"):
        scheme_named("star")
    assert scheme_named("any") == "any" and scheme_named("arc") == Scheme("arc")


def test_in_a_close_up_what_is_larger_than_the_frame_and_out_of_it_may_stay_there():
    scene = starter("fig")
    seen = Picture(scene, scene.setups[0])
    problem = problem_of(seen)
    assert {u.lead for u in problem.units if u.is_outside} == {"plate", "knife"}
    found = propose(seen, scheme="any", count=3, seed=1, effort=0.5, is_polished=False)
    assert found.proposals
    for proposal in found.proposals:
        assert all(proposal.picture.things[i].inside_frame_share >= 0.02 for i in ("half-1", "half-2", "fig-1", "leaf-1", "leaf-2"))
        assert not [f for f in findings(proposal.picture) if f.code in NEVER]
    wide = replace(scene.setups[0], camera=replace(scene.setups[0].camera, distance=scene.setups[0].camera.distance * 2.5))
    there = problem_of(Picture(replace(scene, setups=(wide,)), wide))
    assert not any(u.is_outside for u in there.units), "what the frame could hold is to be brought in"
