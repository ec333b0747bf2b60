"""A thing's true size, outline and colours out of a photograph beside a sheet of paper."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import shapely
from shapely.affinity import rotate, scale
from shapely.geometry.base import BaseGeometry

from ..colour.clusters import colours_with_shares
from ..errors import FieldError
from ..formats.photograph import Photograph
from ..tolerances import ROUNDING
from .cut_out import cut_out
from .edge_doubts import edge_seen
from .ground import linear, tell_apart
from .rectified import Flat, at_height, flatten, reach_mm
from .shape_fit import Fitted, fitted
from .sheet import SHEETS, FoundSheet, find_sheet, sheet_from_corners

#: The finest grid, pixels for one mm, and the most pixels of its long side.
_FINEST_PER_MM, _MOST_PX = 4.0, 1100
#: A pixel larger than this cannot tell two millimetres: a JPEG smears colours over blocks of sixteen pixels.
_COARSEST_MM = 0.6
#: How far beside the sheet a thing is looked for, mm.
_BESIDE_MM = 330.0
#: Smaller than this it is a crumb.
_LEAST_MM2 = 60.0
#: So much of the picture round the thing is laid flat finely, mm; it is read across its edge so far.
_AROUND_MM = 12.0
#: From this tilt on a thing's height shifts and stretches its outline by more than a hundredth of its height.
_TELLING_TILT_DEG = 6.0
#: Corners that fit the sheet so well, and edges so straight, pixels, are the sheet's although the table is nearly as light.
_EXACT_SKEW, _EXACT_PX = 0.015, 0.5
#: Half of what is too thin to belong to a thing's outline, mm.
_SPIKE_MM = 0.35
#: Teeth smaller than this, mm, are an outline badly seen when they make it longer by this factor.
_TEETH_MM, _RAGGED = 2.5, 1.04


@dataclass(frozen=True, eq=False)
class Measured:
    """width_mm, depth_mm: sides of the smallest rectangle around it, the longer first. outline_mm (n, 2) about its own centroid, x along
    the longer side, counter-clockwise. colours: (hex, share). why: reasons to look again; none when sure. skin (h, w, 4) uint8: its
    cut-out, laid out as outline_mm. corners (4, 2) and traced (m, 2): sheet and outline in the photograph's pixels, for moving by
    hand."""

    sheet: str
    width_mm: float
    depth_mm: float
    outline_mm: np.ndarray
    colours: tuple[tuple[str, float], ...]
    why: tuple[str, ...]
    skin: np.ndarray
    corners: np.ndarray
    traced: np.ndarray
    tilt_deg: float

    @property
    def is_sure(self) -> bool:
        return not self.why

    def as_value(self) -> dict[str, Any]:
        """What ``tideflat measure`` prints."""
        return {
            "sheet": self.sheet,
            "width_mm": round(self.width_mm, 1),
            "depth_mm": round(self.depth_mm, 1),
            "outline_mm": [[round(float(x), 1), round(float(y), 1)] for x, y in self.outline_mm],
            "colours": [{"hex": h, "share": round(s, 3)} for h, s in self.colours],
            "sure": self.is_sure,
            "why": "; ".join(self.why) or None,
        }


def measure(
    photograph: Photograph,
    sheet: str = "a4",
    height_mm: float | None = None,
    corners: np.ndarray | None = None,
    traced: np.ndarray | None = None,
) -> Measured:
    """Find the sheet, lay the picture flat, outline the thing and correct for its height (mm, 0 for what lies flat, None where it is not
    known: it is then taken for flat, and not sure where the picture was tilted).

    corners (4, 2), traced (m, 2): the sheet's corners and the outline of the thing's rim in pixels, where a person has put them by hand;
    else they are found. Raises FieldError (``sheet``, ``height``, ``thing``) when no sheet or no thing is found, or the height cannot be.
    """
    if sheet not in SHEETS:
        raise FieldError("sheet", "must be a4 or letter", sheet)
    rgb = photograph.rgb
    if corners is not None:
        found = sheet_from_corners(rgb, sheet, corners, photograph.focal_35mm)
    else:
        looked = find_sheet(rgb, sheet, photograph.focal_35mm)
        if looked is None:
            raise FieldError("sheet", f"must show all four edges of a bright {sheet.upper() if sheet == 'a4' else 'Letter'} sheet; "
                             "photograph it on a darker table, or put its four corners by hand", show_got=False)  # fmt: skip
        found = looked
    is_known, height_mm = height_mm is not None, height_mm or 0.0
    if not 0 <= height_mm < 0.8 * found.pose.eye[2]:
        raise FieldError("height", f"must be from 0 to {0.8 * found.pose.eye[2]:.0f} mm, well below the lens", height_mm)
    why: list[str] = []
    coarse_box = reach_mm(found.pose, (rgb.shape[1], rgb.shape[0]), found.size_mm, _BESIDE_MM)
    shape: Fitted | None = None
    if traced is not None:
        # What a person moves is the rim, the outline at the thing's height.
        rim = shapely.Polygon(_on_plane(np.asarray(traced, dtype=float), found)).buffer(0)
        k = found.pose.enlargement_at(height_mm)
        footprint = scale(rim, 1 / k, 1 / k, origin=(float(found.pose.eye[0]), float(found.pose.eye[1])))
    else:
        seen, doubts, edge, shape = _outlined(rgb, found, coarse_box, height_mm)
        why += doubts if shape is not None and shape.settles_edges else [*doubts, *edge]
        footprint = _stood_down(seen, found, height_mm) if shape is None else shape.footprint
    if footprint.is_empty or footprint.area < _LEAST_MM2 / 4:
        raise FieldError("height", "must fit the picture; so high a thing would leave no footprint there", height_mm)
    if traced is None and shape is None and _raggedness(footprint) > _RAGGED:
        why.append("its outline came out ragged; go nearer, or light it more evenly")
    why += _doubts_of_camera(found, height_mm, by_hand=corners is not None)
    if not is_known and found.pose.tilt_deg > _TELLING_TILT_DEG:
        why.append(
            "its height is not known, and the picture was tilted: write its height, 0 for what lies flat, or take it from straight above"
        )
    return _described(rgb, found, footprint, height_mm, sheet, tuple(why))


def _raggedness(outline: BaseGeometry) -> float:
    """How much longer an outline is than the same with teeth and notches under twice _TEETH_MM smoothed away."""
    smooth = outline.buffer(_TEETH_MM).buffer(-2 * _TEETH_MM).buffer(_TEETH_MM)
    return float(outline.length / smooth.length) if not smooth.is_empty else 1.0


def _on_plane(pixels: np.ndarray, found: FoundSheet) -> np.ndarray:
    flat = np.column_stack([pixels, np.ones(len(pixels))]) @ np.linalg.inv(found.pose.plane_to_pixel).T
    return np.asarray(flat[:, :2] / flat[:, 2:])


Outlined = tuple[shapely.Polygon, list[str], list[str], Fitted | None]


def _outlined(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], height_mm: float) -> Outlined:
    """The thing's silhouette on the sheet's plane, mm; doubts of it, and of its edge; and the plain solid that it is of, where it is. What hangs
    on the thing belongs to it unless a plain solid is seen only without it."""
    per_mm = min(_FINEST_PER_MM, _MOST_PX / max(box[2] - box[0], box[3] - box[1]))
    flat = flatten(rgb, found.pose.plane_to_pixel, box, per_mm)
    ground = tell_apart(flat, found.size_mm)
    whole = _outline_of(ground.mask, ground.grey, flat, rgb, found)
    if whole is None:
        raise FieldError("thing", "must differ plainly from paper and table; nothing was found on or beside the sheet", show_got=False)
    shape = fitted(whole[0], found.pose, height_mm)
    if shape is None and (ground.bare != ground.mask).any():
        bare = _outline_of(ground.bare, ground.grey, flat, rgb, found)
        plain = fitted(bare[0], found.pose, height_mm) if bare is not None else None
        if bare is not None and plain is not None:
            return (*bare, plain)
    return (*whole, shape)


def _outline_of(
    mask: np.ndarray, grey: float, flat: Flat, rgb: np.ndarray, found: FoundSheet
) -> tuple[shapely.Polygon, list[str], list[str]] | None:
    """Found coarsely, then again on a fine grid around it; None of an empty mask."""
    why: list[str] = []
    per_mm = flat.per_mm
    parts = _parts(mask, flat)
    if not parts:
        return None
    first = parts[0]
    if len(parts) > 1 and parts[1].area > 0.35 * first.area:
        why.append("more than one thing lies there; the largest was measured")
    if grey > 0.5:
        why.append("it is as grey as a shadow, so its edge may include one")
    if first.area > 0.8 * found.size_mm[0] * found.size_mm[1]:
        why.append("it covers most of the sheet, so paper and thing are hard to tell apart; lay it beside the sheet")
    if _touches_border(first, flat):
        why.append("it reaches the edge of what the picture shows")
    x0, y0, x1, y1 = first.bounds
    fine_px = min(_FINEST_PER_MM, _MOST_PX / (max(x1 - x0, y1 - y0) + 16))
    if fine_px > 1.25 * per_mm:
        outline, flat = _refined(rgb, found, first, fine_px)
    else:
        outline = _sharpened(_sharpened(first, flat), flat)
    outline = _without_spikes(outline)
    return outline, why, edge_seen(outline, flat).doubts


def _without_spikes(outline: shapely.Polygon) -> shapely.Polygon:
    """What is thinner than a millimetre and sticks out is the end of a shadow, or noise."""
    opened = outline.buffer(-_SPIKE_MM).buffer(_SPIKE_MM)
    largest = max(opened.geoms, key=lambda g: g.area) if opened.geom_type == "MultiPolygon" else opened
    return shapely.Polygon(largest.exterior) if largest.area > 0.8 * outline.area else outline


def _parts(mask: np.ndarray, flat: Flat) -> list[shapely.Polygon]:
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
        if largest.area >= _LEAST_MM2:
            found.append(shapely.Polygon(largest.exterior))
    return sorted(found, key=lambda p: -p.area)


def _touches_border(part: shapely.Polygon, flat: Flat) -> bool:
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


def _stood_down(seen: BaseGeometry, found: FoundSheet, height_mm: float) -> BaseGeometry:
    """The footprint of what stands ``height_mm`` high and is seen as ``seen`` on the sheet's plane.

    An upright thing with footprint F covers, on the plane, every t F with t from 1 to k about the foot of the lens: its base at 1, its
    top at k = eye / (eye - height). For convex F what that has in common with itself scaled by 1 / k is F again; for a spoon or a leaf
    it is F to within the shift between base and top.
    """
    if height_mm <= 0:
        return seen
    hull = seen.convex_hull if seen.area > 0.93 * seen.convex_hull.area else seen
    k = found.pose.enlargement_at(height_mm)
    eye = (float(found.pose.eye[0]), float(found.pose.eye[1]))
    return hull.intersection(scale(hull, 1 / k, 1 / k, origin=eye))


def _doubts_of_camera(found: FoundSheet, height_mm: float, *, by_hand: bool) -> list[str]:
    why = []
    if found.pose.skew > 0.03:
        why.append("the sheet's corners do not fit its size well; is it the sheet you chose, and flat?")
    if not by_hand and found.straight_px > 2.5:
        why.append("the sheet's edges are not straight; flatten it, or step back from it")
    if not by_hand and found.edge < 0.75 and (found.pose.skew > _EXACT_SKEW or found.straight_px > _EXACT_PX):
        why.append("parts of the sheet's edge are hidden or hardly lighter than the table")
    if found.mm_per_pixel > _COARSEST_MM:
        why.append(f"a pixel of the picture is {found.mm_per_pixel:.1f} mm there; go nearer, or take a larger picture")
    if found.pose.tilt_deg > 50:
        why.append("the picture was taken from very low; take it from more above")
    if height_mm > 0 and found.pose.focal_from == "usual" and found.pose.enlargement_at(height_mm) > 1.03:
        why.append(
            "the camera's distance is a guess: the picture does not say its focal length; tilt the camera some ten degrees and try again"
        )
    return why


def _described(rgb: np.ndarray, found: FoundSheet, footprint: BaseGeometry, height_mm: float, sheet: str, why: tuple[str, ...]) -> Measured:
    if footprint.geom_type != "Polygon":
        footprint = max(footprint.geoms, key=lambda g: g.area)
    outline = shapely.simplify(shapely.Polygon(footprint.exterior), 0.35)
    corners, _, angle = _smallest_rectangle(np.array(footprint.exterior.coords))
    width, depth = corners
    centre = outline.centroid
    level = rotate(outline, -angle, origin=centre)
    points = np.array(shapely.geometry.polygon.orient(level).exterior.coords)[:-1] - [centre.x, centre.y]
    skin, pixels = cut_out(rgb, found, points, (centre.x, centre.y), angle, height_mm)
    to_pixels = at_height(found.pose, height_mm)
    placed = np.array(outline.exterior.coords)[:-1]
    on_picture = np.column_stack([placed, np.ones(len(placed))]) @ to_pixels.T
    return Measured(
        sheet,
        width,
        depth,
        points,
        tuple(colours_with_shares(pixels, most=4, least_share=0.04)),
        why,
        skin,
        found.corners,
        on_picture[:, :2] / on_picture[:, 2:],
        found.pose.tilt_deg,
    )


def _smallest_rectangle(points: np.ndarray) -> tuple[tuple[float, float], tuple[float, float], float]:
    """((longer, shorter) side, centre, angle in degrees of the longer side from +x) of the smallest rectangle around points (n, 2)."""
    (cx, cy), (a, b), angle = cv2.minAreaRect(points.astype(np.float32))
    if b > a:
        a, b, angle = b, a, angle + 90
    return (float(a), float(b)), (float(cx), float(cy)), float((angle + 90) % 180 - 90)
