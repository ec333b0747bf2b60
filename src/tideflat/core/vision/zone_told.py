"""What of paper, or of the table, is something else: by the light that is left there, and by how far its colour is from the ground's."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..tolerances import LEAST_LIGHT
from .rectified import Flat
from .reflections import Window, sharp_parts
from .shadow_line import ShadowLine, of_the_other_light, shadow_lines_of
from .smooth_light import SAMPLES, fitted, grid_of, smooth_over

#: A blurred edge lies where its colour is half-way: so near, mm, is the most that it is a part of, and this share of it.
_BLURRED_MM, _HALF = 3.0, 0.45
#: What a thing tints lies so near it, mm, and has less than this share of its difference from the ground; it is darker than this.
_TINTS_MM, _TINTED, _TINTED_LEFT = 28.0, 0.4, 0.85
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
#: So many places are compared with the table's colours at once: what is held of them stays near the processor.
_AT_ONCE = 16_384
#: Round a zone so much is kept in sight, pixels: more than what is asked about a place.
_ROOM_PX = 8


@dataclass(frozen=True, eq=False)
class Seen:
    """A flattened picture as colours are asked of it: log (h, w, 3), log light; calm: the same with its colour smoothed, each channel (h,
    w) by itself; step (h, w), log a mm; is_soft (h, w): where light changes slowly; zones: where paper lies, and where the table."""

    flat: Flat
    log: np.ndarray
    calm: list[np.ndarray]
    step: np.ndarray
    is_soft: np.ndarray
    zones: dict[str, np.ndarray]


@dataclass(frozen=True, eq=False)
class ToldOn:
    """Of one zone, each (h, w) of the window ``where``, which holds it. sure: no ground; vague: darker than it; left, least: share of the
    light that is left, by the mean and in the channel that keeps least; off: how far from it in light and shadow; in_any: the same, if
    what is strange may be a second light's shadow. least_off: so strange is what is told by its colour; lines: the shadows that were told
    on paper."""

    where: Window
    sure: np.ndarray
    vague: np.ndarray
    left: np.ndarray
    least: np.ndarray
    off: np.ndarray
    in_any: np.ndarray
    least_off: float
    lines: tuple[ShadowLine, ...]


def told_on(kind: str, seen: Seen, across: np.ndarray, lines: tuple[ShadowLine, ...]) -> ToldOn:
    """kind: ``paper`` or ``table``; across (h, w) bool: no shadow, whatever its colour; lines: of paper, on which the table's are told."""
    # paper takes a tenth of the picture
    where = _window_of(seen.zones[kind]) if kind == "paper" else np.s_[0 : across.shape[0], 0 : across.shape[1]]
    per_mm, zone = seen.flat.per_mm, seen.zones[kind][where]
    x, y = grid_of(seen.flat)
    fit, _, spread_m = fitted(seen.log, (x, y), seen.zones[kind], bright=kind == "paper")
    usual = smooth_over(fit, (x[where[1]], y[where[0]]))
    places = np.flatnonzero(zone)
    logs = [(calm[where] - even).ravel()[places] for calm, even in zip(seen.calm, usual, strict=True)]
    ratio = [np.exp(log) for log in logs]
    if kind == "paper":
        lines = shadow_lines_of(ratio, (seen.is_soft & ~across)[where].ravel()[places])
        colours = np.zeros((1, 3), np.float32)
    else:
        colours = _table_colours(logs, places, zone.shape)
    off_at, left_at = _nearest(ratio, logs, colours, lines)

    def over_zone(values: np.ndarray, elsewhere: float) -> np.ndarray:
        every = np.full(zone.shape, elsewhere, np.float32)
        every.ravel()[places] = values
        return every

    off, left = over_zone(off_at, np.inf), over_zone(left_at, 1.0)
    noise = 1.48 * float(np.median(off_at))
    brighter = max(_LEAST_BRIGHTER[kind], _SPREADS * spread_m) if len(colours) == 1 else _LEAST_BRIGHTER["table"]
    least_off = max(_LEAST_CHROMA[kind], _SPREADS * noise)
    is_odd, in_any = off_at > least_off, off_at
    if others := of_the_other_light(lines):
        may_be, _ = _nearest([c[is_odd] for c in ratio], [c[is_odd] for c in logs], colours, others)
        in_any = off_at.copy()
        in_any[is_odd] = np.minimum(in_any[is_odd], may_be)
    strong = over_zone(np.where(is_odd, off_at, 0.0), 0.0)
    about = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (int(2 * _BLURRED_MM * per_mm) | 1,) * 2)
    far_about = np.ones((int(2 * _TINTS_MM * per_mm) | 1,) * 2, np.uint8)
    by_colour = (strong > 0) & (off > _HALF * cv2.dilate(strong, about))
    # A thing throws its own colour into its shadow: what is darker than the ground, and far less coloured than a thing near it, is that.
    by_colour &= (left > _TINTED_LEFT) | (off > _TINTED * cv2.dilate(cv2.erode(strong, about), far_about))
    bright = zone & (left > np.exp(brighter)) & ~by_colour
    sure = by_colour | sharp_parts(bright, zone, left, seen.step[where], per_mm) | (zone & (left < 0.5 * min(lines[0].deepest, _DARK)))
    vague = zone & (left < np.exp(-max(0.10, _SPREADS * spread_m)))
    least = over_zone(np.minimum(np.minimum(ratio[0], ratio[1]), ratio[2]), 1.0)
    return ToldOn(where, sure, vague, left, least, off, over_zone(in_any, np.inf), least_off, lines)


def _window_of(zone: np.ndarray) -> Window:
    """What holds a zone, with some room."""
    x, y, wide, high = cv2.boundingRect(zone.astype(np.uint8))
    return np.s_[max(0, y - _ROOM_PX) : y + high + _ROOM_PX, max(0, x - _ROOM_PX) : x + wide + _ROOM_PX]


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
