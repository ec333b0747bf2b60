"""What each deliverable asks of the picture: the crop that is delivered decides what is sharp, how large the hero is, and what may be seen.

Readings and findings ask here, so that they cannot differ.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from .camera.crops import FULL_FRAME, Rect
from .camera.hiding import lies_in
from .camera.lens import Focused, focused
from .camera.optics import Sharpness, balanced_mm, best_aperture, circle_of_confusion_mm, frames_of_a_stack, last_aperture, sharpness
from .errors import OpticsError
from .evaluate import Picture, share_within
from .facts.optics import THIRD_STOPS
from .facts.practice import STACK_OVERLAP
from .patches import asked_for, patch_of

#: From this leaning of focus on, only the middle of the hero has to be sharp; the rest may fall away.
FALLS_AWAY = 0.5


def confusion_in(picture: Picture, window: Rect = FULL_FRAME) -> float:
    """The circle of confusion, mm, of a window of the frame: enlarged more than the frame would be, it forgives less blur, by its share of
    the diagonal."""
    camera, view = picture.setup.camera, picture.view
    whole = circle_of_confusion_mm(camera.sensor, camera.circle_of_confusion)
    wide, high = (window[2] - window[0]) * view.frame_width, (window[3] - window[1]) * view.frame_height
    return whole * float(np.hypot(wide, high) / np.hypot(view.frame_width, view.frame_height))


def sharpness_in(picture: Picture, window: Rect = FULL_FRAME) -> Sharpness:
    """What is sharp in a window of the frame at the aperture that is set."""
    camera, view = picture.setup.camera, picture.view
    return sharpness(view.lens, camera.aperture, confusion_in(picture, window))


def hero_things(picture: Picture, hero: str) -> tuple[str, ...]:
    """The hero with what lies on it or in it, as far as it is in the picture: food on a plate is the plate's picture."""
    body = picture.bodies[hero]
    carried = set(picture.scene.carried_by(hero))
    return (hero, *(i for i, b in picture.bodies.items() if i != hero and (i in carried or lies_in(b, body))))


def hero_outline(picture: Picture, hero: str) -> BaseGeometry | None:
    """The outline of the hero with what lies on it, in fractions; None when it is not in front of the lens."""
    if hero not in picture.silhouettes:
        return None
    parts = [picture.silhouettes[i].outline for i in hero_things(picture, hero) if i in picture.silhouettes]
    return parts[0] if len(parts) == 1 else shapely.union_all(parts)


def hero_share(picture: Picture, hero: str, window: Rect = FULL_FRAME) -> float:
    """The share of a window in which the hero, with what lies on it, is seen: 0..1."""
    parts = [picture.things[i].visible for i in hero_things(picture, hero)]
    visible = parts[0] if len(parts) == 1 else shapely.union_all(parts)
    area = (window[2] - window[0]) * (window[3] - window[1])
    return min(1.0, share_within(visible, window) * float(visible.area) / area)


def needed_depth(picture: Picture, hero: str) -> tuple[float, float]:
    """Distances (mm, from the principal point) between which the hero must be sharp: all of it with what lies on it; when the rest may
    fall away, the middles of what must be seen of them, or where nothing is named its own middle."""
    if picture.scene.brief.leaning("focus") >= FALLS_AWAY:
        things = set(hero_things(picture, hero)) & picture.silhouettes.keys()
        named = [patch_of(picture.bodies[m.placement], f).centre for m, f in asked_for(picture) if m.placement in things]
        middles = np.array(named or [picture.bodies[hero].centroid])
        along = picture.view.sharp_depths(middles)
        return float(along.min()), float(along.max())
    depths = [picture.silhouettes[i].sharp_depth for i in hero_things(picture, hero) if i in picture.silhouettes]
    return min(d[0] for d in depths), max(d[1] for d in depths)


def best_aperture_for(picture: Picture, hero: str) -> float | None:
    """The f-stop of the lens at which the worse end of the hero is sharpest as it is focused now: past it diffraction takes more than depth
    gives. None when the hero is not in the picture."""
    if hero not in picture.silhouettes:
        return None
    camera, view = picture.setup.camera, picture.view
    exact = best_aperture(view.lens, *needed_depth(picture, hero))
    return min(max(exact, camera.lens.max_aperture), camera.lens.min_aperture)


def softens_from(picture: Picture, window: Rect = FULL_FRAME) -> float:
    """The f-number from which on nothing in the window is sharp, by diffraction alone."""
    return last_aperture(picture.view.lens, confusion_in(picture, window))


def marked(aperture: float) -> float:
    """The engraved f-stop nearest to an f-number."""
    return min(THIRD_STOPS, key=lambda stop: abs(np.log(stop / aperture)))


@dataclass(frozen=True, slots=True)
class Stack:
    """So many frames at one aperture, each focused at one of ``distances`` (axial, mm from the lens), the nearest first."""

    aperture: float
    distances: tuple[float, ...]


#: No stack of more frames is told: past it one stands further off, or takes another lens.
_MOST_FRAMES = 400


def focused_between(picture: Picture, near: float, far: float) -> Focused | None:
    """The lens where two distances, mm from the principal point, are equally soft; None where it focuses so near by no setting."""
    camera = picture.setup.camera
    try:
        return focused(camera.lens, camera.sensor, balanced_mm(picture.view.lens, near, far))
    except OpticsError:
        return None


def stack_for(picture: Picture, hero: str, window: Rect) -> Stack | None:
    """A stack of frames that holds the hero sharp, neighbours sharing a part of a slice; None where no aperture leaves anything sharp.

    The aperture is the one set, or the last at which diffraction leaves half of the circle of confusion, if that is wider.
    """
    camera = picture.setup.camera
    near, far = needed_depth(picture, hero)
    middle = focused_between(picture, near, far)
    if middle is None:
        return None
    allowed = softens_from(picture, window) / 2
    aperture = camera.aperture
    if aperture > allowed:
        able = [n for n in THIRD_STOPS if camera.lens.max_aperture <= n <= allowed]
        if not able:
            return None
        aperture = able[-1]
    return stack_of(middle, aperture, near, far, confusion_in(picture, window))


def stack_of(middle: Focused, aperture: float, near: float, far: float, confusion_mm: float) -> Stack | None:
    """Frames at one stop that cover a depth (mm from the principal point), each as deep as one focused in its middle, ``middle``; one where
    that holds all from its near limit on. None where nothing is sharp, or where it takes too many."""
    zone = sharpness(middle, aperture, confusion_mm)
    if zone.near is None:
        return None
    if zone.far is None:
        return Stack(aperture, (round(middle.distance, 2),))
    one = zone.far - zone.near
    if far - near > _MOST_FRAMES * one:
        return None
    frames = frames_of_a_stack(far - near, one, STACK_OVERLAP.value)
    if frames > _MOST_FRAMES:
        return None
    ends = (near + one / 2, far - one / 2) if frames > 1 else (middle.distance, middle.distance)
    return Stack(aperture, tuple(round(float(d), 2) for d in np.linspace(*ends, frames)))
