"""What it costs to go from one set-up to the next, in words and in the reader's unit."""

from __future__ import annotations

from tideflat.core.frame.between import Between
from tideflat.core.frame.series import SAME_MM, Series
from tideflat.core.units import format_length

#: Less than this the camera has not been touched, mm and degrees.
_LEAST_MM, _LEAST_DEG = 0.5, 0.05


def between_words(cost: Between, unit: str) -> tuple[str, ...]:
    """A line each; none where both are the same."""
    said = []
    carried = f"camera carried {format_length(cost.carried, unit)}" if cost.carried >= _LEAST_MM else ""
    turned = f"turned {cost.turned:.1f}°" if cost.turned >= _LEAST_DEG else ""
    if carried or turned:
        said.append(", ".join(filter(None, (carried, turned))) if carried else f"camera {turned}")
    if cost.is_body_changed:
        said.append("another body")
    if cost.lens is not None:
        said.append(f"lens {cost.lens[0]:g} mm becomes {cost.lens[1]:g} mm" if cost.lens[0] != cost.lens[1] else "another lens")
    if cost.aperture is not None:
        said.append(f"f/{cost.aperture[0]:g} becomes f/{cost.aperture[1]:g}")
    if cost.moved:
        said.append(f"{cost.moved} moved, the furthest {format_length(cost.furthest, unit)}")
    if cost.swapped:
        said.append("another in its place: " + ", ".join(cost.swapped))
    if cost.come or cost.gone:
        said.append(", ".join(filter(None, (f"{cost.come} more on the table" * bool(cost.come), f"{cost.gone} taken off" * bool(cost.gone)))))
    if cost.is_surface_changed:
        said.append("another surface")
    if cost.is_backdrop_changed:
        said.append("another backdrop")
    return tuple(said)


def series_words(series: Series | None, unit: str) -> str:
    """How alike a range of articles is framed; empty where there is none."""
    if series is None:
        return ""
    names = ", ".join(a.setup for a in series.articles)
    if series.is_alike:
        return f"{names}: a series. Scale, middle and margins are the same to {format_length(SAME_MM, unit)} at the article."
    parts = (("scale", series.scale_mm), ("middle", series.centre_mm), ("margins", series.margin_mm))
    off = ", ".join(f"{name} by {format_length(mm, unit)}" for name, mm in parts if mm > SAME_MM)
    return f"{names} are no series yet: they differ in {off}."
