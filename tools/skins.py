"""Draw what the starter store's things wear: labels, glazes, cut fruit, bread, grain. Made in code from seeds; nobody's photographs.

Run ``python -m tools.skins``: writes the WebP files and manifest.json of src/tideflat/web/stores/skins, and the example photographs.
Pictures are drawn evenly lit: the drawing lays the light over them.
"""

from __future__ import annotations

import json
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from tideflat.core.formats.photograph import write_picture
from tideflat.web.stores.starter import SURFACES
from tideflat.web.stores.starter_props import PROPS

OUT = Path(__file__).resolve().parents[1] / "src/tideflat/web/stores"
#: Longest side of a prop's picture and of a tile, pixels; millimetres that a tile covers.
PROP_PX, TILE_PX, TILE_MM = 256, 320, 420.0
_ROWS = {row["key"]: row for row in PROPS}


def rgb(colour: str) -> np.ndarray:
    return np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)], dtype=float)


def noise(h: int, w: int, rough: float, seed: int, stretch: tuple[float, float] = (1.0, 1.0)) -> np.ndarray:
    """(h, w), mean 0, deviation 1, without a seam: white noise whose spectrum falls as 1 / f^rough. stretch: how much finer it is along y, x."""
    random = np.random.default_rng(seed)
    fy, fx = np.fft.fftfreq(h)[:, None] * h / stretch[0], np.fft.fftfreq(w)[None] * w / stretch[1]
    size = np.hypot(fy, fx)
    size[0, 0] = 1
    spectrum = np.fft.fft2(random.standard_normal((h, w))) / size**rough
    spectrum[0, 0] = 0
    field = np.real(np.fft.ifft2(spectrum))
    return field / field.std()


def blend(a: np.ndarray, b: np.ndarray, share: np.ndarray) -> np.ndarray:
    share = np.clip(share, 0, 1)[..., None]
    return a * (1 - share) + b * share


def flat(h: int, w: int, colour: str) -> np.ndarray:
    return np.ones((h, w, 3)) * rgb(colour)


def finished(picture: np.ndarray, mask: np.ndarray | None = None) -> np.ndarray:
    even = np.clip(np.rint(picture), 0, 255).astype(np.uint8)
    return even if mask is None else np.dstack([even, np.clip(np.rint(mask * 255), 0, 255).astype(np.uint8)])


def discs(n: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(radius as a share of the half side, angle, soft mask of the disc)."""
    y, x = (np.mgrid[0:n, 0:n] + 0.5) / n * 2 - 1
    r = np.hypot(x, y)
    return r, np.arctan2(y, x), np.clip((1 - r) * n / 2 + 0.5, 0, 1)


def speckled(picture: np.ndarray, colour: str, count: int, size: tuple[float, float], seed: int, opacity: float = 0.7) -> np.ndarray:
    random = np.random.default_rng(seed)
    h, w = picture.shape[:2]
    cover = np.zeros((h, w), np.float32)
    for _ in range(count):
        at = (int(random.integers(w) * 16), int(random.integers(h) * 16))
        cv2.circle(cover, at, int(random.uniform(*size) * 16), 1.0, -1, cv2.LINE_AA, 4)
    return blend(picture, flat(h, w, colour), cover * opacity)


# ---- surfaces


def boards(colours: tuple[str, str], seed: int, pitch_px: float, *, upright: bool = False, joint: float = 0.5) -> np.ndarray:
    n = TILE_PX
    grain = noise(n, n, 1.15, seed, (5.0, 0.35))
    fine = noise(n, n, 0.5, seed + 1, (1.0, 0.06))
    picture = blend(flat(n, n, colours[0]), flat(n, n, colours[1]), 0.38 + 0.22 * grain + 0.1 * fine)
    count = max(1, round(n / pitch_px))
    random = np.random.default_rng(seed + 2)
    rows = np.arange(n) * count / n
    tone = random.uniform(-0.09, 0.09, count)[rows.astype(int) % count]
    picture *= (1 + tone)[:, None, None]
    edge = np.abs((rows + 0.5) % 1 - 0.5) * n / count
    picture *= (1 - joint * np.clip(1.4 - edge, 0, 1))[:, None, None]
    return picture.transpose(1, 0, 2).copy() if upright else picture


def plaster(colours: tuple[str, str], seed: int, rough: float = 1.5) -> np.ndarray:
    n = TILE_PX
    cloud, trowel, grit = noise(n, n, rough, seed), noise(n, n, 1.2, seed + 1, (2.4, 0.8)), noise(n, n, 0.2, seed + 2)
    picture = blend(flat(n, n, colours[0]), flat(n, n, colours[1]), 0.36 + 0.24 * cloud + 0.12 * trowel)
    return picture * (1 + 0.018 * grit + 0.02 * trowel)[..., None]


def slate(colours: tuple[str, str], seed: int) -> np.ndarray:
    n = TILE_PX
    ridge, cloud = noise(n, n, 1.0, seed, (2.2, 0.5)), noise(n, n, 1.5, seed + 1)
    return (
        blend(flat(n, n, colours[0]), flat(n, n, colours[1]), 0.4 + 0.24 * cloud)
        * (1 + 0.045 * ridge + 0.02 * noise(n, n, 0.3, seed + 2))[..., None]
    )


def woven(colours: tuple[str, str], seed: int, n: int = TILE_PX, thread: int = 4) -> np.ndarray:
    y, x = np.mgrid[0:n, 0:n]
    over = ((x // thread + y // thread) % 2).astype(float)
    slub = noise(n, n, 0.9, seed, (0.2, 3.0)) + noise(n, n, 0.9, seed + 1, (3.0, 0.2))
    picture = blend(flat(n, n, colours[0]), flat(n, n, colours[1]), 0.25 + 0.22 * over + 0.12 * slub)
    return picture * (1 + 0.03 * noise(n, n, 1.6, seed + 2))[..., None]


def clay_tiles(colours: tuple[str, str], seed: int) -> np.ndarray:
    n = TILE_PX
    cells = 3
    step = n // cells
    random = np.random.default_rng(seed)
    picture = plaster(colours, seed, 1.2)[: step * cells, : step * cells]
    for i in range(cells):
        for j in range(cells):
            picture[i * step : (i + 1) * step, j * step : (j + 1) * step] *= (
                random.uniform(0.9, 1.08, 3) * 0.3 + random.uniform(0.9, 1.08) * 0.7
            )
    y, x = np.mgrid[0 : step * cells, 0 : step * cells] % step
    edge = np.minimum.reduce([x, y, step - 1 - x, step - 1 - y])
    return blend(picture, flat(*picture.shape[:2], "#6f584c"), np.clip(2.2 - edge, 0, 1) * 0.8)


SURFACE_ART: dict[str, Callable[[tuple[str, str], int], np.ndarray]] = {
    "blue-grey plaster": plaster,
    "pale oak boards": lambda c, s: boards(c, s, TILE_PX * 116 / TILE_MM),
    "walnut boards": lambda c, s: boards(c, s, TILE_PX * 127 / TILE_MM),
    "limestone": lambda c, s: speckled(plaster(c, s, 1.25), "#8f887a", 70, (0.3, 1.1), s, 0.4),
    "slate": slate,
    "whitewashed boards": lambda c, s: boards(c, s, TILE_PX * 98 / TILE_MM, upright=True, joint=0.3),
    "green-grey canvas": lambda c, s: woven(c, s, thread=2),
    "rose-clay tiles": clay_tiles,
}


# ---- round things from above


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


# ---- outlines


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


# ---- square things and cloths


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


# ---- labels, wrapped round the front


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


# ---- which wears what

_SHREDS: dict[str, Callable[[int, str, int], np.ndarray]] = {
    "preserving-pan": marmalade, "sugar-bowl": heaped, "salt-cellar": heaped, "cream-pot": smooth_cream, "horseradish": smooth_cream,
    "beetroot-bowl": lumps, "potato-bowl": lambda n, c, s: lumps(n, c, s, 52), "tea-bowl": liquor, "tea-cup": liquor,
}  # fmt: skip
_TOPS: dict[str, Callable[[dict[str, Any], int], np.ndarray]] = {
    **dict.fromkeys(("orange-half", "orange-slice", "lime-half", "lemon-half", "lemon-slice"), citrus),
    **dict.fromkeys(("cut-fig", "fig-quarter", "fig-slice"), fig_face),
    **dict.fromkeys(("dinner-plate", "side-plate", "dark-plate", "fig-plate", "marmalade-plate", "saucer", "clay-saucer"), glazed),
    **dict.fromkeys(("smoked-fish", "smoked-fish-small"), fish),
    **dict.fromkeys(("bread-slice", "toast", "rye-slice"), crumb),
    **dict.fromkeys(("sage", "bay-leaf", "orange-leaf", "fig-leaf"), leaf),
    **dict.fromkeys(("wooden-spoon", "bamboo-scoop"), wooden),
    **dict.fromkeys(("paring-knife", "bread-knife", "fig-knife", "fork", "butter-knife", "jam-spoon", "tea-spoon", "tea-scoop", "fish-knife", "fish-fork"), steel),
    **dict.fromkeys(("chopping-board", "bread-board", "bamboo-tray"), board_top),
    **dict.fromkeys(("fish-slate", "marble-slab"), stone_top),
    **dict.fromkeys(("tea-towel", "napkin", "muslin", "linen-dark", "linen-blue", "runner", "tea-linen", "plum-napkin", "jar-cover"), cloth_top),
    **dict.fromkeys(("marmalade-jar", "marmalade-jar-small", "marmalade-jar-large", "lime-jar", "honey-pot", "tea-tin-tall", "tea-tin-low", "tea-tin-black", "tea-tin-ochre", "tea-tin-rose"), tin_lid),
    "biscuit": biscuit, "goat-cheese": cheese, "lacquer-tray": lacquer,
    **{key: (lambda row, seed: filled(row, seed, _SHREDS[row["key"]])) for key in _SHREDS},
}  # fmt: skip


def skins_of(key: str) -> list[tuple[str, np.ndarray]]:
    """(face, picture) for each face that a starter prop wears one on."""
    row, seed = _ROWS[key], zlib.crc32(key.encode())
    found = [("top", _TOPS[key](row, seed))] if key in _TOPS else []
    if key in LABELS:
        found.append(("front", label(row, seed)))
    return found


def main() -> None:
    folder = OUT / "skins"
    for old in folder.glob("*.webp"):
        old.unlink()
    manifest: dict[str, Any] = {"props": {}, "surfaces": {}}
    for key in _ROWS:
        for face, picture in skins_of(key):
            name = f"{key}-{face}.webp"
            (folder / name).write_bytes(write_picture(picture, 68))
            manifest["props"].setdefault(key, []).append({"file": name, "face": face, "pixels": [picture.shape[1], picture.shape[0]]})
    for row in SURFACES:
        picture = finished(SURFACE_ART[row["name"]](tuple(row["colours"]), zlib.crc32(row["name"].encode())))
        name = row["name"].replace(" ", "-") + ".webp"
        (folder / name).write_bytes(write_picture(picture, 55))
        width = row["lines"]["pitch"] * 3 if row["name"] == "rose-clay tiles" and row["lines"] else TILE_MM
        manifest["surfaces"][row["name"]] = {"file": name, "width": width, "depth": width, "pixels": [picture.shape[1], picture.shape[0]]}
    (folder / "manifest.json").write_text(json.dumps(manifest, indent=1) + "\n")
    print(f"{len(list(folder.glob('*.webp')))} pictures, {sum(f.stat().st_size for f in folder.glob('*.webp')) // 1024} kB")
    examples()
    references()


def dusk(seed: int) -> np.ndarray:
    """A harbour at dusk: a band of late gold over dark water."""
    h, w = 300, 420
    y = np.arange(h)[:, None] / h * np.ones(w)
    sky = blend(flat(h, w, "#2c333d"), flat(h, w, "#c98f4a"), np.exp(-(((y - 0.5) / 0.12) ** 2)))
    sea = blend(
        flat(h, w, "#231c17"), flat(h, w, "#b98443"), 0.5 * np.exp(-(((y - 0.54) / 0.1) ** 2)) + 0.12 * noise(h, w, 1.1, seed, (3.5, 0.3))
    )
    picture = np.where((y < 0.53)[..., None], sky * (1 + 0.05 * noise(h, w, 1.8, seed + 1, (1.6, 0.6)))[..., None], sea)
    for k, (at, tall) in enumerate(((0.2, 46), (0.27, 30), (0.62, 58), (0.7, 34), (0.76, 40))):
        x = int(at * w)
        cv2.line(picture, (x, int(0.53 * h)), (x + k % 2, int(0.53 * h) - tall), (30, 24, 20), 2, cv2.LINE_AA)
        cv2.ellipse(picture, (x, int(0.535 * h)), (15, 4), 0, 0, 180, (26, 20, 18), -1, cv2.LINE_AA)
    return picture


def grove(seed: int) -> np.ndarray:
    """Morning light on a blue-grey wall, with oranges on a sill."""
    h, w = 300, 420
    y, x = np.mgrid[0:h, 0:w] / [[[h]], [[w]]]
    wall = blend(flat(h, w, "#5d6a72"), flat(h, w, "#8795a0"), 0.5 + 0.25 * noise(h, w, 1.6, seed))
    beam = np.clip(1 - np.abs(x + 0.6 * y - 0.75) * 4, 0, 1)
    picture = blend(wall, flat(h, w, "#f0e2c4"), 0.42 * cv2.GaussianBlur(beam, (0, 0), 6))
    picture[int(0.72 * h) :] = blend(flat(h, w, "#d9d3c6"), flat(h, w, "#b9b09c"), 0.4 + 0.2 * noise(h, w, 1.2, seed + 1, (3, 0.4)))[
        int(0.72 * h) :
    ]
    for cx, cy, r in ((0.3, 0.66, 34), (0.42, 0.68, 29), (0.68, 0.66, 33)):
        at = (int(cx * w), int(cy * h))
        cv2.ellipse(picture, (at[0] + 16, at[1] + r - 2), (r + 8, 8), 0, 0, 360, (150, 142, 126), -1, cv2.LINE_AA)
        for k in range(r, 0, -2):
            cv2.circle(
                picture,
                (at[0] - (r - k) // 4, at[1] - (r - k) // 4),
                k,
                (np.array([214, 112, 34]) * (0.72 + 0.42 * (1 - k / r))).clip(0, 255).tolist(),
                -1,
                cv2.LINE_AA,
            )
    return picture


def references() -> None:
    """Two pictures for the demo's briefs to be like."""
    folder = OUT / "references"
    folder.mkdir(exist_ok=True)
    for name, art in (("harbour-dusk", dusk), ("morning-sill", grove)):
        (folder / f"{name}.webp").write_bytes(write_picture(finished(art(7)), 74))


def examples() -> None:
    """Photographs to try measuring with, drawn by the tests' own camera."""
    from dataclasses import replace

    from tests.support.photographs import Shot, Thing, block, disc, photograph

    base = Shot(None, size=(2000, 1500), distance=700, tilt=16, noise=1.2)
    shots = {
        "board": replace(
            base,
            thing=Thing(block(230, 130), (230, 20), 14, 6, (176, 130, 80), (160, 114, 66)),
            distance=760,
            aim=(105, 0),
            table=(84, 96, 104),
        ),
        "jar": replace(
            base,
            thing=Thing(disc(78), (165, 10), height=96, colour=(196, 98, 26), second=(214, 160, 80)),
            tilt=24,
            distance=700,
            aim=(65, 0),
            table=(110, 84, 62),
        ),
        "linen": replace(base, table=(120, 134, 142), grain=0.1, aim=(60, 0), distance=760),
    }
    folder = OUT / "examples"
    folder.mkdir(exist_ok=True)
    for name, shot in shots.items():
        exif = Image.Exif()
        exif.get_ifd(0x8769)[0xA405] = 26
        Image.fromarray(photograph(shot)).save(folder / f"{name}.jpg", quality=92, exif=exif)


if __name__ == "__main__":
    main()
