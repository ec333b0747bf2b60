"""Where a thing comes to rest: on the table, on another thing, in a dish."""

from __future__ import annotations

from dataclasses import replace

from ..camera.hiding import lies_in
from ..model import Placement, Scene
from ..solids.body import pose


def resting_height(scene: Scene, placement: Placement, below: Placement) -> float:
    """Height (mm) of the foot of ``placement`` when it lies on ``below``: on its top, or on the floor of a dish that it fits into."""
    dish = pose(below, scene.prop(below.prop).shape)
    floor = dish.shape.floor_mm
    if floor is not None:
        inside = pose(replace(placement, z=below.z + floor), scene.prop(placement.prop).shape)
        if lies_in(inside, dish):
            return round(below.z + floor, 1)
    return round(dish.z_max, 1)
