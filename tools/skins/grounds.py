"""Surfaces: boards, plaster, slate, canvas, tiles, as pictures that repeat without a seam."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from .brush import TILE_MM, TILE_PX, blend, flat, noise, speckled


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
