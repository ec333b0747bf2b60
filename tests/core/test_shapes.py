"""What every kind of shape must hold to, whichever there are: the registry says which, and a kind without a sample here fails."""

from __future__ import annotations

import dataclasses
import json

import numpy as np
import pytest
import shapely

from tideflat.core.drawing.detail import FINE
from tideflat.core.drawing.kinds import drawing_of
from tideflat.core.drawing.kinds.drawing import Ask
from tideflat.core.drawing.kinds.plain import plain
from tideflat.core.drawing.props import prop_pieces
from tideflat.core.errors import FieldError
from tideflat.core.formats.prop_columns import COLUMNS
from tideflat.core.formats.prop_reader import shape_from_value
from tideflat.core.formats.scene_writer import shape_value
from tideflat.core.model import Colour, Placement, Prop
from tideflat.core.shapes import SHAPES
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.cone import Cone
from tideflat.core.shapes.fields import Length, fields_of
from tideflat.core.shapes.shape import Shape, extent_mm
from tideflat.core.solids.body import mesh_of, pose, solid_of
from tideflat.core.solids.mesh import triangles
from tideflat.web.bridge.shape_words import shape_choices
from tools.schema import PATH, shape_schemas

PI = np.pi
#: kind: (its sample, volume by hand in mm3 or None where it is open, sides by hand).
SAMPLES: dict[str, tuple[dict, float | None, tuple[float, float, float]]] = {
    "cylinder": ({"diameter": 80.0, "height": 95.0}, PI * 40**2 * 95, (80, 80, 95)),
    "box": ({"width": 30.0, "depth": 50.0, "height": 20.0}, 30_000, (30, 50, 20)),
    "bowl": ({"diameter": 160.0, "base_diameter": 70.0, "height": 60.0}, None, (160, 160, 60)),
    "bottle": (
        {"diameter": 70.0, "height": 250.0, "neck_diameter": 30.0, "neck_height": 80.0},
        PI * (35**2 * 170 + 40 * (35**2 + 35 * 15 + 15**2) / 3 + 15**2 * 40),
        (70, 70, 250),
    ),
    "cone": ({"base_diameter": 40.0, "top_diameter": 60.0, "height": 30.0}, PI * 30 * (20**2 + 20 * 30 + 30**2) / 3, (60, 60, 30)),
    "sphere": ({"diameter": 60.0}, 4 / 3 * PI * 30**3, (60, 60, 60)),
    "ellipse": ({"width": 90.0, "depth": 40.0, "height": 25.0}, PI * 45 * 20 * 25, (90, 40, 25)),
    "rod": ({"length": 180.0, "width": 12.0, "height": 4.0}, 180 * 12 * 4, (180, 12, 4)),
    "outline": ({"points": ((-40.0, -10.0), (-10.0, 30.0), (50.0, 0.0), (0.0, 0.0)), "height": 10.0}, 14_000, (90, 40, 10)),
    "cloth": ({"width": 300.0, "depth": 200.0, "thickness": 2.0}, 120_000, (300, 200, 2)),
    "scatter": (
        {"width": 90.0, "depth": 60.0, "piece_diameter": 6.0, "pieces": 12, "seed": 4}, 12 * 4 / 3 * PI * 3**3, (90, 60, 6)
    ),
}  # fmt: skip
KINDS = sorted(SHAPES)


def sample(kind: str) -> Shape:
    return SHAPES[kind](**SAMPLES[kind][0])


def _volume(corners: np.ndarray) -> float:
    """By the divergence theorem: a sixth of the sum of triple products, positive where corners run counter-clockwise from outside."""
    return float((corners[:, 0] * np.cross(corners[:, 1], corners[:, 2])).sum() / 6)


def test_every_kind_has_a_sample_here():
    assert set(SAMPLES) == set(SHAPES)


@pytest.mark.parametrize("kind", KINDS)
def test_a_kind_is_read_and_written_by_its_fields(kind):
    shape = sample(kind)
    value = json.loads(json.dumps(shape_value(shape)))
    assert list(value) == ["kind", *fields_of(type(shape))]
    assert shape_from_value(value) == shape
    assert all(name in COLUMNS for name in fields_of(type(shape)))
    assert kind in dict(shape_choices())


@pytest.mark.parametrize("kind", KINDS)
def test_its_sides_are_those_of_its_solid_and_of_its_mesh(kind):
    shape, (_, _, sides) = sample(kind), SAMPLES[kind]
    assert shape.sides() == pytest.approx(sides)
    assert extent_mm(shape) == pytest.approx((max(sides[:2]), min(sides[:2]), sides[2]))
    body = pose(Placement("p", "p", 0.0, 0.0), shape)
    assert (body.z_min, body.z_max) == pytest.approx((0.0, sides[2]))
    x0, y0, x1, y1 = body.footprint.bounds
    if not shape.is_strewn:  # pieces lie within the ground they are strewn over, not at its very edge
        assert (x1 - x0, y1 - y0) == pytest.approx(sides[:2], rel=2e-3)
        spread = np.ptp(mesh_of(shape).points, axis=0)
        assert spread == pytest.approx(np.array(sides), rel=2e-2)


@pytest.mark.parametrize("kind", KINDS)
def test_its_mesh_is_closed_turned_outward_and_holds_its_volume(kind):
    shape, (_, volume, _) = sample(kind), SAMPLES[kind]
    mesh = mesh_of(shape)
    assert np.linalg.norm(mesh.normals, axis=1) == pytest.approx(1.0)
    assert mesh.uv.min() >= 0 and mesh.uv.max() <= 1 + 1e-12
    corners = mesh.corners
    facing = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    flat = np.linalg.norm(facing, axis=1) > 1e-6
    said = mesh.normals[mesh.faces].mean(axis=1)
    assert (np.einsum("ij,ij->i", facing[flat], said[flat]) > 0).all(), "a normal points the other way than its triangle's corners run"
    if volume is not None:
        chords_lose = 0.1 if solid_of(shape).circles.size or len(solid_of(shape).spheres) else 1e-9
        assert volume * (1 - chords_lose) <= _volume(corners) <= volume * (1 + 1e-9)


def test_an_open_dish_has_no_lid():
    mesh = mesh_of(Bowl(160, 70, 60))
    level_top = (mesh.corners[:, :, 2] > 59.99).all(axis=1)
    assert not level_top.any()
    assert (mesh_of(Cone(70, 160, 60)).corners[:, :, 2] > 59.99).all(axis=1).any()


def test_a_wall_that_widens_looks_down_and_one_that_narrows_looks_up():
    wide, narrow = mesh_of(Cone(40, 60, 30)), mesh_of(Cone(60, 40, 30))
    for mesh, sign in ((wide, -1), (narrow, 1)):
        wall = np.abs(mesh.normals[:, 2]) < 0.99
        assert (np.sign(mesh.normals[wall, 2]) == sign).all()
        # Square to the wall, whose slope is 10 mm out on 30 mm up.
        assert np.abs(mesh.normals[wall, 2]) == pytest.approx(10 / np.hypot(10, 30))


@pytest.mark.parametrize("kind", ["cylinder", "bottle", "ellipse", "sphere"])
def test_a_picture_goes_once_round_a_wall_from_the_left_over_the_front(kind):
    mesh = mesh_of(sample(kind))
    wall = np.abs(mesh.normals[:, 2]) < 0.99
    points, uv = mesh.points[wall], mesh.uv[wall]
    front = np.abs(points[:, 0]) < 1e-6
    assert uv[front & (points[:, 1] < 0), 0] == pytest.approx(0.25)
    assert uv[front & (points[:, 1] > 0), 0] == pytest.approx(0.75)


@pytest.mark.parametrize("kind", KINDS)
def test_triangles_stand_where_the_thing_is(kind):
    placement = Placement("p", "p", 120.0, 80.0, 15.0, turn=30.0, lean=20.0, lean_toward=45.0)
    body = pose(placement, sample(kind))
    corners = triangles(body).reshape(-1, 3)
    assert corners[:, 2].min() == pytest.approx(15.0, abs=0.4)
    grown = shapely.convex_hull(shapely.multipoints(corners[:, :2])).buffer(1e-6)
    assert shapely.area(shapely.difference(body.footprint, grown)) <= 0.05 * body.footprint.area


@pytest.mark.parametrize("kind", KINDS)
def test_what_it_carries_on_lies_within_it(kind):
    shape = sample(kind)
    top = shape.top()
    if top is None:
        assert shape.form == "ball" or shape.is_strewn
        return
    wide, deep, high = shape.sides()
    assert top.height == high
    assert top.right - top.left <= wide + 1e-9 and top.back - top.front <= deep + 1e-9


def test_what_lies_in_a_dish_lies_on_its_floor():
    assert Bowl(200, 100, 100).floor_mm == 6.0
    assert Bowl(200, 100, 10).floor_mm == pytest.approx(2.0)
    assert [k for k in KINDS if sample(k).floor_mm is not None] == ["bowl"]


@pytest.mark.parametrize("kind", KINDS)
def test_it_is_drawn_by_its_own_drawing_or_as_its_plain_solid(kind):
    shape = sample(kind)
    prop = Prop("p", "p", shape, (Colour("#aa8866", 1.0),))
    body = pose(Placement("p", "p", 0.0, 0.0), shape)
    assert type(shape) in drawing_of(shape).shapes
    assert prop_pieces(body, prop, (0.0, 0.0, 500.0))
    rough = plain(Ask(body, prop, (0.0, 0.0, 500.0), FINE))
    points = np.concatenate([p.sampled() for p in rough])
    assert points[:, 2].min() >= -1e-6 and np.ptp(points, axis=0)[:2] == pytest.approx(
        np.ptp(np.array(body.footprint.envelope.exterior.coords), axis=0), rel=2e-2
    )


@pytest.mark.parametrize("kind", KINDS)
def test_every_length_may_be_as_short_and_as_long_as_the_format_says_and_no_further(kind):
    cls, value = SHAPES[kind], {"kind": kind, **json.loads(json.dumps(shape_value(sample(kind))))}
    for name, field in fields_of(cls).items():
        if not isinstance(field, Length):
            continue
        for beyond in (0.099, 20_000.1, -1, None, True, "12"):
            with pytest.raises(FieldError, match=rf"shape\.{name}|{name}"):
                shape_from_value({**value, name: beyond})
        if field.or_nothing:
            assert getattr(shape_from_value({**value, name: 0}), name) == 0.0
        else:
            with pytest.raises(FieldError):
                shape_from_value({**value, name: 0})


def test_sizes_that_do_not_go_together_are_refused_at_their_limit():
    bottle = {"kind": "bottle", "diameter": 70, "height": 200, "neck_diameter": 70, "neck_height": 199.9}
    assert shape_from_value(bottle)
    for wrong in ({"neck_height": 200}, {"neck_diameter": 70.1}):
        with pytest.raises(FieldError, match=f"shape.{next(iter(wrong))}"):
            shape_from_value({**bottle, **wrong})
    crumbs = {"kind": "scatter", "width": 50, "depth": 20, "piece_diameter": 20, "pieces": 400}
    assert shape_from_value(crumbs).seed == 0
    for wrong in ({"piece_diameter": 20.1}, {"pieces": 401}, {"pieces": 0}, {"seed": -1}, {"pieces": 2.5}):
        with pytest.raises(FieldError, match=f"shape.{next(iter(wrong))}"):
            shape_from_value({**crumbs, **wrong})


def test_the_schema_says_what_the_code_does():
    assert json.loads(PATH.read_text(encoding="utf-8"))["$defs"]["shape"]["oneOf"] == shape_schemas()


def test_a_shape_is_frozen_and_two_kinds_are_never_the_same():
    with pytest.raises(dataclasses.FrozenInstanceError):
        sample("box").width = 3.0  # type: ignore[attr-defined, misc]
    assert SHAPES["ellipse"](30.0, 50.0, 20.0) != SHAPES["box"](30.0, 50.0, 20.0)
