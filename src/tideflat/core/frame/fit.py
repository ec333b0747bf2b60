"""The nearest camera that frames a group of things at a share of a crop.

Its angle, roll and lens are kept; found are its place along three ways: the middle of the group's outlines comes to the middle of the crop
less its room for words, and fills the share of that room's tighter side. The aim stays at the group's depth.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..camera.coverage import ceiling_clearance_mm
from ..camera.crops import FULL_FRAME, Rect, copy_box
from ..camera.framing import carried
from ..camera.lens import focus_reach_mm
from ..camera.silhouette import Silhouette, silhouettes
from ..camera.stance import shortfall_over_surface_mm
from ..camera.view import view_of
from ..errors import FieldError
from ..evaluate import Picture
from ..facts.practice import CEILING_CLEARANCE
from ..model import Camera
from ..solids.body import Body
from ..tolerances import FITTED, REACH_MM

#: Corrections of the camera's place; each leaves a tenth or less of what was wrong.
_CORRECTIONS = 60
#: How much nearer or further one correction may bring it: past that perspective misleads.
_LEAST_STEP, _MOST_STEP = 0.5, 2.0


@dataclass(frozen=True, slots=True)
class Fitted:
    """camera: the one found, or the nearest to it that can be; share: of the tighter side that the group fills in it. reason: why it is not
    as was asked, in one sentence; None where it is. code: the same as a finding's. short_mm: by how much the camera asked for would be in
    the ceiling; shorter: the longest focal length that frames it under it; floor_helps: whether it fits with the surface on the floor."""

    camera: Camera
    share: float
    code: str | None = None
    reason: str | None = None
    short_mm: float | None = None
    shorter: float | None = None
    floor_helps: bool = False


def room_in(picture: Picture, crop: str | None) -> Rect:
    """What of a crop, or of the frame, a group may fill: all but its room for words. Raises FieldError for a crop there is not."""
    if crop is None:
        return FULL_FRAME
    found = next((c for c in picture.crops if c.name == crop), None)
    if found is None:
        names = ", ".join(c.name for c in picture.crops) or "none are asked for"
        raise FieldError("crop", f"must be one of the set-up's deliverables: {names}", crop)
    deliverable = next(d for d in picture.setup.deliverables if d.name == crop)
    words = copy_box(deliverable, found.box)
    return found.box if words is None else _largest_beside(found.box, words)


def _largest_beside(box: Rect, words: Rect) -> Rect:
    """The largest rectangle of ``box`` on one side of ``words``."""
    left, top, right, bottom = box
    sides = ((left, top, words[0], bottom), (words[2], top, right, bottom), (left, top, right, words[1]), (left, words[3], right, bottom))
    return max(sides, key=lambda r: max(0.0, r[2] - r[0]) * max(0.0, r[3] - r[1]))


def fit(picture: Picture, group: Sequence[str], share: float, crop: str | None = None, elevation: float | None = None) -> Fitted:
    """The camera that frames the group at ``share`` of the tighter side. elevation: another angle than today's, degrees.

    Where that camera cannot be, the nearest to it that can, and why. Raises FieldError for things that are not in the picture.
    """
    bodies = bodies_of(picture, group)
    room = room_in(picture, crop)
    if (room[2] - room[0]) * (room[3] - room[1]) <= 0:
        raise FieldError("crop", "must leave room beside its words", crop)
    camera = picture.setup.camera if elevation is None else replace(picture.setup.camera, elevation=elevation)
    found = _framing(camera, bodies, room, share)
    if found is None or _wall(picture, found) is not None:
        return _nearest_able(picture, camera, bodies, room, share, found)
    return Fitted(_tidied(found), share_filled(found, bodies, room))


def bodies_of(picture: Picture, group: Sequence[str]) -> tuple[Body, ...]:
    """The things of a group, with what lies on them. Raises FieldError."""
    if not group:
        raise FieldError("group", "must name one thing or more", show_got=False)
    for i in group:
        if i not in picture.bodies:
            raise FieldError("group", "must be things in the picture", i)
    return tuple(picture.bodies[i] for i in dict.fromkeys(group))


def _bounds(camera: Camera, bodies: tuple[Body, ...]) -> Rect | None:
    """The box round the outlines, in fractions of the frame; None when one of them is not before the lens."""
    seen = silhouettes(bodies, view_of(camera))
    return _round(seen.values()) if len(seen) == len(bodies) else None


def _round(seen: Iterable[Silhouette]) -> Rect:
    boxes = np.array([s.box for s in seen])
    return (*boxes[:, :2].min(axis=0).tolist(), *boxes[:, 2:].max(axis=0).tolist())


def share_filled(camera: Camera, bodies: tuple[Body, ...], room: Rect) -> float:
    """Of the tighter side of ``room``, what the outlines' box fills; 0 when they are not before the lens."""
    box = _bounds(camera, bodies)
    return 0.0 if box is None else max((box[2] - box[0]) / (room[2] - room[0]), (box[3] - box[1]) / (room[3] - room[1]))


def _framing(camera: Camera, bodies: tuple[Body, ...], room: Rect, share: float, near: Camera | None = None) -> Camera | None:
    """The camera that frames them so; None where none is found that focuses. near: one that nearly does, to begin from."""
    camera = _far_enough(camera, bodies) if near is None else near
    for _ in range(_CORRECTIONS):
        try:
            seen = silhouettes(bodies, view_of(camera))
            if len(seen) < len(bodies):
                camera = replace(camera, distance=camera.distance * _MOST_STEP)
                continue
            aimed = _at_their_depth(camera, seen.values())
            box = _round(seen.values())
            off = ((box[0] + box[2]) / 2 - (room[0] + room[2]) / 2, (box[1] + box[3]) / 2 - (room[1] + room[3]) / 2)
            filled = max((box[2] - box[0]) / (room[2] - room[0]), (box[3] - box[1]) / (room[3] - room[1]))
            if max(abs(off[0]), abs(off[1]), abs(filled / share - 1), abs(aimed.distance / camera.distance - 1)) < FITTED:
                return aimed
            camera = carried(aimed, *off)
        except FieldError:
            return None
        camera = replace(camera, distance=camera.distance * min(max(filled / share, _LEAST_STEP), _MOST_STEP))
    return None


def _far_enough(camera: Camera, bodies: tuple[Body, ...]) -> Camera:
    """Looking at the middle of the group from well before all of it."""
    points = np.concatenate([np.concatenate(b.parts) if b.parts else b.spheres[:, :3] for b in bodies])
    middle, reach = points.mean(axis=0), float(np.ptp(points, axis=0).max())
    return replace(camera, aim=_place(middle), distance=max(camera.distance, 2 * reach, 4 * camera.lens.focal_length))


def _at_their_depth(camera: Camera, seen: Iterable[Silhouette]) -> Camera:
    """The same place, its aim on the axis midway between the nearest and the furthest of the group."""
    view = view_of(camera)
    depths = [d for s in seen for d in s.depth]
    middle = (min(depths) + max(depths)) / 2 - view.lens.pupil_behind
    aim = view.principal_point + middle * view.forward
    return replace(camera, aim=_place(aim), distance=float(middle))


def _tidied(camera: Camera) -> Camera:
    """Its numbers to a ten thousandth of a millimetre."""
    x, y, z = (round(v, 4) for v in camera.aim)
    return replace(camera, aim=(x, y, z), distance=round(camera.distance, 4))


def _place(values: np.ndarray) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in values)
    return x, y, z


# -- where it cannot be


def _wall(picture: Picture, camera: Camera) -> str | None:
    """The code of what forbids a camera: its focus, the table, the ceiling."""
    try:
        u = view_of(camera).lens.distance
        nearest, furthest = focus_reach_mm(camera.lens, camera.sensor)
    except FieldError:
        return "lens.min_focus"
    if u < nearest - REACH_MM:
        return "lens.min_focus"
    if furthest is not None and u > furthest + REACH_MM:
        return "lens.too_far"
    if shortfall_over_surface_mm(camera, picture.scene.surface) > 0:
        return "rig.table"
    clear = clearance_mm(picture, camera)
    return "rig.ceiling" if clear is not None and clear < 0 else None


def stands(picture: Picture, camera: Camera) -> bool:
    """Whether a camera can be there and focus."""
    return _wall(picture, camera) is None


def clearance_mm(picture: Picture, camera: Camera) -> float | None:
    """Free height above the camera there; None without a ceiling that is known."""
    room = picture.scene.room
    if room is None or room.ceiling_height is None:
        return None
    return ceiling_clearance_mm(camera, view_of(camera), picture.scene.surface.height_above_floor, room.ceiling_height)


def _nearest_able(picture: Picture, camera: Camera, bodies: tuple[Body, ...], room: Rect, share: float, wished: Camera | None) -> Fitted:
    """The camera that can be whose group fills as nearly as it may what was asked: further back where the lens does not focus or the
    table is in the way, nearer where the ceiling is."""
    code = "lens.min_focus" if wished is None else _wall(picture, wished) or "lens.min_focus"
    is_too_far = code in ("rig.ceiling", "lens.too_far")

    last = wished

    def able(times: float) -> Camera | None:
        nonlocal last
        found = _framing(camera, bodies, room, share * times, last)
        last = found or last
        return found if found is not None and _wall(picture, found) is None else None

    steps = [_LEAST_TRIED ** (-k if is_too_far else k) for k in range(1, _TRIED + 1)]
    beyond, found = 1.0, None
    for times in steps:
        found = able(times)
        if found is not None:
            break
        beyond = times
    if found is None:
        return Fitted(picture.setup.camera, share_filled(picture.setup.camera, bodies, room), code, _NO_PLACE)
    for _ in range(_HALVINGS):
        middle = (beyond * times) ** 0.5
        nearer = able(middle)
        beyond, times, found = (beyond, middle, nearer) if nearer is not None else (middle, times, found)
    found = _tidied(found)
    filled = share_filled(found, bodies, room)
    words = _sentence(picture, camera, wished, found, filled, code)
    if code != "rig.ceiling" or wished is None:
        return Fitted(found, filled, code, words)
    shorter = longest_that_fits(picture, camera, bodies, room, share)
    words += "" if shorter is None else f"; a lens of {shorter:.0f} mm frames it under this ceiling"
    short = -(clearance_mm(picture, wished) or 0.0)
    return Fitted(found, filled, code, words, short, shorter, fits_on_the_floor(picture, wished))


def longest_that_fits(picture: Picture, camera: Camera, bodies: tuple[Body, ...], room: Rect, share: float) -> float | None:
    """The longest focal length (mm) with which the camera frames the group so and stands clear; None where none does."""

    last: Camera | None = None

    def fits(focal: float) -> bool:
        nonlocal last
        lens = replace(camera.lens, focal_length=focal, min_focus=None, max_magnification=None, measured=None)
        near = None if last is None else replace(last, lens=lens, distance=last.distance * focal / last.lens.focal_length)
        found = _framing(replace(camera, lens=lens), bodies, room, share, near)
        last = found or last
        return found is not None and _wall(picture, found) is None

    tried = [camera.lens.focal_length * _LEAST_TRIED**k for k in range(1, _TRIED + 1)]
    low = next((focal for focal in tried if fits(focal)), None)
    if low is None:
        return None
    high = low / _LEAST_TRIED
    for _ in range(_HALVINGS):
        middle = (low * high) ** 0.5
        low, high = (middle, high) if fits(middle) else (low, middle)
    return low


#: Shares are tried in steps of so much, so often, then halved so often between the last that cannot be and the first that can.
_LEAST_TRIED, _TRIED, _HALVINGS = 0.8, 20, 14
_NO_PLACE = "from no place on this axis does the lens frame it: another angle or another lens would have to give"


def _sentence(picture: Picture, camera: Camera, wished: Camera | None, found: Camera, filled: float, code: str) -> str:
    lens = f"{camera.lens.focal_length:g} mm"
    fills = f"from the nearest place that can be {f'it fills {filled:.0%}' if filled <= 1 else 'it is cut'}"
    if code == "rig.ceiling" and wished is not None:
        short = -(clearance_mm(picture, wished) or 0.0)
        words = f"with {lens} the camera would be {short:.0f} mm in the ceiling; {fills}"
        return words + (", and with the surface on the floor there is room" if fits_on_the_floor(picture, wished) else "")
    if code == "lens.too_far":
        return f"with {camera.lens.extension:g} mm of extension {lens} focuses no further than {found.distance:.0f} mm; {fills}"
    if code == "rig.table":
        return f"with {lens} the camera would be in the table; {fills}"
    return f"{lens} focuses no nearer than {found.distance:.0f} mm; {fills}"


def fits_on_the_floor(picture: Picture, camera: Camera) -> bool:
    """Whether the ceiling leaves room for the camera, and for what holds it, once the surface lies on the floor."""
    clear = clearance_mm(picture, camera)
    return clear is not None and clear + picture.scene.surface.height_above_floor >= CEILING_CLEARANCE.value
