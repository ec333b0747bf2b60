"""A cloth over an edge: level, hanging, level again, nothing stretched; and what both views and every judgement make of it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely

from tests.support.scenes import scene_value
from tideflat.core.acts.registry import act_from_value, perform
from tideflat.core.drawing.pieces import frame_path, signed_area, table_path
from tideflat.core.drawing.props import eye_for, prop_pieces
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import Placement
from tideflat.core.report import evaluation
from tideflat.core.shapes import SHAPES
from tideflat.core.solids.body import pose
from tideflat.core.solids.falling import laid_out
from tideflat.core.solids.folded import FoldedCloth, facets_of
from tideflat.core.solids.heights import topside

CLOTH = SHAPES["cloth"](width=400.0, depth=300.0, thickness=2.0)
STEP = SHAPES["box"](width=200.0, depth=120.0, height=30.0)


def placed(name: str, **keys: object) -> Placement:
    return Placement(name, name, **{"x": 450.0, "y": 300.0, **keys})


def over(below, cloth=CLOTH, *, lower: dict | None = None, **keys):
    """The cloth as it lies on ``below``; ``keys`` and ``lower``: what else their placements say."""
    carrier = pose(placed("below", **(lower or {})), below)
    lain = pose(placed("cloth", **{"z": carrier.z_max, "on": "below", **keys}), cloth)
    return laid_out({"below": carrier, "cloth": lain})["cloth"]


def test_along_straight_edges_nothing_is_stretched():
    """By hand: 400 wide over 200 leaves 100 a side, 30 of which hang, so its edge lies 100 + 70 from the middle; 300 deep over 120
    leaves 90, and 60 + 60. The corners reach further out, and no further than the cloth does spread flat."""
    body = over(STEP)
    assert isinstance(body.shape, FoldedCloth)
    straight = np.concatenate([f.points for f in facets_of(body.shape) if f.fall == "lies" and len(set(f.points[:, 0].round(3))) == 2])
    assert np.abs(straight[:, 0]).max() == pytest.approx(170, abs=0.4)
    x0, y0, x1, y1 = body.footprint_bounds
    assert 170 < (x1 - x0) / 2 < 200 and 120 < (y1 - y0) / 2 < 150
    assert (body.z_min, body.z_max) == (pytest.approx(0), pytest.approx(32))
    assert body.placement.z == 30  # the document's own number stays


def test_what_hangs_free_ends_above_the_ground():
    body = over(SHAPES["box"](width=300.0, depth=300.0, height=120.0))
    assert body.z_min == pytest.approx(120 - 50, abs=0.2)  # 400 over 300 leaves 50 a side
    assert {f.fall for f in facets_of(body.shape)} == {"hangs", "top"}


@pytest.mark.parametrize(
    ("below", "keys", "lower"),
    [
        (SHAPES["box"](width=420.0, depth=320.0, height=30.0), {}, {}),  # all of it has room
        (STEP, {"on": None}, {}),  # it lies on nothing
        (STEP, {"z": 36.0}, {}),  # it hangs above
        (STEP, {"lean": 10.0}, {}),
        (STEP, {}, {"lean": 5.0}),
        (SHAPES["sphere"](diameter=80.0), {}, {}),  # no level top
        (SHAPES["box"](width=200.0, depth=120.0, height=2.0), {}, {}),  # no more than the cloth itself gives
        (STEP, {"x": 1200.0}, {}),  # said to lie on it, and beside it
    ],
)
def test_otherwise_it_lies_flat_as_it_did(below, keys, lower):
    assert type(over(below, lower=lower, **keys).shape) is type(CLOTH)


def test_an_edge_just_short_and_just_past_the_cloth():
    assert over(SHAPES["box"](width=400.2, depth=300.2, height=30.0)).shape == CLOTH
    assert over(SHAPES["box"](width=398.0, depth=298.0, height=30.0)).shape != CLOTH


def any_case(seed: int):
    random = np.random.default_rng(seed)
    size = lambda low, high: float(np.round(random.uniform(low, high), 1))  # noqa: E731
    corners = [[60, 0], [20, 70], [-80, 50], [-70, -60], [10, -80]]
    below = [
        lambda: SHAPES["box"](width=size(30, 400), depth=size(30, 400), height=size(3, 200)),
        lambda: SHAPES["cylinder"](diameter=size(30, 400), height=size(3, 200)),
        lambda: SHAPES["bowl"](diameter=size(120, 300), base_diameter=size(40, 110), height=size(20, 90)),
        lambda: SHAPES["ellipse"](width=size(60, 400), depth=size(60, 300), height=size(3, 90)),
        lambda: SHAPES["outline"](points=tuple((x * size(1, 2), y) for x, y in corners), height=size(4, 40)),
        lambda: SHAPES["cone"](base_diameter=size(80, 200), top_diameter=size(40, 200), height=size(10, 90)),
    ][seed % 6]()
    cloth = SHAPES["cloth"](width=size(80, 700), depth=size(80, 700), thickness=size(0.3, 6))
    at = {"x": 450 + size(-150, 150), "y": 300 + size(-150, 150), "turn": size(-180, 180)}
    return over(below, cloth, lower={"turn": size(-180, 180)}, **at), cloth, below


@pytest.mark.parametrize("seed", range(60))
def test_whatever_it_lies_on_the_whole_sheet_is_there_once_and_keeps_its_size(seed):
    body, cloth, below = any_case(seed)
    if not isinstance(body.shape, FoldedCloth):
        return
    facets = facets_of(body.shape)
    flat = [shapely.Polygon(f.flat) for f in facets]
    covered = shapely.union_all([p.buffer(0.05) for p in flat])
    sheet = shapely.box(-cloth.width / 2, -cloth.depth / 2, cloth.width / 2, cloth.depth / 2)
    spread = sum(p.area for p in flat)
    assert spread <= sheet.area + 1
    # What folds away between the straight lines round a curved edge is the only thing left out.
    corners = len(body.shape.edge)
    assert sheet.difference(covered).area <= (0.02 if corners < 20 else 0.2) * sheet.area
    reach = 2 * np.hypot(cloth.width, cloth.depth)
    for f in facets:
        assert np.ptp(f.points @ f.normal) <= 0.02 * reach
        if f.fall == "hangs":
            gaps = np.linalg.norm(f.points[:, None] - f.points[None], axis=2), np.linalg.norm(f.flat[:, None] - f.flat[None], axis=2)
            assert (gaps[0] <= 1.01 * gaps[1] + 0.5).all()  # a fold may bring places nearer, hardly further
    assert body.z_min >= -0.01 and body.z_max == pytest.approx(below.sides()[2] + cloth.thickness, abs=0.01)
    middle = body.parts[-1][:, :2].mean(axis=0)[None]
    assert topside(body, middle, np.array([500.0]))[0] == pytest.approx(body.z_max, abs=0.01)


def table(elevation: float, azimuth: float, **camera: object):
    """A jar on a cloth on a step, an orange before it."""
    value = scene_value()
    value["props"] = [
        {"id": "step", "name": "step", "shape": {"kind": "box", "width": 240, "depth": 170, "height": 60}, "colours": [{"hex": "#a97a48", "share": 1}]},
        {"id": "linen", "name": "linen", "shape": {"kind": "cloth", "width": 450, "depth": 320, "thickness": 2}, "colours": [{"hex": "#e8e2d4", "share": 1}], "texture": "striped"},
        {"id": "jar", "name": "jar", "shape": {"kind": "cylinder", "diameter": 70, "height": 90}, "colours": [{"hex": "#c2571a", "share": 1}]},
    ]  # fmt: skip
    value["placements"] = [
        {"id": "step", "prop": "step", "x": 450, "y": 340, "turn": 15, "role": "riser"},
        {"id": "linen", "prop": "linen", "x": 500, "y": 300, "z": 60, "turn": -8, "on": "step", "role": "cloth"},
        {"id": "jar", "prop": "jar", "x": 440, "y": 340, "z": 60, "on": "linen", "role": "hero"},
    ]
    value["groups"] = []
    setup = value["setups"][0]
    setup["camera"] |= {"aim": [470, 330, 20], "distance": 1500, "elevation": elevation, "azimuth": azimuth, "focus": None, **camera}
    value["setups"] = [{"name": setup["name"], "camera": setup["camera"], "deliverables": []}]
    return scene_from_value(value)


@pytest.mark.parametrize("azimuth", range(0, 360, 40))
@pytest.mark.parametrize("elevation", [3, 20, 50, 90])
def test_from_every_side_what_is_seen_of_the_step_agrees_with_rays(elevation, azimuth):
    """The shares come of outlines and of who is before whom; rays against the meshes are another way to the same."""
    from tideflat.core.solids.mesh import depths_along, facing, triangles

    scene = table(elevation, azimuth)
    picture = Picture(scene, scene.setups[0])
    ids = ("step", "linen", "jar")
    places = np.stack(np.meshgrid((np.arange(150) + 0.5) / 150, (np.arange(100) + 0.5) / 100, indexing="ij"), axis=-1).reshape(-1, 2)
    rays = picture.view.rays(places)
    met = np.stack([depths_along(facing(triangles(picture.bodies[i]), picture.view.position), rays) for i in ids])
    first = np.where(np.isfinite(met.min(axis=0)), met.argmin(axis=0), -1)
    for k, i in enumerate(ids):
        hit = np.isfinite(met[k])
        by_rays = float((first[hit] == k).mean()) if hit.any() else 1.0
        assert picture.things[i].visible_share == pytest.approx(by_rays, abs=0.06), i


@pytest.mark.parametrize("azimuth", range(0, 360, 60))
@pytest.mark.parametrize("elevation", [4, 30, 90])
def test_it_is_drawn_where_it_is_judged(elevation, azimuth):
    scene = table(elevation, azimuth)
    picture = Picture(scene, scene.setups[0])
    body, prop = picture.bodies["linen"], picture.props["linen"]
    pieces = prop_pieces(body, prop, eye_for(body, picture.view.position))
    drawn = [shapely.Polygon(p).buffer(0) for piece in pieces for p in frame_path(piece, picture.view) or () if abs(signed_area(p)) > 1e-9]
    seen = shapely.union_all(drawn)
    visible = picture.silhouettes["linen"].outline
    assert shapely.difference(seen, visible.buffer(0.003)).area <= 0.01 * visible.area
    left = picture.hiding.visible["linen"]
    assert shapely.difference(left.buffer(-0.002), seen.buffer(0.002)).area <= 0.15 * max(left.area, 0.01)
    above = shapely.union_all([shapely.Polygon(p).buffer(0) for piece in pieces for p in table_path(piece) or () if len(p) > 2])
    assert shapely.symmetric_difference(above, body.footprint).area <= 0.03 * body.footprint.area


def test_what_it_hides_behind_a_tall_step_is_not_drawn_over_it():
    """Cloth over the far edge alone, seen from low in front: nothing of what hangs and lies behind is painted over the step's near face."""
    scene = table(12, 0)
    placements = tuple(replace(p, x=450, y=470, turn=15) if p.id == "linen" else p for p in scene.placements)
    scene = replace(scene, placements=placements)
    picture = Picture(scene, scene.setups[0])
    body = picture.bodies["linen"]
    pieces = prop_pieces(body, picture.props["linen"], eye_for(body, picture.view.position))
    seen = shapely.union_all([shapely.Polygon(p).buffer(0) for piece in pieces for p in frame_path(piece, picture.view) or () if len(p) > 2])
    step = picture.bodies["step"]
    wall = picture.view.project(step.parts[0])[:, :2]
    near = shapely.MultiPoint(wall[[0, 1, 4, 5]]).convex_hull.buffer(-0.004)
    assert shapely.intersection(seen, near).area <= 0.03 * near.area  # 0.39 before it was cut off; an ear at the far corner is left


def test_a_second_cloth_falls_where_the_first_does():
    step = pose(placed("step"), STEP)
    first = pose(placed("first", z=30.0, on="step"), CLOTH)
    second = pose(placed("second", z=30.0, on="first", turn=40.0), CLOTH)
    out = laid_out({"step": step, "first": first, "second": second})
    edge = np.array(out["second"].shape.edge)
    assert sorted(np.linalg.norm(edge - np.roll(edge, 1, axis=0), axis=1).round()) == [120, 120, 200, 200]


def test_nothing_is_found_amiss_with_a_cloth_that_lies_so():
    scene = table(40, 10)
    found = evaluation(scene, with_remedies=False)["setups"][scene.setups[0].name]["findings"]
    amiss = {"support.floating", "support.leaning", "spacing.overlap"}
    assert not [f for f in found if "linen" in f["placements"] and f["code"] in amiss]


# ---- letting go


def let_go(scene, placement, x, y, **more):
    done = perform(scene, act_from_value({"act": "let_go", "placement": placement, "x": x, "y": y, **more}))
    return done, done.scene.placement(placement)


def bare(**of_linen):
    scene = table(40, 0)
    keep = [replace(p, on=None, z=0.0, x=900.0, y=700.0) if p.id == "linen" else p for p in scene.placements if p.id != "jar"]
    props = tuple(p for p in scene.props if p.id != "jar")
    return replace(scene, placements=tuple(replace(p, **of_linen) if p.id == "linen" else p for p in keep), props=props)


def test_let_go_over_a_riser_it_lies_over_it_and_beside_it_on_the_table():
    done, linen = let_go(bare(), "linen", 500, 300)
    assert (linen.on, linen.z) == ("step", 60) and done.code == "let_go"
    done, linen = let_go(done.scene, "linen", 540, 280)
    assert (linen.on, linen.z, linen.x) == ("step", 60, 540)
    _, linen = let_go(done.scene, "linen", 900, 700)
    assert (linen.on, linen.z) == (None, 0)
    _, linen = let_go(bare(), "linen", 500, 300, level=True)
    assert (linen.on, linen.z) == (None, 0)


def with_step(**keys):
    scene = bare()
    shape = {k: keys.pop(k) for k in ("width", "depth", "height") if k in keys}
    props = tuple(replace(p, shape=replace(p.shape, **shape)) if p.id == "step" else p for p in scene.props)
    return replace(scene, props=props, placements=tuple(replace(p, **keys) if p.id == "step" else p for p in scene.placements))


def test_a_low_board_carries_it_and_what_stands_in_the_cloth_does_not():
    board = {"role": "support", "width": 400.0, "depth": 300.0}
    assert let_go(with_step(**board, height=18.0), "linen", 620, 300)[1].on == "step"
    assert let_go(with_step(**board, height=60.0), "linen", 620, 300)[1].on == "step"  # 0.2 of its shorter side: as high as a board is
    assert let_go(with_step(**board, height=61.0), "linen", 620, 300)[1].on is None  # a box
    small = {"role": "support", "width": 150.0, "depth": 110.0, "height": 18.0}
    assert let_go(with_step(**small), "linen", 450, 340)[1].on is None  # it stands whole on the cloth
    assert let_go(with_step(**{**small, "role": "riser"}), "linen", 450, 340)[1].on == "step"


def test_a_riser_that_stands_on_the_cloth_stays_on_it():
    scene = with_step(on="linen")
    assert let_go(scene, "linen", 500, 300)[1].on is None


def test_what_stands_on_it_goes_up_with_it():
    scene = table(40, 0)
    placements = [replace(p, on=None, z=0.0, x=900.0, y=700.0) if p.id == "linen" else p for p in scene.placements]
    scene = replace(scene, placements=tuple(replace(p, x=880.0, y=700.0, z=0.0) if p.id == "jar" else p for p in placements))
    done, _ = let_go(scene, "linen", 500, 300)
    jar = done.scene.placement("jar")
    assert (jar.z, jar.x, jar.y, jar.on) == (60, 480, 300, "linen")
