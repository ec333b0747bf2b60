"""Every shape of the scene document, turned, leaned and lifted, through OpenCV: skins are sampled here afresh from the document's words."""

from __future__ import annotations

import itertools

import cv2
import numpy as np
import pytest

from tests.reference.test_projection_opencv import opencv_frame_fractions
from tests.support.scenes import picture, scene_value

AROUND = np.linspace(0, 2 * np.pi, 4001)
RING = np.column_stack([np.cos(AROUND), np.sin(AROUND)])


def level(points: np.ndarray, z: float) -> np.ndarray:
    return np.column_stack([points, np.full(len(points), z)])


def corners(width: float, depth: float, height: float) -> np.ndarray:
    return np.array(list(itertools.product((-width / 2, width / 2), (-depth / 2, depth / 2), (0, height))))


def skin_and_centroid(shape: dict) -> tuple[np.ndarray, np.ndarray]:
    """Points that span the solid at rest, and its centroid by summing thin slices (pyramids and balls by their formulas)."""
    match shape["kind"]:
        case "cylinder":
            return np.concatenate([level(RING * shape["diameter"] / 2, z) for z in (0, shape["height"])]), np.array(
                [0, 0, shape["height"] / 2]
            )
        case "cone":
            return _revolved([(0, shape["base_diameter"] / 2), (shape["height"], shape["top_diameter"] / 2)])
        case "bowl":
            return _revolved([(0, shape["base_diameter"] / 2), (shape["height"], shape["diameter"] / 2)])
        case "bottle":
            shoulder = shape["height"] - shape["neck_height"]
            r, n = shape["diameter"] / 2, shape["neck_diameter"] / 2
            return _revolved([(0, r), (shoulder, r), (shoulder + shape["neck_height"] / 2, n), (shape["height"], n)])
        case "ellipse":
            half = np.array([shape["width"], shape["depth"]]) / 2
            return np.concatenate([level(RING * half, z) for z in (0, shape["height"])]), np.array([0, 0, shape["height"] / 2])
        case "sphere":
            r = shape["diameter"] / 2
            t, p = np.meshgrid(np.linspace(0, 2 * np.pi, 801), np.linspace(0, np.pi, 801))
            ball = np.stack([np.cos(t) * np.sin(p), np.sin(t) * np.sin(p), np.cos(p)], axis=-1).reshape(-1, 3)
            return ball * r + [0, 0, r], np.array([0, 0, r])
        case "outline":
            points = np.array(shape["points"], dtype=float)
            x, y = points.T
            cross = x * np.roll(y, -1) - np.roll(x, -1) * y  # the surveyor's formula
            middle = np.array([((x + np.roll(x, -1)) * cross).sum(), ((y + np.roll(y, -1)) * cross).sum()]) / (3 * cross.sum())
            return np.concatenate([level(points, z) for z in (0, shape["height"])]), np.array([*middle, shape["height"] / 2])
        case "rod":
            return corners(shape["length"], shape["width"], shape["height"]), np.array([0, 0, shape["height"] / 2])
        case "cloth":
            return corners(shape["width"], shape["depth"], shape["thickness"]), np.array([0, 0, shape["thickness"] / 2])
    return corners(shape["width"], shape["depth"], shape["height"]), np.array([0, 0, shape["height"] / 2])


def _revolved(profile: list[tuple[float, float]]) -> tuple[np.ndarray, np.ndarray]:
    z = np.linspace(profile[0][0], profile[-1][0], 200_001)
    r = np.interp(z, *np.array(profile).T)
    return np.concatenate([level(RING * radius, height) for height, radius in profile]), np.array([0, 0, (z * r**2).sum() / (r**2).sum()])


def posed(points: np.ndarray, skin: np.ndarray, placement: dict) -> np.ndarray:
    """Turn about the upright axis, then lean from upright toward a direction, then lift until the lowest of the skin is at z."""
    turn = cv2.Rodrigues(np.array([0, 0, np.radians(placement["turn"])]))[0]
    toward = np.radians(placement["lean_toward"])
    axis = np.cross([0, 0, 1.0], [np.cos(toward), np.sin(toward), 0])
    lean = cv2.Rodrigues(axis * np.radians(placement["lean"]))[0]
    lowest = (skin @ (lean @ turn).T)[:, 2].min()
    return points @ (lean @ turn).T + [placement["x"], placement["y"], placement["z"] - lowest]


SHAPES = [
    {"kind": "cylinder", "diameter": 76, "height": 95},
    {"kind": "box", "width": 120, "depth": 80, "height": 60},
    {"kind": "bowl", "diameter": 150, "base_diameter": 70, "height": 60},
    {"kind": "bottle", "diameter": 70, "height": 240, "neck_diameter": 28, "neck_height": 90},
    {"kind": "cone", "base_diameter": 90, "top_diameter": 0, "height": 110},
    {"kind": "cone", "base_diameter": 50, "top_diameter": 80, "height": 70},
    {"kind": "sphere", "diameter": 74},
    {"kind": "ellipse", "width": 140, "depth": 60, "height": 35},
    {"kind": "rod", "length": 180, "width": 12, "height": 8},
    {"kind": "outline", "points": [[-40, -12], [0, -20], [40, 0], [0, 20], [-10, 4]], "height": 25},
    {"kind": "cloth", "width": 200, "depth": 150, "thickness": 2},
]
POSES = [
    {"turn": 0, "lean": 0, "lean_toward": 0, "z": 0}, {"turn": 35, "lean": 0, "lean_toward": 0, "z": 40}, {"turn": -50, "lean": 20, "lean_toward": 70, "z": 0},
    {"turn": 110, "lean": 90, "lean_toward": 200, "z": 5}, {"turn": 10, "lean": -30, "lean_toward": 315, "z": 0},
]  # fmt: skip
CAMERAS = [
    {"elevation": 90},
    {"elevation": 45, "azimuth": 25, "roll": 4},
    {"elevation": 5, "aim": [450, 300, 60], "azimuth": -15, "distance": 800},
]


@pytest.mark.parametrize("shape", SHAPES, ids=lambda s: s["kind"])
@pytest.mark.parametrize("pose", range(len(POSES)))
@pytest.mark.parametrize("camera", CAMERAS, ids=lambda c: str(c["elevation"]))
def test_box_and_centre_agree_with_opencv_to_a_ten_thousandth_of_the_frame(shape, pose, camera):
    value = scene_value(**camera)
    placement = {"id": "p1", "prop": "x", "x": 480, "y": 330, "role": "hero", "held_by": "arm", **POSES[pose]}
    value["props"], value["placements"] = [{"id": "x", "shape": shape}], [placement]
    value["setups"][0]["deliverables"] = []
    thing = picture(value).things["p1"]
    skin, centroid = skin_and_centroid(shape)
    seen = opencv_frame_fractions(value["setups"][0]["camera"], posed(skin, skin, placement))
    assert np.abs(np.array(thing.box) - [*seen.min(axis=0), *seen.max(axis=0)]).max() < 1e-4
    (centre,) = opencv_frame_fractions(value["setups"][0]["camera"], posed(centroid[None], skin, placement))
    assert np.abs(np.array(thing.centre) - centre).max() < 1e-4
