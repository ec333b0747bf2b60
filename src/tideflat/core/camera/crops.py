"""Deliverables as rectangles of the frame; copy space and the area that every one of them keeps."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from ..errors import FieldError
from ..model import Camera, Deliverable
from ..tolerances import CROP_SLACK, ROUNDING

Rect = tuple[float, float, float, float]
FULL_FRAME: Rect = (0.0, 0.0, 1.0, 1.0)


@dataclass(frozen=True, slots=True)
class Crop:
    """One deliverable's rectangle (u0, v0, u1, v1), the pixels it covers, and how far they must be enlarged. trim_box: what is left when
    all of its bleed is trimmed off; safe_box: inside which what matters has to stay."""

    name: str
    box: Rect
    pixels: tuple[int, int]
    share_of_frame: float
    enlargement: float
    copy_box: Rect | None
    trim_box: Rect = FULL_FRAME
    safe_box: Rect = FULL_FRAME


def ratio_of(deliverable: Deliverable) -> float:
    """Width over height. Raises FieldError when neither ratio nor pixels say it, or when they disagree by over half a pixel."""
    by_pixels = None if deliverable.pixels is None else deliverable.pixels[0] / deliverable.pixels[1]
    if deliverable.ratio is None:
        if by_pixels is None:
            raise FieldError("ratio", "must be given, or pixels", None)
        return by_pixels
    match = re.fullmatch(r"(\d{1,5}(?:\.\d{1,4})?):(\d{1,5}(?:\.\d{1,4})?)", deliverable.ratio)
    if match is None or float(match[1]) == 0 or float(match[2]) == 0:
        raise FieldError("ratio", "must be two numbers such as 4:5", deliverable.ratio)
    ratio = float(match[1]) / float(match[2])
    if deliverable.pixels is not None:
        wide, high = deliverable.pixels
        if min(abs(wide - high * ratio), abs(high - wide / ratio)) > 0.5 + ROUNDING:
            raise FieldError("ratio", f"must agree with pixels {wide} x {high} to half a pixel", deliverable.ratio)
    return ratio


def crop_size(ratio: float, scale: float, frame_aspect: float) -> tuple[float, float]:
    """Width and height, as fractions of the frame, of the largest rectangle of ``ratio`` times ``scale``."""
    wide, high = (1.0, frame_aspect / ratio) if ratio >= frame_aspect else (ratio / frame_aspect, 1.0)
    return wide * scale, high * scale


def room_for(deliverable: Deliverable, camera: Camera) -> Rect:
    """What of the frame a deliverable may have: all of it, or of a moving picture what the sensor reads for one."""
    wide, high = camera.moving_part if deliverable.moves is not None else (1.0, 1.0)
    return (1 - wide) / 2, (1 - high) / 2, (1 + wide) / 2, (1 + high) / 2


def extent_of(deliverable: Deliverable, camera: Camera) -> tuple[float, float]:
    """Width and height of its crop, as fractions of the frame. Raises FieldError where its ratio is none."""
    left, top, right, bottom = room_for(deliverable, camera)
    aspect = (right - left) * camera.frame_width_mm / ((bottom - top) * camera.frame_height_mm)
    wide, high = crop_size(ratio_of(deliverable), deliverable.scale, aspect)
    return wide * (right - left), high * (bottom - top)


def kept_inside(deliverable: Deliverable, camera: Camera, centre: tuple[float, float]) -> tuple[float, float]:
    """The middle nearest to ``centre`` at which its crop lies inside what it may have."""
    room, size = room_for(deliverable, camera), extent_of(deliverable, camera)
    u, v = (min(max(at, room[k] + size[k] / 2), room[k + 2] - size[k] / 2) for k, at in enumerate(centre))
    return u, v


def crop_of(deliverable: Deliverable, camera: Camera) -> Crop:
    """The crop of one deliverable; raises FieldError when it does not lie inside the frame."""
    wide, high = extent_of(deliverable, camera)
    room = room_for(deliverable, camera)
    u, v = deliverable.centre
    box = (u - wide / 2, v - high / 2, u + wide / 2, v + high / 2)
    if min(box[0] - room[0], box[1] - room[1]) < -CROP_SLACK or max(box[2] - room[2], box[3] - room[3]) > CROP_SLACK:
        ends = [round(room[0] + wide / 2, 4), round(room[2] - wide / 2, 4), round(room[1] + high / 2, 4), round(room[3] - high / 2, 4)]
        what = "the frame" if deliverable.moves is None else "what moving pictures have of the frame"
        raise FieldError(
            "centre",
            f"must keep the crop inside {what}: u from {ends[0]:g} to {ends[1]:g}, v from {ends[2]:g} to {ends[3]:g}",
            list(deliverable.centre),
        )
    left, top, right, bottom = max(box[0], room[0]), max(box[1], room[1]), min(box[2], room[2]), min(box[3], room[3])
    box = (left, top, right, bottom)
    across, down = camera.frame_pixels if deliverable.moves is None else camera.moving_pixels
    covered = ((right - left) / (room[2] - room[0]) * across, (bottom - top) / (room[3] - room[1]) * down)
    asked = deliverable.pixels
    enlargement = 1.0 if asked is None else max(asked[0] / covered[0], asked[1] / covered[1])
    return Crop(
        deliverable.name,
        box,
        (round(covered[0]), round(covered[1])),
        (right - left) * (bottom - top),
        enlargement,
        copy_box(deliverable, box),
        _inset(box, deliverable.bleed, camera),
        _inset(box, deliverable.bleed + deliverable.safe, camera),
    )


def _inset(box: Rect, share: float, camera: Camera) -> Rect:
    """The box without a rim of that share of its shorter side, equally wide on the sensor all round."""
    if share == 0:
        return box
    aspect = camera.frame_width_mm / camera.frame_height_mm
    rim = share * min((box[2] - box[0]) * aspect, box[3] - box[1])
    return box[0] + rim / aspect, box[1] + rim, box[2] - rim / aspect, box[3] - rim


def fitted(deliverables: tuple[Deliverable, ...], camera: Camera) -> tuple[Deliverable, ...]:
    """The same deliverables, each crop moved just so far that it lies inside the frame of ``camera``."""
    found = []
    for d in deliverables:
        centre = kept_inside(d, camera, d.centre)
        found.append(d if centre == d.centre else replace(d, centre=centre))
    return tuple(found)


def copy_box(deliverable: Deliverable, crop: Rect) -> Rect | None:
    """The room for words as a rectangle of the frame; None when the deliverable keeps none."""
    space = deliverable.copy_space
    if space is None:
        return None
    if space.rect is not None:
        left, top, right, bottom = space.rect
    else:
        share = space.share or 0.0
        left, top, right, bottom = {
            "top": (0.0, 0.0, 1.0, share),
            "bottom": (0.0, 1 - share, 1.0, 1.0),
            "left": (0.0, 0.0, share, 1.0),
            "right": (1 - share, 0.0, 1.0, 1.0),
        }[space.side or "top"]
    wide, high = crop[2] - crop[0], crop[3] - crop[1]
    return (crop[0] + left * wide, crop[1] + top * high, crop[0] + right * wide, crop[1] + bottom * high)


def safe_area(crops: tuple[Crop, ...]) -> Rect | None:
    """What all crops share; None without crops, or when they share nothing."""
    if not crops:
        return None
    left, top = max(c.box[0] for c in crops), max(c.box[1] for c in crops)
    right, bottom = min(c.box[2] for c in crops), min(c.box[3] for c in crops)
    return (left, top, right, bottom) if right > left and bottom > top else None


def passed_sides(box: Rect, window: Rect) -> tuple[str, ...]:
    """The sides of ``window`` that ``box`` reaches past."""
    passed = {"left": box[0] < window[0], "top": box[1] < window[1], "right": box[2] > window[2], "bottom": box[3] > window[3]}
    return tuple(side for side, is_passed in passed.items() if is_passed)
