"""What the kit can do, worked out before anything is rigged: what each lens covers, from how high, and what reaches there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tideflat.core.camera.lens import distance_for, travel_of
from tideflat.core.errors import FieldError
from tideflat.core.model import Sensor
from tideflat.core.palette.seen import lightness

from .models import StoreLens, StoreSupport, StoreSurface
from .queries import core_lens, core_surface, readable, zoom_lengths

#: The example all lenses are compared on: a set of this size, mm, seen from straight above, on a table of this height.
SET_MM, TABLE_MM = (600.0, 400.0), 740.0
#: Lengths at which a zoom is asked what it does.
_STEPS = 24


@dataclass(frozen=True)
class LensReach:
    """above_mm: how high over the table the lens must be to see the set from straight above, least and most over a zoom's range;
    reached_by: supports that bring it there at one of its lengths. nearest_mm: the smallest width that fills the frame's long side, None
    when it is not known; nearest_at: at which length of a zoom.
    """

    above_mm: tuple[float, float]
    reached_by: tuple[str, ...]
    nearest_mm: float | None
    nearest_at: float


def reach(row: StoreLens, sensor: Sensor, supports: Sequence[StoreSupport]) -> LensReach | None:
    """What the lens does on this sensor; None for one that cannot be read, or that never shows as much as the set."""
    try:
        lenses = [core_lens(row, length) for length in _lengths(row)]
        m = min(sensor.width / SET_MM[0], sensor.height / SET_MM[1])
        above = [distance_for(lens, sensor, m) for lens in lenses]
        nearest = [(sensor.width / closest, lens.focal_length) for lens in lenses if (closest := travel_of(lens, sensor).closest)]
    except FieldError:
        return None
    low, high = min(above), max(above)
    held = tuple(s.name for s in supports if s.inverts and s.lowest_mm <= high + TABLE_MM and s.highest_mm >= low + TABLE_MM)
    width, at = min(nearest, default=(None, 0.0))
    return LensReach((low, high), held, width, at)


def _lengths(row: StoreLens) -> list[float]:
    """A zoom's range in even steps, its ends among them: what is least between them is found to a hundredth."""
    short, *rest = zoom_lengths(row)
    return [short] if not rest else [float(v) for v in np.linspace(short, rest[0], _STEPS)]


def surface_gaps(surfaces: Sequence[StoreSurface]) -> str:
    """What lightness the surfaces lack, in a sentence; empty when they have all."""
    if not surfaces:
        return ""
    light = [lightness(surface.colours) for surface in readable(core_surface, surfaces)]
    missing = [
        w
        for w, low, high in (("a dark one", 0, 35), ("a middle one", 35, 65), ("a pale one", 65, 101))
        if not any(low <= v < high for v in light)
    ]
    return f"What they lack: {' and '.join(missing)}." if missing else ""
