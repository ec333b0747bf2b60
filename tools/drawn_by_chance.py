"""Plane pictures drawn by chance, and how outlines do in them: any of thirteen shapes and colours, its sides lit as its top or not, one or
two shadows, hard or soft, on plain tables, tiles, checks and boards. What was rendered for a purpose shows what was thought of.

    python -m tools.drawn_by_chance 0 60     # the number is the seed
"""

from __future__ import annotations

import sys
from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from shapely.affinity import rotate, scale, translate
from shapely.geometry.base import BaseGeometry

from tests.core.test_bent_sided import HEART, KIDNEY, PEAR
from tests.core.test_dark_tables import HEXAGON
from tests.core.test_straight_sided import NOTCHED, STAR, WEDGE, swept
from tests.core.test_things_seen import BOX, FAR, LEFT, PER_MM, SIZE, block, disc, found_from, thrown
from tideflat.core.errors import FieldError
from tideflat.core.vision.outlined import RAGGED, raggedness
from tideflat.core.vision.smallest_rectangle import smallest_rectangle
from tideflat.core.vision.smooth_light import linear
from tideflat.core.vision.things_seen import ThingSeen, things_seen

from .taken_otherwise import srgb

SHAPES: dict[str, shapely.Polygon] = {
    "board": block(0, 0, 130, 80), "tin": block(0, 0, 60, 45).buffer(-5).buffer(5), "disc": disc(0, 0, 80), "oval": scale(disc(0, 0, 100), 1, 0.65),
    "hexagon": HEXAGON, "star": STAR, "notched": NOTCHED, "wedge": WEDGE, "heart": HEART, "pear": PEAR, "kidney": KIDNEY,
    "spoon": shapely.union_all([scale(disc(-60, 0, 36), 1.4, 1, origin=(-60, 0)), shapely.box(-50, -5, 90, 5)]),
    "corner": shapely.box(-50, -40, 50, -10).union(shapely.box(-50, -40, -15, 40)),
}  # fmt: skip
_PAPER, _SHEET = (238, 236, 230), shapely.box(-105, -148.5, 105, 148.5)
_AT = ((-215, 30), (-105, 60), (0, 40), (200, -60), (150, 120))
_HEIGHTS, _SHADOW_LENGTHS, _SOFT_MM = (0.0, 2.0, 6.0, 12.0, 25.0), (0.0, 0.7, 1.5), (0.3, 1.5, 3.0)
#: A thing's colour differs from paper or table by so much, log of light, in one channel; an outline so near, mm, is right whatever its sides.
_DIFFERS, _NEAR_MM = 0.5, 1.5


@dataclass(frozen=True, eq=False)
class Drawn:
    """picture (h, w, 3) uint8; foot, mm; eye (3,), mm."""

    name: str
    picture: np.ndarray
    foot: shapely.Polygon
    height_mm: float
    eye: np.ndarray


def drawn_by_chance(seed: int) -> Drawn:
    """The picture of that seed; the same for ever."""
    random = np.random.default_rng(seed)
    name = list(SHAPES)[random.integers(len(SHAPES))]
    by, at = random.uniform(0.6, 1.2), _AT[random.integers(len(_AT))]
    foot = translate(rotate(scale(SHAPES[name], by, by, origin=(0, 0)), random.uniform(0, 360), origin=(0, 0)), *at)
    height, eye = float(random.choice(_HEIGHTS)), random.uniform((-250, -350, 420), (250, 100, 700))
    table, paper, top = _light(random.uniform(25, 215) + random.uniform(-25, 25, 3)), _light(_PAPER), np.zeros(3)
    while min(np.abs(np.log((top + 0.01) / (ground + 0.01))).max() for ground in (paper, table)) <= _DIFFERS or not top.any():
        top = _light(random.uniform(20, 235, 3))
    light = np.broadcast_to(table, (SIZE[1], SIZE[0], 3)) * _pattern(random)[..., None]
    light = _over(light, paper, _SHEET)
    y, x = np.mgrid[: SIZE[1], : SIZE[0]] / np.array(SIZE[::-1])[:, None, None] - 0.5
    light = light * (1 + random.uniform(-0.2, 0.2) * x + random.uniform(-0.2, 0.2) * y)[..., None]
    length, turn = height * random.choice(_SHADOW_LENGTHS), random.uniform(0, 2 * np.pi)
    way = np.array([np.cos(turn), np.sin(turn)])
    tint = random.choice((random.uniform(-0.08, 0.02), random.uniform(-0.2, 0.2))) * np.array([1, 0, -1])
    soft = float(random.choice(_SOFT_MM))
    if length:
        light = _shaded(light, foot, way * length, random.uniform(0.2, 0.7) * (1 + tint), soft)
    if random.random() < 0.3:
        light = _shaded(light, foot, height * np.roll(way, 1), random.uniform(0.5, 0.85) * (1 - tint), soft)
    if height:
        far, near = random.choice((1.0, 0.85, 0.6)), random.choice((0.6, 0.35, 0.2))
        light = _over(light, far * top, swept(foot, height, eye))
        if length:
            light = _over(light, near * top, _sides_in_shade(foot, height, eye, way))
    light = _over(light, top, thrown(foot, height, eye) if height else foot)
    picture = cv2.GaussianBlur(srgb(light).astype(np.float32), (0, 0), 0.8) + random.normal(0, 1.5, light.shape)
    return Drawn(name, np.clip(picture, 0, 255).astype(np.uint8), foot, height, eye)


def _light(levels: tuple[int, int, int] | np.ndarray) -> np.ndarray:
    return linear(np.clip(np.array(levels, float), 0, 255).astype(np.uint8)[None, None])[0, 0]


def _cover(place: BaseGeometry, soft_mm: float = 0.0) -> np.ndarray:
    """(h, w, 1): how much of each pixel a place covers."""
    mask = np.zeros((2 * SIZE[1], 2 * SIZE[0]), np.uint8)
    for part in getattr(place, "geoms", [place]):
        ring = (np.array(part.exterior.coords) - [LEFT, FAR]) * [PER_MM, -PER_MM] * 2 - 0.5
        cv2.fillPoly(mask, [np.rint(ring * 16).astype(np.int32)], 255, cv2.LINE_8, 4)
    cover = cv2.resize(mask, SIZE, interpolation=cv2.INTER_AREA).astype(np.float32) / 255
    return (cv2.GaussianBlur(cover, (0, 0), soft_mm * PER_MM) if soft_mm else cover)[..., None]


def _over(light: np.ndarray, colour: np.ndarray, place: BaseGeometry) -> np.ndarray:
    cover = _cover(place)
    return np.asarray(light * (1 - cover) + colour * cover)


def _shaded(light: np.ndarray, foot: shapely.Polygon, reach: np.ndarray, left: np.ndarray, soft_mm: float) -> np.ndarray:
    shadow = shapely.union_all([translate(foot, *(reach * share)) for share in np.linspace(0, 1, 30)])
    return np.asarray(light * (1 - (1 - left) * _cover(shadow, soft_mm)))


def _sides_in_shade(foot: shapely.Polygon, height: float, eye: np.ndarray, way: np.ndarray) -> BaseGeometry:
    """What is seen of the sides that look the way that the light goes."""
    ring = shapely.get_coordinates(shapely.geometry.polygon.orient(foot).exterior)
    k, sides = eye[2] / (eye[2] - height), []
    for a, b in zip(ring, ring[1:], strict=False):
        out = np.array([b[1] - a[1], a[0] - b[0]])
        if out @ way > 0 and (a - eye[:2]) @ out < 0:
            sides.append(shapely.Polygon([a, b, eye[:2] + k * (b - eye[:2]), eye[:2] + k * (a - eye[:2])]).buffer(0.2))
    return shapely.union_all(sides)


def _pattern(random: np.random.Generator) -> np.ndarray:
    """(h, w): what a table's joints, checks or boards leave of its light."""
    y, x = np.mgrid[: SIZE[1], : SIZE[0]] / PER_MM
    wide = random.uniform(25, 70)
    joints = [np.abs(along % wide - wide / 2) > wide / 2 - 1.2 for along in (x, y)]
    boards = random.uniform(0.75, 1.15, 60)[(x // wide).astype(int)] * (1 - 0.5 * joints[0])
    checks = 1 - random.uniform(0.15, 0.6) * (((x // wide) + (y // wide)) % 2)
    plain = np.ones_like(x)
    return np.asarray((plain, plain, 1 - 0.45 * (joints[0] | joints[1]), checks, boards)[random.integers(5)])


def told(drawn: Drawn) -> tuple[str, str]:
    """(right, wrong, unsure or missing; how far off)."""
    try:
        things = things_seen(drawn.picture, found_from(drawn.eye), BOX, drawn.height_mm)
    except FieldError as error:
        return "missing", str(error)
    thing = min(things, key=lambda t: t.foot.distance(drawn.foot.centroid) + abs(t.foot.area - drawn.foot.area) / 1000)
    if thing.foot.is_empty:
        return "missing", "no footprint"
    got, want = (smallest_rectangle(np.array(_largest(place).exterior.coords))[0] for place in (thing.foot, drawn.foot))
    off, apart = [g - w for g, w in zip(got, want, strict=True)], float(thing.foot.hausdorff_distance(drawn.foot))
    is_right = apart < _NEAR_MM or all(abs(o) <= max(2.0, 0.02 * w) for o, w in zip(off, want, strict=True))
    state = "unsure" if _is_in_doubt(thing) else "right" if is_right else "wrong"
    return state, f"{off[0]:+.1f} {off[1]:+.1f}, its outline {apart:.1f} mm; {thing.solid.kind if thing.solid else 'free'}"


def _is_in_doubt(thing: ThingSeen) -> bool:
    return bool(thing.doubts) or (thing.solid is None and raggedness(thing.foot) > RAGGED)


def _largest(place: BaseGeometry) -> shapely.Polygon:
    return max(getattr(place, "geoms", [place]), key=lambda part: part.area)


def main() -> None:
    states = []
    for seed in range(int(sys.argv[1]), int(sys.argv[2])):
        drawn = drawn_by_chance(seed)
        state, off = told(drawn)
        states.append(state)
        if state != "right":
            print(f"{seed} {drawn.name}, {drawn.height_mm:.0f} high: {state} {off}", flush=True)
    print(", ".join(f"{state} {states.count(state)}" for state in ("right", "wrong", "unsure", "missing")))


if __name__ == "__main__":
    main()
