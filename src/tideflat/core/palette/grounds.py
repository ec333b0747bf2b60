"""Which parts of the frame show the surface, the backdrop, and the room behind both, were there no things."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..camera.view import View
from ..model import Backdrop, Colour, Room, Scene, Surface
from ..plane.clip import clip_half_plane
from ..remember import remembered
from ..tolerances import NEAR_DEPTH_MM

#: Corners further outside the frame than this are taken to be so far, in fractions of it.
_OUTSIDE = 1e4
_FRAME = shapely.box(0, 0, 1, 1)
#: Wall colour where the scene has no room.
_WALL = "#efeeea"


@dataclass(frozen=True, eq=False, slots=True)
class Ground:
    """name: ``surface``, ``backdrop`` or ``room``; region in fractions of the frame; colours with shares."""

    name: str
    region: BaseGeometry
    colours: tuple[Colour, ...]


def grounds(scene: Scene, view: View) -> tuple[Ground, ...]:
    """Surface, backdrop and room, without overlap, together the whole frame."""
    return _grounds(scene.surface, scene.backdrop, scene.room, view)


@remembered(3)
def _grounds(surface: Surface, backdrop: Backdrop | None, room: Room | None, view: View) -> tuple[Ground, ...]:
    w, d = surface.width, surface.depth
    wall = (Colour(room.walls if room is not None else _WALL, 1.0),)
    if backdrop is None:
        top = _seen(np.array([[0, 0, 0], [w, 0, 0], [w, d, 0], [0, d, 0]], dtype=float), view)
        return Ground("surface", top, surface.colours), Ground("room", _FRAME.difference(top), wall)
    near = min(max(backdrop.y, 0.0), d)
    left, right = backdrop.x - backdrop.width / 2, backdrop.x + backdrop.width / 2
    sheet = np.array(
        [[left, backdrop.y, 0], [right, backdrop.y, 0], [right, backdrop.y, backdrop.height], [left, backdrop.y, backdrop.height]]
    )
    front = _seen(np.array([[0, 0, 0], [w, 0, 0], [w, near, 0], [0, near, 0]], dtype=float), view)
    behind = _seen(np.array([[0, near, 0], [w, near, 0], [w, d, 0], [0, d, 0]], dtype=float), view) if near < d else shapely.Polygon()
    stands_before_lens = float(view.position[1]) < backdrop.y
    upright = _seen(sheet, view) if stands_before_lens else shapely.Polygon()
    back = upright.difference(front)
    top = front.union(behind.difference(back))
    return (
        Ground("surface", top, surface.colours),
        Ground("backdrop", back, (Colour(backdrop.colour, 1.0),)),
        Ground("room", _FRAME.difference(shapely.union_all([top, back])), wall),
    )


def _seen(corners: np.ndarray, view: View) -> BaseGeometry:
    """A flat polygon (n, 3), mm, as it fills the frame; empty when it is behind the lens or on edge."""
    cut = clip_half_plane(corners, view.forward, float(-view.forward @ view.position) - 20 * NEAR_DEPTH_MM)
    if len(cut) < 3:
        return shapely.Polygon()
    outline = shapely.Polygon(np.clip(view.straight(cut)[:, :2], -_OUTSIDE, _OUTSIDE))
    return shapely.intersection(view.bent_outline(outline if outline.is_valid else outline.buffer(0)), _FRAME)
