"""Shares seen and hidden against a picture made of analytic rays: textbook ray-plane, ray-sphere and ray-cylinder intersections."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import picture, scene_value


def _rays(view, count):
    u, v = np.meshgrid((np.arange(count) + 0.5) / count, (np.arange(count) + 0.5) / count)
    across = (u.ravel() - 0.5) * view.frame_width / view.principal_distance
    down = (v.ravel() - 0.5) * view.frame_height / view.principal_distance
    return view.forward + across[:, None] * view.right - down[:, None] * view.up


def _cylinder(o, d, x, y, r, z0, z1):
    ox, oy = o[0] - x, o[1] - y
    a, b, c = d[:, 0] ** 2 + d[:, 1] ** 2, 2 * (ox * d[:, 0] + oy * d[:, 1]), ox**2 + oy**2 - r**2
    disc = b**2 - 4 * a * c
    with np.errstate(divide="ignore", invalid="ignore"):
        wall = np.where(disc >= 0, (-b - np.sqrt(np.maximum(disc, 0))) / (2 * a), np.inf)
        wall = np.where((wall > 0) & (o[2] + wall * d[:, 2] >= z0) & (o[2] + wall * d[:, 2] <= z1), wall, np.inf)
        cap = (z1 - o[2]) / d[:, 2]
        cap = np.where((cap > 0) & ((ox + cap * d[:, 0]) ** 2 + (oy + cap * d[:, 1]) ** 2 <= r**2), cap, np.inf)
    return np.minimum(wall, cap)


def _sphere(o, d, x, y, z, r):
    offset = o - [x, y, z]
    a, b, c = (d**2).sum(1), 2 * d @ offset, offset @ offset - r**2
    disc = b**2 - 4 * a * c
    return np.where(disc >= 0, (-b - np.sqrt(np.maximum(disc, 0))) / (2 * a), np.inf)


def _scene(**camera):
    value = scene_value(**camera)
    value["props"] = [
        {"id": "tin", "shape": {"kind": "cylinder", "diameter": 80, "height": 140}},
        {"id": "low", "shape": {"kind": "cylinder", "diameter": 160, "height": 20}},
        {"id": "ball", "shape": {"kind": "sphere", "diameter": 90}},
    ]
    value["placements"] = [
        {"id": "a", "prop": "tin", "x": 430, "y": 300, "role": "hero"},
        {"id": "b", "prop": "tin", "x": 480, "y": 420},
        {"id": "c", "prop": "low", "x": 560, "y": 320},
        {"id": "d", "prop": "ball", "x": 500, "y": 220},
        {"id": "e", "prop": "ball", "x": 80, "y": 300},
    ]
    value["setups"][0]["deliverables"] = []
    return value


@pytest.mark.parametrize(
    "camera",
    [
        {"elevation": 45},
        {"elevation": 25, "azimuth": 35, "aim": [460, 300, 40]},
        {"elevation": 5, "aim": [460, 300, 60], "distance": 900},
        {"elevation": 90, "distance": 800},
        {"elevation": 62, "roll": 12, "orientation": "portrait"},
    ],
)
def test_shares_agree_with_a_picture_of_rays(camera):
    computed = picture(_scene(**camera))
    view, count = computed.view, 900
    d = _rays(view, count)
    o = view.position
    hits = {
        "a": _cylinder(o, d, 430, 300, 40, 0, 140),
        "b": _cylinder(o, d, 480, 420, 40, 0, 140),
        "c": _cylinder(o, d, 560, 320, 80, 0, 20),
        "d": _sphere(o, d, 500, 220, 45, 45),
        "e": _sphere(o, d, 80, 300, 45, 45),
    }
    nearest = np.min(np.stack(list(hits.values())), axis=0)
    for name, depth in hits.items():
        seen = np.isfinite(depth)
        thing = computed.things[name]
        visible = seen & (depth <= nearest)
        assert thing.frame_area_share == pytest.approx(visible.mean(), abs=4e-4), name
        if seen.any():
            assert thing.visible_share == pytest.approx(visible.sum() / seen.sum(), abs=8e-3), name


def test_glass_hides_nothing():
    value = _scene(elevation=5, aim=[460, 300, 60])
    hidden = picture(value).things["b"].visible_share
    value["props"][0]["finish"] = "glass"
    assert picture(value).things["b"].visible_share > hidden + 0.1


def test_fruit_in_a_deep_bowl_is_seen_through_its_mouth_only():
    value = _scene(elevation=45)
    value["props"].append({"id": "bowl", "shape": {"kind": "bowl", "diameter": 200, "base_diameter": 140, "height": 110}})
    value["props"].append({"id": "plum", "shape": {"kind": "sphere", "diameter": 40}})
    value["placements"] = [
        {"id": "bowl", "prop": "bowl", "x": 450, "y": 300, "role": "hero"},
        {"id": "plum", "prop": "plum", "x": 450, "y": 260, "z": 6, "on": "bowl"},
    ]
    deep = picture(value)
    assert deep.things["plum"].visible_share < 0.35
    value["setups"][0]["camera"]["elevation"] = 90
    assert picture(value).things["plum"].visible_share == pytest.approx(1)


def test_hidden_placements_are_not_in_the_picture_and_swaps_are():
    value = _scene(elevation=45)
    value["setups"][0]["hidden"] = ["b"]
    value["setups"][0]["swap"] = {"a": "ball"}
    computed = picture(value)
    assert "b" not in computed.things
    assert computed.bodies["a"].z_max == 90
