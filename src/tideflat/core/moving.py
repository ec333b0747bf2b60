"""What moves in a picture, and for how long it may be exposed: in pixels of what is delivered."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .camera.crops import FULL_FRAME, Crop
from .camera.exposing import crossing_mm_s, longest_handheld_s
from .delivered import confusion_in
from .evaluate import Picture
from .facts.practice import SMEAR


@dataclass(frozen=True, slots=True)
class Moving:
    """A thing that moves: speed, mm/s, through space; pixels_s: of the deliverable that asks for most, per second; longest_s: the longest
    time, or flash, in which it smears over no more than SMEAR."""

    placement: str
    speed: float
    pixels_s: float
    longest_s: float
    crop: str | None


def delivered_per_mm(picture: Picture, crop: Crop | None) -> float:
    """Delivered pixels to one mm of the sensor: those that are asked for, or the sensor's own."""
    camera = picture.setup.camera
    across = camera.frame_pixels[0] / picture.view.frame_width
    if crop is None:
        return across
    if any(d.name == crop.name and d.moves is not None for d in picture.setup.deliverables):
        across = camera.moving_pixels[0] / (camera.moving_part[0] * picture.view.frame_width)
    return across * crop.enlargement


def moving(picture: Picture, placement_id: str) -> Moving | None:
    """How a thing smears; None for one that stands still, or moves just along the line of sight, or is not in front of the lens."""
    placement = picture.scene.placement(placement_id)
    if placement.motion is None or placement.motion.speed == 0 or placement_id not in picture.silhouettes:
        return None
    motion = placement.motion
    crossing = crossing_mm_s(picture.view, picture.bodies[placement_id].centroid, motion.speed, np.array(motion.toward))
    crop = max(picture.crops, key=lambda c: c.enlargement, default=None)
    fastest = crossing * delivered_per_mm(picture, crop)
    return Moving(placement_id, motion.speed, fastest, SMEAR.value / fastest, None if crop is None else crop.name) if fastest > 0 else None


def all_moving(picture: Picture) -> tuple[Moving, ...]:
    """Everything in the picture that moves, the fastest first."""
    found = (moving(picture, p.id) for p in picture.scene.placements_in(picture.setup) if p.motion is not None)
    return tuple(sorted((m for m in found if m is not None), key=lambda m: m.longest_s))


def handheld_limit_s(picture: Picture) -> float:
    """The longest time a hand may hold the camera for, in the deliverable that asks for most."""
    boxes = [c.box for c in picture.crops] or [FULL_FRAME]
    return min(longest_handheld_s(picture.view.principal_distance, confusion_in(picture, box)) for box in boxes)
