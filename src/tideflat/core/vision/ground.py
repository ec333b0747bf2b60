"""What in a flattened photograph is neither paper, nor table, nor shadow."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from .dark_things import dark_things, has_dark_things, is_sharper, sharp_share, sharpness_of_borders
from .rectified import Flat
from .reflections import but_reflections, cleaned, each_part, rim_of, steepness
from .shadow_line import NEUTRAL, ShadowLine
from .smooth_light import log_light, mean_of
from .strangeness import PLAINLY, usual_on_each
from .zone_told import Seen, told_on

#: Of what is plainly strange to its ground, what is less than this share as strange, and darker, hangs on it.
_HANGS, _DARKER = 0.55, 0.92
#: Colour is smoothed so far, mm; a step of less than this a millimetre, log, is soft.
_COLOUR_MM, _SOFT_STEP = 0.6, 0.10
#: Hardly a shadow leaves less of the light than this.
_BLACK = 0.12
#: Round a part of a mask so much is kept in sight, mm.
_ROOM_MM = 4.0
#: A thing that lies across the sheet's edge is looked at so far beside it, mm, if it has so much there, mm2; its colour on the paper is the
#: same within this, log, and it leaves less of the paper's light than this.
_ACROSS_MM, _ACROSS_MM2, _ONE_STUFF, _NO_PAPER = 12.0, 40.0, 0.25, 0.7


@dataclass(frozen=True, eq=False)
class Ground:
    """mask (h, w) bool: the thing. bare: the mask without what may be a tinted shadow, or a thing's own dark side; which, its outline has to
    tell. left (h, w): share of the light that is left against the ground, where it is ground; off (h, w): how far its colour is from the
    ground's in any light, infinite where nothing is known. least_off: what is no further from the table's colours than this, log, may be
    their noise."""

    mask: np.ndarray
    bare: np.ndarray
    left: np.ndarray
    off: np.ndarray
    least_off: float = 0.0


@dataclass(frozen=True, eq=False)
class _Told:
    """(h, w) each. sure: no ground; vague: darker than it; over, least: share of the light that is left, by the mean and in the channel
    that keeps least; strange: how far from it in light and shadow; in_any: the same, if what is strange may be a second light's shadow.
    least_off: of the table, so strange is what is told by its colour."""

    sure: np.ndarray
    vague: np.ndarray
    over: np.ndarray
    least: np.ndarray
    strange: np.ndarray
    in_any: np.ndarray
    least_off: float


def tell_apart(flat: Flat, sheet_mm: tuple[float, float]) -> Ground:
    """The thing on or beside the sheet. Paper and table are each fitted with smooth light; a place is ground where it is paper, or one of
    the table's colours, in light or in shadow, and thing where its colour lies off the line between both, where it is brighter than the
    ground in full light, or darker than any shadow. Grey things are told by their sharp edges."""
    h, w = flat.known.shape
    x = flat.left + (np.arange(w) + 0.5) / flat.per_mm
    y = flat.far - (np.arange(h) + 0.5) / flat.per_mm
    rim = 1.2 + 1.0 / flat.per_mm
    past = np.maximum((np.abs(x) - sheet_mm[0] / 2)[None], (np.abs(y) - sheet_mm[1] / 2)[:, None])  # mm outside the sheet
    known, well_in, well_out = flat.known, past < -rim, past > rim
    log = log_light(flat)
    step = steepness(mean_of(log), flat.per_mm)
    zones = {"paper": well_in & known, "table": well_out & known}
    seen = Seen(flat, log, _calm(log, flat.per_mm), step, cv2.blur(step, (3, 3)) < _SOFT_STEP, zones)
    told = _told(seen, np.zeros((h, w), bool))
    across = _across_the_edge(seen, told, past, rim)
    if (across & ~told.sure).sum() > across.sum() / 2:
        told = _told(seen, across)
    told = _or_dark_things(seen, told, across)
    sure, over = told.sure, told.over
    # a thing may lie across the sheet's edge: the strip that belongs to neither is bridged where both sides are the thing
    strip = known & ~well_in & ~well_out
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (int(2 * (2.6 * rim) * flat.per_mm) | 1,) * 2)
    bridged = cv2.morphologyEx(sure.astype(np.uint8), cv2.MORPH_CLOSE, kernel).astype(bool)
    mask = _with_greys(sure | (strip & bridged), told, step, strip, flat.per_mm)
    mask = but_reflections(mask & known, known & (well_in | well_out), over, told.least, step, seen.calm, flat.per_mm)
    return Ground(mask, _but_tinted(mask, told, zones, flat.per_mm), over, told.in_any, told.least_off)


def _told(seen: Seen, across: np.ndarray) -> _Told:
    """across (h, w) bool: no shadow, whatever its colour."""
    shape = seen.flat.known.shape
    sure, vague = np.zeros(shape, bool), np.zeros(shape, bool)
    over, least, strange = np.ones(shape, np.float32), np.ones(shape, np.float32), np.full(shape, np.inf, np.float32)
    in_any, least_off = strange.copy(), 0.0
    lines: tuple[ShadowLine, ...] = (NEUTRAL,)
    for kind, zone in seen.zones.items():
        if zone.sum() < 400:
            continue
        there = told_on(kind, seen, across, lines)
        lines, least_off, where = there.lines, there.least_off, there.where
        own = zone[where]
        for every, found in ((over, there.left), (least, there.least), (strange, there.off), (in_any, there.in_any)):
            every[where][own] = found[own]
        sure[where] |= there.sure
        vague[where] |= there.vague
    return _Told(sure, vague, over, least, strange, in_any, least_off)


def _or_dark_things(seen: Seen, told: _Told, across: np.ndarray) -> _Told:
    """The same, or what is told where what is dark on the paper is no shadow, if that has the sharper borders."""
    paper, per_mm = seen.zones["paper"], seen.flat.per_mm
    if not has_dark_things(paper, told.over, told.sure, per_mm):
        return told
    sharpness = sharpness_of_borders(seen.log, per_mm)
    own = sharp_share(told.sure, paper, sharpness, per_mm)
    if own is None or not is_sharper(1.0, own):
        return told
    dark = dark_things(paper, told.over, told.sure, sharpness, per_mm)
    if not dark.any():
        return told
    other = _told(seen, across | dark)
    return other if is_sharper(sharp_share(other.sure, paper, sharpness, per_mm), own) else told


def _across_the_edge(seen: Seen, told: _Told, past: np.ndarray, rim: float) -> np.ndarray:
    """(h, w): what on the paper goes on from a thing beside it in the thing's very colour: no shadow of paper looks like another thing on
    the table. past (h, w): mm outside the sheet; so near to its edge, ``rim``, nothing is told."""
    per_mm = seen.flat.per_mm
    found = np.zeros(past.shape, bool)
    dark = seen.zones["paper"] & (told.over < _NO_PAPER)
    if not dark.any():
        return found
    beside = cleaned(told.sure & seen.zones["table"] & (past < rim + _ACROSS_MM), per_mm)
    reach = np.ones((int(2 * (2 * rim + 1.0) * per_mm) | 1,) * 2, np.uint8)
    x, y, wide, high = cv2.boundingRect(dark.astype(np.uint8))  # all that may be found
    paper = np.s_[y : y + high, x : x + wide]
    for where, part in each_part(beside, reach.shape[0] // 2 + 1):
        if part.sum() < _ACROSS_MM2 * per_mm**2:
            continue
        alike = dark[paper].copy()
        for calm in seen.calm:
            colour = float(np.median(calm[where][part]))
            alike &= cv2.inRange(calm[paper], colour - _ONE_STUFF, colour + _ONE_STUFF) > 0
        near = np.zeros(past.shape, np.uint8)
        near[where] = cv2.dilate(part.astype(np.uint8), reach)
        count, labels = cv2.connectedComponents(alike.astype(np.uint8))
        is_touched = np.zeros(count, bool)
        is_touched[labels[alike & (near[paper] > 0)]] = True
        found[paper] |= is_touched[labels]
    return found if found.sum() > _ACROSS_MM2 * per_mm**2 else np.zeros_like(found)


def _but_tinted(mask: np.ndarray, told: _Told, zones: dict[str, np.ndarray], per_mm: float) -> np.ndarray:
    """Without what hangs on a thing, darker than the ground and far less strange to it than most of the thing: shadow in the light of
    another lamp, or in the thing's own colour. A thing across the sheet's edge is told against either by itself: most are far stranger to
    a dark table than to paper."""
    kept = mask.copy()
    for where, part in each_part(mask, int(_ROOM_MM * per_mm) + 2):
        usual = usual_on_each(told.strange[where], part, [zone[where] for zone in zones.values()])
        hangs = part & (usual > PLAINLY) & (told.in_any[where] < _HANGS * usual) & (told.over[where] < _DARKER)
        left = cleaned(part & ~hangs, per_mm)
        if hangs.any() and left.sum() > 0.4 * part.sum():
            kept[where] &= left | ~part
    return kept


def _calm(log: np.ndarray, per_mm: float) -> list[np.ndarray]:
    """Its channels, with their colour, which JPEG keeps coarsely, smoothed over a millimetre or two; their lightness as it is."""
    mean, wide = mean_of(log), max(1.0, _COLOUR_MM * per_mm)
    return [cv2.add(cv2.GaussianBlur(cv2.subtract(channel, mean), (0, 0), wide), mean) for channel in cv2.split(log)]


def _with_greys(sure: np.ndarray, told: _Told, step: np.ndarray, strip: np.ndarray, per_mm: float) -> np.ndarray:
    """Add what is only darker, where it has a sharp edge all round: a grey thing, not a shadow that fades. What is nearly black may go on
    past the sheet's edge, ``strip``: there it need not end."""
    opened = cleaned(sure, per_mm)
    dark = cleaned(told.vague | sure, per_mm)
    if not dark.any():
        return opened
    wide = np.ones((5, 5), np.uint8)
    near, added = cv2.dilate(step, wide), opened.copy()
    beside_strip = cv2.dilate(strip.astype(np.uint8), wide) > 0
    for where, part in each_part(dark):
        area = int(part.sum())
        if area < 60 * per_mm**2 or (opened[where] & part).sum() > 0.5 * area:
            continue  # mostly told by its colour: the rest is its shadow
        rim = rim_of(part)
        asked = rim & ~beside_strip[where] if float(np.median(told.over[where][part])) < _BLACK else rim
        if asked.sum() < rim.sum() / 2:
            continue
        steps = near[where][asked]
        if np.median(steps) > 0.12 and np.percentile(steps, 25) > 0.06:
            added[where] |= part
    return added
