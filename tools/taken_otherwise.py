"""A photograph as if it had been taken otherwise, of which nothing that is measured in it may hang: for ``tools.measured_pictures --as``."""

from __future__ import annotations

import io
from collections.abc import Callable

import cv2
import numpy as np
from PIL import Image

from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision.smooth_light import linear

_QUALITY, _SENT_QUALITY, _SENT_SIZE = 88, 60, 0.75
_SOFT_PX, _SEED, _NOISE = 1.0, 5, 9.0
#: A wide lens's, in the picture's corners.
_BEND = 0.03


def srgb(light: np.ndarray) -> np.ndarray:
    """(h, w, 3) uint8 of linear light, what is more than white burnt out (IEC 61966-2-1)."""
    kept = np.clip(light, 0, 1)
    return np.asarray((np.where(kept <= 0.0031308, kept * 12.92, 1.055 * kept ** (1 / 2.4) - 0.055) * 255 + 0.5).astype(np.uint8))


def _saved(rgb: np.ndarray, quality: int = _QUALITY) -> np.ndarray:
    kept = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(rgb)).save(kept, "JPEG", quality=quality)
    return np.asarray(Image.open(kept).convert("RGB"))


def _lit(*gains: float) -> Callable[[np.ndarray], np.ndarray]:
    return lambda rgb: _saved(srgb(linear(rgb) * np.array(gains, np.float32)))


def _darker_at_the_corners(rgb: np.ndarray) -> np.ndarray:
    h, w = rgb.shape[:2]
    y, x = np.mgrid[:h, :w].astype(np.float32)
    far = ((x - w / 2) ** 2 + (y - h / 2) ** 2) / (w / 2) ** 2
    return _saved(srgb(linear(rgb) / (1 + 0.55 * far[..., None]) ** 2))


def _by_a_phone(rgb: np.ndarray) -> np.ndarray:
    """More contrast in the middle tones, and more colour."""
    level = rgb.astype(np.float32) / 255
    curved = np.clip(level + 0.09 * np.sin(2 * np.pi * (level - 0.5)), 0, 1)
    grey = curved.mean(axis=2, keepdims=True)
    return _saved((np.clip(grey + 1.2 * (curved - grey), 0, 1) * 255 + 0.5).astype(np.uint8))


def _noisy(rgb: np.ndarray) -> np.ndarray:
    noise = np.random.default_rng(_SEED).normal(0, _NOISE, rgb.shape).astype(np.float32)
    return _saved(np.clip(rgb + cv2.GaussianBlur(noise, (0, 0), 0.7), 0, 255).astype(np.uint8))


def through_a_lens(rgb: np.ndarray, bend: float) -> np.ndarray:
    """As a wide lens shows it, by OpenCV's model of one: what is in a corner so much further out, as a share of its way; inward negative."""
    h, w = rgb.shape[:2]
    half = float(np.hypot(w, h)) / 2
    camera = np.array([[half, 0, (w - 1) / 2], [0, half, (h - 1) / 2], [0, 0, 1]])
    places = np.stack(np.meshgrid(np.arange(w), np.arange(h)), axis=-1).reshape(-1, 1, 2).astype(np.float64)
    straight = cv2.undistortPoints(places, camera, np.array([bend, 0.0, 0.0, 0.0]), P=camera).reshape(h, w, 2).astype(np.float32)
    return cv2.remap(rgb, straight[..., 0], straight[..., 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)


#: By their names, of (h, w, 3) uint8 each.
WAYS: dict[str, Callable[[np.ndarray], np.ndarray]] = {
    "turned": lambda rgb: np.ascontiguousarray(np.rot90(rgb)),
    "mirrored": lambda rgb: np.ascontiguousarray(rgb[:, ::-1]),
    "dark": _lit(0.4, 0.4, 0.4),
    "light": _lit(1.5, 1.5, 1.5),
    "warm": _lit(1.25, 1.0, 0.55),
    "cold": _lit(0.78, 0.95, 1.2),
    "corners": _darker_at_the_corners,
    "phone": _by_a_phone,
    "noisy": _noisy,
    "bulging": lambda rgb: _saved(through_a_lens(rgb, -_BEND)),
    "pinched": lambda rgb: _saved(through_a_lens(rgb, _BEND)),
    "soft": lambda rgb: _saved(cv2.GaussianBlur(rgb, (0, 0), _SOFT_PX)),
    "sent": lambda rgb: _saved(cv2.resize(rgb, None, fx=_SENT_SIZE, fy=_SENT_SIZE, interpolation=cv2.INTER_AREA), _SENT_QUALITY),
}


def taken(photograph: Photograph, way: str) -> Photograph:
    """The same, that way. Raises KeyError for a way that is none."""
    return Photograph(WAYS[way](photograph.rgb), photograph.focal_35mm)
