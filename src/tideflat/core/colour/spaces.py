"""sRGB, XYZ, CIELAB (D65) and OKLCH, for whole arrays of colours.

Sources: IEC 61966-2-1 (sRGB primaries, white and transfer curve); CIE 15:2018 (CIELAB); B. Ottosson, "A perceptual color space
for image processing", 2020 (OKLab). The matrix from sRGB to XYZ is worked out from the primaries, not typed in, so it differs
from the standard's rounded one in the fourth figure: at most 0.03 in Lab.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np

from ..remember import counted
from ..tolerances import GREY_CHROMA
from .transfer import decoded_array, encoded_array

#: CIE x, y of the sRGB primaries, and of D65 as IEC 61966-2-1 rounds it.
_PRIMARIES = np.array([[0.64, 0.33], [0.30, 0.60], [0.15, 0.06]])
_D65 = (0.3127, 0.3290)
#: XYZ of the white, Y = 1.
WHITE = np.array([_D65[0] / _D65[1], 1.0, (1 - sum(_D65)) / _D65[1]])
#: CIE 15: where the cube root gives way to a line, and the line's slope.
_EPSILON, _KAPPA = 216 / 24389, 24389 / 27

# Ottosson 2020: linear sRGB to cone responses, and their cube roots to OKLab.
_CONES = np.array(
    [[0.4122214708, 0.5363325363, 0.0514459929], [0.2119034982, 0.6806995451, 0.1073969566], [0.0883024619, 0.2817188376, 0.6299787005]]
)
_OKLAB = np.array(
    [[0.2104542553, 0.7936177850, -0.0040720468], [1.9779984951, -2.4285922050, 0.4505937099], [0.0259040371, 0.7827717662, -0.8086757660]]
)


def _rgb_to_xyz_matrix() -> np.ndarray:
    xyz = np.column_stack([_PRIMARIES, 1 - _PRIMARIES.sum(axis=1)]).T
    return xyz * np.linalg.solve(xyz, WHITE)


RGB_TO_XYZ = _rgb_to_xyz_matrix()
XYZ_TO_RGB = np.linalg.inv(RGB_TO_XYZ)


def is_hex(text: str) -> bool:
    """Whether ``text`` is a colour as the scene document writes it, ``#rrggbb``.

    >>> is_hex("#c4621a"), is_hex("c4621a"), is_hex("#c46")
    (True, False, False)
    """
    return re.fullmatch(r"#[0-9a-fA-F]{6}", text) is not None


def rgb_from_hex(colours: Sequence[str]) -> np.ndarray:
    """(n, 3) sRGB, 0..1, of ``#rrggbb`` each."""
    return np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] for c in colours], dtype=float).reshape(-1, 3) / 255


def hex_from_rgb(rgb: np.ndarray) -> list[str]:
    """``#rrggbb`` of each row (n, 3), clipped to 0..1."""
    levels = np.rint(np.clip(np.atleast_2d(rgb), 0, 1) * 255).astype(int)
    return [f"#{r:02x}{g:02x}{b:02x}" for r, g, b in levels]


def linear_from_rgb(rgb: np.ndarray) -> np.ndarray:
    """Light that adds, 0..1, of sRGB values (..., 3)."""
    rgb = np.asarray(rgb, dtype=float)
    return decoded_array(rgb)


def rgb_from_linear(light: np.ndarray) -> np.ndarray:
    """sRGB of linear light (..., 3); what lies outside 0..1 is clipped."""
    return encoded_array(np.clip(np.asarray(light, dtype=float), 0, 1))


def xyz_from_rgb(rgb: np.ndarray) -> np.ndarray:
    """XYZ (..., 3), Y of white = 1."""
    return linear_from_rgb(rgb) @ RGB_TO_XYZ.T


def lab_from_xyz(xyz: np.ndarray) -> np.ndarray:
    """CIELAB under D65 (..., 3): L* 0..100, a*, b*."""
    t = np.asarray(xyz, dtype=float) / WHITE
    f = np.where(t > _EPSILON, np.cbrt(np.maximum(t, 0)), (_KAPPA * t + 16) / 116)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)


def xyz_from_lab(lab: np.ndarray) -> np.ndarray:
    """XYZ (..., 3) of CIELAB under D65."""
    lab = np.asarray(lab, dtype=float)
    y = (lab[..., 0] + 16) / 116
    f = np.stack([y + lab[..., 1] / 500, y, y - lab[..., 2] / 200], axis=-1)
    return np.where(f**3 > _EPSILON, f**3, (116 * f - 16) / _KAPPA) * WHITE


def lab_from_rgb(rgb: np.ndarray) -> np.ndarray:
    """CIELAB under D65 of sRGB values 0..1.

    >>> [round(float(v), 1) for v in lab_from_rgb(np.array([1.0, 1.0, 1.0]))]
    [100.0, 0.0, 0.0]
    """
    return lab_from_xyz(xyz_from_rgb(rgb))


def rgb_from_lab(lab: np.ndarray) -> np.ndarray:
    """sRGB 0..1 of CIELAB under D65; what no screen can show is clipped."""
    return rgb_from_linear(xyz_from_lab(lab) @ XYZ_TO_RGB.T)


def oklch_from_rgb(rgb: np.ndarray) -> np.ndarray:
    """OKLCH (..., 3): lightness 0..1, chroma about 0..0.32 inside sRGB, hue 0..360 degrees (0 where there is no chroma)."""
    lab = np.cbrt(linear_from_rgb(rgb) @ _CONES.T) @ _OKLAB.T
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    return np.stack([lab[..., 0], chroma, np.where(chroma < GREY_CHROMA, 0.0, hue)], axis=-1)


def rgb_from_oklch(lch: np.ndarray) -> np.ndarray:
    """sRGB 0..1 of OKLCH; what no screen can show is clipped."""
    lch = np.asarray(lch, dtype=float)
    hue = np.radians(lch[..., 2])
    lab = np.stack([lch[..., 0], lch[..., 1] * np.cos(hue), lch[..., 1] * np.sin(hue)], axis=-1)
    return rgb_from_linear((lab @ np.linalg.inv(_OKLAB).T) ** 3 @ np.linalg.inv(_CONES).T)


@counted(16384)
def lab_of(colour: str) -> tuple[float, float, float]:
    """CIELAB (D65) of one ``#rrggbb``."""
    lightness, a, b = lab_from_rgb(rgb_from_hex([colour]))[0]
    return float(lightness), float(a), float(b)


@counted(16384)
def oklch_of(colour: str) -> tuple[float, float, float]:
    """OKLCH of one ``#rrggbb``: lightness 0..1, chroma, hue in degrees."""
    lightness, chroma, hue = oklch_from_rgb(rgb_from_hex([colour]))[0]
    return float(lightness), float(chroma), float(hue)
