"""Whether the outline that was found is the thing's own: its step in colour, how sharp that is, and whether it could be a shadow's
border."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import LEAST_LIGHT, ROUNDING
from .along_ring import counter_clockwise, places_along
from .rectified import Flat
from .smooth_light import linear
from .strangeness import PLAINLY, usual_on_each

#: The outline is asked every so many mm, so far to both sides of it, in so fine steps, mm.
_EVERY_MM, _ACROSS_MM, _STEP_MM = 1.5, 9.0, 0.25
#: What lies just inside and just outside, and further out, mm from the outline.
_INSIDE, _OUTSIDE, _JUST_INSIDE = (1.2, 3.2), (1.2, 3.2), (0.7, 1.5)
#: A step of less than this (log light, of any channel) is none; one in colour of less than this is a step in light alone.
_NO_STEP, _COLOURLESS = 0.05, 0.055
#: A step of which less than this share is made within a millimetre to both sides is soft.
_SOFT = 0.62
#: A step in colour of so much within a millimetre to both sides is a thing's.
_AT_ONCE = 0.25
#: So far out, mm, a thing that goes on looks as it does inside, within this (log light); along so many places.
_BEYOND, _ALIKE, _RUN = (4.0, 8.0), 0.12, 3
#: What is plainly strange to its ground is told from the ground in shadow by what is less than this share as strange, leaves so much of the
#: light, and lies so far inside, mm.
_TINTED, _SHADE_LEFT, _SHADE_INSIDE = 0.5, (0.25, 0.92), (1.6, 2.8)
#: What leaves less of the light than this is all but black; beside it a shadow is so many times as light, and no further from the ground's
#: colour, log, than lights' colours are from each other.
_BLACK, _LIGHTER, _LIGHTS = 0.12, 2.2, 0.6
HARDLY_DIFFERS = "along part of its edge it hardly differs from what it lies on; lay it on another ground"
SOFT_EDGE = "part of its edge is soft, as a shadow's border is; light it from more above, or move the outline by hand"
ONLY_DARKER = "part of its outline is only darker than the ground, as a shadow is; light it from more above, or move the outline by hand"
SHADOW_TAKEN = "a shadow may be taken for a part of it; light it from more above, or move the outline by hand"
CLEAR = "its edges are faint, as a glass's are; take a second picture of it from another place, or fill it with something coloured"
FOLLOWS_SHEET = "part of its outline is the sheet's own edge; lay it wholly on the sheet or beside it, or put its outline by hand"
#: What a shadow makes doubtful lies on the table as it does, alike from everywhere.
OF_SHADOW = (SOFT_EDGE, ONLY_DARKER, SHADOW_TAKEN)
GOES_ON = "it goes on past what was taken; put its outline by hand, or lay it wholly on the sheet or beside it"
#: Parts of the outline (share of its length) from which on each is a reason to look again [practice].
_MOST_WITHOUT, _MOST_SOFT, _MOST_SHADOWY = 0.04, 0.03, 0.02


@dataclass(frozen=True, eq=False, slots=True)
class EdgeSeen:
    """Shares of the outline's length: without_step, soft, and shadowy, where what is inside is only darker than what is outside although
    the thing is told by its colour elsewhere. runs_on (n,): in the middle of places where it looks outside, and further out, as it does
    inside. places (n, 2), mm, every so often along it; is_own (n,): none of the three."""

    without_step: float
    soft: float
    shadowy: float
    runs_on: np.ndarray
    places: np.ndarray
    is_own: np.ndarray

    @property
    def doubts(self) -> list[str]:
        """Reasons to look again, in words; none when the edge is its own all round."""
        why = []
        if self.without_step > _MOST_WITHOUT:
            why.append(HARDLY_DIFFERS)
        elif self.runs_on.any():
            why.append(GOES_ON)
        if self.soft > _MOST_SOFT:
            why.append(SOFT_EDGE)
        if self.shadowy > _MOST_SHADOWY:
            why.append(ONLY_DARKER)
        return why


@dataclass(frozen=True, eq=False, slots=True)
class Shade:
    """What tells a shadow beside a thing, whatever colour the light has in it. left, off (h, w): of ``Ground``, over ``flat``; usual (h,
    w): how strange most of the thing is to the ground that lies there; own: share of the light that most of it leaves."""

    flat: Flat
    left: np.ndarray
    off: np.ndarray
    usual: np.ndarray
    own: float = 1.0

    @classmethod
    def about(cls, thing: shapely.Polygon, flat: Flat, left: np.ndarray, off: np.ndarray, sheet: BaseGeometry) -> Shade:
        """sheet: where the ground is paper."""
        paper, inside = flat.inside(sheet), flat.inside(thing)
        own = float(np.median(left[inside])) if inside.any() else 1.0
        return cls(flat, left, off, usual_on_each(off, inside, (paper, ~paper)), own)

    def lies_at(self, places: np.ndarray, outward: np.ndarray, outline: shapely.Polygon) -> np.ndarray:
        """(n,) of places along an outline: whether what is just inside is the ground in shadow, and the thing plainly something else."""
        shaded = np.ones(len(places), bool)
        h, w = self.left.shape
        for depth in _SHADE_INSIDE:
            there = places - depth * outward
            at = np.rint(self.flat.pixels(there) - 0.5).astype(int)
            column, row = np.clip(at[:, 0], 0, w - 1), np.clip(at[:, 1], 0, h - 1)
            left, off, usual = self.left[row, column], self.off[row, column], self.usual[row, column]
            is_shade = (usual >= PLAINLY) & (off < _TINTED * usual) & (left > _SHADE_LEFT[0])
            if self.own < _BLACK:  # which is hardly strange to anything: what is plainly lighter, of a light's colour, is no more of it
                is_shade |= (left > _LIGHTER * self.own) & (off < _LIGHTS)
            shaded &= is_shade & (left < _SHADE_LEFT[1])
            shaded &= shapely.contains_xy(outline, there)
        return shaded


def edge_seen(outline: shapely.Polygon, flat: Flat, shade: Shade | None = None) -> EdgeSeen:
    """What the flattened photograph shows across an outline on its plane, mm."""
    ring, length = counter_clockwise(outline), outline.exterior.length
    count = max(24, int(length / _EVERY_MM))
    at = np.linspace(0, 1, count, endpoint=False)
    places, ahead, behind = (places_along(ring, (at + by / length) % 1) for by in (0.0, 2.0, -2.0))
    along = (ahead - behind) / np.maximum(np.linalg.norm(ahead - behind, axis=1, keepdims=True), ROUNDING)
    outward = np.column_stack([along[:, 1], -along[:, 0]])
    steps = np.arange(-_ACROSS_MM, _ACROSS_MM + _STEP_MM / 2, _STEP_MM)
    light = _profiles(flat, places, outward, steps)
    inside, outside = _mean(light, steps, -_INSIDE[1], -_INSIDE[0]), _mean(light, steps, *_OUTSIDE)
    step = inside - outside
    size = np.abs(step).max(axis=1)
    chroma = np.linalg.norm(step - step.mean(axis=1, keepdims=True), axis=1)
    sliver = _mean(light, steps, -_JUST_INSIDE[1], -_JUST_INSIDE[0]) - outside
    narrow = np.linalg.norm(sliver - sliver.mean(axis=1, keepdims=True), axis=1)
    near = _mean(light, steps, -1.25, -0.75) - _mean(light, steps, 0.75, 1.25)
    made = (near * step).sum(axis=1) / np.maximum((step * step).sum(axis=1), ROUNDING)
    has_step = size >= _NO_STEP
    darker = step.mean(axis=1) < 0
    is_coloured = float(np.median(chroma[has_step])) > 2 * _COLOURLESS if has_step.any() else False
    is_only_darker = (darker & (chroma < _COLOURLESS)) | ((sliver.mean(axis=1) < 0) & (narrow < _COLOURLESS))
    shadowy = has_step & is_only_darker if is_coloured else np.zeros(count, bool)
    if shade is not None:
        shadowy |= has_step & darker & shade.lies_at(places, outward, outline)
    # what changes its colour at once is no shadow's border, whatever its light does further out
    at_once = np.linalg.norm(near - near.mean(axis=1, keepdims=True), axis=1) > _AT_ONCE
    soft = has_step & (made < _SOFT) & ~at_once
    beyond = _mean(light, steps, *_BEYOND) - inside
    alike = ~has_step & (np.abs(beyond).max(axis=1) < _ALIKE)
    runs_on = np.all([np.roll(alike, k - _RUN // 2) for k in range(_RUN)], axis=0)
    return EdgeSeen(float((~has_step).mean()), float(soft.mean()), float(shadowy.mean()), runs_on, places, has_step & ~soft & ~shadowy)


def _profiles(flat: Flat, places: np.ndarray, outward: np.ndarray, steps: np.ndarray) -> np.ndarray:
    """(n, k, 3) log of linear light across the outline, smoothed along it against the picture's noise."""
    grid = places[:, None, :] + outward[:, None, :] * steps[None, :, None]
    at = flat.pixels(grid.reshape(-1, 2)).reshape(*grid.shape[:2], 2).astype(np.float32) - 0.5
    seen = cv2.remap(linear(flat.rgb), at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    around = np.concatenate([seen[-2:], seen, seen[:2]])
    smooth = sum(around[k : k + len(seen)] for k in range(5)) / 5
    return np.asarray(np.log(np.maximum(smooth, LEAST_LIGHT)))


def _mean(light: np.ndarray, steps: np.ndarray, low: float, high: float) -> np.ndarray:
    chosen = (steps >= low - ROUNDING) & (steps <= high + ROUNDING)
    return np.asarray(light[:, chosen].mean(axis=1))
