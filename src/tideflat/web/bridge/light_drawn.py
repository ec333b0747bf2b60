"""What the things' light keeps to: their outlines in both views, each by its thing."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from shapely.affinity import scale

from tideflat.core.evaluate import Picture

from .sheets import Sheet, frame_sheet, path_data, table_sheet


def clips(picture: Picture) -> dict[str, Any]:
    """``frame_clip`` and ``table_clip``: the outline of every thing that is not of glass, by its id, as path data. Strewn pieces are
    smaller than the balls of their outline, and so is theirs; leaves are slimmer still, with the ground between: they keep their colour."""
    frame, table = frame_sheet(picture.view, "f"), table_sheet(picture.scene.surface, "t")
    solid = [i for i, prop in picture.props.items() if prop.finish != "glass" and not _is_leaves(picture, i)]
    return {
        "frame_clip": {i: _data(_of(picture, i, picture.silhouettes[i].outline), frame, 0.0005) for i in solid if i in picture.silhouettes},
        "table_clip": {i: _data(_of(picture, i, picture.bodies[i].footprint), table, 0.2) for i in solid},
    }


#: A strewn piece is so large, for the ball that it is judged as (drawing/kinds/scatter.py).
_PIECE = 0.8


def _is_leaves(picture: Picture, placement_id: str) -> bool:
    return picture.bodies[placement_id].shape.is_strewn and picture.props[placement_id].texture == "leafy"


def _of(picture: Picture, placement_id: str, outline: shapely.Geometry) -> shapely.Geometry:
    if not picture.bodies[placement_id].shape.is_strewn:
        return outline
    return shapely.union_all([scale(part, _PIECE, _PIECE) for part in shapely.get_parts(outline)])


def _data(area: shapely.Geometry, sheet: Sheet, off: float) -> str:
    parts = shapely.get_parts(shapely.simplify(area, off))
    return "".join(path_data(np.array(p.exterior.coords)[:-1], sheet) for p in parts if p.geom_type == "Polygon" and not p.is_empty)
