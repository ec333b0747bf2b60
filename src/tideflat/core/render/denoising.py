"""Noise taken out of a picture by light paths: Open Image Denoise guided by what is seen (colour and turn of every face), or, where that is
not installed, a plain joint filter that leaves more of it.

The plain one: joint non-local means over the guides (E. Eisemann and F. Durand, "Flash photography enhancement via intrinsic relighting",
2004, for the joint weight).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..tolerances import LEAST_LIGHT

#: The plain filter looks so far about, pixels; and how alike two places must be, in light (its root), colour and turn.
_REACH, _ALIKE_LIGHT, _ALIKE_GUIDE = 4, 0.35, 0.08


@dataclass(frozen=True, eq=False, slots=True)
class Guides:
    """What is seen in each pixel: (h, w, 3) float32, what it gives back (0..1) and which way it is turned."""

    albedo: np.ndarray
    normal: np.ndarray


def has_denoiser() -> bool:
    """Whether Open Image Denoise is installed."""
    from importlib.util import find_spec

    return find_spec("pyoidn") is not None


def denoised(picture: np.ndarray, guides: Guides | None) -> np.ndarray:
    """(h, w, 3) linear light with less noise."""
    if has_denoiser():
        from pyoidn import denoise

        colour = np.ascontiguousarray(np.maximum(picture, 0.0), dtype=np.float32)
        if guides is None:
            return np.asarray(denoise(colour, hdr=True))
        return np.asarray(denoise(colour, guides.albedo, guides.normal, hdr=True))
    return picture if guides is None else _plainly(picture, guides)


def _plainly(picture: np.ndarray, guides: Guides) -> np.ndarray:
    albedo = np.maximum(guides.albedo, 0.02)
    light = picture / albedo
    root = np.sqrt(np.maximum(light, 0.0))
    scale = max(float(root.mean()), LEAST_LIGHT)
    total, weight = np.zeros_like(light), np.zeros(light.shape[:2])
    padded = [np.pad(a, ((_REACH, _REACH), (_REACH, _REACH), (0, 0)), mode="edge") for a in (light, root, albedo, guides.normal)]
    height, width = light.shape[:2]
    for dy in range(-_REACH, _REACH + 1):
        for dx in range(-_REACH, _REACH + 1):
            part = np.s_[_REACH + dy : _REACH + dy + height, _REACH + dx : _REACH + dx + width]
            far = ((padded[1][part] - root) ** 2).sum(axis=2) / (_ALIKE_LIGHT * scale) ** 2
            unlike = ((padded[2][part] - albedo) ** 2).sum(axis=2) + ((padded[3][part] - guides.normal) ** 2).sum(axis=2)
            share = np.exp(-far - unlike / _ALIKE_GUIDE**2 - (dx * dx + dy * dy) / _REACH**2)
            total += share[..., None] * padded[0][part]
            weight += share
    return total / weight[..., None] * albedo  # type: ignore[no-any-return]
