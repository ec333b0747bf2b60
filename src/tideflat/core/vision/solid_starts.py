"""Where plain solids may be: circles and rectangles of edges in a flattened photograph.

A level face stays what it is when it is laid flat on the sheet's plane, only larger: its circles are circles there, and its right angles
right.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import shapely

from ..tolerances import ROUNDING
from .rectified import Flat

#: Circles are looked for at so many pixels a mm, of these radii, mm; so complete they are at least; so many are given.
_PER_MM, _RADII, _PERFECT, _MOST_CIRCLES = 0.7, (11.0, 165.0), 0.55, 8
#: Gradients (OpenCV's Scharr units) that count as edges: plain ones first.
_GRADIENTS = (240.0, 90.0)
#: Rectangles: ways of a region's lines that are tried, lines a way, how many of the plainest are given, and what share of the best is
#: plain.
_WAYS, _LINES, _MOST_RECTANGLES, _NEARLY = 3, 16, 5, 0.7
#: Faces: pixels a mm, thresholds of edges, least size, mm².
_FACES_PER_MM, _CANNY, _LEAST_FACE_MM2, _SAME_BOX_MM = 1.3, ((25, 60), (10, 24)), 250.0, 3.0
#: Sizes of faces that differ by less than this, log, are alike; more than so many alike are a table's pattern.
_AS_LARGE, _MOST_ALIKE = 0.1, 10
#: A side is no shorter than this, mm; a step of so many levels is plain.
_SHORTEST, _PLAIN = 9.0, 6.0
#: Round a region so much is looked at, mm.
_AROUND_MM = 18.0


@dataclass(frozen=True, eq=False)
class Shapes:
    """What edges go round, all over the picture: ``faces`` and ``circles``."""

    faces: list[shapely.Polygon]
    circles: list[np.ndarray]


def circles(flat: Flat) -> list[np.ndarray]:
    """(x, y, diameter), mm on the plane, of circles that edges go round."""
    by = _PER_MM / flat.per_mm
    small = cv2.resize(flat.rgb, None, fx=by, fy=by, interpolation=cv2.INTER_AREA) if by < 1 else flat.rgb
    scale = flat.per_mm * small.shape[1] / flat.rgb.shape[1]
    light = cv2.GaussianBlur(cv2.cvtColor(small, cv2.COLOR_RGB2GRAY), (0, 0), 0.8)
    found: list[np.ndarray] = []
    for gradient in _GRADIENTS:
        seen = cv2.HoughCircles(light, cv2.HOUGH_GRADIENT_ALT, 1.5, 6.0, param1=gradient, param2=_PERFECT,
                                minRadius=int(_RADII[0] * scale), maxRadius=int(_RADII[1] * scale))  # fmt: skip
        for x, y, radius in [] if seen is None else seen.reshape(-1, seen.shape[-1])[:_MOST_CIRCLES, :3]:
            circle = np.array([flat.left + (x + 0.5) / scale, flat.far - (y + 0.5) / scale, 2 * radius / scale])
            if all(np.abs(circle - other).max() > 3.0 for other in found):
                found.append(circle)
    return found


def rectangles(flat: Flat, levels: np.ndarray, region: shapely.Polygon) -> list[np.ndarray]:
    """(x, y, width, depth, turn in radians), mm on the plane, of rectangles that edges go round, in and about a region. levels (h, w, 3)
    float32: those of the picture."""
    found: list[tuple[float, np.ndarray]] = []
    for turn in _ways(flat, region):
        found += _rectangles_along(flat, levels, region, turn)
    if not found:
        return []
    best = max(score for score, _ in found)
    large = [one for one in found if one[0] >= _NEARLY * best]
    kept: list[np.ndarray] = []
    # the plainest, and the largest of the plain: a cloth's stripes make rectangles too
    for order, most in (
        (sorted(found, key=lambda one: -one[0]), _MOST_RECTANGLES),
        (sorted(large, key=lambda one: -one[1][2] * one[1][3]), 2 * _MOST_RECTANGLES),
    ):
        for _, one in order:
            if len(kept) == most:
                break
            if all(np.abs(one[:4] - other[:4]).max() > 3.0 for other in kept):
                kept.append(one)
    return kept


def _ways(flat: Flat, region: shapely.Polygon) -> list[float]:
    """Turns, radians from +x, mod a right angle, along which lines run in a region, the most seen first; and its own."""
    ways = [float(np.radians(cv2.minAreaRect(np.array(region.exterior.coords, dtype=np.float32))[2]))]
    x0, y0, x1, y1 = region.bounds
    about = np.array([[x0 - _AROUND_MM, y1 + _AROUND_MM], [x1 + _AROUND_MM, y0 - _AROUND_MM]])
    (left, top), (right, bottom) = flat.pixels(about).astype(int)
    part = cv2.cvtColor(flat.rgb[max(0, top) : max(1, bottom), max(0, left) : max(1, right)], cv2.COLOR_RGB2GRAY)
    segments = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD).detect(part)[0] if min(part.shape) > 20 else None
    if segments is not None:
        along = segments.reshape(-1, 4)[:, 2:] - segments.reshape(-1, 4)[:, :2]
        length = np.linalg.norm(along, axis=1)
        angle = np.degrees(np.arctan2(-along[:, 1], along[:, 0])) % 90
        held = np.bincount(np.rint(angle).astype(int) % 90, weights=np.where(length > 8 * flat.per_mm, length, 0), minlength=90)
        wide = held + np.roll(held, 1) + np.roll(held, -1)
        for _ in range(_WAYS):
            best = int(wide.argmax())
            if wide[best] <= 0:
                break
            near = (np.abs((angle - best + 45) % 90 - 45) < 1.6) & (length > 8 * flat.per_mm)
            if near.any():
                offset = (angle[near] - best + 45) % 90 - 45
                ways.append(float(np.radians(best + np.average(offset, weights=length[near]))))
            wide[np.arange(best - 4, best + 5) % 90] = 0
    kept: list[float] = []
    for way in ways:
        if all(abs((way - other + np.pi / 4) % (np.pi / 2) - np.pi / 4) > np.radians(1.2) for other in kept):
            kept.append(way)
    return kept


def _rectangles_along(flat: Flat, every: np.ndarray, region: shapely.Polygon, turn: float) -> list[tuple[float, np.ndarray]]:
    """every (h, w, 3) float32: the picture's levels."""
    c, s = np.cos(turn), np.sin(turn)
    ring = np.array(region.exterior.coords)
    own = ring @ np.array([[c, -s], [s, c]])  # along the rectangle's axes
    low, high = own.min(axis=0) - _AROUND_MM, own.max(axis=0) + _AROUND_MM
    per_mm = min(2.0, flat.per_mm)
    wide, deep = np.maximum(((high - low) * per_mm).astype(int), 8)
    # pixel (i, j) of the turned picture: own x = low x + i / per_mm, own y = high y - j / per_mm
    to_own = np.array([[1 / per_mm, 0, low[0] + 0.5 / per_mm], [0, -1 / per_mm, high[1] - 0.5 / per_mm]])
    to_mm = np.array([[c, -s], [s, c]]) @ to_own
    back = np.array([[flat.per_mm, 0], [0, -flat.per_mm]]) @ to_mm
    back[:, 2] += [-flat.left * flat.per_mm - 0.5, flat.far * flat.per_mm - 0.5]
    levels = cv2.warpAffine(
        every,
        back,
        (int(wide), int(deep)),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    levels = cv2.GaussianBlur(levels, (0, 0), 0.5 * per_mm)
    reach = max(1, round(1.2 * per_mm))
    across = _plain_steps(levels, reach, 1)  # steps along x: upright sides
    down = _plain_steps(levels, reach, 0)
    xs, ys = _lines(across.mean(axis=0), per_mm), _lines(down.mean(axis=1), per_mm)
    if len(xs) < 2 or len(ys) < 2:
        return []
    sum_across = np.concatenate([np.zeros((1, across.shape[1]), np.float32), np.cumsum(across, axis=0)])
    sum_down = np.concatenate([np.zeros((down.shape[0], 1), np.float32), np.cumsum(down, axis=1)], axis=1)
    least = _SHORTEST * per_mm
    px, py = (np.column_stack([at[k] for k in np.triu_indices(len(at), 1)]) for at in (xs, ys))
    px, py = (pairs[pairs[:, 1] - pairs[:, 0] >= least] for pairs in (px, py))
    if not len(px) or not len(py):
        return []
    i = np.repeat(np.arange(len(px)), len(py))
    j = np.tile(np.arange(len(py)), len(px))
    x0, x1, y0, y1 = px[i, 0], px[i, 1], py[j, 0], py[j, 1]
    tall, broad = np.maximum(y1 - y0, 1), np.maximum(x1 - x0, 1)
    sides = np.stack([
        (sum_across[y1, x0] - sum_across[y0, x0]) / tall, (sum_across[y1, x1] - sum_across[y0, x1]) / tall,
        (sum_down[y0, x1] - sum_down[y0, x0]) / broad, (sum_down[y1, x1] - sum_down[y1, x0]) / broad,
    ])  # fmt: skip
    score = sides.mean(axis=0) + 0.5 * sides.min(axis=0)
    found = []
    plain = np.flatnonzero(score >= _NEARLY * score.max())
    largest = plain[np.argsort(-(tall * broad)[plain])]
    for n in {*np.argsort(-score)[: 4 * _MOST_RECTANGLES].tolist(), *largest[: 4 * _MOST_RECTANGLES].tolist()}:
        middle = to_mm @ [(x0[n] + x1[n]) / 2, (y0[n] + y1[n]) / 2, 1.0]
        found.append((float(score[n]), np.array([*middle, (x1[n] - x0[n]) / per_mm, (y1[n] - y0[n]) / per_mm, turn])))
    return found


def _plain_steps(levels: np.ndarray, reach: int, axis: int) -> np.ndarray:
    """(h, w): 0 to 1, how plain the step along ``axis`` is; the steepest of a few pixels stands for its neighbours."""
    within, ahead, behind = ([slice(None)] * 2 for _ in range(3))
    within[axis], ahead[axis], behind[axis] = slice(reach, -reach), slice(2 * reach, None), slice(-2 * reach)
    rise = levels[tuple(ahead)] - levels[tuple(behind)]
    step = np.sqrt(cv2.transform(np.square(rise, out=rise), np.full((1, 3), 1 / 3, np.float32)))
    plain = np.zeros(levels.shape[:2], np.float32)
    plain[tuple(within)] = np.minimum(cv2.blur(step, (1, 7) if axis == 1 else (7, 1)) / _PLAIN, 1.0)
    return plain


def _lines(profile: np.ndarray, per_mm: float) -> np.ndarray:
    """Pixels of the plainest lines of a profile, apart from each other."""
    left = profile.copy()
    apart = max(1, round(1.5 * per_mm))
    found = []
    for _ in range(_LINES):
        best = int(left.argmax())
        if left[best] <= ROUNDING:
            break
        found.append(best)
        left[max(0, best - apart) : best + apart + 1] = 0
    return np.array(sorted(found))


def faces(flat: Flat, most_mm2: float) -> list[shapely.Polygon]:
    """Outlines, mm on the plane, of what edges go round, if that is no larger."""
    by = min(1.0, _FACES_PER_MM / flat.per_mm)
    small = cv2.resize(flat.rgb, None, fx=by, fy=by, interpolation=cv2.INTER_AREA) if by < 1 else flat.rgb
    scale = flat.per_mm * small.shape[1] / flat.rgb.shape[1]
    lab = cv2.GaussianBlur(cv2.cvtColor(small, cv2.COLOR_RGB2LAB), (0, 0), 1.0)
    rings: list[tuple[np.ndarray, float]] = []
    for low, high in _CANNY:
        edges = np.zeros(lab.shape[:2], np.uint8)
        for channel in cv2.split(lab):
            edges |= cv2.Canny(channel, low, high)
        for grown in (3, 5):
            closed = 1 - cv2.dilate(edges, np.ones((grown, grown), np.uint8)) // 255
            outlines, _ = cv2.findContours(closed, cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
            large = (outline for outline in outlines if len(outline) >= 4 and cv2.contourArea(outline) >= _LEAST_FACE_MM2 * scale**2)
            rings += [(outline, 0.5 * grown) for outline in large]
    if not rings:
        return []
    grown_by = np.array([[wide] for _, wide in rings])
    first, wide_high = np.hsplit(np.array([cv2.boundingRect(outline) for outline, _ in rings]), 2)
    ends = np.column_stack([first - grown_by, first + wide_high - 1 + grown_by])
    every = np.concatenate([_mm_of(ends[:, [0, 3]], flat, scale), _mm_of(ends[:, [2, 1]], flat, scale)], axis=1)
    found: list[shapely.Polygon] = []
    boxes = np.empty((0, 4))
    for n in np.flatnonzero(~_of_pattern(every)):
        if (np.abs(boxes - every[n]).max(axis=1) <= _SAME_BOX_MM).any():
            continue
        outline, wide = rings[n]
        if cv2.contourArea(outline) > most_mm2 * scale**2:
            continue  # to draw one takes the longer the larger it is
        face = shapely.Polygon(_mm_of(outline[:, 0], flat, scale)).buffer(0).buffer(wide / scale)
        if face.geom_type == "Polygon" and face.area <= most_mm2:
            found.append(shapely.Polygon(face.exterior))
            boxes = np.vstack([boxes, every[n]])
    return found


def _mm_of(pixels: np.ndarray, flat: Flat, per_mm: float) -> np.ndarray:
    """Table mm (n, 2) of pixels (n, 2), by their numbers, of the same at another scale."""
    return np.column_stack([flat.left + (pixels[:, 0] + 0.5) / per_mm, flat.far - (pixels[:, 1] + 0.5) / per_mm])


def _of_pattern(boxes: np.ndarray) -> np.ndarray:
    """(n,) of boxes (n, 4): whether there are so many as large, in other places, that they are the table's, checks or tiles."""
    size = np.log(np.maximum(boxes[:, 2:] - boxes[:, :2], 1.0))
    middle = (boxes[:, :2] + boxes[:, 2:]) / 2
    like = near = np.ones((len(boxes), len(boxes)), bool)
    for k in (0, 1):
        like = like & (np.abs(size[:, None, k] - size[None, :, k]) < _AS_LARGE)
        near = near & (np.abs(middle[:, None, k] - middle[None, :, k]) <= _SAME_BOX_MM)
    # each is found with several thresholds
    return np.asarray((like & ~near).sum(axis=1) > _MOST_ALIKE * 2 * len(_CANNY))
