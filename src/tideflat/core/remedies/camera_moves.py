"""Candidates that move the camera or a crop, or focus and stop down; and the backdrop that slides for them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from ..acts.camera import SetCamera
from ..acts.deliverables import MoveCrop
from ..acts.ground import PlaceBackdrop
from ..camera.coverage import backdrop_seen
from ..camera.crops import crop_size, ratio_of
from ..camera.lens import focus_reach_mm
from ..camera.optics import aperture_for_depth
from ..camera.stance import shortfall_over_surface_mm
from ..evaluate import Picture
from ..facts.optics import THIRD_STOPS
from ..findings.finding import Finding
from ..findings.focus import needed_depth
from ..model import LEFT_OUT
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
    """So near that the hero is as large as is asked."""
    best = picture.setup.camera.distance * float(np.sqrt(finding.measure / finding.limit))
    yield from _nearer(picture, best, (1.0, 0.96, 0.9, 0.82))


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


def see_less(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Away from the edge that shows, or closer; both when more than one shows."""
    across = {"left": 1.0, "right": -1.0}
    along = {"front": 1.0, "back": -1.0}
    need = finding.measure + 3
    right = sum(across.get(side, 0.0) for side in finding.sides) * need
    up = sum(along.get(side, 0.0) for side in finding.sides) * need
    if (right or up) and need < 400:
        for stretch in (1.0, 1.3):
            yield from aim(picture, right * stretch, up * stretch)
    for factor in (0.97, 0.94, 0.9, 0.86, 0.8, 0.72):
        yield from step(picture, picture.setup.camera.distance * factor)
        if (right or up) and need < 400:
            yield from _aim_and_step(picture, right * 0.5, up * 0.5, factor)


def _aim_and_step(picture: Picture, right_mm: float, up_mm: float, factor: float) -> Iterator[Candidate]:
    for aimed in aim(picture, right_mm, up_mm):
        for stepped in step(picture, picture.setup.camera.distance * factor):
            figures = dict(aimed.figures) | dict(stepped.figures[:1])
            changes = {"aim": tuple(figures["aim"]), "distance": figures["distance"]}
            yield from _camera(picture, "aim_and_step", f"{aimed.sentence} and {stepped.sentence}", tuple(figures.items()), **changes)


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
    """Focus where the near and far ends are equally soft; then stop down as far as it takes."""
    camera, view = picture.setup.camera, picture.view
    (hero,) = finding.placements
    near, far = needed_depth(picture, hero)
    balance = 2 * near * far / (near + far)  # the plane of focus that splits near and far evenly (harmonic mean)
    point = view.position + balance * view.forward
    refocused = {"focus": tuple(round(float(p), 1) for p in point)}
    stops = [n for n in THIRD_STOPS if camera.aperture < n <= camera.lens.min_aperture]
    confusion = picture.depth_of_field.circle_of_confusion
    here = aperture_for_depth(view.focal_length, view.focus_distance, near, far, confusion)
    there = aperture_for_depth(view.focal_length, balance, near, far, confusion)
    yield from _camera(picture, "refocus", "focus through the middle of the hero", (("point", list(refocused["focus"])),), **refocused)
    for n in [n for n in stops if n >= here * 0.999][:2]:
        yield from _camera(picture, "aperture", f"stop down to f/{n:g}", (("aperture", n),), aperture=n)
    for n in [n for n in stops if n >= there * 0.999][:2]:
        yield from _camera(
            picture,
            "refocus_and_aperture",
            f"focus through the middle of the hero at f/{n:g}",
            (("point", list(refocused["focus"])), ("aperture", n)),
            aperture=n,
            **refocused,
        )


MAKERS = {
    "come closer": come_closer,
    "come lower": come_lower,
    "into the reach of focus": into_focus_reach,
    "see less": see_less,
    "slide the backdrop": slide_backdrop,
    "sharpen": sharpen,
}
