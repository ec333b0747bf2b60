"""Core and edge of shadows: by hand (similar triangles; the sun's ellipse), and against rays from random places of the surface to many places
of the light, met with solids by formulas of this file."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
import shapely

from tests.support.lit import LAMP, lighting, printed, table, thing
from tideflat.core.light.lit_face import LitFace, samples_of
from tideflat.core.light.shadows import shadow_of


def areas(value: dict[str, Any]) -> tuple[shapely.Geometry, shapely.Geometry]:
    (row,) = printed(value)["shadows"]
    core, edge = (shapely.union_all([shapely.Polygon(ring) for ring in row[key]]) for key in ("core", "edge"))
    return core, edge


def test_a_box_under_a_square_lamp_by_similar_triangles() -> None:
    """Lamp 200 wide at 1 000; box 100 wide from 0 to 100: its top is thrown by 1 / 9 of the way from each side of the lamp."""
    core, edge = areas(table([LAMP], [thing(1, {"kind": "box", "width": 100, "depth": 60, "height": 100}, 450, 300)]))
    # From the lamp's right edge (+100) the box's left top corner (-50) lands at -50 - 150 / 9.
    assert edge.bounds == pytest.approx((450 - 50 - 150 / 9, 300 - 30 - 130 / 9, 450 + 50 + 150 / 9, 300 + 30 + 130 / 9), abs=0.01)
    # All of the lamp is hidden only under its foot: from the left edge the same corner lands at -50 + 50 / 9, inside the foot.
    assert core.bounds == pytest.approx((400, 270, 500, 330), abs=0.01)


def test_a_box_held_in_the_air_has_a_smaller_core() -> None:
    core, edge = areas(table([LAMP], [thing(1, {"kind": "box", "width": 100, "depth": 100, "height": 10}, 450, 300, z=490, held_by="arm")]))
    low, high = 490, 500
    # The core is bounded by whichever of its levels throws it wider: half 50 seen from +-100, at 490 and at 500.
    half = max(50 + (50 - 100) * z / (1000 - z) for z in (low, high))
    assert core.bounds == pytest.approx((450 - half, 300 - half, 450 + half, 300 + half), abs=0.01)
    wide = 50 + 150 * high / (1000 - high)
    assert edge.bounds == pytest.approx((450 - wide, 300 - wide, 450 + wide, 300 + wide), abs=0.01)
    # Higher still, nothing is dark altogether.
    core, _ = areas(table([LAMP], [thing(1, {"kind": "box", "width": 100, "depth": 100, "height": 10}, 450, 300, z=690, held_by="arm")]))
    assert core.is_empty


def test_a_ball_in_the_sun_throws_an_ellipse() -> None:
    """Radius r, sun at elevation e: half-axes r and r / sin e about the foot of its middle's ray; core and edge part by the sun's size."""
    sun = {"id": "sun", "kind": "sun", "latitude": 51, "longitude": 0, "time": "2026-04-10T09:30:00+00:00"}
    value = table([sun], [thing(1, {"kind": "sphere", "diameter": 80}, 450, 300)], room={"north": 25})
    way = lighting(value).sources[0].to_sun
    assert way is not None
    elevation = math.asin(way[2])
    core, edge = areas(value)
    middle = np.array([450.0, 300]) - 40 * way[:2] / way[2]
    for area, sign in ((core, -1), (edge, 1)):
        assert (area.centroid.x, area.centroid.y) == pytest.approx(tuple(middle), abs=0.5)
        # The half disc of the sun widens it by so much at the far end.
        far = 40 / math.sin(elevation) + sign * 40 / math.sin(elevation) ** 2 * math.radians(0.2665)
        assert shapely.hausdorff_distance(shapely.Point(*middle), area) == pytest.approx(far, abs=0.6)


def _hit_cylinder(start: np.ndarray, way: np.ndarray, x: float, y: float, r: float, h: float) -> np.ndarray:
    o, d = start[:, :2] - [x, y], way[:, :2]
    a, b, c = (d**2).sum(axis=1), (o * d).sum(axis=1), (o**2).sum(axis=1) - r * r
    root = b * b - a * c
    with np.errstate(invalid="ignore", divide="ignore"):
        z0, z1 = (start[:, 2] + way[:, 2] * (-b + s * np.sqrt(root)) / a for s in (-1, 1))
        t1 = (-b + np.sqrt(root)) / a
    return (root > 0) & (t1 > 0) & (np.minimum(z0, z1) < h) & (np.maximum(z0, z1) > 0)


def _hit_ball(start: np.ndarray, way: np.ndarray, centre: np.ndarray, r: float) -> np.ndarray:
    to = centre - start
    along = (to * way).sum(axis=1) / (way**2).sum(axis=1)
    return (along > 0) & (((to - along[:, None] * way) ** 2).sum(axis=1) < r * r)


def _hit_box(start: np.ndarray, way: np.ndarray, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    with np.errstate(divide="ignore"):
        a, b = (low - start) / way, (high - start) / way
    return np.minimum(a, b).max(axis=1) < np.minimum(np.maximum(a, b).min(axis=1), 1.0)


@pytest.mark.parametrize("seed", range(12))
def test_random_lamps_and_things_by_rays(seed: int) -> None:
    random = np.random.Generator(np.random.PCG64(seed))
    at = [float(v) for v in (random.uniform(-400, 1300), random.uniform(-300, 1000), random.uniform(350, 1200))]
    aim = np.array([450, 300, 0]) - at + random.normal(size=3) * 60
    lamp = {
        **LAMP,
        "at": at,
        "toward": [float(v) for v in aim],
        "width": float(random.uniform(20, 500)),
        "height": float(random.uniform(20, 500)),
        "round": bool(seed % 3 == 0),
    }
    kind = ("cylinder", "sphere", "box")[seed % 3]
    shape = {
        "cylinder": {"kind": "cylinder", "diameter": 90, "height": 120},
        "sphere": {"kind": "sphere", "diameter": 90},
        "box": {"kind": "box", "width": 120, "depth": 70, "height": 90},
    }[kind]
    lit = lighting(table([lamp], [thing(1, shape, 450, 300)]))
    source, body = lit.sources[0], lit.bodies["p1"]
    shadow = shadow_of(body, source)
    assert source.outline is not None
    places = np.concatenate([samples_of(LitFace(source.outline, np.array([0, 0, 1.0]), 1), 20), source.outline])
    places = places[places[:, 2] > 0]
    points = np.column_stack([random.uniform(150, 750, 400), random.uniform(0, 600, 400), np.zeros(400)])
    for point in points:
        way = places - point
        start = np.tile(point, (len(places), 1))
        if kind == "cylinder":
            hit = _hit_cylinder(start, way, 450, 300, 45, 120)
        elif kind == "sphere":
            hit = _hit_ball(start, way, np.array([450.0, 300, 45]), 45)
        else:
            hit = _hit_box(start, way, np.array([390.0, 265, 0]), np.array([510.0, 335, 90]))
        here = shapely.Point(point[0], point[1])
        if shadow.edge.boundary.distance(here) > 2:
            assert hit.any() == shadow.edge.contains(here) or (
                shadow.edge.contains(here) and hit.sum() == 0 and shadow.edge.boundary.distance(here) < 25
            )
        if not shadow.core.is_empty and shadow.core.boundary.distance(here) > 2:
            assert hit.all() == shadow.core.contains(here)
        if shadow.core.is_empty:
            assert not hit.all()


def test_a_shadow_of_what_is_notched_and_of_what_is_strewn() -> None:
    """An L throws no shadow into the corner that it leaves open, under a small lamp straight over it; crumbs throw one each."""
    outline = {"kind": "outline", "points": [[0, 0], [200, 0], [200, 60], [60, 60], [60, 200], [0, 200]], "height": 5}
    core, edge = areas(table([{**LAMP, "width": 2, "height": 2, "at": [450, 300, 3000]}], [thing(1, outline, 450, 300)]))
    footprint = lighting(table([LAMP], [thing(1, outline, 450, 300)])).bodies["p1"].footprint
    assert core.symmetric_difference(footprint).area < 0.02 * footprint.area
    assert edge.symmetric_difference(footprint).area < 0.02 * footprint.area
    crumbs = {"kind": "scatter", "width": 400, "depth": 300, "piece_diameter": 8, "pieces": 12, "seed": 4}
    _, edge = areas(table([LAMP], [thing(1, crumbs, 450, 300)]))
    assert len(shapely.get_parts(edge)) == 12


def test_no_light_under_the_table_and_none_from_the_sky_is_thrown() -> None:
    under = {**LAMP, "at": [450, 300, -200], "toward": [0, 0, 1]}
    core, edge = areas(table([under], [thing(1, {"kind": "sphere", "diameter": 80}, 450, 300)]))
    assert core.is_empty and edge.is_empty
    assert printed(table([{"id": "r", "kind": "room"}], [thing(1, {"kind": "sphere", "diameter": 80}, 450, 300)]))["shadows"] == []
    # Partly under it: what stands above the table counts.
    low = {"id": "w", "kind": "window", "at": [-600, 300, 0], "toward": [1, 0, 0], "width": 800, "height": 1000}
    high = {**low, "at": [-600, 300, 250], "height": 500}
    box = [thing(1, {"kind": "box", "width": 100, "depth": 100, "height": 60}, 450, 300)]
    near = shapely.box(-500, -1000, 2000, 1600)  # what is thrown along the table never ends
    for a, b in zip(areas(table([low], box)), areas(table([high], box)), strict=True):
        a, b = a.intersection(near), b.intersection(near)
        assert a.symmetric_difference(b).area <= 0.01 * max(a.area, 1)
