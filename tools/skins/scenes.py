"""Whole pictures: two references for the demo's briefs, and photographs to try measuring with."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from tests.support.photographs import Shot, Thing, block, disc, photograph
from tideflat.core.formats.photograph import write_picture

from .brush import blend, finished, flat, noise


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


def references(out: Path) -> None:
    """Two pictures for the demo's briefs to be like."""
    folder = out / "references"
    folder.mkdir(exist_ok=True)
    for name, art in (("harbour-dusk", dusk), ("morning-sill", grove)):
        (folder / f"{name}.webp").write_bytes(write_picture(finished(art(7)), 74))


def examples(out: Path) -> None:
    """Photographs to try measuring with, drawn by the tests' own camera."""

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
    folder = out / "examples"
    folder.mkdir(exist_ok=True)
    for name, shot in shots.items():
        exif = Image.Exif()
        exif.get_ifd(0x8769)[0xA405] = 26
        Image.fromarray(photograph(shot)).save(folder / f"{name}.jpg", quality=92, exif=exif)
