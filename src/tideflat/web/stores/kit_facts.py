"""What the kit can do, worked out before anything is rigged: what each lens covers, from how high, and what reaches there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tideflat.core.camera.lens import closest_magnification
from tideflat.core.errors import FieldError
from tideflat.core.model import Sensor
from tideflat.core.palette.seen import lightness

from .models import CameraBody, StoreLens, StoreSupport, StoreSurface
from .queries import core_lens, core_surface, readable

#: The example all lenses are compared on: a set of this size, mm, seen from straight above, on a table of this height.
SET_MM, TABLE_MM = (600.0, 400.0), 740.0


@dataclass(frozen=True)
class LensReach:
    """above_mm: how high over the table the lens must be to see the set from straight above; reached_by: supports that bring it there."""

    above_mm: float
    reached_by: tuple[str, ...]
    magnification: float


def reach(focal_mm: float, body: CameraBody | None, supports: Sequence[StoreSupport]) -> LensReach | None:
    """None without a body: what a lens covers depends on the sensor."""
    if body is None:
        return None
    wide, high = max(body.sensor_width_mm, body.sensor_height_mm), min(body.sensor_width_mm, body.sensor_height_mm)
    m = min(wide / SET_MM[0], high / SET_MM[1])
    above = focal_mm * (1 + 1 / m)  # u = f (1 + 1 / m)
    floor = above + TABLE_MM
    return LensReach(above, tuple(s.name for s in supports if s.inverts and s.lowest_mm <= floor <= s.highest_mm), m)


def closest(lens: StoreLens) -> float | None:
    """The smallest width, mm, that fills 36 mm of sensor at the lens's nearest; None when it is not known."""
    try:
        m = closest_magnification(core_lens(lens), Sensor(36, 24, 6000, 4000))
    except FieldError:
        return None
    return 36 / m if m else None


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
