"""Find a bright sheet of A4 or Letter in a photograph, to a part of a pixel.

Sizes: ISO 216 (A4 210 x 297 mm); ANSI/ASME Y14.1 (Letter 8.5 x 11 in). All else is our own.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import product

import cv2
import numpy as np
import shapely

from .pose import Pose, pose_of
from .sheet_edges import edge_share, least_within, uneven_share
from .sheet_lens import Bend, SheetLens, bend_along
from .sheet_lines import CUT_OFF, quadrilaterals_of_lines
from .sheet_look import SheetLook, sheet_look
from .sheet_masks import LEAST_SHARE, clockwise
from .sheet_sides import meeting, sides_of, straight_line

SHEETS: dict[str, tuple[float, float]] = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
#: A picture with a shorter side than this, pixels, shows no sheet.
_LEAST_PX = 48
#: Corners that fit a sheet of the size asked worse than this (log of side ratio + cosine of its angle) are another rectangle.
MOST_SKEW = 0.07
#: Corners that fit worse than this are looked at again, edge by edge, by these parts of each; so much better it must become.
_ILL_SKEW, _PARTS_REACH, _BETTER, _PARTS = 0.008, 5.0, 0.4, ((0.0, 0.45), (0.55, 1.0), (0.25, 0.75), (0.0, 0.7), (0.3, 1.0))
#: How much it counts that light is not even along an edge, and how pale (log of the least channel) the sheet is.
_UNEVEN_COUNTS, _PALE_COUNTS = 0.5, 0.3
#: Of those that may be the sheet so many are looked at closely, further apart than this, pixels of the small picture.
_MOST_REFINED, _SAME_PX = 4, 6.0
#: A sheet across whose edges things and shadows lie is plainly edged along so much of them and fits so well; the better, the less of them.
_SHADED = ((0.7, 0.03), (0.6, 0.01))
#: The bend of edges that are not told, pixels.
_UNTOLD_PX = 2.0
#: Corners that were put by hand are the sheet's own, as they were found, where its edges, looked for so near, meet so near to them, pixels.
_PUT_REACH, _PUT_PX = 4.0, 1.0
#: Each edge lies in the picture along so much of its length: half a sheet has a whole one's shape, and one edge along the picture's border.
_LEAST_WITHIN = 0.5
#: Share of the four edges along which it is plainly brighter inside than outside.
LEAST_EDGE = 0.33


@dataclass(frozen=True, eq=False)
class FoundSheet:
    """corners (4, 2) pixels clockwise from the far left as it is laid; size_mm as it is laid; edge: share of its edges seen plainly;
    straight_px: how far its edges bend from straight (lens distortion, a curled sheet); lens: how the lens bends, None where the edges do
    not tell it. ``pose`` takes the lens for one that does not bend."""

    corners: np.ndarray
    size_mm: tuple[float, float]
    pose: Pose
    edge: float
    straight_px: float
    lens: SheetLens | None = None

    @property
    def mm_per_pixel(self) -> float:
        """What one pixel of the photograph covers of the sheet, on the mean."""
        return float(np.sqrt(self.size_mm[0] * self.size_mm[1] / cv2.contourArea(self.corners.astype(np.float32))))

    @property
    def area(self) -> shapely.Polygon:
        """Where it lies, mm."""
        half_wide, half_deep = self.size_mm[0] / 2, self.size_mm[1] / 2
        return shapely.box(-half_wide, -half_deep, half_wide, half_deep)


def find_sheet(seen: np.ndarray | SheetLook, kind: str, focal_35mm: float | None = None) -> FoundSheet | None:
    """The sheet of ``kind`` (``a4``, ``letter``) in (h, w, 3) uint8, or None: the likeliest of all quadrilaterals that bright regions and
    lines leave, if that fits one. seen: the photograph, or that laid ready by ``sheet_look``: who asks twice is told sooner."""
    picture = _looked(seen, kind, focal_35mm)
    return None if picture is None else _first_that_fits(_likely(picture.look.ways(), picture)[:1], picture)


def find_hidden_sheet(seen: np.ndarray | SheetLook, kind: str, focal_35mm: float | None = None) -> FoundSheet | None:
    """The same where ``find_sheet`` finds none, of either kind: the next likely ones, then what things and hard shadows lie across."""
    picture = _looked(seen, kind, focal_35mm)
    if picture is None:
        return None
    return _first_that_fits(_likely(picture.look.ways(), picture), picture) or _by_lines(picture)


def find_crossed_sheet(seen: np.ndarray | SheetLook, kind: str, focal_35mm: float | None = None) -> FoundSheet | None:
    """The same where what ``find_sheet`` finds is hardly of a sheet's shape: one that a thing hides most of an edge of, by what is left."""
    picture = _looked(seen, kind, focal_35mm)
    return None if picture is None else _by_lines(picture)


def _by_lines(picture: _Looked) -> FoundSheet | None:
    """What is plainly a sheet by its shape and by what is seen of its edges, whatever lies across them."""
    likely = _likely([(quadrilaterals_of_lines(picture.look.light, is_shaded=True), 0.0)], picture)
    return _first_that_fits([corners for corners in likely if _is_plainly_one(corners, picture)], picture)


@dataclass(frozen=True, eq=False)
class _Looked:
    """What a sheet is looked for in, the kind that is looked for, and the focal length that the camera noted."""

    look: SheetLook
    kind: str
    focal_35mm: float | None


def _looked(seen: np.ndarray | SheetLook, kind: str, focal_35mm: float | None) -> _Looked | None:
    look = seen if isinstance(seen, SheetLook) else sheet_look(seen)
    return None if min(look.full.shape) < _LEAST_PX else _Looked(look, kind, focal_35mm)


def _likely(ways: Iterable[tuple[Iterable[np.ndarray], float]], picture: _Looked) -> list[np.ndarray]:
    """Corners (4, 2) of what may be the sheet, the likeliest first. ways: quadrilaterals, and how plainly edged one must be for the rest
    not to be asked."""
    likely: list[tuple[float, np.ndarray]] = []
    tried: set[tuple[int, ...]] = set()
    for found, enough in ways:
        for corners in map(clockwise, found):
            place = tuple(np.rint(corners / 3).astype(int).ravel().tolist())
            if place in tried:
                continue
            tried.add(place)
            rated = _rated(corners, picture)
            if rated is not None:
                likely.append((rated, corners))
        likely.sort(key=lambda one: -one[0])
        if likely and edge_share(likely[0][1], picture.look.light) > enough and uneven_share(likely[0][1], picture.look.light) < 1 - enough:
            break
    return [corners for _, corners in likely]


def _is_plainly_one(corners: np.ndarray, picture: _Looked) -> bool:
    """Whether it is the sheet by its edges and its shape, whatever lies across it."""
    pose = _lies(corners + 0.5, picture.kind, picture.look.light.shape[::-1], picture.focal_35mm)[1]
    edge = edge_share(corners, picture.look.light)
    return any(edge > least and pose.skew < most for least, most in _SHADED)


def _first_that_fits(likely: Iterable[np.ndarray], picture: _Looked) -> FoundSheet | None:
    """The first of a few whose edges, seen in the photograph as it is, go round a sheet."""
    apart: list[np.ndarray] = []
    for corners in likely:
        if len(apart) == _MOST_REFINED:
            break
        if all(np.abs(corners - other).max() > _SAME_PX for other in apart):
            apart.append(corners)
            if (found := _refined_to(corners, picture)) is not None:
                return found
    return None


def _refined_to(looked: np.ndarray, picture: _Looked) -> FoundSheet | None:
    full, scale = picture.look.full, picture.look.scale
    corners, straight = (looked + 0.5) / scale - 0.5, _UNTOLD_PX
    for reach in (max(5.0, 4 / scale), max(3.0, 2 / scale)):
        sides = sides_of(full, corners, reach)
        refined = meeting(corners, [straight_line(side) for side in sides], reach)
        if refined is None:
            break
        corners, straight = refined
    shape = full.shape[1], full.shape[0]
    size, pose = _laid(corners + 0.5, picture.kind, shape, picture.focal_35mm)  # OpenCV's whole numbers are the middles of pixels
    told = None if refined is None else bend_along(sides, corners, shape)
    lens = _lens(told, size, shape, picture.focal_35mm)
    if pose.skew > _ILL_SKEW and told is not None and lens is not None and lens.pose.skew <= _ILL_SKEW:
        corners = told[0].bent(told[1]) - 0.5  # its own, and not where straight lines along bent edges meet
        size, pose = _laid(corners + 0.5, picture.kind, shape, picture.focal_35mm)
    elif pose.skew > _ILL_SKEW:
        corners, size, pose = _by_parts(full, corners, size, pose, picture.kind, shape, picture.focal_35mm)
        lens = None
    corners = corners + 0.5
    if pose.skew > MOST_SKEW:
        return None
    return FoundSheet(corners, size, pose, edge_share(corners * scale - 0.5, picture.look.light), straight, lens)


def _lens(
    told: tuple[Bend, np.ndarray] | None, size: tuple[float, float], picture: tuple[int, int], focal_35mm: float | None
) -> SheetLens | None:
    return None if told is None else SheetLens(told[0], pose_of(told[1], size, picture, focal_35mm))


def sheet_from_corners(rgb: np.ndarray, kind: str, corners: np.ndarray, focal_35mm: float | None = None) -> FoundSheet:
    """The sheet whose corners (4, 2), pixels, a person has put by hand, in any order; the lens as the edges tell it where those go through
    the corners that were put."""
    ordered, shape = clockwise(np.asarray(corners, dtype=float)), (rgb.shape[1], rgb.shape[0])
    size, pose = _laid(ordered, kind, shape, focal_35mm)
    sides = sides_of(cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), ordered - 0.5, _PUT_REACH)
    seen = meeting(ordered - 0.5, [straight_line(side) for side in sides], _PUT_REACH)
    is_there = seen is not None and np.abs(seen[0] + 0.5 - ordered).max() < _PUT_PX
    lens = _lens(bend_along(sides, ordered - 0.5, shape), size, shape, focal_35mm) if is_there else None
    return FoundSheet(ordered, size, pose, 1.0, 0.0, lens)


def _laid(corners: np.ndarray, kind: str, picture: tuple[int, int], focal_35mm: float | None) -> tuple[tuple[float, float], Pose]:
    """Upright or on its side: as the corners fit better."""
    size = _lies(corners, kind, picture, focal_35mm)[0]
    return size, pose_of(corners, size, picture, focal_35mm)


def _lies(corners: np.ndarray, kind: str, picture: tuple[int, int], focal_35mm: float | None) -> tuple[tuple[float, float], Pose]:
    """The same by the closed form alone."""
    wide, deep = SHEETS[kind]
    tries = [((a, b), pose_of(corners, (a, b), picture, focal_35mm, settled=False)) for a, b in ((wide, deep), (deep, wide))]
    return min(tries, key=lambda found: found[1].skew)


def _rated(corners: np.ndarray, picture: _Looked) -> float | None:
    """How like the sheet what those corners go round is; None where it cannot be it."""
    light = picture.look.light
    h, w = light.shape
    if corners.min() < -CUT_OFF * w or (corners.max(axis=0) > [w + CUT_OFF * w, h + CUT_OFF * w]).any():
        return None
    area = cv2.contourArea(corners.astype(np.float32)) / light.size
    if area < LEAST_SHARE or (edge := edge_share(corners, light)) < LEAST_EDGE or least_within(corners, light) < _LEAST_WITHIN:
        return None
    _, pose = _lies(corners + 0.5, picture.kind, (w, h), picture.focal_35mm)
    if pose.skew > 2 * MOST_SKEW or pose.tilt_deg > 65:
        return None
    whole = np.rint(corners).astype(np.int32)
    low = np.maximum(whole.min(axis=0), 0)
    seen = picture.look.palest[low[1] : max(0, whole[:, 1].max() + 1), low[0] : max(0, whole[:, 0].max() + 1)]
    within = np.zeros(seen.shape, np.uint8)
    cv2.fillConvexPoly(within, whole - low, 1)
    pale = _median_within(seen, within)
    likes = edge + 0.25 * np.sqrt(area) + _PALE_COUNTS * np.log(pale + 1)
    return float(likes - 2 * pose.skew - _UNEVEN_COUNTS * uneven_share(corners, light))


def _median_within(seen: np.ndarray, within: np.ndarray) -> float:
    """Of the bytes (h, w) where ``within`` is not 0, by how often each is there: a sheet has half a million."""
    many = np.cumsum(cv2.calcHist([seen], [0], within, [256], [0, 256]).ravel(), dtype=int)
    return float(np.searchsorted(many, [(many[-1] - 1) // 2, many[-1] // 2], side="right").mean())


def _by_parts(
    grey: np.ndarray,
    corners: np.ndarray,
    size: tuple[float, float],
    pose: Pose,
    kind: str,
    picture: tuple[int, int],
    focal_35mm: float | None,
) -> tuple[np.ndarray, tuple[float, float], Pose]:
    """The same with one edge told by a part of it, where the sheet fits far better so: the rest is a shadow's border, or a thing's."""
    best, edges = (corners, size, pose), sides_of(grey, corners, _PARTS_REACH)
    whole = [straight_line(edge) for edge in edges]
    for number, part in product(range(4), _PARTS):
        refined = meeting(corners, [*whole[:number], straight_line(edges[number], part), *whole[number + 1 :]], _PARTS_REACH)
        if refined is not None:
            fits = _laid(refined[0] + 0.5, kind, picture, focal_35mm)
            if fits[1].skew < min(_BETTER * pose.skew, best[2].skew):
                best = refined[0], *fits
    return best
