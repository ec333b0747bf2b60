"""Photographs on things: they lie where the face is, whole, and each flat cell's affine map is true to a millimetre."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tests.support.scenes import picture, scene_value
from tideflat.core.camera.view import view_of
from tideflat.core.drawing.pieces import frame_path, table_path
from tideflat.core.drawing.props import prop_pieces
from tideflat.core.drawing.skins import ground_cells
from tideflat.core.model import Colour, Placement, Prop, Skin, Surface
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.cloth import Cloth
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.shapes.outline import Outline
from tideflat.core.solids.body import pose

SKIN = Skin("abc", "top")
SHAPES = [Box(320, 220, 18), Cylinder(76, 95), Bowl(270, 176, 24), Outline(((-60, -20), (70, -10), (40, 30)), 9), Cloth(420, 300, 1.5)]


def worn(shape, skins=(SKIN,), **changes):
    prop = Prop("p", "thing", shape, (Colour("#888888", 1),), skins=skins)
    body = pose(Placement("p", "p", **{"x": 450.0, "y": 300.0, **changes}), shape)
    return body, [p for p in prop_pieces(body, prop, (0.0, 0.0, 900.0)) if p.skin is not None]


@pytest.mark.parametrize("shape", SHAPES, ids=lambda s: s.kind)
def test_a_top_skin_covers_the_box_of_the_top_once_in_each_view(shape):
    body, cells = worn(shape, turn=25)
    (whole,) = [p for p in cells if p.views == {"table"}]
    on_table = shapely.Polygon(table_path(whole)[0])
    assert on_table.buffer(0.01).contains(body.footprint if not isinstance(shape, Bowl) else body.footprint.buffer(-1))
    parts = [shapely.Polygon(p.points[:, :2]) for p in cells if p.views == {"frame"}]
    assert shapely.union_all(parts).symmetric_difference(on_table).area < 1.0
    assert sum(p.area for p in parts) < 1.1 * on_table.area


@pytest.mark.parametrize("shape", SHAPES[:3], ids=lambda s: s.kind)
def test_within_a_cell_the_affine_map_is_true_to_three_thousandths_of_the_frame(shape):
    view = view_of(picture(scene_value(elevation=45, distance=700, aim=[450, 300, 20])).setup.camera)
    _, cells = worn(shape)
    for piece in cells:
        flat = frame_path(piece, view)
        if "frame" not in piece.views or flat is None:
            continue
        across, down, corner = piece.skin.affine(flat[0])
        u, v = piece.skin.uv.mean(axis=0)
        middle = view.project(piece.points.mean(axis=0)[None])[0, :2]
        assert np.abs(corner + across * u + down * v - middle).max() < 0.003


def test_the_image_turns_with_the_thing_and_its_top_edge_lies_away():
    _, (whole, *_) = worn(Box(200, 100, 10))
    across, down, corner = whole.skin.affine(table_path(whole)[0])
    assert across == pytest.approx([200, 0]) and down == pytest.approx([0, -100]) and corner == pytest.approx([350, 350])
    _, (turned, *_) = worn(Box(200, 100, 10), turn=90)
    across, _, _ = turned.skin.affine(table_path(turned)[0])
    assert across == pytest.approx([0, 200], abs=1e-9)


def test_a_label_is_seen_from_its_front_and_not_from_behind():
    front = (Skin("abc", "front"),)
    for azimuth, sees in ((0, True), (180, False)):
        view = view_of(picture(scene_value(elevation=10, azimuth=azimuth, distance=900, aim=[450, 300, 40])).setup.camera)
        _, cells = worn(Cylinder(76, 95), front)
        shown = [p for p in cells if frame_path(p, view) is not None]
        assert (len(shown) > 6) is sees and (len(shown) > 0) is sees


def test_a_surfaces_tile_repeats_from_its_front_left_corner():
    surface = Surface("s", 900, 600, 740, (Colour("#888888", 1),), "matte", None, Skin("t", "tile", 400, 250))
    (cell,) = ground_cells(surface, 1e9)
    across, down, corner = cell.skin.affine(table_path(cell)[0])
    assert across == pytest.approx([400, 0]) and down == pytest.approx([0, -250])
    assert (corner[0] % 400, corner[1] % 250) == pytest.approx((0, 0), abs=1e-6)
    many = ground_cells(surface, 110)
    assert len(many) == 54 and shapely.union_all([shapely.Polygon(p.points[:, :2]) for p in many]).area == pytest.approx(
        900 * 600, rel=1e-6
    )


def test_without_skins_nothing_changes():
    assert worn(Cylinder(76, 95), ())[1] == []
