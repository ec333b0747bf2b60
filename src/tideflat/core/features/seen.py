"""What a set-up shows of a named place: how much is seen, at what angle to the lens, how sharp, how many delivered pixels high."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..camera.crops import FULL_FRAME, Rect
from ..camera.hiding import lies_in
from ..camera.optics import airy_of, blur_mm, combined_blur_mm
from ..camera.silhouette import circle_outline
from ..camera.view import View
from ..delivered import FALLS_AWAY, confusion_in
from ..evaluate import Picture, share_within
from ..model import Feature
from ..patches import Patch, patch_of
from ..plane.hull import hull_of
from ..remember import counted
from ..solids.body import Body
from ..tolerances import CONTACT_MM, NEAR_DEPTH_MM, SAME_NUMBER

#: Less of a place than this share is not said to be hidden by anything in particular.
_TOLD_SHARE = 0.01


@dataclass(frozen=True, slots=True)
class FeatureSeen:
    """angle_deg: between the way it faces and the way to the lens, 90 and more from behind. seen: share of it, 0..1, that nothing hides
    inside the window; hidden_by: what hides most, empty for the window's edge or nothing. blur: its worst blur over what passes.
    pixels_high: as delivered.
    """

    angle_deg: float
    seen: float
    hidden_by: str
    blur: float
    pixels_high: float


@dataclass(frozen=True, eq=False, slots=True)
class _Aimed:
    """A patch through a lens, nothing before it: uv (4, 3) as ``View.project`` gives them; its outline in fractions of the
    frame, None where it is not in front of the lens; depth of its middle, mm."""

    patch: Patch
    angle_deg: float
    uv: np.ndarray
    outline: BaseGeometry | None
    depth: float


@dataclass(frozen=True, eq=False, slots=True)
class FeatureInFrame:
    """A named place in the frame. outline: its four corners in fractions of the frame, clockwise from its top left, None where it is not in
    front of the lens. left: what nothing hides of it; hidden_by: what hides most."""

    patch: Patch
    angle_deg: float
    outline: tuple[tuple[float, float], ...] | None
    depths: tuple[float, ...]
    depth: float
    area: float
    left: BaseGeometry | None
    hidden_by: str


def in_frame(picture: Picture, placement_id: str, feature: Feature) -> FeatureInFrame | None:
    """How the frame shows it, in whatever crop; None when its thing is not in front of the lens."""
    if placement_id not in picture.silhouettes:
        return None
    body = picture.bodies[placement_id]
    aimed = _aimed(body, feature, picture.view)
    shown, left, hidden_by = None, None, ""
    depths = tuple(float(d) for d in picture.view.sharp_depths(aimed.patch.corners))
    if aimed.outline is not None:
        shown = tuple((float(u), float(v)) for u, v, _ in aimed.uv)
        if aimed.angle_deg < 90 and aimed.outline.area > 0:
            left, hidden_by = _unhidden(picture, placement_id, aimed.outline, is_inside=_is_inside(body, feature))
    area = 0.0 if aimed.outline is None else float(aimed.outline.area)
    return FeatureInFrame(aimed.patch, aimed.angle_deg, shown, depths, aimed.depth, area, left, hidden_by)


def seen_within(picture: Picture, shown: FeatureInFrame, window: Rect = FULL_FRAME, pixels_per_frame: float | None = None) -> FeatureSeen:
    """What a window of the frame shows of it. pixels_per_frame: delivered pixels over the frame's width; the sensor's own when not given."""
    if shown.outline is None:
        return FeatureSeen(shown.angle_deg, 0.0, "", np.inf, 0.0)
    across = picture.setup.camera.frame_pixels[0] if pixels_per_frame is None else pixels_per_frame
    (au, av), (bu, bv), (cu, cv), (du, dv) = shown.outline
    high = float(np.hypot((au + bu - cu - du) / 2 * across, (av + bv - cv - dv) / 2 * across / picture.view.aspect))
    seen = 0.0
    if shown.left is not None and shown.left.area > 0:
        seen = min(1.0, share_within(shown.left, window) * float(shown.left.area) / shown.area)
    falls_away = picture.scene.brief.leaning("focus") >= FALLS_AWAY  # then its middle has to be sharp
    blur = _blur(picture, (shown.depth,) if falls_away else shown.depths, window)
    return FeatureSeen(shown.angle_deg, seen, shown.hidden_by, blur, high)


def seen_feature(
    picture: Picture, placement_id: str, feature: Feature, window: Rect = FULL_FRAME, pixels_per_frame: float | None = None
) -> FeatureSeen | None:
    """Both in one: how a window of the frame shows it; None when its thing is not in front of the lens."""
    shown = in_frame(picture, placement_id, feature)
    return None if shown is None else seen_within(picture, shown, window, pixels_per_frame)


@counted(256)
def _aimed(body: Body, feature: Feature, view: View) -> _Aimed:
    patch = patch_of(body, feature)
    toward = view.position - patch.centre
    cosine = float(patch.facing @ toward) / max(float(np.linalg.norm(toward)), SAME_NUMBER)
    angle = float(np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0))))
    uv = view.project(patch.corners)
    is_before = bool((uv[:, 2] > NEAR_DEPTH_MM).all())
    outline = hull_of(uv[:, :2]) if is_before else None
    return _Aimed(patch, angle, uv, outline, float(view.sharp_depths(patch.centre)))


def _unhidden(picture: Picture, placement_id: str, outline: BaseGeometry, *, is_inside: bool) -> tuple[BaseGeometry, str]:
    """(what nothing hides of the outline, what hides most of it)."""
    own = picture.bodies[placement_id]
    if own.opening is not None and is_inside and _looks_in(picture, own):
        outline = shapely.intersection(outline, circle_outline(own.opening, picture.view))  # through the mouth
    u0, v0, u1, v1 = outline.bounds
    covers = {}
    for i, silhouette in picture.silhouettes.items():
        a0, b0, a1, b1 = silhouette.box
        if i != placement_id and a0 < u1 and u0 < a1 and b0 < v1 and v0 < b1:
            cover = _cover(picture, i, placement_id)
            if cover is not None and shapely.intersects(outline, cover):
                covers[i] = cover
    if not covers:
        return outline, ""
    hidden = {i: float(shapely.intersection(outline, c).area) for i, c in covers.items()}
    worst = max(hidden, key=lambda i: hidden[i])
    left = shapely.difference(outline, shapely.union_all(list(covers.values())))
    return left, worst if hidden[worst] > _TOLD_SHARE * outline.area else ""


def _is_inside(body: Body, feature: Feature) -> bool:
    """Whether it is inside a dish: nearer its axis than the wall is at that height."""
    if body.local.opening is None:
        return False
    low, high = (float(np.linalg.norm(c[1])) for c in (body.local.circles[0], body.local.circles[body.local.opening]))
    x, y, z = feature.at
    return float(np.hypot(x, y)) < low + (high - low) * z / body.local.height - CONTACT_MM


def _looks_in(picture: Picture, body: Body) -> bool:
    rim = body.opening
    assert rim is not None
    return float((picture.view.position - rim[0]) @ np.cross(rim[1], rim[2])) > 0


def _cover(picture: Picture, near: str, far: str) -> BaseGeometry | None:
    """What ``near`` hides of ``far``: all of it where it is in front, the wall of the dish in which ``far`` lies; None for nothing."""
    if picture.props[near].finish == "glass":
        return None
    body, other = picture.bodies[near], picture.bodies[far]
    if lies_in(other, body) and body.opening is not None:
        if not _looks_in(picture, body):
            return picture.silhouettes[near].outline
        return shapely.difference(picture.silhouettes[near].outline, circle_outline(body.opening, picture.view))
    return picture.silhouettes[near].outline if (near, far) in picture.hiding.in_front else None


def _blur(picture: Picture, depths: tuple[float, ...], window: Rect) -> float:
    """The worst blur at these depths of the patch, of defocus and diffraction together, over the window's circle of confusion."""
    camera, view = picture.setup.camera, picture.view
    worst = max(blur_mm(view.lens, camera.aperture, d) for d in (min(depths), max(depths)))
    return combined_blur_mm(worst, airy_of(view.lens, camera.aperture)) / confusion_in(picture, window)
