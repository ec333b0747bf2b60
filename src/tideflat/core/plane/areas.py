"""What of a geometry has an area."""

from __future__ import annotations

from collections.abc import Iterable

import shapely
from shapely.geometry.base import BaseGeometry

from ..tolerances import ROUNDING


def areas_of(geometry: BaseGeometry) -> BaseGeometry:
    """The polygons of a geometry, without lines and points where two only touch: what is cut further has one dimension.

    >>> areas_of(shapely.GeometryCollection([shapely.box(0, 0, 1, 1), shapely.Point(3, 3)])).geom_type
    'Polygon'
    """
    if geometry.geom_type in ("Polygon", "MultiPolygon"):
        return geometry
    polygons = [p for p in shapely.get_parts(geometry) if p.geom_type in ("Polygon", "MultiPolygon")]
    return polygons[0] if len(polygons) == 1 else shapely.union_all(polygons) if polygons else shapely.Polygon()


def common(one: BaseGeometry, other: BaseGeometry) -> BaseGeometry:
    """What two areas have in common. An outline that touches itself within rounding, as one seen through a lens may, is mended first where
    it is too much for the cut as it is."""
    try:
        return areas_of(shapely.intersection(one, other))
    except shapely.errors.GEOSException:
        return areas_of(shapely.intersection(_mended(one), _mended(other)))


def together(areas: Iterable[BaseGeometry]) -> BaseGeometry:
    """The union of areas, mended likewise."""
    areas = list(areas)
    try:
        return areas_of(shapely.union_all(areas))
    except shapely.errors.GEOSException:
        return areas_of(shapely.union_all([_mended(a) for a in areas]))


def _mended(area: BaseGeometry) -> BaseGeometry:
    """Valid, and without what is thinner than rounding: widened and narrowed by it."""
    return areas_of(shapely.buffer(shapely.make_valid(area), ROUNDING).buffer(-ROUNDING))
