"""What of a geometry has an area."""

from __future__ import annotations

import shapely
from shapely.geometry.base import BaseGeometry


def areas_of(geometry: BaseGeometry) -> BaseGeometry:
    """The polygons of a geometry, without lines and points where two only touch: what is cut further has one dimension.

    >>> areas_of(shapely.GeometryCollection([shapely.box(0, 0, 1, 1), shapely.Point(3, 3)])).geom_type
    'Polygon'
    """
    if geometry.geom_type in ("Polygon", "MultiPolygon"):
        return geometry
    polygons = [p for p in shapely.get_parts(geometry) if p.geom_type in ("Polygon", "MultiPolygon")]
    return polygons[0] if len(polygons) == 1 else shapely.union_all(polygons) if polygons else shapely.Polygon()
