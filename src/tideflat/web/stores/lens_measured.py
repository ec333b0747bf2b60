"""A lens measured from a photograph of a sheet: its form's values, and what was found in words."""

from __future__ import annotations

from typing import Any

from tideflat.core.errors import FieldError
from tideflat.core.formats.photograph import Photograph
from tideflat.core.units import format_length
from tideflat.web.accounts.models import Studio
from tideflat.web.ui.fields import Fields

from .models import CameraBody, StoreLens
from .queries import core_sensor

#: A corner moved by less than this share of its way from the middle is told as straight.
_STRAIGHT = 0.001


def lens_measured(studio: Studio, row: StoreLens, fields: Fields, photograph: Photograph) -> tuple[dict[str, Any], tuple[str, ...]]:
    """(values of the lens's form, sentences). Raises FieldError."""
    from tideflat.core.vision.lens_from_sheet import measure_lens  # OpenCV: only when a photograph comes in

    body = CameraBody.objects.filter(studio=studio, pk=fields.whole("body")).first()
    if body is None:
        raise FieldError("photographed with", "must be a body of yours", show_got=False)
    sheet = fields.choice("sheet", ("a4", "letter"))
    marked = fields.number("set_to") if row.longest_mm else row.focal_length_mm
    if row.longest_mm and not row.focal_length_mm <= marked <= row.longest_mm:
        raise FieldError("the zoom was set to", f"must be from {row.focal_length_mm:g} to {row.longest_mm:g} mm", marked)
    found = measure_lens(
        photograph, core_sensor(body), fields.length("distance"), sheet, pupil_ratio=row.pupil_ratio or 1.0, marked_mm=marked
    )
    values: dict[str, Any] = {
        "measured_distance_mm": round(found.measured.sensor_distance, 1),
        "measured_width_mm": round(found.measured.width, 1),
        "measured_at_mm": marked if row.longest_mm else None,
    }
    if found.distortion:
        values["distortion"] = [round(k, 6) for k in found.distortion]
    unit = fields.unit
    width, away = format_length(found.measured.width, unit), format_length(found.measured.sensor_distance, unit)
    told = [f"From {away} the frame is {width} wide: there it is a lens of {found.focal_length:.1f} mm, where {marked:g} is written."]
    if found.distortion:
        told.append(_bent(found.bend))
    told += [f"Look again: {why}." for why in found.why]
    told.append("Keep it, and every scene that takes this lens from the stores is worked out with it.")
    return values, tuple(told)


def _bent(bend: float) -> str:
    if abs(bend) < _STRAIGHT:
        return "It draws straight lines straight."
    way = "further out, as in a pincushion" if bend > 0 else "further in, as on a barrel"
    return f"It bends straight lines: a corner of the frame lies {100 * abs(bend):.1f} % {way}."
