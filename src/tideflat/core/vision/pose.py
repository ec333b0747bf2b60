"""Where the camera stood, from the four corners of a sheet of known size.

Source: Z. Zhang, "A flexible new technique for camera calibration", PAMI 22(11), 2000, equations 3 and 4: a plane seen in
perspective gives two conditions on the focal length, when pixels are square and the axis goes through the picture's middle.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from ..camera.equivalence import FULL_DIAGONAL_MM
from ..tolerances import DIFFERENCE, ROUNDING, SAME_NUMBER

#: Focal length over the picture's long side that is taken when neither the camera nor the perspective tells: about a phone's main lens.
USUAL_FOCAL = 0.76
#: Below this tilt the perspective of a sheet is too faint to tell the focal length from.
TELLING_TILT_DEG = 9.0
#: What a camera notes is rounded to whole millimetres, and of another diagonal than a full frame's: so far off (share) it may well be,
#: while corners are found to so many pixels.
_NOTED_SHARE, _CORNER_PX = 0.03, 0.4
#: Steps of the refinement at the most; and how far it may take the focal length from the first solution.
_MOST_STEPS, _NEAR_FIRST = 60, 0.5
#: How much a step is damped at first, and by how much more where it leads uphill.
_DAMPING, _LESS = 0.001, 5.0


@dataclass(frozen=True, eq=False)
class Pose:
    """plane_to_pixel (3, 3): mm on the sheet's plane to pixels. eye (3,): the lens, mm, z above the plane. focal_px: pixels.

    focal_from: ``camera`` (it noted it, and the perspective settled it), ``perspective`` (worked out), ``usual`` (assumed). skew: how
    badly the corners fit a sheet of the size assumed, 0 for perfectly. turned (3, 3): the plane's axes, z up, as the picture's (right,
    down, away).
    """

    plane_to_pixel: np.ndarray
    eye: np.ndarray
    focal_px: float
    focal_from: str
    tilt_deg: float
    skew: float
    turned: np.ndarray

    def enlargement_at(self, height_mm: float) -> float:
        """How much larger a level thing so high looks when it is taken for lying on the plane."""
        return float(self.eye[2] / (self.eye[2] - height_mm))


def pose_of(
    corners: np.ndarray, sheet_mm: tuple[float, float], picture_size: tuple[int, int], focal_35mm: float | None, *, settled: bool = True
) -> Pose:
    """corners (4, 2) pixels, clockwise in the picture from the sheet's far left; picture_size (w, h) pixels. settled: not by the closed form
    alone, which is enough to tell a sheet from what is none.

    A first solution in closed form, then the rotation, the place and the focal length (near what the camera noted, where it did) that leave
    the four corners the least sum of squares: what a corner is off by is shared by all.
    """
    w, h = picture_size
    wide, deep = sheet_mm
    plane = np.array([[0, deep], [wide, deep], [wide, 0], [0, 0]], dtype=float) - [wide / 2, deep / 2]
    matrix = homography(plane, corners)
    middle = np.array([w / 2, h / 2])
    focal, how = _focal(matrix, middle, max(w, h), focal_35mm, np.hypot(w, h))
    pose = _pose(matrix, middle, focal, how)
    if not settled:
        return pose
    pose = _refined(pose, plane, corners, middle)
    if how == "perspective" and pose.tilt_deg < TELLING_TILT_DEG:
        pose = _refined(_pose(matrix, middle, USUAL_FOCAL * max(w, h), "usual"), plane, corners, middle)
    return pose


def _refined(pose: Pose, plane: np.ndarray, corners: np.ndarray, middle: np.ndarray) -> Pose:
    """The same seen so that the corners fit best; as it is where that does not settle, or the sheet is no sheet of that size."""
    spin, shift = pose.turned, -pose.turned @ pose.eye
    start = np.concatenate([cv2.Rodrigues(spin)[0].ravel(), shift[:2] / shift[2], [np.log(shift[2]), 0.0]])
    points = np.column_stack([plane, np.zeros(4)])
    frees = pose.focal_from != "usual"
    noted = _CORNER_PX / _NOTED_SHARE if pose.focal_from == "camera" else 0.0

    def seen(values: np.ndarray) -> tuple[np.ndarray, np.ndarray, float]:
        place = np.array([*values[3:5], 1.0]) * np.exp(values[5])
        return cv2.Rodrigues(values[:3])[0], place, pose.focal_px * float(np.exp(values[6]) if frees else 1.0)

    def miss(values: np.ndarray) -> np.ndarray:
        turned, place, focal = seen(values)
        there = points @ turned.T + place
        return np.append((there[:, :2] / there[:, 2:] * focal + middle - corners).ravel(), noted * values[6])

    values = _least_squares(miss, start)
    if values is None:
        return pose
    turned, place, focal = seen(values)
    if (place[2] <= 0) or not _NEAR_FIRST < focal / pose.focal_px < 1 / _NEAR_FIRST:
        return pose
    eye = -turned.T @ place
    if eye[2] <= 0:
        return pose
    tilt = float(np.degrees(np.arccos(min(1.0, abs(turned[2, 2])))))
    skew = _skew(pose.plane_to_pixel, middle, focal)
    return Pose(pose.plane_to_pixel, eye, focal, pose.focal_from, tilt, skew, turned)


def _least_squares(miss: Callable[[np.ndarray], np.ndarray], start: np.ndarray) -> np.ndarray | None:
    """What makes ``miss`` least in the sum of its squares, from ``start`` on; None where that does not settle.

    Source: K. Levenberg, "A method for the solution of certain non-linear problems in least squares", Quarterly of Applied Mathematics 2,
    1944, damped by the squares' own scale (D. Marquardt, SIAM Journal 11, 1963)."""
    values, off, damping = start, miss(start), _DAMPING
    for _ in range(_MOST_STEPS):
        aside = DIFFERENCE * np.eye(len(values))
        slopes = np.column_stack([(miss(values + step) - miss(values - step)) / (2 * DIFFERENCE) for step in aside])
        squares, downhill = slopes.T @ slopes, slopes.T @ off
        held = np.diag(np.maximum(np.diag(squares), ROUNDING))
        while damping < 1 / ROUNDING:
            step = np.linalg.solve(squares + damping * held, -downhill)
            tried = miss(values + step)
            if np.isfinite(tried).all() and tried @ tried < off @ off:
                break
            damping *= _LESS
        else:
            return values  # no step makes it less: it is there
        gained = off @ off - tried @ tried
        values, off, damping = values + step, tried, damping / _LESS
        if gained <= SAME_NUMBER + ROUNDING * float(off @ off):
            return values
    return None


def homography(plane: np.ndarray, pixels: np.ndarray) -> np.ndarray:
    """(3, 3) exact through four points; last element 1."""
    found: np.ndarray = cv2.getPerspectiveTransform(plane.astype(np.float32), pixels.astype(np.float32)).astype(float)
    return found


def _centred(matrix: np.ndarray, middle: np.ndarray) -> np.ndarray:
    shift = np.array([[1, 0, -middle[0]], [0, 1, -middle[1]], [0, 0, 1.0]])
    return shift @ matrix


def _focal(matrix: np.ndarray, middle: np.ndarray, long_side: int, focal_35mm: float | None, diagonal: float) -> tuple[float, str]:
    if focal_35mm is not None:
        return focal_35mm / FULL_DIAGONAL_MM * float(diagonal), "camera"
    h = _centred(matrix, middle)
    a, b = h[:, 0] / np.linalg.norm(h[:, 0]), h[:, 1] / np.linalg.norm(h[:, 0])
    # (3) a1 b1 + a2 b2 + f^2 a3 b3 = 0 and (4) |a12|^2 - |b12|^2 + f^2 (a3^2 - b3^2) = 0: least squares for f^2
    rows = np.array([a[2] * b[2], a[2] ** 2 - b[2] ** 2]) * long_side**2
    right = -np.array([a[0] * b[0] + a[1] * b[1], a[0] ** 2 + a[1] ** 2 - b[0] ** 2 - b[1] ** 2])
    weight = float(rows @ rows)
    square = float(rows @ right) / weight if weight > 0 else -1.0
    if not 0.4**2 < square < 6**2:
        return USUAL_FOCAL * long_side, "usual"
    return float(np.sqrt(square)) * long_side, "perspective"


def _skew(matrix: np.ndarray, middle: np.ndarray, focal: float) -> float:
    rays = np.diag([1 / focal, 1 / focal, 1.0]) @ _centred(matrix, middle)
    first, second = np.linalg.norm(rays[:, 0]), np.linalg.norm(rays[:, 1])
    return abs(float(np.log(first / second))) + abs(float(rays[:, 0] @ rays[:, 1]) / float(first * second))


def _pose(matrix: np.ndarray, middle: np.ndarray, focal: float, how: str) -> Pose:
    rays = np.diag([1 / focal, 1 / focal, 1.0]) @ _centred(matrix, middle)
    first, second = np.linalg.norm(rays[:, 0]), np.linalg.norm(rays[:, 1])
    scale = 2 / (first + second)
    r1, r2, t = rays[:, 0] * scale, rays[:, 1] * scale, rays[:, 2] * scale
    if t[2] < 0:
        r1, r2, t = -r1, -r2, -t
    skew = abs(np.log(first / second)) + abs(float(r1 @ r2))
    u, _, vt = np.linalg.svd(np.column_stack([r1, r2, np.cross(r1, r2)]))
    turned = u @ vt
    if np.linalg.det(turned) < 0:
        turned = u @ np.diag([1, 1, -1]) @ vt
    eye = -turned.T @ t
    eye[2] = abs(eye[2])
    tilt = float(np.degrees(np.arccos(min(1.0, abs(turned[2, 2])))))
    return Pose(matrix, eye, focal, how, tilt, float(skew), turned)
