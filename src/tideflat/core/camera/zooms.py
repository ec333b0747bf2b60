"""A lens of the kit set to a length, and the lengths at which it is tried."""

from __future__ import annotations

import math
from dataclasses import replace

from ..model import Lens, Sensor
from ..model.kit import KitLens
from .lens import at_zoom

#: Lengths at which zooms are usually set (common practice, no source).
USUAL_LENGTHS = (28, 35, 50, 70, 85, 105, 135, 200)


def lengths_of(kept: KitLens) -> tuple[float, ...]:
    """Its one length; a zoom's two ends and the usual lengths between them."""
    short, longest = kept.lens.focal_length, kept.longest
    if longest is None:
        return (short,)
    return (short, *(f for f in USUAL_LENGTHS if short < f < longest), longest)


def set_to(kept: KitLens, length_mm: float) -> Lens:
    """The lens as a scene holds it, a zoom set to a length of its range."""
    if kept.longest is None:
        return kept.lens
    return replace(at_zoom(kept.lens, length_mm, kept.longest, kept.measured_at), max_aperture=widest_aperture(kept, length_mm))


def widest_aperture(kept: KitLens, length_mm: float) -> float:
    """A zoom's widest aperture at a length: by the logarithm of the length between its two ends (common practice, no source)."""
    short, widest = kept.lens.focal_length, kept.lens.max_aperture
    if kept.longest is None or kept.widest_long is None or kept.longest <= short:
        return widest
    share = math.log(length_mm / short) / math.log(kept.longest / short)
    return round(float(widest * (kept.widest_long / widest) ** share), 2)


def covering_its_own(lens: Lens, sensor: Sensor) -> Lens:
    """A lens that is fixed on a body: it covers that sensor, and no larger one."""
    return replace(lens, image_circle=lens.image_circle or math.ceil(math.hypot(sensor.width, sensor.height) * 100) / 100)
