"""Solids: the pose rule of the scene document, centroids, footprints."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from shapely.geometry import Polygon

from tideflat.core.model import Placement
from tideflat.core.shapes.bottle import Bottle
from tideflat.core.shapes.bowl import Bowl
from tideflat.core.shapes.box import Box
from tideflat.core.shapes.cloth import Cloth
from tideflat.core.shapes.cone import Cone
from tideflat.core.shapes.cylinder import Cylinder
from tideflat.core.shapes.ellipse import Ellipse
from tideflat.core.shapes.outline import Outline
from tideflat.core.shapes.rod import Rod
from tideflat.core.shapes.scatter import Scatter
from tideflat.core.shapes.sphere import Sphere
from tideflat.core.solids.body import pose, rotation, solid_of
from tideflat.core.solids.mesh import depths_along, facing, level_outline, triangles

SHAPES = [
    Cylinder(76, 95),
    Box(260, 180, 18),
    Bowl(150, 70, 60),
    Bottle(70, 240, 28, 90),
    Cone(50, 80, 70),
    Sphere(74),
    Ellipse(140, 90, 25),
    Rod(150, 12, 6),
    Outline(((-40, -12), (0, -20), (40, 0), (0, 20), (-10, 4)), 5),
    Cloth(400, 300, 2),
    Scatter(120, 80, 8, 20, 4),
]


def at(**changes):
    return Placement("p", "prop", **{"x": 100.0, "y": 50.0, **changes})


def test_turn_is_counter_clockwise_seen_from_above():
    assert rotation(90, 0, 0) @ [1, 0, 0] == pytest.approx([0, 1, 0])


def test_lean_tips_the_upright_axis_toward_its_direction_after_the_turn():
    for toward in (0, 90, 200):
        tipped = rotation(33, 25, toward) @ [0, 0, 1]
        assert tipped == pytest.approx(
            [
                math.sin(math.radians(25)) * math.cos(math.radians(toward)),
                math.sin(math.radians(25)) * math.sin(math.radians(toward)),
                math.cos(math.radians(25)),
            ]
        )


@pytest.mark.parametrize("shape", SHAPES, ids=lambda s: s.kind)
@pytest.mark.parametrize("lean", [0, 20, 90, 155])
def test_whatever_its_pose_the_lowest_point_is_at_z(shape, lean):
    body = pose(at(z=7.0, turn=31, lean=lean, lean_toward=70), shape)
    lows = [part[:, 2].min() for part in body.parts] + [s[2] - s[3] for s in body.spheres]
    assert min(lows) == pytest.approx(7.0, abs=0.05)
    assert min(lows) >= 7.0 - 1e-9


def test_a_leaned_box_is_lifted_by_its_lower_edge():
    """A box 100 wide leaned 30 degrees toward +x turns about its base's centre; its edge is 50 sin 30 = 25 lower, so it rises 25."""
    body = pose(at(lean=30, lean_toward=0), Box(100, 60, 40))
    assert body.base[2] == pytest.approx(25)
    assert body.base[:2] == pytest.approx([100, 50])
    assert body.z_max == pytest.approx(25 + 50 * 0.5 + 40 * math.cos(math.radians(30)))


@pytest.mark.parametrize(
    ("shape", "height"),
    [
        (Cylinder(76, 95), 47.5),
        (Sphere(74), 37.0),
        (Cone(60, 0, 80), 20.0),  # a cone: a quarter of its height
        (Bowl(120, 60, 56), 56 / 4 * (30**2 + 2 * 30 * 60 + 3 * 60**2) / (30**2 + 30 * 60 + 60**2)),
    ],
    ids=["cylinder", "sphere", "cone", "bowl"],
)
def test_centroid_heights_by_hand(shape, height):
    assert solid_of(shape).centroid[2] == pytest.approx(height)


def test_centroid_of_a_bottle_by_a_thousand_discs():
    shape = Bottle(70, 240, 28, 90)
    z = (np.arange(240_000) + 0.5) / 1000
    radius = np.where(z < 150, 35, np.where(z < 195, 35 + (14 - 35) * (z - 150) / 45, 14))
    assert solid_of(shape).centroid[2] == pytest.approx((z * radius**2).sum() / (radius**2).sum(), rel=1e-6)


def test_footprints_have_the_areas_of_plane_geometry():
    assert pose(at(turn=40), Box(260, 180, 18)).footprint.area == pytest.approx(260 * 180)
    assert pose(at(), Cylinder(76, 95)).footprint.area == pytest.approx(math.pi * 38**2, rel=1e-3)
    points = ((-40, -12), (0, -20), (40, 0), (0, 20), (-10, 4))
    assert pose(at(turn=77), Outline(points, 5)).footprint.area == pytest.approx(shapely.Polygon(points).area)


def test_strewn_pieces_stay_inside_and_are_the_same_for_the_same_seed():
    first, second = (solid_of(Scatter(120, 80, 8, 40, 9)).spheres for _ in range(2))
    assert (first == second).all()
    assert np.abs(first[:, 0]).max() <= 56 and np.abs(first[:, 1]).max() <= 36
    assert (solid_of(Scatter(120, 80, 8, 40, 10)).spheres != first).any()


def test_level_outlines_follow_the_taper():
    cup = pose(at(), Bowl(100, 60, 40))
    section = level_outline(cup, 20.0)
    assert section is not None
    assert Polygon(section).area == pytest.approx(math.pi * 40**2, rel=0.02)
    assert level_outline(cup, 41.0) is None


@pytest.mark.parametrize("shape", [Box(100, 100, 40), Cylinder(100, 40), Outline(((-50, -50), (50, -50), (50, 50), (-50, 50)), 40)])
def test_a_ray_straight_down_meets_the_top(shape):
    body = pose(at(), shape)
    depths = depths_along(facing(triangles(body), np.array([103.0, 52.0, 500.0])), np.array([[0, 0, -1.0], [1.0, 0, 0]]))
    assert depths[0] == pytest.approx(460)
    assert math.isinf(depths[1])
