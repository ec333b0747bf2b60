"""The few numbers that decide, and what a thing in hand measures: in figures, units and the words that say what they decide."""

from __future__ import annotations

import json
from typing import Any

import numpy as np

from tideflat.core import model
from tideflat.core.camera.crops import FULL_FRAME, Crop
from tideflat.core.delivered import best_aperture_for, hero_share, marked, sharpness_in, softens_from
from tideflat.core.evaluate import Picture
from tideflat.core.features.seen import FeatureInFrame, FeatureSeen, in_frame, seen_within
from tideflat.core.findings.features import BLUR_SLACK, delivered_across
from tideflat.core.patches import asked_for
from tideflat.core.tolerances import SHARP_MM
from tideflat.core.units import format_length

from .sheets import frame_sheet

#: A face turned so far from the lens is not seen at all, degrees.
_AWAY_DEG = 90.0
#: Looking down more steeply than this (cosine), the depth along the table is not told: it is nearly endless.
_STEEP = 0.31


def readings(picture: Picture, unit: str, crop_name: str | None) -> list[dict[str, str]]:
    """The few numbers that decide: big figure, small unit, the words that say what it decides; as ``short`` for one line of all of them."""
    view = picture.view
    crop = next((c for c in picture.crops if c.name == crop_name), None)
    height = float(view.position[2])
    clear = picture.ceiling_clearance
    wide, high = picture.size_at_aim
    found = [
        {
            **_big(height, unit),
            "words": "lens above the table" + _under_the_ceiling(clear, unit),
            "short": "lens above the table" + _under_the_ceiling(clear, unit),
        },
        {
            **_big(wide, unit),
            "words": f"wide and {format_length(high, unit)} high is what the frame covers at its aim",
            "short": f"× {format_length(high, unit)} covered",
        },
    ]
    found.append(_sharp_reading(picture, crop, unit))
    heroes = picture.hero_ids()
    if heroes:
        share = hero_share(picture, heroes[0], FULL_FRAME if crop is None else crop.box)
        where = f"of {crop.name}" if crop is not None else "of the frame"
        figure = f"{share * 100:.1f}" if share < 0.1 else f"{share * 100:.0f}"
        words = f"{where} is the {picture.props[heroes[0]].name}"
        found.append({"figure": figure, "unit": "%", "words": words, "short": words})
    return found


def _under_the_ceiling(clear: float | None, unit: str) -> str:
    if clear is None:
        return ""
    return (
        f"; {format_length(clear, unit)} clear of the ceiling"
        if clear >= 0
        else f"; {format_length(-clear, unit)} too high for the ceiling"
    )


def _sharp_reading(picture: Picture, crop: Crop | None, unit: str) -> dict[str, str]:
    """How deep is sharp, and where stopping down ends; as ``more`` what passes as sharp: it presumes how large the picture is used."""
    camera = picture.setup.camera
    window = FULL_FRAME if crop is None else crop.box
    zone = sharpness_in(picture, window)
    passes = f"at f/{camera.aperture:g} in {crop.name if crop else 'the frame'}"
    more = f"blur up to {zone.circle_of_confusion:.3f} mm on the sensor looks sharp there"
    heroes = picture.hero_ids()
    best = best_aperture_for(picture, heroes[0]) if heroes else None
    if best is not None:
        passes += f"; sharpest at f/{marked(best):g}, where depth and diffraction meet"
    if zone.near is None:
        words = f"is sharp at f/{camera.aperture:g}: from f/{softens_from(picture, window):.0f} on diffraction softens all of it"
        return {"figure": "nothing", "unit": "", "words": words, "short": f"is sharp at f/{camera.aperture:g}"}
    if zone.far is None:
        beginning = f"sharp from {format_length(zone.near, unit)} on"
        return {"figure": "∞", "unit": "", "words": f"{beginning} {passes}", "short": f"{beginning} at f/{camera.aperture:g}", "more": more}
    deep = zone.far - zone.near
    slant = np.cos(np.radians(camera.elevation))
    along = f"; {format_length(deep / slant, unit)} along the table" if slant > _STEEP else ""
    short = f"deep is sharp at f/{camera.aperture:g}"
    return {**_big(deep, unit), "words": f"deep is sharp {passes}{along}", "short": short, "more": more}


def _big(length_mm: float, unit: str) -> dict[str, str]:
    figure, _, small = format_length(length_mm, unit).rpartition(" ")
    return {"figure": figure, "unit": small}


def sharpness_words(picture: Picture, placement_id: str, crop: Crop | None) -> str:
    """Whether the thing is sharp in a crop: throughout, partly, or not."""
    silhouette = picture.silhouettes.get(placement_id)
    if silhouette is None:
        return "not in the picture"
    zone = sharpness_in(picture, FULL_FRAME if crop is None else crop.box)
    near, far = silhouette.depth
    if zone.near is None or far < zone.near or (zone.far is not None and near > zone.far):
        return "out of focus"
    if max(zone.missed(near, far)) <= SHARP_MM:
        return "sharp throughout"
    return "partly sharp"


def feature_readings(picture: Picture, placement_id: str, crop: Crop | None) -> list[dict[str, Any]]:
    """Each named place of a thing, whether it must be seen, and what this set-up shows of it."""
    prop = picture.props.get(placement_id)
    if prop is None:
        return []
    asked = {(item.placement, feature.id) for item, feature in asked_for(picture)}
    window = FULL_FRAME if crop is None else crop.box
    found = []
    for feature in prop.features:
        shown = in_frame(picture, placement_id, feature)
        words, place = "not in front of the lens", ""
        if shown is not None:
            seen = seen_within(picture, shown, window, delivered_across(picture, None if crop is None else crop.name))
            words, place = _seen_words(seen), _placed(picture, shown)
        found.append({"id": feature.id, "name": feature.name, "asked": (placement_id, feature.id) in asked, "words": words, "place": place})
    return found


def _seen_words(seen: FeatureSeen) -> str:
    if seen.angle_deg >= _AWAY_DEG:
        return "faces away"
    times = f"{seen.blur:.1f}"
    sharp = "sharp" if seen.blur <= 1 + BLUR_SLACK else "a little too soft" if times == "1.0" else f"{times} times too soft"
    return f"{seen.seen * 100:.0f} % seen, {seen.angle_deg:.0f}° from the lens, {sharp}, {seen.pixels_high:.0f} pixels high"


def _placed(picture: Picture, shown: FeatureInFrame) -> str:
    """The corners of what faces the lens in the frame's drawing units, as a script reads them; empty for what faces away."""
    if shown.outline is None or shown.angle_deg >= _AWAY_DEG:
        return ""
    put = frame_sheet(picture.view).put(np.array(shown.outline))
    return json.dumps([[round(float(x), 1), round(float(y), 1)] for x, y in put])


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
