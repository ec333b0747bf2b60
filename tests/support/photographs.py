"""Made-up photographs of a thing beside a sheet of paper, drawn from true sizes, so that what is measured in them can be checked.

A pinhole camera looks down at a table; the sheet lies on it; a thing (a prism of any outline) lies on or stands beside the sheet. Light
falls off across the table and a soft shadow lies beside the thing. Nothing here uses the program's own geometry.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import cv2
import numpy as np

SHEETS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
Rgb = tuple[int, int, int]


def disc(diameter: float) -> np.ndarray:
    t = np.linspace(0, 2 * np.pi, 72, endpoint=False)
    return np.column_stack([np.cos(t), np.sin(t)]) * diameter / 2


def block(width: float, depth: float) -> np.ndarray:
    return np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * [width / 2, depth / 2]


def spoon(length: float, bowl: float) -> np.ndarray:
    """A round bowl at the left, a straight handle to the right."""
    t = np.linspace(np.radians(20), np.radians(340), 40)
    head = np.column_stack([np.cos(t) * bowl / 2, np.sin(t) * bowl / 2]) - [length / 2 - bowl / 2, 0]
    handle = np.array([[length / 2, -6.0], [length / 2, 6.0]])
    return np.concatenate([head, handle])


def leaf(length: float, width: float) -> np.ndarray:
    t = np.linspace(0, np.pi, 24)
    upper = np.column_stack([-np.cos(t) * length / 2, np.sin(t) ** 1.3 * width / 2])
    return np.concatenate([upper, upper[-2:0:-1] * [1, -1]])


@dataclass(frozen=True)
class Thing:
    """A prism: its footprint (n, 2), mm, about its own middle; where that middle is, mm from the sheet's middle; its turn and height."""

    outline: np.ndarray
    at: tuple[float, float]
    turn: float = 0.0
    height: float = 3.0
    colour: Rgb = (180, 90, 40)
    second: Rgb | None = None

    def footprint(self) -> np.ndarray:
        t = np.radians(self.turn)
        return self.outline @ np.array([[np.cos(t), np.sin(t)], [-np.sin(t), np.cos(t)]]) + self.at


@dataclass(frozen=True)
class Window:
    """An even upright source: its middle (mm from the sheet's), its width (along the table) and height, and how much of the light it gives."""

    at: tuple[float, float, float] = (-700.0, 300.0, 500.0)
    wide: float = 700.0
    high: float = 600.0
    share: float = 0.8


@dataclass(frozen=True)
class Shot:
    """How the photograph is taken. tilt: degrees from straight above; walked: the side it is taken from; focal: of a 36 mm wide frame."""

    thing: Thing | None
    tilt: float = 12.0
    walked: float = 20.0
    roll: float = 4.0
    distance: float = 620.0
    focal: float = 27.0
    size: tuple[int, int] = (2000, 1500)
    table: Rgb = (112, 84, 60)
    grain: float = 0.05
    light: float = 0.25
    shadow: float = 0.35
    sheet: str = "a4"
    sheet_turn: float = 6.0
    has_sheet: bool = True
    aim: tuple[float, float] = (0.0, 0.0)
    seed: int = 1
    noise: float = 2.0
    warm: tuple[float, float, float] = field(default=(1.0, 0.97, 0.92))
    window: Window | None = None


def _camera(shot: Shot) -> np.ndarray:
    """3x4 projection from table mm (x right, y away, z up; the sheet's middle is the origin) to pixels."""
    tilt, walked, roll = (np.radians(v) for v in (shot.tilt, shot.walked, shot.roll))
    aim = np.array([*shot.aim, 0.0])
    position = aim + shot.distance * np.array([np.sin(walked) * np.sin(tilt), -np.cos(walked) * np.sin(tilt), np.cos(tilt)])
    forward = (aim - position) / shot.distance
    right = np.cross(forward, [-np.sin(walked), np.cos(walked), 0.0] if shot.tilt < 1 else [0.0, 0.0, 1.0])
    right /= np.linalg.norm(right)
    down = np.cross(forward, right)
    right, down = right * np.cos(roll) + down * np.sin(roll), -right * np.sin(roll) + down * np.cos(roll)
    w, h = shot.size
    f = shot.focal / 36 * max(w, h)
    inner = np.array([[f, 0, w / 2], [0, f, h / 2], [0, 0, 1]])
    turned = np.stack([right, down, forward])
    return inner @ np.column_stack([turned, -turned @ position])


def _pixels(camera: np.ndarray, points: np.ndarray, z: float) -> np.ndarray:
    found = camera @ np.vstack([points.T, np.full(len(points), z), np.ones(len(points))])
    return (found[:2] / found[2]).T


def _fill(shape: tuple[int, int], polygons: list[np.ndarray], soft: float = 0.0) -> np.ndarray:
    """Coverage 0..1 of the polygons (pixels): drawn four times as large and averaged, only round where they lie."""
    cover = np.zeros(shape, np.float32)
    every = np.concatenate(polygons)
    x0, y0 = np.maximum(np.floor(every.min(axis=0)).astype(int) - 2, 0)
    x1, y1 = np.minimum(np.ceil(every.max(axis=0)).astype(int) + 2, [shape[1], shape[0]])
    if x1 <= x0 or y1 <= y0:
        return cover
    mask = np.zeros(((y1 - y0) * 4, (x1 - x0) * 4), np.uint8)
    for polygon in polygons:
        # OpenCV's whole numbers are the middles of pixels
        cv2.fillPoly(mask, [np.rint(((polygon - [x0, y0]) * 4 - 0.5) * 256).astype(np.int32)], 255, cv2.LINE_8, 8)
    cover[y0:y1, x0:x1] = cv2.resize(mask, (x1 - x0, y1 - y0), interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    return cv2.GaussianBlur(cover, (0, 0), soft) if soft else cover


def _shaded(shape: tuple[int, int], camera: np.ndarray, foot: np.ndarray, height: float, window: Window) -> np.ndarray:
    """Share of the window that each place of the table does not see past a prism: 40 points of it, each with the shadow it throws."""
    across = np.array([-window.at[1], window.at[0]]) / np.hypot(*window.at[:2]) * window.wide
    total = np.zeros(shape, np.float32)
    places = [(a, b) for a in (np.arange(8) + 0.5) / 8 - 0.5 for b in (np.arange(5) + 0.5) / 5 - 0.5]
    for a, b in places:
        x, y = np.array(window.at[:2]) + a * across
        z = max(height + 20.0, window.at[2] + b * window.high)
        far = foot + (foot - [x, y]) * height / (z - height)
        hull = cv2.convexHull(np.concatenate([foot, far]).astype(np.float32))[:, 0]
        total += _fill(shape, [_pixels(camera, hull, 0)]) / len(places)
    return total


def photograph(shot: Shot) -> np.ndarray:
    """(h, w, 3) sRGB uint8."""
    w, h = shot.size
    random = np.random.default_rng(shot.seed)
    camera = _camera(shot)
    plane = camera[:, [0, 1, 3]]
    v, u = np.mgrid[0:h, 0:w].astype(np.float32) + 0.5
    back = np.linalg.inv(plane)
    d = back[2, 0] * u + back[2, 1] * v + back[2, 2]
    x, y = ((back[i, 0] * u + back[i, 1] * v + back[i, 2]) / d for i in (0, 1))
    # a table with grain along x, in linear light
    waves = sum(np.sin(y / p + 0.35 * np.sin(x / (7 * p) + s) + s) for p, s in ((3.1, 0.3), (9.7, 1.9), (31.0, 4.2))) / 3
    picture = _light(shot.table) * (1 + shot.grain * waves)[..., None] * np.ones(3)

    def paint(cover: np.ndarray, colour: np.ndarray) -> None:
        rows, columns = np.flatnonzero(cover.any(axis=1)), np.flatnonzero(cover.any(axis=0))
        if len(rows):
            part = slice(rows[0], rows[-1] + 1), slice(columns[0], columns[-1] + 1)
            picture[part] = picture[part] * (1 - cover[part][..., None]) + colour * cover[part][..., None]

    if shot.has_sheet:
        a = np.radians(shot.sheet_turn)
        sheet = block(*SHEETS[shot.sheet]) @ np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]])
        paint(_fill((h, w), [_pixels(camera, sheet, 0)]), _light((244, 243, 240)))
    thing = shot.thing
    if thing is not None:
        foot = thing.footprint()
        reach = np.array([0.55, -0.4]) * (thing.height + 2)
        if shot.window is not None:
            picture *= 1 - shot.window.share * _shaded((h, w), camera, foot, thing.height, shot.window)[..., None]
        hull = cv2.convexHull(np.concatenate([foot, foot + reach]).astype(np.float32))[:, 0]
        scale = float(np.linalg.norm(np.ptp(_pixels(camera, np.array([[1.0, 0.0], [0.0, 0.0]]), 0), axis=0)))
        picture *= 1 - shot.shadow * _fill((h, w), [_pixels(camera, hull, 0)], soft=scale * (2.0 + thing.height * 0.08))[..., None]
        low, high = _pixels(camera, foot, 0), _pixels(camera, foot, thing.height)
        walls = [np.array([low[i], low[j], high[j], high[i]]) for i, j in zip(range(len(low)), [*range(1, len(low)), 0], strict=True)]
        paint(np.maximum(_fill((h, w), walls), _fill((h, w), [low])), _light(thing.colour) * 0.55)
        paint(_fill((h, w), [high]), _light(thing.colour))
        if thing.second is not None:
            middle = foot.mean(axis=0)
            paint(_fill((h, w), [_pixels(camera, middle + (foot - middle) * 0.5, thing.height)]), _light(thing.second))
    slope = (x * 0.8 + y * 0.6) / 300
    picture *= np.clip(1 - shot.light * slope, 0.3, 1.5)[..., None] * np.array(shot.warm)
    picture = cv2.GaussianBlur(picture.astype(np.float32), (0, 0), 0.7)
    encoded = np.where(picture <= 0.0031308, picture * 12.92, 1.055 * np.maximum(picture, 1e-6) ** (1 / 2.4) - 0.055) * 255
    encoded += random.normal(0, shot.noise, encoded.shape)
    return np.clip(encoded, 0, 255).astype(np.uint8)


def _light(colour: Rgb) -> np.ndarray:
    c = np.array(colour) / 255
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


#: Sixteen photographs of all sorts: flat and tall, on the sheet and beside it, from above and tilted up to 35 degrees.
SHOTS: dict[str, Shot] = {
    "orange disc on the sheet": Shot(Thing(disc(74), (10, 20), height=4, colour=(210, 120, 35))),
    "spoon across the sheet": Shot(Thing(spoon(190, 42), (0, -10), 35, 4, (120, 78, 44)), tilt=20, walked=-30),
    "leaf on the sheet, overhead": Shot(Thing(leaf(92, 40), (-20, 30), 60, 1, (70, 96, 40)), tilt=0, roll=-8),
    "slate board beside the sheet": Shot(
        Thing(block(180, 120), (225, 0), 12, 6, (52, 58, 62)), distance=900, aim=(110, 0), table=(186, 150, 104), tilt=15
    ),
    "blue dish beside the sheet": Shot(
        Thing(disc(140), (-205, 30), height=3, colour=(40, 84, 120)), distance=900, aim=(-90, 0), tilt=25, walked=40
    ),
    "red box lid, tilted far": Shot(Thing(block(110, 70), (5, 5), 25, 5, (150, 40, 34)), tilt=35, walked=10, distance=700),
    "green tin lid, strong side light": Shot(Thing(disc(88), (-15, -25), height=4, colour=(60, 104, 84)), light=0.6, tilt=18, walked=80),
    "biscuit on pale table": Shot(
        Thing(disc(66), (30, 10), height=5, colour=(176, 120, 62), second=(140, 86, 40)), table=(150, 160, 168), tilt=28, walked=-60
    ),
    "ribbon card on blue cloth": Shot(Thing(block(150, 30), (0, 40), -20, 1, (190, 60, 90)), table=(44, 62, 92), tilt=10, shadow=0.2),
    "two-toned leaf, deep shadow": Shot(
        Thing(leaf(140, 60), (10, 0), 110, 3, (96, 120, 50), (140, 150, 80)), shadow=0.55, tilt=22, walked=15
    ),
    "dark disc on letter": Shot(Thing(disc(96), (0, 10), height=3, colour=(46, 34, 30)), sheet="letter", tilt=14, walked=-20),
    "terracotta tile on green table": Shot(Thing(block(100, 100), (-10, 20), 40, 8, (168, 92, 66)), table=(70, 92, 72), tilt=30, walked=25),
    "jar, 95 high, beside the sheet": Shot(
        Thing(disc(76), (170, 20), height=95, colour=(190, 96, 30)), tilt=24, walked=20, distance=900, aim=(70, 0)
    ),
    "tin, 110 high, on the sheet": Shot(Thing(block(82, 62), (10, 40), 15, 110, (44, 92, 96)), tilt=30, walked=-35, distance=950),
    "cup, 60 high, from above": Shot(Thing(disc(84), (0, 25), height=60, colour=(130, 54, 44)), tilt=16, walked=10, distance=700),
    "loaf, 70 high, tilted": Shot(Thing(block(180, 90), (-10, -10), 70, 70, (160, 104, 54)), tilt=33, walked=5, distance=950),
}
