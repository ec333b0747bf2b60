"""How solids look from a lens, against hulls of points thrown one by one, and against what happens when their numbers change."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tideflat.core.vision.pose import Pose
from tideflat.core.vision.solid_curves import KINDS, WITHIN_MM, seen_of, standing

EYES = [(120.0, -300.0, 500.0), (-40.0, 20.0, 380.0)]
SOLIDS = {
    "disc": (30.0, 40.0, 70.0),
    "rectangle": (30.0, -40.0, 60.5, 90.5, 0.4),
    "oval": (-30.0, 40.0, 60.0, 90.0, 0.7),
    "taper": (30.0, 40.0, 90.0, 60.0),
    "ball": (30.0, 40.0, 64.0),
}


def pose_at(eye) -> Pose:
    return Pose(np.eye(3), np.array(eye), 800.0, "camera", 30.0, 0.0, np.eye(3))


def surface(kind, v, height, count=4000) -> np.ndarray:
    """(n, 3) points of the solid's top and foot, or of the ball."""
    t = np.linspace(0, 2 * np.pi, count, endpoint=False)
    ring = np.column_stack([np.cos(t), np.sin(t)]) / 2
    if kind == "ball":
        away = np.random.default_rng(1).normal(size=(60_000, 3))
        return np.array([v[0], v[1], v[2] / 2]) + v[2] / 2 * away / np.linalg.norm(away, axis=1)[:, None]
    if kind == "rectangle":
        ring = np.array([(a, b) for a in (-0.5, 0.5) for b in (-0.5, 0.5)])
    sizes = {"disc": [v[2], v[2]], "taper": [v[2], v[2]]}.get(kind, v[2:4])
    top, foot = ring * sizes, ring * (v[3] if kind == "taper" else sizes)
    if len(v) == 5:
        c, s = np.cos(v[4]), np.sin(v[4])
        top, foot = (p @ np.array([[c, s], [-s, c]]) for p in (top, foot))
    return np.vstack([np.column_stack([p + v[:2], np.full(len(p), z)]) for p, z in ((top, height), (foot, 0.0))])


def thrown_hull(points, eye) -> shapely.Polygon:
    eye = np.array(eye)
    t = eye[2] / (eye[2] - points[:, 2])
    return shapely.MultiPoint(eye[:2] + (points[:, :2] - eye[:2]) * t[:, None]).convex_hull


@pytest.mark.parametrize("eye", EYES)
@pytest.mark.parametrize("height", [5.0, 60.0, 160.0])
@pytest.mark.parametrize("kind", SOLIDS)
def test_the_silhouette_is_the_hull_of_all_its_points(kind, height, eye):
    v = np.array(SOLIDS[kind])
    seen = seen_of(kind, v, pose_at(eye), height)
    want, got = thrown_hull(surface(kind, v, height), eye), shapely.Polygon(seen.silhouette.places).convex_hull
    assert got.symmetric_difference(want).area < 0.004 * want.area
    assert (shapely.distance(shapely.points(seen.silhouette.places), want.exterior) < 0.5).all()
    outward = seen.silhouette.places + seen.silhouette.outward
    assert (~shapely.contains_xy(want.buffer(-0.5), outward)).mean() > 0.99 and shapely.Polygon(seen.silhouette.places).exterior.is_ccw


@pytest.mark.parametrize("eye", EYES)
@pytest.mark.parametrize("kind", ["disc", "rectangle", "oval", "taper"])
def test_of_the_tops_outline_that_lies_within_which_does(kind, eye):
    v, height = np.array(SOLIDS[kind]), 90.0
    seen = seen_of(kind, v, pose_at(eye), height)
    hull = thrown_hull(surface(kind, v, height), eye)
    deep = shapely.distance(shapely.points(seen.top.places), hull.exterior)
    told = np.abs(deep - WITHIN_MM) > 0.5  # at the limit either will do
    inside = shapely.contains_xy(hull, seen.top.places) & (deep > WITHIN_MM)
    assert (seen.is_within == inside)[told].mean() > 0.97
    assert eye == EYES[1] or (seen.is_within.any() and not seen.is_within.all())


@pytest.mark.parametrize("kind", SOLIDS)
def test_moves_are_what_a_change_of_each_number_does(kind):
    v, pose, height, step = np.array(SOLIDS[kind]), pose_at(EYES[0]), 60.0, 0.001
    own = standing(kind, v[None], pose, height)
    for n in range(KINDS[kind]):
        change = np.zeros(len(v))
        change[n] = step
        more, less = (standing(kind, (v + by * change)[None], pose, height) for by in (1, -1))
        for name, moves in (("base", own.base_moves), ("top", own.top_moves)):
            moved = ((getattr(more, name) - getattr(less, name)) * own.outward).sum(axis=1) / (2 * step)
            assert moves[:, n] == pytest.approx(moved, abs=0.01)
    assert not own.base_moves[:, KINDS[kind] :].any() and not own.top_moves[:, KINDS[kind] :].any()


def test_many_are_as_each_is_alone():
    values = np.array([SOLIDS["rectangle"], (-80.0, 10, 30, 140, 1.1), (0.0, 0, 12, 12, 0.0)])
    pose = pose_at(EYES[0])
    many = standing("rectangle", values, pose, 70.0, every=3)
    assert many.straight_places().shape == (3,)
    for n, v in enumerate(values):
        one, own = standing("rectangle", v[None], pose, 70.0, every=3), many.solid == n
        assert many.counts[n] == len(one.base) and many.top[own] == pytest.approx(one.top)
        assert many.depth()[own] == pytest.approx(one.depth()) and many.straight_places()[n] == one.straight_places()[0]


@pytest.mark.parametrize(("wide", "deep", "count"), [(50.0, 60.0, 2 * (41 + 50)), (65.9, 65.9, 216), (180.0, 260.0, 220), (12.0, 400.0, 220)])
def test_a_large_rectangle_has_no_more_places_but_as_many_near_its_corners(wide, deep, count):
    v, pose, height = np.array([10.0, -20.0, wide, deep, 0.3]), pose_at(EYES[0]), 40.0
    many = standing("rectangle", v[None], pose, height)
    assert many.counts[0] == pytest.approx(count, abs=4)
    c, s = np.cos(0.3), np.sin(0.3)
    for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
        corner = v[:2] + [a * wide / 2 * c - b * deep / 2 * s, a * wide / 2 * s + b * deep / 2 * c]
        assert np.linalg.norm(many.base - corner, axis=1).min() < 0.8
    seen, want = seen_of("rectangle", v, pose, height), thrown_hull(surface("rectangle", v, height), EYES[0])
    hull = shapely.Polygon(seen.silhouette.places).convex_hull
    assert hull.symmetric_difference(want).area < 0.004 * want.area
    assert (shapely.distance(shapely.points(seen.silhouette.places), want.exterior) < 0.5).all()
