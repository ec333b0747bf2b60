"""Which lens, from where: the chart of the studio's kit for this picture, and the fit to what is in hand."""

from __future__ import annotations

from typing import Any

from tideflat.core.frame.lens_chart import lens_chart
from tideflat.web.bridge.lens_chart_drawn import chart_drawn
from tideflat.web.stores.queries import kit_of

from .station import Look, Station


def _context(look: Look) -> dict[str, Any]:
    picture, view = look.picture, look.picture.view
    rows = lens_chart(picture, kit_of(look.row.studio))
    aim_depth = picture.setup.camera.distance + view.lens.pupil_behind
    offsets = [float((body.centroid - view.position) @ view.forward) - aim_depth for body in picture.bodies.values()]
    held = look.glance.several or ((look.glance.selected,) if look.glance.selected else picture.hero_ids())
    return {
        "chart": chart_drawn(rows, picture.setup.camera.distance, offsets, look.glance.unit),
        "fit_ids": " ".join(i for i in held if i in picture.bodies),
        "fit_names": ", ".join(picture.props[i].name for i in held if i in picture.bodies),
    }


STATION = Station(
    tray="lenses",
    template="scenes/fragments/tray_lenses.html",
    context=_context,
    verbs=("fit", "take-lens"),
)
