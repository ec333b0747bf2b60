"""What in a flattened photograph is neither paper, nor table, nor shadow."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..colour.transfer import decoded_array
from ..tolerances import LEAST_LIGHT
from .rectified import Flat
from .reflections import but_reflections, cleaned, each_part, rim_of, sharp_parts
from .shadow_line import NEUTRAL, ShadowLine, shadow_lines_of

#: A blurred edge lies where its colour is half-way: so near, mm, is the most that it is a part of, and this share of it.
_BLURRED_MM, _HALF = 3.0, 0.45
#: What a thing tints lies so near it, mm, and has less than this share of its difference from the ground; it is darker than this.
_TINTS_MM, _TINTED, _TINTED_LEFT = 28.0, 0.4, 0.85
#: Of a thing that is so strange to its ground (log, at this percentile of it), what is less than this share as strange, and darker, hangs
#: on it.
_PLAINLY, _USUAL, _HANGS, _DARKER = 0.35, 60, 0.55, 0.92
#: Colour is smoothed so far, mm; a step of less than this a millimetre, log, is soft.
_COLOUR_MM, _SOFT_STEP = 0.6, 0.10
#: A table has so many colours at the most; one of its own is seen, in at least so much of a cell, in this share of so many cells a side.
_COLOURS, _SEEN_IN_CELL, _SEEN_IN_CELLS, _CELLS = 6, 0.02, 0.3, 12
#: Less of the light than half of this is left by no shadow.
_DARK = 0.3
#: A little brighter than a colour of the table, log, is still that.
_OVER = 0.12
#: Least difference in log colour (about per cent of light) that is taken for another thing, on paper and on the table.
_LEAST_CHROMA = {"paper": 0.07, "table": 0.10}
_LEAST_BRIGHTER = {"paper": 0.10, "table": 0.20}
_SPREADS = 5.0
#: Clean white paper throws back so much of the light: about nine tenths (from memory).
PAPER_LIGHT = 0.88
#: Light is fitted over lengths of this unit, so that the terms are of one size.
_UNIT_MM = 150.0


@dataclass(frozen=True, eq=False)
class Ground:
    """mask (h, w) bool: the thing. bare: the mask without what may be a tinted shadow, or a thing's own dark side; which, its outline has to
    tell. left (h, w): share of the light that is left against the ground, where it is ground; off (h, w): how far its colour is from the
    ground's in any light, infinite where nothing is known."""

    mask: np.ndarray
    bare: np.ndarray
    left: np.ndarray
    off: np.ndarray


#: Round a part of a mask so much is kept in sight, mm.
_ROOM_MM = 4.0
#: Pixels that a smooth light is fitted to.
_SAMPLES = 20_000


def linear(rgb: np.ndarray) -> np.ndarray:
    """Linear light (float32) of sRGB uint8."""
    table = np.arange(256) / 255
    table = decoded_array(table)
    return np.asarray(cv2.LUT(rgb, table.astype(np.float32)))


def tell_apart(flat: Flat, sheet_mm: tuple[float, float]) -> Ground:
    """The thing on or beside the sheet. Paper and table are each fitted with smooth light; a place is ground where it is paper, or one of
    the table's colours, in light or in shadow, and thing where its colour lies off the line between both, where it is brighter than the
    ground in full light, or darker than any shadow. Grey things are told by their sharp edges."""
    log = _log_light(flat)
    h, w = log.shape[:2]
    x = flat.left + (np.arange(w) + 0.5) / flat.per_mm
    y = flat.far - (np.arange(h) + 0.5) / flat.per_mm
    grid = _grid(flat)
    rim = 1.2 + 1.0 / flat.per_mm
    past = np.maximum((np.abs(x) - sheet_mm[0] / 2)[None], (np.abs(y) - sheet_mm[1] / 2)[:, None])  # mm outside the sheet
    well_in, well_out = past < -rim, past > rim
    light = _mean(log)
    step = cv2.magnitude(cv2.Sobel(light, cv2.CV_32F, 1, 0), cv2.Sobel(light, cv2.CV_32F, 0, 1)) * (flat.per_mm / 8)
    is_soft = cv2.blur(step, (3, 3)) < _SOFT_STEP
    sure, vague = np.zeros((h, w), bool), np.zeros((h, w), bool)
    lines: tuple[ShadowLine, ...] = (NEUTRAL,)
    over, strange = np.ones((h, w), np.float32), np.full((h, w), np.inf, np.float32)
    calm = _calm(log, flat.per_mm)
    far_about = np.ones((int(2 * _TINTS_MM * flat.per_mm) | 1,) * 2, np.uint8)
    about = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (int(2 * _BLURRED_MM * flat.per_mm) | 1,) * 2)
    for kind, zone in (("paper", well_in & flat.known), ("table", well_out & flat.known)):
        if zone.sum() < 400:
            continue
        fit, _, spread_m = _fitted(log, grid, zone, bright=kind == "paper")
        logs = calm[zone] - _smooth(fit, grid)[zone]
        ratio = np.exp(logs)
        if kind == "paper":
            lines = shadow_lines_of(ratio, is_soft[zone])
            colours = np.zeros((1, 3), np.float32)
        else:
            colours = _table_colours(logs, zone)
        off, left = np.full((h, w), np.inf, np.float32), np.ones((h, w), np.float32)
        off[zone], left[zone] = found = _nearest(ratio, logs, colours, lines)
        noise = 1.48 * float(np.median(found[0]))
        brighter = max(_LEAST_BRIGHTER[kind], _SPREADS * spread_m) if len(colours) == 1 else _LEAST_BRIGHTER["table"]
        by_colour = zone & (off > max(_LEAST_CHROMA[kind], _SPREADS * noise))
        over, strange = np.where(zone, left, over), np.where(zone, off, strange)
        strong = np.where(by_colour, off, 0.0).astype(np.float32)
        by_colour &= off > _HALF * cv2.dilate(strong, about)
        # A thing throws its own colour into its shadow: what is darker than the ground, and far less coloured than a thing near it, is
        # that.
        by_colour &= (left > _TINTED_LEFT) | (off > _TINTED * cv2.dilate(cv2.erode(strong, about), far_about))
        bright = zone & (left > np.exp(brighter)) & ~by_colour
        sure |= by_colour | sharp_parts(bright, zone, over, step, flat.per_mm) | (zone & (left < 0.5 * min(lines[0].deepest, _DARK)))
        vague |= zone & (left < np.exp(-max(0.10, _SPREADS * spread_m)))
    known = flat.known
    # a thing may lie across the sheet's edge: the strip that belongs to neither is bridged where both sides are the thing
    strip = known & ~well_in & ~well_out
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (int(2 * (2.6 * rim) * flat.per_mm) | 1,) * 2)
    bridged = cv2.morphologyEx(sure.astype(np.uint8), cv2.MORPH_CLOSE, kernel).astype(bool)
    sure |= strip & bridged
    mask = _with_greys(sure, vague, step, flat.per_mm)
    mask = but_reflections(mask & known, known & (well_in | well_out), over, step, flat.per_mm)
    return Ground(mask, _but_tinted(mask, strange, over, flat.per_mm), over, strange)


def paper_light(flat: Flat) -> np.ndarray:
    """(h, w, 3): linear light that paper has over a flattened picture of the sheet."""
    log = _log_light(flat)
    grid = _grid(flat)
    if flat.known.sum() < 400:
        return np.full((*flat.known.shape, 3), 0.9, np.float32)
    return np.exp(_smooth(_fitted(log, grid, flat.known, bright=True)[0], grid, most=1.6)).astype(np.float32)  # type: ignore[no-any-return]


def smooth_light(flat: Flat, zone: np.ndarray, *, is_paper: bool = False) -> np.ndarray:
    """(6, 3): the slow change of light over a zone (h, w) bool of a flattened picture, for ``light_at``; of paper without its shadows."""
    return _fitted(_log_light(flat), _grid(flat), zone, bright=is_paper)[0]


def light_at(fit: np.ndarray, x_mm: np.ndarray, y_mm: np.ndarray) -> np.ndarray:
    """(..., 3) log of linear light of ``smooth_light`` at places of the sheet's plane."""
    x, y = x_mm[..., None] / _UNIT_MM, y_mm[..., None] / _UNIT_MM
    return np.asarray(fit[0] + x * fit[1] + y * fit[2] + x * x * fit[3] + x * y * fit[4] + y * y * fit[5])


def _log_light(flat: Flat) -> np.ndarray:
    """(h, w, 3) float32: log of linear light, a little smoothed."""
    smooth = cv2.GaussianBlur(flat.rgb, (0, 0), max(0.6, 0.5 * flat.per_mm))
    return np.asarray(cv2.LUT(smooth, np.log(np.maximum(decoded_array(np.arange(256) / 255), LEAST_LIGHT)).astype(np.float32)))


def _grid(flat: Flat) -> tuple[np.ndarray, np.ndarray]:
    h, w = flat.known.shape
    x, y = flat.left + (np.arange(w) + 0.5) / flat.per_mm, flat.far - (np.arange(h) + 0.5) / flat.per_mm
    return (x / _UNIT_MM).astype(np.float32), (y / _UNIT_MM).astype(np.float32)


def _but_tinted(mask: np.ndarray, off: np.ndarray, over: np.ndarray, per_mm: float) -> np.ndarray:
    """Without what hangs on a thing, darker than the ground and far less strange to it than most of the thing: shadow in the light of
    another lamp, or in the thing's own colour. off: how far from the ground in any light; infinite where that is not known."""
    kept = mask.copy()
    for where, part in each_part(mask, int(_ROOM_MM * per_mm) + 2):
        known = part & np.isfinite(off[where])
        if not known.any():
            continue
        usual = float(np.percentile(off[where][known], _USUAL))
        if usual <= _PLAINLY:
            continue
        hangs = known & (off[where] < _HANGS * usual) & (over[where] < _DARKER)
        left = cleaned(part & ~hangs, per_mm)
        if left.sum() > 0.4 * part.sum():
            kept[where] &= left | ~part
    return kept


def _calm(log: np.ndarray, per_mm: float) -> np.ndarray:
    """The same with its colour, which JPEG keeps coarsely, smoothed over a millimetre or two; its lightness as it is."""
    mean = _mean(log)[..., None]
    chroma = cv2.GaussianBlur(log - mean, (0, 0), max(1.0, _COLOUR_MM * per_mm))
    chroma += mean
    return np.asarray(chroma)


def _mean(log: np.ndarray) -> np.ndarray:
    """(h, w): of the three channels."""
    return np.asarray(cv2.transform(log, np.full((1, 3), 1 / 3, np.float32)))


def _table_colours(logs: np.ndarray, zone: np.ndarray) -> np.ndarray:
    """(k, 3) log ratios: colours that the table shows all over. What is found in one place only is a thing, its shadow or a highlight.
    logs (n, 3): of the zone's places."""
    places = np.flatnonzero(zone)
    every = len(places) // _SAMPLES + 1
    places, values = places[::every], logs[::every].astype(np.float32)
    cv2.setRNGSeed(1)
    stop = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_MAX_ITER, 24, 0.005)
    _, labels, middles = cv2.kmeans(values, _COLOURS, np.empty((len(values), 1), np.int32), stop, 2, cv2.KMEANS_PP_CENTERS)
    wide, high = zone.shape[1], zone.shape[0]
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


def _nearest(ratio: np.ndarray, logs: np.ndarray, colours: np.ndarray, lines: tuple[ShadowLine, ...]) -> tuple[np.ndarray, np.ndarray]:
    """((n,) how far places (n, 3) are from the ground in any light, (n,) share of the light left), by whichever of the ground's colours
    (k, 3), log ratios, fits best. logs (n, 3): of the ratios."""
    best, left = np.full(len(ratio), np.inf, np.float32), np.ones(len(ratio), np.float32)
    channels, by_channel = ([np.ascontiguousarray(a[:, k]) for k in range(3)] for a in (ratio, logs))
    for colour in colours.astype(np.float32):
        own = [c * np.exp(-by) for c, by in zip(channels, colour, strict=True)]
        own_logs = [log - by for log, by in zip(by_channel, colour, strict=True)]
        for line in lines:
            off, share = line.off_channels(own, own_logs)
            over = off + np.maximum(0.0, np.log(np.maximum(share, LEAST_LIGHT)) - _OVER)
            nearer = over < best
            best, left = np.where(nearer, over, best), np.where(nearer, share, left)
    return best, left


def _smooth(fit: np.ndarray, grid: tuple[np.ndarray, np.ndarray], most: float = np.inf) -> np.ndarray:
    """The quadratic with coefficients (6, 3) of 1, x, y, x^2, xy, y^2 over the grid, (h, w, 3) float32; no term counts for more than ``most``."""
    x, y = grid
    if np.isinf(most):  # one product of [1, y, y^2] with what goes with each
        plain = np.stack([np.ones_like(x), x, x * x], axis=-1) @ fit[[0, 1, 3]]
        of_x = np.stack([plain, fit[2] + x[:, None] * fit[4], np.tile(fit[5], (len(x), 1))])
        of_y = np.stack([np.ones_like(y), y, y * y], axis=-1)
        return np.asarray((of_y @ of_x.reshape(3, -1)).reshape(len(y), len(x), 3))
    along = np.stack([np.ones_like(x), np.clip(x, -most, most), np.minimum(x * x, most)], axis=-1) @ fit[[0, 1, 3]]
    away = np.stack([np.clip(y, -most, most), np.minimum(y * y, most)], axis=-1) @ fit[[2, 5]]
    mixed = np.clip(np.multiply.outer(y, x), -most, most)
    return np.asarray(along[None] + away[:, None] + mixed[..., None] * fit[4])


def _fitted(log: np.ndarray, grid: tuple[np.ndarray, np.ndarray], zone: np.ndarray, *, bright: bool) -> tuple[np.ndarray, float, float]:
    """Coefficients (6, 3) of smooth light over the zone, and the spread of colour and of lightness about it (robust, one sigma)."""
    chosen = np.flatnonzero(zone)
    chosen = chosen[:: len(chosen) // _SAMPLES + 1]  # before anything is copied: the zone may have a million pixels
    at_x, at_y = grid[0][chosen % zone.shape[1]], grid[1][chosen // zone.shape[1]]
    rows = np.stack([np.ones_like(at_x), at_x, at_y, at_x * at_x, at_x * at_y, at_y * at_y], axis=-1)
    values = log.reshape(-1, 3)[chosen]
    mean = values.mean(axis=1)
    usual = np.abs(mean - np.median(mean))
    kept = mean > np.percentile(mean, 45) if bright else usual < np.percentile(usual, 80)
    if not kept.any():  # all of one light
        kept[:] = True
    fit = np.zeros((rows.shape[-1], 3), np.float32)
    for round_ in range(8):
        columns = slice(0, 1) if round_ == 0 else slice(0, 3) if round_ < 3 else slice(0, 6)
        own = rows[kept][:, columns].astype(float)
        # the normal equations: a few terms over thousands of places, in units near one; a strip may leave some of them open
        solved = np.linalg.lstsq(own.T @ own, own.T @ values[kept], rcond=None)[0]
        fit[:] = 0
        fit[columns] = solved
        off = values - rows @ fit
        size = np.sqrt(np.einsum("ij,ij->i", off, off))
        limit = max(0.03, 2.8 * float(np.median(size[kept])))
        kept = size < limit
        if bright:  # shadow on paper is no part of its light
            kept &= off.mean(axis=1) > -limit / 2
        if kept.sum() < 60:
            kept = size <= np.percentile(size, 30)
    off = values[kept] - rows[kept] @ fit
    m = off.mean(axis=1)
    c = np.linalg.norm(off - m[:, None], axis=1)
    return fit, float(np.sqrt(np.mean(c**2))) * 0.8, float(np.median(np.abs(m))) * 1.48


def _with_greys(sure: np.ndarray, vague: np.ndarray, step: np.ndarray, per_mm: float) -> np.ndarray:
    """Add what is only darker, where it has a sharp edge all round: a grey thing, not a shadow that fades."""
    opened = cleaned(sure, per_mm)
    dark = cleaned(vague | sure, per_mm)
    if not dark.any():
        return opened
    near, added = cv2.dilate(step, np.ones((5, 5), np.uint8)), opened.copy()
    for where, part in each_part(dark):
        area = int(part.sum())
        if area < 60 * per_mm**2 or (opened[where] & part).sum() > 0.5 * area:
            continue  # mostly told by its colour: the rest is its shadow
        steps = near[where][rim_of(part)]
        if np.median(steps) > 0.12 and np.percentile(steps, 25) > 0.06:
            added[where] |= part
    return added
