"""Where there is room on the table for one more thing."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from shapely import STRtree
from shapely.affinity import translate

from ..model import Placement, Scene, Setup
from ..shapes.shape import Shape
from ..solids.body import pose

#: Places are tried this far from each other, mm: what is put down is moved by hand afterwards.
_STEP_MM = 30.0


def clear_places(
    seen: Scene,
    setup: Setup,
    shape: Shape,
    *,
    gap_mm: float,
    rank: Callable[[float, float], float | None],
) -> Iterator[tuple[float, float]]:
    """Places (x, y), mm, where ``shape`` would lie on the surface, ``gap_mm`` clear of everything solid that is in the picture.

    ``rank``: of a place, the lower the earlier it comes; None where it is not to be. ``seen``: the scene as it stands in ``setup``.
    """
    bodies = [pose(p, seen.prop(p.prop).shape) for p in seen.placements_in(setup)]
    taken = [b.footprint for b in bodies if not b.is_soft]
    tree = STRtree(taken)
    own = pose(Placement("new", "new", 0.0, 0.0), shape).footprint
    left, front, right, back = own.bounds
    ranked = []
    for x in np.arange(0.0, seen.surface.width + 1, _STEP_MM).tolist():
        for y in np.arange(0.0, seen.surface.depth + 1, _STEP_MM).tolist():
            if x + left < 0 or x + right > seen.surface.width or y + front < 0 or y + back > seen.surface.depth:
                continue
            order = rank(x, y)
            if order is not None:
                ranked.append((order, x, y))
    for _, x, y in sorted(ranked):
        if not taken or not len(tree.query(translate(own, x, y), predicate="dwithin", distance=gap_mm)):
            yield x, y
