"""Parts of a mask, by their rims: what fades into its ground is a lamp or a window that a glossy table mirrors, not a thing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import cv2
import numpy as np

Window = tuple[slice, slice]

#: Half of the border of what is brighter than the ground makes at least this share of its step within so many pixels, or it is a light's
#: reflection.
_SHARP, _EDGE_PX, _FAINT_STEP, _PLAIN_STEP = 0.3, 3.0, 0.4, 0.6
#: A reflection is brighter than its ground by this, and no darker in any channel, but for a table's own colours, than this.
_BRIGHTER, _IN_EACH = 1.05, 0.7
#: What an edge of so much, log a mm, goes round is no part of a reflection, if it is so large, mm².
_STANDS_OUT, _LEAST_PIECE_MM2 = 0.12, 120.0
#: Where it goes on it may be of so much, log a mm; gaps so wide, mm, in plain edges are closed, and in those that go on fainter: what these
#: go round is kept where no more than this share of it is kept already.
_HARDLY_OUT, _CLOSED_MM, _HARDLY_KEPT = 0.045, (2.0, 4.0), 0.2
#: What is so many times as bright within so many pixels beyond a border has that border for its own.
_BEYOND, _BEYOND_PX = 1.3, 3
#: It is looked for so far about a reflection, mm.
_ROOM_MM = 4.0


def steepness(log: np.ndarray, per_mm: float) -> np.ndarray:
    """(h, w): how fast a channel of log light changes, log a mm."""
    return np.asarray(cv2.magnitude(cv2.Sobel(log, cv2.CV_32F, 1, 0), cv2.Sobel(log, cv2.CV_32F, 0, 1)) * (per_mm / 8))


def _is_sharp(step: np.ndarray, over: np.ndarray, per_mm: float) -> bool:
    """Whether half of a border makes its step in light within a few pixels. step: along it, log a millimetre; over: light inside against
    the ground's."""
    made = float(np.median(step)) * _EDGE_PX / per_mm
    return made >= _SHARP * min(max(abs(float(np.log(np.median(over)))), _FAINT_STEP), _PLAIN_STEP)


def sharp_parts(mask: np.ndarray, zone: np.ndarray, over: np.ndarray, step: np.ndarray, per_mm: float) -> np.ndarray:
    """Without the parts that fade into the rest of their zone, as a lamp does that a glossy table mirrors."""
    kept = np.zeros_like(mask)
    for where, part, is_sharp in _parts_by_rim(cleaned(mask, per_mm), zone, over, step, per_mm):
        if is_sharp:
            kept[where] |= part
    return kept


def _parts_by_rim(
    mask: np.ndarray, zone: np.ndarray, over: np.ndarray, step: np.ndarray, per_mm: float, room: int = 2
) -> Iterator[tuple[Window, np.ndarray, bool]]:
    """Every part of a mask, as ``each_part`` gives it, and whether its border, where that lies within its zone, is sharp."""
    inner = well_within(zone)
    near = cv2.dilate(step, np.ones((3, 3), np.uint8))
    for where, part in each_part(mask, room):
        rim = rim_of(part) & inner[where]
        yield where, part, bool(rim.any()) and _is_sharp(near[where][rim], over[where][part], per_mm)


def well_within(zone: np.ndarray) -> np.ndarray:
    """(h, w): a zone without what lies within three pixels of its rim."""
    return cv2.erode(zone.astype(np.uint8), np.ones((7, 7), np.uint8)).astype(bool)


def each_part(mask: np.ndarray, room: int = 2) -> Iterator[tuple[Window, np.ndarray]]:
    """Every part that hangs together: the window of the mask that holds it, with so much room about it, and which of its pixels are its."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8))
    for k in range(1, count):
        x, y, w, h = (int(v) for v in stats[k, :4])
        where = np.s_[max(0, y - room) : y + h + room, max(0, x - room) : x + w + room]
        yield where, labels[where] == k


def rim_of(part: np.ndarray) -> np.ndarray:
    return part & ~cv2.erode(part.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)  # type: ignore[no-any-return]


def but_reflections(
    mask: np.ndarray, zone: np.ndarray, over: np.ndarray, least: np.ndarray, step: np.ndarray, calm: Sequence[np.ndarray], per_mm: float
) -> np.ndarray:
    """Without the parts that are brighter than their ground and fade into it: lamps and windows that a glossy table mirrors. What stands
    out of one sharply is kept, and what is darker in any colour: a mirrored light adds to all of them. over, least: light against the
    ground's, by the mean, and in the channel that has least; calm: log light, channel by channel."""
    kept = mask.copy()
    for where, part, is_sharp in _parts_by_rim(mask, zone, over, step, per_mm, int(_ROOM_MM * per_mm) + 3):
        is_brighter = float(np.median(over[where][part])) > _BRIGHTER and float(np.median(least[where][part])) > _IN_EACH
        if is_brighter and not is_sharp:
            kept[where] &= ~part
            kept[where] |= _standing_out(part, [channel[where] for channel in calm], per_mm)
    return kept


def _standing_out(part: np.ndarray, calm: Sequence[np.ndarray], per_mm: float) -> np.ndarray:
    """Of a reflection, what a sharp edge goes round, in light or in colour: somewhere a thing is as light as the lamp beside it."""
    step = np.zeros(part.shape, np.float32)
    for channel in calm:
        np.maximum(step, steepness(channel, per_mm), out=step)
    about = cv2.dilate(part.astype(np.uint8), np.ones((int(3 * per_mm) | 1,) * 2, np.uint8)).astype(bool)
    sharp = (step > _STANDS_OUT) & about
    kept = _within(sharp, per_mm, _CLOSED_MM[0])
    count, labels = cv2.connectedComponents(((step > _HARDLY_OUT) & about).astype(np.uint8))
    goes_on = np.zeros(count, bool)  # a plain edge goes on where it is fainter
    goes_on[labels[sharp]] = True
    for where, piece in each_part(_within(goes_on[labels], per_mm, _CLOSED_MM[1])):
        if (kept[where] & piece).sum() < _HARDLY_KEPT * piece.sum():
            kept[where] |= piece
    kept &= about
    light = np.exp((calm[0] + calm[1] + calm[2]) / 3)
    for where, piece in each_part(kept, _BEYOND_PX):
        if float(np.median(_step_along(piece, light[where], step[where]))) < _STANDS_OUT:
            kept[where] &= ~piece
    return np.asarray(kept)


def _step_along(piece: np.ndarray, light: np.ndarray, step: np.ndarray) -> np.ndarray:
    """The steps along its border, log a mm, where it is its own: what is brighter just beyond, as a plate is at which a mirrored lamp ends,
    has that border for its own. All of them where most is not."""
    rim = rim_of(piece)
    reach = np.ones((2 * _BEYOND_PX + 1,) * 2, np.uint8)
    within, beyond = (cv2.dilate(np.where(side, light, 0), reach) for side in (piece, ~piece))
    own = rim & (beyond < _BEYOND * within)
    asked = own if own.sum() > rim.sum() / 2 else rim
    return np.asarray(cv2.dilate(step, np.ones((3, 3), np.uint8))[asked])


def _within(edges: np.ndarray, per_mm: float, closed_mm: float) -> np.ndarray:
    """What edges go round, gaps of so many mm in them closed."""
    size = max(3, int(closed_mm * per_mm) | 1)
    closed = cv2.morphologyEx(edges.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((size, size), np.uint8))
    outlines, _ = cv2.findContours(closed, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    kept = np.zeros(edges.shape, np.uint8)
    for outline in outlines:
        if cv2.contourArea(outline) > _LEAST_PIECE_MM2 * per_mm**2:
            cv2.drawContours(kept, [outline], -1, 1, cv2.FILLED)
    size = max(3, int(1.6 * per_mm) | 1)
    opened = cv2.morphologyEx(cv2.erode(kept, np.ones((3, 3), np.uint8)), cv2.MORPH_OPEN, np.ones((size, size), np.uint8))
    return np.asarray(opened.astype(bool))


def cleaned(mask: np.ndarray, per_mm: float) -> np.ndarray:
    """Specks off, small gaps closed, holes filled."""
    small = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (max(3, int(1.6 * per_mm) | 1),) * 2)
    wide = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (max(3, int(3.2 * per_mm) | 1),) * 2)
    opened = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, small)
    closed = cv2.morphologyEx(opened, cv2.MORPH_CLOSE, wide)
    outlines, _ = cv2.findContours(closed, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    return cv2.drawContours(np.zeros_like(closed), outlines, -1, 1, cv2.FILLED).astype(bool)
