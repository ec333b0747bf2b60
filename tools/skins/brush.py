"""What all the pictures are painted with: noise without a seam, blending, discs, specks."""

from __future__ import annotations

import cv2
import numpy as np

#: Longest side of a prop's picture and of a tile, pixels; millimetres that a tile covers.
PROP_PX, TILE_PX, TILE_MM = 256, 320, 420.0


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
