"""The few numbers that decide, and what a thing in hand measures: in figures, units and the words that say what they decide."""

from __future__ import annotations

import numpy as np

from tideflat.core import model
from tideflat.core.camera.crops import Crop
from tideflat.core.camera.optics import DepthOfField, depth_of_field
from tideflat.core.evaluate import Picture, share_within
from tideflat.core.units import format_length

#: Looking down more steeply than this (cosine), the depth along the table is not told: it is nearly endless.
_STEEP = 0.31


def readings(picture: Picture, unit: str, crop_name: str | None) -> list[dict[str, str]]:
    """The few numbers that decide: big figure, small unit, the word that says what it decides."""
    view, camera = picture.view, picture.setup.camera
    crop = next((c for c in picture.crops if c.name == crop_name), None)
    sharp = sharpness_in(picture, crop)
    height = float(view.position[2])
    clear = picture.ceiling_clearance
    wide, high = picture.size_at_aim
    found = [
        {
            **_big(height, unit),
            "words": "lens above the table" + (f"; {format_length(clear, unit)} clear of the ceiling" if clear is not None else ""),
        },
        {**_big(wide, unit), "words": f"wide and {format_length(high, unit)} high is what the frame covers at its aim"},
    ]
    # What passes as sharp is said beside every depth: it presumes how large the picture is used.
    passes = f"at f/{camera.aperture:g} in {crop.name if crop else 'the frame'}, where blur under {sharp.circle_of_confusion:.3f} mm passes"
    if sharp.total is None:
        found.append({"figure": "∞", "unit": "", "words": f"sharp from {format_length(sharp.near, unit)} on {passes}"})
    else:
        slant = np.cos(np.radians(camera.elevation))
        along = f"; {format_length(sharp.total / slant, unit)} along the table" if slant > _STEEP else ""
        found.append({**_big(sharp.total, unit), "words": f"deep is sharp {passes}{along}"})
    heroes = picture.hero_ids()
    if heroes:
        share = picture.things[heroes[0]].frame_area_share
        name = picture.props[heroes[0]].name
        if crop is not None:
            visible = picture.things[heroes[0]].visible
            share = share_within(visible, crop.box) * visible.area / crop.share_of_frame if visible.area else 0.0
        where = f"of {crop.name}" if crop is not None else "of the frame"
        found.append(
            {"figure": f"{share * 100:.1f}" if share < 0.1 else f"{share * 100:.0f}", "unit": "%", "words": f"{where} is the {name}"}
        )
    return found


def sharpness_in(picture: Picture, crop: Crop | None) -> DepthOfField:
    """What is sharp in a crop: enlarged more than the frame would be, it forgives less blur, by its share of the diagonal."""
    whole = picture.depth_of_field
    if crop is None:
        return whole
    camera, view = picture.setup.camera, picture.view
    wide, high = (crop.box[2] - crop.box[0]) * view.frame_width, (crop.box[3] - crop.box[1]) * view.frame_height
    share = np.hypot(wide, high) / np.hypot(view.frame_width, view.frame_height)
    blur = whole.circle_of_confusion * float(share)
    return depth_of_field(view.focal_length, camera.aperture, view.focus_distance, blur, camera.lens.pupil_ratio)


def _big(length_mm: float, unit: str) -> dict[str, str]:
    figure, _, small = format_length(length_mm, unit).rpartition(" ")
    return {"figure": figure, "unit": small}


def sharpness_words(picture: Picture, placement_id: str, crop: Crop | None) -> str:
    """Whether the thing is sharp in a crop: throughout, partly, or not."""
    silhouette = picture.silhouettes.get(placement_id)
    if silhouette is None:
        return "not in the picture"
    sharp = sharpness_in(picture, crop)
    near, far = silhouette.depth
    if near >= sharp.near and (sharp.far is None or far <= sharp.far):
        return "sharp throughout"
    if far < sharp.near or (sharp.far is not None and near > sharp.far):
        return "out of focus"
    return "partly sharp"


def size_words(picture: Picture, placement_id: str, unit: str) -> str:
    """True size at rest: across, deep, high."""
    body = picture.bodies.get(placement_id)
    if body is None:
        return ""
    points = np.concatenate(body.local.parts) if body.local.parts else body.local.spheres[:, :3]
    extra = 0.0 if body.local.parts else float(body.local.spheres[0, 3]) * 2
    wide, deep = (float(np.ptp(points[:, k])) + extra for k in (0, 1))
    return " × ".join(format_length(v, unit).removesuffix(f" {unit}") for v in (wide, deep, body.local.height)) + f" {unit}"


def frame_caption(setup: model.Setup) -> str:
    """How the camera stands, in one line."""
    c = setup.camera
    return f"{c.lens.focal_length:g} mm, {_angle_words(c.elevation)}, f/{c.aperture:g}"


def _angle_words(elevation_deg: float) -> str:
    if elevation_deg >= 89.5:
        return "overhead"
    if abs(elevation_deg) < 0.5:
        return "eye level"
    return f"{abs(elevation_deg):g}° {'down' if elevation_deg > 0 else 'up'}"
