"""Plane geometry against Shapely."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely.affinity import translate

from tideflat.core.plane.areas import common, together
from tideflat.core.plane.clip import clip_half_plane, clip_line
from tideflat.core.plane.separation import near_pairs, penetration_mm, shortest_parting

places = st.floats(-100, 100)
polygons = st.lists(st.tuples(places, places), min_size=4, max_size=12, unique=True).map(
    lambda p: shapely.convex_hull(shapely.multipoints(p))
)


def corners(polygon) -> np.ndarray:
    return np.array(polygon.exterior.coords)[:-1]


@settings(max_examples=150, deadline=None)
@given(a=polygons, b=polygons)
def test_the_shortest_parting_parts_and_nothing_much_shorter_does(a, b):
    assume(a.geom_type == b.geom_type == "Polygon" and min(a.area, b.area) > 50)
    depth, (dx, dy) = shortest_parting(corners(a), corners(b))
    if shapely.intersection(a, b).area < 1e-9:
        assert depth < 1e-6
        return
    assert depth > 0 and np.hypot(dx, dy) == pytest.approx(1)
    parted = translate(b, dx * depth * (1 + 1e-9) + dx * 1e-6, dy * depth * (1 + 1e-9) + dy * 1e-6)
    assert shapely.intersection(a, parted).area < 1e-3
    for t in np.linspace(0, 2 * np.pi, 24):
        shorter = translate(b, np.cos(t) * depth * 0.98, np.sin(t) * depth * 0.98)
        assert shapely.intersects(a, shorter)


def test_two_discs_part_by_the_rest_of_their_radii():
    disc = shapely.Point(0, 0).buffer(38, quad_segs=48)
    assert penetration_mm(corners(disc), corners(translate(disc, 56, 0))) == pytest.approx(20, abs=0.05)
    assert penetration_mm(corners(disc), corners(translate(disc, 90, 0))) == 0


@settings(max_examples=120, deadline=None)
@given(polygon=polygons, a=st.floats(-1, 1), b=st.floats(-1, 1), c=st.floats(-80, 80))
def test_clipping_by_a_half_plane_is_the_intersection_with_it(polygon, a, b, c):
    assume(polygon.geom_type == "Polygon" and np.hypot(a, b) > 0.1)
    clipped = clip_half_plane(corners(polygon), np.array([a, b]), c)
    normal = np.array([a, b]) / np.hypot(a, b)
    start = -normal * c / np.hypot(a, b)
    along = np.array([-normal[1], normal[0]]) * 1e4
    half = shapely.Polygon([start - along, start + along, start + along + normal * 1e4, start - along + normal * 1e4])
    expected = shapely.intersection(polygon, half).area
    assert (shapely.Polygon(clipped).area if len(clipped) >= 3 else 0.0) == pytest.approx(expected, abs=1e-4 * max(1, polygon.area))


def test_a_line_is_cut_where_it_crosses():
    start, end = np.array([0.0, -10]), np.array([0.0, 30])
    assert clip_line(start, end, np.array([0.0, 1]), 0.0)[0] == pytest.approx([0, 0])
    assert clip_line(end, start, np.array([0.0, 1]), 0.0)[1] == pytest.approx([0, 0])
    assert clip_line(start, end, np.array([0.0, 1]), -40.0) is None


@given(st.lists(st.tuples(places, places, st.floats(0.1, 40), st.floats(0.1, 40)), max_size=12), st.floats(0, 30))
def test_near_pairs_are_those_of_grown_boxes(rows, reach):
    boxes = np.array([[x, y, x + w, y + h] for x, y, w, h in rows]).reshape(-1, 4)
    expected = {
        (i, j) for i in range(len(rows)) for j in range(i + 1, len(rows))
        if max(boxes[i][0], boxes[j][0]) - min(boxes[i][2], boxes[j][2]) <= reach and max(boxes[i][1], boxes[j][1]) - min(boxes[i][3], boxes[j][3]) <= reach
    }  # fmt: skip
    assert set(near_pairs(boxes, reach)) == expected


def test_what_two_areas_have_in_common_is_found_where_an_outline_crosses_itself():
    """A bow tie has two halves of a quarter each; GEOS itself refuses to cut it."""
    bow = shapely.Polygon([(0, 0), (1, 1), (1, 0), (0, 1)])
    with pytest.raises(shapely.errors.GEOSException):
        shapely.intersection(bow, shapely.box(0, 0, 1, 1))
    assert common(bow, shapely.box(0, 0, 1, 1)).area == pytest.approx(0.5, abs=1e-6)
    assert common(bow, shapely.box(0, 0, 0.5, 1)).area == pytest.approx(0.25, abs=1e-6)
    assert together([bow, shapely.box(0.2, 0.2, 0.8, 2)]).area == pytest.approx(1.4, abs=1e-6)
