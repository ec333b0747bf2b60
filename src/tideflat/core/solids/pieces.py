"""A posed solid cut into convex pieces, each a body of its own: for what hides what in a notch, and how deep two things are in each
other."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from shapely.geometry import Polygon

from ..plane.convex_parts import convex_parts, is_convex
from ..remember import remembered
from ..shapes.shape import Shape
from ..shapes.solid import NO_CIRCLES, NO_INDEX, NO_SPHERES, Solid, prism
from .body import Body, solid_of
from .mesh import level_outline


@remembered(2)
def convex_bodies(body: Body) -> tuple[Body, ...]:
    """The body itself, or, for a prism over an outline that is not convex and for what is folded, its pieces, where they are."""
    pieces = _pieces_of(body.shape) if body.local.outline is not None or (body.shape.is_folded and not body.local.is_piece) else ()
    if len(pieces) < 2:
        return (body,)
    return tuple(_posed(body, piece) for piece in pieces)


@remembered(2)
def _pieces_of(shape: Shape) -> tuple[Solid, ...]:
    solid = solid_of(shape)
    if shape.is_folded:
        return tuple(
            Solid((part,), NO_CIRCLES, NO_INDEX, NO_SPHERES, None, solid.height, part.mean(axis=0), is_piece=True) for part in solid.parts
        )
    if solid.outline is None:
        return ()
    outline = Polygon(solid.outline)
    return () if is_convex(outline) else tuple(replace(prism(part, solid.height), is_piece=True) for part in convex_parts(outline))


def _posed(body: Body, piece: Solid) -> Body:
    points = piece.parts[0] @ body.turned.T + body.base
    centre = piece.centroid @ body.turned.T + body.base
    return replace(
        body,
        local=piece,
        parts=(points,),
        centroid=centre,
        z_min=float(points[:, 2].min()),
        z_max=float(points[:, 2].max()),
    )


def level_outlines(body: Body, z_mm: float) -> tuple[np.ndarray, ...]:
    """(n, 2) each: convex outlines that together are the level section of the solid at ``z_mm``; none where it does not reach."""
    found = (level_outline(piece, z_mm) for piece in convex_bodies(body))
    return tuple(outline for outline in found if outline is not None)
