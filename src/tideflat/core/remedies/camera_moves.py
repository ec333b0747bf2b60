"""Candidates that move the camera or a crop, or focus and stop down; and the backdrop that slides for them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from ..acts.camera import SetCamera
from ..acts.deliverables import MoveCrop
from ..acts.ground import PlaceBackdrop
from ..camera.coverage import backdrop_seen, seen_on_table
from ..camera.crops import crop_size, ratio_of
from ..camera.lens import focus_reach_mm, focused
from ..camera.optics import aperture_for_depth, best_aperture
from ..camera.stance import shortfall_over_surface_mm
from ..camera.view import view_of
from ..delivered import confusion_in, needed_depth
from ..errors import FieldError
from ..evaluate import Picture
from ..facts.optics import THIRD_STOPS
from ..findings.finding import Finding
from ..model import LEFT_OUT, Camera
from .candidate import Candidate, Figures, Stores, where_own


def _camera(picture: Picture, kind: str, sentence: str, figures: Figures, **changes: Any) -> Iterator[Candidate]:
    """The camera changed, unless the lens would then stand nearer the surface than it may, or nearer still."""
    surface = picture.scene.surface
    now, was = (shortfall_over_surface_mm(c, surface) for c in (replace(picture.setup.camera, **changes), picture.setup.camera))
    if now <= was:
        yield Candidate(kind, figures, sentence, (SetCamera(setup=picture.setup.name, **changes),))


def shift_crop(picture: Picture, crop_name: str, du: float, dv: float) -> Iterator[Candidate]:
    """The crop moved in the frame, as far as it stays inside."""
    setup = picture.setup
    deliverable = next(d for d in setup.deliverables if d.name == crop_name)
    wide, high = crop_size(ratio_of(deliverable), deliverable.scale, picture.view.aspect)
    u = min(max(deliverable.centre[0] + du, wide / 2), 1 - wide / 2)
    v = min(max(deliverable.centre[1] + dv, high / 2), 1 - high / 2)
    centre = (round(u, 7), round(v, 7))
    if centre == deliverable.centre:
        return
    yield Candidate(
        "crop",
        (("crop", crop_name), ("centre", list(centre))),
        f"move the crop {crop_name}",
        (MoveCrop(setup=setup.name, name=crop_name, centre=centre),),
    )


def step(picture: Picture, distance: float) -> Iterator[Candidate]:
    """The camera nearer or further along its axis."""
    distance = round(distance, 1)
    change = distance - picture.setup.camera.distance
    way = "back" if change > 0 else "closer"
    yield from _camera(
        picture,
        "step",
        f"step {way} {abs(change):.0f} mm",
        (("distance", distance), ("mm", round(abs(change), 1)), ("way", way)),
        distance=distance,
    )


def aim(picture: Picture, right_mm: float, up_mm: float) -> Iterator[Candidate]:
    """The camera carried sideways and up or down with its aim, along its own axes laid on the table."""
    camera, view = picture.setup.camera, picture.view
    onward = np.array([view.up[0], view.up[1], 0.0])
    onward = onward / np.linalg.norm(onward) if np.linalg.norm(onward) > 0.5 else np.array([0, 0, 1.0])
    shift = right_mm * view.right + up_mm * onward
    aim = tuple(round(float(a + s), 1) for a, s in zip(camera.aim, shift, strict=True))
    yield from _camera(
        picture,
        "aim",
        f"carry the camera {np.hypot(right_mm, up_mm):.0f} mm",
        (("aim", list(aim)), ("mm", round(float(np.hypot(right_mm, up_mm)), 1)), ("right", round(right_mm, 1)), ("up", round(up_mm, 1))),
        aim=aim,
    )


def nudges(picture: Picture) -> Iterator[Candidate]:
    """Small steps of the camera every way."""
    for mm in (6.0, 12.0, 20.0, 35.0):
        for right, up in ((mm, 0), (-mm, 0), (0, mm), (0, -mm)):
            yield from aim(picture, right, up)
    for factor in (1.02, 0.98, 1.05, 0.95):
        yield from step(picture, picture.setup.camera.distance * factor)


def come_closer(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """So near that the hero is as large as is asked; or nearer and carried toward it."""
    best = picture.setup.camera.distance * float(np.sqrt(finding.measure / finding.limit))
    for factor in (0.99, 0.95, 0.9, 0.82):
        yield from _nearer(picture, best, (factor,))
        yield from closer_on_it(picture, best * factor, finding.placements[0])


def come_lower(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """So near that there is room above the camera."""
    rise = max(float(np.sin(np.radians(picture.setup.camera.elevation))), 0.05)
    best = picture.setup.camera.distance - (finding.limit - finding.measure + 2) / rise
    yield from _nearer(picture, best, (1.0, 0.98, 0.94, 0.9))


def _nearer(picture: Picture, best: float, factors: tuple[float, ...]) -> Iterator[Candidate]:
    for factor in factors:
        if best * factor > picture.view.focal_length * 1.5:
            yield from step(picture, best * factor)


def into_focus_reach(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """To where the lens can focus."""
    camera = picture.setup.camera
    nearest, furthest = focus_reach_mm(camera.lens, camera.sensor)
    change = nearest - picture.view.focus_distance if finding.code == "lens.min_focus" else (furthest or 0) - picture.view.focus_distance
    for shade in (1.0, 4.0, 12.0):
        yield from step(picture, camera.distance + change + (shade if change > 0 else -shade))


#: Distances that are tried when the frame is to see less, over the present one; the least change comes first.
_NEARER = (1.0, 0.99, 0.98, 0.965, 0.95, 0.93, 0.91, 0.885, 0.86, 0.83, 0.8, 0.76, 0.72, 0.68, 0.62, 0.55)
#: The camera is carried no further than this for it, mm; and sees so much less than it need.
_LONGEST_CARRY_MM, _SHADE_MM = 400.0, 2.0


def see_less(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Distance and aim together: at each distance the camera is carried just so far that every crop sees the surface alone, if it then can.

    Carried level, the frame sees the same shape on the table elsewhere, so how far is known at once; the least of both changes comes first.
    """
    camera = picture.setup.camera
    found = []
    for factor in _NEARER:
        distance = round(camera.distance * factor, 1)
        try:
            carried = _carried_inside(picture, distance)
        except FieldError:
            continue
        if carried is not None and float(np.hypot(*carried)) <= _LONGEST_CARRY_MM:
            found.append((float(np.hypot(*carried)) / camera.distance + 1 - factor, distance, carried))
    for _, distance, (dx, dy) in sorted(found, key=lambda f: f[0])[:8]:
        yield from _carried_and_stepped(picture, distance, dx, dy)


def _carried_inside(picture: Picture, distance: float) -> tuple[float, float] | None:
    """How far (dx, dy, mm) the camera must be carried at that distance so that no crop sees past the surface; None where none helps."""
    surface, backdrop = picture.scene.surface, picture.scene.backdrop
    view = view_of(replace(picture.setup.camera, distance=distance))
    most = None if backdrop is None else backdrop.y
    seen = [p for _, window in picture.windows if len(p := seen_on_table(view, window, y_max=most)) >= 3]
    if not seen:
        return 0.0, 0.0
    points = np.concatenate(seen)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    dx = _into((x0, x1), surface.width)
    dy = _into((y0, y1), surface.depth if backdrop is None else max(surface.depth, float(y1)))
    return None if dx is None or dy is None else (dx, dy)


def _into(seen: tuple[float, float], size: float) -> float | None:
    """The least shift that brings an interval inside 0..size; None when it is longer."""
    low, high = -seen[0] + _SHADE_MM, size - seen[1] - _SHADE_MM
    if low > high:
        return None
    return float(min(max(0.0, low), high))


def _carried_and_stepped(picture: Picture, distance: float, dx: float, dy: float) -> Iterator[Candidate]:
    camera = picture.setup.camera
    x, y, z = camera.aim
    aim = (round(x + dx, 1), round(y + dy, 1), z)
    length, closer = float(np.hypot(dx, dy)), camera.distance - distance
    if length < _SHADE_MM / 2 and closer:
        yield from step(picture, distance)
        return
    kind = "aim_and_step" if closer else "aim"
    words = f"carry the camera {length:.0f} mm" + (f" and step closer {closer:.0f} mm" if closer else "")
    figures = (("aim", list(aim)), ("mm", round(length, 1)), ("distance", distance), ("closer_mm", round(closer, 1)))
    yield from _camera(picture, kind, words, figures, aim=aim, distance=distance)


def closer_on_it(picture: Picture, distance: float, placement_id: str) -> Iterator[Candidate]:
    """Nearer, and carried so that the thing comes half way to the middle: it is larger then, and would else run out of the frame."""
    u, v, _ = picture.view.project(picture.bodies[placement_id].centroid)
    wide, high = picture.size_at_aim
    per_v = high / max(float(np.hypot(*picture.view.up[:2])), 0.3)
    for share in (0.5, 1.0):
        right, up = (float(u) - 0.5) * wide * share, (0.5 - float(v)) * per_v * share
        for aimed in aim(picture, right, up):
            place = dict(aimed.figures)["aim"]
            length = round(float(np.hypot(right, up)), 1)
            figures = (("aim", place), ("mm", length), ("distance", round(distance, 1)))
            words = f"carry the camera {length:.0f} mm and step closer"
            yield from _camera(picture, "aim_and_step", words, figures, aim=tuple(place), distance=round(distance, 1))


def slide_backdrop(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Slid to where it serves; or the camera carried, or closer."""
    backdrop = picture.scene.backdrop
    assert backdrop is not None
    window = next(box for name, box in picture.windows if name == finding.crop)
    slide = backdrop_seen(picture.view, backdrop, window).slide
    whole = picture.backdrop_seen.slide if picture.backdrop_seen else slide
    for way in (slide, slide + np.sign(slide), whole):
        if way:
            x = round(backdrop.x + float(way), 1)
            yield Candidate(
                "slide",
                (("x", x), ("mm", round(abs(float(way)), 1)), ("way", "right" if way > 0 else "left")),
                f"slide the backdrop {abs(way):.0f} mm",
                (PlaceBackdrop(x=x, **where_own(picture, picture.setup.backdrop is not LEFT_OUT)),),
            )
    across = {"left": 1.0, "right": -1.0}
    right = sum(across.get(side, 0.0) for side in finding.sides) * (finding.measure + 2)
    if right and abs(right) < 300:
        yield from aim(picture, right, 0.0)
    for factor in (0.97, 0.94, 0.9, 0.86, 0.8):
        yield from step(picture, picture.setup.camera.distance * factor)


def sharpen(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Focus where the near and far ends are equally soft; then stop down as far as it takes, never past where diffraction takes it back."""
    camera, view = picture.setup.camera, picture.view
    (hero,) = finding.placements
    window = next(box for name, box in picture.windows if name == finding.crop)
    near, far = needed_depth(picture, hero)
    balance = 2 * near * far / (near + far)  # the plane of focus that splits near and far evenly (harmonic mean)
    point = tuple(round(float(p), 1) for p in view.position + balance * view.forward)
    yield from _camera(picture, "refocus", "focus through the middle of the hero", (("point", list(point)),), focus=point)
    confusion = confusion_in(picture, window)
    for n in _stops(camera, view.focal_length, view.focus_distance, near, far, confusion):
        words = f"{'stop down' if n > camera.aperture else 'open up'} to f/{n:g}"
        yield from _camera(picture, "aperture", words, (("aperture", n),), aperture=n)
    middle = focused(camera.lens, camera.sensor, balance)
    for n in _stops(camera, middle.focal_length, balance, near, far, confusion):
        yield from _camera(
            picture,
            "refocus_and_aperture",
            f"focus through the middle of the hero at f/{n:g}",
            (("point", list(point)), ("aperture", n)),
            aperture=n,
            focus=point,
        )


def _stops(camera: Camera, f_mm: float, u_mm: float, near_mm: float, far_mm: float, confusion_mm: float) -> list[float]:
    """The first two engraved stops of the lens, other than the one set, that hold both distances sharp; none is past the best one."""
    pupil = camera.lens.pupil_ratio
    widest = aperture_for_depth(f_mm, u_mm, near_mm, far_mm, confusion_mm, pupil)
    if widest is None:
        return []
    best = best_aperture(f_mm, u_mm, near_mm, far_mm, pupil)
    able = [n for n in THIRD_STOPS if camera.lens.max_aperture <= n <= camera.lens.min_aperture and n != camera.aperture]
    best = max(best, camera.lens.max_aperture)  # what lies in the plane of focus is sharpest wide open
    fits = [n for n in able if widest * 0.999 <= n <= best or (n < camera.aperture and widest * 0.999 <= n)]
    return sorted(fits, key=lambda n: abs(float(np.log(n / camera.aperture))))[:2]


MAKERS = {
    "come closer": come_closer,
    "come lower": come_lower,
    "into the reach of focus": into_focus_reach,
    "see less": see_less,
    "slide the backdrop": slide_backdrop,
    "sharpen": sharpen,
}
