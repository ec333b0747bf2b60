"""Things in leaning bowls and in notches, against rays cast at triangles (Moller & Trumbore 1997, written out here) and overlaps by hand."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import rotate, translate

from tests.support.scenes import picture, scene_value
from tideflat.core.findings.registry import findings
from tideflat.core.plane.convex_parts import convex_parts, is_convex, parting
from tideflat.core.solids.mesh import triangles

#: A bracket open to the right: a back of 20 and two arms of 20, the notch 80 wide and 60 high.
BRACKET = [[-50, -50], [50, -50], [50, -30], [-30, -30], [-30, 30], [50, 30], [50, 50], [-50, 50]]


def _first_hits(origin, rays, corners):
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    nearest = np.full(len(rays), np.inf)
    for k in range(len(corners)):
        e1, e2 = b[k] - a[k], c[k] - a[k]
        p = np.cross(rays, e2)
        det = p @ e1
        with np.errstate(divide="ignore", invalid="ignore"):
            s = origin - a[k]
            u = (p @ s) / det
            q = np.cross(s, e1)
            v = (rays @ q) / det
            t = (e2 @ q) / det
        hit = (np.abs(det) > 1e-12) & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 0)
        nearest = np.where(hit & (t < nearest), t, nearest)
    return nearest


def seen_share(computed, thing: str, count: int = 160) -> float:
    """Of the pixels of the frame that the thing alone would fill, the share in which a ray meets it first."""
    view = computed.view
    u0, v0, u1, v1 = np.clip(computed.things[thing].box, 0, 1)
    u, v = np.meshgrid(u0 + (np.arange(count) + 0.5) / count * (u1 - u0), v0 + (np.arange(count) + 0.5) / count * (v1 - v0))
    rays = view.rays(np.stack([u.ravel(), v.ravel()], axis=1))
    depths = {i: _first_hits(view.position, rays, triangles(body)) for i, body in computed.bodies.items()}
    own = np.isfinite(depths[thing])
    others = np.min([d for i, d in depths.items() if i != thing], axis=0)
    return float((own & (depths[thing] <= others + 1e-6)).sum() / own.sum())


def _two(first, second, **camera):
    value = scene_value(aim=[450, 300, 40], **camera)
    value["props"] = [{"id": "a", "shape": first[0]}, {"id": "b", "shape": second[0]}]
    value["placements"] = [
        {"id": "p1", "prop": "a", "x": 450, "y": 300, "role": "hero", **first[1]},
        {"id": "p2", "prop": "b", "x": 450, "y": 300, **second[1]},
    ]
    value["setups"][0]["deliverables"] = []
    return value


BOWL = {"kind": "bowl", "diameter": 160, "base_diameter": 80, "height": 70}


@pytest.mark.parametrize("camera", [{"elevation": 10}, {"elevation": 35}, {"elevation": 60, "azimuth": 50}, {"elevation": 90}])
@pytest.mark.parametrize(
    "lean",
    [{"lean": 20, "lean_toward": 90}, {"lean": 35, "lean_toward": 270}, {"lean": 28, "lean_toward": 10}],
)
def test_what_lies_in_a_leaning_bowl_is_hidden_as_rays_hide_it(camera, lean):
    toward = np.radians(lean["lean_toward"])
    shift = 14.0
    ball = {"x": 450 + shift * float(np.cos(toward)), "y": 300 + shift * float(np.sin(toward)), "z": 18}
    computed = picture(_two(({"kind": "sphere", "diameter": 44}, ball), (BOWL, lean), **camera))
    assert computed.things["p1"].visible_share == pytest.approx(seen_share(computed, "p1"), abs=0.02)


@pytest.mark.parametrize(
    "camera", [{"elevation": 12}, {"elevation": 30, "azimuth": 40}, {"elevation": 55, "azimuth": -100}, {"elevation": 30, "azimuth": 180}]
)
@pytest.mark.parametrize("turn", [0, 90, 200])
def test_what_stands_in_a_notch_is_hidden_by_the_arm_before_it_alone(camera, turn):
    bracket = {"kind": "outline", "points": BRACKET, "height": 45}
    tin = ({"kind": "cylinder", "diameter": 40, "height": 60}, {"x": 452, "y": 302})
    computed = picture(_two(tin, (bracket, {"turn": turn}), **camera))
    for i in ("p1", "p2"):
        assert computed.things[i].visible_share == pytest.approx(seen_share(computed, i), abs=0.02)


@pytest.mark.parametrize(("x", "depth"), [(-22, 2.0), (-20.4, 0.4), (-19.9, None), (-19, None), (39, None), (60, None), (-35, 15.0)])
def test_a_box_in_a_notch_is_as_deep_in_it_as_its_nearest_wall(x, depth):
    """A box of 20 in the bracket's mouth: at x = -22 it is 2 mm in the back; what the hull says, over 45, is no overlap of theirs."""
    bracket, box = shapely.Polygon(BRACKET), shapely.box(x - 10, -10, x + 10, 10)
    found, (dx, dy) = parting(convex_parts(bracket), convex_parts(box))
    assert found == pytest.approx(depth or 0, abs=1e-6)
    if depth:
        assert (dx, dy) == pytest.approx((1, 0))


@pytest.mark.parametrize(("x", "depth"), [(428, 2.0), (429.6, None)])
def test_the_finding_tells_the_same(x, depth):
    bracket = {"kind": "outline", "points": BRACKET, "height": 45}
    box = ({"kind": "box", "width": 20, "depth": 20, "height": 30}, {"x": x})
    told = [f for f in findings(picture(_two(box, (bracket, {})))) if f.code == "spacing.overlap"]
    assert [f.measure for f in told] == ([pytest.approx(depth)] if depth else [])


def test_a_notched_thing_that_leans_is_cut_as_it_leans():
    """The bracket tipped by 90 degrees stands on its arms' ends: a box between the arms does not touch, one at an arm does."""
    bracket = {"kind": "outline", "points": BRACKET, "height": 45}
    for y, is_in in ((300, False), (335, True)):
        box = ({"kind": "box", "width": 20, "depth": 20, "height": 30}, {"x": 470, "y": y})
        told = [f for f in findings(picture(_two(box, (bracket, {"lean": 90, "lean_toward": 0})))) if f.code == "spacing.overlap"]
        assert bool(told) is is_in


rings = st.lists(st.floats(15, 60), min_size=5, max_size=11)


@settings(max_examples=60, deadline=None)
@given(a=rings, b=rings, x=st.floats(-70, 70), y=st.floats(-70, 70), turn=st.floats(0, 360))
def test_the_shortest_way_out_parts_and_nothing_much_shorter_does(a, b, x, y, turn):
    """Stars of any radii, against Shapely: moved by the way found they no longer overlap, moved by less in 48 directions they do."""
    first, second = (_star(radii) for radii in (a, b))
    second = translate(rotate(second, turn), x, y)
    depth, (dx, dy) = parting(convex_parts(first, 0), convex_parts(second, 0))
    if shapely.intersection(first, second).area < 1e-9:
        assert depth < 1e-6
        return
    assert shapely.intersection(first, translate(second, dx * (depth + 1e-6), dy * (depth + 1e-6))).area < 1e-3
    for t in np.linspace(0, 2 * np.pi, 48, endpoint=False):
        assert shapely.intersects(first, translate(second, np.cos(t) * depth * 0.98, np.sin(t) * depth * 0.98))


@given(rings)
def test_the_parts_are_convex_and_are_the_whole(radii):
    star = _star(radii)
    parts = [shapely.Polygon(p) for p in convex_parts(star, 0)]
    assert all(is_convex(p) for p in parts)
    whole = shapely.convex_hull(star).area if is_convex(star) else star.area  # hardly notched is taken as convex
    assert shapely.union_all(parts).area == pytest.approx(whole, rel=1e-6) == pytest.approx(sum(p.area for p in parts), rel=1e-6)


def _star(radii):
    at = np.linspace(0, 2 * np.pi, len(radii), endpoint=False)
    return shapely.Polygon(np.column_stack([np.cos(at), np.sin(at)]) * np.array(radii)[:, None])
