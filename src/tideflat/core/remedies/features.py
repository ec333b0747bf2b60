"""Candidates for what must be seen: the thing turned, wedged or raised, what hides it moved aside, the camera higher, focused there,
nearer."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from ..acts.camera import SetCamera
from ..acts.things import Hold, Lean, Raise, Turn
from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import THIRD_STOPS
from ..findings.finding import Finding
from ..patches import feature_of, patch_of
from .camera_solved import larger
from .candidate import Candidate, Stores, where
from .moves import is_free, move


def turn_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """About its upright axis toward the lens, as far as it takes; a wedge under it; or the camera higher or lower."""
    (i,) = finding.placements
    feature = _feature(picture, finding)
    if feature is None:
        return
    patch = patch_of(picture.bodies[i], feature)
    toward = picture.view.position - patch.centre
    level = np.hypot(*patch.facing[:2])
    if is_free(picture, i) and level > 0.2:
        by = float(np.degrees(np.arctan2(toward[1], toward[0]) - np.arctan2(patch.facing[1], patch.facing[0])))
        by = (by + 180) % 360 - 180
        own = picture.scene.placement(i).turn
        short = abs(by) - 50
        for share in ((short / abs(by) if short > 0 else 0.5), 0.75, 1.0):
            turn = round((own + by * share + 180) % 360 - 180, 1)
            figures = (("placement", i), ("turn", turn), ("degrees", round(abs(by * share), 1)))
            words = f"turn {label(picture, i)} by {abs(by * share):.0f} degrees"
            yield Candidate("turn", figures, words, (Turn(placement=i, turn=turn, **where(picture, i, "turn")),))
    yield from _wedged(picture, i, toward)
    yield from _camera_higher(picture, (8, 15, 25, -8, -15))


def show_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """What hides it moved aside, or itself; then raised; then the camera higher."""
    (i,) = finding.placements
    by = str(dict(finding.figures).get("by", ""))
    right = picture.view.right[:2] / max(float(np.linalg.norm(picture.view.right[:2])), 0.1)
    for length in (15.0, 30.0, 50.0, 80.0):
        for mover in (by, i):
            if mover in picture.bodies and is_free(picture, mover):
                for sign in (1, -1):
                    yield move(picture, mover, *(right * sign * length))
    if is_free(picture, i):
        own = picture.scene.placement(i)
        for rise in (18.0, 36.0, 60.0):
            acts = (
                Raise(placement=i, z=own.z + rise, **where(picture, i, "z")),
                Hold(placement=i, held_by="riser", **where(picture, i, "held_by")),
            )
            yield Candidate("riser", (("placement", i), ("mm", rise)), f"raise {label(picture, i)} {rise:.0f} mm on a riser", acts)
    yield from _camera_higher(picture, (6, 12, 20))


def focus_on_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Focused through its middle, at the aperture set, or stopped down."""
    (i,) = finding.placements
    feature = _feature(picture, finding)
    if feature is None:
        return
    camera = picture.setup.camera
    point = tuple(round(float(v), 1) for v in patch_of(picture.bodies[i], feature).centre)
    stops = [n for n in THIRD_STOPS if camera.aperture < n <= camera.lens.min_aperture][:9]
    yield from _set(picture, "refocus", "focus on it", (("point", list(point)),), focus=point)
    for n in stops:
        yield from _set(picture, "aperture", f"stop down to f/{n:g}", (("aperture", n),), aperture=n)
        yield from _set(
            picture, "refocus_and_aperture", f"focus on it at f/{n:g}", (("point", list(point)), ("aperture", n)), focus=point, aperture=n
        )


def come_to_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """So near, or with so much longer a lens, that it is as high as is asked."""
    yield from larger(picture, finding.placements[0], max(0.3, finding.measure / finding.limit), stores)


def _feature(picture: Picture, finding: Finding) -> Any:
    return feature_of(picture.props[finding.placements[0]], str(dict(finding.figures)["feature"]))


def _wedged(picture: Picture, i: str, toward: np.ndarray) -> Iterator[Candidate]:
    """A wedge under it, so that it leans back and its upper face, or leans forward and its front, turns to the lens."""
    own = picture.scene.placement(i)
    if own.lean or not is_free(picture, i):
        return
    way = float(np.degrees(np.arctan2(toward[1], toward[0])))
    for lean, along in ((8, way), (15, way), (22, way), (8, way + 180), (15, way + 180)):
        acts = (
            Lean(placement=i, lean=float(lean), lean_toward=round(along % 360, 1), **where(picture, i, "lean", "lean_toward")),
            Hold(placement=i, held_by="riser", **where(picture, i, "held_by")),
        )
        yield Candidate("wedge", (("placement", i), ("degrees", lean)), f"wedge {label(picture, i)} up by {lean} degrees", acts)


def _camera_higher(picture: Picture, steps: tuple[int, ...]) -> Iterator[Candidate]:
    own = picture.setup.camera.elevation
    for by in steps:
        elevation = min(90.0, max(-10.0, own + by))
        if elevation != own:
            yield from _set(picture, "elevation", f"look down from {elevation:g} degrees", (("elevation", elevation),), elevation=elevation)


def _set(picture: Picture, kind: str, words: str, figures: tuple[tuple[str, Any], ...], **changes: Any) -> Iterator[Candidate]:
    yield Candidate(kind, figures, words, (SetCamera(setup=picture.setup.name, **changes),))


MAKERS = {
    "turn it to the lens": turn_it,
    "show the feature": show_it,
    "focus on the feature": focus_on_it,
    "come to the feature": come_to_it,
}
