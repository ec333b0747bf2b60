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
from ..camera.crops import kept_inside
from ..camera.lens import Focused
from ..camera.optics import aperture_for_depth, best_aperture
from ..delivered import confusion_in, focused_between, needed_depth
from ..evaluate import Picture
from ..facts.optics import THIRD_STOPS
from ..findings.finding import Finding
from ..model import LEFT_OUT, Camera
from .candidate import Candidate, Figures, Stores, where_own
from .standpoints import may_stand


def _camera(picture: Picture, kind: str, sentence: str, figures: Figures, **changes: Any) -> Iterator[Candidate]:
    """The camera changed, unless the lens would then stand nearer the surface than it may, or nearer still."""
    if may_stand(picture, replace(picture.setup.camera, **changes)):
        yield Candidate(kind, figures, sentence, (SetCamera(setup=picture.setup.name, **changes),))


def shift_crop(picture: Picture, crop_name: str, du: float, dv: float) -> Iterator[Candidate]:
    """The crop moved in the frame, as far as it stays inside."""
    setup = picture.setup
    deliverable = next(d for d in setup.deliverables if d.name == crop_name)
    u, v = kept_inside(deliverable, setup.camera, (deliverable.centre[0] + du, deliverable.centre[1] + dv))
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


def slide_backdrop(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Slid to where it serves."""
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


def sharpen(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Focus where the near and far ends are equally soft; then stop down as far as it takes, never past where diffraction takes it back."""
    camera, view = picture.setup.camera, picture.view
    (hero,) = finding.placements
    window = next(box for name, box in picture.windows if name == finding.crop)
    near, far = needed_depth(picture, hero)
    middle = focused_between(picture, near, far)
    if middle is None:
        return
    balance = middle.distance
    point = tuple(round(float(p), 1) for p in view.principal_point + balance * view.forward)
    yield from _camera(picture, "refocus", "focus through the middle of the hero", (("point", list(point)),), focus=point)
    confusion = confusion_in(picture, window)
    for n in _stops(camera, view.lens, near, far, confusion):
        words = f"{'stop down' if n > camera.aperture else 'open up'} to f/{n:g}"
        yield from _camera(picture, "aperture", words, (("aperture", n),), aperture=n)
    for n in _stops(camera, middle, near, far, confusion):
        yield from _camera(
            picture,
            "refocus_and_aperture",
            f"focus through the middle of the hero at f/{n:g}",
            (("point", list(point)), ("aperture", n)),
            aperture=n,
            focus=point,
        )


def _stops(camera: Camera, lens: Focused, near_mm: float, far_mm: float, confusion_mm: float) -> list[float]:
    """The first two engraved stops of the lens, other than the one set, that hold both distances sharp; none is past the best one."""
    widest = aperture_for_depth(lens, near_mm, far_mm, confusion_mm)
    if widest is None:
        return []
    best = best_aperture(lens, near_mm, far_mm)
    able = [n for n in THIRD_STOPS if camera.lens.max_aperture <= n <= camera.lens.min_aperture and n != camera.aperture]
    best = max(best, camera.lens.max_aperture)  # what lies in the plane of focus is sharpest wide open
    fits = [n for n in able if widest * 0.999 <= n <= best or (n < camera.aperture and widest * 0.999 <= n)]
    return sorted(fits, key=lambda n: abs(float(np.log(n / camera.aperture))))[:2]


MAKERS = {
    "slide the backdrop": slide_backdrop,
    "sharpen": sharpen,
}
