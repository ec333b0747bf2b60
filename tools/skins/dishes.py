"""Round things seen from above: plates, what dishes hold, cut fruit, lids."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import cv2
import numpy as np

from .brush import PROP_PX, blend, discs, finished, flat, noise, rgb, speckled


def glazed(row: dict[str, Any], seed: int) -> np.ndarray:
    """A plate: rim, the step to its well, a little unevenness of glaze, specks, a darker line where it broke at the lip."""
    n = PROP_PX
    tones = [c["hex"] for c in row["colours"]]
    r, _, mask = discs(n)
    picture = flat(n, n, tones[0]) * (1 + 0.02 * noise(n, n, 1.6, seed))[..., None]
    well = row["shape"].get("base_diameter", 0.6) / row["shape"].get("diameter", 1)
    step = np.exp(-(((r - well) / 0.022) ** 2)) - 0.8 * np.exp(-(((r - well - 0.04) / 0.03) ** 2))
    picture *= (1 - 0.13 * step)[..., None]
    picture *= (1 - 0.1 * np.clip((r - 0.93) / 0.07, 0, 1) ** 2)[..., None]
    if row["texture"] == "banded":
        picture = blend(picture, flat(n, n, tones[1]), np.clip((0.018 - np.abs(r - 0.88)) * n / 4, 0, 1) * 0.9)
    picture = speckled(picture, "#5b5044", 60 if row["texture"] == "glazed" else 12, (0.3, 1.0), seed, 0.5)
    lip = "#7b6a55" if np.mean(rgb(tones[0])) > 110 else "#8d8579"
    return finished(blend(picture, flat(n, n, lip), np.clip((r - 0.982) * 60, 0, 1) * 0.65), mask)


def filled(row: dict[str, Any], seed: int, content: Callable[[int, str, int], np.ndarray]) -> np.ndarray:
    """What a dish holds, as far as its wall; darker under the rim."""
    n = PROP_PX
    tones = [c["hex"] for c in row["colours"]]
    r, _, mask = discs(n)
    inside = content(n, tones[1] if len(tones) > 1 else tones[0], seed)
    return finished(inside * (1 - 0.34 * np.clip((r - 0.8) / 0.2, 0, 1) ** 2)[..., None], mask)


def marmalade(n: int, colour: str, seed: int) -> np.ndarray:
    random = np.random.default_rng(seed)
    picture = blend(flat(n, n, colour) * 0.8, flat(n, n, "#f0a236"), 0.32 + 0.2 * noise(n, n, 1.3, seed))
    for _ in range(110):
        x, y, a, long = random.uniform(0, n), random.uniform(0, n), random.uniform(0, np.pi), random.uniform(5, 13)
        ends = [(int((x + s * np.cos(a) * long) * 16), int((y + s * np.sin(a) * long) * 16)) for s in (-1, 1)]
        cover = np.zeros((n, n), np.float32)
        cv2.line(cover, *ends, 1.0, 4, cv2.LINE_AA, 4)
        picture = blend(picture, flat(n, n, "#f6b94a" if random.random() > 0.5 else "#c85a10"), cover * 0.55)
    for _ in range(46):
        at, size = (int(random.uniform(0, n)), int(random.uniform(0, n))), random.uniform(1.5, 5)
        cv2.circle(picture, at, int(size), (255, 214, 140), 1, cv2.LINE_AA)
    return picture


def heaped(n: int, colour: str, seed: int) -> np.ndarray:
    """Sugar, salt, cream: pale grains, lighter where it heaps."""
    r, _, _ = discs(n)
    heap = 1.02 - 0.1 * r + 0.05 * noise(n, n, 1.3, seed)
    return flat(n, n, colour) * heap[..., None] + 5 * noise(n, n, 0.1, seed + 1)[..., None]


def smooth_cream(n: int, colour: str, seed: int) -> np.ndarray:
    r, t, _ = discs(n)
    swirl = np.cos(3 * t + 14 * r) * np.exp(-2 * r)
    return flat(n, n, colour) * (1 + 0.05 * swirl + 0.01 * noise(n, n, 1.6, seed))[..., None]


def liquor(n: int, colour: str, seed: int) -> np.ndarray:
    r, _, _ = discs(n)
    return (
        blend(flat(n, n, colour), flat(n, n, "#e0a050"), np.clip((r - 0.62) / 0.3, 0, 1) * 0.6)
        * (1 + 0.03 * noise(n, n, 1.7, seed))[..., None]
    )


def lumps(n: int, colour: str, seed: int, size: float = 26.0) -> np.ndarray:
    """Beetroot, potatoes: pieces lying over each other."""
    random = np.random.default_rng(seed)
    picture = flat(n, n, colour) * 0.45
    for _ in range(70):
        x, y, a = random.uniform(0, n), random.uniform(0, n), random.uniform(0, np.pi)
        box = cv2.boxPoints(((x, y), (size * random.uniform(0.8, 1.25), size * random.uniform(0.6, 1)), float(np.degrees(a))))
        for grow, tone in ((1.12, 0.35), (1.0, random.uniform(0.8, 1.2))):
            cover = np.zeros((n, n), np.float32)
            cv2.fillPoly(cover, [np.rint(((box - [x, y]) * grow + [x, y]) * 16).astype(np.int32)], 1.0, cv2.LINE_AA, 4)
            picture = blend(picture, flat(n, n, colour) * tone, cover * 0.92)
    return picture * (1 + 0.03 * noise(n, n, 0.8, seed))[..., None]


def citrus(row: dict[str, Any], seed: int) -> np.ndarray:
    n = PROP_PX
    rind, pulp = (c["hex"] for c in row["colours"][:2])
    r, t, mask = discs(n)
    count = 10
    wobble = 0.03 * np.sin(5 * t + seed)
    part = ((t / (2 * np.pi) + 0.5 + 0.01 * noise(n, n, 1.8, seed)) * count) % 1
    membrane = np.clip((np.abs(part - 0.5) - 0.5) * r * 60 + 2.2, 0, 1)
    cells = noise(n, n, 0.75, seed + 1)
    juicy = blend(flat(n, n, pulp), flat(n, n, rind), 0.3 + 0.26 * cells + 0.25 * r)
    pith = rgb(pulp) * 0.35 + 255 * 0.62
    picture = blend(juicy, np.ones((n, n, 3)) * pith, membrane * np.clip((0.86 + wobble - r) * 40, 0, 1) * 0.85)
    picture = blend(picture, np.ones((n, n, 3)) * pith, np.clip((r - 0.82 - wobble) * 40, 0, 1))
    picture = blend(picture, np.ones((n, n, 3)) * pith, np.clip((0.09 - r) * 30, 0, 1))
    return finished(blend(picture, flat(n, n, rind), np.clip((r - 0.925) * 50, 0, 1)), mask)


def fig_face(row: dict[str, Any], seed: int) -> np.ndarray:
    n = PROP_PX
    random = np.random.default_rng(seed)
    r, t, mask = discs(n)
    edge = 0.04 * np.sin(4 * t + 1) + 0.03 * noise(n, n, 1.7, seed)
    red = row["colours"][-1]["hex"]
    flesh = blend(flat(n, n, red), flat(n, n, "#d98f86"), 0.35 + 0.3 * noise(n, n, 1.1, seed + 1))
    flesh *= (1 - 0.35 * np.exp(-((r / 0.16) ** 2)))[..., None]
    strands = np.clip(np.cos(46 * t + 3 * noise(n, n, 1.4, seed + 2)), 0, 1) * np.clip((r - 0.25) * 3, 0, 1)
    flesh = blend(flesh, flat(n, n, "#f0c9b0"), strands * 0.32)
    for _ in range(240):
        radius, angle = random.uniform(0.12, 0.6), random.uniform(0, 2 * np.pi)
        at = (int((0.5 + radius * np.cos(angle) / 2) * n * 16), int((0.5 + radius * np.sin(angle) / 2) * n * 16))
        cv2.circle(flesh, at, int(random.uniform(1.4, 2.6) * 16), (236, 208, 150), -1, cv2.LINE_AA, 4)
        cv2.circle(flesh, (at[0] + 10, at[1] + 10), int(0.8 * 16), (150, 70, 50), -1, cv2.LINE_AA, 4)
    picture = blend(flesh, flat(n, n, "#eed8c2"), np.clip((r - 0.68 - edge) * 9, 0, 1))
    picture = blend(picture, flat(n, n, "#cfd3a0"), np.clip((r - 0.86 - edge / 2) * 14, 0, 1) * 0.6)
    return finished(blend(picture, flat(n, n, row["colours"][0]["hex"]), np.clip((r - 0.945) * 40, 0, 1)), mask)


def tin_lid(row: dict[str, Any], seed: int) -> np.ndarray:
    n = 160
    r, _, mask = discs(n)
    tone = row["colours"][2]["hex"] if len(row["colours"]) > 2 else row["colours"][0]["hex"]
    picture = flat(n, n, tone) * (1 + 0.03 * noise(n, n, 0.8, seed) + 0.1 * np.sin(r * 60) * (np.abs(r - 0.8) < 0.1))[..., None]
    return finished(picture * (1 - 0.25 * np.exp(-(((r - 0.86) / 0.02) ** 2)))[..., None], mask)


def biscuit(row: dict[str, Any], seed: int) -> np.ndarray:
    n = 160
    r, _, mask = discs(n)
    picture = blend(
        flat(n, n, row["colours"][0]["hex"]),
        flat(n, n, row["colours"][1]["hex"]),
        np.clip((r - 0.55) * 1.6, 0, 1) + 0.14 * noise(n, n, 0.9, seed),
    )
    return finished(speckled(picture, "#6d4520", 26, (0.6, 1.6), seed), mask)


def cheese(row: dict[str, Any], seed: int) -> np.ndarray:
    n = 160
    _, _, mask = discs(n)
    return finished(
        flat(n, n, row["colours"][0]["hex"]) * (1 + 0.03 * noise(n, n, 1.2, seed) + 0.012 * noise(n, n, 0.1, seed))[..., None], mask
    )
