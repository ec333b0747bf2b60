"""Which of very many things are near a colour, and which go with a scene: worked over arrays, a row for each thing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..colour.delta_e_2000 import delta_e_2000
from ..colour.spaces import lab_of
from ..facts.practice import MERGE, OFF_PALETTE
from ..model import Scene

#: Colours further than this (CIEDE2000) are not near [practice].
NEAR = 22.0
#: On a table of fewer things no finish is rare [practice].
_FEW = 4
#: Of a thing's colours, those with less share are no ground to find it by [practice].
TELLING_SHARE = 0.12
#: Points (common practice, no source): for lying on the palette's colour, less the further from it; for belonging to none; for standing
#: clear of the surface or melting into it; for each shared tag, of at most two; for a finish the table has not; for being there already.
_ON_PALETTE, _OFF_PALETTE, _CLEAR, _MELTS, _TAG, _RARE, _THERE = (3.0, 2.0), -1.5, 1.0, -2.0, 1.5, 0.4, -2.5


def may_be_within(lab: np.ndarray, target: np.ndarray, delta_e: float) -> np.ndarray:
    """Of colours (..., 3) in CIELAB, False only where CIEDE2000 to ``target`` (3,) is surely more than ``delta_e``.

    Its lightness term divides by at most 1.75 (S_L at L* 0 or 100); over five million pairs of sRGB colours no difference of Lab was more
    than 7.3 times their CIEDE2000 (tests/core/test_choosing.py draws more).
    """
    light = np.abs(lab[..., 0] - target[0])
    return np.asarray((light <= 1.75 * delta_e) & (((lab - target) ** 2).sum(axis=-1) < (8 * delta_e) ** 2))


def distance_within(lab: np.ndarray, colour: str, delta_e: float) -> np.ndarray:
    """CIEDE2000 of colours (..., 3) to ``#rrggbb``; infinite where it is surely more than ``delta_e``, which costs nothing to know."""
    target = np.array(lab_of(colour))
    hopeful = may_be_within(lab, target, delta_e)
    distance = np.full(lab.shape[:-1], np.inf)
    distance[hopeful] = delta_e_2000(lab[hopeful], target)
    return distance


def nearest_first(lab: np.ndarray, share: np.ndarray, colour: str) -> tuple[np.ndarray, np.ndarray]:
    """(rows, distances) of the things (n, colours, 3) with a telling colour within NEAR of ``colour``, the nearest first."""
    if not len(lab):
        return np.empty(0, dtype=int), np.empty(0)
    telling = share >= TELLING_SHARE
    telling[:, 0] = True
    nearest = np.where(telling, distance_within(lab, colour, NEAR), np.inf).min(axis=1)
    order = np.argsort(nearest, kind="stable")
    order = order[nearest[order] <= NEAR]
    return order, nearest[order]


@dataclass(frozen=True)
class GoesWith:
    """order: rows, the best first. By row: palette_colour, the number of the palette's colour it lies on, -1 for none; tags shared with the
    story; whether it stands clear of the surface, brings a finish the table has not, and is on the table already."""

    order: np.ndarray
    palette_colour: np.ndarray
    tags: tuple[frozenset[str], ...]
    is_clear: np.ndarray
    is_rare: np.ndarray
    is_there: np.ndarray


def goes_with(main: np.ndarray, tags: Sequence[frozenset[str]], names: Sequence[str], finishes: np.ndarray, scene: Scene) -> GoesWith:
    """Things by how well they go with ``scene``. main (n, 3): each one's largest colour in CIELAB; tags in lower case."""
    colours = scene.palette.colours if scene.palette else ()
    to_palette = np.stack([distance_within(main, c.hex, OFF_PALETTE.value) for c in colours] or [np.full(len(main), np.inf)])
    near = to_palette.min(axis=0)
    belongs = near < OFF_PALETTE.value
    is_clear = distance_within(main, scene.surface.colours[0].hex, MERGE.value) >= MERGE.value
    theme = frozenset(t.lower() for t in scene.brief.tags)
    shared = tuple(t & theme for t in tags)
    on_table, there = {p.name for p in scene.props}, {p.finish for p in scene.props}
    is_there = np.array([n in on_table for n in names], dtype=bool)
    # With few things on the table, none is "the only matte thing".
    is_rare = ~np.isin(finishes, list(there)) if len(scene.placements) >= _FEW else np.zeros(len(main), dtype=bool)
    points = np.where(is_clear, _CLEAR, _MELTS) + np.where(is_rare, _RARE, 0.0) + np.where(is_there, _THERE, 0.0)
    points += _TAG * np.array([min(2, len(s)) for s in shared], dtype=float)
    if colours:
        best, fall = _ON_PALETTE
        points += np.where(belongs, best - fall * np.where(belongs, near, 0.0) / OFF_PALETTE.value, _OFF_PALETTE)
    which = np.where(belongs, to_palette.argmin(axis=0), -1)
    return GoesWith(np.argsort(-points, kind="stable"), which, shared, is_clear, is_rare, is_there)
