"""What the things' light keeps to: their outlines in both views, each by its thing."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from tideflat.core.evaluate import Picture

from .sheets import Sheet, frame_sheet, path_data, table_sheet


def clips(picture: Picture) -> dict[str, Any]:
    """``frame_clip`` and ``table_clip``: the outline of every thing that is not of glass, by its id, as path data. Strewn pieces are
    slimmer than the balls of their outline, between which the ground is seen: they keep their colour."""
    frame, table = frame_sheet(picture.view, "f"), table_sheet(picture.scene.surface, "t")
    solid = [i for i, prop in picture.props.items() if prop.finish != "glass" and not picture.bodies[i].shape.is_strewn]
    return {
        "frame_clip": {i: _data(picture.silhouettes[i].outline, frame, 0.0005) for i in solid if i in picture.silhouettes},
        "table_clip": {i: _data(picture.bodies[i].footprint, table, 0.2) for i in solid},
    }


def _data(area: shapely.Geometry, sheet: Sheet, off: float) -> str:
    parts = shapely.get_parts(shapely.simplify(area, off))
    return "".join(path_data(np.array(p.exterior.coords)[:-1], sheet) for p in parts if p.geom_type == "Polygon" and not p.is_empty)
