"""Crops as they are drawn over the frame, with the veil over what the chosen one leaves out."""

from __future__ import annotations

from typing import Any

from tideflat.core.camera.crops import Crop
from tideflat.core.evaluate import Picture

from .sheets import Sheet


def chosen_crop(picture: Picture, name: str) -> Crop | None:
    """The crop that stays bright: the one named, or the first; None when nothing is asked for."""
    return next((c for c in picture.crops if c.name == name), picture.crops[0] if picture.crops else None)


def crop_view(crop: Crop, sheet: Sheet, chosen: bool) -> dict[str, Any]:
    """A crop as drawn, and the sensor's pixels it covers."""
    u0, v0, u1, v1 = crop.box
    drawn = {
        "name": crop.name,
        "x": u0 * sheet.width,
        "y": v0 * sheet.height,
        "width": (u1 - u0) * sheet.width,
        "height": (v1 - v0) * sheet.height,
        "chosen": chosen,
        "enlargement": crop.enlargement,
        "pixels": crop.pixels,
    }
    drawn["rims"] = [
        {"x": a * sheet.width, "y": b * sheet.height, "width": (c - a) * sheet.width, "height": (d - b) * sheet.height}
        for a, b, c, d in dict.fromkeys((crop.trim_box, crop.safe_box))
        if chosen and (a, b, c, d) != crop.box
    ]
    if crop.copy_box is not None:
        a, b, c, d = crop.copy_box
        drawn["copy"] = {"x": a * sheet.width, "y": b * sheet.height, "width": (c - a) * sheet.width, "height": (d - b) * sheet.height}
    return drawn


def veil(box: tuple[float, float, float, float], sheet: Sheet) -> str:
    """The frame less the box, as a path."""
    w, h = sheet.width, sheet.height
    u0, v0, u1, v1 = box[0] * w, box[1] * h, box[2] * w, box[3] * h
    return f"M0 0H{w:g}V{h:g}H0ZM{u0:.1f} {v0:.1f}V{v1:.1f}H{u1:.1f}V{v0:.1f}Z"
