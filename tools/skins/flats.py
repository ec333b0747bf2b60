"""Square things and cloths: boards, slabs, trays, linen."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

from .brush import PROP_PX, blend, discs, finished, flat, noise, rgb


def board_top(row: dict[str, Any], seed: int) -> np.ndarray:
    w = PROP_PX
    shape = row["shape"]
    wide, deep = shape.get("width", shape.get("diameter")), shape.get("depth", shape.get("diameter"))
    h = round(w * deep / wide)
    colour = row["colours"][0]["hex"]
    grain, rings = noise(h, w, 1.1, seed, (4.0, 0.4)), noise(h, w, 1.6, seed + 1, (1.6, 0.5))
    lines = np.sin((np.arange(h)[:, None] / h * 42 + rings * 3.4) * 2 * np.pi / 3)
    picture = flat(h, w, colour) * (1 + 0.05 * grain + 0.035 * lines)[..., None]
    random = np.random.default_rng(seed)
    for _ in range(16):  # knife marks: wear tells a story
        x, y, a, long = random.uniform(0.2, 0.8) * w, random.uniform(0.2, 0.8) * h, random.normal(0.9, 0.4), random.uniform(10, 46)
        cv2.line(
            picture, (int(x), int(y)), (int(x + np.cos(a) * long), int(y + np.sin(a) * long)), (rgb(colour) * 0.84).tolist(), 1, cv2.LINE_AA
        )
    if shape["kind"] == "cylinder":
        return finished(picture, cv2.resize(discs(w)[2], (w, h)))
    return finished(picture)


def stone_top(row: dict[str, Any], seed: int) -> np.ndarray:
    w = PROP_PX
    h = round(w * row["shape"]["depth"] / row["shape"]["width"])
    tones = [c["hex"] for c in row["colours"]] * 2
    vein = np.abs(noise(h, w, 1.5, seed)) < 0.035
    picture = blend(flat(h, w, tones[0]), flat(h, w, tones[1]), 0.25 + 0.2 * noise(h, w, 1.5, seed + 1))
    picture *= (1 + 0.03 * noise(h, w, 1.0, seed + 2, (2.0, 0.6)))[..., None]
    return finished(blend(picture, picture * 0.8, cv2.GaussianBlur(vein.astype(np.float32), (0, 0), 1.2)))


def lacquer(row: dict[str, Any], seed: int) -> np.ndarray:
    w = PROP_PX
    h = round(w * row["shape"]["depth"] / row["shape"]["width"])
    y, x = np.mgrid[0:h, 0:w]
    edge = np.minimum.reduce([x, y, w - 1 - x, h - 1 - y])
    return finished(flat(h, w, row["colours"][0]["hex"]) * (1 + 0.5 * (np.abs(edge - 9) < 1.2) + 0.04 * noise(h, w, 1.7, seed))[..., None])


def cloth_top(row: dict[str, Any], seed: int) -> np.ndarray:
    """The whole cloth laid out: weave, stripes if it has any, a hem, and soft folds."""
    w = 300
    h = round(w * row["shape"]["depth"] / row["shape"]["width"])
    tones = [c["hex"] for c in row["colours"]]
    y, x = np.mgrid[0:h, 0:w]
    over = ((x // 2 + y // 2) % 2) * 0.5
    picture = blend(
        flat(h, w, tones[0]),
        flat(h, w, tones[1] if row["texture"] == "woven" else tones[0]),
        0.2 + 0.2 * over + 0.1 * noise(h, w, 0.8, seed, (0.3, 2.5)),
    )
    picture *= (0.97 + 0.03 * over)[..., None]
    if row["texture"] == "striped":
        at = np.minimum(x, w - 1 - x) / w
        stripe = sum(np.clip((half - np.abs(at - middle)) * w, 0, 1) for middle, half in ((0.1, 0.016), (0.15, 0.006), (0.2, 0.016)))
        picture = blend(picture, flat(h, w, tones[1]), stripe * 0.92)
    fold = noise(h, w, 2.7, seed + 3, (0.8, 1.5))
    light = np.gradient(fold, axis=1) * 2 + np.gradient(fold, axis=0)
    picture *= (1 + 0.075 * np.clip(light / light.std(), -2.2, 2.2))[..., None]
    hem = np.minimum.reduce([x, y, w - 1 - x, h - 1 - y])
    return finished(picture * (1 - 0.12 * (np.abs(hem - 5) < 0.8))[..., None])
