"""A photograph laid flat: its pixels on a millimetre grid of the sheet's plane, or of a level plane above it."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from shapely.geometry.base import BaseGeometry

from ..tolerances import ROUNDING
from .pose import Pose


@dataclass(frozen=True, eq=False)
class Flat:
    """rgb (h, w, 3) uint8; known (h, w) bool, false where the photograph does not reach. left, far: mm of the top left pixel's corner;
    y of the table grows upward in it. per_mm: pixels for one mm."""

    rgb: np.ndarray
    known: np.ndarray
    left: float
    far: float
    per_mm: float

    def mm(self, pixels: np.ndarray) -> np.ndarray:
        """Table mm (n, 2) of pixel positions (n, 2) in which whole numbers are pixels' corners."""
        return np.column_stack([self.left + pixels[:, 0] / self.per_mm, self.far - pixels[:, 1] / self.per_mm])

    def inside(self, region: BaseGeometry) -> np.ndarray:
        """(h, w) bool: the pixels whose middles lie in a region, mm."""
        mask = np.zeros(self.known.shape, bool)
        where, part = self.within(region)
        mask[where] = part
        return mask

    def within(self, region: BaseGeometry) -> tuple[tuple[slice, slice], np.ndarray]:
        """The window that holds a region, mm, and which of its pixels' middles lie in that."""
        h, w = self.known.shape
        parts = [part for part in getattr(region, "geoms", [region]) if part.geom_type == "Polygon" and not part.is_empty]
        rings = [
            (np.rint(self.pixels(np.array(ring.coords)) - 0.5).astype(np.int32), value)
            for part in parts
            for ring, value in ((part.exterior, 1), *((hole, 0) for hole in part.interiors))
        ]
        if not rings:
            return np.s_[0:0, 0:0], np.zeros((0, 0), bool)
        every = np.concatenate([ring for ring, _ in rings])
        low, high = np.maximum(every.min(axis=0), 0), np.minimum(every.max(axis=0) + 1, [w, h])
        high = np.maximum(low, high)
        mask = np.zeros((high - low)[::-1], np.uint8)
        if mask.size:
            for ring, value in rings:
                cv2.fillPoly(mask, [ring - low.astype(np.int32)], value)
        return np.s_[low[1] : high[1], low[0] : high[0]], mask.astype(bool)

    def pixels(self, mm: np.ndarray) -> np.ndarray:
        """The reverse of ``mm``."""
        return np.column_stack([(mm[:, 0] - self.left) * self.per_mm, (self.far - mm[:, 1]) * self.per_mm])

    def value_at(self, values: np.ndarray, mm: np.ndarray) -> np.ndarray:
        """(n, ...) of values (h, w, ...) of the grid's pixels: those nearest to places (n, 2), mm; past its border the last."""
        at = np.clip(np.rint(self.pixels(mm) - 0.5).astype(int), 0, [values.shape[1] - 1, values.shape[0] - 1])
        return np.asarray(values[at[:, 1], at[:, 0]])


def at_height(pose: Pose, height_mm: float) -> np.ndarray:
    """(3, 3) from mm on the level plane so high to pixels: the plane is scaled about the foot of the lens."""
    k = pose.enlargement_at(height_mm) if height_mm else 1.0
    eye = pose.eye[:2]
    return pose.plane_to_pixel @ np.array([[k, 0, eye[0] * (1 - k)], [0, k, eye[1] * (1 - k)], [0, 0, 1]])


def through(matrix: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n, 2): where a plane's matrix (3, 3) takes places (n, 2) of it."""
    placed = np.column_stack([places, np.ones(len(places))]) @ matrix.T
    return np.asarray(placed[:, :2] / placed[:, 2:])


def flatten(rgb: np.ndarray, matrix: np.ndarray, box: tuple[float, float, float, float], per_mm: float) -> Flat:
    """The part ``box`` (left, near, right, far) mm of the plane that ``matrix`` takes to pixels of ``rgb``."""
    left, near, right, far = box
    width, height = max(1, round((right - left) * per_mm)), max(1, round((far - near) * per_mm))
    # OpenCV's whole numbers are the middles of pixels, on both sides
    to_mm = np.array([[1 / per_mm, 0, left + 0.5 / per_mm], [0, -1 / per_mm, far - 0.5 / per_mm], [0, 0, 1]])
    back = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1]]) @ matrix @ to_mm
    shrink = _shrink(back, width, height)
    (x0, y0), (x1, y1) = _asked_of(back, width, height, rgb.shape, shrink)
    source = rgb[y0:y1, x0:x1]
    back = np.array([[1, 0, -x0], [0, 1, -y0], [0, 0, 1]]) @ back
    if shrink > 1:
        source = shrunk(source, shrink)
        back = np.diag([1 / shrink, 1 / shrink, 1]) @ np.array([[1, 0, 0.5 - shrink / 2], [0, 1, 0.5 - shrink / 2], [0, 0, 1]]) @ back
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    seen = cv2.warpPerspective(source, back, (width, height), flags=flags)
    known = cv2.warpPerspective(np.full(source.shape[:2], 255, np.uint8), back, (width, height), flags=flags) > 250
    return Flat(seen, known, left, far, per_mm)


def shrunk(picture: np.ndarray, by: int) -> np.ndarray:
    """A picture so many times smaller, a power of two, by means over its pixels: halves are far quicker than other shares."""
    while by > 1:
        picture = cv2.resize(picture, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
        by //= 2
    return picture


def _asked_of(back: np.ndarray, width: int, height: int, shape: tuple[int, ...], shrink: int) -> tuple[tuple[int, int], tuple[int, int]]:
    """(left, top) and (right, bottom) of what of a photograph of that shape a grid of so many pixels is seen in, by whole parts of so many
    pixels; all of it where a part of the grid lies behind the lens."""
    h, w = shape[:2]
    corners = np.array([[0, 0, 1.0], [width, 0, 1], [width, height, 1], [0, height, 1]]) @ back.T
    if corners[:, 2].min() * corners[:, 2].max() <= 0:
        return (0, 0), (w, h)
    at = corners[:, :2] / corners[:, 2:]
    room = 2 * shrink + 2
    low = np.clip(np.floor((at.min(axis=0) - room) / shrink) * shrink, 0, [w, h]).astype(int)
    high = np.clip(np.ceil(at.max(axis=0) + room), 0, [w, h]).astype(int)
    if (high - low).min() < shrink:  # it does not reach there
        return (0, 0), (w, h)
    return (int(low[0]), int(low[1])), (int(high[0]), int(high[1]))


def _shrink(back: np.ndarray, width: int, height: int) -> int:
    """A power of two: how many of the photograph's pixels fall on one of the grid's, in the middle, at the least: they would be skipped
    over."""
    at = np.array([[width / 2, height / 2, 1], [width / 2 + 1, height / 2, 1], [width / 2, height / 2 + 1, 1]]) @ back.T
    flat = at[:, :2] / at[:, 2:]
    fall = max(1, int(min(np.linalg.norm(flat[1] - flat[0]), np.linalg.norm(flat[2] - flat[0]))))
    return 1 << (fall.bit_length() - 1)


def reach_mm(pose: Pose, picture: tuple[int, int], around: tuple[float, float], most: float) -> tuple[float, float, float, float]:
    """(left, near, right, far): what the photograph shows of the plane, at most ``most`` mm past the sheet, whose size is ``around``."""
    w, h = picture
    back = np.linalg.inv(pose.plane_to_pixel)
    border = np.array([[x, y, 1.0] for x in np.linspace(0, w, 9) for y in np.linspace(0, h, 9)])
    on_plane = border @ back.T
    sign = np.sign((np.array([w / 2, h / 2, 1.0]) @ back.T)[2])
    ahead = on_plane[:, 2] * sign > ROUNDING
    flat = on_plane[ahead, :2] / on_plane[ahead, 2:]
    wide, deep = around[0] / 2 + most, around[1] / 2 + most
    low, high = np.maximum(flat.min(axis=0), [-wide, -deep]), np.minimum(flat.max(axis=0), [wide, deep])
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])
