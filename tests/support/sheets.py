"""Photographs of a sheet of paper through a lens that bends, drawn with OpenCV's camera model: nothing of the program's own geometry.

Each pixel's ray is found by OpenCV's undistortPoints and cut with the sheet's plane; light is mixed as light, then written as sRGB writes it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np

A4 = (210.0, 297.0)


@dataclass(frozen=True)
class Taken:
    """A lens of ``focal`` mm (fixed length) on a sensor (mm), ``distance`` mm from sensor to sheet, square to it but for ``tilt`` degrees;
    radial terms k1, k2; the sheet's middle ``shift`` mm off the axis, turned by ``about`` degrees."""

    sensor: tuple[float, float]
    focal: float
    distance: float
    k: tuple[float, float] = (0.0, 0.0)
    tilt: float = 0.0
    about: float = 90.0
    shift: tuple[float, float] = (0.0, 0.0)
    pixels_wide: int = 1400
    pupil_ratio: float = 1.0
    table: float = 0.06
    noise: float = 2.0
    quality: int = 90
    sheet: tuple[float, float] = A4
    seed: int = 1

    @property
    def magnification(self) -> float:
        """By the thin lens: u + v = D, 1/u + 1/v = 1/f."""
        u = self.distance / 2 + math.sqrt(self.distance**2 / 4 - self.focal * self.distance)
        return self.focal / (u - self.focal)

    @property
    def covers(self) -> float:
        """What the frame's long side covers of the sheet's plane, mm, were the lens straight."""
        return self.sensor[0] / self.magnification

    def corner(self) -> float:
        """By which share of its way from the middle the frame's corner is moved, as OpenCV moves it."""
        c = self._principal() / self.sensor[0]
        far = np.array([[0.5 / c, 0.5 * self.sensor[1] / self.sensor[0] / c, 1.0]])
        moved = cv2.projectPoints(far, np.zeros(3), np.zeros(3), np.eye(3), np.array([*self.k, 0.0, 0.0, 0.0]))[0].ravel()
        return float(np.linalg.norm(moved) / np.linalg.norm(far[0, :2])) - 1

    def _principal(self) -> float:
        return self.focal * (1 + self.magnification / self.pupil_ratio)

    def drawn(self) -> np.ndarray:
        """(h, w, 3) uint8."""
        rng = np.random.default_rng(self.seed)
        wide = self.pixels_wide
        high = round(wide * self.sensor[1] / self.sensor[0])
        c = self._principal() * wide / self.sensor[0]
        away = self.focal * (1 / self.magnification + 1 / self.pupil_ratio)
        way = rng.uniform(0, 2 * np.pi)
        lean = cv2.Rodrigues(np.array([np.cos(way), np.sin(way), 0.0]) * np.radians(self.tilt))[0]
        turned = lean @ cv2.Rodrigues(np.array([0.0, 0.0, np.radians(self.about)]))[0] @ np.diag([1.0, -1.0, -1.0])
        normal = turned[:, 2]
        x, y = self.shift
        place = np.array([x, y, away - (normal[0] * x + normal[1] * y) / normal[2]])
        across, down = np.meshgrid(np.arange(wide + 1.0), np.arange(high + 1.0))
        camera = np.array([[c, 0, wide / 2], [0, c, high / 2], [0, 0, 1.0]])
        seen = np.column_stack([across.ravel(), down.ravel()])[:, None]
        settled = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 10, 1e-9)
        straight = cv2.undistortPoints(seen, camera, np.array([*self.k, 0.0, 0.0, 0.0]), criteria=settled)[:, 0]
        rays = np.column_stack([straight, np.ones(len(straight))])
        on_plane = (rays * ((normal @ place) / (rays @ normal))[:, None] - place) @ turned[:, :2]
        x, y = (_halved(_halved(one.reshape(across.shape)).T).T for one in on_plane.T)  # four samples a pixel: no lens bends within one
        inside = (np.abs(x) <= self.sheet[0] / 2) & (np.abs(y) <= self.sheet[1] / 2)
        across, down = np.meshgrid((np.arange(2 * wide) + 0.5) / 2, (np.arange(2 * high) + 0.5) / 2)
        fall = (1 - 0.3 * across / wide) * (1 - 0.15 * down / high)
        light = np.where(inside, 0.82, self.table) * fall
        light = cv2.GaussianBlur(cv2.resize(light, (wide, high), interpolation=cv2.INTER_AREA), (0, 0), 0.8)
        coded = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
        grey = 255 * coded[..., None] * [1.0, 0.985, 0.955] + rng.normal(0, self.noise, (high, wide, 3))
        written = cv2.imencode(".jpg", np.clip(grey, 0, 255).astype(np.uint8)[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, self.quality])[1]
        return cv2.imdecode(written, cv2.IMREAD_COLOR)[..., ::-1].copy()

    def jpeg(self) -> bytes:
        return bytes(cv2.imencode(".jpg", self.drawn()[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 95])[1].tobytes())


def _halved(values: np.ndarray) -> np.ndarray:
    """(2 n, m) of (n + 1, m) along the first: at a quarter and at three of every step between two."""
    between = np.stack([0.75 * values[:-1] + 0.25 * values[1:], 0.25 * values[:-1] + 0.75 * values[1:]], axis=1)
    return between.reshape(-1, values.shape[1])
