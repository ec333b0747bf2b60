"""The outline of a thing of any shape on or beside the sheet: found coarsely, then again on a fine grid around it, with doubts of it in words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from shapely.affinity import scale
from shapely.geometry.base import BaseGeometry

from ..tolerances import ROUNDING
from .dark_sides import with_dark_sides
from .edge_doubts import GOES_ON, SHADOW_TAKEN, EdgeSeen, edge_seen
from .edge_support import edge_picture
from .graph_cut import cut_again
from .ground import Ground, linear
from .peeled import SHADOW_HEIGHTS, SHADOW_LITTLE_MM, face_of, hangs_on
from .pulled_in import follows_sheet, own_share, pulled_in
from .rectified import Flat, flatten
from .sheet import FoundSheet

#: The finest grid, pixels for one mm, and the most pixels of its long side.
_FINEST_PER_MM, _MOST_PX = 4.0, 1100
#: Smaller than this it is a crumb.
LEAST_MM2 = 60.0
#: So much of the picture round the thing is laid flat finely, mm; it is read across its edge so far.
_AROUND_MM = 12.0
#: What may hang on a thing is asked about where it is more than this share of it; sizes so far apart, mm, leave it open.
_HARDLY, _APART_MM, _PEELED_MM = 0.015, 1.5, 0.3
#: An outline that is so much smaller than what was found at first, mm, has lost a piece of it.
_LOST_MM = 5.0
_FOLLOWS = "part of its outline is the sheet's own edge; lay it wholly on the sheet or beside it, or put its outline by hand"
#: An outline that is drawn in is the thing's where so much more of its edge is its own.
_BETTER = 0.02
#: What has less than this share of the thing's light may be its shadow.
_DARKER = 0.6
#: Teeth of a face's outline are smoothed over so much, mm.
_SMOOTH_MM = 1.0
#: Half of what is too thin to belong to a thing's outline, mm.
_SPIKE_MM = 0.35
#: What sticks out for less than so many places of an outline, and is larger than this, mm2, is cut off.
_TOOTH_PLACES, _CRUMB_MM2 = 8, 0.3


@dataclass(frozen=True, eq=False)
class FreeOutline:
    """outline: the silhouette on the sheet's plane, mm; foot: what the thing covers of it from above; edge: what is seen along the outline;
    doubts: reasons to look again."""

    outline: shapely.Polygon
    foot: shapely.Polygon
    edge: EdgeSeen
    doubts: list[str]


def free_outline(part: shapely.Polygon, ground: Ground, flat: Flat, rgb: np.ndarray, found: FoundSheet, height_mm: float) -> FreeOutline:
    """The outline of what a part of the mask shows, without the shadow that hangs on it, and without its own side in shadow. Where it is
    not told whether what hangs on it is a shadow, and that alters its size, that is a doubt."""
    whole, edge, fine = _outline_of(part, flat, rgb, found)
    own = flat.inside(part)
    doubts = _doubts_of_place(whole, found)
    if _apart(part, whole) > _LOST_MM:
        doubts.append(GOES_ON)
    is_open = False
    if ((ground.bare != ground.mask) & own).sum() > _HARDLY * own.sum() and (bare := parts_of(ground.bare & own, flat)):
        less, less_edge, less_fine = _outline_of(bare[0], flat, rgb, found)
        strip = whole.difference(less.buffer(0.5)).buffer(-0.3)
        if not strip.is_empty and hangs_on(strip, whole, height_mm):
            whole, edge, fine = less, less_edge, less_fine
        else:
            is_open = _apart(whole, less) > _APART_MM
    if is_open or edge.doubts:
        whole, edge, is_open = _told_again(whole, edge, fine, found, height_mm, is_open=is_open)
    face = face_of(whole, fine, height_mm)
    foot = stood_down(whole, found, height_mm)
    if face is None and height_mm > 0:
        eye, k = np.array(found.pose.eye[:2], dtype=float), found.pose.enlargement_at(height_mm)
        sides = with_dark_sides(whole, edge_picture(fine), ground.left, flat, eye, k)
        foot = stood_down(_largest(sides), found, height_mm)
        if sides is not whole:
            foot = _largest(foot.buffer(_SMOOTH_MM).buffer(-2 * _SMOOTH_MM).buffer(_SMOOTH_MM))
    if face is not None:
        face = _sharpened(face, fine)
        peeled = _largest(whole.intersection(thrown_down(face, found, height_mm)))
        peeled = _largest(peeled.buffer(_SMOOTH_MM).buffer(-2 * _SMOOTH_MM).buffer(_SMOOTH_MM))
        if _apart(peeled, foot) > _PEELED_MM:
            foot, edge, is_open = peeled, edge_seen(face, fine), False
    if is_open:
        doubts.append(SHADOW_TAKEN)
    if follows_sheet(edge, found.size_mm):
        doubts.append(_FOLLOWS)
    return FreeOutline(whole, foot, edge, doubts + edge.doubts)


def _told_again(
    outline: shapely.Polygon, edge: EdgeSeen, fine: Flat, found: FoundSheet, height_mm: float, *, is_open: bool
) -> tuple[shapely.Polygon, EdgeSeen, bool]:
    """An outline that is in doubt, by the colours within it; then drawn in where it still runs along a shadow. Each is taken where more of
    its edge is its own. And whether it is still open if a shadow was taken for a part of it."""
    picture, most = edge_picture(fine), SHADOW_HEIGHTS * height_mm + SHADOW_LITTLE_MM
    ways: list[Callable[[shapely.Polygon, EdgeSeen], shapely.Polygon | None]] = [lambda was, seen: cut_again(was, fine)]
    ways += 2 * [lambda was, seen: pulled_in(was, seen, picture, most, found.size_mm)]  # what wavered is nearly straight the second time
    asked = None
    for way in ways:
        if asked == (way, outline):
            continue  # it would say the same
        asked = way, outline
        again = way(outline, edge)
        if again is None or again is outline:
            continue
        again = _without_spikes(_sharpened(_sharpened(again, fine), fine))
        more = again.difference(outline.buffer(0.5)).buffer(-0.3)
        if more.area > _HARDLY * outline.area and _is_darker(more, outline, fine) and hangs_on(more, again, height_mm):
            continue  # a hard shadow has an edge too
        seen = edge_seen(again, fine)
        if own_share(seen, found.size_mm) > own_share(edge, found.size_mm) + _BETTER:
            outline, edge, is_open = again, seen, False
    return outline, edge, is_open


def _is_darker(region: BaseGeometry, thing: shapely.Polygon, fine: Flat) -> bool:
    light = linear(fine.rgb).mean(axis=2)
    there, own = light[fine.inside(region)], light[fine.inside(thing)]
    return min(len(there), len(own)) > 0 and float(np.median(there)) < _DARKER * float(np.median(own))


def thrown_down(top: BaseGeometry, found: FoundSheet, height_mm: float) -> BaseGeometry:
    """What is seen at a height, on the sheet's plane: at the foot of it."""
    k = found.pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    return scale(top, 1 / k, 1 / k, origin=(float(found.pose.eye[0]), float(found.pose.eye[1])))


def stood_down(seen: BaseGeometry, found: FoundSheet, height_mm: float) -> shapely.Polygon:
    """The footprint of what stands ``height_mm`` high and is seen as ``seen`` on the sheet's plane.

    An upright thing with footprint F covers, on the plane, every t F with t from 1 to k about the foot of the lens: its base at 1, its
    top at k = eye / (eye - height). For convex F what that has in common with itself scaled by 1 / k is F again; for a spoon or a leaf
    it is F to within the shift between base and top.
    """
    if height_mm <= 0:
        return _largest(seen)
    hull = seen.convex_hull if seen.area > 0.93 * seen.convex_hull.area else seen
    return _largest(hull.intersection(thrown_down(hull, found, height_mm)))


def _largest(found: BaseGeometry) -> shapely.Polygon:
    parts = [g for g in getattr(found, "geoms", [found]) if g.geom_type == "Polygon"]
    return max(parts, key=lambda g: g.area) if parts else shapely.Polygon()


def _apart(first: shapely.Polygon, second: shapely.Polygon) -> float:
    """By how much the sides of the smallest rectangles round two outlines differ at the most, mm."""
    if first.is_empty or second.is_empty:
        return float("inf")
    sides = [smallest_rectangle(np.array(p.exterior.coords))[0] for p in (first, second)]
    return max(abs(a - b) for a, b in zip(*sides, strict=True))


def _doubts_of_place(outline: shapely.Polygon, found: FoundSheet) -> list[str]:
    why = []
    if outline.area > 0.8 * found.size_mm[0] * found.size_mm[1]:
        why.append("it covers most of the sheet, so paper and thing are hard to tell apart; lay it beside the sheet")
    return why


def _outline_of(first: shapely.Polygon, flat: Flat, rgb: np.ndarray, found: FoundSheet) -> tuple[shapely.Polygon, EdgeSeen, Flat]:
    """Found again on a fine grid around it, what is seen along it, and that grid."""
    x0, y0, x1, y1 = first.bounds
    fine_px = min(_FINEST_PER_MM, _MOST_PX / (max(x1 - x0, y1 - y0) + 16))
    if fine_px > 1.25 * flat.per_mm:
        outline, flat = _refined(rgb, found, first, fine_px)
    else:
        outline = _sharpened(_sharpened(first, flat), flat)
    outline = _without_spikes(outline)
    edge = edge_seen(outline, flat)
    plain = _without_teeth(outline, edge)
    return (outline, edge, flat) if plain is outline else (plain, edge_seen(plain, flat), flat)


def _without_teeth(outline: shapely.Polygon, edge: EdgeSeen) -> shapely.Polygon:
    """Without what sticks out for a short stretch that has no edge of its own, between two that have: a crumb of the mask."""
    count = len(edge.places)
    own = np.flatnonzero(edge.is_own)
    for a, b in zip(own, np.roll(own, -1), strict=True):
        places = edge.places[np.arange(a, b + 1 if b > a else b + 1 + count) % count]
        if not 3 <= len(places) <= _TOOTH_PLACES:
            continue
        tooth = shapely.Polygon(places).buffer(0)
        if tooth.area > _CRUMB_MM2 and tooth.intersection(outline).area > 0.5 * tooth.area:
            outline = _largest(outline.difference(tooth.buffer(0.1)))
    return outline


def _without_spikes(outline: shapely.Polygon) -> shapely.Polygon:
    """What is thinner than a millimetre and sticks out is the end of a shadow, or noise."""
    opened = outline.buffer(-_SPIKE_MM).buffer(_SPIKE_MM)
    largest = max(opened.geoms, key=lambda g: g.area) if opened.geom_type == "MultiPolygon" else opened
    return shapely.Polygon(largest.exterior) if largest.area > 0.8 * outline.area else outline


def parts_of(mask: np.ndarray, flat: Flat) -> list[shapely.Polygon]:
    """Outlines of the things in the mask, mm, the largest first; pieces a few mm apart are one."""
    reach = max(3, int(5 * flat.per_mm) | 1)
    joined = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach)))
    outlines, _ = cv2.findContours(joined, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    found = []
    for outline in outlines:
        if len(outline) < 8:
            continue
        # a contour runs through the middles of the border's pixels: half a pixel inside the edge
        polygon = shapely.Polygon(flat.mm(outline[:, 0].astype(float) + 0.5)).buffer(0.5 / flat.per_mm, join_style="mitre")
        largest = max(polygon.geoms, key=lambda g: g.area) if polygon.geom_type == "MultiPolygon" else polygon
        if largest.area >= LEAST_MM2:
            found.append(shapely.Polygon(largest.exterior))
    return sorted(found, key=lambda p: -p.area)


def touches_border(part: shapely.Polygon, flat: Flat) -> bool:
    pixels = np.rint(flat.pixels(np.array(part.exterior.coords))).astype(int)
    shrunk = cv2.erode(np.pad(flat.known, 1).astype(np.uint8), np.ones((7, 7), np.uint8))[1:-1, 1:-1].astype(bool)
    inside = (pixels >= 0).all(axis=1) & (pixels < [flat.known.shape[1], flat.known.shape[0]]).all(axis=1)
    return bool((~inside).any() or (~shrunk[pixels[inside, 1], pixels[inside, 0]]).any())


def _refined(rgb: np.ndarray, found: FoundSheet, first: shapely.Polygon, per_mm: float) -> tuple[shapely.Polygon, Flat]:
    """The outline on a finer grid, and that grid."""
    x0, y0, x1, y1 = first.bounds
    flat = flatten(rgb, found.pose.plane_to_pixel, (x0 - _AROUND_MM, y0 - _AROUND_MM, x1 + _AROUND_MM, y1 + _AROUND_MM), per_mm)
    return _sharpened(_sharpened(first, flat), flat), flat  # twice: a smeared edge lies further off than one search reaches


def _sharpened(outline: shapely.Polygon, flat: Flat) -> shapely.Polygon:
    """Each point of the outline moved to the steepest step in colour within 2 mm across it, then smoothed along the outline."""
    around = np.array(shapely.segmentize(shapely.simplify(outline, 0.4), 1.0).exterior.coords)[:-1]
    if shapely.Polygon(around).exterior.is_ccw:
        around = around[::-1]
    tangent = np.roll(around, -2, axis=0) - np.roll(around, 2, axis=0)
    tangent /= np.maximum(np.linalg.norm(tangent, axis=1, keepdims=True), ROUNDING)
    outward = np.column_stack([-tangent[:, 1], tangent[:, 0]])
    steps = np.arange(-2.0, 2.01, 0.5 / flat.per_mm)
    grid = around[:, None, :] + outward[:, None, :] * steps[None, :, None]
    at = flat.pixels(grid.reshape(-1, 2)).reshape(*grid.shape[:2], 2).astype(np.float32) - 0.5
    light = np.sqrt(
        linear(flat.rgb)
    )  # between plain light, where bright edges shout, and log, where the steepest step sits on the dark side
    values = cv2.remap(light, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    values = cv2.GaussianBlur(values, (9, 1), 1.5)
    slope = np.linalg.norm(np.gradient(values, axis=1), axis=2)
    # the step nearest to where it was found is likelier than one further off (a pattern, the end of its shadow)
    slope *= np.exp(-((steps / 1.6) ** 2))
    peak = slope[:, 1:-1].argmax(axis=1) + 1
    rows = np.arange(len(around))
    before, middle, after = slope[rows, peak - 1], slope[rows, peak], slope[rows, peak + 1]
    bow = before - 2 * middle + after
    part = np.where(np.abs(bow) > ROUNDING, 0.5 * (before - after) / np.where(np.abs(bow) > ROUNDING, bow, 1), 0)
    offset = steps[peak] + np.clip(part, -1, 1) * (steps[1] - steps[0])
    window = np.stack([np.roll(offset, k) for k in range(-4, 5)])
    moved = around + outward * np.median(window, axis=0)[:, None]
    polygon = shapely.Polygon(moved).buffer(0)
    if polygon.geom_type == "MultiPolygon":
        polygon = max(polygon.geoms, key=lambda g: g.area)
    return shapely.Polygon(polygon.exterior) if not polygon.is_empty else outline


def smallest_rectangle(points: np.ndarray) -> tuple[tuple[float, float], tuple[float, float], float]:
    """((longer, shorter) side, centre, angle in degrees of the longer side from +x) of the smallest rectangle around points (n, 2)."""
    (cx, cy), (a, b), angle = cv2.minAreaRect(points.astype(np.float32))
    if b > a:
        a, b, angle = b, a, angle + 90
    return (float(a), float(b)), (float(cx), float(cy)), float((angle + 90) % 180 - 90)
