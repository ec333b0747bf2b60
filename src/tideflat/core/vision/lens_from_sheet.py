"""What a lens covers at a distance, and how it bends straight lines, out of one photograph of a sheet of paper.

The sheet's edges are straight and its sides known; the tape tells how far the sensor was from it (core/vision/sheet_camera.py). The edges
are looked for where the lens found so far would put them, so that a strongly bent edge is followed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from ..camera.distortion import distortion_of
from ..errors import FieldError
from ..formats.photograph import Photograph
from ..model import MeasuredField, Sensor
from .edge_points import points_on_edges
from .sheet import SHEETS, FoundSheet, find_sheet, sheet_from_corners
from .sheet_camera import LensFit, SheetFrame, first_guess, pixels_of, solved

#: A picture whose sides are more than this off the sensor's is not the whole frame.
_MOST_CUT = 0.02
#: Points looked for along each edge; and how far, as a share of the edge's length, first and once the lens is known.
_POINTS, _WIDE, _NEAR = 120, 0.02, 0.003
#: The tape is held square to the sheet: leaning by more than this, degrees, the distance is another one.
_MOST_TILT_DEG = 8.0
#: A sheet shorter than this share of the frame's long side tells nothing of how lines bend; and what is left of its edges' wave.
_LEAST_SPAN, _MOST_WAVE = 0.55, 4e-4
#: Tape distances that are taken, mm.
NEAREST_MM, FURTHEST_MM = 50.0, 20_000.0
#: A focal length this far off the marked one is a wrong distance, a cut picture or another body.
_SHORTEST, _LONGEST = 0.4, 1.15


@dataclass(frozen=True)
class MeasuredLens:
    """measured: what the frame's long side covers at that distance, as the document keeps it; focal_length: what that makes it, mm.
    distortion: OpenCV's five terms, () where nothing is told of them. bend: by how much of the half diagonal a corner of the frame is
    moved, outward positive. error_mm: of the width, two standard deviations. why: reasons to look again; none when sure."""

    measured: MeasuredField
    focal_length: float
    distortion: tuple[float, ...]
    bend: float
    tilt_deg: float
    error_mm: float
    why: tuple[str, ...]

    @property
    def is_sure(self) -> bool:
        return not self.why

    def as_value(self) -> dict[str, Any]:
        """What ``tideflat measure-lens`` prints; ``measured`` and ``distortion`` by the scene document's keys."""
        return {
            "measured": {"sensor_distance": round(self.measured.sensor_distance, 2), "width": round(self.measured.width, 2)},
            "focal_length": round(self.focal_length, 3),
            "distortion": [round(k, 6) for k in self.distortion],
            "bend": round(self.bend, 5),
            "tilt": round(self.tilt_deg, 2),
            "error_mm": round(self.error_mm, 2),
            "sure": self.is_sure,
            "why": "; ".join(self.why) or None,
        }


def measure_lens(
    photograph: Photograph,
    sensor: Sensor,
    distance_mm: float,
    sheet: str = "a4",
    *,
    pupil_ratio: float = 1.0,
    marked_mm: float | None = None,
    corners: np.ndarray | None = None,
) -> MeasuredLens:
    """The lens on ``sensor``, focused on a sheet ``distance_mm`` from the sensor plane, square to it, that fills most of the frame.

    The whole frame is needed: what is cut off is taken for another lens. marked_mm: the focal length written on it, to tell a slip by.
    corners (4, 2): pixels, where a person has put them. Raises FieldError (``sheet``, ``distance``, ``photograph``).
    """
    if sheet not in SHEETS:
        raise FieldError("sheet", "must be a4 or letter", sheet)
    if not NEAREST_MM <= distance_mm <= FURTHEST_MM:
        raise FieldError("distance", f"must be from {NEAREST_MM:g} to {FURTHEST_MM:g} mm, from the sensor to the sheet", distance_mm)
    rgb = photograph.rgb
    high, wide = rgb.shape[:2]
    cut = max(wide, high) / min(wide, high) / (sensor.width / sensor.height) - 1
    if abs(cut) > _MOST_CUT:
        got = f"{wide} x {high}"
        raise FieldError("photograph", f"must be the whole frame, {sensor.width:g} to {sensor.height:g} as this body's sensor is", got)
    found = find_sheet(rgb, sheet, photograph.focal_35mm) if corners is None else sheet_from_corners(rgb, sheet, corners)
    if found is None:
        rule = "must show all four edges of a white sheet that fills most of the frame, on something darker"
        raise FieldError("sheet", rule, show_got=False)
    half = found.size_mm[0] / 2, found.size_mm[1] / 2
    frame = SheetFrame(np.array([wide / 2, high / 2]), sensor.width / max(wide, high), distance_mm, pupil_ratio, half)
    fit = _fitted(frame, cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), found)
    m = float(np.exp(fit.values[5]))
    width = sensor.width / m
    focal = distance_mm * m / (1 + m) ** 2
    span = max(np.ptp(found.corners, axis=0) / [wide, high])
    terms = (*fit.values[6:8], 0.0, 0.0, 0.0) if span >= _LEAST_SPAN else ()
    tilt = float(np.degrees(np.linalg.norm(fit.values[:2])))
    return MeasuredLens(
        MeasuredField(distance_mm, width),
        focal,
        tuple(float(k) for k in terms),
        _bend(frame, terms, m),
        tilt,
        2 * width * fit.spread[5],
        tuple(_doubts(fit, frame, found, focal, marked_mm, tilt, span)),
    )


def _fitted(frame: SheetFrame, grey: np.ndarray, found: FoundSheet) -> LensFit:
    """First along straight edges, then twice along the edges as the lens found so far bends them."""
    length = float(np.ptp(found.corners, axis=0).max())
    bases, inward = _straight_edges(found.corners)
    start = first_guess(frame, found)
    fit = None
    for reach in (_WIDE * length, max(4.0, _NEAR * length), max(4.0, _NEAR * length)):
        seen = points_on_edges(grey, bases, inward, reach)
        if seen is None:
            break
        points, sides = seen
        fit = solved(frame, points, sides, start if fit is None else fit.values)
        bases, inward = _bent_edges(frame, fit.values, found)
    if fit is None:
        rule = "must show its edges plainly; light it evenly, on something darker"
        raise FieldError("sheet", rule, show_got=False)
    return fit


def _straight_edges(corners: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Points (4, n, 2) along straight edges in whole-pixel places, and (4, n, 2) unit ways inward."""
    shares = np.linspace(0.02, 0.98, _POINTS)
    following = np.roll(corners, -1, axis=0)
    bases = corners[:, None] + (following - corners)[:, None] * shares[None, :, None] - 0.5
    along = (following - corners) / np.linalg.norm(following - corners, axis=1, keepdims=True)
    inward = np.column_stack([-along[:, 1], along[:, 0]])
    inward *= np.sign((inward * (corners.mean(axis=0) - corners)).sum(axis=1, keepdims=True))
    return bases, np.repeat(inward[:, None], _POINTS, axis=1)


def _bent_edges(frame: SheetFrame, values: np.ndarray, found: FoundSheet) -> tuple[np.ndarray, np.ndarray]:
    """The same along the edges as the fitted lens draws them."""
    w, h = frame.half_mm
    corners = np.array([[-w, h], [w, h], [w, -h], [-w, -h]])
    shares = np.linspace(0.02, 0.98, _POINTS)
    following = np.roll(corners, -1, axis=0)
    edges = corners[:, None] + (following - corners)[:, None] * shares[None, :, None]
    inside = edges * (1 - 1 / max(w, h))
    bases, in_points = (pixels_of(frame, values, p) for p in (edges, inside))
    way = in_points - bases
    return bases - 0.5, way / np.linalg.norm(way, axis=-1, keepdims=True)


def _bend(frame: SheetFrame, terms: tuple[float, ...], m: float) -> float:
    """By which share of its way from the middle a corner of the frame is moved."""
    bends = distortion_of(terms) if terms else None
    if bends is None:
        return 0.0
    corner = frame.middle / (frame.pupil_distance(m) * m / frame.pitch_mm)
    return float(np.linalg.norm(bends.bent(corner)) / np.linalg.norm(corner)) - 1


def _doubts(fit: LensFit, frame: SheetFrame, found: FoundSheet, focal: float, marked: float | None, tilt: float, span: float) -> list[str]:
    why = []
    if span < _LEAST_SPAN:
        why.append(f"the sheet takes {100 * span:.0f} % of the frame: go nearer until it nearly fills it, and it shows how lines bend")
    if tilt > _MOST_TILT_DEG:
        why.append(
            f"the camera leaned {tilt:.0f} degrees from square: the distance by tape is another one then; set it square to the sheet"
        )
    if fit.wave > max(0.6, _MOST_WAVE * 2 * float(frame.middle.max())):
        why.append("the sheet's edges are wavy; lay it flat under something flat, or light it more evenly")
    if found.edge < 0.75:
        why.append("parts of the sheet's edge are hidden, or hardly lighter than what it lies on")
    if marked is not None and not _SHORTEST * marked <= focal <= _LONGEST * marked:
        why.append(
            f"that makes it a lens of {focal:.1f} mm where {marked:g} is written: is it the distance from the sensor, and this body?"
        )
    return why
