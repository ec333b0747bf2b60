"""The budget of a scene: counted alike everywhere, told in words, shared out in drawing, refused beyond."""

from __future__ import annotations

import copy
import json
import resource
import time

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.scenes import crowded_value, scene_value
from tideflat.core.drawing.detail import CELLS, CORNERS, FINE, FINE_PIECES, LEAST_CORNERS, detail_for, drawn_corners
from tideflat.core.drawing.pieces import DRAWN_CHORDS
from tideflat.core.drawing.props import prop_pieces
from tideflat.core.drawing.skins import ground_cells
from tideflat.core.errors import DocumentError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Prop, Surface
from tideflat.core.remedies.search import LEAST_CANDIDATES, MOST_CANDIDATES, most_candidates
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.outline import Outline
from tideflat.core.shapes.scatter import Scatter
from tideflat.core.solids.body import pose
from tideflat.core.weight import MOST_SHOWN, weigh
from tools.weigh import alike, spread, star

STREWN = {"kind": "scatter", "width": 300, "depth": 300, "piece_diameter": 20, "pieces": 400, "seed": 1}


@pytest.mark.parametrize(("pitch", "elevation"), [(300, 90), (300, 45), (145, 10), (100, 60)])
def test_sixty_things_of_ordinary_shape_are_admitted(pitch, elevation):
    scene = scene_from_value(spread(crowded_value(60, elevation=elevation), pitch))
    assert len(scene.placements) == 60 and weigh(scene).share <= 1
    scene_from_value(crowded_value(60, elevation=elevation))  # also on a small crowded table


@pytest.mark.parametrize(
    ("value", "says"),
    [
        (spread(crowded_value(300), 300), "300 things"),
        (alike(60, {"kind": "sphere", "diameter": 200}, 1), "1,770 times two things in each other"),
        (alike(30, {"kind": "outline", "points": star(500), "height": 40}, 200), "15,000 corners of outlines"),
        (alike(6, STREWN, 300), "2,400 strewn pieces"),
        (alike(2, STREWN, 1), "two over each other|strewn pieces"),
    ],
)
def test_a_scene_that_is_too_heavy_says_by_how_much_and_of_what_at_once(value, says):
    start = time.process_time()
    with pytest.raises(DocumentError, match=rf"scene: must be lighter: it is too heavy by [\d,]+ % \(.*({says}).*\); take") as caught:
        scene_from_value(json.loads(json.dumps(value)))
    assert time.process_time() - start < 2 and caught.value.path == "scene"


def test_many_set_ups_weigh_together():
    value = scene_value()
    value["setups"] = [{**copy.deepcopy(value["setups"][0]), "name": f"s{k}"} for k in range(40)]
    assert weigh(scene_from_value(value)).share <= 1
    heavy = spread(crowded_value(60), 150)
    heavy["setups"] = [{**copy.deepcopy(heavy["setups"][0]), "name": f"s{k}"} for k in range(40)]
    with pytest.raises(DocumentError, match="40 set-ups of 60 things"):
        scene_from_value(heavy)


def test_each_thing_more_weighs_more_and_what_is_hidden_nothing():
    weights = [weigh(scene_from_value(spread(crowded_value(n), 300))).shown for n in (10, 20, 40, 80)]
    assert weights == sorted(weights) and weights[3] > 7 * weights[0]
    value = spread(crowded_value(40), 300)
    value["setups"][0]["hidden"] = [f"q{k}" for k in range(20, 40)]
    assert weigh(scene_from_value(value)).shown == pytest.approx(weights[1], rel=0.05)


def test_what_an_admitted_scene_takes_is_bounded():
    """The heaviest that pass, each first seen; wall time is not asked, processor time with room for a slow machine."""
    for value in (spread(crowded_value(100, elevation=45), 300), alike(28, {"kind": "sphere", "diameter": 200}, 1), alike(2, STREWN, 400)):
        scene = scene_from_value(value)
        assert weigh(scene).share <= 1
        from tideflat.core.findings.registry import findings

        start = time.process_time()
        picture = Picture(scene, scene.setups[0])
        assert picture.things and findings(picture)
        assert time.process_time() - start < 6
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss < 2_000_000


def test_remedies_try_fewer_candidates_where_each_costs_more():
    light, middle, heavy = (most_candidates(scene_from_value(spread(crowded_value(n), 100))) for n in (10, 40, 70))
    assert light == MOST_CANDIDATES > middle > heavy >= LEAST_CANDIDATES


# ---- drawing is shared out, computing is not


def prop(shape, skins=()):
    return Prop("p", "p", shape, (), skins=skins)


def test_detail_is_full_until_the_share_runs_out():
    few = [prop(Outline(tuple(map(tuple, star(100))), 5))] * 24
    assert detail_for(few) == FINE and detail_for([*few, few[0]]).corners == CORNERS // 25
    assert detail_for([prop(Outline(tuple(map(tuple, star(500))), 5))] * 400).corners == LEAST_CORNERS
    assert [detail_for([prop(Scatter(300, 300, 5, n, 1))] * k).chords for n, k in ((FINE_PIECES, 1), (FINE_PIECES + 1, 1), (400, 3))] == [
        DRAWN_CHORDS,
        16,
        8,
    ]


@given(st.integers(3, 400), st.integers(8, 120))
def test_drawn_corners_are_few_in_order_and_keep_the_sharpest(n, most):
    points = np.array(star(max(n, 3)), dtype=float)
    kept = drawn_corners(points, most)
    assert len(kept) == min(len(points), most) and (np.diff(kept) > 0).all()


def test_a_coarse_drawing_changes_no_figure():
    value = alike(8, {"kind": "outline", "points": star(400), "height": 40}, 300)
    scene = scene_from_value(value)
    picture = Picture(scene, scene.setups[0])
    detail = detail_for(picture.props.values())
    assert detail.corners < 400
    drawn = prop_pieces(picture.bodies["q0"], picture.props["q0"], (0.0, 0.0, 900.0), detail)
    assert len(drawn) == detail.corners + 1
    alone = copy.deepcopy(value)
    alone["placements"] = alone["placements"][:1]
    one = scene_from_value(alone)
    assert Picture(one, one.setups[0]).silhouettes["q0"].outline.area == picture.silhouettes["q0"].outline.area


def test_cells_of_skins_are_bounded_however_large_the_plate():
    plate = scene_from_value(
        {**scene_value(), "props": [{"id": "jar", "shape": {"kind": "bowl", "diameter": 20_000, "base_diameter": 9000, "height": 100}, "skins": [{"picture": "a", "face": "top"}]}],
         "placements": [{"id": "p1", "prop": "jar", "x": 0, "y": 0}]}
    )  # fmt: skip
    assert isinstance(plate.props[0].shape, Bowl)
    body = pose(plate.placements[0], plate.props[0].shape)
    for count in (1, 60):
        cells = [p for p in prop_pieces(body, plate.props[0], 900.0, detail_for([plate.props[0]] * count)) if p.skin is not None]
        assert len(cells) * count <= CELLS + 2 * count
    from tideflat.core.model import Colour, Skin

    floor = Surface("floor", 20_000, 20_000, 0, (Colour("#ffffff", 1),), "matte", None, Skin("a", "tile", 100, 100))
    assert len(ground_cells(floor, 50)) <= 1600
    assert MOST_SHOWN >= 1000
