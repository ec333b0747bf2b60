"""The outline of a thing of any shape on or beside the sheet: found coarsely, then again on a fine grid around it, with doubts of it in words."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np
import shapely
from shapely.affinity import scale
from shapely.geometry.base import BaseGeometry

from .bent_sided import bent_sided
from .dark_sides import with_dark_sides, with_sides_below
from .edge_doubts import FOLLOWS_SHEET, GOES_ON, HARDLY_DIFFERS, SHADOW_TAKEN, EdgeSeen, Shade, edge_seen
from .edge_support import Shaded, edge_picture
from .ground import Ground
from .peeled import face_of, hangs_on
from .pointed import pointed, pointed_as
from .prism_edges import standing_on
from .pulled_in import follows_sheet
from .rectified import Flat
from .sharpened import finely, finest_per_mm, largest_of, sharpened, without_spikes, without_teeth
from .sheet import FoundSheet
from .smallest_rectangle import least_sides, smallest_rectangle
from .straight_sided import straight_sided
from .thin_ends import runs_past_an_end
from .told_again import HARDLY, told_again

#: Smaller than this it is a crumb.
LEAST_MM2 = 60.0
#: Sizes so far apart, mm, leave it open whether what may hang on a thing is a part of it; a face so far from the foot, mm, is another.
_APART_MM, _PEELED_MM = 1.5, 0.3
#: An outline that is so much smaller than what was found at first, mm, has lost a piece of it.
_LOST_MM = 5.0
#: Told again it has it where no more than this share of what was found lies outside of it, further than this, mm.
_COVERED_MM, _UNCOVERED = 2.0, 0.03
#: So far within an outline, told to within this, mm, what has so much of the ground's light, and is no stranger to it (log), is the
#: ground; more than this share of a thing is not.
_WELL_WITHIN_MM, _SIMPLY_MM, _LIT, _LIKE_GROUND, _GROUND_WITHIN = 2.0, 0.1, (0.85, 1.1), 0.1, 0.015
#: What fills so much of its hull is convex, but for a wavering edge, if no hollow of it is twice so wide, mm, as a heart's is.
_CONVEX, _HOLLOW_MM = 0.93, 2.0
#: Teeth of a face's outline are smoothed over so much, mm.
_SMOOTH_MM = 1.0
#: An outline of pixels goes so far to both sides of what it goes round, pixels.
_STAIRS_PX = 0.75
#: Teeth smaller than this, mm, are an outline badly seen when they make it longer by this factor; or where one is larger than this, mm2.
_TEETH_MM, RAGGED, _TOOTH_MM2 = 2.5, 1.04, 2.0
#: What is upright is shown by its footprint at heights so far apart, mm, so many at the most, each so much wider, mm; of what is seen no
#: more than this share lies outside of that.
_LEVEL_MM, _MOST_LEVELS, _SHOWN_MM, _UNEXPLAINED = 4.0, 20, 1.2, 0.03
_NOT_UPRIGHT = "what is seen is not what goes straight up so high; check its height, or put the outline of its top by hand"


@dataclass(frozen=True, eq=False)
class FreeOutline:
    """outline: the silhouette on the sheet's plane, mm; foot: what the thing covers of it from above; edge: what is seen along the outline;
    doubts: reasons to look again."""

    outline: shapely.Polygon
    foot: shapely.Polygon
    edge: EdgeSeen
    doubts: list[str]


@dataclass(frozen=True, eq=False)
class Begun:
    """An outline as it is told at first, before what is in doubt is told again. fine: the picture that it was told in; is_open: it is not
    told whether what hangs on it is a shadow, and that alters its size; is_lost: it lost a piece of what was found."""

    outline: shapely.Polygon
    edge: EdgeSeen
    fine: Flat
    shade: Shade
    is_open: bool
    is_lost: bool

    @property
    def is_in_doubt(self) -> bool:
        return self.is_open or bool(self.edge.doubts)


def free_outline(
    part: shapely.Polygon, ground: Ground, flat: Flat, rgb: np.ndarray, found: FoundSheet, height_mm: float, *, is_final: bool = True,
    begun: Begun | None = None,
) -> FreeOutline:  # fmt: skip
    """The outline of what a part of the mask shows, without the shadow that hangs on it, and without its own side in shadow. Where it is
    not told whether what hangs on it is a shadow, and that alters its size, that is a doubt. is_final: what is in doubt is told again,
    which takes most of the time. begun: what ``begun_outline`` gave, if that was asked."""
    begun = begun or begun_outline(part, ground, flat, rgb, found, height_mm)
    told = _outlined(part, begun, ground, flat, rgb, found, height_mm, is_final=is_final)
    if not is_final or told.doubts or raggedness(told.foot) <= RAGGED:
        return told  # what is in doubt for another reason would stay so
    # steps as high as a coarse pixel are not smoothed away in a finer picture: without them, if that is the same thing
    begun = begun_outline(part, ground, flat, rgb, found, height_mm, _STAIRS_PX / flat.per_mm)
    smooth = _outlined(part, begun, ground, flat, rgb, found, height_mm, is_final=True)
    is_smooth = raggedness(smooth.foot) <= RAGGED and max(map(_largest_tooth, (smooth.foot, smooth.outline))) <= _TOOTH_MM2
    return told if not is_smooth or _are_apart(smooth.foot, told.foot, _APART_MM) else smooth


def _outlined(
    part: shapely.Polygon, begun: Begun, ground: Ground, flat: Flat, rgb: np.ndarray, found: FoundSheet, height_mm: float, *,
    is_final: bool,
) -> FreeOutline:  # fmt: skip
    """``free_outline``, ragged or not."""
    whole, edge, fine, shade, is_open = begun.outline, begun.edge, begun.fine, begun.shade, begun.is_open
    is_lost = begun.is_lost
    doubts = _doubts_of_place(whole, found)
    if is_final and begun.is_in_doubt and not _is_no_things(whole, found):
        whole, edge, is_open, fine = told_again(whole, edge, fine, shade, rgb, found, height_mm, is_open=is_open)
        is_lost &= part.difference(whole.buffer(_COVERED_MM)).area > _UNCOVERED * part.area
    picture = replace(edge_picture(fine), shade=Shaded(flat, ground.left))
    runs_past = runs_past_an_end(whole, picture)
    face = face_of(whole, fine, height_mm)
    foot, whole_seen = stood_down(whole, found, height_mm), whole
    eye, k = np.array(found.pose.eye[:2], dtype=float), found.pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    if face is None and height_mm > 0:
        sides = with_dark_sides(whole, picture, ground.left, flat, eye, k)
        foot = stood_down(largest_of(sides), found, height_mm)
        if sides is not whole:
            foot = _smoothed(foot, _SMOOTH_MM)
    if face is not None:
        face = pointed(sharpened(face, fine), fine)
        whole = largest_of(with_sides_below(whole, face, picture, eye, k))
        peeled = largest_of(whole.intersection(thrown_down(face, found, height_mm)))
        peeled = _smoothed(peeled, _SMOOTH_MM)
        if _are_apart(peeled, foot, _PEELED_MM):
            foot, edge, is_open = peeled, edge_seen(face, fine, shade), False
            whole_seen = largest_of(face)
    straight = straight_sided(foot, picture, found.pose, height_mm) if is_final else None
    is_whole, plain = straight is not None and straight.is_whole, None if straight is None else straight.foot
    if is_final and straight is None:
        plain = bent_sided(foot, picture, found.pose, height_mm)
    if plain is not None:
        foot, whole = plain, standing_on(plain, found.pose, height_mm)
        if edge.doubts or is_open:  # what is seen along it, or along its top: either is enough
            looked = [edge_seen(one, fine, shade) for one in (whole, thrown_up(plain, found, height_mm))]
            edge = min(looked, key=lambda one: len(one.doubts))
            is_open &= bool(edge.doubts)
    if runs_past or (is_lost and not is_whole):
        doubts.append(GOES_ON)
    if is_open:
        doubts.append(SHADOW_TAKEN)
    if not is_whole and _unexplained(whole_seen, foot, found, height_mm) > _UNEXPLAINED:
        doubts.append(_NOT_UPRIGHT)
    if _ground_within(whole, ground, flat) > _GROUND_WITHIN and HARDLY_DIFFERS not in edge.doubts:
        doubts.append(HARDLY_DIFFERS)
    if follows_sheet(edge, found.size_mm):
        doubts.append(FOLLOWS_SHEET)
    return FreeOutline(whole, foot, edge, list(dict.fromkeys(doubts + edge.doubts)))


def begun_outline(
    part: shapely.Polygon, ground: Ground, flat: Flat, rgb: np.ndarray, found: FoundSheet, height_mm: float, stairs_mm: float = 0.0
) -> Begun:
    """What ``free_outline`` begins with. stairs_mm: steps so high are none of the part's."""
    shade = Shade.about(part, flat, ground.left, ground.off, found.area)
    whole, edge, fine = _outline_of(_but_stairs(part, stairs_mm), flat, shade, rgb, found)
    is_lost, is_open = _are_apart(part, whole, _LOST_MM), False
    own = flat.inside(part)
    if ((ground.bare != ground.mask) & own).sum() > HARDLY * own.sum() and (bare := parts_of(ground.bare & own, flat)):
        less, less_edge, less_fine = _outline_of(_but_stairs(bare[0], stairs_mm), flat, shade, rgb, found)
        strip = whole.difference(less.buffer(0.5)).buffer(-0.3)
        if not strip.is_empty and hangs_on(strip, whole, height_mm):
            whole, edge, fine = less, less_edge, less_fine
        else:
            is_open = _are_apart(whole, less, _APART_MM)
    return Begun(whole, edge, fine, shade, is_open, is_lost)


def _but_stairs(part: shapely.Polygon, stairs_mm: float) -> shapely.Polygon:
    return shapely.simplify(part, stairs_mm) if stairs_mm > 0 else part


def _smoothed(outline: shapely.Polygon, by_mm: float) -> shapely.Polygon:
    """Without teeth and notches under twice so much; corners stay as pointed as they are."""
    return pointed_as(largest_of(outline.buffer(by_mm).buffer(-2 * by_mm).buffer(by_mm)), outline, by_mm)


def thrown_down(top: BaseGeometry, found: FoundSheet, height_mm: float) -> BaseGeometry:
    """What is seen at a height, on the sheet's plane: at the foot of it."""
    k = found.pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    return scale(top, 1 / k, 1 / k, origin=(float(found.pose.eye[0]), float(found.pose.eye[1])))


def thrown_up(foot: shapely.Polygon, found: FoundSheet, height_mm: float) -> shapely.Polygon:
    """A footprint's top, so high, as it is seen on the sheet's plane."""
    k = found.pose.enlargement_at(height_mm) if height_mm > 0 else 1.0
    return scale(foot, k, k, origin=(float(found.pose.eye[0]), float(found.pose.eye[1])))


def stood_down(seen: BaseGeometry, found: FoundSheet, height_mm: float) -> shapely.Polygon:
    """The footprint of what stands ``height_mm`` high and is seen as ``seen`` on the sheet's plane.

    An upright thing with footprint F covers, on the plane, every t F with t from 1 to k about the foot of the lens: its base at 1, its
    top at k = eye / (eye - height). For convex F what that has in common with itself scaled by 1 / k is F again; for a spoon or a leaf
    it is F to within the shift between base and top.
    """
    if height_mm <= 0:
        return largest_of(seen)
    hull = seen.convex_hull
    if seen.area <= _CONVEX * hull.area or not hull.difference(seen).buffer(-_HOLLOW_MM).is_empty:
        hull = seen
    return largest_of(hull.intersection(thrown_down(hull, found, height_mm)))


def _unexplained(seen: shapely.Polygon, foot: BaseGeometry, found: FoundSheet, height_mm: float) -> float:
    """Share of what is seen that no upright thing with that footprint, so high, would show."""
    if height_mm <= 0 or foot.is_empty or seen.is_empty:
        return 0.0
    eye, k = (float(found.pose.eye[0]), float(found.pose.eye[1])), found.pose.enlargement_at(height_mm)
    levels = np.linspace(1.0, k, 2 + min(_MOST_LEVELS, int(height_mm / _LEVEL_MM)))
    shown = shapely.union_all([scale(foot, by, by, origin=eye) for by in levels]).buffer(_SHOWN_MM)
    return float(seen.difference(shown).buffer(-_SHOWN_MM / 2).buffer(_SHOWN_MM / 2).area / seen.area)


def _are_apart(first: shapely.Polygon, second: shapely.Polygon, limit_mm: float) -> bool:
    """Whether the sides of the smallest rectangles round two outlines differ by more."""
    if first.is_empty or second.is_empty:
        return True
    rings = [np.array(p.exterior.coords) for p in (first, second)]
    ways = (least_sides, lambda ring: smallest_rectangle(ring)[0])  # the first is far quicker; of two nearly as small it may take either
    return all(max(abs(a - b) for a, b in zip(*map(sides_of, rings), strict=True)) > limit_mm for sides_of in ways)


def _ground_within(outline: shapely.Polygon, ground: Ground, flat: Flat) -> float:
    """Share of what lies well within an outline that is the ground in full light, as it is seen through a glass."""
    inner = flat.inside(shapely.simplify(outline, _SIMPLY_MM).buffer(-_WELL_WITHIN_MM))
    is_lit = (ground.left > _LIT[0]) & (ground.left < _LIT[1]) & (ground.off < _LIKE_GROUND)
    return float((inner & is_lit).sum() / max(inner.sum(), 1))


def _is_no_things(outline: shapely.Polygon, found: FoundSheet) -> bool:
    """Whether it is as large as the sheet: the table's, or several things' together. It is in doubt, and to tell it again takes long."""
    return outline.area > found.size_mm[0] * found.size_mm[1]


def _doubts_of_place(outline: shapely.Polygon, found: FoundSheet) -> list[str]:
    why = []
    if outline.area > 0.8 * found.size_mm[0] * found.size_mm[1]:
        why.append("it covers most of the sheet, so paper and thing are hard to tell apart; lay it beside the sheet")
    return why


def raggedness(outline: BaseGeometry) -> float:
    """How much longer an outline is than the same with teeth and notches under twice _TEETH_MM smoothed away, but for its corners."""
    smooth = _smoothed(largest_of(outline), _TEETH_MM)
    return float(outline.length / smooth.length) if not smooth.is_empty else 1.0


def _largest_tooth(outline: BaseGeometry) -> float:
    """mm2 of the largest piece of it that is narrower than twice _TEETH_MM and no corner: what was taken in of a shadow."""
    whole = largest_of(outline)
    opened = largest_of(whole.buffer(-_TEETH_MM).buffer(_TEETH_MM))
    rest = whole.difference(pointed_as(opened, whole, _TEETH_MM))
    return max((float(piece.area) for piece in getattr(rest, "geoms", [rest])), default=0.0)


def _outline_of(
    first: shapely.Polygon, flat: Flat, shade: Shade, rgb: np.ndarray, found: FoundSheet
) -> tuple[shapely.Polygon, EdgeSeen, Flat]:
    """Found again on a fine grid around it, what is seen along it, and that grid."""
    if finest_per_mm(first.bounds) > 1.25 * flat.per_mm:
        flat = finely(rgb, found, first.bounds)
    # twice: a smeared edge lies further off than one search reaches
    outline = pointed(without_spikes(sharpened(sharpened(first, flat), flat)), flat)
    edge = edge_seen(outline, flat, shade)
    plain = without_teeth(outline, edge)
    return (outline, edge, flat) if plain is outline else (plain, edge_seen(plain, flat, shade), flat)


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
