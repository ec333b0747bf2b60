"""Things with an outline of their own: fish, bread, leaves, spoons, blades."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

from .brush import PROP_PX, blend, finished, flat, noise


def outlined(row: dict[str, Any]) -> tuple[np.ndarray, np.ndarray, float]:
    """(soft mask, distance to the edge in mm, mm a pixel) of a prop with an outline of its own."""
    points = np.array(row["shape"]["points"])
    low, high = points.min(axis=0), points.max(axis=0)
    per_mm = PROP_PX / max(high - low)
    w, h = (max(8, int(np.ceil(v * per_mm))) for v in high - low)
    pixels = np.column_stack([(points[:, 0] - low[0]) * per_mm, (high[1] - points[:, 1]) * per_mm])
    big = np.zeros((h * 4, w * 4), np.uint8)
    cv2.fillPoly(big, [np.rint(pixels * 4).astype(np.int32)], 255)
    mask = cv2.resize(big, (w, h), interpolation=cv2.INTER_AREA) / 255
    far = cv2.resize(cv2.distanceTransform(big, cv2.DIST_L2, 5), (w, h), interpolation=cv2.INTER_AREA) / 4 / per_mm
    return mask, far, 1 / per_mm


def fish(row: dict[str, Any], seed: int) -> np.ndarray:
    """Smoked skin: gold flank, dark back, scales in a net, gill and eye at the head (+x)."""
    mask, _, mm = outlined(row)
    h, w = mask.shape
    y, x = np.mgrid[0:h, 0:w] * mm
    across = (np.arange(h) / h)[:, None] * np.ones(w)
    dark, gold = row["colours"][0]["hex"], row["colours"][1]["hex"]
    picture = blend(flat(h, w, dark) * 0.7, flat(h, w, gold), np.clip(1.25 - 2.4 * np.abs(across - 0.6), 0, 1))
    size = 7.5
    row_at = np.floor(y / (size * 0.55))
    u, v = (x + (row_at % 2) * size / 2) % size - size / 2, y % (size * 0.55)
    scale = np.clip(1.6 * np.abs(np.hypot(u * 0.9, v - size * 0.1) - size * 0.42) / mm, 0, 1)
    body = np.clip((0.8 * w * mm - x) / 6, 0, 1) * np.clip((x - 0.12 * w * mm) / 8, 0, 1)
    picture *= (1 - 0.3 * (1 - scale) * body)[..., None]
    picture *= (1 + 0.06 * noise(h, w, 1.3, seed))[..., None]
    eye = (int(w * 0.93 * 16), int(h * 0.42 * 16))
    cv2.ellipse(picture, (int(w * 0.83), int(h * 0.5)), (int(w * 0.02), int(h * 0.3)), 0, -80, 80, (70, 42, 18), 2, cv2.LINE_AA)
    for radius, tone in ((3.4, (60, 40, 20)), (2.3, (214, 178, 92)), (1.3, (16, 12, 8))):
        cv2.circle(picture, eye, int(radius / mm * 16), tone, -1, cv2.LINE_AA, 4)
    return finished(picture, mask)


def crumb(row: dict[str, Any], seed: int) -> np.ndarray:
    mask, far, mm = outlined(row)
    h, w = mask.shape
    random = np.random.default_rng(seed)
    crust, inner = (c["hex"] for c in row["colours"][:2])
    picture = flat(h, w, inner) * (1 + 0.05 * noise(h, w, 0.9, seed))[..., None]
    for _ in range(190):
        at, size = (int(random.uniform(0, w)), int(random.uniform(0, h))), random.uniform(0.5, 2.6) / mm
        cover = np.zeros((h, w), np.float32)
        cv2.ellipse(
            cover,
            at,
            (max(1, int(size)), max(1, int(size * random.uniform(0.5, 0.9)))),
            random.uniform(0, 180),
            0,
            360,
            1.0,
            -1,
            cv2.LINE_AA,
        )
        picture = blend(picture, flat(h, w, crust) * 0.9, cover * random.uniform(0.15, 0.42))
    return finished(blend(picture, flat(h, w, crust), np.clip((5.0 + 1.2 * noise(h, w, 1.5, seed + 1) - far) / 2.5, 0, 1)), mask)


def leaf(row: dict[str, Any], seed: int) -> np.ndarray:
    mask, far, _ = outlined(row)
    h, w = mask.shape
    y, x = np.mgrid[0:h, 0:w]
    mid = np.abs(y - h / 2)
    colour = row["colours"][0]["hex"]
    picture = blend(flat(h, w, colour) * 0.86, flat(h, w, colour) * 1.16, 0.5 + 0.3 * noise(h, w, 1.2, seed))
    vein = np.clip(1.3 - mid, 0, 1) + 0.6 * np.clip(np.cos((x - mid * 1.1) * 2 * np.pi / (w / 9)) * 14 - 13, 0, 1)
    picture = blend(picture, flat(h, w, colour) * 1.1 + 34, np.clip(vein, 0, 1) * 0.8)
    return finished(picture * (1 - 0.18 * np.clip(1.4 - far, 0, 1))[..., None], mask)


def wooden(row: dict[str, Any], seed: int) -> np.ndarray:
    mask, far, _ = outlined(row)
    h, w = mask.shape
    colour = row["colours"][0]["hex"]
    grain = noise(h, w, 1.0, seed, (2.6, 0.2))
    return finished(flat(h, w, colour) * (1 + 0.07 * grain - 0.2 * np.clip(1.6 - far, 0, 1))[..., None], mask)


def steel(row: dict[str, Any], seed: int) -> np.ndarray:
    """A spoon, fork or blade: one bright and one dark reflection along it; the knife's handle of wood."""
    mask, far, mm = outlined(row)
    h, w = mask.shape
    y, x = np.mgrid[0:h, 0:w]
    colour = row["colours"][0]["hex"]
    light = (
        0.98
        + 0.42 * np.exp(-(((y / h - 0.34) / 0.1) ** 2))
        - 0.5 * np.exp(-(((y / h - 0.68) / 0.14) ** 2))
        + 0.02 * noise(h, w, 0.4, seed, (2, 0.1))
    )
    picture = flat(h, w, colour) * light[..., None]
    if "knife" in row["key"] and row["key"] not in ("butter-knife", "fish-knife"):
        wood = flat(h, w, "#4a3222") * (1 + 0.12 * noise(h, w, 1.0, seed, (2.6, 0.2)))[..., None]
        picture = blend(picture, wood, np.clip((0.42 * w - x) / 2, 0, 1))
        for at in (0.1, 0.24, 0.36):
            cv2.circle(picture, (int(at * w * 16), int(h * 0.5 * 16)), int(1.6 / mm * 16), (196, 176, 120), -1, cv2.LINE_AA, 4)
    return finished(picture * (1 - 0.3 * np.clip(0.8 - far, 0, 1))[..., None], mask)
