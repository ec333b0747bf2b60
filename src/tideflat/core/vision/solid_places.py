"""Places round the outlines of plain solids: of round and square ones about their own middles, of balls where they are seen."""

from __future__ import annotations

import numpy as np

from ..tolerances import ROUNDING
from .pose import Pose

#: Corners of a round outline, and mm between places on a straight side.
_CORNERS, EVERY_MM = 180, 1.2
#: No more places than this of a rectangle are looked at: along the sides of a large one fewer tell as much.
_MOST_PLACES = 220


def rounds(sizes: np.ndarray, every: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(counts, places (n, 2), outward (n, 2)) of ovals of those sizes (s, 2), about 0, 0."""
    t = np.linspace(0, 2 * np.pi, _CORNERS // every, endpoint=False)
    way = np.column_stack([np.cos(t), np.sin(t)])
    places = (way[None] * sizes[:, None] / 2).reshape(-1, 2)
    out = (way[None] * sizes[:, None, ::-1]).reshape(-1, 2)
    return np.full(len(sizes), len(t)), places, out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), ROUNDING)


def boxes(values: np.ndarray, every: int) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """(counts, places, outward, past, apart_mm) of rectangles, about 0, 0 and not turned. However far apart their places lie, those next to
    a corner lie as near to it."""
    wide, deep = values[:, 2], values[:, 3]
    out = np.array([(0, -1), (1, 0), (0, 1), (-1, 0)], dtype=float)
    across, half = np.column_stack([wide, deep, wide, deep]), np.column_stack([deep, wide, deep, wide]) / 2
    dense = np.maximum(4, (across / (EVERY_MM * every)).astype(int))
    fewer = np.maximum(1.0, dense.sum(axis=1) / _MOST_PLACES)
    count = np.maximum(4, np.rint(dense / fewer[:, None]).astype(int))
    ends = across / dense / 2
    apart = (across - 2 * ends) / (count - 1)
    side = np.repeat(np.arange(count.size), count.ravel())
    number = np.arange(len(side)) - np.repeat(np.cumsum(count.ravel()) - count.ravel(), count.ravel())
    along = (number - (count.ravel()[side] - 1) / 2) * apart.ravel()[side]
    normal = out[side % 4]
    way = np.column_stack([-normal[:, 1], normal[:, 0]])
    places = normal * half.ravel()[side, None] + along[:, None] * way
    return count.sum(axis=1), places, normal, (ends / apart).ravel()[side], EVERY_MM * every * fewer


def cones(values: np.ndarray, pose: Pose, every: int) -> np.ndarray:
    """(s, n, 2): where the cones of rays that touch balls (s, 3) meet the plane, counter-clockwise."""
    radius = values[:, 2] / 2
    to = np.column_stack([values[:, :2], radius]) - pose.eye
    far = np.linalg.norm(to, axis=1)
    way = to / far[:, None]
    aside = np.cross(way, [0.0, 1, 0])
    aside /= np.linalg.norm(aside, axis=1, keepdims=True)
    across = np.cross(way, aside)
    lean = np.arcsin(np.minimum(0.99, radius / far))[:, None, None]
    t = np.linspace(0, 2 * np.pi, _CORNERS // every, endpoint=False)[None, :, None]
    rays = np.cos(lean) * way[:, None] + np.sin(lean) * (np.cos(t) * aside[:, None] + np.sin(t) * across[:, None])
    rays = np.where(rays[..., 2:] < -0.02, rays, rays * [1, 1, 0] + [0, 0, -0.02])
    rings = pose.eye[:2] - pose.eye[2] / rays[..., 2:] * rays[..., :2]
    area = (rings[..., 0] * np.roll(rings[..., 1], -1, axis=1) - np.roll(rings[..., 0], -1, axis=1) * rings[..., 1]).sum(axis=1)
    return np.asarray(np.where(area[:, None, None] > 0, rings, rings[:, ::-1]))
