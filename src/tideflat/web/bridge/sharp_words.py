"""What will be sharp, in words: thing by thing, in the pixels of what is delivered; what holds them sharp; how long it may be exposed."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import shapely

from tideflat.core.camera.lens import focus_reach_mm
from tideflat.core.camera.optics import airy_of, blur_mm, combined_blur_mm
from tideflat.core.camera.sharp_zone import sharp_on_surface
from tideflat.core.delivered import confusion_in, sharpness_in
from tideflat.core.evaluate import Picture
from tideflat.core.facts.optics import THIRD_STOPS
from tideflat.core.findings.exposed import told
from tideflat.core.frame.hold_sharp import Held
from tideflat.core.moving import all_moving, delivered_per_mm, handheld_limit_s
from tideflat.core.tolerances import SHARP_MM
from tideflat.core.units import format_length

from .drawing import path_data
from .sheets import Sheet
from .time_words import time_words

#: Sharp in more than this part, the whole surface is.
_WHOLE = 0.999
#: Looking down more steeply than this (cosine), the depth along the table is nearly endless, and not told.
_STEEP = 0.31


#: A streak that is plainly meant, in delivered pixels, for which a time is told beforehand.
STREAK_PX = 40


def zone_words(picture: Picture, crop: str | None, unit: str) -> str:
    """One sentence: from where to where it is sharp, and why that is all."""
    window = next((box for name, box in picture.windows if name == crop), picture.windows[0][1])
    zone, camera, view = sharpness_in(picture, window), picture.setup.camera, picture.view
    at = f"At f/{camera.aperture:g}, focused {format_length(view.lens.distance, unit)} from the lens, "
    if zone.near is None:
        return at + "nothing is sharp: so small a stop bends the light (diffraction) more than passes for sharp."
    if zone.far is None:
        return at + f"everything from {format_length(zone.near, unit)} on is sharp."
    depth = zone.far - zone.near
    level = math.cos(math.radians(camera.elevation))
    along = f", {format_length(depth / level, unit)} along the table" if level > _STEEP and view.hinge is None else ""
    return (
        at
        + f"it is sharp from {format_length(zone.near, unit)} to {format_length(zone.far, unit)}: {format_length(depth, unit)} deep{along}."
    )


def things_words(picture: Picture) -> list[dict[str, Any]]:
    """Each thing in the picture, the nearest first: sharp all over, sharp in part, or soft, with its worst blur in delivered pixels."""
    crop = max(picture.crops, key=lambda c: c.enlargement / c.share_of_frame, default=None)
    window = picture.windows[0][1] if crop is None else crop.box
    zone, lens, aperture = sharpness_in(picture, window), picture.view.lens, picture.setup.camera.aperture
    airy, passes = airy_of(lens, aperture), confusion_in(picture, window)
    per_mm = delivered_per_mm(picture, crop)
    found = []
    for i, silhouette in sorted(picture.silhouettes.items(), key=lambda item: item[1].sharp_depth[0]):
        near, far = silhouette.sharp_depth
        worst = max(combined_blur_mm(blur_mm(lens, aperture, d), airy) for d in (near, far))
        missed = max(zone.missed(near, far))
        state = (
            "sharp"
            if zone.near is not None and missed <= SHARP_MM
            else "partly"
            if zone.near is not None and missed < far - near
            else "soft"
        )
        found.append(
            {
                "id": i,
                "name": picture.props[i].name,
                "state": state,
                "words": _state_words(state, worst / passes),
                "pixels": f"{worst * per_mm:.1f}",
            }
        )
    return found


def _state_words(state: str, times: float) -> str:
    if state == "sharp":
        return "sharp all over"
    how = "a little soft" if times < 2 else "soft" if times < 6 else "a blur"
    return f"sharp in part, else {how}" if state == "partly" else how


def held_words(held: Held, names: str, unit: str) -> dict[str, Any]:
    """The ways to hold things sharp, each as a sentence; ``once`` and ``tilt`` have what a button needs."""
    found: dict[str, Any] = {"names": names, "reason": held.reason, "depth": format_length(held.far - held.near, unit)}
    if held.at_once is not None:
        found["once"] = f"f/{held.at_once.aperture:g}"
    if held.steps is not None:
        places = [format_length(d, unit) for d in held.steps.distances]
        few = places if len(places) <= 8 else [*places[:4], "\u2026", *places[-2:]]
        found["steps"] = {"count": len(places), "stop": f"f/{held.steps.aperture:g}", "places": ", ".join(few)}
    if held.tilted is not None:
        found["tilt"] = {
            "degrees": f"{held.tilted.tilt:.1f}",
            "way": _way(held.tilted.toward),
            "stop": f"f/{held.tilted.aperture:g}",
            "hinge": format_length(held.tilted.hinge, unit),
        }
    return found


def _way(toward: float) -> str:
    """The nearest of eight ways that the front of the lens leans, from behind the camera."""
    return ("right", "up and right", "up", "up and left", "left", "down and left", "down", "down and right")[round(toward / 45) % 8]


def exposure_words(picture: Picture) -> dict[str, Any]:
    """How it is exposed, how long a hand is still, what the closeness costs in light, and what moves."""
    exposure, lens = picture.setup.exposed, picture.view.lens
    lost = 2 * math.log2(1 + lens.magnification / lens.pupil_ratio)
    return {
        "time": "" if exposure is None else _typed(exposure.time_s),
        "iso": "" if exposure is None else f"{exposure.iso:g}",
        "flash": exposure is not None and exposure.flash,
        "handheld": exposure is not None and exposure.handheld,
        "filter": f"{exposure.filter_stops:g}" if exposure is not None and exposure.filter_stops else "",
        "hand": time_words(handheld_limit_s(picture)),
        "lost": f"{lost:.1f}" if lost >= 0.1 else "",
        "moving": [
            {
                "id": m.placement,
                "name": picture.props[m.placement].name,
                "streak": time_words(STREAK_PX / m.pixels_s),
                "freezes": time_words(m.longest_s),
                "where": m.crop or "the picture",
                "smears": "" if exposure is None or exposure.flash else f"{m.pixels_s * exposure.time_s:.0f}",
                "more": ""
                if exposure is None or exposure.flash or exposure.time_s <= m.longest_s
                else f"{math.log2(exposure.time_s / m.longest_s):.1f}",
            }
            for m in all_moving(picture)
        ],
    }


def _typed(seconds: float) -> str:
    return told(seconds).removesuffix(" s")


def slides(picture: Picture, unit: str) -> list[dict[str, Any]]:
    """Aperture and focus as they are slid: the values that can be had, as a script posts them and as a person reads them."""
    lens, camera = picture.setup.camera.lens, picture.setup.camera
    stops = sorted({n for n in THIRD_STOPS if lens.max_aperture <= n <= lens.min_aperture} | {camera.aperture})
    now = picture.view.lens.distance
    depths = [d for s in picture.silhouettes.values() for d in s.sharp_depth if math.isfinite(d)] or [now]
    nearest, furthest = focus_reach_mm(lens, camera.sensor)
    low, high = max(min(depths), nearest), min(max(depths), furthest or math.inf)
    places = (
        sorted({round(low + (high - low) * k / _FOCUS_STEPS, 1) for k in range(_FOCUS_STEPS + 1)} | {round(now, 1)})
        if high > low
        else [round(now, 1)]
    )
    return [
        _slide("aperture", "stop", "aperture", stops, stops.index(camera.aperture), [f"f/{n:g}" for n in stops]),
        _slide(
            "focus_distance", "focus", "focus, from the lens", places, places.index(round(now, 1)), [format_length(d, unit) for d in places]
        ),
    ]


#: Places of the focus between the nearest and the furthest thing.
_FOCUS_STEPS = 40


def _slide(field: str, words: str, label: str, values: list[float], at: int, said: list[str]) -> dict[str, Any]:
    return {
        "field": field,
        "words": words,
        "label": label,
        "values": "|".join(f"{v:.6g}" for v in values),
        "said": "|".join(said),
        "at": at,
        "last": len(values) - 1,
        "now": said[at],
    }


def zone_drawn(picture: Picture, table: Sheet, frame: Sheet) -> dict[str, str]:
    """What of the surface is sharp, as a path in both views; empty where nothing is, or all of it."""
    surface = picture.scene.surface
    outline = sharp_on_surface(picture.view, sharpness_in(picture), surface)
    if len(outline) < 3 or shapely.Polygon(outline).area > _WHOLE * surface.width * surface.depth:
        return {"table": "", "frame": ""}
    around = np.column_stack([outline, np.zeros(len(outline))])
    places = picture.view.project(around)
    seen = path_data(np.clip(places[:, :2], -3, 4), frame) if picture.view.is_in_front(places[:, 2]) else ""
    return {"table": path_data(outline, table), "frame": seen}
