"""What is drawn is where the solid is: pieces against silhouettes and footprints, for every prop of the starter store."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tests.support.scenes import picture, scene_value
from tideflat.core.camera.silhouette import silhouette_of
from tideflat.core.camera.view import view_of
from tideflat.core.colour.mix import darker, hex_from_linear, lighter, linear_from_hex, luminance, mixed
from tideflat.core.drawing.ground import backdrop_patches, seen_patch, surface_patches
from tideflat.core.drawing.pieces import Paint, Piece, frame_path, signed_area, table_path
from tideflat.core.drawing.props import prop_pieces, shadow_pieces
from tideflat.core.model import Backdrop, Colour, Lines, Placement, Surface
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.solids.body import pose
from tideflat.web.stores.starter import starter_prop
from tideflat.web.stores.starter_props import PROPS

KEYS = [row["key"] for row in PROPS]


def drawn_box(paths) -> np.ndarray:
    points = np.concatenate([outline for path in paths if path for outline in path])
    return np.array([*points.min(axis=0), *points.max(axis=0)])


def posed(key: str, **changes):
    prop = starter_prop(key)
    return pose(Placement("p", prop.id, **{"x": 450.0, "y": 300.0, **changes}), prop.shape), prop


@pytest.mark.parametrize("key", KEYS)
@pytest.mark.parametrize("elevation", [90, 45, 8])
def test_the_pieces_of_a_prop_fill_its_silhouette_and_no_more(key, elevation):
    body, prop = posed(key, turn=35)
    view = view_of(picture(scene_value(elevation=elevation, aim=[450, 300, 30])).setup.camera)
    silhouette = silhouette_of(body, view)
    assert silhouette is not None
    box = drawn_box([frame_path(p, view) for p in prop_pieces(body, prop, (0.0, 0.0, float(view.position[2]))) if p.skin is None])
    size = max(silhouette.box[2] - silhouette.box[0], silhouette.box[3] - silhouette.box[1])
    slack = 0.06 if prop.texture in ("leafy", "pored") else 0.02
    if prop.shape.kind == "scatter":  # each piece's shadow reaches a third of the piece beyond it
        slack = 0.04 + prop.shape.piece_diameter / prop.shape.width * 0.4
    outside = np.array([silhouette.box[0] - box[0], silhouette.box[1] - box[1], box[2] - silhouette.box[2], box[3] - silhouette.box[3]])
    assert outside.max() < slack * size  # strewn shadows and half-hidden leaves aside, nothing is drawn beyond the outline
    if shapely.get_num_geometries(silhouette.outline) == 1 and prop.shape.kind != "scatter":  # strewn leaves lie flat in their spheres
        assert outside.min() > -0.05 * size  # and the outline is filled


@pytest.mark.parametrize("key", KEYS)
def test_the_pieces_of_a_prop_fill_its_footprint_on_the_table(key):
    body, prop = posed(key, turn=-20)
    box = drawn_box([table_path(p) for p in prop_pieces(body, prop, (0.0, 0.0, 900.0)) if p.skin is None])
    foot = np.array(body.footprint.bounds)
    smaller = 0.2 * prop.shape.piece_diameter if prop.shape.kind == "scatter" else 0.0  # no piece fills the ball it is judged as
    assert np.abs(box - foot).max() < 0.06 * (foot[2] - foot[0]) + 1.5 + smaller


def test_a_face_is_drawn_only_from_its_front():
    square = np.array([[0, 0, 0], [100, 0, 0], [100, 0, 50], [0, 0, 50]], dtype=float)  # looks to the front, -y
    front = Piece("ring", Paint("#808080"), points=square, one_sided=True)
    back = Piece("ring", Paint("#808080"), points=square[::-1], one_sided=True)
    view = view_of(picture(scene_value(elevation=30)).setup.camera)
    assert frame_path(front, view) is not None and frame_path(back, view) is None
    assert table_path(Piece("ring", Paint("#808080"), points=square[:, [0, 2, 1]], one_sided=True)) is not None


def test_a_dish_shows_its_outside_only_below_the_rim_and_all_of_it_from_below():
    body, prop = posed("tea-bowl")
    wall = next(p for p in prop_pieces(body, prop, (0.0, 0.0, 900.0)) if p.kind == "wall")
    high = frame_path(wall, view_of(picture(scene_value(elevation=45)).setup.camera))
    level = frame_path(wall, view_of(picture(scene_value(elevation=0, aim=[450, 300, 30])).setup.camera))
    assert high is not None and len(high) == 2
    assert level is not None and len(level) == 1


def test_nothing_behind_the_lens_is_drawn():
    body, prop = posed("orange", y=-3000.0)
    view = view_of(picture(scene_value(elevation=20)).setup.camera)
    assert all(frame_path(p, view) is None for p in prop_pieces(body, prop, (0.0, 0.0, 400.0)))


def test_walls_are_painted_from_the_ends_toward_the_height_of_the_eye():
    body, prop = posed("ale-bottle")
    def heights(eye):  # of its glass; what is in it is painted before
        walls = [p for p in prop_pieces(body, prop, (0.0, 0.0, eye)) if p.kind == "hull" and p.paint.shade == "bottle"]
        return [p.circles[0][0, 2] for p in walls]

    assert heights(900.0) == sorted(heights(900.0)) and len(heights(900.0)) > 2
    assert heights(1.0) == sorted(heights(1.0), reverse=True)


def test_coloured_glass_is_seen_through_where_nothing_is_in_it():
    body, prop = posed("ale-bottle")
    pieces = prop_pieces(body, prop, (0.0, 0.0, 900.0))
    filled = [p for p in pieces if p.kind == "hull" and p.paint.shade == "round"]
    assert pieces.index(filled[0]) < min(pieces.index(p) for p in pieces if p.paint.shade == "bottle")
    top = max(float(c[0, 2]) for p in filled for c in p.circles)
    assert 0.4 * body.z_max < top < 0.75 * body.z_max


def test_no_two_strewn_pieces_are_alike():
    body, prop = posed("almonds")
    hulls = [p for p in prop_pieces(body, prop, (0.0, 0.0, 900.0)) if p.kind == "hull"]
    sizes = {tuple(np.ptp(p.sampled() - p.sampled().mean(axis=0), axis=0).round(2)) for p in hulls}
    assert len(sizes) == len(hulls) == 12 and len({len(p.points) for p in hulls}) == 2


def test_shadows_lie_on_what_the_thing_stands_on_and_point_away_from_the_light():
    body = pose(Placement("p", "x", 450.0, 300.0, z=18.0), Cylinder(80, 100))
    pieces = shadow_pieces(body)
    assert all(np.allclose(p.points[:, 2], 18.05) for p in pieces)
    longest = table_path(pieces[0])
    assert longest is not None
    middle = longest[0].mean(axis=0)
    assert middle[0] > 450 and middle[1] < 300


def test_the_same_prop_is_drawn_the_same_every_time():
    for key in ("orange-peel", "napkin", "bread-slice", "side-plate"):
        body, prop = posed(key)
        first, second = (prop_pieces(body, prop, (0.0, 0.0, 900.0)) for _ in range(2))
        assert all((a.sampled() == b.sampled()).all() and a.paint == b.paint for a, b in zip(first, second, strict=True))


def surface(lines: Lines | None) -> Surface:
    return Surface("s", 900, 600, 740, (Colour("#54412f", 0.7), Colour("#3f3023", 0.3)), "matte", lines)


@pytest.mark.parametrize("lines", [None, Lines(0, 120), Lines(90, 98), Lines(30, 75)])
def test_the_surface_is_drawn_within_its_edges(lines):
    for patch in surface_patches(surface(lines)):
        assert patch.points[:, 0].min() >= -1e-6 and patch.points[:, 0].max() <= 900 + 1e-6
        assert patch.points[:, 1].min() >= -1e-6 and patch.points[:, 1].max() <= 600 + 1e-6


def test_boards_cover_the_surface_between_their_joints():
    boards = [p for p in surface_patches(surface(Lines(0, 120))) if p.opacity == 1.0 and p.shade == "flat"]
    covered = shapely.union_all([shapely.Polygon(p.points[:, :2]) for p in boards])
    assert covered.area == pytest.approx(900 * 600, rel=1e-6)


def test_the_surface_seen_from_among_its_things_is_cut_before_the_lens():
    view = view_of(picture(scene_value(elevation=2, distance=200, aim=[450, 300, 30])).setup.camera)
    top = surface_patches(surface(None))[0]
    seen = seen_patch(top, view)
    assert seen is not None and np.isfinite(seen).all()
    assert abs(signed_area(seen)) > 0.2


def test_a_sweep_has_no_line_at_its_foot():
    upright, sweep = (backdrop_patches(Backdrop(kind, 600, 450, 900, 600, "#8b8f8c"), surface(None)) for kind in ("upright", "sweep"))
    assert [(p.fill, p.shade) for p in upright[2:]] == [("#000000", "flat")]  # it stands on the table: a dark line
    (foot,) = sweep[2:]
    assert (foot.fill, foot.shade) == ("#54412f", "rise") and foot.points[:, 2].min() == 0  # the surface's colour, fading upward


def test_colours_are_mixed_in_linear_light():
    """IEC 61966-2-1: half the light of white is 188 in sRGB (0.7354 of 255)."""
    assert mixed("#000000", "#ffffff", 0.5) == "#bcbcbc"
    assert lighter("#000000", 1) == "#ffffff" and darker("#ffffff", 1) == "#000000"
    for colour in ("#c9641b", "#0a454d", "#ffffff", "#010203"):
        assert hex_from_linear(linear_from_hex(colour)) == colour


def test_luminance_by_its_definition():
    """WCAG 2.2: 0.2126 R + 0.7152 G + 0.0722 B; pure green 0.7152; mid grey #777777 0.1845."""
    assert luminance("#00ff00") == pytest.approx(0.7152)
    assert luminance("#777777") == pytest.approx(0.18447, abs=1e-4)
