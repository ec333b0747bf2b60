"""What in a flattened photograph is neither paper, nor table, nor shadow."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..tolerances import LEAST_LIGHT
from .dark_things import dark_things, has_dark_things, is_sharper, sharp_share, sharpness_of_borders
from .rectified import Flat
from .reflections import but_reflections, cleaned, each_part, rim_of, sharp_parts, steepness
from .shadow_line import NEUTRAL, ShadowLine, of_the_other_light, shadow_lines_of
from .smooth_light import SAMPLES, fitted, grid_of, log_light, mean_of, smooth_over
from .strangeness import PLAINLY, usual_on_each

#: A blurred edge lies where its colour is half-way: so near, mm, is the most that it is a part of, and this share of it.
_BLURRED_MM, _HALF = 3.0, 0.45
#: What a thing tints lies so near it, mm, and has less than this share of its difference from the ground; it is darker than this.
_TINTS_MM, _TINTED, _TINTED_LEFT = 28.0, 0.4, 0.85
#: Of what is plainly strange to its ground, what is less than this share as strange, and darker, hangs on it.
_HANGS, _DARKER = 0.55, 0.92
#: Colour is smoothed so far, mm; a step of less than this a millimetre, log, is soft.
_COLOUR_MM, _SOFT_STEP = 0.6, 0.10
#: A table has so many colours at the most; one of its own is seen, in at least so much of a cell, in this share of so many cells a side.
_COLOURS, _SEEN_IN_CELL, _SEEN_IN_CELLS, _CELLS = 6, 0.02, 0.3, 12
#: Less of the light than half of this is left by no shadow.
_DARK = 0.3
#: Hardly a shadow leaves less of the light than this.
_BLACK = 0.12
#: A little brighter than a colour of the table, log, is still that.
_OVER = 0.12
#: Least difference in log colour (about per cent of light) that is taken for another thing, on paper and on the table.
_LEAST_CHROMA = {"paper": 0.07, "table": 0.10}
_LEAST_BRIGHTER = {"paper": 0.10, "table": 0.20}
_SPREADS = 5.0
#: So many places are compared with the table's colours at once: what is held of them stays near the processor.
_AT_ONCE = 16_384
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
class _Seen:
    """A flattened picture as colours are asked of it: log (h, w, 3), log light; calm: the same with its colour smoothed, each channel (h,
    w) by itself; step (h, w), log a mm; is_soft (h, w): where light changes slowly; zones: where paper lies, and where the table."""

    flat: Flat
    log: np.ndarray
    calm: list[np.ndarray]
    step: np.ndarray
    is_soft: np.ndarray
    zones: dict[str, np.ndarray]


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
    seen = _Seen(flat, log, _calm(log, flat.per_mm), step, cv2.blur(step, (3, 3)) < _SOFT_STEP, zones)
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


def _told(seen: _Seen, across: np.ndarray) -> _Told:
    """across (h, w) bool: no shadow, whatever its colour."""
    flat, shape = seen.flat, seen.flat.known.shape
    sure, vague = np.zeros(shape, bool), np.zeros(shape, bool)
    over, least, strange = np.ones(shape, np.float32), np.ones(shape, np.float32), np.full(shape, np.inf, np.float32)
    in_any, least_off = strange.copy(), 0.0
    lines: tuple[ShadowLine, ...] = (NEUTRAL,)
    grid = grid_of(flat)
    far_about = np.ones((int(2 * _TINTS_MM * flat.per_mm) | 1,) * 2, np.uint8)
    about = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (int(2 * _BLURRED_MM * flat.per_mm) | 1,) * 2)
    for kind, zone in seen.zones.items():
        if zone.sum() < 400:
            continue
        fit, _, spread_m = fitted(seen.log, grid, zone, bright=kind == "paper")
        places = np.flatnonzero(zone)
        logs = [(calm - usual).ravel()[places] for calm, usual in zip(seen.calm, smooth_over(fit, grid), strict=True)]
        ratio = [np.exp(log) for log in logs]
        least.flat[places] = np.minimum(np.minimum(ratio[0], ratio[1]), ratio[2])
        if kind == "paper":
            lines = shadow_lines_of(ratio, (seen.is_soft & ~across).ravel()[places])
            colours = np.zeros((1, 3), np.float32)
        else:
            colours = _table_colours(logs, places, shape)
        off, left = np.full(shape, np.inf, np.float32), np.ones(shape, np.float32)
        off.flat[places], left.flat[places] = found = _nearest(ratio, logs, colours, lines)
        noise = 1.48 * float(np.median(found[0]))
        brighter = max(_LEAST_BRIGHTER[kind], _SPREADS * spread_m) if len(colours) == 1 else _LEAST_BRIGHTER["table"]
        least_off = max(_LEAST_CHROMA[kind], _SPREADS * noise)
        by_colour = zone & (off > least_off)
        over, strange, in_any = np.where(zone, left, over), np.where(zone, off, strange), np.where(zone, off, in_any)
        if others := of_the_other_light(lines):
            odd = by_colour.ravel()[places]
            may_be, _ = _nearest([c[odd] for c in ratio], [c[odd] for c in logs], colours, others)
            in_any.flat[places[odd]] = np.minimum(in_any.flat[places[odd]], may_be)
        strong = np.where(by_colour, off, 0.0).astype(np.float32)
        by_colour &= off > _HALF * cv2.dilate(strong, about)
        # A thing throws its own colour into its shadow: what is darker than the ground, and far less coloured than a thing near it, is
        # that.
        by_colour &= (left > _TINTED_LEFT) | (off > _TINTED * cv2.dilate(cv2.erode(strong, about), far_about))
        bright = zone & (left > np.exp(brighter)) & ~by_colour
        sure |= by_colour | sharp_parts(bright, zone, over, seen.step, flat.per_mm) | (zone & (left < 0.5 * min(lines[0].deepest, _DARK)))
        vague |= zone & (left < np.exp(-max(0.10, _SPREADS * spread_m)))
    return _Told(sure, vague, over, least, strange, in_any, least_off)


def _or_dark_things(seen: _Seen, told: _Told, across: np.ndarray) -> _Told:
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


def _across_the_edge(seen: _Seen, told: _Told, past: np.ndarray, rim: float) -> np.ndarray:
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


def _table_colours(logs: list[np.ndarray], places: np.ndarray, shape: tuple[int, ...]) -> np.ndarray:
    """(k, 3) log ratios: colours that the table shows all over. What is found in one place only is a thing, its shadow or a highlight.
    logs: three channels (n,) of the table's places, numbers of pixels of a picture of that shape."""
    every = len(places) // SAMPLES + 1
    places, values = places[::every], np.column_stack([log[::every] for log in logs])
    cv2.setRNGSeed(1)
    stop = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_MAX_ITER, 24, 0.005)
    _, labels, middles = cv2.kmeans(values, _COLOURS, np.empty((len(values), 1), np.int32), stop, 2, cv2.KMEANS_PP_CENTERS)
    high, wide = shape
    cell = (places // wide) * _CELLS // high * _CELLS + (places % wide) * _CELLS // wide
    all_in = np.bincount(cell, minlength=_CELLS**2)
    asked = all_in > 8
    kept = []
    for k in range(len(middles)):
        own = np.bincount(cell[labels[:, 0] == k], minlength=_CELLS**2)
        seen = float((own[asked] > _SEEN_IN_CELL * all_in[asked]).mean())
        if seen >= _SEEN_IN_CELLS:
            kept.append(middles[k])
    return np.array(kept) if kept else np.zeros((1, 3), np.float32)


def _nearest(
    ratio: list[np.ndarray], logs: list[np.ndarray], colours: np.ndarray, lines: tuple[ShadowLine, ...]
) -> tuple[np.ndarray, np.ndarray]:
    """((n,) how far places are from the ground in any light, (n,) share of the light left), by whichever of the ground's colours (k, 3),
    log ratios, fits best. ratio, logs: three channels (n,), and their logarithms."""
    best, left = np.full(len(ratio[0]), np.inf, np.float32), np.ones(len(ratio[0]), np.float32)
    for begin in range(0, len(best), _AT_ONCE):
        part = slice(begin, begin + _AT_ONCE)
        for colour in colours.astype(np.float32):
            own = [c[part] * np.exp(-by) for c, by in zip(ratio, colour, strict=True)]
            own_logs = [log[part] - by for log, by in zip(logs, colour, strict=True)]
            for line in lines:
                off, share = line.off_channels(own, own_logs)
                off += np.maximum(0.0, np.log(np.maximum(share, LEAST_LIGHT)) - _OVER)
                nearer = off < best[part]
                np.copyto(best[part], off, where=nearer)
                np.copyto(left[part], share, where=nearer)
    return best, left


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
