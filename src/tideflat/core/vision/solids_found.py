"""Every plain solid that a photograph may show: started from what regions, closed edges, circles and lines suggest, and fitted to the edges."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product
from typing import Literal

import cv2
import numpy as np
import shapely
from shapely.affinity import scale

from ..tolerances import LEAST_LIGHT, ROUNDING
from .edge_support import DEEP_MM, EdgePicture, asked_of_each
from .met_boxes import met_boxes
from .pose import Pose
from .rectified import Flat
from .running_on import continued, goes_on_to
from .smooth_light import linear
from .solid_arcs import circles_along
from .solid_edges import SolidSeen
from .solid_fits import Start, fits_to_edges
from .solid_starts import Shapes, rectangles

#: Less of a solid than this seen, and it is none.
LEAST_SEEN = 0.7
#: One of which so much is seen is not looked for in another way.
_PLAINLY = 0.95
#: What is seen so much larger at its top has a top to tell from its foot.
_STANDS = 1.004
#: Starts nearer to each other than this, mm, are one; rectangles, of which every stripe makes some, than that.
_SAME_MM, _SAME_RECTANGLE_MM = 2.0, 3.0
#: A face fills so much of the smallest rectangle round it as a rectangle does, and as a round thing does.
_AS_RECTANGLE, _AS_ROUND = 0.88, (0.66, 0.87)
#: Sides so unlike are no circle's; a solid lower than this share of its width has no taper to tell; a ball is so nearly as high as wide.
_UNLIKE, _FLAT, _AS_HIGH = 1.35, 0.05, 0.35
#: A rectangle of which less is told from the ground is one of the table's; or a thing that something is printed on, if so much is told, and
#: of all else this share is within so much, log, of one colour.
_TOLD, _PRINTED, _PLAIN, _ONE_COLOUR = 0.4, 0.12, 0.72, 0.12
#: Places all over a rectangle, in its sides.
_ALL_OVER = np.array(list(product(np.linspace(-0.45, 0.45, 10), repeat=2)))
#: Of a region that may hold a ball the shorter side is so near (log) to what a ball of that height shows; it is looked for so far about,
#: mm.
_BALL_LIKE, _BALL_ABOUT_MM = 0.4, 8.0
#: A band along a side is so wide, mm; its inner edge is a step as plain as this along so much of the side, straight to so much, mm; of so
#: many rectangles, seen so well, it is looked for, and so many times over: on one side after the other.
_BANDS, _STRAIGHT_MM = 2, 1.5
_BAND_MM, _BAND_PLAIN, _BAND_SEEN, _BANDED, _BANDED_SEEN = (1.2, 8.0), 0.7, 0.75, 4, 0.8
#: Of rectangles seen so well it is asked where their sides go on past the corners.
_CONTINUED_SEEN = 0.84
#: The base of a taper against its top, where nothing is known.
_TAPERS = 0.68
#: Its narrower end against its wider one, at the least.
_LEAST_END = 0.2

_Begun = tuple[str, np.ndarray]


def solids_in(
    picture: EdgePicture,
    flat: Flat,
    mask: np.ndarray,
    regions: list[shapely.Polygon],
    shapes: Shapes,
    pose: Pose,
    height_mm: float,
) -> list[SolidSeen]:
    """The solids whose edges are seen, the plainest seen first. flat: a coarse picture to look for them in; mask: what of it is not the
    ground; regions: where things may be; shapes: what edges go round."""
    k = pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    starts: list[Start] = []
    tried: dict[str, list[np.ndarray]] = {}
    for kind, values in _starts(flat, regions, shapes, pose, height_mm, k):
        others = tried.setdefault(kind, [])
        same = _SAME_RECTANGLE_MM if kind == "rectangle" else _SAME_MM
        if others and np.abs(np.array(others) - values[:4]).max(axis=1).min() < same:
            continue
        others.append(values[:4])
        if kind != "rectangle" or _is_told(values, flat, mask):
            starts.append(Start(kind, values))
    first = fits_to_edges(picture, starts, pose, height_mm)
    found = _well_seen(first)
    if k > _STANDS:
        again = [
            Start(start.kind, start.values, "top")
            for start, one in zip(starts, first, strict=True)
            if start.kind != "ball" and (one is None or one.seen < _PLAINLY)
        ]
        found += _well_seen(fits_to_edges(picture, again, pose, height_mm, found))
    last = found
    for _ in range(_BANDS):
        boxes = sorted((s for s in last if s.kind == "rectangle" and s.seen >= _BANDED_SEEN), key=lambda s: -s.footprint.area)
        drawn_in = [start for box in boxes[:_BANDED] for start in _but_a_band(box, picture, pose, k)]
        last = _well_seen(fits_to_edges(picture, drawn_in, pose, height_mm, found)) if drawn_in else []
        found = found + last
    met = [Start("rectangle", values, by) for values in met_boxes(found) for by in _looked_for_by(k)]
    found = found + (_well_seen(fits_to_edges(picture, met, pose, height_mm, found)) if met else [])
    boxes = sorted((s for s in found if s.kind == "rectangle" and s.seen >= _CONTINUED_SEEN), key=lambda s: -s.footprint.area)[:_BANDED]
    further = [Start("rectangle", v, "top" if k > 1.0 else "silhouette") for box in boxes for v in continued(box, picture, height_mm)]
    whole = _well_seen(fits_to_edges(picture, further, pose, height_mm, found)) if further else []
    found += [one for one in whole if any(goes_on_to(box, one, picture) for box in boxes)]  # not to a line of checks past its end
    return sorted(found, key=lambda s: -s.seen)


def _looked_for_by(k: float) -> tuple[Literal["silhouette", "top"], ...]:
    return ("top", "silhouette") if k > 1.0 else ("silhouette",)


def _well_seen(fitted: list[SolidSeen | None]) -> list[SolidSeen]:
    return [one for one in fitted if one is not None and one.seen >= LEAST_SEEN]


def _but_a_band(box: SolidSeen, picture: EdgePicture, pose: Pose, k: float) -> Iterator[Start]:
    """The same with one side drawn in to another plain edge that runs close along it: between them may lie a side in shadow, and the
    shadow. Where the lens sees the side, that edge may be its foot's as well as its top's."""
    top = box.curves.top or box.curves.silhouette
    c, s = np.cos(box.values[4]), np.sin(box.values[4])
    ways = [((c, s), 2), ((-s, c), 3), ((-c, -s), 2), ((s, -c), 3)]
    sides = [top.only(top.outward @ out > 0.9) for out, _ in ways]
    middle, reach = (_BAND_MM[0] + _BAND_MM[1]) / 2, (_BAND_MM[1] - _BAND_MM[0]) / 2
    lines = [(side.places - middle * side.outward, side.outward) for side in sides]
    for (out, size), side, looked in zip(ways, sides, asked_of_each(picture, lines, reach, [DEEP_MM] * len(lines)), strict=True):
        within = middle - looked.offset[looked.plain > _BAND_PLAIN]
        if len(within) < _BAND_SEEN * len(side.places) or np.ptp(np.percentile(within, (15, 85))) > _STRAIGHT_MM:
            continue
        band = float(np.median(within))
        values = box.values.copy()
        values[size] -= band
        values[:2] -= band / 2 * np.array(out)
        yield Start("rectangle", values, "top" if k > 1.0 else "silhouette")
        if k > 1.0 and (pose.eye[:2] - side.places.mean(axis=0)) @ out > 0:
            yield Start("rectangle", values, "silhouette")


def _is_told(values: np.ndarray, flat: Flat, mask: np.ndarray) -> bool:
    """Whether much of a rectangle is not the ground, as its checks and tiles are; or some, and all else is of one colour."""
    c, s = np.cos(values[4]), np.sin(values[4])
    at = np.rint(flat.pixels(values[:2] + _ALL_OVER * values[2:4] @ np.array([[c, s], [-s, c]])) - 0.5).astype(int)
    inside = (at >= 0).all(axis=1) & (at < [mask.shape[1], mask.shape[0]]).all(axis=1)
    if not inside.any():
        return False
    at = at[inside]
    told = mask[at[:, 1], at[:, 0]]
    if told.mean() <= _PRINTED or told.all():
        return bool(told.all())
    if told.mean() > _TOLD:
        return True
    rest = np.log(np.maximum(linear(flat.rgb[at[~told, 1], at[~told, 0]][None])[0], LEAST_LIGHT))
    return bool((np.abs(rest - np.median(rest, axis=0)).max(axis=1) < _ONE_COLOUR).mean() > _PLAIN)


def _starts(flat: Flat, regions: list[shapely.Polygon], shapes: Shapes, pose: Pose, height_mm: float, k: float) -> Iterator[_Begun]:
    levels = flat.rgb.astype(np.float32)
    for region in regions:
        yield from _of_silhouette(region, pose, height_mm, k)
        for circle in circles_along(region):
            yield from _of_circle(circle, pose, height_mm, k)
        for one in rectangles(flat, levels, region):
            yield "rectangle", _down(one, pose, k)
            yield "rectangle", _stood(one, pose, k)
    for face in shapes.faces:
        yield from _of_face(face, pose, height_mm, k)
    for circle in shapes.circles:
        yield from _of_circle(circle, pose, height_mm, k)


def _down(level: np.ndarray, pose: Pose, k: float) -> np.ndarray:
    """The numbers of what is seen so at the top, at the foot."""
    eye = np.array(pose.eye[:2], dtype=float)
    values = level.astype(float).copy()
    values[:2] = (level[:2] - eye) / k + eye
    values[2:4] = level[2:4] / k
    return values


def _stood(seen: np.ndarray, pose: Pose, k: float) -> np.ndarray:
    """The numbers of what is seen so with its sides: those that face the lens down to the foot, the others up to the top."""
    c, s = np.cos(seen[4]), np.sin(seen[4])
    axes = np.array([[c, s], [-s, c]])
    eye, middle, half = axes @ np.array(pose.eye[:2], dtype=float), axes @ seen[:2], seen[2:4] / 2
    low, high = np.maximum(middle - half, eye + (middle - half - eye) / k), np.minimum(middle + half, eye + (middle + half - eye) / k)
    return np.array([*((low + high) / 2 @ axes), *(high - low), seen[4]])


def _box_of(outline: shapely.Polygon) -> np.ndarray:
    """(x, y, width, depth, turn) of the smallest rectangle round it."""
    (x, y), (a, b), angle = cv2.minAreaRect(np.array(outline.exterior.coords, dtype=np.float32))
    return np.array([x, y, a, b, np.radians(angle)])


def _of_circle(circle: np.ndarray, pose: Pose, height_mm: float, k: float) -> Iterator[_Begun]:
    top = _down(circle, pose, k)
    yield "disc", top
    if height_mm > _FLAT * top[2]:
        yield "taper", np.array([*top, _TAPERS * top[2]])
    if abs(height_mm / top[2] - 1) < _AS_HIGH:
        yield "ball", _ball(circle[:2], pose, height_mm)


def _ball(middle: np.ndarray, pose: Pose, height_mm: float) -> np.ndarray:
    return np.array([*_down(np.array([*middle, 0.0]), pose, pose.enlargement_at(height_mm / 2))[:2], height_mm])


def _of_face(face: shapely.Polygon, pose: Pose, height_mm: float, k: float) -> Iterator[_Begun]:
    """What has that outline for its top."""
    hull = face.convex_hull
    box = _box_of(hull)
    if min(box[2:4]) < 2.0:
        return
    fills = hull.area / (box[2] * box[3])
    if fills > _AS_RECTANGLE:
        yield "rectangle", _down(box, pose, k)
    if _AS_ROUND[0] < fills < _AS_ROUND[1]:
        yield "oval", _down(box, pose, k)
        if max(box[2:4]) < _UNLIKE * min(box[2:4]):
            yield from _of_circle(np.array([*box[:2], (box[2] + box[3]) / 2]), pose, height_mm, k)


def _of_silhouette(region: shapely.Polygon, pose: Pose, height_mm: float, k: float) -> Iterator[_Begun]:
    """What covers a region, sides and all."""
    eye = (float(pose.eye[0]), float(pose.eye[1]))
    hull = region.convex_hull
    foot = hull.intersection(scale(hull, 1 / k, 1 / k, origin=eye)) if k > 1 else hull
    if foot.geom_type != "Polygon" or foot.is_empty:
        return
    box = _box_of(foot)
    wide = float(box[2:4].mean())
    yield "rectangle", box
    yield "oval", box
    yield "disc", np.array([*box[:2], wide])
    if height_mm > _FLAT * wide:
        top = _down(_box_of(hull), pose, k)
        yield "taper", np.array([*top[:2], top[2:4].mean(), _TAPERS * top[2:4].mean()])
        yield "taper", np.array([*box[:2], 0.8 * wide, wide])
    if height_mm > _FLAT * wide:
        top = _down(_far_end(np.array(hull.exterior.coords)[:-1], pose), pose, k)
        yield "disc", top
        yield "taper", np.array([*top, _TAPERS * top[2]])
        for taper in _by_both_ends(np.array(hull.exterior.coords)[:-1], pose, k):
            yield "taper", taper
    silhouette = _box_of(hull)
    if height_mm > 0 and abs(np.log(float(silhouette[2:4].min()) / (height_mm * pose.enlargement_at(height_mm / 2)))) < _BALL_LIKE:
        # a shadow or its own colour on the ground hang on it: it is looked for all about the middle
        for dx, dy in product((0.0, -_BALL_ABOUT_MM, _BALL_ABOUT_MM), repeat=2):
            yield "ball", _ball(silhouette[:2] + [dx, dy], pose, height_mm)


def _by_both_ends(hull: np.ndarray, pose: Pose, k: float) -> Iterator[np.ndarray]:
    """(x, y, top diameter, base diameter) of the tapers whose wider end, as it is seen, is as wide as all of it across the way from the
    lens, and whose other end reaches as far as all of it: wider at the top, or at the foot."""
    eye = np.array(pose.eye[:2], dtype=float)
    way = hull.mean(axis=0) - eye
    way = way / max(float(np.linalg.norm(way)), ROUNDING)
    across = np.array([-way[1], way[0]])
    aside, along = (hull - eye) @ across, (hull - eye) @ way
    wide, middle = float(np.ptp(aside)), float(aside.max() + aside.min()) / 2
    at_foot, at_top = float(along.min()) + wide / 2, (float(along.max()) - wide / 2) / k  # how far out the foot's middle would be
    wide_top = at_top, middle / k, wide / k, 2 * (at_top - float(along.min()))
    wide_foot = at_foot, middle, 2 * (float(along.max()) / k - at_foot), wide
    for out, beside, top, base in (wide_top, wide_foot):
        if min(top, base) > _LEAST_END * max(top, base):
            yield np.array([*(eye + out * way + beside * across), top, base])


def _far_end(hull: np.ndarray, pose: Pose) -> np.ndarray:
    """(x, y, diameter) of the round top of what stands there: as wide as all of it across the way from the lens, and at its far end."""
    eye = np.array(pose.eye[:2], dtype=float)
    way = hull.mean(axis=0) - eye
    way = way / max(float(np.linalg.norm(way)), ROUNDING)
    across = np.array([-way[1], way[0]])
    aside, along = hull @ across, hull @ way
    wide = float(np.ptp(aside))
    return np.array([*((aside.max() + aside.min()) / 2 * across + (along.max() - wide / 2) * way), wide])
