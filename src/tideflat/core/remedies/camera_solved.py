"""Candidates for which the camera's aim, distance, height and lens are solved together: what a place must meet is told as its numbers."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from functools import partial

import numpy as np

from ..camera.coverage import backdrop_seen, highest_point_mm, seen_on_table
from ..camera.crops import FULL_FRAME, Rect
from ..camera.framing import magnification_at_aim
from ..camera.lens import focus_reach_mm
from ..camera.silhouette import silhouettes
from ..camera.support import short_of
from ..camera.view import view_of
from ..delivered import hero_things
from ..evaluate import Picture
from ..facts.practice import TANGENT
from ..findings.finding import Finding
from ..model import Camera
from .candidate import Candidate, Stores
from .standpoints import higher, lower, solved

#: Distances that are tried, over the one at which as much is shown as now; for other angles and lenses a few of them.
_NEARER = (1.0, 0.99, 0.98, 0.965, 0.95, 0.93, 0.91, 0.885, 0.86, 0.83, 0.8, 0.76, 0.72, 0.68, 0.62, 0.55)
_FURTHER = (1.0, 1.05, 1.1, 1.18, 1.28, 1.4, 1.6, 1.9)
#: The camera is carried no further than this for it, mm; and sees so much less than it need.
_LONGEST_CARRY_MM, _SHADE_MM = 400.0, 2.0
#: A straight way along the axis meets a height or a focus after so many corrections, to well under a tenth of a millimetre.
_CORRECTIONS = 4


def see_less(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The surface alone in every crop: nearer, carried, from higher or with a lens that sees less."""
    yield from solved(picture, stores, partial(_over_the_surface, picture), higher(picture))


def _over_the_surface(picture: Picture, camera: Camera) -> Iterator[Camera]:
    """Carried level, the frame sees the same shape on the table elsewhere, so how far is known at once."""
    surface, backdrop = picture.scene.surface, picture.scene.backdrop
    most = None if backdrop is None else backdrop.y
    for nearer in _at(camera, _finely(picture, camera, _NEARER)):
        view = view_of(nearer)
        seen = [p for _, window in picture.windows if len(p := seen_on_table(view, window, y_max=most)) >= 3]
        if not seen:
            yield nearer
            continue
        points = np.concatenate(seen)
        (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
        dx = _into((x0, x1), (0.0, surface.width))
        dy = _into((y0, y1), (0.0, surface.depth if backdrop is None else max(surface.depth, float(y1) + _SHADE_MM)))
        if dx is not None and dy is not None:
            yield from _carried(nearer, dx, dy)


def before_the_backdrop(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The backdrop behind every crop: nearer, carried along it, from higher or with a longer lens from further back."""
    yield from solved(picture, stores, partial(_within_the_backdrop, picture), higher(picture))


def _within_the_backdrop(picture: Picture, camera: Camera) -> Iterator[Camera]:
    backdrop = picture.scene.backdrop
    assert backdrop is not None
    sides = (backdrop.x - backdrop.width / 2, backdrop.x + backdrop.width / 2)
    for nearer in _at(camera, _finely(picture, camera, _NEARER)):
        view = view_of(nearer)
        shown = [s for _, window in picture.windows if (s := backdrop_seen(view, backdrop, window)).seen is not None]
        if any(s.short_top > 0 for s in shown):
            continue
        extents = [s.seen for s in shown if s.seen is not None]
        dx = _into((min(e[0] for e in extents), max(e[1] for e in extents)), sides) if extents else 0.0
        if dx is not None:
            yield from _carried(nearer, dx, 0.0)


def come_lower(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Room above the camera: nearer, from lower, or a shorter lens from nearer by."""
    allowed = highest_point_mm(picture.setup.camera, picture.view) - (finding.limit - finding.measure) - _SHADE_MM
    yield from solved(picture, stores, partial(_under, allowed), lower(picture))


def _under(allowed_mm: float, camera: Camera) -> Iterator[Camera]:
    """The furthest place along the axis at which nothing of the camera is higher than that."""
    for _ in range(_CORRECTIONS):
        view = view_of(camera)
        above = highest_point_mm(camera, view) - allowed_mm
        if above <= 0:
            yield camera
            return
        rise = max(float(np.sin(np.radians(camera.elevation))), 0.05)
        camera = replace(camera, distance=round(camera.distance - above / rise - 0.1, 1))


def within_its_reach(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Where what holds the camera brings it: nearer, further, from lower, or with another lens from there."""
    yield from solved(picture, stores, partial(_held, picture), lower(picture))


def _held(picture: Picture, camera: Camera) -> Iterator[Camera]:
    support = picture.setup.support
    assert support is not None
    for _ in range(_CORRECTIONS):
        short = short_of(support, picture.scene, camera, view_of(camera))
        if short is None:
            yield camera
        if short is None or short.way not in ("high", "low"):
            return
        along = (short.mm + _SHADE_MM) / max(float(np.sin(np.radians(camera.elevation))), 0.05)
        camera = replace(camera, distance=round(camera.distance + (along if short.way == "low" else -along), 1))


def clear_of_the_rim(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The hero whole within what of the crop is left once its rim is trimmed off or kept clear."""
    window = next(c.safe_box for c in picture.crops if c.name == finding.crop)
    yield from solved(picture, stores, partial(_whole, picture, finding.placements[0], window))


def into_focus_reach(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Where the lens, or another that shows as much, can focus."""
    yield from solved(picture, stores, _in_focus_reach, with_alike=True)


def _in_focus_reach(camera: Camera) -> Iterator[Camera]:
    nearest, furthest = focus_reach_mm(camera.lens, camera.sensor)
    u = view_of(camera).lens.distance
    inside = max(u, nearest) if furthest is None else min(max(u, nearest), furthest)
    if inside == u:
        yield camera
        return
    for shade in (0.0, 1.0, 4.0, 12.0):
        yield replace(camera, distance=round(camera.distance + inside - u + (shade if inside > u else -shade), 1))


def come_closer(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """So near, or with so much longer a lens, that the hero is as large as is asked; carried toward it where it would run out."""
    yield from larger(picture, finding.placements[0], float(np.sqrt(finding.measure / finding.limit)), stores)


def larger(picture: Picture, placement_id: str, shown: float, stores: Stores) -> Iterator[Candidate]:
    """So near that ``shown`` (0..1) of what the frame shows now is left: the thing comes half way to the middle, all of it, or not."""
    yield from solved(picture, stores, partial(_larger, picture, placement_id, shown))


def _larger(picture: Picture, placement_id: str, shown: float, camera: Camera) -> Iterator[Camera]:
    u, v, _ = picture.view.project(picture.bodies[placement_id].centroid)
    for factor in (0.99, 0.95, 0.9, 0.82):
        distance = camera.distance * shown * factor
        if distance > camera.lens.focal_length * 1.5:
            for share in (0.0, 0.5, 1.0):
                yield _toward(replace(camera, distance=round(distance, 1)), (u - 0.5) * share, (v - 0.5) * share)


def whole_in(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The hero whole in the crop, with clear air round it: carried, further back, or with a shorter lens."""
    window = next((c.box for c in picture.crops if c.name == finding.crop), FULL_FRAME)
    yield from solved(picture, stores, partial(_whole, picture, finding.placements[0], window))


def clear_margin(picture: Picture) -> float:
    """Clear air round the hero that is no near touch, a shade more, in fractions of the frame either way."""
    return TANGENT.value / 100 * max(picture.view.aspect, 1.0) * 1.3


def _whole(picture: Picture, hero: str, window: Rect, camera: Camera) -> Iterator[Camera]:
    bodies = tuple(picture.bodies[i] for i in hero_things(picture, hero))
    margin = clear_margin(picture)
    for further in _at(camera, _finely(picture, camera, _FURTHER)):
        carried = further
        for _ in range(2):  # nearer things pass faster than the aim does
            boxes = np.array([s.box for s in silhouettes(bodies, view_of(carried)).values()])
            if not len(boxes):
                break
            (u0, v0), (u1, v1) = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
            du = _into((u0 - margin, u1 + margin), (window[0], window[2]), 0.0)
            dv = _into((v0 - margin, v1 + margin), (window[1], window[3]), 0.0)
            if du is None or dv is None:
                break
            if du == 0 and dv == 0:
                yield carried
                break
            carried = _toward(carried, -du * 1.05, -dv * 1.05)
        else:
            yield carried


def covering(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """A lens that covers the sensor, from where it shows as much."""
    yield from solved(picture, stores, lambda camera: (camera,), with_alike=True)


def _finely(picture: Picture, camera: Camera, factors: tuple[float, ...]) -> tuple[float, ...]:
    """All of them for the present lens, every third for another: where it is changed, a few centimetres are the least of it."""
    return factors if camera.lens == picture.setup.camera.lens else factors[::3]


def _at(camera: Camera, factors: Iterable[float]) -> Iterator[Camera]:
    """Nearer or further by each factor, as far as the lens can stand."""
    for factor in factors:
        if factor == 1.0 or camera.distance * factor > camera.lens.focal_length * 1.5:
            yield replace(camera, distance=round(camera.distance * factor, 1))


def _into(seen: tuple[float, float], limits: tuple[float, float], shade: float = _SHADE_MM) -> float | None:
    """The least shift that brings an interval inside limits; None when it is longer."""
    low, high = limits[0] - seen[0] + shade, limits[1] - seen[1] - shade
    if low > high:
        return None
    return float(min(max(0.0, low), high))


def _carried(camera: Camera, dx: float, dy: float) -> Iterator[Camera]:
    """Carried level with its aim, unless too far."""
    if float(np.hypot(dx, dy)) <= _LONGEST_CARRY_MM:
        x, y, z = camera.aim
        yield camera if float(np.hypot(dx, dy)) < _SHADE_MM / 2 else replace(camera, aim=(round(x + dx, 1), round(y + dy, 1), z))


def _toward(camera: Camera, du: float, dv: float) -> Camera:
    """Carried so that what is (du, dv) of the frame off comes to where the aim is; along the table, or upright when it looks level."""
    view = view_of(camera)
    per = 1 / magnification_at_aim(camera, view)
    right, up = du * view.frame_width * per, -dv * view.frame_height * per
    level = np.array([view.up[0], view.up[1], 0.0])
    steep = float(np.linalg.norm(level))
    onward = level / steep if steep > 0.5 else np.array([0.0, 0.0, 1.0])
    shift = right * view.right + up / (max(steep, 0.3) if steep > 0.5 else 1.0) * onward
    x, y, z = (round(float(a + s), 1) for a, s in zip(camera.aim, shift, strict=True))
    return replace(camera, aim=(x, y, z))


MAKERS = {
    "come closer": come_closer,
    "come lower": come_lower,
    "clear of the rim": clear_of_the_rim,
    "within its reach": within_its_reach,
    "into the reach of focus": into_focus_reach,
    "see less": see_less,
    "stand before the backdrop": before_the_backdrop,
    "take the hero whole from elsewhere": whole_in,
    "a lens that covers": covering,
}
