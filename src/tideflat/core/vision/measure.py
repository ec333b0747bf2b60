"""Things' true sizes, outlines and colours out of a photograph beside a sheet of paper."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..errors import FieldError
from ..formats.photograph import Photograph
from .cut_out import PaperLight, paper_over
from .expected_error import another_way_round, error_mm, is_by_the_note
from .measured import Measured, described
from .outlined import LEAST_MM2, RAGGED, raggedness, thrown_down
from .rectified import reach_mm, through
from .sharpened import largest_of
from .sheet import SHEETS, FoundSheet, find_crossed_sheet, find_hidden_sheet, find_sheet, sheet_from_corners
from .sheet_look import SheetLook, sheet_look
from .smallest_rectangle import smallest_rectangle
from .solid_edges import SolidSeen
from .things_seen import ThingSeen, things_seen
from .without_bend import bent_by, without_bend

#: A pixel larger than this cannot tell two millimetres: a JPEG smears colours over blocks of sixteen pixels.
_COARSEST_MM = 0.7
#: How far beside the sheet a thing is looked for, mm.
BESIDE_MM = 330.0
_OTHER_HEIGHT = "something larger lies there, which is not so high: measure it with its own height"
#: So many things are told at the most.
_MOST_THINGS = 12
#: From this tilt on a thing's height shifts and stretches its outline by more than a hundredth of its height.
_TELLING_TILT_DEG = 6.0
#: A top that is seen so much larger than its foot is told within 2 % only where the focal length is known: a guess may be half of it.
_GUESSED = 1.042
#: Where the distance is known by the focal length that the camera noted, a top that is seen so much larger than its foot is not told within
#: 2 %.
_NEARLY_TOUCHING = 1.6
#: What is sure is within so much, mm, or this share.
_HELD_MM, _HELD_SHARE = 2.0, 0.02
#: A ball is as wide as high within so much, mm, or this share.
_SAME_MM, _SAME_SHARE = 1.0, 0.01
#: Corners that fit the sheet worse than this are another sheet's, or a curled one's.
ILL_SKEW = 0.03
#: Corners that fit the sheet so well, and edges so straight, pixels, are the sheet's although the table is nearly as light.
_EXACT_SKEW, _EXACT_PX = 0.015, 0.5
#: Of a sheet whose edge is seen along no more than this, corners must fit so well: a cloth's checks go round other quadrilaterals.
_HALF_SEEN, _HALF_SEEN_SKEW = 0.6, 0.005
#: Sheets by their names.
_A = {"a4": "an A4", "letter": "a Letter"}


def measure(
    photograph: Photograph,
    sheet: str = "a4",
    height_mm: float | None = None,
    corners: np.ndarray | None = None,
    traced: np.ndarray | None = None,
) -> Measured:
    """The largest of ``measure_all``; or, with ``traced`` (m, 2), the outline of a thing's rim in pixels that a person has put by hand, what
    that is of."""
    if traced is None:
        return measure_all(photograph, sheet, height_mm, corners)[0]
    found = sheet_in(photograph, sheet, corners)
    height = _height_in(found, height_mm)
    # what a person moves is the rim, the outline at the thing's height
    rim = shapely.Polygon(through(np.linalg.inv(found.pose.plane_to_pixel), np.asarray(traced, dtype=float))).buffer(0)
    seen = ThingSeen(rim, thrown_down(rim, found, height), None, (), is_found=False)
    paper = paper_over(photograph.rgb, found)
    return _measured(photograph.rgb, found, paper, seen, height_mm, by_hand=corners is not None, sheet=sheet)


def measure_all(
    photograph: Photograph, sheet: str = "a4", height_mm: float | None = None, corners: np.ndarray | None = None
) -> tuple[Measured, ...]:
    """Find the sheet, lay the picture flat, outline the things, the largest first, and correct for their height (mm, 0 for what lies flat,
    None where it is not known: they are then taken for flat, and not sure where the picture was tilted).

    corners (4, 2): the sheet's corners in pixels, where a person has put them by hand; else they are found. Raises FieldError (``sheet``,
    ``height``, ``thing``) when no sheet or no thing is found, or the height cannot be.
    """
    return measure_in(photograph, sheet_in(photograph, sheet, corners), sheet, height_mm, by_hand=corners is not None)


def measure_in(
    photograph: Photograph, found: FoundSheet, sheet: str, height_mm: float | None, *, by_hand: bool = False
) -> tuple[Measured, ...]:
    """``measure_all`` beside a sheet that is found already. Raises FieldError (``height``, ``thing``)."""
    height = _height_in(found, height_mm)
    rgb = photograph.rgb
    box = reach_mm(found.pose, (rgb.shape[1], rgb.shape[0]), found.size_mm, BESIDE_MM)
    with ThreadPoolExecutor(max_workers=1) as beside:  # one does not need the other
        of_paper = beside.submit(paper_over, rgb, found)
        every = things_seen(rgb, found, box, height)
        paper = of_paper.result()
    standing = [seen for seen in every if _stands(seen)] or every[:1]
    if standing[0] is not every[0]:
        standing = [replace(seen, doubts=(*seen.doubts, _OTHER_HEIGHT)) for seen in standing]
    return tuple(_measured(rgb, found, paper, seen, height_mm, by_hand=by_hand, sheet=sheet) for seen in standing[:_MOST_THINGS])


def sheet_in(photograph: Photograph, sheet: str, corners: np.ndarray | None = None) -> FoundSheet:
    """The sheet of that kind, found or where its corners were put. Raises FieldError (``sheet``)."""
    if sheet not in SHEETS:
        raise FieldError("sheet", "must be a4 or letter", sheet)
    if corners is not None:
        return sheet_from_corners(photograph.rgb, sheet, corners, photograph.focal_35mm)
    ready, focal = sheet_look(photograph.rgb), photograph.focal_35mm
    looked = find_sheet(ready, sheet, focal)
    if looked is not None and looked.pose.skew > ILL_SKEW:
        crossed = find_crossed_sheet(ready, sheet, focal)
        looked = crossed if crossed is not None and crossed.pose.skew < ILL_SKEW else looked
    if looked is None:
        _or_another(ready, sheet, focal)
        looked = find_hidden_sheet(ready, sheet, focal)
    if looked is None:
        raise FieldError("sheet", f"must show all four edges of a bright {sheet.upper() if sheet == 'a4' else 'Letter'} sheet; "
                         "photograph it on a darker table, or put its four corners by hand", show_got=False)  # fmt: skip
    return looked


def _or_another(ready: SheetLook, sheet: str, focal_35mm: float | None) -> None:
    """Raises FieldError (``sheet``) where another kind of sheet than was said lies there, and plainly."""
    for other in SHEETS:
        found = None if other == sheet else find_sheet(ready, other, focal_35mm)
        if found is not None and not _doubts_of_camera(found, 0.0, by_hand=False) and found.pose.skew < _EXACT_SKEW:
            raise FieldError("sheet", f"must be the one in the picture: what lies there has the sides of {_A[other]} sheet, not of {_A[sheet]} one; "
                             "choose that, and measure again", show_got=False)  # fmt: skip


def _height_in(found: FoundSheet, height_mm: float | None) -> float:
    height = height_mm or 0.0
    if not 0 <= height < 0.8 * found.pose.eye[2]:
        raise FieldError("height", f"must be from 0 to {0.8 * found.pose.eye[2]:.0f} mm, well below the lens", height)
    return height


def _stands(seen: ThingSeen) -> bool:
    return not seen.foot.is_empty and seen.foot.area >= LEAST_MM2 / 4


def _measured(
    rgb: np.ndarray, found: FoundSheet, paper: PaperLight, seen: ThingSeen, height_mm: float | None, *, by_hand: bool, sheet: str
) -> Measured:
    height = height_mm or 0.0
    if not _stands(seen):
        raise FieldError("height", "must fit the picture; so high a thing would leave no footprint there (stand a glass wholly on the sheet)", height)
    why = list(seen.doubts)
    if seen.solid is None and raggedness(seen.foot) > RAGGED and seen.is_found:
        why.append("its outline came out ragged; go nearer, or light it more evenly")
    # a ball is as wide as it is half-way up: at its top there is nothing but what lies behind it
    rim = height / 2 if seen.solid is not None and seen.solid.kind == "ball" else height
    of_camera = _doubts_of_camera(found, height, by_hand=by_hand, is_size_told=_is_ball_so_high(seen.solid, height))
    of_camera += _doubts_of_bend(found, seen.foot, rim)
    why += of_camera
    if height_mm is None and found.pose.tilt_deg > _TELLING_TILT_DEG:
        why.append(
            "its height is not known, and the picture was tilted: write its height, 0 for what lies flat, or take it from straight above"
        )
    foot, solid = without_bend(found, seen.foot, seen.solid, rim)
    error = error_mm(found, foot, solid, height)
    if seen.is_found and solid is None and not why:
        why += _turned_otherwise(np.array(largest_of(foot).exterior.coords), error)
    found_so = described(rgb, found, paper, foot, rim, sheet, tuple(why))
    shadow = tuple(through(found.pose.plane_to_pixel, np.array(part.exterior.coords)[:-1]) for part in seen.shadow)
    told = None if why else error
    return replace(found_so, shape=solid, error_mm=told, height_mm=height_mm, of_camera=tuple(of_camera), shadow=shadow)


def _doubts_of_bend(found: FoundSheet, foot: BaseGeometry, rim_mm: float) -> list[str]:
    """A curled sheet's edges bend as a wide lens bends those of a flat one: what that alone tells is not sure."""
    by = bent_by(found, foot, rim_mm)
    if by <= _HELD_SHARE:
        return []
    longer, shorter = smallest_rectangle(np.array(largest_of(foot).exterior.coords))[0]
    if by * longer <= _HELD_MM:
        return []
    return [f"the sheet's edges bend: its size hangs on whether the lens bends them, as was taken, or the sheet is curled "
            f"({longer:.0f} x {shorter:.0f} mm then); flatten it under something flat, or step back and zoom in"]  # fmt: skip


def _turned_otherwise(ring: np.ndarray, error_mm: float) -> list[str]:
    other, sides = another_way_round(ring, error_mm), smallest_rectangle(ring)[0]
    if other is None or all(abs(a - b) <= max(_HELD_MM, _HELD_SHARE * a) for a, b in zip(sides, other, strict=True)):
        return []
    turned = f"{other[0]:.0f} x {other[1]:.0f} mm"
    return [f"its sides hang on how it is turned ({turned} is hardly larger); its outline holds: take its length and width from that"]


def _is_ball_so_high(solid: SolidSeen | None, height_mm: float) -> bool:
    """Whether it is a ball that came out as wide as it is said to be high: whatever the distance, so wide it is."""
    return solid is not None and solid.kind == "ball" and abs(solid.values[2] - height_mm) <= max(_SAME_MM, _SAME_SHARE * height_mm)


def _doubts_of_camera(found: FoundSheet, height_mm: float, *, by_hand: bool, is_size_told: bool = False) -> list[str]:
    """is_size_told: whatever the camera's distance."""
    why = []
    if found.pose.skew > ILL_SKEW:
        why.append("the sheet's corners do not fit its size well; is it the sheet you chose, and flat?")
    if not by_hand and found.straight_px > 2.5:
        why.append("the sheet's edges are not straight; flatten it, or step back from it")
    exact = _EXACT_SKEW if found.edge > _HALF_SEEN else _HALF_SEEN_SKEW
    if not by_hand and found.edge < 0.75 and (found.pose.skew > exact or found.straight_px > _EXACT_PX):
        why.append("parts of the sheet's edge are hidden or hardly lighter than the table")
    if found.mm_per_pixel > _COARSEST_MM:
        why.append(f"a pixel of the picture is {found.mm_per_pixel:.1f} mm there; go nearer, or take a larger picture")
    if found.pose.tilt_deg > 50:
        why.append("the picture was taken from very low; take it from more above")
    if height_mm <= 0 or is_size_told:
        return why
    if found.pose.focal_from == "usual" and found.pose.enlargement_at(height_mm) > _GUESSED:
        why.append(
            "the camera's distance is a guess: the picture does not say its focal length; tilt the camera some ten degrees and try again"
        )
    if is_by_the_note(found) and found.pose.enlargement_at(height_mm) > _NEARLY_TOUCHING:
        why.append("it reaches so near to the camera that its distance is not known well enough; go further away, or tilt the camera some ten degrees")
    return why
