"""Labels, wrapped round the front of jars and tins."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from .brush import PROP_PX, finished, flat, noise, rgb
from .dishes import marmalade

LABELS: dict[str, tuple[str, str, str]] = {
    "marmalade-jar": ("MARMALADE", "bitter orange", "thick cut"),
    "marmalade-jar-small": ("MARMALADE", "bitter orange", "fine cut"),
    "marmalade-jar-large": ("MARMALADE", "bitter orange", "for the shelf"),
    "lime-jar": ("LIME", "marmalade", "fine cut"),
    "honey-pot": ("HONEY", "lime blossom", "set"),
    "tea-tin-tall": ("No. 1", "harbour rain", "black leaf"),
    "tea-tin-low": ("No. 2", "orchard smoke", "black leaf"),
    "tea-tin-square": ("No. 3", "moss and mint", "green leaf"),
    "tea-tin-black": ("No. 4", "night ferry", "black leaf"),
    "tea-tin-ochre": ("No. 5", "late sun", "white leaf"),
    "tea-tin-rose": ("No. 6", "hedge rose", "petals"),
    "tea-tin-flat": ("No. 7", "first cut", "green leaf"),
    "sugar-bag": ("SUGAR", "for preserving", "1 kg"),
}


def label(row: dict[str, Any], seed: int) -> np.ndarray:
    """The front half of the wall, unrolled: the thing's own colour, the label with its words in the middle, the lid's band on top."""
    shape = row["shape"]
    around = shape["diameter"] * np.pi / 2 if "diameter" in shape else shape["width"]
    high = shape["height"]
    per_mm = PROP_PX / max(around, high)
    w, h = round(around * per_mm), round(high * per_mm)
    tones = [c["hex"] for c in row["colours"]]
    paper, lid = tones[1], tones[2] if len(tones) > 2 else tones[0]
    if "jar" in row["key"] or "pot" in row["key"]:
        n = max(w, h, 64)
        picture = cv2.resize(marmalade(n, tones[0], seed) * (0.92 if tones[0] != "#8f9a3a" else 1), (w, h))
        if row["key"] in ("lime-jar", "honey-pot"):
            picture = flat(h, w, tones[0]) * (1 + 0.08 * noise(h, w, 1.3, seed))[..., None]
    else:
        picture = flat(h, w, tones[0]) * (1 + 0.02 * noise(h, w, 1.2, seed))[..., None]
    top = 0.16 if lid != tones[0] else 0.04
    picture[: int(h * top)] = rgb(lid) * (1 + 0.05 * noise(max(2, int(h * top)), w, 0.5, seed)[..., None])
    picture[int(h * top) : int(h * top) + 2] *= 0.6
    share = 0.62 if "diameter" in shape else 0.78
    x0, x1, y0, y1 = int(w * (0.5 - share / 2)), int(w * (0.5 + share / 2)), int(h * 0.28), int(h * 0.84)
    block = flat(y1 - y0, x1 - x0, paper) * (1 + 0.02 * noise(y1 - y0, x1 - x0, 0.8, seed + 1))[..., None]
    picture[y0:y1, x0:x1] = block
    image = Image.fromarray(finished(picture))
    pen = ImageDraw.Draw(image)
    ink = "#3a2a1c" if np.mean(rgb(paper)) > 120 else "#efe6d2"
    accent = tones[0] if abs(np.mean(rgb(tones[0])) - np.mean(rgb(paper))) > 50 else ink
    pen.rectangle([x0 + 4, y0 + 4, x1 - 5, y1 - 5], outline=accent, width=2)
    middle, tall = (x0 + x1) / 2, y1 - y0
    for text, at, size, tone in zip(LABELS[row["key"]], (0.36, 0.62, 0.8), (0.25, 0.14, 0.115), (accent, ink, ink), strict=True):
        font, points = ImageFont.load_default(size=10), tall * size
        for _ in range(24):
            font = ImageFont.load_default(size=points)
            if pen.textlength(text, font=font) < (x1 - x0) * 0.82:
                break
            points *= 0.94
        pen.text((middle, y0 + tall * at), text, fill=tone, font=font, anchor="mm")
    return np.asarray(image)
